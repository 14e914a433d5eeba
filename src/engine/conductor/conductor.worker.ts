import { applyPatches, enablePatches, type Patch } from 'immer';
import {
  ActLog,
  actsOfOsc,
  type Answer,
  AnswerBoard,
  GripBoard,
  latestOf,
  type Moved,
  SIMULATED_MIDI_ID,
  touchMap,
  type Performed,
  type TouchMap,
  type Who,
} from '../../core/acts';
import { type Hop, SPECTRUM_POINTS, Stutter } from '../../core/audio';
import { NotePlayer, type NoteState } from '../../core/notes';
import {
  columnOfTick,
  Conductor,
  type HopSource,
  memberSignal,
  type PlanMap,
  TICKS_PER_COLUMN,
  TRACE_COLUMNS,
  Traces,
} from '../../core/plan';
import { type Deed, type Ear, playedInputOf, type Show, wholeInputOf } from '../../core/show';
import { dbToGain, HOP, SAMPLE_RATE } from '../../core/units';
import { BLOCK_FRAMES, Control, Real, Word, type ControlMemory } from '../memory/control';
import { EventWriter, makeEventMemory } from '../memory/eventRing';
import { FrameWriter, makeFrameMemory } from '../memory/frames';
import { BeatWatch } from '../../core/outlets';
import { Faults } from '../memory/faults';
import type {
  Blocks,
  FromConductor,
  FromNetwork,
  HistoryAnswer,
  HistoryAsk,
  ToConductor,
} from '../memory/messages';
import { Readers } from './readers';
import { TimedDriver, driven, type DrivenInput } from './timedDriver';

enablePatches();

/** The audio thread is taken for gone after this long without a block, and time goes on by the clock. */
const AUDIO_GONE_MS = 250;
/** Further behind than this the conductor leaps to the present: late lights are worse than a gap. */
const MOST_BEHIND_HOPS = Math.round((0.5 * SAMPLE_RATE) / HOP);
const LEARNED_EVERY_MS = 2000;
/** A fader that is moved elsewhere is told of no more often than this. */
const TELL_EVERY_MS = 50;
/** The outlet worker is taken for stopped after this long without a turn. */
const OUTLETS_GONE_MS = 600;
/** How often the time of day is looked up. */
const DAY_EVERY_MS = 500;
const BLOCKS_PER_HOP = HOP / BLOCK_FRAMES;
const HOP_MS = (HOP / SAMPLE_RATE) * 1000;

const NO_PLACES: PlanMap = { epoch: -1, version: 0, signals: {}, parameters: {}, vectors: {} };

const post = (message: FromConductor): void => (globalThis as unknown as Worker).postMessage(message);

/**
 * The conductor's thread: wakes at every block, runs the core's ticks over what has arrived, and lays the results into shared
 * memory. It waits without blocking, so that messages are read between two ticks.
 */
class Host implements HopSource {
  readonly #memory: ControlMemory;
  readonly #control: Control;
  #conductor: Conductor;
  readonly #timed: TimedDriver;
  readonly #events = makeEventMemory();
  readonly #eventWriter = new EventWriter(this.#events);
  readonly #arrivals = makeEventMemory();
  readonly #arrivalWriter = new EventWriter(this.#arrivals);
  readonly #field = {
    data: new SharedArrayBuffer(TRACE_COLUMNS * SPECTRUM_POINTS * 4),
    head: new SharedArrayBuffer(4),
  };
  readonly #fieldData = new Float32Array(this.#field.data).fill(NaN);
  readonly #fieldHead = new Int32Array(this.#field.head).fill(-1);
  #traceMemory!: { data: SharedArrayBuffer; head: SharedArrayBuffer };
  #frames: FrameWriter;
  #blocks: Blocks | null = null;
  #map: PlanMap = NO_PLACES;
  #life = crypto.randomUUID();
  readonly #faults = new Faults((fault) => post({ type: 'fault', ...fault }));
  readonly #outlets = new BeatWatch();
  #inputs: readonly DrivenInput[] = [];
  readonly #byId = new Map<string, DrivenInput>();
  /** The document as it is. */
  #show: Show | null = null;
  #drafts: readonly Ear[] = [];
  /** The last show that could be taken; it plays on while a newer one cannot. */
  #taken: { readonly show: Show; readonly drafts: readonly Ear[] } | null = null;
  /** Readers were not told of the latest edits, and are told everything with the next show that can be taken. */
  #untold = true;
  readonly #readers = new Readers();
  #history: MessagePort | null = null;
  #asks = new Map<number, { ear: string | null; input: string; listening: string }>();
  #askId = 0;
  #heardBefore = new Map<string, string>();
  readonly #log = new ActLog();
  /** Acts of others that this window was not told of yet. */
  #did: Performed[] = [];
  #touches: TouchMap = touchMap([]);
  #touchesOf: Show['makers'] | null = null;
  readonly #grips = new GripBoard(SIMULATED_MIDI_ID);
  #gripsOf: Show['grips'] | null = null;
  readonly #answers = new AnswerBoard();
  readonly #stands = (deed: Deed): number => this.#conductor.stands(deed);
  readonly #answer: Answer = (device, bytes) => post({ type: 'answer', device, bytes });
  readonly #tunes = new Map<string, NotePlayer>();
  readonly #played = new Map<string, { channel: number; key: number; velocity: number; ago: number }[]>();
  /** The show's position at the start of the hop that is worked on, in seconds. */
  #from = 0;
  position = 0;
  playing = false;
  timeOfDay = NaN;
  #dayAt = 0;
  #stageVersion = -1;
  #hop = 0;
  #ready = false;
  #audioRunning = false;
  readonly #stutter = new Stutter();
  #audioBlocks = -1;
  #audioAt = 0;
  #timedFrom = NaN;
  #timedHops = 0;
  #lastTick = NaN;
  #learnedAt = 0;
  #toldAt = 0;
  #cost = 0;

  constructor(memory: ControlMemory) {
    this.#memory = memory;
    this.#control = new Control(memory);
    this.#timed = new TimedDriver(this.#control);
    this.#conductor = this.#newConductor();
    this.#frames = this.#newFrames();
    this.#hop = Math.floor((this.#control.get(Word.Blocks) >>> 0) / BLOCKS_PER_HOP);
    void this.#loop();
  }

  #newConductor(): Conductor {
    return new Conductor(256, 1024, (rows) => {
      const data = new SharedArrayBuffer(rows * TRACE_COLUMNS * 4),
        head = new SharedArrayBuffer(4);
      new Float32Array(data).fill(NaN);
      new Int32Array(head)[0] = -1;
      this.#traceMemory = { data, head };
      return new Traces(new Float32Array(data), new Int32Array(head));
    });
  }
  #newFrames(): FrameWriter {
    const { signalCapacity, parameterCapacity, vectorCapacity, epoch } = this.#conductor;
    return new FrameWriter(makeFrameMemory(signalCapacity, parameterCapacity, vectorCapacity, epoch));
  }

  receive(message: ToConductor): void {
    switch (message.type) {
      case 'setup':
        return;
      case 'inputs': {
        this.#inputs = message.inputs.map(driven);
        this.#byId.clear();
        for (const i of this.#inputs) this.#byId.set(i.id, i);
        this.#listenBack();
        return;
      }
      case 'show':
        if (this.#show && this.#show.id !== message.show.id) {
          this.#heardBefore.clear();
          this.#conductor.forget();
        }
        this.#show = message.show;
        if (message.memory) this.#conductor.setMemory(message.memory);
        this.#plan(null);
        return;
      case 'patch':
        if (!this.#show) return;
        this.#show = applyPatches(this.#show, message.patches as Patch[]);
        this.#plan(message.patches);
        return;
      case 'drafts':
        this.#drafts = message.ears;
        this.#plan([]);
        return;
      case 'tap':
        this.#conductor.tap(message.route);
        return;
      case 'stood':
        post({ type: 'stood', id: message.id, stood: this.#conductor.stood(message.barsAgo) });
        return;
      case 'watch':
        this.#conductor.inputs.watched = message.input;
        this.#fieldData.fill(NaN);
        if (message.input) this.#ask({ kind: 'field' }, message.input, null);
        return;
      case 'act':
        this.#perform(message);
        return;
      case 'moved':
        this.#moved(message.moved, message.who, message.at);
        return;
      case 'tune': {
        if (message.tune) this.#tunes.set(message.input, new NotePlayer(message.tune));
        else this.#tunes.delete(message.input);
        return;
      }
      case 'note': {
        const waiting = this.#played.get(message.input) ?? [];
        if (waiting.length < 1000)
          waiting.push({
            channel: message.channel,
            key: message.key,
            velocity: message.velocity,
            ago: Math.max(0, performance.timeOrigin + performance.now() - message.at) / 1000,
          });
        this.#played.set(message.input, waiting);
        return;
      }
      case 'midi clock':
        this.#conductor.inputs.clock.midi(message.beat, message.bpm);
        return;
      case 'follow':
        this.#conductor.follow(message.memory);
        return;
      case 'plugged':
        this.#answers.again();
        return;
      case 'audio':
        this.#audioRunning = message.running;
        this.#audioAt = performance.now();
        return;
      case 'subscribe':
        this.#readers.add(message.reader, message.port, message.wants);
        return;
      case 'unsubscribe':
        this.#readers.remove(message.reader);
        return;
      case 'ready':
        // Until now readers held what they had: a show whose sounds are still being read would rest for a moment.
        this.#ready = true;
        this.#tellReaders({ blocks: true, map: true }, null);
        return;
      case 'network':
        message.port.onmessage = (e: MessageEvent<FromNetwork>) => this.#takeNetwork(e.data);
        return;
      case 'history':
        this.#history = message.port;
        message.port.onmessage = (e: MessageEvent<HistoryAnswer>) => this.#takeHistory(e.data);
        this.#listenBack();
        return;
    }
  }

  /** @param tell - the window does not know of it, though it may have sent it */
  #perform(performed: Performed, tell = performed.who !== 'window'): void {
    const { act } = performed;
    this.#log.note(performed);
    if (!this.#conductor.perform(act)) {
      const playing = this.#control.get(Word.AskedPlaying) === 1;
      if (act.do === 'play') this.#control.ask(act.on);
      else if (act.do === 'seek') this.#control.ask(playing, Math.max(0, act.to) * SAMPLE_RATE);
    }
    if (tell) this.#did.push(performed);
  }
  #holdGrips(grips: Show['grips']): void {
    if (this.#gripsOf === grips) return;
    this.#gripsOf = grips;
    this.#grips.set(grips);
    this.#answers.set(grips);
  }
  /** A key, a controller or a message that the show may have a grip for. */
  #moved(moved: Moved, who: Who, at: number): void {
    if (!this.#show) return;
    this.#holdGrips(this.#show.grips);
    this.#answers.moved(moved, performance.now());
    for (const act of this.#grips.acts(moved, this.#stands, this.#conductor.stage.page))
      this.#perform({ act, who, at }, true);
  }
  #takeNetwork({ messages, acts, phone = 1, at }: FromNetwork): void {
    for (const act of acts ?? []) this.#perform({ act, who: 'phone', hand: phone, at });
    if (!this.#show) return;
    if (this.#touchesOf !== this.#show.makers) {
      this.#touchesOf = this.#show.makers;
      this.#touches = touchMap(this.#show.makers);
    }
    for (const [address, value] of messages) {
      for (const act of actsOfOsc(this.#touches, address, value)) this.#perform({ act, who: 'osc', at });
      this.#moved({ by: 'osc', address, value }, 'osc', at);
    }
  }

  /**
   * Takes the show as it is now, and tells whoever follows what became different.
   * @param patches - how it came from the one before; null when it is another as a whole
   */
  #plan(patches: readonly Patch[] | null): void {
    if (!this.#show) return;
    const before = this.#conductor,
      { epoch, layout } = before;
    this.#control.set(Word.Planning, 1);
    try {
      this.#conductor.setShow(this.#show, this.#drafts);
      this.#taken = { show: this.#show, drafts: this.#drafts };
    } catch (error) {
      this.#untold = true;
      this.#takeBack();
      post({ type: 'refused', what: error instanceof Error ? error.message : String(error) });
      if (!this.#blocks) return;
    } finally {
      this.#control.set(Word.Planning, 0);
    }
    const other = this.#blocks === null || this.#conductor !== before || this.#conductor.epoch !== epoch;
    if (other) {
      if (this.#conductor !== before) this.#life = crypto.randomUUID();
      if (this.#blocks) this.#frames = this.#newFrames();
      this.#blocks = {
        life: this.#life,
        control: this.#memory,
        frames: this.#frames.memory,
        events: this.#events,
        arrivals: this.#arrivals,
        traces: this.#traceMemory,
        field: this.#field,
      };
    }
    const changed = { blocks: other, map: other || this.#conductor.layout !== layout };
    if (changed.map) {
      this.#map = this.#conductor.map();
      post({ type: 'plan', ...(other && { blocks: this.#blocks! }), map: this.#map });
    }
    this.#tellReaders(changed, patches);
    if (patches === null || changed.map) this.#listenBack();
    else if (patches.some((p) => p.path[0] === 'ears')) this.#listenBack();
  }
  /** After a show that could not be taken: the one before is made whole, from nothing if it must be. */
  #takeBack(): void {
    if (!this.#taken) return;
    const { show, drafts } = this.#taken;
    try {
      this.#conductor.setShow(show, drafts);
    } catch {
      const { dark, freeze } = this.#conductor;
      const remembered = this.#conductor.remembered();
      this.#conductor = this.#newConductor();
      this.#frames = this.#newFrames();
      this.#conductor.setMemory({ ...remembered, dark, freeze });
      this.#conductor.setShow(show, drafts);
    }
  }
  #tellReaders(
    changed: { readonly blocks: boolean; readonly map: boolean },
    patches: readonly Patch[] | null,
  ): void {
    if (!this.#ready || !this.#blocks || !this.#taken) return;
    // What readers draw goes with what was taken: both stay as they were until the next show that can be.
    if (this.#taken.show !== this.#show) return;
    this.#readers.tell(
      { blocks: this.#blocks, map: this.#map, show: this.#show },
      changed,
      this.#untold ? null : patches,
    );
    this.#untold = false;
  }

  /** A new ear has its last twelve seconds at once: a helper goes over the ring while the ear already listens. */
  #listenBack(): void {
    if (!this.#show || !this.#history) return;
    for (const ear of [...this.#show.ears, ...this.#drafts]) {
      const played = playedInputOf(this.#show.inputs, ear);
      const key = JSON.stringify([played, ear.channel, ear.listening]);
      // Beats and notes are not in the sound that is kept; a mix keeps none of its own.
      if (
        ear.listening.kind === 'beat' ||
        ear.listening.kind === 'notes' ||
        this.#heardBefore.get(ear.id) === key ||
        !this.#byId.has(played)
      )
        continue;
      this.#heardBefore.set(ear.id, key);
      this.#ask({ kind: 'ear', ear }, played, ear.id);
    }
    for (const id of this.#heardBefore.keys())
      if (!this.#show.ears.some((e) => e.id === id) && !this.#drafts.some((e) => e.id === id))
        this.#heardBefore.delete(id);
  }
  #ask(what: HistoryAsk['what'], inputId: string, ear: string | null): void {
    const input = this.#byId.get(inputId);
    const source = this.#show?.inputs.find((i) => i.id === wholeInputOf(inputId));
    if (!this.#history || !input || !source) return;
    const to = this.#hop;
    const from = Math.max(0, to - TRACE_COLUMNS * TICKS_PER_COLUMN);
    if (from >= to) return;
    const id = ++this.#askId;
    this.#asks.set(id, { ear, input: inputId, listening: ear ? this.#heardBefore.get(ear)! : '' });
    const ask: HistoryAsk = {
      id,
      ring: input.memory,
      stereo: (this.#control.get(Word.Stereo) & (1 << input.place)) !== 0,
      gain: dbToGain(source.trimDb),
      from,
      to,
      what,
    };
    this.#history.postMessage(ask);
  }
  #takeHistory({ id, column, values, members }: HistoryAnswer): void {
    const ask = this.#asks.get(id);
    this.#asks.delete(id);
    if (!ask) return;
    if (ask.ear === null) {
      if (this.#conductor.inputs.watched !== ask.input) return;
      const newest = this.#fieldHead[0]!;
      const columns = values.length / SPECTRUM_POINTS;
      for (let i = 0; i < columns; i++) {
        const c = column + i;
        if (c > newest || c <= newest - TRACE_COLUMNS) continue;
        const at = (c % TRACE_COLUMNS) * SPECTRUM_POINTS;
        if (Number.isNaN(this.#fieldData[at]!))
          this.#fieldData.set(values.subarray(i * SPECTRUM_POINTS, (i + 1) * SPECTRUM_POINTS), at);
      }
      return;
    }
    // The ear may listen for something else by now.
    if (this.#heardBefore.get(ask.ear) !== ask.listening) return;
    const put = (name: string, row: Float32Array): void => {
      const slot = this.#map.signals[name];
      if (slot !== undefined) row.forEach((x, i) => this.#conductor.traces.fill(slot, column + i, x));
    };
    put(ask.ear, values);
    members.forEach((row, k) => put(memberSignal(ask.ear!, k), row));
  }

  // HopSource
  fill(id: string, hop: Hop): boolean {
    const input = this.#byId.get(id);
    if (!input) return false;
    input.ring.read(this.#hop * HOP, hop.left, hop.right, HOP);
    hop.mono = (this.#control.get(Word.Stereo) & (1 << input.place)) === 0;
    return true;
  }

  notes(id: string, into: NoteState): void {
    const time = (this.#hop * HOP) / SAMPLE_RATE;
    this.#tunes.get(id)?.play(this.#from, HOP / SAMPLE_RATE, this.playing, time, into);
    const waiting = this.#played.get(id);
    if (!waiting?.length) return;
    // Played by hand: as late as the message was, but never before what came last.
    for (const { channel, key, velocity, ago } of waiting)
      into.take(0, channel, key, velocity, Math.max(0, time + HOP / SAMPLE_RATE - ago));
    waiting.length = 0;
  }

  async #loop(): Promise<void> {
    for (;;) {
      const seen = this.#control.get(Word.Wake);
      try {
        this.#work();
      } catch (error) {
        this.#faults.take(error);
      }
      const wait = Atomics.waitAsync(this.#control.words, Word.Wake, seen, 5);
      if (wait.async) await wait.value;
      else await new Promise<void>((done) => queueMicrotask(done));
      await turn(); // messages are read here
    }
  }

  #work(): void {
    const now = performance.now();
    this.#control.reals[Real.Heartbeat] = performance.timeOrigin + now;
    const outlets = this.#control.reals[Real.OutletBeat]!;
    // Before its first turn it is being loaded.
    if (outlets > 0 && this.#outlets.look(now, outlets, OUTLETS_GONE_MS))
      post({ type: 'stopped', who: 'outlets' });
    this.#drive(now);
    const available = Math.floor((this.#control.get(Word.Blocks) >>> 0) / BLOCKS_PER_HOP);
    let behind = available - this.#hop;
    if (behind > MOST_BEHIND_HOPS) {
      const skip = behind - 8;
      this.#control.add(Word.Lost, skip);
      this.#hop += skip;
      behind = 8;
    }
    if (behind <= 0) return;
    const gap = (now - this.#lastTick) * 10;
    if (gap > this.#control.get(Word.LongestGap)) this.#control.set(Word.LongestGap, Math.round(gap));
    this.#lastTick = now;
    for (let i = 0; i < behind; i++) {
      const hop = this.#hop;
      try {
        this.#tick();
      } catch (error) {
        // What is out is held for this tick; the next is another chance.
        this.#faults.take(error);
      }
      this.#hop = hop + 1;
    }
    this.#cost += 0.05 * (((performance.now() - now) * 1000) / behind - this.#cost);
    this.#control.set(Word.TickCost, Math.round(this.#cost));
    Atomics.notify(this.#control.words, Word.Ticks);
    if (this.#show) {
      this.#holdGrips(this.#show.grips);
      this.#answers.tell(this.#stands, this.#conductor.stage.page, now, this.#answer);
    }
    if (this.#did.length > 0 && now - this.#toldAt > TELL_EVERY_MS) {
      this.#toldAt = now;
      post({ type: 'did', acts: latestOf(this.#did) });
      this.#did = [];
    }
    const staged = this.#conductor.stage.version !== this.#stageVersion;
    if (now - this.#learnedAt > LEARNED_EVERY_MS || (staged && now - this.#learnedAt > TELL_EVERY_MS)) {
      this.#learnedAt = now;
      this.#stageVersion = this.#conductor.stage.version;
      post({ type: 'learned', learned: this.#conductor.remembered() });
    }
  }

  /** While the audio thread does not drive, the clock does. */
  #drive(now: number): void {
    const control = this.#control;
    const blocks = control.get(Word.AudioBlocks);
    this.#lookAtSound(now, blocks);
    if (blocks !== this.#audioBlocks) {
      this.#audioBlocks = blocks;
      this.#audioAt = now;
    }
    if (control.get(Word.Driver) === 1) {
      if (this.#audioRunning && now - this.#audioAt < AUDIO_GONE_MS) {
        this.#timedFrom = NaN;
        return;
      }
      if (now - this.#audioAt < 20) return;
      control.set(Word.Driver, 0);
    }
    if (Number.isNaN(this.#timedFrom)) {
      this.#timedFrom = now;
      this.#timedHops = 0;
    }
    const due = Math.floor((now - this.#timedFrom) / HOP_MS);
    // After a long sleep of the machine there is no point in playing back the night.
    if (due - this.#timedHops > MOST_BEHIND_HOPS) this.#timedHops = due - 1;
    for (; this.#timedHops < due && control.get(Word.Driver) === 0; this.#timedHops++)
      this.#timed.hop(this.#inputs);
  }

  #lookAtSound(now: number, blocks: number): void {
    const { reals } = this.#control;
    if (this.#control.get(Word.Driver) === 1 && this.#audioRunning)
      this.#stutter.look(now / 1000, ((blocks >>> 0) * BLOCK_FRAMES) / SAMPLE_RATE);
    else this.#stutter.restart();
    reals[Real.MissedOfLate] = this.#stutter.ofLate;
    reals[Real.Missed] = this.#stutter.all;
  }

  placeIn(input: string): number {
    const files = this.#byId.get(input)?.files;
    if (!files || files.lap === 0 || files.always) return -1;
    const at = this.position * SAMPLE_RATE;
    return (files.from + (files.loop ? at % files.lap : Math.min(at, files.lap))) / SAMPLE_RATE;
  }

  #tick(): void {
    const conductor = this.#conductor;
    // The driver may be some blocks ahead: the position is counted back to this hop.
    this.playing = this.#control.get(Word.Playing) === 1;
    const ahead = (this.#control.get(Word.Blocks) >>> 0) * BLOCK_FRAMES - (this.#hop + 1) * HOP;
    this.position = Math.max(
      0,
      (this.#control.reals[Real.Position]! - (this.playing ? ahead : 0)) / SAMPLE_RATE,
    );
    this.#from = Math.max(0, this.position - HOP / SAMPLE_RATE);
    if (this.#lastTick - this.#dayAt > DAY_EVERY_MS || Number.isNaN(this.timeOfDay)) {
      this.#dayAt = this.#lastTick;
      const day = new Date();
      this.timeOfDay = day.getHours() * 3600 + day.getMinutes() * 60 + day.getSeconds();
    }
    conductor.tick(this.#hop, this);
    for (let i = 0; i < conductor.store.eventCount; i++)
      this.#eventWriter.write(
        conductor.store.eventSlot[i]!,
        conductor.store.eventTime[i]!,
        conductor.store.eventStrength[i]!,
      );
    const { arrivals } = conductor;
    for (let i = 0; i < arrivals.arrivalCount; i++)
      this.#arrivalWriter.write(arrivals.arrivalAt[i]!, arrivals.arrivalTime[i]!, arrivals.arrivalValue[i]!);
    const time = ((this.#hop + 1) * HOP) / SAMPLE_RATE;
    if (conductor.inputs.watched !== null && this.#hop % TICKS_PER_COLUMN === TICKS_PER_COLUMN - 1)
      this.#writeField(columnOfTick(this.#hop));
    this.#frames.write(conductor, this.#hop, time);
    this.#control.reals[Real.Time] = time;
    this.#control.add(Word.Ticks);
  }
  #writeField(column: number): void {
    const newest = this.#fieldHead[0]!;
    for (let c = Math.max(newest + 1, column - TRACE_COLUMNS + 1); c < column; c++) {
      const at = (c % TRACE_COLUMNS) * SPECTRUM_POINTS;
      this.#fieldData.fill(NaN, at, at + SPECTRUM_POINTS);
    }
    this.#conductor.inputs.readField(this.#fieldData, (column % TRACE_COLUMNS) * SPECTRUM_POINTS);
    Atomics.store(this.#fieldHead, 0, column);
  }
}

const channel = new MessageChannel();
let turned: (() => void) | null = null;
channel.port2.onmessage = () => turned?.();
/** Gives way to waiting messages, once. A timer would add four milliseconds, a promise nothing at all. */
function turn(): Promise<void> {
  return new Promise((done) => {
    turned = done;
    channel.port1.postMessage(0);
  });
}

let host: Host | null = null;
self.onmessage = (e: MessageEvent<ToConductor>) => {
  try {
    if (e.data.type === 'setup') host = new Host(e.data.control);
    else host?.receive(e.data);
  } catch {
    // The documents have come apart, or a message was damaged: the show is asked for as a whole.
    post({ type: 'again' });
  }
};
