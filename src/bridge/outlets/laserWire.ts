import { type LaserAct, type LaserSetting, onlyWhere } from '../../core/laser';
import type { LaserState } from '../../core/protocols';
import { HostNames, isLoopback } from './hostNames';
import { LaserReader, STEADY } from './laserMemory';
import { type LaserEnd, LaserOut } from './laserOut';

/** What a laser's setting becomes in the sending thread: where its points go, whether they may, and its shutter on a universe. */
export class LaserWire {
  readonly #reader: LaserReader;
  readonly #projector: LaserEnd;
  readonly #names: HostNames;
  #setting: LaserSetting | null = null;
  #out: LaserOut | null = null;
  #end: LaserEnd | null = null;
  #mayLeave = false;
  #trouble: string | null = null;

  /** @param projector - where the one listens that ships with us @param wake - asks for a turn */
  constructor(memory: SharedArrayBuffer, projector: LaserEnd, wake: () => void) {
    this.#reader = new LaserReader(memory);
    this.#projector = projector;
    this.#names = new HostNames(() => {
      this.#place(performance.now());
      wake();
    });
  }

  /** Whatever else changes than where it may shine disarms it: it is another laser then. */
  set(setting: LaserSetting, now: number): void {
    const old = this.#setting;
    this.#setting = setting;
    // At the one that ships with us it can be seen, while it is lit, what a keep-out cuts.
    if (this.#out && old?.to.kind === 'simulated' && onlyWhere(old, setting)) {
      this.#out.setWhere(setting);
      return;
    }
    this.#renew(null);
    this.#place(now);
  }
  /** Whether packets may leave this computer. */
  mayLeave(may: boolean, now: number): void {
    if (may === this.#mayLeave) return;
    this.#mayLeave = may;
    this.#place(now);
  }
  #place(now: number): void {
    const { to } = this.#setting ?? {};
    if (!to) return;
    if (to.kind === 'simulated') {
      this.#trouble = null;
      this.#renew(this.#projector);
      return;
    }
    const { address, trouble } = this.#names.find(to.host, now);
    this.#trouble =
      trouble ??
      (address !== null && (isLoopback(address) || this.#mayLeave)
        ? null
        : 'This projector is beyond this computer. Arm the outputs to send to it.');
    this.#renew(this.#trouble === null && address !== null ? { host: address, port: to.port } : null);
  }
  #renew(end: LaserEnd | null): void {
    if (this.#out && end && this.#end?.host === end.host && this.#end.port === end.port) return;
    void this.#out?.close();
    this.#end = end;
    this.#out = end && this.#setting ? new LaserOut(end, this.#setting) : null;
  }

  act(act: LaserAct, now: number): void {
    // What came meanwhile is news first: nothing is armed by what is old.
    this.#read(now);
    this.#out?.act(act, now);
  }
  leave(): void {
    this.#out?.leave();
  }
  #read(now: number): void {
    const r = this.#reader;
    if (!r.read()) return;
    this.#out?.take(r.points, r.count, r.madeAt - STEADY, r.marks, now);
  }
  /** @returns in how many ms it is to be turned again at the latest */
  turn(now: number): number {
    this.#read(now);
    return this.#out?.turn(now) ?? Infinity;
  }
  /** Its shutter, where that is a channel: full while light may leave it. */
  shutter(universe: number, channels: Uint8Array): void {
    const { shutter } = this.#setting ?? {};
    if (shutter?.universe === universe) channels[shutter.address - 1] = this.#out?.isOpen ? 255 : 0;
  }
  state(now: number): { state: LaserState | null; trouble: string | null; address: string } {
    return {
      state: this.#out?.state(now) ?? null,
      trouble: this.#trouble,
      address: this.#end ? `${this.#end.host}:${this.#end.port}` : '',
    };
  }
  async close(): Promise<void> {
    await this.#out?.close();
    this.#out = null;
  }
}
