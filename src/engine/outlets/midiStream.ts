import { MidiClock, type MidiForm, MidiSpeaker } from '../../core/messages';
import { type PlanMap, tempoSignal } from '../../core/plan';
import { type Message, parameterKey } from '../../core/show';
import type { FrameReader } from '../memory/frames';

const CLOCK_BYTES = new Uint8Array(1);

/** What one device is told over MIDI, from the frame's parameters, from hits and from the beat. */
export class MidiStream {
  readonly message: Message;
  readonly form: MidiForm;
  readonly #speaker: MidiSpeaker;
  readonly #clock: MidiClock | null;
  #value = -1;
  #strike = -1;
  #bpm = -1;
  #bar = -1;
  #perBar = -1;

  constructor(message: Message, form: MidiForm) {
    this.message = message;
    this.form = form;
    this.#speaker = new MidiSpeaker(form);
    this.#clock = form.says === 'clock' ? new MidiClock() : null;
  }
  /** The message that is sent. */
  get bytes(): Uint8Array {
    if (!this.#clock) return this.#speaker.bytes;
    CLOCK_BYTES[0] = this.#clock.byte;
    return CLOCK_BYTES;
  }
  /** When it is to be sent, in ms of this thread; null: at once. */
  get at(): number | null {
    return this.#clock ? this.#clock.at : null;
  }
  place(map: PlanMap): void {
    const at = (parameter: string): number =>
      map.parameters[parameterKey({ thing: this.message.id, parameter })] ?? -1;
    this.#value = at('value');
    this.#strike = at('strike');
    const of = (what: 'bpm' | 'bar' | 'perBar'): number => map.signals[tempoSignal(what)] ?? -1;
    this.#bpm = of('bpm');
    this.#bar = of('bar');
    this.#perBar = of('perBar');
  }
  /** One event; those of others are passed over. @param strength - in per cent */
  take(at: number, strength: number): void {
    if (at === this.#strike) this.#speaker.strike(strength / 100);
  }
  /** Once a tick, before {@link next}. */
  step({ signals }: FrameReader, now: number): void {
    if (this.#bpm < 0 || this.#bar < 0 || this.#perBar < 0) return;
    this.#clock?.step(signals[this.#bpm]!, signals[this.#bar]!, signals[this.#perBar]!, now);
  }
  next(frame: FrameReader, now: number): boolean {
    if (this.#clock) return this.#clock.next();
    return this.#value >= 0 && this.#speaker.next(frame.parameters[this.#value]! / 100, now);
  }
  end(): boolean {
    return this.#clock ? this.#clock.end() : this.#speaker.end();
  }
}
