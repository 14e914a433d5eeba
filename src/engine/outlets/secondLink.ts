import type { Standing, ToSecond } from '../../core/protocols';
import { Standby, type StandbyState } from '../../core/standby';

const LOOK_EVERY_MS = 100,
  AGAIN_MS = 500;

/** How standing by goes, for the interface. */
export interface StandbyReport {
  readonly state: StandbyState;
  /** Whether the first is heard. */
  readonly heard: boolean;
  readonly armed: boolean;
}
/** That it drove in the first's place, and whether packets left it. */
export interface StandbyDrove {
  readonly armed: boolean;
}
export interface SecondHooks {
  /** Packets may leave this computer from now on, or may not. */
  arm(armed: boolean): void;
  standing(standing: Standing): void;
  report(report: StandbyReport): void;
}

/** Listens to the first computer, and follows it or drives in its place. Outlet worker: a window in the background would be late. */
export class SecondLink {
  readonly #standby: Standby;
  readonly #timer: ReturnType<typeof setInterval>;
  #socket: WebSocket | null = null;
  #heard = false;
  #closed = false;
  #told = '';

  /** @param url - of the first’s bridge, with its key @param drove - it drove in the first's place before; null: it did not */
  constructor(
    readonly url: string,
    drove: StandbyDrove | null,
    readonly hooks: SecondHooks,
  ) {
    this.#standby = new Standby(drove, performance.now());
    this.#connect();
    this.#timer = setInterval(() => this.#look(), LOOK_EVERY_MS);
    // While it stands by nothing leaves this computer, whatever was before.
    this.#say();
  }
  /** Whether this window may let packets out by hand: not while the first drives, nor before it was ever heard. */
  get mayArm(): boolean {
    return this.#standby.state === 'drives';
  }
  close(): void {
    this.#closed = true;
    clearInterval(this.#timer);
    this.#socket?.close();
  }

  #connect(): void {
    if (this.#closed) return;
    let socket: WebSocket;
    try {
      socket = new WebSocket(this.url);
    } catch {
      // An address that is none: it is said by nothing being heard.
      return;
    }
    this.#socket = socket;
    socket.onmessage = (e: MessageEvent<string>) => {
      if (!this.#closed) this.#hear(JSON.parse(e.data) as ToSecond);
    };
    // Its close follows, and is enough.
    socket.onerror = () => undefined;
    socket.onclose = () => {
      if (this.#closed) return;
      this.#heard = false;
      this.#say();
      setTimeout(() => this.#connect(), AGAIN_MS);
    };
  }
  #hear(message: ToSecond): void {
    this.#heard = true;
    if (message.type === 'standing') {
      // Whoever drives does not follow.
      if (this.#standby.state !== 'drives') this.hooks.standing(message);
      return;
    }
    this.#standby.heard(message, performance.now());
    this.#say();
  }
  #look(): void {
    if (this.#standby.step(performance.now())) this.#say();
  }
  #say(): void {
    const { state, armed } = this.#standby,
      told = `${state} ${armed} ${this.#heard}`;
    if (told === this.#told) return;
    this.#told = told;
    this.hooks.arm(armed);
    this.hooks.report({ state, heard: this.#heard, armed });
  }
}
