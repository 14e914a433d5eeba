import type { Hop } from '../audio/hop';
import { makeHop } from '../audio/hop';
import { AutoGain } from '../audio/autoGain';
import { DelayLine } from '../audio/delayLine';
import { Spectrum } from '../audio/spectrum';
import { BeatClock } from '../beat/beatClock';
import { makeEarRunner, signalKindOf, type EarRunner } from '../ears/ear';
import { InputMeter } from '../ears/inputMeter';
import { InputHearing, takeChannel, type Channel, type StageName } from '../hearing/hearing';
import { NoteState } from '../notes/noteState';
import { inInputOrder } from '../show/inputs';
import { playedInputOf, wholeInputOf } from '../show/stems';
import type { Ear, Input, Show, Song, Tempo } from '../show/types';
import { dbToGain, HOP, SAMPLE_RATE, type Seconds } from '../units';
import {
  INPUT_SIGNALS,
  inputSignal,
  memberSignal,
  membersOfEar,
  pointsOfEar,
  TEMPO_SIGNALS,
  tempoSignal,
  vectorName,
} from './names';
import type { SignalStore } from './signalStore';

/** Gives each input's sound. */
export interface HopSource {
  /**
   * Fills `hop` with one hop of an input, before trim, and sets its `mono`.
   * @returns false when this input gives nothing now; the hop then counts as silence
   */
  fill(input: string, hop: Hop): boolean;
  /** Hands over the notes of this hop. */
  notes?(input: string, into: NoteState): void;
  /** The show's position in seconds at the end of this hop, and whether it moves. */
  readonly position?: Seconds;
  readonly playing?: boolean;
  /** Seconds since midnight, where somebody knows. */
  readonly timeOfDay?: Seconds;
  /** Where an input is in its file, in seconds, at the end of this hop; less than 0 where it plays none. */
  placeIn?(input: string): Seconds;
}

interface MixedPart {
  readonly input: InputRun;
  readonly gain: number;
  readonly part: Extract<Input, { kind: 'mix' }>['parts'][number];
}
interface InputRun {
  readonly source: Input;
  readonly gain: number;
  readonly meter: InputMeter;
  readonly hop: Hop;
  readonly ears: EarRun[];
  readonly hearing: InputHearing;
  readonly auto: AutoGain | null;
  readonly delay: DelayLine | null;
  readonly notes: NoteState | null;
  readonly parts: readonly MixedPart[];
  readonly scratch: Hop | null;
  /** Places of what every input gives by itself. */
  readonly at: Readonly<Record<(typeof INPUT_SIGNALS)[number], number>>;
  there: boolean;
  /** It is none of the song that is in: nothing is heard of it. */
  quiet: boolean;
}
export interface EarRun {
  readonly source: Ear;
  readonly key: string;
  readonly runner: EarRunner;
  readonly hearing: InputHearing | null;
  /** The stages of it that the ear asked for. */
  readonly stages: ReadonlySet<StageName>;
  readonly event: boolean;
  slot: number;
  /** Places of a set's members. */
  members: Int32Array;
  vectorAt: number;
}

/** The inputs of a show with all that listens to them, and the tempo that is found on one of them. */
export class InputBank {
  readonly clock = new BeatClock();
  readonly ears = new Map<string, EarRun>();
  /** The field of this input is computed, into `readField`, while it is not null. */
  watched: string | null = null;
  #inputs: InputRun[] = [];
  #tempoAt: Readonly<Record<(typeof TEMPO_SIGNALS)[number], number>> = {
    bpm: -1,
    confidence: -1,
    bar: -1,
    perBar: -1,
    mark: -1,
  };
  /** The tempo as the show has it, and as it is played: a song may have its own. */
  #shown: Tempo | null = null;
  #tempo: Tempo | null = null;
  #song: Pick<Song, 'bpm' | 'inputs'> | null = null;
  #tempoInput: InputRun | null = null;
  #spectrum: { readonly input: string; readonly spectrum: Spectrum } | null = null;

  constructor(readonly store: SignalStore) {}

  /** A song with a tempo of its own is played at that, and one with inputs of its own listens to no others; null: no song. */
  song(song: Pick<Song, 'bpm' | 'inputs'> | null): void {
    this.#song = song;
    const bpm = song?.bpm ?? null,
      heard = song?.inputs ?? null;
    for (const input of this.#inputs)
      input.quiet = heard !== null && !heard.includes(wholeInputOf(input.source.id));
    // A mix that is listened to is nothing without its parts; they come before it.
    for (const { quiet, parts } of this.#inputs.toReversed())
      if (!quiet) for (const part of parts) part.input.quiet = false;
    this.#tempo = bpm === null || !this.#shown ? this.#shown : { ...this.#shown, source: 'typed', bpm };
  }

  /**
   * Takes inputs and ears in place of those before; what is untouched goes on as it is.
   * @param show - its inputs as they are played, stems that are heard by themselves among them
   */
  set(show: Pick<Show, 'inputs' | 'tempo'>, ears: readonly Ear[]): void {
    this.#setInputs(show);
    this.#setEars(show.inputs, ears);
    for (const input of this.#inputs) this.#letGo(input);
  }

  /** What no ear of an input asked for is computed no longer. */
  #letGo(input: InputRun): void {
    const used = new Map<Channel, Set<StageName>>();
    const want = (channel: Channel, stages: Iterable<StageName>): void => {
      let all = used.get(channel);
      if (!all) used.set(channel, (all = new Set()));
      for (const stage of stages) all.add(stage);
    };
    for (const { source, stages } of input.ears) want(source.channel, stages);
    if (input === this.#tempoInput) want('sum', ['frame', 'beat']);
    input.hearing.keep(used);
  }
  /** What is heard of an input at all, for tests and reports. */
  stagesOf(input: string): Readonly<Partial<Record<Channel, readonly StageName[]>>> {
    return this.#inputs.find((i) => i.source.id === input)?.hearing.stages ?? {};
  }

  forget(): void {
    this.ears.clear();
    this.#inputs = [];
  }

  /** After the store's places were given anew: ears find theirs again; an input that is no longer wanted is let go. */
  moved(): void {
    for (const ear of this.ears.values()) {
      ear.slot = this.store.find(ear.source.id) ?? -1;
      ear.vectorAt = -1;
    }
    this.#inputs = this.#inputs.filter(
      (i) => this.store.find(inputSignal(i.source.id, 'peak')) !== undefined,
    );
  }

  /** Adds the places of everything here. Allocates: for messages, not for ticks. */
  map(signals: Record<string, number>, vectors: Record<string, readonly [at: number, points: number]>): void {
    for (const { source, at } of this.#inputs)
      for (const what of INPUT_SIGNALS) signals[inputSignal(source.id, what)] = at[what];
    for (const what of TEMPO_SIGNALS) signals[tempoSignal(what)] = this.#tempoAt[what];
    for (const [id, ear] of this.ears) {
      signals[id] = ear.slot;
      ear.members.forEach((at, k) => {
        signals[memberSignal(id, k)] = at;
      });
      if (ear.vectorAt >= 0) vectors[id] = [ear.vectorAt, ear.runner.vector!.length];
    }
  }

  #setInputs(show: Pick<Show, 'inputs' | 'tempo'>): void {
    const before = new Map(this.#inputs.map((i) => [i.source.id, i]));
    const { order, loops } = inInputOrder(show.inputs);
    const made = new Map<string, InputRun>();
    const place = (source: Input, what: (typeof INPUT_SIGNALS)[number]): number =>
      this.store.place(inputSignal(source.id, what));
    this.#inputs = order.map((source) => {
      const old = before.get(source.id);
      // Another kind of source is another sound: its meter and all that was heard of it start anew.
      const same = old && old.source.kind === source.kind ? old : null;
      const late = Math.round((source.delayMs / 1000) * SAMPLE_RATE);
      const run: InputRun = {
        source,
        gain: dbToGain(source.trimDb),
        meter: same?.meter ?? new InputMeter(),
        hop: old?.hop ?? makeHop(HOP),
        ears: [],
        hearing: same?.hearing ?? new InputHearing(SAMPLE_RATE, HOP),
        there: false,
        quiet: false,
        auto: source.autoGain ? (same?.auto ?? new AutoGain()) : null,
        delay: late > 0 ? (same?.delay?.frames === late ? same.delay : new DelayLine(late)) : null,
        notes: source.kind === 'notes' ? (same?.notes ?? new NoteState()) : null,
        parts:
          source.kind === 'mix'
            ? source.parts
                .filter((p) => !loops.has(`${source.id} ${p.input}`))
                .flatMap((part) => {
                  const input = made.get(part.input);
                  return input ? [{ input, part, gain: dbToGain(part.gainDb) }] : [];
                })
            : [],
        scratch: source.kind === 'mix' ? makeHop(HOP) : null,
        at: {
          peak: place(source, 'peak'),
          rms: place(source, 'rms'),
          health: place(source, 'health'),
          gain: place(source, 'gain'),
        },
      };
      made.set(source.id, run);
      return run;
    });
    const tempo = (what: (typeof TEMPO_SIGNALS)[number]): number => this.store.place(tempoSignal(what));
    this.#shown = show.tempo;
    this.song(this.#song);
    this.#tempoAt = {
      bpm: tempo('bpm'),
      confidence: tempo('confidence'),
      bar: tempo('bar'),
      perBar: tempo('perBar'),
      mark: tempo('mark'),
    };
    this.#tempoInput =
      show.tempo.source === 'found'
        ? (made.get(show.tempo.input ?? show.inputs.find((i) => i.kind !== 'notes')?.id ?? '') ?? null)
        : null;
    void this.#tempoInput?.hearing.of('sum').beat; // makes the stage
  }

  #setEars(played: readonly Input[], ears: readonly Ear[]): void {
    const before = new Map(this.ears);
    const inputs = new Map(this.#inputs.map((i) => [i.source.id, i]));
    this.ears.clear();
    for (const source of ears) {
      const input = inputs.get(playedInputOf(played, source)) ?? null;
      const run = this.#ear(source, input, before.get(source.id));
      const points = pointsOfEar(source);
      if (points > 0) run.vectorAt = this.store.placeVector(vectorName(source, points), points);
      if (points > 0)
        run.members = Int32Array.from({ length: membersOfEar(source) }, (_, k) =>
          this.store.place(memberSignal(source.id, k)),
        );
      this.ears.set(source.id, run);
      if (input) input.ears.push(run);
      else this.store.values[run.slot] = 0;
    }
    for (const [id, old] of before)
      if (!this.ears.has(id)) {
        this.store.values[old.slot] = NaN;
        for (const m of old.members) this.store.values[m] = NaN;
      }
  }

  #ear(source: Ear, input: InputRun | null, old: EarRun | undefined): EarRun {
    const key = `${input?.source.id} ${source.channel} ${JSON.stringify(source.listening)}`;
    const slot = this.store.place(source.id);
    // An ear on an input that now is another kind of sound listens to that one's hearing.
    const hearing = input?.hearing ?? null;
    if (old && old.key === key && old.hearing === hearing) return { ...old, source, slot };
    if (old && old.key !== key) this.store.traces.clear(slot); // the old trace says nothing about what is listened for now
    const { made: runner, stages } = (hearing ?? new InputHearing(SAMPLE_RATE, HOP))
      .of(source.channel)
      .asking((of) =>
        makeEarRunner(source.listening, {
          hearing: of,
          clock: this.clock,
          notes: input?.notes ?? undefined,
        }),
      );
    return {
      source,
      key,
      runner,
      hearing,
      stages,
      slot,
      event: signalKindOf(source.listening) === 'event',
      members: new Int32Array(0),
      vectorAt: -1,
    };
  }

  /** One tick of every input, of the tempo, and then of every ear. Allocates nothing. @param time - of the hop's start */
  tick(source: HopSource, time: Seconds, dt: Seconds): void {
    for (let i = 0; i < this.#inputs.length; i++) this.#takeIn(this.#inputs[i]!, source, time, dt);
    this.#beat(source, dt);
    for (let i = 0; i < this.#inputs.length; i++) this.#listen(this.#inputs[i]!);
  }

  /** One hop of an input: its sound or its notes, turned up, delayed, measured, and run through what its ears share. */
  #takeIn(input: InputRun, source: HopSource, time: Seconds, dt: Seconds): void {
    const { hop, at } = input,
      { values, traces } = this.store;
    hop.time = time;
    hop.frames = HOP;
    if (input.notes) {
      input.notes.begin();
      source.notes?.(input.source.id, input.notes);
    }
    const there = input.source.kind === 'mix' ? sum(input) : source.fill(input.source.id, hop);
    input.there = there;
    if (input.quiet) input.notes?.silence();
    if (!there || input.quiet) {
      hop.left.fill(0);
      hop.right.fill(0);
      hop.mono = true;
    }
    const gain = input.gain;
    if (gain !== 1 && there)
      for (let i = 0; i < HOP; i++) {
        hop.left[i]! *= gain;
        hop.right[i]! *= gain;
      }
    // Health is that of what the device gave; what it sounds like after automatic gain is what the meter shows.
    input.auto?.process(hop, dt);
    const auto = input.auto ? dbToGain(input.auto.db) : 1;
    input.delay?.process(hop);
    input.meter.process(hop, dt, gain * auto);
    values[at.peak] = input.meter.peak;
    values[at.rms] = input.meter.rms;
    values[at.health] = there ? input.meter.health : 0;
    values[at.gain] = input.auto?.db ?? 0;
    traces.put(at.peak, input.meter.peak);
    traces.put(at.rms, input.meter.rms);
    input.hearing.process(hop);
    if (this.watched === input.source.id) {
      if (this.#spectrum?.input !== this.watched)
        this.#spectrum = { input: this.watched, spectrum: new Spectrum(SAMPLE_RATE) };
      this.#spectrum.spectrum.push(hop.left, hop.right, HOP);
    }
  }

  /** Moves the show's tempo on by a tick, and marks its beats in their trace. */
  #beat(source: HopSource, dt: Seconds): void {
    if (!this.#tempo) return;
    const { clock } = this,
      { values, traces } = this.store,
      at = this.#tempoAt;
    clock.step(
      this.#tempo,
      dt,
      source.position ?? 0,
      source.playing ?? false,
      this.#tempoInput?.hearing.of('sum').beat ?? null,
    );
    values[at.bpm] = clock.bpm;
    values[at.confidence] = clock.confidence;
    values[at.bar] = clock.bar;
    values[at.perBar] = clock.beatsPerBar;
    traces.put(at.mark, clock.beatAgo === clock.beatAgo ? (clock.isBar ? 2 : 1) : 0);
    traces.put(at.bpm, clock.bpm);
  }

  #listen(input: InputRun): void {
    const { hop, hearing } = input,
      { store } = this,
      { values, traces } = store;
    for (let i = 0; i < input.ears.length; i++) {
      const ear = input.ears[i]!;
      store.current = ear.slot;
      store.strength[ear.slot] = 0;
      ear.runner.process(hearing.hopOf(ear.source.channel, hop), store);
      const value = ear.event ? store.strength[ear.slot]! : ear.runner.value;
      values[ear.slot] = value;
      traces.put(ear.slot, value);
      if (ear.vectorAt < 0) continue;
      const vector = ear.runner.vector!;
      store.vectors.set(vector, ear.vectorAt);
      for (let k = 0; k < ear.members.length; k++) {
        const m = ear.members[k]!;
        values[m] = vector[k]!;
        traces.put(m, vector[k]!);
      }
    }
    hearing.finish(hop);
  }

  /** Writes the watched input's field. @returns false when none is watched or heard */
  readField(out: Float32Array, offset: number): boolean {
    if (!this.#spectrum || this.#spectrum.input !== this.watched) return false;
    this.#spectrum.spectrum.read(out, offset);
    return true;
  }
}

/** Sums the parts of a mix into its hop. @returns whether any of them gives something */
function sum({ parts, hop, scratch }: InputRun): boolean {
  hop.left.fill(0);
  hop.right.fill(0);
  hop.mono = true;
  let there = false;
  for (let k = 0; k < parts.length; k++) {
    const { input, gain, part } = parts[k]!;
    if (!input.there) continue;
    there = true;
    let from = input.hop;
    if (part.channel !== 'sum') {
      takeChannel(from, part.channel, scratch!);
      from = scratch!;
    }
    if (!from.mono) hop.mono = false;
    for (let i = 0; i < hop.frames; i++) {
      hop.left[i]! += from.left[i]! * gain;
      hop.right[i]! += from.right[i]! * gain;
    }
  }
  return there;
}
