import { SIMULATED_MIDI_ID } from '../core/acts';
/** MIDI keyboards and controllers by name, and one of our own that needs no cable. */
export interface MidiDevice {
  readonly id: string;
  readonly name: string;
}

/** A device that cannot be used; the message says what to do. */
export class MidiError extends Error {
  override readonly name = 'MidiError';
}

/** The simulated keyboard: it plays a bell tune, turns a wheel and sends a clock, so that everything can be tried without hardware. */
export const SIMULATED_MIDI: MidiDevice = { id: SIMULATED_MIDI_ID, name: 'Simulated keyboard' };
const TUNE = [74, 74, 67, 67, 74, 74, 67, 74];
const STEP_MS = 60000 / 112.5 / 2;
const CLOCKS_PER_STEP = 12; // 24 to a beat

export interface MidiListener {
  /** A note, or its end (velocity 0). @param at - `performance.timeOrigin + now()` in ms @param channel - 0–15 */
  note(channel: number, key: number, velocity: number, at: number): void;
  /** A controller, the bend wheel or the pressure moved. @param channel - 0–15 @param number - of the controller; 0 for the others @param value - 0 to 1 */
  control?(message: 'controller' | 'bend' | 'pressure', channel: number, number: number, value: number): void;
  /** MIDI clock: beats since its start, and its tempo; 0 when it stops. */
  clock(beat: number, bpm: number): void;
  /** The device is gone. */
  gone(): void;
}

/** What is asked of MIDI access; the browser's own, or nothing where it has none. */
async function access(): Promise<MIDIAccess> {
  if (typeof navigator === 'undefined' || !('requestMIDIAccess' in navigator))
    throw new MidiError(
      'This browser has no MIDI. Open Batucada in Chrome or Edge, or use the simulated keyboard.',
    );
  try {
    return await navigator.requestMIDIAccess();
  } catch (cause) {
    throw new MidiError(
      'MIDI was not allowed. Click the sign beside the address, allow MIDI, and try again.',
      { cause },
    );
  }
}

/** Whether the browser has already allowed MIDI: only then are its devices listed unasked. */
async function isAllowed(): Promise<boolean> {
  try {
    return (await navigator.permissions.query({ name: 'midi' as PermissionName })).state === 'granted';
  } catch {
    return false;
  }
}

/** MIDI access, when the browser has allowed it already, or is asked for it and answers soon; null otherwise. */
export async function midiAccess(ask: boolean): Promise<MIDIAccess | null> {
  if (!ask && !(await isAllowed())) return null;
  return Promise.race([access(), new Promise<null>((done) => setTimeout(() => done(null), 1500))]);
}

/** Devices that could be opened now; the simulated one is always there. Never fails. @param ask - true lets the browser ask for permission */
export async function listMidi(ask = false): Promise<MidiDevice[]> {
  try {
    const all = await midiAccess(ask);
    return [
      ...(all ? [...all.inputs.values()].map((i) => ({ id: i.id, name: i.name ?? 'MIDI device' })) : []),
      SIMULATED_MIDI,
    ];
  } catch {
    return [SIMULATED_MIDI];
  }
}

/** Reads the bytes of one message. Running status is undone by the browser. */
export class MidiParser {
  #clocks = 0;
  #last = NaN;
  #interval = NaN;
  constructor(readonly listener: MidiListener) {}

  /** @param at - ms, as for `note` */
  take(data: ArrayLike<number>, at: number): void {
    const status = data[0] ?? 0,
      kind = status & 0xf0,
      channel = status & 0x0f;
    if (kind === 0x90) this.listener.note(channel, data[1]! & 127, data[2]! & 127, at);
    else if (kind === 0x80) this.listener.note(channel, data[1]! & 127, 0, at);
    else if (kind === 0xb0 && data[1] === 123)
      for (let k = 0; k < 128; k++) this.listener.note(channel, k, 0, at); // all notes off
    else if (kind === 0xb0)
      this.listener.control?.('controller', channel, data[1]! & 127, (data[2]! & 127) / 127);
    else if (kind === 0xe0)
      this.listener.control?.('bend', channel, 0, ((data[1]! & 127) | ((data[2]! & 127) << 7)) / 16383);
    else if (kind === 0xd0) this.listener.control?.('pressure', channel, 0, (data[1]! & 127) / 127);
    else if (status === 0xfa) {
      this.#clocks = 0;
      this.#last = NaN;
    } else if (status === 0xfb) this.#last = NaN;
    else if (status === 0xfc) this.listener.clock(this.#clocks / 24, 0);
    else if (status === 0xf8) {
      const gap = at - this.#last;
      this.#last = at;
      // Single clocks jitter by a millisecond; their mean over a beat or two does not.
      if (gap > 2 && gap < 200)
        this.#interval = Number.isNaN(this.#interval) ? gap : this.#interval + 0.06 * (gap - this.#interval);
      this.#clocks++;
      if (!Number.isNaN(this.#interval))
        this.listener.clock(this.#clocks / 24, 60000 / (this.#interval * 24));
    }
  }
}

/** Opens a device. @returns how to close it @throws MidiError */
export async function openMidi(id: string, listener: MidiListener): Promise<() => void> {
  const parser = new MidiParser(listener);
  const now = (stamp = performance.now()): number => performance.timeOrigin + stamp;
  if (id === SIMULATED_MIDI.id) {
    let step = 0,
      clocks = 0,
      turn = 0;
    const timer = setInterval(() => {
      parser.take([0xf8], now());
      if (clocks++ % CLOCKS_PER_STEP !== 0) return;
      parser.take([0x80, TUNE[(step + TUNE.length - 1) % TUNE.length]!, 0], now());
      parser.take([0x90, TUNE[step]!, 70 + ((step * 13) % 50)], now());
      parser.take([0xb0, 1, Math.round(63.5 - 63.5 * Math.cos((2 * Math.PI * turn++) / 32))], now());
      step = (step + 1) % TUNE.length;
    }, STEP_MS / CLOCKS_PER_STEP);
    return () => {
      clearInterval(timer);
      parser.take([0xb0, 123, 0], now());
    };
  }
  const midi = await access();
  const input = id ? midi.inputs.get(id) : midi.inputs.values().next().value;
  if (!input) throw new MidiError('This MIDI device is not there any more. Plug it in, or choose another.');
  const message = (e: MIDIMessageEvent): void => {
    if (e.data) parser.take(e.data, now(e.timeStamp));
  };
  const state = (): void => {
    if (input.state === 'disconnected') listener.gone();
  };
  input.addEventListener('midimessage', message);
  input.addEventListener('statechange', state);
  return () => {
    input.removeEventListener('midimessage', message);
    input.removeEventListener('statechange', state);
  };
}
