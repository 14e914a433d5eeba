import { type MidiForm, MidiSpeaker } from '../../core/messages';
import type { PlanMap } from '../../core/plan';
import { type Message, parameterKey } from '../../core/show';
import type { FrameReader } from '../memory/frames';

/** What one device is told over MIDI, from the frame's parameters and from hits. */
export class MidiStream {
  readonly message: Message;
  readonly form: MidiForm;
  readonly #speaker: MidiSpeaker;
  #value = -1;
  #strike = -1;

  constructor(message: Message, form: MidiForm) {
    this.message = message;
    this.form = form;
    this.#speaker = new MidiSpeaker(form);
  }
  /** The message that is sent. */
  get bytes(): Uint8Array {
    return this.#speaker.bytes;
  }
  place(map: PlanMap): void {
    const at = (parameter: string): number =>
      map.parameters[parameterKey({ thing: this.message.id, parameter })] ?? -1;
    this.#value = at('value');
    this.#strike = at('strike');
  }
  /** One event; those of others are passed over. @param strength - in per cent */
  take(at: number, strength: number): void {
    if (at === this.#strike) this.#speaker.strike(strength / 100);
  }
  next(frame: FrameReader, now: number): boolean {
    return this.#value >= 0 && this.#speaker.next(frame.parameters[this.#value]! / 100, now);
  }
  end(): boolean {
    return this.#speaker.end();
  }
}
