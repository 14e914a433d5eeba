import { createSocket, type Socket } from 'node:dgram';
import {
  Arming,
  type DarkReason,
  FieldMap,
  FrameBlend,
  type LaserAct,
  LaserGate,
  type LaserSetting,
  POINT,
  POINTS_MOST,
} from '../../core/laser';
import {
  decodeIdnScanned,
  encodeIdnClose,
  encodeIdnFrame,
  encodeIdnSamples,
  encodeIdnScan,
  IDN_SAMPLES_MOST,
  idnBytes,
  LASER_DARK,
  LASER_PLAYS,
  type IdnStream,
  type LaserState,
} from '../../core/protocols';

/**
 * Sent ahead of what is drawn, so that the projector never runs dry: what a turn that is late may be late by. Light may stay so much
 * longer than a frame may be old.
 */
const AHEAD_MS = 8;
/** After a longer pause of its thread it is shut, and begins anew: nothing is caught up. */
const PAUSE_MS = 50;
/** Between two turns while points go out. */
const TURN_MS = 4;
/** How the channel is configured is told again this often. */
const CONFIGURE_EVERY_MS = 200;
/** What was lit goes on dark for so long, so that mirrors and projector end in order; then nothing is sent. */
const DARK_TAIL_MS = 150;

/** The projector is asked so often whether it is there, and has so long to answer. */
const CALL_EVERY_MS = 100,
  SILENT_MS = 400;

/** Where the points go, as a number. */
export interface LaserEnd {
  readonly host: string;
  readonly port: number;
}

/**
 * Sends a laser's points as an IDN stream: as many as are due, from the frame at hand, over and over until the next one comes. Every
 * point is laid into the projector's field, and then goes through the gate on its way out, last of all; what is not let through goes
 * out dark. It is armed by two acts and not otherwise. Belongs to the sending thread.
 */
export class LaserOut {
  readonly gate: LaserGate;
  readonly #arming = new Arming();
  readonly #socket: Socket;
  readonly #to: LaserEnd;
  readonly #stream: IdnStream;
  #map: FieldMap;
  readonly #blend = new FrameBlend();
  readonly #laid = new Float32Array(POINT * POINTS_MOST);
  readonly #due: Float32Array;
  readonly #packet: Uint8Array;
  #at = 0;
  #madeAt = -Infinity;
  #heardAt = -Infinity;
  #turnedAt = NaN;
  #dark = false;
  #plays = false;
  #sequence = 0;
  #calls = 0;
  #packets = 0;
  #errors = 0;
  /** Up to where points were sent, by the turns' clock. */
  #until = NaN;
  #configuredAt = -Infinity;
  #shutAt = -Infinity;
  #open = false;
  /** For the rates: since they were last asked. */
  #asked = { at: NaN, points: 0, passes: 0, lit: 0, hottest: 0 };
  #armedAt: number | null = null;
  /** When the projector last said that it is there, and was last asked. */
  #answeredAt = NaN;
  #calledAt = -Infinity;

  /** @param to - a projector's place @param setting - of the machine: never a show's */
  constructor(to: LaserEnd, setting: LaserSetting) {
    const { limits, bits, mode, field } = setting;
    this.#to = to;
    this.gate = new LaserGate(limits);
    this.#map = new FieldMap(field);
    this.#stream = { mode, bits, pointsPerSecond: limits.pointsPerSecond, service: 0 };
    this.#packet = new Uint8Array(idnBytes(IDN_SAMPLES_MOST, bits));
    this.#due = new Float32Array(POINT * (mode === 'wave' ? IDN_SAMPLES_MOST : POINTS_MOST));
    this.#socket = createSocket('udp4');
    this.#socket.on('error', () => {
      this.#errors++;
    });
    this.#socket.on('message', (m) => {
      if (decodeIdnScanned(m)) this.#answeredAt = performance.now();
    });
  }

  /** Other places where it may shine, and another way in which it is laid into the field: from the next point on. */
  setWhere({ limits, field }: Pick<LaserSetting, 'limits' | 'field'>): void {
    this.gate.setWhere(limits);
    this.#map = new FieldMap(field);
  }

  /** One of the two acts that arm it, or the one that ends it. */
  act(act: LaserAct, now: number): void {
    const arms = this.#arming.act(act, now);
    if (act === 'let go' || act === 'dark') this.gate.shut(act);
    // Nothing is armed into the dark, nor without somebody who drives.
    if (arms && !this.#dark && now - this.#heardAt < PAUSE_MS) {
      this.gate.arm();
      this.#armedAt = Date.now();
      this.#turnedAt = now;
      this.#asked = { ...this.#asked, at: now };
      this.#until = NaN;
    }
  }
  /** Whoever drives is gone, or another drives now. */
  leave(): void {
    this.#arming.forget();
    this.gate.shut('no driver');
  }

  /** The next frame. @param madeAt - by the turns' clock @param marks - as the frame brings them */
  take(points: Float32Array, count: number, madeAt: number, marks: number, now: number): void {
    const n = Math.min(count, POINTS_MOST),
      plays = (marks & LASER_PLAYS) !== 0;
    this.#dark = (marks & LASER_DARK) !== 0;
    if (this.#dark) {
      this.#arming.forget();
      this.gate.shut('dark');
    }
    if (this.#plays && !plays) this.gate.shut('stopped');
    this.#plays = plays;
    this.#laid.set(points.subarray(0, n * POINT));
    this.#map.apply(this.#laid, n);
    this.#blend.take(this.#laid, n, now);
    if (this.#at >= n) this.#at = 0;
    this.#madeAt = madeAt;
    this.#heardAt = now;
    this.gate.look(this.#laid, n);
  }

  /** Sends what is due. @returns in how many ms it is to be turned again at the latest */
  turn(now: number): number {
    // A thread that stood still sent nothing meanwhile; what it would send now was not looked at in time.
    if (now - this.#turnedAt > PAUSE_MS) this.gate.shut('fault');
    this.#turnedAt = now;
    this.#call(now);
    // Also where nothing is sent: what is late is seen at once, and said.
    if (this.gate.armed) this.#watch(now);
    if (this.gate.armed) this.#open = true;
    else if (this.#open) {
      this.#open = false;
      this.#shutAt = now;
    }
    if (!this.#open && now - this.#shutAt > DARK_TAIL_MS) {
      if (this.#shutAt > 0) this.#end();
      return Infinity;
    }
    // What was sent up to now and is drawn later counts as sent; what was missed is not caught up.
    if (!(now - this.#until < PAUSE_MS)) this.#until = now;
    if (this.#stream.mode === 'wave')
      this.#sendWave(Math.floor(((now + AHEAD_MS - this.#until) * this.#stream.pointsPerSecond) / 1000), now);
    else while (this.#until < now + AHEAD_MS) this.#sendFrame(now);
    return TURN_MS;
  }
  /**
   * Asks the projector whether it is there. One that answered and does so no more is cut off: what it would draw once it is back was
   * not asked for by anybody.
   */
  #call(now: number): void {
    if (!this.gate.armed) {
      this.#answeredAt = NaN;
      return;
    }
    if (now - this.#answeredAt > SILENT_MS) this.gate.shut('no projector');
    if (now - this.#calledAt < CALL_EVERY_MS) return;
    this.#calledAt = now;
    const ask = Buffer.from(encodeIdnScan(this.#calls++));
    this.#socket.send(ask, this.#to.port, this.#to.host, () => undefined);
  }
  /** A frame or a driver that is late shuts it, though no point may be due. */
  #watch(now: number): void {
    this.gate.pass(NOTHING, 0, this.#moment(now, now), NOTHING);
  }
  #moment(at: number, now: number): { now: number; frameAge: number; driverAge: number; dark: boolean } {
    const m = MOMENT;
    m.now = at;
    m.frameAge = now - this.#madeAt;
    m.driverAge = now - this.#heardAt;
    m.dark = this.#dark;
    return m;
  }
  #sendWave(due: number, now: number): void {
    const { pointsPerSecond } = this.#stream;
    for (let left = due; left > 0;) {
      const n = Math.min(left, IDN_SAMPLES_MOST);
      this.#gather(n);
      this.#gatePoints(n, now);
      this.#send(
        encodeIdnSamples(
          this.#packet,
          this.#stream,
          this.#sequence++,
          Math.round(this.#until * 1000),
          this.#due,
          0,
          n,
          this.#configures(now),
        ),
      );
      this.#until += (n * 1000) / pointsPerSecond;
      left -= n;
    }
  }
  /** A whole picture, once the one before is nearly drawn; it is drawn once, so that nothing goes on by itself. */
  #sendFrame(now: number): void {
    const total = Math.max(this.#blend.count, 1);
    this.#at = 0;
    this.#gather(total);
    this.#gatePoints(total, now);
    const time = Math.round(this.#until * 1000);
    for (let from = 0; from < total; from += IDN_SAMPLES_MOST) {
      const n = Math.min(IDN_SAMPLES_MOST, total - from);
      this.#send(
        encodeIdnFrame(
          this.#packet,
          this.#stream,
          this.#sequence++,
          time,
          this.#due,
          from,
          n,
          total,
          from === 0 && this.#configures(now),
        ),
      );
    }
    this.#until += (total * 1000) / this.#stream.pointsPerSecond;
  }
  /** Of a frame without points the beam stands dark where it is. */
  #gather(n: number): void {
    const { count } = this.#blend,
      step = 1000 / this.#stream.pointsPerSecond;
    if (count === 0) {
      this.#due.fill(0, 0, n * POINT);
      return;
    }
    for (let i = 0; i < n; i++) {
      this.#blend.put(this.#at, this.#until + i * step, this.#due, POINT * i);
      if (++this.#at >= count) {
        this.#at = 0;
        this.#asked.passes++;
      }
    }
  }
  #gatePoints(n: number, now: number): void {
    this.gate.pass(this.#due, n, this.#moment(this.#until, now), this.#due);
    this.#asked.points += n;
    this.#asked.lit += this.gate.lit;
    this.#asked.hottest = Math.max(this.#asked.hottest, this.gate.hottest);
  }
  /** Whether a packet tells how the channel is configured. */
  #configures(now: number): boolean {
    const due = now - this.#configuredAt >= CONFIGURE_EVERY_MS;
    if (due) this.#configuredAt = now;
    return due;
  }
  /** What stands in the packet, as long as it is. */
  #send(bytes: number): void {
    // The socket may keep it until it is out.
    this.#socket.send(Buffer.from(this.#packet.subarray(0, bytes)), this.#to.port, this.#to.host, (e) => {
      if (e) this.#errors++;
      else this.#packets++;
    });
  }
  /** Nothing follows: the projector is dark, and shuts. */
  #end(): void {
    this.#shutAt = -Infinity;
    this.#configuredAt = -Infinity;
    this.#until = NaN;
    const bye = Buffer.from(encodeIdnClose(this.#stream, this.#sequence++, 0));
    this.#socket.send(bye, this.#to.port, this.#to.host, () => undefined);
  }

  /** Whether light may leave it: what its shutter waits for. */
  get isOpen(): boolean {
    return this.gate.armed;
  }
  get why(): DarkReason | null {
    return this.gate.why;
  }
  /** How it is, since it was last asked. */
  state(now: number): LaserState {
    const a = this.#asked,
      seconds = (now - a.at) / 1000,
      rate = (n: number): number => (seconds > 0 ? Math.round(n / seconds) : 0);
    const state: LaserState = {
      step: this.gate.armed ? 'armed' : this.#arming.isReady(now) ? 'ready' : 'dark',
      why: this.gate.why,
      lit: a.lit > 0 && this.gate.armed,
      litShare: a.points > 0 ? a.lit / a.points : 0,
      points: rate(a.points),
      pictures: rate(a.passes),
      hottest: a.hottest,
      packets: this.#packets,
      errors: this.#errors,
      armedAt: this.gate.armed ? this.#armedAt : null,
    };
    this.#asked = { at: now, points: 0, passes: 0, lit: 0, hottest: 0 };
    return state;
  }

  /** Dark, and the channel closed. */
  async close(): Promise<void> {
    this.gate.shut('let go');
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
const NOTHING = new Float32Array(0);
const MOMENT = { now: 0, frameAge: 0, driverAge: 0, dark: false };
