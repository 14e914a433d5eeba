import { MESSAGE_RATE, type OscForm, saidOf } from '../../core/messages';
import { type StreamDeclaration, Pace } from '../../core/outlets';
import type { PlanMap } from '../../core/plan';
import { encodeOsc, oscBytes } from '../../core/protocols';
import { type Message, parameterKey } from '../../core/show';
import type { FrameReader } from '../memory/frames';

/** Strikes of one message that may wait to be sent. */
const WAITING_MOST = 64;

/** What is said to another program: its value when it changes, and each hit at once. Ticks allocate nothing. */
export class MessageStream {
  readonly declaration: StreamDeclaration;
  /** The packet that is sent. */
  readonly packet: Uint8Array;
  readonly #view: DataView;
  readonly #message: Message;
  readonly #form: OscForm;
  readonly #pace = new Pace(MESSAGE_RATE, null);
  readonly #waiting = new Float64Array(WAITING_MOST);
  #count = 0;
  #value = -1;
  #strike = -1;
  #last = NaN;

  constructor(message: Message, form: OscForm) {
    this.#message = message;
    this.#form = form;
    const { target, address } = form;
    this.packet = new Uint8Array(oscBytes(address.length));
    this.#view = new DataView(this.packet.buffer);
    this.declaration = {
      id: `message ${message.id}`,
      to: { kind: 'osc', target },
      size: this.packet.length,
      mostPerSecond: MESSAGE_RATE,
      mode: 'ordered',
      keepAlive: null,
      safe: { then: 'hold' },
      rest: null,
      fates: null,
      calm: null,
    };
  }

  place(map: PlanMap): void {
    const at = (parameter: string): number =>
      map.parameters[parameterKey({ thing: this.#message.id, parameter })] ?? -1;
    this.#value = at('value');
    this.#strike = at('strike');
  }
  /** One event; those of others are passed over. @param strength - as the parameter reads it, in per cent */
  take(at: number, strength: number): void {
    if (at === this.#strike && this.#count < WAITING_MOST) this.#waiting[this.#count++] = strength / 100;
  }
  /** The next packet that is due. @returns whether there is one; it stands in {@link packet} */
  next(frame: FrameReader, now: number): boolean {
    if (this.#count > 0) {
      this.#say(this.#waiting[0]!);
      this.#waiting.copyWithin(0, 1, this.#count--);
      return true;
    }
    if (this.#value < 0) return false;
    const share = frame.parameters[this.#value]! / 100;
    if (share !== this.#last) {
      this.#last = share;
      this.#pace.change();
    }
    if (this.#pace.wait(now) > 0) return false;
    this.#pace.sent(now);
    this.#say(this.#last);
    return true;
  }
  #say(share: number): void {
    const form = this.#form;
    encodeOsc(this.packet, this.#view, form.address, form.type === 'int' ? 'i' : 'f', saidOf(form, share));
  }
}
