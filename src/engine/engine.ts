import type { Patch } from 'immer';
import type { Ear, Memory, Show } from '../core/show/types';
import { SAMPLE_RATE, type Seconds } from '../core/units';
import type { ProbeResult, ProbeTask } from './measure/probe.worker';
import { EngineInputs } from './inputs';
import { SoundReader } from './media';
import { Touches } from './touches';
import type { Screen } from '../core/screens/screen';
import { Control, makeControlMemory, MOST_INPUTS, Real, Word } from './memory/control';
import type {
  Blocks,
  FromConductor,
  FromPicture,
  Learned,
  FromWire,
  ToConductor,
  ToPicture,
  ToWire,
  WireReport,
} from './memory/messages';
import { makeReceivedMemory, Received } from './memory/received';

export type InputState =
  | { readonly kind: 'ready'; readonly seconds: number | null }
  | { readonly kind: 'loading' }
  | { readonly kind: 'waiting'; readonly why: string }
  | { readonly kind: 'trouble'; readonly why: string };

export interface EngineHooks {
  /** Gives a media file of the show. */
  media(hash: string): Promise<{ readonly blob: Blob; readonly name: string } | null>;
  blocks(blocks: Blocks): void;
  input(id: string, state: InputState): void;
  learned(learned: Learned): void;
  wire(report: WireReport): void;
  picture(message: FromPicture): void;
  audio(state: 'waiting' | 'running' | 'stopped'): void;
  trouble(what: string): void;
}

/** A picture worker in its window's hands. */
export interface PictureHandle {
  tell(message: ToPicture): void;
  end(): void;
}

/** Longest that readers wait for a show's first sounds. */
const READY_MS = 4000;

/** What a screen window and its control window say to each other. */
export const SCREEN_HELLO = 'batucada-screen';

/**
 * The running show, as its control window hosts it: makes the threads, hands them what they need, and keeps out of the way.
 * Main thread only.
 */
export class Engine {
  readonly control: Control;
  readonly received: Received;
  readonly #memory = makeControlMemory();
  readonly #receivedMemory = makeReceivedMemory();
  readonly #hooks: EngineHooks;
  readonly #conductor: Worker;
  readonly #helper: Worker;
  readonly #wire: Worker;
  readonly inputs: EngineInputs;
  readonly #touches: Touches;
  readonly #oscListeners = new Set<(address: string, value: number) => void>();
  readonly #drafts = new Map<string, readonly Ear[]>();
  #show: Show;
  #context: AudioContext | null = null;
  #player: AudioWorkletNode | null = null;
  #unlocking: Promise<void> | null = null;
  #closed = false;

  constructor(
    show: Show,
    memory: Memory,
    bridge: { readonly url: string; readonly lease: string; readonly take: boolean },
    hooks: EngineHooks,
  ) {
    this.#show = show;
    this.#hooks = hooks;
    this.control = new Control(this.#memory);
    this.received = new Received(this.#receivedMemory);
    this.#conductor = new Worker(new URL('./conductor/conductor.worker.ts', import.meta.url), {
      type: 'module',
      name: 'conductor',
    });
    this.#helper = new Worker(new URL('./history/history.worker.ts', import.meta.url), {
      type: 'module',
      name: 'history',
    });
    this.#wire = new Worker(new URL('./wire/wire.worker.ts', import.meta.url), {
      type: 'module',
      name: 'wire',
    });
    this.inputs = new EngineInputs(show, new SoundReader(this.#helper), {
      media: hooks.media,
      input: hooks.input,
      control: this.#memory,
      tell: (message) => this.#tell(message),
      sendToPlayer: (message) => this.#player?.port.postMessage(message),
      graph: () => (this.#context && this.#player ? { context: this.#context, player: this.#player } : null),
    });
    this.#touches = new Touches((maker, value) => this.touch(maker, value), hooks.trouble);
    this.#touches.follow(show.makers);
    for (const worker of [this.#conductor, this.#helper, this.#wire])
      worker.addEventListener('error', (e) =>
        hooks.trouble(
          `A part of the engine stopped: ${e.message}. Load the page again; lamps and screens hold.`,
        ),
      );
    this.#conductor.onmessage = (e: MessageEvent<FromConductor>) => {
      if (e.data.type === 'blocks') hooks.blocks(e.data.blocks);
      else if (e.data.type === 'learned') hooks.learned(e.data.learned);
      else hooks.trouble(e.data.what);
    };
    this.#wire.onmessage = (e: MessageEvent<FromWire>) => {
      if (e.data.type === 'report') hooks.wire(e.data.report);
      else if (e.data.type === 'osc') {
        const { address, value } = e.data;
        this.#touches.osc(address, value);
        for (const hear of this.#oscListeners) hear(address, value);
      } else void this.#upload(e.data.media);
    };
    this.#tell({ type: 'setup', control: this.#memory });
    const history = new MessageChannel();
    this.#helper.postMessage({ type: 'port', port: history.port2 }, [history.port2]);
    this.#conductor.postMessage({ type: 'history', port: history.port1 } satisfies ToConductor, [
      history.port1,
    ]);
    this.control.ask(memory.playing, memory.position * SAMPLE_RATE);
    this.#tell({ type: 'show', show, memory });
    this.#tellWire({
      type: 'connect',
      url: bridge.url,
      lease: bridge.lease,
      take: bridge.take,
      received: this.#receivedMemory,
    });
    const port = this.subscribe();
    this.#wire.postMessage({ type: 'conductor', port } satisfies ToWire, [port]);
    const loaded = this.inputs.follow(show);
    // A sound that cannot be read, or takes long, does not keep the lamps waiting.
    void Promise.race([loaded, new Promise((done) => setTimeout(done, READY_MS))]).then(() =>
      this.#tell({ type: 'ready' }),
    );
    window.addEventListener('message', this.#heardScreen);
    hooks.audio('waiting');
  }

  #tell(message: ToConductor): void {
    this.#conductor.postMessage(message);
  }
  #tellWire(message: ToWire): void {
    this.#wire.postMessage(message);
  }

  // ── the document ──

  /** @param patches - how it came from the show before; null to take it whole */
  setShow(show: Show, patches: readonly Patch[] | null): void {
    const before = this.#show;
    this.#show = show;
    this.#tell(patches ? { type: 'patch', patches } : { type: 'show', show, memory: null });
    if (show.inputs !== before.inputs) void this.inputs.follow(show);
    if (show.makers !== before.makers) this.#touches.follow(show.makers);
  }
  /** Another show altogether, with what it has learned. */
  open(show: Show, memory: Memory): void {
    this.#show = show;
    // Other inputs, other sound: what the rings remember belongs to the show that is left.
    this.inputs.forget();
    this.control.ask(memory.playing, memory.position * SAMPLE_RATE);
    this.#tell({ type: 'show', show, memory });
    this.#touches.follow(show.makers);
    void this.inputs.follow(show);
  }
  /** Ears that only this window listens with. @param who - each who tries something has drafts of its own */
  setDrafts(ears: readonly Ear[], who = 'trying'): void {
    if (ears.length) this.#drafts.set(who, ears);
    else this.#drafts.delete(who);
    this.#tell({ type: 'drafts', ears: [...this.#drafts.values()].flat() });
  }
  tap(route: string | null): void {
    this.#tell({ type: 'tap', route });
  }
  watch(input: string | null): void {
    this.#tell({ type: 'watch', input });
  }
  setDark(on: boolean): void {
    this.#tell({ type: 'dark', on });
  }
  setFreeze(on: boolean): void {
    this.#tell({ type: 'freeze', on });
  }
  /** Takes a parameter over by hand; with null gives it back. */
  hand(key: string, value: readonly number[] | null): void {
    this.#tell({ type: 'hand', key, value });
  }
  giveBackAll(): void {
    this.#tell({ type: 'hand', key: null, value: null });
  }
  /** Told of every number that comes over the network. @returns how to stop */
  hearOsc(hear: (address: string, value: number) => void): () => void {
    this.#oscListeners.add(hear);
    return () => this.#oscListeners.delete(hear);
  }
  /** Moves a hand control. @param value - 0 to 1 */
  touch(maker: string, value: number): void {
    this.#tell({ type: 'touch', maker, value });
  }
  /** By hand: a beat falls now, a bar begins at the nearest beat, or bars are found again. */
  beat(what: 'beat now' | 'bar now' | 'bar found'): void {
    this.#tell({ type: what });
  }
  arm(armed: boolean): void {
    this.#tellWire({ type: 'arm', armed });
  }
  takeLamps(): void {
    this.#tellWire({ type: 'take' });
  }

  // ── transport ──

  get playing(): boolean {
    return this.control.get(Word.AskedPlaying) === 1;
  }
  get position(): Seconds {
    return this.control.reals[Real.Position]! / SAMPLE_RATE;
  }
  play(): void {
    this.control.ask(true);
  }
  pause(): void {
    this.control.ask(false);
  }
  seek(to: Seconds): void {
    this.control.ask(this.playing, Math.max(0, to) * SAMPLE_RATE);
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
    if (this.#context?.state === 'running' || this.#closed) return Promise.resolve();
    return (this.#unlocking ??= this.#start().finally(() => {
      this.#unlocking = null;
    }));
  }
  async #start(): Promise<void> {
    if (!this.#context) {
      const context = new AudioContext({ sampleRate: SAMPLE_RATE, latencyHint: 'interactive' });
      this.#context = context;
      context.addEventListener('statechange', () => {
        this.#tell({ type: 'audio', running: context.state === 'running' });
        this.#hooks.audio(
          context.state === 'running' ? 'running' : context.state === 'closed' ? 'stopped' : 'waiting',
        );
      });
      try {
        await context.audioWorklet.addModule('/engine/player.worklet.js');
      } catch {
        this.#hooks.trouble('The sound could not be started. Load the page again; pictures and lamps go on.');
        return;
      }
      if (this.#closed) return;
      const player = new AudioWorkletNode(context, 'batucada-player', {
        numberOfInputs: MOST_INPUTS,
        numberOfOutputs: 1,
        outputChannelCount: [2],
      });
      player.onprocessorerror = () =>
        this.#hooks.trouble('The audio thread stopped. Load the page again; pictures and lamps go on.');
      player.port.postMessage({ type: 'setup', control: this.#memory });
      player.connect(context.destination);
      this.#player = player;
      this.inputs.send();
    }
    await this.#context.resume();
    this.#tell({ type: 'audio', running: this.#context.state === 'running' });
    this.inputs.openDevices();
  }

  // ── readers ──

  /** A port on which a reader gets the shared memory and every later change of it. */
  subscribe(): MessagePort {
    const { port1, port2 } = new MessageChannel();
    this.#conductor.postMessage({ type: 'subscribe', port: port1 } satisfies ToConductor, [port1]);
    return port2;
  }

  /** Draws the picture on a canvas, in a worker. @returns how to tell it its size, and to end it */
  drawOn(
    canvas: HTMLCanvasElement,
    width: number,
    height: number,
    heard: (message: FromPicture, worker: Worker) => boolean,
  ): PictureHandle {
    const worker = new Worker(new URL('./picture/picture.worker.ts', import.meta.url), {
      type: 'module',
      name: 'picture',
    });
    worker.onmessage = (e: MessageEvent<FromPicture>) => {
      if (!heard(e.data, worker)) this.#hooks.picture(e.data);
    };
    const offscreen = canvas.transferControlToOffscreen();
    worker.postMessage(
      { type: 'canvas', canvas: offscreen, width, height, preview: true } satisfies ToPicture,
      [offscreen],
    );
    const port = this.subscribe();
    worker.postMessage({ type: 'conductor', port } satisfies ToPicture, [port]);
    return { tell: (message) => worker.postMessage(message), end: () => worker.terminate() };
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
  /** Draws a screen of the show for a recording. */
  recordOn(
    screen: Screen,
    into: WritableStream<VideoFrame>,
    framesPerSecond: number,
    heard: (message: FromPicture, worker: Worker) => boolean,
  ): PictureHandle {
    const worker = new Worker(new URL('./picture/picture.worker.ts', import.meta.url), {
        type: 'module',
        name: 'recording',
      }),
      canvas = new OffscreenCanvas(screen.width, screen.height);
    worker.onmessage = (e: MessageEvent<FromPicture>) => {
      heard(e.data, worker);
    };
    worker.postMessage({ type: 'screen', id: screen.id } satisfies ToPicture);
    worker.postMessage(
      {
        type: 'canvas',
        canvas,
        width: screen.width,
        height: screen.height,
        preview: false,
        record: { into, framesPerSecond },
      } satisfies ToPicture,
      [canvas, into],
    );
    const port = this.subscribe();
    worker.postMessage({ type: 'conductor', port } satisfies ToPicture, [port]);
    return { tell: (message) => worker.postMessage(message), end: () => worker.terminate() };
  }

  /** A screen window asks its opener for the show; after a reload of this window it asks again. */
  readonly #heardScreen = (e: MessageEvent): void => {
    if (e.origin !== location.origin || e.data !== SCREEN_HELLO || !e.source) return;
    const port = this.subscribe();
    (e.source as Window).postMessage(SCREEN_HELLO, location.origin, [port]);
  };

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

  async #upload(media: readonly string[]): Promise<void> {
    let sent = 0;
    for (const hash of media) {
      const found = await this.#hooks.media(hash);
      if (!found) continue;
      await fetch(`/media/${hash}`, {
        method: 'PUT',
        body: found.blob,
        headers: { 'Content-Type': found.blob.type || 'application/octet-stream' },
      }).then(
        (r) => {
          if (r.ok) sent++;
        },
        () => undefined,
      );
    }
    // Pages that found the image missing are told again; asking without end for one that is nowhere helps nobody.
    if (sent) this.#tellWire({ type: 'uploaded' });
  }

  dispose(): void {
    this.#closed = true;
    window.removeEventListener('message', this.#heardScreen);
    this.inputs.dispose();
    this.#touches.close();
    for (const worker of [this.#conductor, this.#helper, this.#wire]) worker.terminate();
    void this.#context?.close();
  }
}
