import { createSocket, type Socket } from 'node:dgram';
import { LaserGate, type DarkReason, type LaserLimits, POINT, POINTS_MOST } from '../../core/laser';
import {
  encodeIdnClose,
  encodeIdnSamples,
  IDN_SAMPLES_MOST,
  idnBytes,
  type IdnStream,
} from '../../core/protocols';

/** Sent ahead of what is drawn, so that the projector never runs dry: what a turn that is late may be late by. */
const AHEAD_MS = 12;
/** After a longer pause it begins anew: nothing is caught up. */
const PAUSE_MS = 40;
/** How the channel is configured is told again this often. */
const CONFIGURE_EVERY_MS = 200;

/**
 * Sends a laser's points as an IDN wave stream: as many as are due, from the frame at hand, over and over until the next one comes.
 * Every point goes through the gate on its way out, last of all; what is not let through goes out dark. Belongs to the sending thread.
 */
export class LaserOut {
  readonly gate: LaserGate;
  sent = 0;
  errors = 0;
  readonly #socket: Socket;
  readonly #to: { readonly host: string; readonly port: number };
  readonly #stream: IdnStream;
  readonly #frame = new Float32Array(POINT * POINTS_MOST);
  #count = 0;
  #at = 0;
  #madeAt = -Infinity;
  readonly #due = new Float32Array(POINT * IDN_SAMPLES_MOST);
  readonly #packet: Uint8Array;
  #sequence = 0;
  /** Up to where points were sent, by the turns' clock. */
  #until = NaN;
  #configuredAt = -Infinity;

  /** @param to - a projector's place @param limits - of the house: the machine's own, never a show's */
  constructor(to: { readonly host: string; readonly port: number }, limits: LaserLimits, bits: 8 | 16 = 16) {
    this.#to = to;
    this.gate = new LaserGate(limits);
    this.#stream = { mode: 'wave', bits, pointsPerSecond: limits.pointsPerSecond, service: 0 };
    this.#packet = new Uint8Array(idnBytes(IDN_SAMPLES_MOST, bits));
    this.#socket = createSocket('udp4');
    this.#socket.on('error', () => {
      this.errors++;
    });
  }

  /** The next frame, already scaled into the projector's field. @param madeAt - by the turns' clock */
  take(points: Float32Array, count: number, madeAt: number): void {
    const n = Math.min(count, POINTS_MOST);
    this.#frame.set(points.subarray(0, n * POINT));
    this.#count = n;
    if (this.#at >= n) this.#at = 0;
    this.#madeAt = madeAt;
    this.gate.look(this.#frame, n);
  }

  /**
   * Sends what is due. @param driverAge - ms since the driver was heard of @param dark - dark was pressed
   * @returns why it is dark; null while it may be lit
   */
  turn(now: number, driverAge: number, dark: boolean): DarkReason | null {
    const { pointsPerSecond } = this.#stream;
    if (!(now - this.#until < PAUSE_MS)) this.#until = now;
    let left = Math.floor(((now + AHEAD_MS - this.#until) * pointsPerSecond) / 1000);
    while (left > 0) {
      const n = Math.min(left, IDN_SAMPLES_MOST);
      this.#gather(n);
      this.gate.pass(
        this.#due,
        n,
        { now: this.#until, frameAge: this.#count > 0 ? now - this.#madeAt : 0, driverAge, dark },
        this.#due,
      );
      this.#send(n, now);
      this.#until += (n * 1000) / pointsPerSecond;
      left -= n;
    }
    return this.gate.why;
  }
  /** Of a frame without points the beam stands dark where it is. */
  #gather(n: number): void {
    if (this.#count === 0) {
      this.#due.fill(0, 0, n * POINT);
      return;
    }
    for (let i = 0; i < n; i++) {
      const from = POINT * this.#at;
      for (let c = 0; c < POINT; c++) this.#due[POINT * i + c] = this.#frame[from + c]!;
      this.#at = (this.#at + 1) % this.#count;
    }
  }
  #send(n: number, now: number): void {
    const configured = now - this.#configuredAt >= CONFIGURE_EVERY_MS;
    if (configured) this.#configuredAt = now;
    const bytes = encodeIdnSamples(
      this.#packet,
      this.#stream,
      this.#sequence++,
      Math.round(this.#until * 1000),
      this.#due,
      0,
      n,
      configured,
    );
    // The socket may keep it until it is out.
    this.#socket.send(Buffer.from(this.#packet.subarray(0, bytes)), this.#to.port, this.#to.host, (e) => {
      if (e) this.errors++;
      else this.sent++;
    });
  }

  /** Dark, and the channel closed. */
  async close(): Promise<void> {
    this.gate.shut('dark');
    await new Promise<void>((done) =>
      this.#socket.send(
        Buffer.from(encodeIdnClose(this.#stream, this.#sequence++, 0)),
        this.#to.port,
        this.#to.host,
        () => done(),
      ),
    );
    await new Promise<void>((done) => this.#socket.close(() => done()));
  }
}
