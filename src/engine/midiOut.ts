import { midiAccess, type MidiDevice, SIMULATED_MIDI } from './midi';

/** The simulated instrument: it takes what it is told, so that everything can be tried without hardware. */
export const SIMULATED_INSTRUMENT: MidiDevice = { id: 'simulated', name: 'Simulated instrument' };

/** What controllers are told of themselves, among what is said over MIDI. */
export const ANSWERS = 'answers';

/** How what is said over MIDI is, by the message's id. */
export interface MidiSaid {
  readonly sent: number;
  readonly trouble: string | null;
  /** The last message, of the simulated instrument: status and two data bytes. */
  readonly heard: readonly number[] | null;
  /** The tempo that the simulated instrument makes of the clock that it is told, in beats a minute; null while it has started none. */
  readonly tempo: number | null;
}

const PULSES_KEPT = 25;
/** Follows a clock as an instrument would: by when its pulses come. */
class ClockEar {
  #started = false;
  #pulses: number[] = [];
  /** @param at - in ms */
  take(byte: number, at: number): number | null {
    if (byte === 0xfa) this.#started = true;
    if (byte === 0xfc) this.#started = false;
    if (byte === 0xf8) this.#pulses = [...this.#pulses.slice(1 - PULSES_KEPT), at];
    const n = this.#pulses.length - 1;
    return this.#started && n > 0 ? (60000 * n) / 24 / (this.#pulses[n]! - this.#pulses[0]!) : null;
  }
}

/** Instruments that could be told something now; the simulated one is always there. @param ask - lets the browser ask for permission */
export async function listInstruments(ask = false): Promise<MidiDevice[]> {
  try {
    const midi = await midiAccess(ask);
    return [
      ...(midi ? [...midi.outputs.values()].map((o) => ({ id: o.id, name: o.name ?? 'MIDI device' })) : []),
      SIMULATED_INSTRUMENT,
    ];
  } catch {
    return [SIMULATED_INSTRUMENT];
  }
}

/** Sends what devices are told. Main thread. */
export class MidiOut {
  readonly #tell: (said: Readonly<Record<string, MidiSaid>>) => void;
  readonly #said = new Map<string, MidiSaid>();
  #access: MIDIAccess | null = null;
  #asking = false;
  readonly #clocks = new Map<string, ClockEar>();
  #timer: ReturnType<typeof setTimeout> | null = null;

  /** @param tell - how all of it is, four times a second at most @param found - told when devices were found that were asked for in vain */
  constructor(
    tell: (said: Readonly<Record<string, MidiSaid>>) => void,
    readonly found: () => void,
  ) {
    this.#tell = tell;
  }

  /**
   * Tells a controller where what it moves stands, by the output that is called as it is. What is not there yet is told when it comes.
   * @param device - the id of the input that it plays
   */
  answer(device: string, bytes: readonly number[]): void {
    const input = this.#access?.inputs.get(device);
    if (device !== SIMULATED_MIDI.id && !input) this.#find();
    const output = input && [...this.#access!.outputs.values()].find((o) => o.name === input.name);
    let trouble: string | null = null;
    if (output)
      try {
        output.send([...bytes]);
      } catch {
        trouble = 'This controller does not take messages. Plug it in anew.';
      }
    else if (device !== SIMULATED_MIDI.id)
      trouble = input
        ? `${input.name ?? 'This controller'} cannot be told anything: it has no output of its name.`
        : 'The controller is not there. Plug it in, and it goes on.';
    this.#note(ANSWERS, trouble, bytes, null);
  }
  #note(id: string, trouble: string | null, heard: readonly number[] | null, tempo: number | null): void {
    const sent = this.#said.get(id)?.sent ?? 0;
    this.#said.set(id, { sent: trouble ? sent : sent + 1, trouble, heard, tempo });
    this.#timer ??= setTimeout(() => {
      this.#timer = null;
      this.#tell(Object.fromEntries(this.#said));
    }, 250);
  }

  /** @param at - when it is due, in ms since 1970; null: at once */
  send(id: string, device: string, bytes: readonly number[], at: number | null): void {
    if (device === SIMULATED_INSTRUMENT.id) {
      let clock = this.#clocks.get(id);
      if (at !== null && !clock) this.#clocks.set(id, (clock = new ClockEar()));
      const tempo = at === null || !clock ? null : clock.take(bytes[0]!, at);
      this.#note(id, null, bytes, tempo);
    } else {
      const output = this.#access?.outputs.get(device);
      let trouble: string | null = null;
      if (!output) {
        trouble = 'This instrument is not there. Plug it in, or choose another.';
        this.#find();
      } else
        try {
          output.send([...bytes], at === null ? undefined : at - performance.timeOrigin);
        } catch {
          trouble = 'This instrument does not take messages. Plug it in anew, or choose another.';
        }
      this.#note(id, trouble, null, null);
    }
  }
  #find(): void {
    if (this.#asking) return;
    this.#asking = true;
    void midiAccess(false)
      .then((found) => {
        const first = !this.#access && found !== null;
        this.#access = found;
        // What is plugged in later is told by whoever opens it.
        if (first) this.found();
      })
      .catch(() => undefined)
      .finally(() => {
        // Not asked again at every message.
        setTimeout(() => {
          this.#asking = false;
        }, 1000);
      });
  }
  close(): void {
    if (this.#timer) clearTimeout(this.#timer);
  }
}
