import { renderTone } from '../core/audio';
import { type FlatTune, MidiFileError, readMidiFile, type Tune } from '../core/notes';
import type { FilesInput, Input, NotesInput } from '../core/show';
import { dbToGain, SAMPLE_RATE, type Seconds } from '../core/units';
import { DeviceError, openDevice, openTab } from './devices';
import type { InputState } from './inputState';
import { SoundError, type DecodedSound, type SoundReader } from './media';
import { MOST_INPUTS, type ControlMemory } from './memory/control';
import type { InputsMessage, PlayedInput, ToConductor } from './memory/messages';
import { makeRingMemory } from './memory/pcmRing';
import { MidiError, openMidi } from './midi';

/** What inputs need of the engine around them. */
export interface InputsHost {
  media(hash: string): Promise<{ readonly blob: Blob; readonly name: string } | null>;
  input(id: string, state: InputState): void;
  tell(message: ToConductor): void;
  sendToPlayer(message: InputsMessage): void;
  readonly control: ControlMemory;
  /** The audio graph, once it is there. */
  graph(): { readonly context: AudioContext; readonly player: AudioWorkletNode } | null;
}

/** A sound that was tried and is not part of the show by then is let go. */
const TRIED_MS = 30000;

interface Opened {
  readonly key: string;
  stream: MediaStream | null;
  node: MediaStreamAudioSourceNode | null;
}
interface Tuned {
  readonly key: string;
  close: () => void;
}

/** Brings files, devices, tabs, tones and notes in line with the show, and tells whoever plays and listens where they are. Main thread. */
export class EngineInputs {
  readonly #host: InputsHost;
  readonly #reader: SoundReader;
  readonly #places = new Map<string, number>();
  readonly #rings = new Map<number, SharedArrayBuffer>();
  readonly #decoded = new Map<string, Promise<DecodedSound>>();
  readonly #loaded = new Map<string, { key: string; stems: readonly DecodedSound[] }>();
  readonly #tones = new Map<string, { key: string; left: SharedArrayBuffer }>();
  readonly #devices = new Map<string, Opened>();
  readonly #tuned = new Map<string, Tuned>();
  readonly #pending = new Set<string>();
  /** Sounds that were decoded and wait to be used. */
  readonly #tried = new Set<string>();
  /** Tunes of note inputs by id, for those who show them. */
  readonly tunes = new Map<string, Tune>();
  /** As they are played: stems that an ear hears by itself are inputs too. */
  #inputs: readonly Input[] = [];
  #closed = false;

  constructor(reader: SoundReader, host: InputsHost) {
    this.#reader = reader;
    this.#host = host;
    navigator.mediaDevices?.addEventListener('devicechange', this.#devicesChanged);
  }

  /** Follows the inputs as they are played, stems that are heard by themselves among them; what did not change is left playing. @returns when its files are there */
  follow(inputs: readonly Input[]): Promise<unknown> {
    this.#inputs = inputs;
    const loads: Promise<void>[] = [];
    const kinds = new Map(inputs.map((i) => [i.id, i.kind]));
    for (const id of [...this.#places.keys(), ...this.#tuned.keys()]) if (!kinds.has(id)) this.#drop(id);
    for (const input of inputs) {
      if (input.kind !== 'device' && input.kind !== 'tab') this.#closeStream(input.id);
      if (input.kind !== 'files') this.#loaded.delete(input.id);
      if (input.kind !== 'tone') this.#tones.delete(input.id);
      if (input.kind !== 'notes') this.#closeTune(input.id);
      switch (input.kind) {
        case 'files':
          loads.push(this.#load(input));
          break;
        case 'device':
          void this.#openDevice(input.id);
          break;
        case 'tab':
          this.#waitForTab(input.id);
          break;
        case 'tone':
          this.#host.input(input.id, { kind: 'ready', seconds: null });
          break;
        case 'notes':
          loads.push(this.#tune(input));
          break;
        case 'mix':
          this.#host.input(input.id, { kind: 'ready', seconds: null });
          break;
      }
    }
    this.send();
    this.#letGo();
    return Promise.all(loads);
  }

  /** Sounds that nothing plays any more are let go: an hour of music is more than a gigabyte. */
  #letGo(): void {
    const wanted = new Set(
      this.#inputs.flatMap((i) => (i.kind === 'files' ? i.stems.map((s) => s.media) : [])),
    );
    for (const hash of this.#decoded.keys())
      if (!wanted.has(hash) && !this.#tried.has(hash)) this.#decoded.delete(hash);
  }

  /** Before another show: nothing that was open belongs to it. */
  forget(): void {
    for (const id of new Set([...this.#places.keys(), ...this.#tuned.keys()])) this.#drop(id);
    this.#rings.clear();
  }

  /** Tells audio thread and conductor what is played where. */
  send(): void {
    const sounding = this.#inputs.filter((i) => i.kind !== 'mix' && i.kind !== 'notes').slice(0, MOST_INPUTS);
    const inputs: PlayedInput[] = sounding.map((input) => {
      const place = this.#placeOf(input.id);
      return {
        id: input.id,
        place,
        ring: this.#ringOf(place),
        files: this.#filesOf(input),
        heard: input.monitor.on ? dbToGain(input.trimDb + input.monitor.db) : 0,
      };
    });
    const message: InputsMessage = { type: 'inputs', inputs };
    this.#host.tell(message);
    this.#host.sendToPlayer(message);
    const live = this.#inputs.filter((i) => i.kind === 'device' || i.kind === 'tab');
    this.#reader.record(
      this.#host.control,
      inputs.filter((i) => live.some((l) => l.id === i.id)),
    );
  }
  /** Tells everything anew: whoever listened was started again. */
  tellAgain(): void {
    this.send();
    for (const input of this.#inputs) {
      const tune = this.tunes.get(input.id);
      if (tune && input.kind === 'notes' && input.from.kind === 'file')
        this.#sendTune(input.id, tune, input.from);
    }
  }
  /** A stretch of a live input's last five minutes, as a WAV file; null when nothing was heard yet. @param from @param to - seconds before now */
  recording(id: string, from: Seconds, to: Seconds): Promise<Uint8Array<ArrayBuffer> | null> {
    return this.#reader.stretch(id, from, to);
  }

  #drop(id: string): void {
    this.#closeStream(id);
    this.#closeTune(id);
    // Whoever comes to this place next has heard nothing of it.
    const place = this.#places.get(id);
    if (place !== undefined) this.#rings.delete(place);
    this.#places.delete(id);
    this.#loaded.delete(id);
    this.#tones.delete(id);
  }
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

  #filesOf(input: Input): PlayedInput['files'] {
    if (input.kind === 'tone') {
      const key = `${input.wave} ${input.hz} ${input.db}`;
      let tone = this.#tones.get(input.id);
      if (tone?.key !== key) {
        const sound = renderTone(input.wave, input.hz, input.db),
          left = new SharedArrayBuffer(sound.byteLength);
        new Float32Array(left).set(sound);
        this.#tones.set(input.id, (tone = { key, left }));
      }
      return { stems: [{ left: tone.left, right: null, gain: 1 }], loop: true, part: null, always: true };
    }
    if (input.kind !== 'files') return null;
    const loaded = this.#loaded.get(input.id);
    const part = input.part
      ? { from: Math.round(input.part.from * SAMPLE_RATE), to: Math.round(input.part.to * SAMPLE_RATE) }
      : null;
    const stems =
      loaded && loaded.key === mediaKey(input)
        ? loaded.stems.map((s, i) => ({
            left: s.left,
            right: s.right,
            gain: dbToGain(input.stems[i]!.gainDb),
          }))
        : [];
    return { stems, loop: input.loop, part, always: false };
  }

  // ── files ──

  async #load(input: FilesInput): Promise<void> {
    const key = mediaKey(input);
    if (this.#loaded.get(input.id)?.key === key) return;
    this.#host.input(input.id, { kind: 'loading' });
    try {
      const stems = await Promise.all(input.stems.map((s) => this.#decode(s.media, s.name)));
      const now = this.#inputs.find((i) => i.id === input.id);
      if (this.#closed || now?.kind !== 'files' || mediaKey(now) !== key) return;
      this.#loaded.set(input.id, { key, stems });
      this.#host.input(input.id, { kind: 'ready', seconds: Math.max(...stems.map((s) => s.seconds)) });
      this.send();
      for (const other of this.#inputs) {
        const tune = this.tunes.get(other.id);
        if (tune && other.kind === 'notes' && other.from.kind === 'file' && other.from.beside === input.id)
          this.#sendTune(other.id, tune, other.from);
      }
    } catch (e) {
      this.#host.input(input.id, {
        kind: 'trouble',
        why: e instanceof SoundError ? e.message : 'This sound could not be loaded. Choose the file again.',
      });
    }
  }
  #decode(hash: string, name: string): Promise<DecodedSound> {
    let sound = this.#decoded.get(hash);
    if (!sound) {
      sound = this.#host.media(hash).then((m) => {
        if (!m)
          throw new SoundError(`The file for “${name}” is not in this browser any more. Choose it again.`);
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
    // It is about to become part of the show.
    this.#tried.add(hash);
    setTimeout(() => {
      this.#tried.delete(hash);
      this.#letGo();
    }, TRIED_MS);
    return sound.seconds;
  }

  // ── notes ──

  async #tune(input: NotesInput): Promise<void> {
    const { id, from } = input;
    const key = JSON.stringify(from);
    if (this.#tuned.get(id)?.key === key) return;
    this.#closeTune(id);
    const tuned: Tuned = { key, close: () => undefined };
    this.#tuned.set(id, tuned);
    this.#host.input(id, { kind: 'loading' });
    try {
      if (from.kind === 'file') {
        const found = await this.#host.media(from.media);
        if (!found)
          throw new MidiFileError(`“${from.fileName}” is not in this browser any more. Choose it again.`);
        const tune = readMidiFile(new Uint8Array(await found.blob.arrayBuffer()));
        if (this.#tuned.get(id) !== tuned || this.#closed) return;
        this.tunes.set(id, tune);
        this.#sendTune(id, tune, from);
        this.#host.input(id, { kind: 'ready', seconds: tune.seconds });
      } else {
        const close = await openMidi(from.deviceId, {
          note: (channel, note, velocity, at) =>
            this.#host.tell({ type: 'note', input: id, channel, key: note, velocity, at }),
          clock: (beat, bpm) => this.#host.tell({ type: 'midi clock', beat, bpm }),
          gone: () =>
            this.#host.input(id, {
              kind: 'trouble',
              why: `“${from.deviceName}” was pulled out. Plug it in again, then try again.`,
            }),
        });
        if (this.#tuned.get(id) !== tuned || this.#closed) {
          close();
          return;
        }
        tuned.close = close;
        this.#host.input(id, { kind: 'ready', seconds: null });
      }
    } catch (e) {
      this.#host.input(id, {
        kind: 'trouble',
        why:
          e instanceof MidiFileError || e instanceof MidiError
            ? e.message
            : 'The notes could not be loaded. Choose them again.',
      });
    }
  }
  /** A tune that belongs to a sound turns with it: its lap is the sound's. */
  #sendTune(id: string, tune: Tune, from: Extract<NotesInput['from'], { kind: 'file' }>): void {
    const beside = from.beside === null ? undefined : this.#loaded.get(from.beside);
    const lap = beside ? Math.max(...beside.stems.map((s) => s.seconds)) : tune.seconds;
    this.#host.tell({ type: 'tune', input: id, tune: flatten(tune, lap, from.loop) });
  }
  #closeTune(id: string): void {
    const tuned = this.#tuned.get(id);
    if (!tuned) return;
    tuned.close();
    this.#tuned.delete(id);
    this.tunes.delete(id);
    this.#host.tell({ type: 'tune', input: id, tune: null });
  }

  // ── devices and tabs ──

  /** The audio graph is gone: streams stay open, for the next one. */
  leaveGraph(): void {
    for (const opened of this.#devices.values()) {
      opened.node?.disconnect();
      opened.node = null;
    }
  }

  /** Opens what waits for the audio graph. */
  openDevices(): void {
    for (const input of this.#inputs) {
      if (input.kind === 'device') void this.#openDevice(input.id);
      const opened = this.#devices.get(input.id);
      if (opened) this.#connect(input.id, opened);
    }
  }
  async #openDevice(id: string): Promise<void> {
    const input = this.#inputs.find((i) => i.id === id);
    if (input?.kind !== 'device') return;
    const key = input.deviceId;
    const before = this.#devices.get(id);
    if (before?.key === key && before.stream?.active) {
      this.#connect(id, before);
      return;
    }
    if (before?.key === key && !before.stream && this.#pending.has(id)) return;
    this.#closeStream(id);
    if (!this.#host.graph()) {
      this.#host.input(id, { kind: 'waiting', why: 'Press anywhere to let the sound in.' });
      return;
    }
    await this.#open(
      id,
      key,
      () => openDevice(key),
      `“${input.deviceName || 'The device'}” was pulled out. Plug it in again, and it goes on by itself, or choose another.`,
    );
  }
  /** Asks the browser which tab or window to listen to; must be called from a press. */
  async shareTab(id: string): Promise<void> {
    this.#closeStream(id);
    await this.#open(id, 'tab', openTab, 'The tab is not shared any more. Press “share a tab”.');
  }
  async #open(id: string, key: string, open: () => Promise<MediaStream>, gone: string): Promise<void> {
    const opened: Opened = { key, stream: null, node: null };
    this.#devices.set(id, opened);
    this.#pending.add(id);
    this.#host.input(id, { kind: 'waiting', why: 'Waiting for the browser’s permission …' });
    try {
      const stream = await open();
      if (this.#devices.get(id) !== opened || this.#closed) {
        stopStream(stream);
        return;
      }
      opened.stream = stream;
      stream.getAudioTracks()[0]?.addEventListener('ended', () => {
        if (this.#devices.get(id) !== opened) return;
        this.#closeStream(id);
        this.#host.input(id, { kind: 'trouble', why: gone });
      });
      this.#connect(id, opened);
      this.#host.input(id, { kind: 'ready', seconds: null });
    } catch (e) {
      this.#host.input(id, {
        kind: 'trouble',
        why: e instanceof DeviceError ? e.message : 'It could not be opened. Choose another, or try again.',
      });
    } finally {
      this.#pending.delete(id);
    }
  }
  #waitForTab(id: string): void {
    if (this.#devices.get(id)?.stream?.active || this.#pending.has(id)) return;
    this.#host.input(id, {
      kind: 'waiting',
      why: 'Press “share a tab”, choose a tab or window, and tick its sound.',
    });
  }
  #connect(id: string, opened: Opened): void {
    const graph = this.#host.graph();
    if (!graph || !opened.stream || opened.node) return;
    opened.node = graph.context.createMediaStreamSource(opened.stream);
    opened.node.connect(graph.player, 0, this.#placeOf(id));
  }
  #closeStream(id: string): void {
    const opened = this.#devices.get(id);
    if (!opened) return;
    opened.node?.disconnect();
    if (opened.stream) stopStream(opened.stream);
    this.#devices.delete(id);
  }
  /** Tries an input again: it was refused, or pulled out. */
  retry(id: string): void {
    const input = this.#inputs.find((i) => i.id === id);
    if (input?.kind === 'device') {
      this.#closeStream(id);
      void this.#openDevice(id);
    } else if (input?.kind === 'tab') void this.shareTab(id);
    else if (input?.kind === 'files') {
      this.#loaded.delete(id);
      void this.#load(input);
    } else if (input?.kind === 'notes') {
      this.#closeTune(id);
      void this.#tune(input);
    }
  }
  readonly #devicesChanged = (): void => {
    for (const input of this.#inputs)
      if (input.kind === 'device' && !this.#devices.get(input.id)?.stream?.active)
        void this.#openDevice(input.id);
  };

  dispose(): void {
    this.#closed = true;
    navigator.mediaDevices?.removeEventListener('devicechange', this.#devicesChanged);
    for (const id of [...this.#devices.keys()]) this.#closeStream(id);
    for (const { close } of this.#tuned.values()) close();
  }
}

function stopStream(stream: MediaStream): void {
  for (const t of stream.getTracks()) t.stop();
}

function mediaKey(input: FilesInput): string {
  return input.stems.map((s) => s.media).join(' ');
}

function flatten({ notes }: Tune, seconds: Seconds, loop: boolean): FlatTune {
  const out = new Uint8Array(notes.length * 4);
  notes.forEach((n, i) => out.set([Math.min(255, n.track), n.channel, n.key, n.velocity], i * 4));
  return { times: Float64Array.from(notes, (n) => n.time), notes: out, seconds, loop };
}
