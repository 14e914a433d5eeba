import { blinkCode, carries, Pace, STREAMS_MOST } from '../../core/outlets';
import { clashesOf, kindOf, placesIn, shownUniverse } from '../../core/lights';
import type { PlanMap } from '../../core/plan';
import {
  type NamedSignal,
  SIGNALS_PAGE,
  EVENT_BYTES,
  EVENTS_HEAD,
  EVENTS_MOST,
  FRAME_BEAT,
  FRAME_EVENTS,
  FRAME_HEAD,
  FRAME_LASER,
  laserMarks,
  LASER_POINT_BYTES,
  FRAME_PACKET,
  FRAME_VALUE,
  FRAME_VALUES,
  type FromDriver,
  type PhoneAct,
  type PhoneNight,
  type PageDocument,
  PICTURE_PAGE,
  VALUES_HEAD,
  writeHead,
} from '../../core/protocols';
import { POINT, POINTS_MOST } from '../../core/laser';
import { Real, Word } from '../memory/control';
import { Faults } from '../memory/faults';
import type { FromNetwork, FromOutlets, OUTLET_PARTS, PICTURE_PARTS, ToOutlets } from '../memory/messages';
import type { FrameReader } from '../memory/frames';
import { LaserViewWriter } from '../memory/laserView';
import { PlanReader } from '../memory/planReader';
import { SecondLink, type StandbyDrove } from './secondLink';
import { SheetReader } from '../memory/sheet';
import { DeskChannels } from './deskChannels';
import { Link } from './link';
import { LaserStream } from './laserStream';
import { LampStream, type LampPlaces, type LampRules } from './lampStream';
import {
  hasPicture,
  outletThings,
  overlayPages,
  signalsPage,
  pageIds,
  picturePage,
  type OutletShow,
  type Page,
} from './pages';
import { PageEvents, PageStream } from './pageStream';
import { SignalStream } from './signalStream';
import { MessageStream } from './messageStream';
import { MidiStream } from './midiStream';
import type { Stream } from './stream';

const post = (message: FromOutlets): void => (globalThis as unknown as Worker).postMessage(message);
/** While something is dragged, the bridge is told anew no more often than this. */
const DECLARE_EVERY_MS = 250;
const BEAT_EVERY_MS = 200;
const WARN_EVERY_MS = 500;
/** The picture is drawn for lamps so much longer than they take it: a signal that rests now and then asks for it again. */
const SHEET_KEPT_MS = 10000;
/** Frames of the laser a second at most: many more than an eye needs, so that one that is late is made up for by the next. */
const LASER_RATE = 100;
/** A conductor that has not turned for so long moves nothing: whoever waits for our beat is not told otherwise. */
const CONDUCTOR_GONE_MS = 600;

interface Paced {
  readonly stream: Stream;
  readonly pace: Pace;
  readonly place: number;
  readonly frame: Uint8Array<ArrayBuffer>;
  readonly view: DataView;
}
/** A message at work, and the frame that carries its packets. */
interface Said {
  readonly stream: MessageStream;
  readonly place: number;
  readonly frame: Uint8Array<ArrayBuffer>;
  readonly view: DataView;
}
type Mutable<T> = { -readonly [K in keyof T]: T[K] };
/** A page as the bridge knows it. */
interface Declared {
  readonly text: string;
  readonly document: PageDocument;
}

/** The thread that carries values out of the browser: reads frames, makes streams of them, sends each at its own pace. */
class OutletWorker {
  readonly #plan = new PlanReader<(typeof OUTLET_PARTS | typeof PICTURE_PARTS)[number]>();
  readonly #faults = new Faults((fault) => post({ type: 'fault', ...fault }));
  readonly #link: Link;
  #network: MessagePort | null = null;
  #armed = false;
  #second: SecondLink | null = null;
  /** The show as the bridge knows it. */
  #declared: OutletShow | null = null;
  #document = '';
  #version = 0;
  #declaredAt = -Infinity;
  #timer: ReturnType<typeof setTimeout> | null = null;
  #streams: Paced[] = [];
  #events: { readonly events: PageEvents; readonly place: number }[] = [];
  #messages: Said[] = [];
  #midi: MidiStream[] = [];
  #pages = new Map<string, Declared>();
  #pageVersion = Math.floor(performance.timeOrigin) >>> 0;
  /** The pages that the bridge was told of. */
  #said = '';
  /** Whether anybody elsewhere looks at the picture: it is long, and sent only then. */
  /** Those that other programs read. */
  #signals: readonly NamedSignal[] = [];
  #pictureWatched = false;
  readonly #eventFrame = new Uint8Array(FRAME_HEAD + EVENTS_HEAD + EVENTS_MOST * EVENT_BYTES);
  readonly #eventView = new DataView(this.#eventFrame.buffer);
  readonly #laser = new LaserStream();
  #laserView: LaserViewWriter | null = null;
  #laserAsked = false;
  #laserTick = -1;
  #laserShown = false;
  readonly #laserPace = new Pace(LASER_RATE, null);
  readonly #laserFrame = new Uint8Array(FRAME_HEAD + LASER_POINT_BYTES * POINTS_MOST);
  readonly #laserHead = new DataView(this.#laserFrame.buffer);
  readonly #laserPoints = new Float32Array(this.#laserFrame.buffer, FRAME_HEAD);
  readonly #desks = new DeskChannels();
  readonly #rules: Mutable<LampRules> = {
    quick: false,
    identified: null,
    sheet: null,
    desk: (universe) => this.#desks.of(universe),
  };
  #soughtByPhone = false;
  /** The night as phones show it: whoever is at the other end anew is told. */
  #night: PhoneNight | null = null;
  #sheetWanted = false;
  /** When a lamp last took its colour from the picture. */
  #sheetAt = -Infinity;
  #lamps: readonly LampStream[] = [];
  #flashing = '';
  #flashedAt = 0;
  readonly #beat = Uint8Array.of(FRAME_BEAT);
  #beatAt = -Infinity;
  #running = false;
  /** The stream that is made first in a turn. */
  #first = 0;
  /** Values to wires that go out in this turn. */
  #values = new Uint8Array(FRAME_HEAD);
  #valuesView = new DataView(this.#values.buffer);
  #gathered = FRAME_HEAD;
  #gatheredCount = 0;

  constructor() {
    this.#link = new Link({
      tell: post,
      // Straight to the conductor: a window that stands still keeps no fader waiting. It is told too, to learn from.
      osc: (messages) => {
        const at = performance.timeOrigin + performance.now();
        this.#network?.postMessage({ messages, at } satisfies FromNetwork);
        post({ type: 'osc', messages });
      },
      // Whoever is at the other end now knows nothing of this show, and what happened meanwhile is over.
      desk: (frame) => this.#desks.take(frame),
      phone: (act, phone) => this.#hearPhone(act, phone),
      laser: ({ setting, state }) => {
        this.#laserAsked = state !== null && state.step !== 'dark';
        this.#laser.suit(setting);
      },
      seen: (frame) => this.#laserView?.see(frame),
      // A desk that is not heard through the bridge drives nothing.
      lost: () => this.#desks.forget(),
      driving: () => {
        this.#desks.forget();
        this.#document = '';
        this.#pages.clear();
        this.#said = '';
        this.#plan.forgetArrivals();
        this.#declare();
        this.#seek(this.#rules.identified);
        if (this.#night) this.#link.send({ type: 'night', night: this.#night });
      },
      watched: (pages, signals) => {
        const watched = (pages[PICTURE_PAGE] ?? 0) > 0;
        if (watched === this.#pictureWatched && JSON.stringify(signals) === JSON.stringify(this.#signals))
          return;
        this.#pictureWatched = watched;
        this.#signals = signals;
        this.#declare();
      },
    });
  }

  obey(message: ToOutlets): void {
    switch (message.type) {
      case 'connect':
        this.#rules.sheet = new SheetReader(message.sheet);
        this.#laserView = new LaserViewWriter(message.laser);
        this.#link.open(message);
        if (!this.#running) void this.#loop();
        this.#running = true;
        return;
      case 'conductor':
        this.#plan.listen(message.port, (changed) => {
          if (changed.show || (changed.map && this.#pictureWatched)) this.#declareSoon();
          this.#followLaser();
          if (changed.map) for (const { stream } of this.#streams) stream.place(this.#plan.map!);
          if (changed.map) for (const { events } of this.#events) events.place(this.#plan.map!);
          if (changed.map) for (const { stream } of this.#messages) stream.place(this.#plan.map!);
          if (changed.map) for (const stream of this.#midi) stream.place(this.#plan.map!);
        });
        return;
      case 'network':
        this.#network = message.port;
        return;
      case 'arm':
        // Two that send would fight: whoever stands by is armed by that alone.
        this.#armed = message.armed && (this.#second?.mayArm ?? true);
        if (this.#armed !== message.armed) post({ type: 'armed', armed: this.#armed });
        this.#declare();
        return;
      case 'second':
        this.#second?.close();
        this.#second = message.url === null ? null : this.#standBy(message.url, message.drove);
        if (!this.#second) this.#link.say({ standby: null });
        return;
      case 'standing':
        this.#link.send(message.standing);
        return;
      case 'quick':
        this.#rules.quick = message.allowed;
        return;
      case 'identify':
        this.#seek(message.lamp);
        return;
      case 'night':
        this.#night = message.night;
        this.#link.send(message);
        return;
      case 'broker':
        this.#link.send(message);
        return;
      case 'laser':
        this.#link.send(message.ask);
        return;
      case 'take':
        this.#link.take();
        return;
    }
  }

  #standBy(url: string, drove: StandbyDrove | null): SecondLink {
    return new SecondLink(url, drove, {
      arm: (armed) => {
        this.#armed = armed;
        this.#declare();
        post({ type: 'armed', armed });
      },
      standing: (standing) => post({ type: 'standing', standing }),
      report: (standby) => this.#link.say({ standby }),
    });
  }

  #followLaser(): void {
    const { show, map } = this.#plan;
    if (!show?.laserFigures || !show.figures || !map) return;
    this.#laser.set(show.laserFigures, show.figures);
    this.#laser.place(map);
  }
  /** The laser first: what it draws may be late by least. It is made, and shown in this window, though no bridge is there. */
  #sendLaser(frames: FrameReader, now: number, age: number): void {
    const asked = !this.#laser.isEmpty || this.#laserAsked;
    if ((!asked && !this.#laserShown) || frames.tick === this.#laserTick) return;
    // Once more with nothing in it.
    this.#laserShown = asked;
    if (!this.#laserPace.open(now)) return;
    this.#laserPace.sent(now);
    this.#laserTick = frames.tick;
    const count = this.#laser.fill(frames),
      { maker } = this.#laser;
    this.#laserView?.want(maker.points, count, maker.cost, maker.litWay, maker.darkWay);
    const link = this.#link;
    // What would only wait is not sent: the laser goes dark rather than late.
    if (!link.ready || link.behind) return;
    const marks = laserMarks(frames.darkness, this.#plan.control?.get(Word.Playing) === 1);
    writeHead(this.#laserHead, FRAME_LASER, marks, 0, now - age);
    this.#laserPoints.set(maker.points.subarray(0, count * POINT));
    link.put(this.#laserFrame.subarray(0, FRAME_HEAD + LASER_POINT_BYTES * count));
  }

  /** Phones go from lamp to lamp in the order of the patch, round and round. */
  #hearPhone(act: PhoneAct, phone: number): void {
    if (act.type === 'act') {
      const at = performance.timeOrigin + performance.now();
      this.#network?.postMessage({ messages: [], acts: [act.act], phone, at } satisfies FromNetwork);
      return;
    }
    const lamps = this.#plan.show?.fixtures ?? [];
    if (act.type !== 'step' || lamps.length === 0) {
      // What the window looks for does not go with the phones.
      if (act.type !== 'gone' || this.#soughtByPhone) this.#seek(null);
      return;
    }
    const at = lamps.findIndex((l) => l.id === this.#rules.identified),
      next = at < 0 ? (act.by > 0 ? 0 : lamps.length - 1) : (at + act.by + lamps.length) % lamps.length;
    this.#seek(lamps[next]!.id);
    this.#soughtByPhone = true;
  }
  /** Lights one lamp, and says which to the window and to the phones. */
  #seek(id: string | null): void {
    const { fixtures = [], kinds = [] } = this.#plan.show ?? {},
      at = fixtures.findIndex((f) => f.id === id),
      lamp = fixtures[at];
    this.#soughtByPhone = false;
    this.#rules.identified = lamp?.id ?? null;
    this.#link.say({ sought: lamp?.id ?? null });
    this.#link.send({
      type: 'sought',
      lamp: lamp
        ? {
            id: lamp.id,
            name: lamp.name.slice(0, 200),
            words:
              `${kindOf(lamp, kinds).label}, universe ${shownUniverse(lamp.universe)}, address ${lamp.address}`.slice(
                0,
                200,
              ),
            place: at + 1,
            count: fixtures.length,
          }
        : null,
    });
  }
  #declareSoon(): void {
    const wait = this.#declaredAt + DECLARE_EVERY_MS - performance.now();
    if (wait <= 0) this.#declare();
    else this.#timer ??= setTimeout(() => this.#declare(), wait);
  }
  /** Tells the bridge what goes out from now on, when that changed, and makes the streams anew. */
  #declare(): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    const { show, map } = this.#plan;
    if (!show || !map || !this.#link.driving) return;
    this.#declaredAt = performance.now();
    const was = this.#declared,
      patched =
        was?.fixtures !== show.fixtures ||
        was.kinds !== show.kinds ||
        was.wires !== show.wires ||
        was.room !== show.room ||
        was.merges !== show.merges;
    this.#declared = show;
    this.#speak(show, map);
    const streams = lampStreams(show, this.#rules),
      pages = this.#declarePages(show, map),
      numbers = pages.map((p) =>
        p.document.id === SIGNALS_PAGE
          ? new SignalStream(p.document)
          : new PageStream(p.document, p.page.moves, p.page.blinks),
      ),
      events = pages.flatMap(({ document, page }) =>
        page.events ? [new PageEvents(document, page.events)] : [],
      );
    // Lamps before pages: what is short goes first.
    const messages = show.messages.flatMap((m) =>
        m.form.kind === 'osc' ? [new MessageStream(m, m.form)] : [],
      ),
      rest = numbers.length + events.length + messages.length;
    const all: Stream[] = [...streams.slice(0, STREAMS_MOST - rest), ...numbers];
    const declarations = [...all, ...events, ...messages].map((s) => s.declaration);
    const message: Omit<Extract<FromDriver, { type: 'outlets' }>, 'version'> = {
      type: 'outlets',
      armed: this.#armed,
      wires: show.wires.map(({ id, protocol, target, priority, sync }) => ({
        id,
        protocol,
        target,
        priority,
        sync,
      })),
      streams: declarations,
    };
    const document = JSON.stringify([message, pages.map((p) => p.document.version), show.messages]);
    if (document === this.#document) {
      if (patched) this.#repatch(streams, map);
      return;
    }
    this.#document = document;
    // Frames name the version they belong to; nobody reads numbers by the wrong list.
    this.#version = (this.#version + 1 + Math.floor(performance.now())) >>> 0;
    const paces = new Map(this.#streams.map((p) => [p.stream.declaration.id, p.pace]));
    this.#streams = all.map((stream, place): Paced => {
      const { id, mostPerSecond, size } = stream.declaration,
        pace = paces.get(id) ?? new Pace(mostPerSecond, null);
      pace.set(mostPerSecond, null);
      pace.change();
      stream.place(map);
      this.#goOn(stream);
      const frame = new Uint8Array(FRAME_HEAD + size);
      return { stream, pace, place, frame, view: new DataView(frame.buffer) };
    });
    this.#first = 0;
    this.#values = new Uint8Array(all.reduce((n, s) => n + VALUES_HEAD + s.declaration.size, FRAME_HEAD));
    this.#valuesView = new DataView(this.#values.buffer);
    this.#gathered = FRAME_HEAD;
    this.#gatheredCount = 0;
    this.#link.holds(all.reduce((n, s) => n + FRAME_HEAD + s.declaration.size, this.#laserFrame.length / 2));
    this.#events = events.map((e, i) => {
      e.place(map);
      return { events: e, place: all.length + i };
    });
    this.#messages = messages.map((stream, i) => {
      stream.place(map);
      const frame = new Uint8Array(FRAME_HEAD + stream.packet.length);
      return { stream, place: all.length + events.length + i, frame, view: new DataView(frame.buffer) };
    });
    this.#lamps = streams;
    this.#link.say({ why: null }); // a refusal spoke of what stood there before
    this.#link.send({ ...message, version: this.#version });
    const left = streams.length + rest - declarations.length;
    if (left > 0)
      this.#link.say({
        why: `This show has ${left} universes more than can be sent (${STREAMS_MOST} streams). Patch its lamps closer together.`,
      });
  }

  /** Lamps of another kind, at another address: the same universes carry something else, of which the bridge need not know. */
  #repatch(lamps: readonly LampStream[], map: PlanMap): void {
    const fresh = new Map(lamps.map((s) => [s.declaration.id, s]));
    this.#streams = this.#streams.map((p): Paced => {
      const stream = fresh.get(p.stream.declaration.id);
      if (!stream) return p;
      stream.place(map);
      this.#goOn(stream);
      // All dark is news too.
      p.pace.change();
      return { ...p, stream };
    });
    this.#lamps = lamps;
  }
  /** Heads are where the stream before left them. */
  #goOn(stream: Stream): void {
    if (!(stream instanceof LampStream)) return;
    const was = this.#lamps.find((l) => l.declaration.id === stream.declaration.id);
    if (was && was !== stream) stream.follow(was);
  }
  /** Says which lamps flash as often as can hurt, when they are other ones. */
  #warn(now: number): void {
    if (now - this.#flashedAt < WARN_EVERY_MS) return;
    this.#flashedAt = now;
    if (this.#lamps.some((l) => l.picture > 0)) this.#sheetAt = now;
    const wanted = now - this.#sheetAt < SHEET_KEPT_MS;
    if (wanted !== this.#sheetWanted) post({ type: 'sheet', wanted });
    this.#sheetWanted = wanted;
    const flashing = [...new Set(this.#lamps.flatMap((l) => l.flashing()))],
      text = flashing.join();
    if (text === this.#flashing) return;
    this.#flashing = text;
    this.#link.say({ flashing });
  }

  /** Tells the bridge which pages there are, with what is new of them. @returns those that are sent now */
  #declarePages(show: OutletShow, map: PlanMap): { readonly page: Page; readonly document: PageDocument }[] {
    const things = outletThings(show),
      pages = overlayPages(show, things, map);
    if (this.#pictureWatched && hasPicture(show)) pages.push(picturePage(show, things, map));
    const signals = this.#signals.filter(({ id }) => map.signals[id] !== undefined);
    if (signals.length > 0) pages.push(signalsPage(signals));
    const news: PageDocument[] = [],
      known = new Map<string, Declared>();
    const all = pages.map((page) => {
      const text = JSON.stringify(page.document),
        old = this.#pages.get(page.document.id);
      const declared: Declared =
        old?.text === text
          ? old
          : {
              text,
              document: { ...page.document, version: (this.#pageVersion = (this.#pageVersion + 1) >>> 0) },
            };
      if (declared !== old) news.push(declared.document);
      known.set(page.document.id, declared);
      return { page, document: declared.document };
    });
    const ids = [...pageIds(show), ...(signals.length > 0 ? [SIGNALS_PAGE] : [])],
      said = ids.join();
    if (news.length > 0 || said !== this.#said) this.#link.send({ type: 'pages', all: ids, documents: news });
    this.#said = said;
    this.#pages = known;
    return all;
  }

  async #loop(): Promise<void> {
    for (;;) {
      const { control } = this.#plan;
      if (!control) {
        await new Promise((done) => setTimeout(done, 10));
        continue;
      }
      const seen = control.get(Word.Ticks);
      const now = performance.now();
      control.reals[Real.OutletBeat] = now;
      try {
        this.#turn(now, performance.timeOrigin + now - control.reals[Real.Heartbeat]!);
      } catch (error) {
        this.#faults.take(error);
      }
      const wait = Atomics.waitAsync(control.words, Word.Ticks, seen, 20);
      if (wait.async) await wait.value;
    }
  }

  /** @param age - ms since the conductor turned */
  #turn(now: number, age: number): void {
    const { frames, arrivals } = this.#plan,
      link = this.#link;
    if (!frames) return;
    frames.read();
    if (frames.tick >= 0) this.#sendLaser(frames, now, Math.max(0, age));
    if (!this.#declared || !link.ready) return;
    if (age < CONDUCTOR_GONE_MS && now - this.#beatAt >= BEAT_EVERY_MS) {
      this.#beatAt = now;
      link.put(this.#beat);
    }
    this.#warn(now);
    arrivals?.drain(this.#takeEvent);
    this.#sendEvents(now);
    if (frames.tick < 0) return;
    this.#sendMessages(frames, now);
    this.#rules.sheet?.read();
    const n = this.#streams.length;
    for (let k = 0; k < n; k++) {
      const i = (this.#first + k) % n,
        { stream, pace, place, frame, view } = this.#streams[i]!;
      if (link.behind) {
        // Those that were left out are the first of the next turn.
        this.#first = i;
        this.#sendGathered(now);
        return;
      }
      // What may not go out yet is not made.
      if (!stream.everyFrame && !pace.open(now)) continue;
      if (stream.fill(frames)) pace.change();
      if (pace.wait(now) > 0) continue;
      if (stream.declaration.to.kind === 'wire') this.#gather(stream, place);
      else {
        writeHead(view, FRAME_VALUE, place, this.#version, now);
        frame.set(stream.value, FRAME_HEAD);
        link.put(frame);
      }
      pace.sent(now);
    }
    this.#sendGathered(now);
    this.#first = 0;
  }
  /** Values to wires go together. */
  #gather(stream: Stream, place: number): void {
    const at = this.#gathered;
    this.#valuesView.setUint16(at, place, true);
    this.#values.set(stream.value, at + VALUES_HEAD);
    this.#gathered = at + VALUES_HEAD + stream.value.length;
    this.#gatheredCount++;
  }
  #sendGathered(now: number): void {
    if (this.#gatheredCount > 0) {
      writeHead(this.#valuesView, FRAME_VALUES, this.#gatheredCount, this.#version, now);
      this.#link.put(this.#values.subarray(0, this.#gathered));
    }
    this.#gathered = FRAME_HEAD;
    this.#gatheredCount = 0;
  }
  /** Devices that are told something from now on: what was told before ends. */
  #speak({ messages }: OutletShow, map: PlanMap): void {
    const old = new Map(this.#midi.map((s) => [s.message, s]));
    this.#midi = messages.flatMap((message) => {
      if (message.form.kind !== 'midi') return [];
      const stream = old.get(message) ?? new MidiStream(message, message.form);
      old.delete(message);
      stream.place(map);
      return [stream];
    });
    for (const gone of old.values()) if (gone.end()) this.#sayMidi(gone);
  }
  #sayMidi({ message, form, bytes, at }: MidiStream): void {
    const due = at === null ? null : performance.timeOrigin + at;
    post({ type: 'midi', id: message.id, device: form.device, bytes: [...bytes], at: due });
  }
  /** What is said to other programs: hits one by one, values as often as they may. */
  #sendMessages(frames: FrameReader, now: number): void {
    for (let i = 0; i < this.#messages.length; i++) {
      const { stream, place, frame, view } = this.#messages[i]!;
      while (!this.#link.behind && stream.next(frames, now)) {
        writeHead(view, FRAME_PACKET, place, this.#version, now);
        frame.set(stream.packet, FRAME_HEAD);
        this.#link.put(frame);
      }
    }
    for (let i = 0; i < this.#midi.length; i++) {
      const stream = this.#midi[i]!;
      stream.step(frames, now);
      while (stream.next(frames, now)) this.#sayMidi(stream);
    }
  }
  readonly #takeEvent = (at: number, time: number, value: number): void => {
    for (let i = 0; i < this.#events.length; i++) this.#events[i]!.events.take(at, time, value);
    for (let i = 0; i < this.#messages.length; i++) this.#messages[i]!.stream.take(at, time, value);
    for (let i = 0; i < this.#midi.length; i++) this.#midi[i]!.take(at, value);
  };
  #sendEvents(now: number): void {
    for (let i = 0; i < this.#events.length; i++) {
      const { events, place } = this.#events[i]!;
      events.release(this.#plan.frames?.time ?? 0);
      if (events.count === 0) continue;
      const bytes = EVENTS_HEAD + events.count * EVENT_BYTES;
      writeHead(this.#eventView, FRAME_EVENTS, place, this.#version, now);
      this.#eventFrame.set(events.value.subarray(0, bytes), FRAME_HEAD);
      this.#link.put(this.#eventFrame.subarray(0, FRAME_HEAD + bytes));
      events.count = 0;
    }
  }
}

/** A stream for every universe that has lamps, on every wire. */
function lampStreams(show: OutletShow, rules: LampRules): LampStream[] {
  const { fixtures, kinds, wires, room, merges } = show;
  const universes = new Map<number, OutletShow['fixtures'][number][]>(),
    clashes = clashesOf(fixtures, kinds);
  for (const fixture of fixtures) {
    // Of lamps that share a channel none is sent until one of them is moved.
    if (clashes.has(fixture.id)) {
      if (!universes.has(fixture.universe)) universes.set(fixture.universe, []);
      continue;
    }
    const list = universes.get(fixture.universe);
    if (list) list.push(fixture);
    else universes.set(fixture.universe, [fixture]);
  }
  const all = fixtures.map((f) => ({ kind: kindOf(f, kinds), at: f.at })),
    places = placesIn(all, room),
    hung = new Map(fixtures.map((f, i) => [f.id, places[i]!])),
    of = (universe: number, wire: number): LampPlaces => ({
      blinks: blinkCode('wire', wire),
      kinds,
      room,
      hung,
      merge: merges.find((m) => m.universe === universe)?.how ?? 'ours',
    });
  return wires.flatMap((wire, i) =>
    [...universes]
      .filter(([u]) => carries(wire.universes, u))
      .map(([u, list]) => new LampStream(wire, u, list, of(u, i), rules)),
  );
}

const worker = new OutletWorker();
self.onmessage = (e: MessageEvent<ToOutlets>) => worker.obey(e.data);
