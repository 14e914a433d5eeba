import { FIXTURE_MODES, fixtureParameters, writeLamp } from '../../core/lights/fixtures';
import { overlayParameters } from '../../core/overlays/kinds';
import { toLinear } from '../../core/parameters/colour';
import { parameterSize } from '../../core/parameters/description';
import {
  ARRIVAL_BYTES,
  ARRIVALS_MOST,
  BRIDGE_PROTOCOL,
  DMX_FRAME_BYTES,
  DMX_HEAD,
  FRAME_ARRIVALS,
  FRAME_DMX,
  FRAME_OVERLAY,
  FRAME_RECEIVED,
  OVERLAY_HEAD,
  RECEIVED_BYTES,
  RECEIVED_HEAD,
  type FromDriver,
  type OverlayPage,
  type ToDriver,
} from '../../core/protocols/bridge';
import { restOf } from '../../core/show/things';
import type { Show } from '../../core/show/types';
import { Real, Word } from '../memory/control';
import type { EventReader } from '../memory/eventRing';
import { Faults } from '../memory/faults';
import type { FromWire, OUTLET_PARTS, ToWire, WireReport } from '../memory/messages';
import { PlanReader } from '../memory/planReader';
import { Received } from '../memory/received';

const post = (message: FromWire): void => (globalThis as unknown as Worker).postMessage(message);
/** More than this waiting in the socket: the bridge is behind, and only the latest frame is worth sending. */
const BEHIND_BYTES = 32 * 1024;
const ASK_AGAIN_MS = 1500;
const AGAIN_MS = [100, 250, 500, 1000];
/** Overlay pages draw at most this often. */
const OVERLAY_EVERY_MS = 15;

interface Universe {
  readonly wire: number;
  readonly universe: number;
  readonly bytes: Uint8Array;
  readonly lamps: Lamp[];
  readonly frame: Uint8Array<ArrayBuffer>;
  readonly view: DataView;
  sent: boolean;
}
interface Lamp {
  readonly address: number;
  readonly mode: keyof typeof FIXTURE_MODES;
  readonly dimmer: number;
  readonly colour: number;
}

/** The thread that carries values out of the browser: reads frames, makes universes and overlay numbers of them, sends what changed. */
class Wire {
  #url = '';
  #lease = '';
  #take = false;
  #armed = false;
  #socket: WebSocket | null = null;
  #tries = 0;
  readonly #plan = new PlanReader<(typeof OUTLET_PARTS)[number]>();
  readonly #faults = new Faults((fault) => post({ type: 'fault', ...fault }));
  #received: Received | null = null;
  #universes: Universe[] = [];
  #overlayAt = new Int32Array(0);
  #overlayFrame = new Uint8Array(OVERLAY_HEAD);
  #overlayNumbers = new Float32Array(0);
  #overlayVersion = 0;
  /** Place of an overlay's number by the parameter's place, for those that take events. */
  #arrivalPlace = new Map<number, number>();
  readonly #arrivalFrame = new Uint8Array(OVERLAY_HEAD + ARRIVALS_MOST * ARRIVAL_BYTES);
  readonly #arrivalView = new DataView(this.#arrivalFrame.buffer);
  #arrivalCount = 0;
  #overlaySentAt = 0;
  #overlayDoc = '';
  #wireDoc = '';
  readonly #trips = new Float64Array(64);
  #tripCount = 0;
  #report: WireReport = {
    link: 'connecting',
    why: null,
    key: null,
    address: null,
    wires: [],
    nodes: [],
    receiver: null,
    pages: {},
    packetMs: null,
    osc: null,
  };

  obey(message: ToWire): void {
    switch (message.type) {
      case 'connect':
        this.#url = message.url;
        this.#lease = message.lease;
        this.#take = message.take;
        this.#received = new Received(message.received);
        this.#connect();
        void this.#run();
        return;
      case 'conductor':
        this.#plan.listen(message.port, (changed) => {
          this.#replan();
          if (changed.show) this.#tellSetup();
        });
        return;
      case 'arm':
        this.#armed = message.armed;
        this.#wireDoc = '';
        this.#tellSetup();
        return;
      case 'take':
        this.#take = true;
        this.#hello();
        return;
      case 'uploaded':
        this.#overlayDoc = '';
        this.#tellSetup();
        return;
    }
  }

  /** Lists, once an edit, where each lamp's and overlay's numbers stand. */
  #replan(): void {
    const { map, show } = this.#plan;
    if (!map || !show) return;
    const { fixtures, wires, overlays } = show;
    const at = (thing: string, parameter: string): number => map.parameters[`${thing}/${parameter}`] ?? -1;
    const before = new Map(this.#universes.map((u) => [`${u.wire} ${u.universe}`, u.bytes]));
    this.#universes = wires.flatMap((_, wire) =>
      universesOf(fixtures, this.#universes, wire).map((universe): Universe => {
        const frame = new Uint8Array(DMX_FRAME_BYTES);
        frame[0] = FRAME_DMX;
        frame[1] = wire;
        const view = new DataView(frame.buffer);
        view.setUint16(2, universe, true);
        const bytes = new Uint8Array(frame.buffer, DMX_HEAD, 512);
        const old = before.get(`${wire} ${universe}`);
        if (old) bytes.set(old);
        const lamps = fixtures
          .filter((f) => f.universe === universe)
          .map((f) => ({
            address: f.address,
            mode: f.mode,
            dimmer: at(f.id, 'dimmer'),
            colour: at(f.id, 'colour'),
          }));
        return { wire, universe, bytes, lamps: lamps.filter((l) => l.dimmer >= 0), frame, view, sent: false };
      }),
    );
    const numbers = overlays.flatMap((o) =>
      overlayParameters().flatMap((p) =>
        Array.from({ length: parameterSize(p) }, (_, i) => {
          const a = at(o.id, p.id);
          return { at: a < 0 ? -1 : a + i, takesEvents: p.kind === 'number' && p.takesEvents === true };
        }),
      ),
    );
    this.#overlayAt = Int32Array.from(numbers, (n) => n.at);
    this.#arrivalPlace = new Map(
      numbers.flatMap((n, i) => (n.takesEvents && n.at >= 0 ? [[n.at, i] as const] : [])),
    );
    this.#overlayFrame = new Uint8Array(OVERLAY_HEAD + 4 * this.#overlayAt.length);
    this.#overlayFrame[0] = FRAME_OVERLAY;
    new DataView(this.#overlayFrame.buffer).setUint16(2, overlays.length, true);
    this.#overlayNumbers = new Float32Array(
      this.#overlayFrame.buffer,
      OVERLAY_HEAD,
      this.#overlayAt.length,
    ).fill(NaN);
  }

  #connect(): void {
    const socket = new WebSocket(`${this.#url}?role=driver`);
    socket.binaryType = 'arraybuffer';
    this.#socket = socket;
    socket.onopen = () => {
      this.#tries = 0;
      this.#hello();
    };
    socket.onmessage = (e: MessageEvent<string | ArrayBuffer>) => {
      if (typeof e.data === 'string') this.#hear(JSON.parse(e.data) as ToDriver);
      else this.#hearPacket(new Uint8Array(e.data));
    };
    socket.onclose = () => {
      if (socket !== this.#socket) return;
      this.#socket = null;
      if (this.#report.link === 'busy') return; // another window drives: it is asked again by and by
      this.#say({
        link: 'lost',
        why: 'The bridge does not answer. Lamps and overlay pages hold; it is tried again.',
        packetMs: null,
      });
      setTimeout(() => this.#connect(), AGAIN_MS[Math.min(this.#tries++, AGAIN_MS.length - 1)]);
    };
  }

  #tell(message: FromDriver): void {
    if (this.#socket?.readyState === WebSocket.OPEN) this.#socket.send(JSON.stringify(message));
  }
  #hello(): void {
    if (!this.#socket) {
      this.#report = { ...this.#report, link: 'connecting' };
      this.#connect();
      return;
    }
    this.#tell({ type: 'hello', protocol: BRIDGE_PROTOCOL, lease: this.#lease, take: this.#take });
    this.#take = false;
  }

  #hear(message: ToDriver): void {
    switch (message.type) {
      case 'welcome':
        this.#say({ link: 'driving', why: null, key: message.key, address: message.address });
        this.#wireDoc = this.#overlayDoc = '';
        // What happened while nobody listened is over.
        this.#plan.forgetArrivals();
        for (const u of this.#universes) u.sent = false;
        this.#tellSetup();
        return;
      case 'busy':
        // The other window may be gone for good: its lease runs out, and this one asks again.
        setTimeout(() => {
          if (this.#report.link === 'busy') this.#hello();
        }, ASK_AGAIN_MS);
        this.#say({
          link: 'busy',
          why: 'Another window drives the lamps and overlays. Take over here, or close it there.',
        });
        return;
      case 'refused':
        this.#say({ link: this.#report.link === 'driving' ? 'driving' : 'refused', why: message.why });
        return;
      case 'need':
        post({ type: 'need', media: message.media });
        return;
      case 'state':
        this.#say({
          wires: message.wires,
          nodes: message.nodes,
          receiver: message.receiver,
          pages: message.pages,
          packetMs: this.#trip(),
          osc: message.osc,
        });
        return;
      case 'osc':
        post(message);
        return;
    }
  }

  #say(change: Partial<WireReport>): void {
    this.#report = { ...this.#report, ...change };
    post({ type: 'report', report: this.#report });
  }

  #hearPacket(bytes: Uint8Array): void {
    if (bytes[0] !== FRAME_RECEIVED || bytes.length !== RECEIVED_BYTES) return;
    const view = new DataView(bytes.buffer, bytes.byteOffset);
    this.#received?.write(
      view.getUint16(2, true),
      view.getUint32(4, true) & 0x7fffffff,
      bytes.subarray(RECEIVED_HEAD),
    );
    const sentAt = view.getFloat64(8, true);
    if (sentAt > 0) this.#trips[this.#tripCount++ % this.#trips.length] = performance.now() - sentAt;
  }
  #trip(): number | null {
    const n = Math.min(this.#tripCount, this.#trips.length);
    return n ? [...this.#trips.subarray(0, n)].sort((a, b) => a - b)[n >> 1]! : null;
  }

  /** Tells the bridge what to send where, when that changed. */
  #tellSetup(): void {
    const { show } = this.#plan;
    if (!show || this.#report.link !== 'driving') return;
    const wires = show.wires.map(({ id, target, rate, keepAlive }) => ({
      id,
      target,
      rate,
      keepAlive,
    }));
    const wireDoc = JSON.stringify([wires, this.#armed]);
    if (wireDoc !== this.#wireDoc) {
      this.#wireDoc = wireDoc;
      if (this.#report.why !== null) this.#say({ why: null }); // a refusal spoke of what stood there before
      this.#tell({ type: 'wires', wires, armed: this.#armed });
      for (const u of this.#universes) u.sent = false;
    }
    const overlays: OverlayPage[] = show.overlays.map((o) => ({
      id: o.id,
      name: o.name,
      kind: o.kind,
      badge: o.badge,
      parameters: overlayParameters().map((p) => {
        const rest = restOf(o, p);
        const out = [0, 0, 0];
        if (typeof rest === 'string') toLinear(rest, out);
        else out[0] = rest;
        return { id: p.id, rest: out.slice(0, parameterSize(p)) };
      }),
    }));
    const overlayDoc = JSON.stringify(overlays);
    if (overlayDoc !== this.#overlayDoc) {
      this.#overlayDoc = overlayDoc;
      // Frames name the version they belong to; a page never reads numbers by the wrong table.
      this.#overlayVersion = (this.#overlayVersion + 1 + Math.floor(performance.now())) >>> 0;
      this.#tell({ type: 'overlays', version: this.#overlayVersion, overlays });
      this.#overlayNumbers.fill(NaN);
    }
  }

  async #run(): Promise<void> {
    for (;;) {
      const { control } = this.#plan;
      if (!control) {
        await new Promise((done) => setTimeout(done, 10));
        continue;
      }
      const seen = control.get(Word.Ticks);
      control.reals[Real.OutletBeat] = performance.now();
      try {
        this.#send();
      } catch (error) {
        this.#faults.take(error);
      }
      const wait = Atomics.waitAsync(control.words, Word.Ticks, seen, 20);
      if (wait.async) await wait.value;
    }
  }

  #send(): void {
    const socket = this.#socket,
      { frames: reader, arrivals } = this.#plan;
    if (!socket || !reader || this.#report.link !== 'driving' || socket.readyState !== WebSocket.OPEN) return;
    reader.read();
    if (reader.tick < 0 || socket.bufferedAmount > BEHIND_BYTES) return;
    const values = reader.parameters;
    const now = performance.now();
    for (let i = 0; i < this.#universes.length; i++) {
      const u = this.#universes[i]!;
      const changed = fillUniverse(u, values);
      if (!changed && u.sent) continue;
      u.view.setFloat64(4, now, true);
      socket.send(u.frame);
      u.sent = true;
    }
    this.#sendArrivals(socket, arrivals);
    if (now - this.#overlaySentAt < OVERLAY_EVERY_MS) return;
    const dark = reader.darkness > 0 ? 1 : 0;
    let moved = this.#overlayFrame[1] !== dark;
    this.#overlayFrame[1] = dark;
    const numbers = this.#overlayNumbers;
    for (let i = 0; i < numbers.length; i++) {
      const at = this.#overlayAt[i]!;
      const x = Math.fround(at < 0 ? 0 : values[at]!);
      if (numbers[i] !== x) {
        numbers[i] = x;
        moved = true;
      }
    }
    if (!moved) return;
    const view = new DataView(this.#overlayFrame.buffer);
    view.setUint32(4, this.#overlayVersion, true);
    view.setFloat64(8, reader.time, true);
    socket.send(this.#overlayFrame);
    this.#overlaySentAt = now;
  }

  /** Events as they came, however few frames go out. */
  #sendArrivals(socket: WebSocket, arrivals: EventReader | null): void {
    this.#arrivalCount = 0;
    arrivals?.drain(this.#takeArrival);
    if (this.#arrivalCount === 0) return;
    this.#arrivalFrame[0] = FRAME_ARRIVALS;
    this.#arrivalView.setUint16(2, this.#arrivalCount, true);
    this.#arrivalView.setUint32(4, this.#overlayVersion, true);
    socket.send(this.#arrivalFrame.subarray(0, OVERLAY_HEAD + this.#arrivalCount * ARRIVAL_BYTES));
  }
  readonly #takeArrival = (slot: number, time: number, value: number): void => {
    const place = this.#arrivalPlace.get(slot);
    if (place === undefined || this.#arrivalCount >= ARRIVALS_MOST) return;
    const at = OVERLAY_HEAD + this.#arrivalCount++ * ARRIVAL_BYTES;
    this.#arrivalView.setFloat64(at, time, true);
    this.#arrivalView.setUint32(at + 8, place, true);
    this.#arrivalView.setFloat32(at + 12, value, true);
  };
}

/** Universes with lamps, and those that had some: they are sent once more, dark. */
function universesOf(fixtures: Show['fixtures'], old: readonly Universe[], wire: number): number[] {
  return [
    ...new Set([
      ...fixtures.map((f) => f.universe),
      ...old.filter((u) => u.wire === wire).map((u) => u.universe),
    ]),
  ];
}

const before = new Uint8Array(512);
function fillUniverse(u: Universe, values: Float32Array): boolean {
  before.set(u.bytes);
  u.bytes.fill(0);
  for (let k = 0; k < u.lamps.length; k++) {
    const lamp = u.lamps[k]!;
    writeLamp(
      u.bytes,
      lamp.address,
      lamp.mode,
      values[lamp.dimmer]! / 100,
      values[lamp.colour]!,
      values[lamp.colour + 1]!,
      values[lamp.colour + 2]!,
    );
  }
  for (let i = 0; i < 512; i++) if (before[i] !== u.bytes[i]) return true;
  return false;
}

const wire = new Wire();
self.onmessage = (e: MessageEvent<ToWire>) => wire.obey(e.data);
// The lamp's parameters are read by name above; this fails at once should the description ever lose one.
for (const name of ['dimmer', 'colour'])
  if (!fixtureParameters().some((p) => p.id === name)) throw new Error(`A lamp has no ${name}.`);
