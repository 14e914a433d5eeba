import { idsOnSurface, PICTURE_SURFACE, surfacesOf } from '../show/surfaces';
import { targetOf, thingsOf } from '../show/things';
import {
  EMPTY_STAGE,
  type Cue,
  type Deed,
  type Fade,
  GRIP_PAGES,
  type LookPart,
  type Show,
  type Song,
  type StageState,
} from '../show/types';
import type { Act } from '../acts';
import { cueAfter, cueBefore } from '../stage/cueList';
import { lampGroupMaster, Masters, partOf, routeGroupMaster } from '../stage/masters';
import type { ParameterValue } from '../parameters/description';
import { type Beats, Pulse } from '../stage/pulse';
import type { Seconds } from '../units';
import { copy, type Held, letGo, newHeld, put, suits } from './held';
import { putValue, type ParameterStore } from './parameterStore';

interface Share {
  readonly route: string;
  from: number;
  goal: number;
}

/** Who takes how much of each route. */
export interface RouteShares {
  share(route: string, x: number): void;
}

/** A look that is taken without a cue, and the safe look. */
const BY_HAND: Fade = { unit: 'seconds', length: 1, from: 'now' };

/**
 * What is performed: which look is in, how far, which cue is next, and where the masters stand. It writes the columns of looks and masters
 * of {@link Winning} and the shares of routes. Between ticks it may allocate; ticks do not, but for the one in which a fade ends.
 */
export class Stage {
  readonly masters = new Masters();
  readonly #pulse = new Pulse();
  /** Counts what the interface would show otherwise; anything but the passing of time. */
  version = 0;
  /** How far the look that comes in is in: 0 to 1. */
  get inBy(): number {
    return this.#phase === 'in' ? 1 : this.share;
  }
  /** Of the picture as a whole: 0 to 1. */
  light = 1;
  /** Whether a bar began in this tick. */
  get barFell(): boolean {
    return this.#pulse.barAgo === this.#pulse.barAgo;
  }
  /** The song that the cue belongs to; null: none. */
  song: Song | null = null;
  /** Of the controllers, from 1. */
  page = 1;
  /** How far the fade is, 0 to 1. */
  share = 1;
  #show: Show | null = null;
  #parts = new Map<string, LookPart>();
  readonly #held = new Map<string, Held>();
  #list: readonly Held[] = [];
  /** All that was ever held: looks come again, and nothing is made anew for them. */
  readonly #known = new Map<string, Held>();
  readonly #shares = new Map<string, Share>();
  #shareList: readonly Share[] = [];
  #cue: string | null = null;
  /** Where in the night that is, or was: it may have been taken off since. */
  #number: number | null = null;
  #next: string | null = null;
  #look: string | null = null;
  #leaveOut: readonly LookPart[] = [];
  /** That look was taken by hand since the cue: nothing follows by itself until somebody goes on. */
  #byHand = false;
  #phase: StageState['phase'] = 'in';
  #fade: Fade = BY_HAND;
  #delay: Seconds = 0;
  /** How much of the fade is gone, in its own unit. */
  #gone = 0;
  #seconds: Seconds = 0;
  #bars = 0;
  /** The cue that follows by an event: where its signal is counted, and what it had counted. */
  #eventAt = -1;
  #eventCount = 0;
  #timeOfDay = NaN;
  /** A state was taken, and waits for the show that it belongs to. */
  #restored = false;

  constructor(
    readonly parameters: ParameterStore,
    readonly routes: RouteShares,
  ) {}

  /** Takes a show, before or after its places were given anew: looks that are in follow what was edited in them. */
  set(show: Show): void {
    const before = this.#show,
      restored = this.#restored;
    this.#show = show;
    if (!before || partsChanged(before, show)) {
      this.#setParts(show);
      for (const key of this.#known.keys())
        if (!this.#held.has(key) && !this.parameters.runs.has(key)) this.#known.delete(key);
    }
    this.#place();
    this.#findCue();
    if (restored) this.#goOn();
    else if (before && before.looks !== show.looks) this.#follow();
    if (this.#next !== null && !show.cues.some((c) => c.id === this.#next)) {
      this.#next = null;
      this.version++;
    }
    this.#setMasters();
  }

  #setParts(show: Show): void {
    const overlaid = new Set<string>();
    for (const surface of surfacesOf(show))
      if (surface.id !== PICTURE_SURFACE.id)
        for (const id of idsOnSurface(show, surface.id)) overlaid.add(id);
    this.#parts = new Map(thingsOf(show).map((t) => [t.id, partOf(t, overlaid)]));
  }
  /** Every value that is held finds its place again; one that is gone waits. */
  #place(): void {
    const { winning, runs } = this.parameters;
    for (const held of this.#held.values()) {
      letGo(held, winning.lookShare);
      held.run = runs.get(held.key);
    }
    this.#write(this.#in());
  }
  /** How far on their way held values are: while it waits they stand where the look before left them. */
  #in(): number {
    return this.#phase === 'fades' ? this.share : 1;
  }
  /** A look that is in was edited. */
  #follow(): void {
    // What waits is looked up when it begins.
    if (this.#phase !== 'waits') this.#hold(this.#look, this.#leaveOut, this.#in());
  }

  /** Performs an act of the stage. @returns false for any other */
  perform(act: Act): boolean {
    switch (act.do) {
      case 'master':
        this.masters.set(act.master, act.value);
        this.#setMasters();
        break;
      case 'flash':
        this.masters.flash(act.master, act.on);
        this.#setMasters();
        break;
      case 'alone':
        this.masters.alone(act.master, act.on);
        this.#setMasters();
        break;
      case 'go':
        this.#go(this.#nextCue());
        break;
      case 'back':
        this.#go(cueBefore(this.#show?.cues ?? [], this.#number));
        break;
      case 'cue':
        this.#go(this.#show?.cues.find((c) => c.id === act.cue) ?? null);
        break;
      case 'next':
        this.#next = act.cue;
        this.#findCue();
        break;
      case 'page':
        this.page = Math.min(GRIP_PAGES, Math.max(1, Math.round(act.page)));
        break;
      case 'look':
        this.#byHand = true;
        this.#take(act.look, act.leaveOut ?? [], act.fade ?? BY_HAND, 0);
        break;
      case 'home':
        this.#byHand = true;
        this.#take(this.#show?.home ?? null, [], act.fade ?? BY_HAND, 0);
        break;
      default:
        return false;
    }
    this.version++;
    return true;
  }
  #nextCue(): Cue | null {
    const cues = this.#show?.cues ?? [];
    return (this.#next !== null && cues.find((c) => c.id === this.#next)) || cueAfter(cues, this.#number);
  }
  #findCue(): void {
    const { cues, songs } = this.#show ?? { cues: [], songs: [] },
      cue = cues.find((c) => c.id === this.#cue);
    if (cue) this.#number = cue.number;
    this.song = songs.find((s) => s.id === cue?.song) ?? null;
    // What comes next anyway was not put there: a cue that is hung before it comes first.
    if (this.#next !== null && this.#next === cueAfter(cues, this.#number)?.id) this.#next = null;
  }
  #go(cue: Cue | null): void {
    if (!cue) return;
    this.#cue = cue.id;
    this.#byHand = false;
    this.#findCue();
    this.#next = null;
    this.#seconds = this.#bars = 0;
    this.#eventAt = -1;
    this.#take(cue.look, cue.leaveOut, cue.fade, cue.delay);
  }
  #take(look: string | null, leaveOut: readonly LookPart[], fade: Fade, delay: Seconds): void {
    // What is in stands where it is already.
    if (this.#phase !== 'in') this.#pin(this.#in());
    this.#look = look;
    this.#leaveOut = leaveOut;
    this.#fade = fade;
    this.#delay = delay;
    this.#gone = 0;
    this.share = 0;
    this.#phase = 'waits';
    if (delay === 0 && fade.from === 'now') this.#begin(0);
  }
  /** From what is there now to the look. @param ago - seconds before this tick's end, at which it began */
  #begin(ago: number): void {
    this.#phase = 'fades';
    this.#gone = 0;
    this.#hold(this.#look, this.#leaveOut, 0);
    if (this.#fade.length === 0) this.#end();
    else if (this.#fade.unit === 'seconds') this.#gone = ago;
  }

  /**
   * Sets goals. @param share - how far it is in already: what is there now then lies on the way, so that an edit of a look that comes
   * in does not leap where nothing was edited
   */
  #hold(look: string | null, leaveOut: readonly LookPart[], share: number): void {
    const show = this.#show;
    if (!show) return;
    const wanted = show.looks.find((l) => l.id === look),
      values = wanted?.values ?? {},
      fresh = share === 0,
      held = this.#held,
      stays = (part: LookPart | undefined): boolean => part !== undefined && leaveOut.includes(part),
      left = (key: string): boolean => leaveOut.length > 0 && stays(this.#parts.get(targetOf(key).thing));
    for (const one of held.values()) this.#aim(one, values[one.key], fresh, left(one.key));
    for (const key in values) {
      if (held.has(key) || left(key)) continue;
      const one = this.#meet(key);
      one.toRest = true;
      put(one.from, 0, 0, 0);
      this.#aim(one, values[key], true, false);
      held.set(key, one);
    }
    this.#list = [...held.values()];
    this.#holdRoutes(wanted?.routes ?? {}, stays, share);
    this.#write(share);
    if (share === 1) this.#letGo();
  }
  #meet(key: string): Held {
    let held = this.#known.get(key);
    if (!held) this.#known.set(key, (held = newHeld(key)));
    held.run = this.parameters.runs.get(key);
    return held;
  }
  #holdRoutes(
    wanted: Readonly<Record<string, number>>,
    stays: (part: LookPart | undefined) => boolean,
    share: number,
  ): void {
    const parts = new Map(this.#show?.routes.map((r) => [r.id, this.#parts.get(r.target.thing)]));
    for (const route of new Set([...this.#shares.keys(), ...Object.keys(wanted)])) {
      const old = this.#shares.get(route),
        now = old ? old.from + (old.goal - old.from) * (share === 0 ? 1 : share) : 1,
        goal = stays(parts.get(route)) ? now : (wanted[route] ?? 1);
      this.#shares.set(route, { route, from: share > 0 && old ? old.from : now, goal });
    }
    this.#shareList = [...this.#shares.values()];
  }
  /** Sets where one value goes, in the arrays that it has. @param fresh - it sets out from where it is now @param stays - it is left as it is */
  #aim(held: Held, value: ParameterValue | undefined, fresh: boolean, stays: boolean): void {
    if (stays) {
      if (fresh) copy(this.#now(held, held.from), held.goal);
      return;
    }
    if (fresh) this.#now(held, held.from);
    held.toRest = value === undefined || !suits(held.run, value);
    put(held.goal, 0, 0, 0);
    if (!held.toRest) putValue(held.goal, 0, value!);
  }
  /** What a look makes of a parameter now; its rest, where none does. @returns `into` */
  #now(held: Held, into: Float64Array): Float64Array {
    const { winning } = this.parameters,
      { run } = held;
    if (!run) {
      if (!held.toRest) copy(held.goal, into);
      return into;
    }
    put(into, 0, 0, 0);
    for (let k = 0; k < run.size; k++) {
      const i = run.at + k;
      into[k] = winning.rest[i]! + (winning.look[i]! - winning.rest[i]!) * winning.lookShare[i]!;
    }
    return into;
  }

  /** What is on its way stays where it is. */
  #pin(share: number): void {
    for (const held of this.#list) {
      copy(this.#now(held, held.from), held.goal);
      held.toRest = false;
    }
    for (const s of this.#shareList) s.from = s.goal = s.from + (s.goal - s.from) * share;
  }

  #write(share: number): void {
    const { look, lookShare, rest } = this.parameters.winning,
      list = this.#list;
    for (let n = 0; n < list.length; n++) {
      const { run, from, goal, toRest } = list[n]!;
      if (!run) continue;
      const { at, size } = run;
      for (let k = 0; k < size; k++) {
        const to = toRest ? rest[at + k]! : goal[k]!;
        look[at + k] = from[k]! + (to - from[k]!) * share;
        lookShare[at + k] = 1;
      }
    }
    const shares = this.#shareList;
    for (let n = 0; n < shares.length; n++) {
      const s = shares[n]!;
      this.routes.share(s.route, (s.from + (s.goal - s.from) * share) * this.#movesOf(s.route));
    }
  }
  #end(): void {
    this.share = 1;
    this.#write(1);
    this.#phase = 'in';
    this.#letGo();
    this.version++;
  }
  /** What came back to its rest is nobody's any more. */
  #letGo(): void {
    const { lookShare } = this.parameters.winning;
    for (const held of this.#list) {
      if (!held.toRest) {
        copy(held.goal, held.from);
        continue;
      }
      letGo(held, lookShare);
      this.#held.delete(held.key);
    }
    this.#list = [...this.#held.values()];
    for (const s of this.#shareList)
      if (s.goal === 1) this.#shares.delete(s.route);
      else s.from = s.goal;
    this.#shareList = [...this.#shares.values()];
  }

  // ── masters ──

  readonly #groupOf = new Map<string, string>();
  #movesOf(route: string): number {
    const group = this.#groupOf.get(route);
    return this.masters.at('moves') * (group === undefined ? 1 : this.masters.at(group));
  }
  #setMasters(): void {
    const show = this.#show,
      { winning, runs } = this.parameters,
      { masters } = this;
    if (!show) return;
    const all = masters.at('all');
    this.light = all * masters.at('picture');
    const groups = new Map(show.fixtures.map((f) => [f.id, f.group]));
    for (const run of runs.values()) {
      const part = this.#parts.get(run.thing.id),
        p = run.parameter;
      let x = 1;
      if (part === 'overlays') x = p.dark === undefined ? 1 : all * masters.at('overlays');
      else if (part === 'laser') x = p.dark === 0 ? all * masters.at('laser') : 1;
      else if (part === 'lamps' && p.kind === 'number' && p.light) {
        const group = groups.get(run.thing.id);
        x = all * masters.at('lamps') * (group ? masters.at(lampGroupMaster(group)) : 1);
      }
      for (let k = 0; k < run.size; k++) winning.master[run.at + k] = x;
    }
    this.#groupOf.clear();
    for (const r of show.routes) {
      if (r.group !== null) this.#groupOf.set(r.id, routeGroupMaster(r.group));
      const s = this.#shares.get(r.id),
        share = s ? s.from + (s.goal - s.from) * this.#in() : 1;
      this.routes.share(r.id, share * this.#movesOf(r.id));
    }
  }

  // ── time ──

  /**
   * One tick, before routes move anything. @param counts - events of every signal so far @param find - where a signal is counted
   * @param timeOfDay - seconds since midnight; NaN where nobody knows
   */
  tick(
    dt: Seconds,
    clock: Beats,
    counts: Uint32Array,
    find: (signal: string) => number | undefined,
    timeOfDay: Seconds,
  ): void {
    const pulse = this.#pulse;
    pulse.step(dt, clock);
    this.#seconds += dt;
    this.#bars += pulse.bars;
    if (this.#cue !== null && !this.#byHand) this.#followOn(counts, find, timeOfDay);
    this.#timeOfDay = timeOfDay;
    if (this.#phase === 'in') return;
    const fade = this.#fade;
    if (this.#phase === 'waits') {
      if (this.#delay > 0) {
        this.#delay -= dt;
        if (this.#delay > 0) return;
        if (fade.from === 'now') this.#begin(-this.#delay);
        this.#delay = 0;
        this.version++;
        if (fade.from === 'now') this.#move(0);
        return;
      }
      const ago = fade.from === 'bar' ? pulse.barAgo : fade.from === 'beat' ? pulse.beatAgo : 0;
      if (ago !== ago) return;
      this.#begin(ago);
      this.version++;
      if (fade.unit === 'bars') this.#gone = (ago / dt) * pulse.bars;
      this.#move(0);
      return;
    }
    this.#move(fade.unit === 'bars' ? pulse.bars : dt);
  }
  #move(by: number): void {
    if (this.#phase !== 'fades') return;
    this.#gone += by;
    // The sum of many ticks ends a rounding error early.
    this.share = Math.min(1, (this.#gone + 1e-9) / this.#fade.length);
    if (this.share >= 1) this.#end();
    else this.#write(this.share);
  }
  #followOn(counts: Uint32Array, find: (signal: string) => number | undefined, timeOfDay: Seconds): void {
    const cues = this.#show!.cues;
    let follow: Cue['follow'] = null;
    for (let i = 0; i < cues.length; i++) if (cues[i]!.id === this.#cue) follow = cues[i]!.follow;
    if (follow === null) return;
    switch (follow.kind) {
      case 'seconds':
        if (this.#seconds + 1e-9 < follow.after) return;
        break;
      case 'bars':
        if (this.#bars + 1e-9 < follow.after) return;
        break;
      case 'event': {
        const at = find(follow.signal);
        if (at === undefined) return;
        if (at !== this.#eventAt) {
          this.#eventAt = at;
          this.#eventCount = counts[at]!;
        }
        if (counts[at] === this.#eventCount) return;
        break;
      }
      case 'time': {
        const due = Number(follow.at.slice(0, 2)) * 3600 + Number(follow.at.slice(3)) * 60;
        if (!(this.#timeOfDay < due && timeOfDay >= due)) return;
        break;
      }
    }
    const next = this.#nextCue();
    if (!next) return;
    this.#go(next);
    this.version++;
  }

  // ── keeping ──

  /** Whether what a press takes is in. */
  isIn(deed: Deed): boolean {
    switch (deed.do) {
      case 'look':
        return deed.look === this.#look;
      case 'cue':
        return deed.cue === this.#cue;
      case 'home':
        return this.#look !== null && this.#look === (this.#show?.home ?? null);
      case 'page':
        return deed.page === this.page;
      case 'flash':
      case 'alone':
        return this.masters.isHeld(deed.do, deed.master);
      default:
        return false;
    }
  }

  get state(): StageState {
    const values: Record<string, number[]> = {};
    for (const held of this.#list)
      values[held.key] = [...this.#now(held, held.from.slice()).subarray(0, held.run?.size ?? 3)];
    const routes: Record<string, number> = {},
      share = this.#in();
    for (const s of this.#shareList) routes[s.route] = s.from + (s.goal - s.from) * share;
    const left = Math.max(0, this.#fade.length - this.#gone);
    return {
      cue: this.#cue,
      next: this.#nextCue()?.id ?? null,
      look: this.#look,
      leaveOut: this.#leaveOut,
      byHand: this.#byHand,
      phase: this.#phase,
      delay: Math.max(0, this.#delay),
      fade: this.#phase === 'in' ? null : { ...this.#fade, length: left },
      seconds: this.#seconds,
      bars: this.#bars,
      values,
      routes,
      masters: this.masters.standing,
      page: this.page,
    };
  }
  /** Goes on where a state left off. Before or after {@link set}. */
  restore(state: StageState): void {
    this.masters.restore(state.masters);
    this.page = state.page;
    this.#cue = state.cue;
    this.#number = null;
    this.#next = state.next;
    this.#look = state.look;
    this.#leaveOut = state.leaveOut;
    this.#byHand = state.byHand;
    this.#phase = state.phase;
    this.#fade = state.fade ?? BY_HAND;
    this.#delay = state.delay;
    this.#gone = 0;
    this.share = state.phase === 'in' ? 1 : 0;
    this.#seconds = state.seconds;
    this.#bars = state.bars;
    this.#eventAt = -1;
    this.#held.clear();
    for (const [key, value] of Object.entries(state.values)) {
      const held = this.#meet(key);
      for (let k = 0; k < 3; k++) held.from[k] = held.goal[k] = value[k] ?? 0;
      held.toRest = false;
      this.#held.set(key, held);
    }
    this.#list = [...this.#held.values()];
    this.#shares.clear();
    for (const [route, x] of Object.entries(state.routes))
      this.#shares.set(route, { route, from: x, goal: x });
    this.#shareList = [...this.#shares.values()];
    this.#write(1);
    this.#restored = true;
    if (this.#show) {
      this.#findCue();
      this.#goOn();
    }
    this.#setMasters();
    this.version++;
  }
  /** What is there is where a fade goes on from; what is in follows the look as it is now. */
  #goOn(): void {
    this.#restored = false;
    if (this.#phase === 'fades') this.#hold(this.#look, this.#leaveOut, 0);
    else if (this.#phase === 'in') this.#hold(this.#look, this.#leaveOut, 1);
  }
  forget(): void {
    for (const held of this.#list) letGo(held, this.parameters.winning.lookShare);
    this.#show = null;
    this.restore(EMPTY_STAGE);
  }
}

function partsChanged(a: Show, b: Show): boolean {
  return (
    a.figures !== b.figures ||
    a.figureGroups !== b.figureGroups ||
    a.finishes !== b.finishes ||
    a.overlays !== b.overlays ||
    a.fixtures !== b.fixtures ||
    a.laserFigures !== b.laserFigures ||
    a.messages !== b.messages ||
    a.kinds !== b.kinds
  );
}
