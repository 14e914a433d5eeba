import type { BeatClock } from '../beat/beatClock';
import { toLinear } from '../parameters/colour';
import { colourOf } from '../parameters/oklch';
import { seedOf } from '../random';
import type { Seconds } from '../units';
import { type ColourRanges, LIST_ORDERS, type Making, type Pairing, type WaveShape } from './making';

/** What a maker sees of a tick, the same object every time. */
export interface MakerTick {
  /** The tick's end, in show time, and its length. */
  time: Seconds;
  dt: Seconds;
  /** The show's position, and how long it has been open. */
  position: Seconds;
  open: Seconds;
  clock: BeatClock;
  /** The source's present number; 0 without one. */
  level: number;
  /** That of the second source; 0 without one. */
  other: number;
  /** Events of the source in this tick, in order; the first `events` of each row. */
  events: number;
  readonly at: Float64Array;
  readonly strength: Float32Array;
}
export interface Teller {
  event(time: Seconds, strength: number): void;
}

/** Shares of the range of hues: what counts as near, and how far on. */
const NEAR_HUE = 0.12,
  HUE_ON = 0.37;

/** Chance value number n of a seed, 0 to 1: counted, so that a show that is replayed has the same ones (murmur3 finaliser). */
export function chance(seed: number, n: number): number {
  let h = (seed ^ Math.imul(n + 1, 0x9e3779b1)) >>> 0;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

/** A wave at a phase of 0 to 1, itself 0 to 1; sine and triangle start low, so that they grow out of rest. */
export function wave(shape: WaveShape, phase: number, cycle: number, seed: number): number {
  switch (shape) {
    case 'sine':
      return 0.5 - 0.5 * Math.cos(2 * Math.PI * phase);
    case 'triangle':
      return phase < 0.5 ? 2 * phase : 2 - 2 * phase;
    case 'ramp':
      return phase;
    case 'square':
      return phase < 0.5 ? 1 : 0;
    case 'wander': {
      const a = chance(seed, cycle),
        b = chance(seed, cycle + 1);
      return a + (b - a) * phase * phase * (3 - 2 * phase);
    }
  }
}

/** One number of two; always finite. */
export function paired(makes: Pairing, a: number, b: number): number {
  switch (makes) {
    case 'sum':
      return a + b;
    case 'difference':
      return a - b;
    case 'product':
      return a * b;
    case 'ratio': {
      const x = a / b;
      return Math.abs(b) > 1e-9 && x - x === 0 ? x : 0;
    }
    case 'greatest':
      return a > b ? a : b;
    case 'least':
      return a < b ? a : b;
  }
}

/**
 * One maker at work. Its whole state is a short row of numbers, kept in the show's memory, so that a show opens as it was left
 * and nothing fires. A tick allocates nothing.
 */
export class Maker {
  value = 0;
  /** Linear red, green and blue, of makers that give a colour. */
  readonly colour = new Float64Array(3);
  /** Meaning by kind: how far, which way, since when. */
  readonly state = new Float64Array(4);
  readonly #seed: number;
  readonly #palette = new Float64Array(64 * 3);
  #making: Making;
  #fresh = true;

  constructor(id: string, making: Making) {
    this.#seed = seedOf(id);
    this.#making = making;
    this.set(making);
  }

  /** Takes other settings; what it has come to stays. */
  set(making: Making): void {
    this.#making = making;
    if (making.kind === 'colours') {
      making.palette.slice(0, 64).forEach((c, i) => toLinear(c, this.#palette, i * 3));
      this.#showColour(making);
    }
    if (making.kind === 'list')
      this.value = making.values[Math.min(making.values.length - 1, this.state[0]!)] ?? 0;
  }

  /** Puts it where it was; nothing fires by it. @param state - from `state` of an earlier one */
  restore(state: readonly number[]): void {
    for (let i = 0; i < this.state.length; i++) {
      const x = state[i];
      this.state[i] = x !== undefined && Number.isFinite(x) ? x : 0;
    }
    this.set(this.#making);
    const making = this.#making,
      s = this.state;
    switch (making.kind) {
      case 'flip':
      case 'slider':
        this.value = s[0]!;
        break;
      case 'glide':
        this.value = s[0]!;
        this.#fresh = false;
        break;
      case 'button':
        s[1] = 0;
        this.value = making.latching ? s[0]! : 0;
        break;
      case 'random':
        this.value = s[1]!;
        break;
      case 'oneShot':
        s.fill(0);
        break;
      case 'gate':
        s[0] = 0;
        this.value = making.shut === 'hold' ? s[1]! : 0;
        break;
      case 'crossing':
        this.value = making.gives === 'switch' ? s[0]! : 0;
        break;
    }
  }

  /** A hand, a key, a controller or a message puts it there. @param x - 0 to 1; a button is pressed above ½ */
  touch(x: number, tick: Pick<MakerTick, 'time'>, tell: Teller): void {
    const making = this.#making,
      s = this.state;
    if (!Number.isFinite(x)) return;
    if (making.kind === 'slider') {
      this.value = s[0] = x < 0 ? 0 : x > 1 ? 1 : x;
      return;
    }
    if (making.kind !== 'button') return;
    const down = x > 0.5,
      was = s[1]! > 0;
    s[1] = down ? 1 : 0;
    if (down && !was) {
      if (making.latching) s[0] = s[0]! > 0 ? 0 : 1;
      tell.event(tick.time, Math.min(1, x));
    }
    this.value = making.latching ? s[0]! : down ? 1 : 0;
  }

  step(tick: MakerTick, tell: Teller): void {
    const making = this.#making,
      s = this.state;
    switch (making.kind) {
      case 'oscillator': {
        const { unit, value } = making.every;
        // In beats it lies on the show's beat; in Hz it runs by itself.
        if (unit === 'hz') {
          s[0]! += tick.dt * value;
          if (s[0]! > 1e9) s[0] = 0;
        }
        const turns = (unit === 'hz' ? s[0]! : tick.clock.beat / value) + making.phase,
          cycle = Math.floor(turns);
        this.value = wave(making.shape, turns - cycle, cycle, this.#seed);
        return;
      }
      case 'random':
        for (let i = 0; i < tick.events; i++) {
          this.value = s[1] = this.#drawn(s[0]!);
          s[0]!++;
          tell.event(tick.at[i]!, tick.strength[i]!);
        }
        return;
      case 'colours':
        for (let i = 0; i < tick.events; i++) {
          if (making.chance) this.state[2]!++;
          else this.#advance(making.palette.length, making.order);
          tell.event(tick.at[i]!, tick.strength[i]!);
        }
        if (tick.events > 0) this.#showColour(making);
        return;
      case 'flip':
        for (let i = 0; i < tick.events; i++) {
          this.value = s[0] = s[0]! > 0 ? 0 : 1;
          tell.event(tick.at[i]!, tick.strength[i]!);
        }
        return;
      case 'list':
        for (let i = 0; i < tick.events; i++) {
          this.#advance(making.values.length, making.order);
          tell.event(tick.at[i]!, tick.strength[i]!);
        }
        if (tick.events > 0) this.value = making.values[s[0]!] ?? 0;
        return;
      case 'oneShot': {
        // State: strength, age, where it started from.
        if (s[0]! > 0) s[1]! += tick.dt;
        for (let i = 0; i < tick.events; i++) {
          s[2] = this.value;
          s[0] = tick.strength[i]!;
          s[1] = Math.max(0, tick.time - tick.at[i]!);
          tell.event(tick.at[i]!, tick.strength[i]!);
        }
        this.value = this.#shot(making.attackMs / 1000, making.holdMs / 1000, making.releaseMs / 1000);
        return;
      }
      case 'glide': {
        // State: where it is, where it goes, how much a second.
        if (this.#fresh) {
          s[0] = s[1] = tick.level;
          this.#fresh = false;
        }
        if (tick.level !== s[1]) {
          s[1] = tick.level;
          s[2] = making.seconds > 0 ? Math.abs(s[1] - s[0]!) / making.seconds : Infinity;
        }
        const gap = s[1]! - s[0]!,
          most = s[2]! * tick.dt;
        s[0] = Math.abs(gap) <= most + 1e-12 ? s[1]! : s[0]! + Math.sign(gap) * most;
        this.value = s[0]!;
        return;
      }
      case 'crossing': {
        const above = s[0]! > 0;
        const now = above ? tick.level > making.at - making.back : tick.level > making.at;
        // Which side it opens on is no crossing.
        if (this.#fresh) {
          this.#fresh = false;
          s[0] = now ? 1 : 0;
        } else if (now !== above) {
          s[0] = now ? 1 : 0;
          if (making.gives === 'event' && (making.way === 'both' || (making.way === 'up') === now))
            tell.event(tick.time, 1);
        }
        this.value = making.gives === 'switch' ? (making.way === 'down' ? 1 - s[0]! : s[0]!) : 0;
        return;
      }
      case 'gate': {
        // State: whether it is open, and what went through last.
        s[0] = tick.other > (s[0]! > 0 ? making.at - making.back : making.at) ? 1 : 0;
        if (s[0] > 0) s[1] = tick.level;
        this.value = s[0] > 0 || making.shut === 'hold' ? s[1]! : 0;
        return;
      }
      case 'pair':
        this.value = paired(making.makes, tick.level, tick.other);
        return;
      case 'change':
        if (this.#fresh) {
          this.#fresh = false;
          s[0] = tick.level;
        } else if (Math.abs(tick.level - s[0]!) >= making.by) {
          tell.event(tick.time, Math.min(1, Math.abs(tick.level - s[0]!)));
          s[0] = tick.level;
        }
        return;
      case 'clock':
        this.value =
          making.reading === 'position'
            ? tick.position
            : making.reading === 'beats'
              ? tick.clock.beat
              : tick.open;
        return;
      case 'prompter': {
        let n = 0;
        for (let i = 0; i < making.lines.length; i++) if (making.lines[i]!.at <= tick.position) n = i + 1;
        if (this.#fresh) this.#fresh = false;
        else if (n !== this.value && n > 0) tell.event(tick.time, 1);
        this.value = n;
        return;
      }
      case 'slider':
      case 'button':
        return;
    }
  }

  /** Chance value n: anywhere, or one of the choices, never the one before again. State: how many, the value, the choice. */
  #drawn(n: number): number {
    const making = this.#making,
      s = this.state,
      x = chance(this.#seed, n);
    if (making.kind !== 'random' || making.choices === null) return x;
    const k = Math.max(2, making.choices);
    s[2] = n === 0 ? Math.floor(x * k) : (s[2]! + 1 + Math.floor(x * (k - 1))) % k;
    return s[2] / (k - 1);
  }

  /** On to the next place of a row. State: place, way, how many. */
  #advance(length: number, order: (typeof LIST_ORDERS)[number]): void {
    const s = this.state;
    const n = Math.max(1, length);
    if (order === 'any') {
      if (n > 1) s[0] = (s[0]! + 1 + Math.floor(chance(this.#seed, s[2]!) * (n - 1))) % n;
      s[2]!++;
      return;
    }
    if (order === 'onward' || n === 1) {
      s[0] = (s[0]! + 1) % n;
      return;
    }
    if (s[1]! === 0) s[1] = 1;
    if (s[0]! + s[1]! >= n || s[0]! + s[1]! < 0) s[1] = -s[1]!;
    s[0] = Math.min(n - 1, Math.max(0, s[0]! + s[1]!));
  }
  #showColour(making: Extract<Making, { kind: 'colours' }>): void {
    this.value = 1;
    if (making.chance) {
      this.#draw(making.chance, this.state[2]!);
      return;
    }
    const at = Math.min(Math.min(64, making.palette.length) - 1, this.state[0]!) * 3;
    for (let c = 0; c < 3; c++) this.colour[c] = this.#palette[at + c]!;
  }
  /** Colour number n at chance. A hue that lies near the one before is moved on, so that every event is seen. */
  #draw({ hue, lightness, strength }: ColourRanges, n: number): void {
    const [from, to] = hue,
      span = to >= from ? to - from : to - from + 360;
    let x = chance(this.#seed, 3 * n);
    if (n > 0 && Math.abs(x - chance(this.#seed, 3 * (n - 1))) < NEAR_HUE) x = (x + HUE_ON) % 1;
    colourOf(
      from + span * x,
      lightness[0] + (lightness[1] - lightness[0]) * chance(this.#seed, 3 * n + 1),
      strength[0] + (strength[1] - strength[0]) * chance(this.#seed, 3 * n + 2),
      this.colour,
    );
  }

  /** Up in a straight line from where it was, then held, then down. */
  #shot(attack: Seconds, hold: Seconds, release: Seconds): number {
    const s = this.state,
      age = s[1]!,
      top = s[0]!,
      from = Math.min(top, s[2]!);
    if (top <= 0) return 0;
    if (age < attack) return from + ((top - from) * age) / attack;
    if (age <= attack + hold) return top;
    const left = release > 0 ? 1 - (age - attack - hold) / release : 0;
    if (left > 0) return top * left;
    s[0] = s[1] = s[2] = 0;
    return 0;
  }
}
