import type { Patch } from 'immer';
import type { Ear, FilesInput, Input, Memory, Show } from '../core/show/types';
import { dbToGain, SAMPLE_RATE, type Seconds } from '../core/units';
import type { ProbeResult, ProbeTask } from './measure/probe.worker';
import { DeviceError, openDevice } from './devices';
import { SoundError, SoundReader, type DecodedSound } from './media';
import { Control, makeControlMemory, MOST_INPUTS, Real, Word } from './memory/control';
import type { Blocks, FromConductor, FromPicture, FromWire, InputsMessage, PlayedInput, ToConductor, ToPicture, ToWire, WireReport } from './memory/messages';
import { makeRingMemory } from './memory/pcmRing';
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
  fits(fits: Memory['fits']): void;
  wire(report: WireReport): void;
  picture(message: FromPicture): void;
  audio(state: 'waiting' | 'running' | 'stopped'): void;
  trouble(what: string): void;
}

interface Opened { readonly key: string; stream: MediaStream | null; node: MediaStreamAudioSourceNode | null }

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
  readonly #reader: SoundReader;
  readonly #places = new Map<string, number>();
  readonly #rings = new Map<number, SharedArrayBuffer>();
  readonly #decoded = new Map<string, Promise<DecodedSound>>();
  readonly #loaded = new Map<string, { key: string; stems: readonly DecodedSound[] }>();
  readonly #devices = new Map<string, Opened>();
  #show: Show;
  #context: AudioContext | null = null;
  #player: AudioWorkletNode | null = null;
  #unlocking: Promise<void> | null = null;
  #closed = false;

  constructor(show: Show, memory: Memory, bridge: { readonly url: string; readonly lease: string; readonly take: boolean }, hooks: EngineHooks) {
    this.#show = show;
    this.#hooks = hooks;
    this.control = new Control(this.#memory);
    this.received = new Received(this.#receivedMemory);
    this.#conductor = new Worker(new URL('./conductor/conductor.worker.ts', import.meta.url), { type: 'module', name: 'conductor' });
    this.#helper = new Worker(new URL('./history/history.worker.ts', import.meta.url), { type: 'module', name: 'history' });
    this.#wire = new Worker(new URL('./wire/wire.worker.ts', import.meta.url), { type: 'module', name: 'wire' });
    this.#reader = new SoundReader(this.#helper);
    for (const worker of [this.#conductor, this.#helper, this.#wire]) worker.addEventListener('error', (e) => hooks.trouble(`A part of the engine stopped: ${e.message}. Load the page again; lamps and screens hold.`));
    this.#conductor.onmessage = (e: MessageEvent<FromConductor>) => {
      if (e.data.type === 'blocks') hooks.blocks(e.data.blocks);
      else if (e.data.type === 'fits') hooks.fits(e.data.fits);
      else hooks.trouble(e.data.what);
    };
    this.#wire.onmessage = (e: MessageEvent<FromWire>) => {
      if (e.data.type === 'report') hooks.wire(e.data.report);
      else void this.#upload(e.data.media);
    };
    this.#tell({ type: 'setup', control: this.#memory });
    const history = new MessageChannel();
    this.#helper.postMessage({ type: 'port', port: history.port2 }, [history.port2]);
    this.#conductor.postMessage({ type: 'history', port: history.port1 } satisfies ToConductor, [history.port1]);
    this.control.ask(memory.playing, memory.position * SAMPLE_RATE);
    this.#tell({ type: 'show', show, memory });
    this.#tellWire({ type: 'connect', url: bridge.url, lease: bridge.lease, take: bridge.take, received: this.#receivedMemory });
    const port = this.subscribe();
    this.#wire.postMessage({ type: 'conductor', port } satisfies ToWire, [port]);
    const loaded = this.#followInputs();
    // A sound that cannot be read, or takes long, does not keep the lamps waiting.
    void Promise.race([loaded, new Promise((done) => setTimeout(done, READY_MS))]).then(() => this.#tell({ type: 'ready' }));
    navigator.mediaDevices?.addEventListener('devicechange', this.#devicesChanged);
    window.addEventListener('message', this.#heardScreen);
    hooks.audio('waiting');
  }

  #tell(message: ToConductor): void { this.#conductor.postMessage(message); }
  #tellWire(message: ToWire): void { this.#wire.postMessage(message); }

  // ── the document ──

  /** @param patches - how it came from the show before; null to take it whole */
  setShow(show: Show, patches: readonly Patch[] | null): void {
    const before = this.#show;
    this.#show = show;
    this.#tell(patches ? { type: 'patch', patches } : { type: 'show', show, memory: null });
    if (show.inputs !== before.inputs) void this.#followInputs();
  }
  /** Another show altogether, with what it has learned. */
  open(show: Show, memory: Memory): void {
    this.#show = show;
    // Other inputs, other sound: what the rings remember belongs to the show that is left.
    for (const id of [...this.#devices.keys()]) this.#closeDevice(id);
    this.#places.clear();
    this.#rings.clear();
    this.#loaded.clear();
    this.control.ask(memory.playing, memory.position * SAMPLE_RATE);
    this.#tell({ type: 'show', show, memory });
    void this.#followInputs();
  }
  setDrafts(ears: readonly Ear[]): void { this.#tell({ type: 'drafts', ears }); }
  tap(route: string | null): void { this.#tell({ type: 'tap', route }); }
  watch(input: string | null): void { this.#tell({ type: 'watch', input }); }
  setDark(on: boolean): void { this.#tell({ type: 'dark', on }); }
  setFreeze(on: boolean): void { this.#tell({ type: 'freeze', on }); }
  arm(armed: boolean): void { this.#tellWire({ type: 'arm', armed }); }
  takeLamps(): void { this.#tellWire({ type: 'take' }); }

  // ── transport ──

  get playing(): boolean { return this.control.get(Word.AskedPlaying) === 1; }
  get position(): Seconds { return this.control.reals[Real.Position]! / SAMPLE_RATE; }
  play(): void { this.control.ask(true); }
  pause(): void { this.control.ask(false); }
  seek(to: Seconds): void { this.control.ask(this.playing, Math.max(0, to) * SAMPLE_RATE); }
  /** How late the loudspeakers are behind the analysis of files, or null while there is no sound. */
  get outputLatency(): Seconds | null { return this.#context && this.#context.state === 'running' ? this.#context.outputLatency || this.#context.baseLatency : null; }

  // ── sound ──

  /** Starts the sound; must be called from a press, which is when browsers allow it. Safe to call at every press. */
  unlock(): Promise<void> {
    if (this.#context?.state === 'running' || this.#closed) return Promise.resolve();
    return (this.#unlocking ??= this.#start().finally(() => { this.#unlocking = null; }));
  }
  async #start(): Promise<void> {
    if (!this.#context) {
      const context = new AudioContext({ sampleRate: SAMPLE_RATE, latencyHint: 'interactive' });
      this.#context = context;
      context.addEventListener('statechange', () => {
        this.#tell({ type: 'audio', running: context.state === 'running' });
        this.#hooks.audio(context.state === 'running' ? 'running' : context.state === 'closed' ? 'stopped' : 'waiting');
      });
      try {
        await context.audioWorklet.addModule('/engine/player.worklet.js');
      } catch {
        this.#hooks.trouble('The sound could not be started. Load the page again; pictures and lamps go on.');
        return;
      }
      if (this.#closed) return;
      const player = new AudioWorkletNode(context, 'batucada-player', { numberOfInputs: MOST_INPUTS, numberOfOutputs: 1, outputChannelCount: [2] });
      player.onprocessorerror = () => this.#hooks.trouble('The audio thread stopped. Load the page again; pictures and lamps go on.');
      player.port.postMessage({ type: 'setup', control: this.#memory });
      player.connect(context.destination);
      this.#player = player;
      this.#sendInputs();
    }
    await this.#context.resume();
    this.#tell({ type: 'audio', running: this.#context.state === 'running' });
    for (const input of this.#show.inputs) if (input.kind === 'device') void this.#openDevice(input.id);
  }

  // ── inputs ──

  #placeOf(id: string): number {
    let place = this.#places.get(id);
    if (place === undefined) {
      const taken = new Set(this.#places.values());
      place = 0;
      while (taken.has(place)) place++;
      this.#places.set(id, place);
    }
    return place;
  }
  #ringOf(place: number): SharedArrayBuffer {
    let ring = this.#rings.get(place);
    if (!ring) this.#rings.set(place, (ring = makeRingMemory()));
    return ring;
  }

  /** Brings files and devices in line with the show. What did not change is left playing. */
  #followInputs(): Promise<unknown> {
    const loads: Promise<void>[] = [];
    const ids = new Set(this.#show.inputs.map((i) => i.id));
    for (const id of [...this.#places.keys()]) if (!ids.has(id)) { this.#closeDevice(id); this.#places.delete(id); this.#loaded.delete(id); }
    for (const input of this.#show.inputs) {
      if (input.kind === 'files') { this.#closeDevice(input.id); loads.push(this.#load(input)); }
      else { this.#loaded.delete(input.id); void this.#openDevice(input.id); }
    }
    this.#sendInputs();
    return Promise.all(loads);
  }

  #sendInputs(): void {
    const inputs: PlayedInput[] = this.#show.inputs.slice(0, MOST_INPUTS).map((input) => {
      const place = this.#placeOf(input.id);
      return { id: input.id, place, ring: this.#ringOf(place), files: this.#filesOf(input), heard: input.monitor.on ? dbToGain(input.trimDb + input.monitor.db) : 0 };
    });
    const message: InputsMessage = { type: 'inputs', inputs };
    this.#tell(message);
    this.#player?.port.postMessage(message);
  }
  #filesOf(input: Input): PlayedInput['files'] {
    if (input.kind !== 'files') return null;
    const loaded = this.#loaded.get(input.id);
    if (!loaded || loaded.key !== mediaKey(input)) return { stems: [], loop: input.loop };
    return { loop: input.loop, stems: loaded.stems.map((s, i) => ({ left: s.left, right: s.right, gain: dbToGain(input.stems[i]!.gainDb) })) };
  }

  async #load(input: FilesInput): Promise<void> {
    const key = mediaKey(input);
    if (this.#loaded.get(input.id)?.key === key) return;
    this.#hooks.input(input.id, { kind: 'loading' });
    try {
      const stems = await Promise.all(input.stems.map((s) => this.#decode(s.media, s.name)));
      const now = this.#show.inputs.find((i) => i.id === input.id);
      if (this.#closed || now?.kind !== 'files' || mediaKey(now) !== key) return;
      this.#loaded.set(input.id, { key, stems });
      this.#hooks.input(input.id, { kind: 'ready', seconds: Math.max(...stems.map((s) => s.seconds)) });
      this.#sendInputs();
    } catch (e) {
      this.#hooks.input(input.id, { kind: 'trouble', why: e instanceof SoundError ? e.message : 'This sound could not be loaded. Choose the file again.' });
    }
  }
  #decode(hash: string, name: string): Promise<DecodedSound> {
    let sound = this.#decoded.get(hash);
    if (!sound) {
      sound = this.#hooks.media(hash).then((m) => {
        if (!m) throw new SoundError(`The file for “${name}” is not in this browser any more. Choose it again.`);
        return this.#reader.read(m.blob, m.name);
      });
      sound.catch(() => this.#decoded.delete(hash));
      this.#decoded.set(hash, sound);
    }
    return sound;
  }
  /** Decodes a file before it becomes part of the show, so that a bad one changes nothing. @throws SoundError */
  async tryFile(hash: string, blob: Blob, name: string): Promise<Seconds> {
    const reading = this.#reader.read(blob, name);
    const sound = await reading;
    this.#decoded.set(hash, reading);
    return sound.seconds;
  }

  async #openDevice(id: string): Promise<void> {
    const input = this.#show.inputs.find((i) => i.id === id);
    if (input?.kind !== 'device') return;
    const key = input.deviceId;
    const before = this.#devices.get(id);
    if (before?.key === key && before.stream?.active) { this.#connect(id, before); return; }
    if (before?.key === key && !before.stream && before.node === null && this.#pending.has(id)) return;
    this.#closeDevice(id);
    const opened: Opened = { key, stream: null, node: null };
    this.#devices.set(id, opened);
    if (!this.#context) { this.#hooks.input(id, { kind: 'waiting', why: 'Press anywhere to let the sound in.' }); return; }
    this.#pending.add(id);
    this.#hooks.input(id, { kind: 'waiting', why: 'Waiting for the browser’s permission …' });
    try {
      const stream = await openDevice(key);
      if (this.#devices.get(id) !== opened || this.#closed) { for (const t of stream.getTracks()) t.stop(); return; }
      opened.stream = stream;
      stream.getAudioTracks()[0]?.addEventListener('ended', () => {
        if (this.#devices.get(id) !== opened) return;
        this.#closeDevice(id);
        this.#hooks.input(id, { kind: 'trouble', why: `“${input.deviceName || 'The device'}” was pulled out. Plug it in again, and it goes on by itself, or choose another.` });
      });
      this.#connect(id, opened);
      this.#hooks.input(id, { kind: 'ready', seconds: null });
    } catch (e) {
      this.#hooks.input(id, { kind: 'trouble', why: e instanceof DeviceError ? e.message : 'The device could not be opened. Choose another, or try again.' });
    } finally {
      this.#pending.delete(id);
    }
  }
  readonly #pending = new Set<string>();
  #connect(id: string, opened: Opened): void {
    if (!this.#context || !this.#player || !opened.stream || opened.node) return;
    opened.node = this.#context.createMediaStreamSource(opened.stream);
    opened.node.connect(this.#player, 0, this.#placeOf(id));
  }
  #closeDevice(id: string): void {
    const opened = this.#devices.get(id);
    if (!opened) return;
    opened.node?.disconnect();
    for (const t of opened.stream?.getTracks() ?? []) t.stop();
    this.#devices.delete(id);
  }
  /** Tries a device again: it was refused, or pulled out. */
  retry(id: string): void {
    const input = this.#show.inputs.find((i) => i.id === id);
    if (input?.kind === 'device') { this.#closeDevice(id); void this.#openDevice(id); }
    else if (input) { this.#loaded.delete(id); void this.#load(input); }
  }
  readonly #devicesChanged = (): void => {
    for (const input of this.#show.inputs) if (input.kind === 'device' && !this.#devices.get(input.id)?.stream?.active) void this.#openDevice(input.id);
  };

  // ── readers ──

  /** A port on which a reader gets the shared memory and every later change of it. */
  subscribe(): MessagePort {
    const { port1, port2 } = new MessageChannel();
    this.#conductor.postMessage({ type: 'subscribe', port: port1 } satisfies ToConductor, [port1]);
    return port2;
  }

  /** Draws the picture on a canvas, in a worker. @returns how to tell it its size, and to end it */
  drawOn(canvas: HTMLCanvasElement, width: number, height: number): { resize(width: number, height: number): void; show(shown: boolean): void; end(): void } {
    const worker = new Worker(new URL('./picture/picture.worker.ts', import.meta.url), { type: 'module', name: 'picture' });
    worker.onmessage = (e: MessageEvent<FromPicture>) => this.#hooks.picture(e.data);
    const offscreen = canvas.transferControlToOffscreen();
    worker.postMessage({ type: 'canvas', canvas: offscreen, width, height } satisfies ToPicture, [offscreen]);
    const port = this.subscribe();
    worker.postMessage({ type: 'conductor', port } satisfies ToPicture, [port]);
    return { resize: (w, h) => worker.postMessage({ type: 'size', width: w, height: h } satisfies ToPicture), show: (shown) => worker.postMessage({ type: 'shown', shown } satisfies ToPicture), end: () => worker.terminate() };
  }

  /** A screen window asks its opener for the show; after a reload of this window it asks again. */
  readonly #heardScreen = (e: MessageEvent): void => {
    if (e.origin !== location.origin || e.data !== SCREEN_HELLO || !e.source) return;
    const port = this.subscribe();
    (e.source as Window).postMessage(SCREEN_HELLO, location.origin, [port]);
  };

  // ── measuring ──

  /** Times the way of a burst through the running show. @see npm run bench */
  measure(task: Omit<ProbeTask, 'control' | 'frames' | 'received'>, frames: ProbeTask['frames']): Promise<ProbeResult> {
    const worker = new Worker(new URL('./measure/probe.worker.ts', import.meta.url), { type: 'module', name: 'probe' });
    return new Promise((resolve) => {
      worker.onmessage = (e: MessageEvent<ProbeResult>) => { worker.terminate(); resolve(e.data); };
      worker.postMessage({ ...task, control: this.#memory, frames, received: this.#receivedMemory } satisfies ProbeTask);
    });
  }

  // ── bridge ──

  async #upload(media: readonly string[]): Promise<void> {
    let sent = 0;
    for (const hash of media) {
      const found = await this.#hooks.media(hash);
      if (!found) continue;
      await fetch(`/media/${hash}`, { method: 'PUT', body: found.blob, headers: { 'Content-Type': found.blob.type || 'application/octet-stream' } }).then((r) => { if (r.ok) sent++; }, () => undefined);
    }
    // Pages that found the image missing are told again; asking without end for one that is nowhere helps nobody.
    if (sent) this.#tellWire({ type: 'uploaded' });
  }

  dispose(): void {
    this.#closed = true;
    navigator.mediaDevices?.removeEventListener('devicechange', this.#devicesChanged);
    window.removeEventListener('message', this.#heardScreen);
    for (const id of [...this.#devices.keys()]) this.#closeDevice(id);
    for (const worker of [this.#conductor, this.#helper, this.#wire]) worker.terminate();
    void this.#context?.close();
  }
}

function mediaKey(input: FilesInput): string {
  return input.stems.map((s) => s.media).join(' ');
}
