import {
  type BrokerSetting,
  PICTURE_PAGE,
  type LaserAsk,
  type PhoneNight,
  type Standing,
} from '../core/protocols';
import type { Patch } from 'immer';
import type { Act, Moved, Performed, Who } from '../core/acts';
import { BeatWatch } from '../core/outlets';
import { type Ear, type Input, type Memory, playedInputs, type Show } from '../core/show';
import { SAMPLE_RATE, type Seconds } from '../core/units';
import type { ProbeResult, ProbeTask } from './measure/probe.worker';
import { EngineInputs } from './inputs';
import type { InputState } from './inputState';
import { Clicks } from './clicks';
import { SoundReader } from './media';
import { MidiOut, type MidiSaid } from './midiOut';
import type { StandbyDrove } from './outlets/secondLink';
import { Pictures } from './pictures';
import { Readers } from './readers';
import { Touches } from './touches';
import { Control, makeControlMemory, MOST_INPUTS, Real, Word } from './memory/control';
import type { PlanMap, Stood } from '../core/plan';
import type { Fault } from './memory/faults';
import {
  OUTLET_PARTS,
  PICTURE_PARTS,
  type Blocks,
  type FromConductor,
  type FromPicture,
  type FromOutlets,
  type Learned,
  type ToConductor,
  type ToOutlets,
  type OutletReport,
} from './memory/messages';
import { makeReceivedMemory, Received } from './memory/received';
import { makeLaserView } from './memory/laserView';
import { makeSheetMemory } from './memory/sheet';

export interface EngineHooks {
  /** Gives a media file of the show. */
  media(hash: string): Promise<{ readonly blob: Blob; readonly name: string } | null>;
  /** The memory or the places in it became others. */
  plan(blocks: Blocks | undefined, map: PlanMap): void;
  /** What the show holds now, from which a part that stopped is started again. */
  memory(): Memory;
  /** What was performed elsewhere than in this window. */
  did(acts: readonly Performed[]): void;
  /** Ticks failed and the show goes on; null when it has been well again for a while. */
  fault(fault: (Fault & { readonly where: 'show' | 'outlets' }) | null): void;
  /** A show that could not be taken; the one before plays on. */
  refused(what: string): void;
  /** A part of the engine stopped, and was started again. */
  restarted(who: 'show' | 'outlets'): void;
  input(id: string, state: InputState): void;
  learned(learned: Learned): void;
  outlets(report: OutletReport): void;
  /** Whether packets may leave this computer was decided elsewhere than in this window. */
  armed(armed: boolean): void;
  /** How the first computer stands that this one follows. */
  standing(standing: Standing): void;
  /** How what devices are told over MIDI is, by the message's id. */
  midiSaid(said: Readonly<Record<string, MidiSaid>>): void;
  picture(message: FromPicture): void;
  /** Answers what a picture worker asks of its window, until it is closed. */
  pictureAsks(worker: Worker): { take(message: FromPicture): boolean; close(): void };
  audio(state: 'waiting' | 'running' | 'stopped'): void;
  trouble(what: string): void;
}

/** The conductor is taken for stopped after so long without a turn; while it takes a show, which may last, after so long. */
const CONDUCTOR_GONE_MS = 600,
  PLANNING_GONE_MS = 8000,
  /** Before its first turn it is being loaded. */
  LOADING_GONE_MS = 15000;
const WATCH_EVERY_MS = 50;
/** A part that stops again and again within this time is left alone: something that it is given stops it. */
const AGAIN_MOST = 4,
  AGAIN_WITHIN_MS = 20000;
/** After so long without a new fault all is well again. */
const WELL_AFTER_MS = 5000;

/** Longest that readers wait for a show's first sounds. */
const READY_MS = 4000;

/**
 * The running show, as its control window hosts it: makes the threads, hands them what they need, and keeps out of the way.
 * Main thread only.
 */
export class Engine {
  readonly control: Control;
  readonly received: Received;
  readonly #memory = makeControlMemory();
  readonly #receivedMemory = makeReceivedMemory();
  readonly #sheetMemory = makeSheetMemory();
  readonly laserMemory = makeLaserView();
  readonly pictures: Pictures;
  readonly #hooks: EngineHooks;
  #conductor!: Worker;
  readonly #helper: Worker;
  #outlets!: Worker;
  readonly #bridge: { readonly url: string; readonly lease: string; readonly take: boolean };
  readonly #readers = new Readers((message, ports) => this.#conductor.postMessage(message, ports));
  readonly #midiOut: MidiOut;
  #armed = false;
  #quick = false;
  #tapped: string | null = null;
  #night: PhoneNight | null = null;
  #first: string | null = null;
  /** It drives in the first's place, for a thread that is started again. */
  #drove: StandbyDrove | null = null;
  readonly #stood = new Map<number, (stood: Stood) => void>();
  #stoodId = 0;
  #watched: string | null = null;
  readonly #watch = new BeatWatch();
  readonly #watching: ReturnType<typeof setInterval>;
  #again: number[] = [];
  #well: ReturnType<typeof setTimeout> | null = null;
  readonly inputs: EngineInputs;
  readonly #touches: Touches;
  readonly #oscListeners = new Set<(address: string, value: number) => void>();
  readonly #drafts = new Map<string, readonly Ear[]>();
  #followed: { readonly inputs: readonly Input[]; readonly stems: string } = { inputs: [], stems: '' };
  #show: Show;
  #context: AudioContext | null = null;
  #player: AudioWorkletNode | null = null;
  #unlocking: Promise<void> | null = null;
  readonly #uploading = new Set<string>();
  #closed = false;
  readonly #clicks = new Clicks();

  constructor(
    show: Show,
    memory: Memory,
    bridge: { readonly url: string; readonly lease: string; readonly take: boolean },
    hooks: EngineHooks,
  ) {
    this.#show = show;
    this.#hooks = hooks;
    this.#bridge = bridge;
    this.control = new Control(this.#memory);
    this.received = new Received(this.#receivedMemory);
    this.#helper = new Worker(new URL('./history/history.worker.ts', import.meta.url), {
      type: 'module',
      name: 'history',
    });
    this.inputs = new EngineInputs(new SoundReader(this.#helper), {
      media: hooks.media,
      input: hooks.input,
      control: this.#memory,
      tell: (message) => this.#tell(message),
      sendToPlayer: (message) => this.#player?.port.postMessage(message),
      graph: () => (this.#context && this.#player ? { context: this.#context, player: this.#player } : null),
    });
    this.pictures = new Pictures(this.#readers, this.#sheetMemory, {
      said: (message) => hooks.picture(message),
      asks: (worker) => hooks.pictureAsks(worker),
    });
    this.#midiOut = new MidiOut(
      (said) => hooks.midiSaid(said),
      () => this.#tell({ type: 'plugged' }),
    );
    this.#touches = new Touches(
      (act) => this.perform(act, 'midi'),
      (moved) => this.moved(moved, 'midi'),
      hooks.trouble,
      () => this.#tell({ type: 'plugged' }),
    );
    this.#touches.follow(show.makers, show.grips);
    this.#helper.addEventListener('error', (e) =>
      hooks.trouble(`Files cannot be read any more: ${e.message}. Load the page again; the show goes on.`),
    );
    this.control.ask(memory.playing, memory.position * SAMPLE_RATE);
    this.#startConductor(memory);
    this.#startOutlets(bridge.take);
    this.#watching = setInterval(this.#lookAfter, WATCH_EVERY_MS);
    const loaded = this.#followInputs();
    // A sound that cannot be read, or takes long, does not keep the lamps waiting.
    void Promise.race([loaded, new Promise((done) => setTimeout(done, READY_MS))]).then(() =>
      this.#tell({ type: 'ready' }),
    );
    hooks.audio('waiting');
  }

  // ── its threads ──

  #startConductor(memory: Memory): void {
    const worker = new Worker(new URL('./conductor/conductor.worker.ts', import.meta.url), {
      type: 'module',
      name: 'conductor',
    });
    this.#conductor = worker;
    worker.addEventListener('error', () => {
      if (worker === this.#conductor) this.#restart('show');
    });
    worker.onmessage = (e: MessageEvent<FromConductor>) => {
      if (worker === this.#conductor) this.#heard(e.data);
    };
    this.#tell({ type: 'setup', control: this.#memory });
    const history = new MessageChannel();
    this.#helper.postMessage({ type: 'port', port: history.port2 }, [history.port2]);
    worker.postMessage({ type: 'history', port: history.port1 } satisfies ToConductor, [history.port1]);
    this.#tell({ type: 'show', show: this.#show, memory });
    this.#readers.again();
  }
  #heard(message: FromConductor): void {
    const hooks = this.#hooks;
    switch (message.type) {
      case 'plan':
        hooks.plan(message.blocks, message.map);
        return;
      case 'learned':
        hooks.learned(message.learned);
        return;
      case 'stood':
        this.#stood.get(message.id)?.(message.stood);
        this.#stood.delete(message.id);
        return;
      case 'did':
        hooks.did(message.acts);
        return;
      case 'fault':
        this.#faulted({ ...message, where: 'show' });
        return;
      case 'refused':
        hooks.refused(message.what);
        return;
      case 'again':
        this.#tell({ type: 'show', show: this.#show, memory: null });
        return;
      case 'answer':
        this.#midiOut.answer(message.device, message.bytes);
        return;
      case 'stopped':
        this.#restart('outlets');
        return;
    }
  }
  #faulted(fault: Fault & { readonly where: 'show' | 'outlets' }): void {
    if (this.#well) clearTimeout(this.#well);
    this.#well = setTimeout(() => this.#hooks.fault(null), WELL_AFTER_MS);
    this.#hooks.fault(fault);
  }
  #startOutlets(take: boolean): void {
    const worker = new Worker(new URL('./outlets/outlets.worker.ts', import.meta.url), {
      type: 'module',
      name: 'outlets',
    });
    this.#outlets = worker;
    worker.addEventListener('error', () => {
      if (worker === this.#outlets) this.#restart('outlets');
    });
    worker.onmessage = (e: MessageEvent<FromOutlets>) => {
      if (worker !== this.#outlets) return;
      if (e.data.type === 'report') {
        const { standby } = e.data.report;
        this.#drove = standby?.state === 'drives' ? { armed: standby.armed } : null;
        this.#hooks.outlets(e.data.report);
        follow((e.data.report.pages[PICTURE_PAGE] ?? 0) > 0);
      } else if (e.data.type === 'osc') {
        for (const [address, value] of e.data.messages) {
          for (const hear of this.#oscListeners) hear(address, value);
        }
      } else if (e.data.type === 'midi')
        this.#midiOut.send(e.data.id, e.data.device, e.data.bytes, e.data.at);
      else if (e.data.type === 'armed') {
        this.#armed = e.data.armed;
        this.#hooks.armed(e.data.armed);
      } else if (e.data.type === 'standing') this.#hooks.standing(e.data.standing);
      else if (e.data.type === 'sheet') this.pictures.drawSheet(e.data.wanted);
      else if (e.data.type === 'fault') this.#faulted({ ...e.data, where: 'outlets' });
      else void this.#upload(e.data.media);
    };
    const { url, lease } = this.#bridge;
    this.#tellOutlets({
      type: 'connect',
      url,
      lease,
      take,
      received: this.#receivedMemory,
      sheet: this.#sheetMemory,
      laser: this.laserMemory,
    });
    if (this.#armed && !this.#first) this.#tellOutlets({ type: 'arm', armed: true });
    if (this.#quick) this.#tellOutlets({ type: 'quick', allowed: true });
    if (this.#night) this.#tellOutlets({ type: 'night', night: this.#night });
    if (this.#first) this.#tellOutlets({ type: 'second', url: this.#first, drove: this.#drove });
    this.#joinNetwork();
    let told: boolean | null = null;
    // Of the picture it is told only while somebody elsewhere looks at it.
    const follow = (picture: boolean): void => {
      if (picture === told) return;
      told = picture;
      this.#readers.add('outlets', {
        wants: picture ? [...new Set([...OUTLET_PARTS, ...PICTURE_PARTS])] : OUTLET_PARTS,
        give: (port) => worker.postMessage({ type: 'conductor', port } satisfies ToOutlets, [port]),
      });
    };
    follow(false);
  }

  /** A part that stands still is started again, from the show and what it holds. */
  readonly #lookAfter = (): void => {
    const now = performance.now();
    const beat = this.control.reals[Real.Heartbeat]!;
    const limit =
      beat === 0
        ? LOADING_GONE_MS
        : this.control.get(Word.Planning) === 1
          ? PLANNING_GONE_MS
          : CONDUCTOR_GONE_MS;
    if (this.#watch.look(now, beat, limit)) this.#restart('show');
    this.#readers.dropGone();
  };
  #restart(who: 'show' | 'outlets'): void {
    if (this.#closed) return;
    const now = performance.now();
    this.#again = [...this.#again.filter((at) => now - at < AGAIN_WITHIN_MS), now];
    if (this.#again.length > AGAIN_MOST) {
      this.#hooks.trouble(
        'A part of the engine stops again and again. Undo your last edit, or open another show; then load the page again. Lamps and screens hold.',
      );
      return;
    }
    if (who === 'outlets') {
      this.#outlets.terminate();
      this.control.reals[Real.OutletBeat] = 0;
      this.#startOutlets(false);
    } else {
      this.#conductor.terminate();
      this.control.set(Word.Planning, 0);
      this.control.reals[Real.Heartbeat] = 0;
      this.#startConductor(this.#hooks.memory());
      this.#joinNetwork();
      this.inputs.tellAgain();
      this.#tell({ type: 'audio', running: this.#context?.state === 'running' });
      this.#tell({ type: 'drafts', ears: [...this.#drafts.values()].flat() });
      this.#tell({ type: 'tap', route: this.#tapped });
      this.#tell({ type: 'watch', input: this.#watched });
      this.#tell({ type: 'ready' });
    }
    this.#hooks.restarted(who);
  }

  /** From the outlet worker to the conductor, past this window. */
  #joinNetwork(): void {
    const { port1, port2 } = new MessageChannel();
    this.#outlets.postMessage({ type: 'network', port: port1 } satisfies ToOutlets, [port1]);
    this.#conductor.postMessage({ type: 'network', port: port2 } satisfies ToConductor, [port2]);
  }

  #tell(message: ToConductor): void {
    this.#conductor.postMessage(message);
  }
  #tellOutlets(message: ToOutlets): void {
    this.#outlets.postMessage(message);
  }

  // ── the document ──

  /** @param patches - how it came from the show before; null to take it whole */
  setShow(show: Show, patches: readonly Patch[] | null): void {
    const before = this.#show;
    this.#show = show;
    this.#tell(patches ? { type: 'patch', patches } : { type: 'show', show, memory: null });
    if (show.inputs !== before.inputs || show.ears !== before.ears) void this.#followInputs();
    if (show.makers !== before.makers || show.grips !== before.grips)
      this.#touches.follow(show.makers, show.grips);
  }
  /** Another show altogether, with what it has learned. */
  open(show: Show, memory: Memory): void {
    this.#show = show;
    // Other inputs, other sound: what the rings remember belongs to the show that is left.
    this.inputs.forget();
    this.#followed = { inputs: [], stems: '' };
    this.control.ask(memory.playing, memory.position * SAMPLE_RATE);
    this.#tell({ type: 'show', show, memory });
    this.#touches.follow(show.makers, show.grips);
    void this.#followInputs();
  }
  /** Brings what is played in line with the inputs, and with the stems that ears hear by themselves. */
  #followInputs(): Promise<unknown> {
    const { inputs, ears } = this.#show;
    const played = playedInputs(inputs, [...ears, ...[...this.#drafts.values()].flat()]);
    // An ear that is set otherwise changes nothing about what is played.
    const stems = played.slice(inputs.length).map((i) => i.id);
    if (inputs === this.#followed.inputs && stems.join() === this.#followed.stems) return Promise.resolve();
    this.#followed = { inputs, stems: stems.join() };
    return this.inputs.follow(played);
  }
  /** Ears that only this window listens with. @param who - each who tries something has drafts of its own */
  setDrafts(ears: readonly Ear[], who = 'trying'): void {
    if (ears.length) this.#drafts.set(who, ears);
    else this.#drafts.delete(who);
    this.#tell({ type: 'drafts', ears: [...this.#drafts.values()].flat() });
    void this.#followInputs();
  }
  tap(route: string | null): void {
    this.#tapped = route;
    this.#tell({ type: 'tap', route });
  }
  /** What stood so many bars ago, or (0) stands now, sound apart. */
  stood(barsAgo: number): Promise<Stood> {
    return new Promise((done) => {
      this.#stood.set(++this.#stoodId, done);
      this.#tell({ type: 'stood', id: this.#stoodId, barsAgo });
    });
  }
  watch(input: string | null): void {
    this.#watched = input;
    this.#tell({ type: 'watch', input });
  }
  /** Performs an act, at once. */
  perform(act: Act, who: Who = 'window'): void {
    // Past the conductor, which may stand still: the laser first.
    if (act.do === 'dark' && act.on) this.askLaser({ type: 'laser', act: 'dark' });
    this.#tell({ type: 'act', act, who, at: performance.timeOrigin + performance.now() });
  }
  /** A key or a controller was moved: if the show has a grip for it, something is done. */
  moved(moved: Moved, who: Who = 'window'): void {
    this.#tell({ type: 'moved', moved, who, at: performance.timeOrigin + performance.now() });
  }
  /** Told of every number that comes over the network. @returns how to stop */
  hearOsc(hear: (address: string, value: number) => void): () => void {
    this.#oscListeners.add(hear);
    return () => this.#oscListeners.delete(hear);
  }
  /** Lets lamps flash more often than three times a second, until the window is loaded anew. */
  allowQuickFlashes(allowed: boolean): void {
    this.#quick = allowed;
    this.#tellOutlets({ type: 'quick', allowed });
  }
  /** Shows which lamp one is, full and white; null: none any more. */
  /** Asks something of the laser; what becomes of it is in the next report. */
  askLaser(ask: LaserAsk): void {
    this.#tellOutlets({ type: 'laser', ask });
  }
  /** Where pages and more are published, on this machine. */
  setBroker(setting: BrokerSetting): void {
    this.#tellOutlets({ type: 'broker', setting });
  }
  /** The night, as phones show it. */
  showPhones(night: PhoneNight): void {
    this.#night = night;
    this.#tellOutlets({ type: 'night', night });
  }
  /** Stands by for another computer, by the address of its bridge; null: for none. */
  standBy(url: string | null, drove: StandbyDrove | null = null): void {
    this.#first = url;
    this.#drove = drove;
    this.#tellOutlets({ type: 'second', url, drove });
  }
  /** How the show stands, for those that stand by for this computer. */
  tellSeconds(standing: Standing): void {
    this.#tellOutlets({ type: 'standing', standing });
  }
  /** Everything is as the first computer has it. */
  follow(memory: Memory): void {
    this.#tell({ type: 'follow', memory });
  }
  identify(lamp: string | null): void {
    this.#tellOutlets({ type: 'identify', lamp });
  }
  arm(armed: boolean): void {
    this.#armed = armed;
    this.#tellOutlets({ type: 'arm', armed });
  }
  takeLamps(): void {
    this.#tellOutlets({ type: 'take' });
  }

  // ── transport ──

  get position(): Seconds {
    return this.control.reals[Real.Position]! / SAMPLE_RATE;
  }
  /** How late the loudspeakers are behind the analysis of files, or null while there is no sound. */
  get outputLatency(): Seconds | null {
    return this.#context && this.#context.state === 'running'
      ? this.#context.outputLatency || this.#context.baseLatency
      : null;
  }

  // ── sound ──

  /** Starts the sound; must be called from a press, which is when browsers allow it. Safe to call at every press. */
  unlock(): Promise<void> {
    if ((this.#context?.state === 'running' && this.#player) || this.#closed) return Promise.resolve();
    return (this.#unlocking ??= this.#start().finally(() => {
      this.#unlocking = null;
    }));
  }
  async #start(): Promise<void> {
    // A context that was closed (its device is gone for good) never runs again: another takes its place.
    if (this.#context?.state === 'closed') this.#dropGraph();
    if (!this.#context) {
      const context = new AudioContext({ sampleRate: SAMPLE_RATE, latencyHint: 'interactive' });
      this.#context = context;
      context.addEventListener('statechange', () => {
        if (context !== this.#context) return;
        this.#tell({ type: 'audio', running: context.state === 'running' });
        this.#hooks.audio(
          context.state === 'running' ? 'running' : context.state === 'closed' ? 'stopped' : 'waiting',
        );
      });
      try {
        await context.audioWorklet.addModule('/engine/player.worklet.js');
      } catch {
        this.#dropGraph();
        this.#hooks.trouble(
          'The sound could not be started; pictures and lamps go on. Press anywhere to try again.',
        );
        return;
      }
      if (this.#closed) return;
    }
    if (!this.#player) this.#makePlayer(this.#context);
    await this.#context.resume();
    this.#tell({ type: 'audio', running: this.#context.state === 'running' });
    this.inputs.openDevices();
  }
  #makePlayer(context: AudioContext): void {
    const player = new AudioWorkletNode(context, 'batucada-player', {
      numberOfInputs: MOST_INPUTS,
      numberOfOutputs: 1,
      outputChannelCount: [2],
    });
    player.onprocessorerror = () => {
      if (player !== this.#player) return;
      player.disconnect();
      this.#player = null;
      this.inputs.leaveGraph();
      this.#hooks.trouble('The audio thread stopped, and is started again. Pictures and lamps went on.');
      void this.unlock();
    };
    player.port.postMessage({ type: 'setup', control: this.#memory });
    player.connect(context.destination);
    this.#player = player;
    this.inputs.send();
  }
  #dropGraph(): void {
    const context = this.#context;
    this.#context = null;
    this.#player = null;
    this.inputs.leaveGraph();
    if (context && context.state !== 'closed') void context.close();
  }

  /** @see Clicks.start @returns null while there is no sound */
  click(inMs: number, everyMs: number, count: number): number | null {
    return this.#context ? this.#clicks.start(this.#context, inMs, everyMs, count) : null;
  }
  stopClicks(): void {
    this.#clicks.stop();
  }
  /** All that is heard, as a track of its own, and how to let it go; null while there is no sound. */
  soundTrack(): { readonly track: MediaStreamTrack; readonly end: () => void } | null {
    const player = this.#player;
    if (!this.#context || !player || this.#context.state !== 'running') return null;
    const out = this.#context.createMediaStreamDestination(),
      track = out.stream.getAudioTracks()[0];
    if (!track) return null;
    player.connect(out);
    return {
      track,
      end: () => {
        track.stop();
        player.disconnect(out);
      },
    };
  }
  // ── measuring ──

  /** Times the way of a burst through the running show. @see npm run bench */
  measure(
    task: Omit<ProbeTask, 'control' | 'frames' | 'received'>,
    frames: ProbeTask['frames'],
  ): Promise<ProbeResult> {
    const worker = new Worker(new URL('./measure/probe.worker.ts', import.meta.url), {
      type: 'module',
      name: 'probe',
    });
    return new Promise((resolve) => {
      worker.onmessage = (e: MessageEvent<ProbeResult>) => {
        worker.terminate();
        resolve(e.data);
      };
      worker.postMessage({
        ...task,
        control: this.#memory,
        frames,
        received: this.#receivedMemory,
      } satisfies ProbeTask);
    });
  }

  // ── bridge ──

  /** Gives the bridge files that its pages are made of. A page that misses one asks again by itself. */
  async #upload(media: readonly string[]): Promise<void> {
    for (const hash of media) {
      // It is asked for until it is there, and a film takes its time.
      if (this.#uploading.has(hash)) continue;
      this.#uploading.add(hash);
      try {
        const found = await this.#hooks.media(hash);
        if (found)
          await fetch(`/media/${hash}`, {
            method: 'PUT',
            body: found.blob,
            headers: { 'Content-Type': found.blob.type || 'application/octet-stream' },
          });
      } catch {
        // It is asked for again.
      } finally {
        this.#uploading.delete(hash);
      }
    }
  }

  dispose(): void {
    this.#closed = true;
    clearInterval(this.#watching);
    if (this.#well) clearTimeout(this.#well);
    this.inputs.dispose();
    this.#touches.close();
    this.#midiOut.close();
    this.#readers.close();
    this.pictures.close();
    for (const worker of [this.#conductor, this.#helper, this.#outlets]) worker.terminate();
    void this.#context?.close();
  }
}
