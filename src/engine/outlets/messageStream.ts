import { MESSAGE_RATE, type OscForm, saidOf } from '../../core/messages';
import { type StreamDeclaration, Pace } from '../../core/outlets';
import type { PlanMap } from '../../core/plan';
import { encodeOsc, OSC_BUNDLE_HEAD, oscBytes, writeOscBundle } from '../../core/protocols';
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
  /** When each of them happened, in show time. */
  readonly #times = new Float64Array(WAITING_MOST);
  /** Bytes before its message. */
  readonly #head: number;
  #count = 0;
  #value = -1;
  #strike = -1;
  #last = NaN;

  constructor(message: Message, form: OscForm) {
    this.#message = message;
    this.#form = form;
    const { target, address } = form;
    this.#head = form.bundle ? OSC_BUNDLE_HEAD : 0;
    this.packet = new Uint8Array(this.#head + oscBytes(address.length));
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
  /** One event; those of others are passed over. @param time - of the show @param strength - as the parameter reads it, in per cent */
  take(at: number, time: number, strength: number): void {
    if (at !== this.#strike || this.#count >= WAITING_MOST) return;
    this.#times[this.#count] = time;
    this.#waiting[this.#count++] = strength / 100;
  }
  /** The next packet that is due. @returns whether there is one; it stands in {@link packet} */
  next(frame: FrameReader, now: number): boolean {
    if (this.#count > 0) {
      this.#say(this.#waiting[0]!, now, frame.time - this.#times[0]!);
      this.#times.copyWithin(0, 1, this.#count);
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
    this.#say(this.#last, now, 0);
    return true;
  }
  /** @param now - of this thread, in ms @param ago - seconds since it happened */
  #say(share: number, now: number, ago: number): void {
    const form = this.#form,
      { bundle, address, type } = form,
      head = this.#head,
      size = this.packet.length - head;
    if (bundle) {
      const { afterMs } = bundle,
        happened = performance.timeOrigin + now - Math.max(0, ago) * 1000;
      writeOscBundle(this.packet, this.#view, size, afterMs === null ? null : happened + afterMs);
    }
    encodeOsc(this.packet, this.#view, address, type === 'int' ? 'i' : 'f', saidOf(form, share), head);
  }
}
