import { WebGLRenderer } from 'three';
import { Governor, type Quality } from '../../core/figures';
import { blinkCode, blinkOf } from '../../core/outlets';
import { type Screen, screenMap } from '../../core/screens';
import { onSurface, type OnSurface, sameOnSurface, surfaceOf, WHOLE_PICTURE } from '../../core/show';
import { BridgePlan } from '../memory/bridgePlan';
import { Faults } from '../memory/faults';
import type { FromPicture, KnownQuality, PICTURE_PARTS } from '../memory/messages';
import type { Changed, Frames, Plan } from '../memory/plan';
import { PlanReader } from '../memory/planReader';
import { Costs } from './costs';
import { DelayedFrames } from './delayedFrames';
import { DevicePace, RECORDED_DEPTH, SHOWN_DEPTH } from './devicePace';
import { PictureMedia } from './media';
import type { Seconds } from '../../core/units';
import { PictureScene } from './scene';
import { SheetRead } from './sheetRead';

/** A picture that takes longer than this is not drawn by a graphics card, or by one that has more than enough to do. */
const SLOW_MS = 12;
/** One that takes longer than this rests enough as it is, until the budget has made it smaller. */
const STANDS_MS = 250;
/** How long it then rests, as a share of what the picture took. */
const REST_USUAL = 0.4,
  REST_MOST = 4,
  /** So much missing sound in a second is a reason to rest longer. */
  HEARD: Seconds = 0.02;

/** How often a sheet for lamps is drawn, and how often it is asked whether one has arrived. */
const SHEET_EVERY_MS = 33,
  SHEET_LOOK_MS = 6;

/** Sizes that differ by little are one. */
const sizeKey = ([width, height]: readonly [number, number]): string =>
  `${Math.round(Math.log2(width) * 4)} ${Math.round(Math.log2(height) * 4)}`;

let processor: boolean | null = null;
/** Whether pictures are drawn by the processor, by what the drawing context calls itself. */
function drawnByProcessor(): boolean {
  if (processor === null) {
    const gl = new OffscreenCanvas(1, 1).getContext('webgl2'),
      info = gl?.getExtension('WEBGL_debug_renderer_info');
    const name = info ? String(gl!.getParameter(info.UNMASKED_RENDERER_WEBGL)) : '';
    processor = /swiftshader|llvmpipe|softpipe|software|basic render/i.test(name);
    gl?.getExtension('WEBGL_lose_context')?.loseContext();
  }
  return processor;
}

type PicturePart = (typeof PICTURE_PARTS)[number];
export type TellWindow = (message: FromPicture, transfer?: Transferable[]) => void;

/** One picture at work: its own canvas, its own pace, its own reading of the frames. It needs no window to be healthy. Picture worker. */
export class Picture {
  readonly media: PictureMedia;
  readonly #tell: TellWindow;
  readonly #canvas: OffscreenCanvas;
  readonly #preview: boolean;
  readonly #open: boolean;
  #renderer: WebGLRenderer;
  #scene: PictureScene;
  readonly #reader = new PlanReader<PicturePart>();
  /** What it is drawn from: this machine's conductor, or another's by way of the bridge. */
  #plan: Plan<PicturePart> = this.#reader;
  /** What of the show it draws: the picture, or an overlay. */
  #surfaceId: string = WHOLE_PICTURE;
  #onSurface: OnSurface | null = null;
  #pageName = '';
  /** From a frame's coming to its picture, in ms, of late. */
  #waited = 0;
  /** Events that came to what it draws. */
  #arrived = 0;
  #screenId: string | null = null;
  #screen: Screen | null = null;
  #shownAs: { map: readonly number[] | null; card: boolean; blink: number; matte: boolean } = {
    map: null,
    card: false,
    blink: 0,
    matte: false,
  };
  #blinks = 0;
  readonly #delayed = new DelayedFrames();
  readonly #device: DevicePace;
  readonly #governor = new Governor();
  readonly #costs = new Costs();
  /** What each size was drawn with, so that it begins there the next time. */
  readonly #known = new Map<string, Quality>();
  /** Hops that the conductor has lost; while it loses more, the picture rests longer. */
  #hopsLost = 0;
  #soundMissed = 0;
  #rest = REST_USUAL;
  #size: readonly [number, number];
  #lost = false;
  #frames = 0;
  #since = performance.now();
  #busy = 0;
  #next = 0;
  #before = NaN;
  #shown = true;
  #costsAsked = false;
  /** When the next sheet is due. */
  #sheetAt = 0;
  readonly #faults: Faults;

  /** @param tell - says something to the window that has it @param preview - the control window's own picture, which shows what is tried unseen too @param open - what nothing covers lets what is behind the canvas through */
  constructor(
    tell: TellWindow,
    canvas: OffscreenCanvas,
    width: number,
    height: number,
    preview: boolean,
    record: { readonly into: WritableStream<VideoFrame>; readonly framesPerSecond: number } | null = null,
    known: readonly KnownQuality[] = [],
    sheet: SharedArrayBuffer | null = null,
    open = false,
  ) {
    this.#tell = tell;
    this.#faults = new Faults(({ what }) =>
      tell({ type: 'trouble', what: `A picture could not be drawn; the next is tried. ${what}` }),
    );
    this.media = new PictureMedia(tell, (what) => tell({ type: 'trouble', what }));
    this.#scene = new PictureScene(this.media, preview || !open);
    this.#canvas = canvas;
    this.#preview = preview;
    this.#open = open;
    this.#size = [width, height];
    for (const { size, quality } of known) this.#known.set(size, quality);
    const quality = this.#known.get(sizeKey(this.#size));
    // What a processor draws begins with what it is sure to bear.
    // Of the few points of a sheet each counts.
    if (sheet) this.#governor.begin({ edges: true, resolution: 1, counts: 1 });
    else if (quality || drawnByProcessor())
      this.#governor.begin(quality ?? { edges: false, resolution: 0.6, counts: 0.6 });
    this.#device = new DevicePace(record ? RECORDED_DEPTH : SHOWN_DEPTH);
    this.#renderer = this.#make();
    canvas.addEventListener('webglcontextlost', (e) => {
      e.preventDefault();
      this.#lost = true;
      this.#tell({
        type: 'trouble',
        what: 'The graphics device was lost. The picture comes back by itself.',
      });
      // What was on the device is gone with it; a device that is back would refuse to take it away.
      this.#scene.dispose();
      this.#renderer.dispose();
    });
    canvas.addEventListener('webglcontextrestored', () => {
      this.#lost = false;
      this.#device.forget();
      this.#scene = new PictureScene(this.media, this.#preview || !this.#open);
      this.#renderer = this.#make();
      this.#apply();
      this.#tell({ type: 'well' });
    });
    if (sheet) void this.#read(new SheetRead(sheet));
    else if (record) void this.#record(record.into.getWriter(), 1000 / record.framesPerSecond);
    else requestAnimationFrame(this.#drawNext);
  }

  #make(): WebGLRenderer {
    const renderer = new WebGLRenderer({
      canvas: this.#canvas,
      // Edges are smoothed where figures are drawn; that the canvas smooths them once more only costs, and a processor most of all.
      antialias: !drawnByProcessor(),
      alpha: this.#open,
      powerPreference: 'high-performance',
    });
    renderer.autoClear = false;
    renderer.debug.onShaderError = (gl, _, vertex, fragment) => {
      const why = [vertex, fragment]
        .map((s) => gl.getShaderInfoLog(s) ?? '')
        .join(' ')
        .trim();
      this.#tell({
        type: 'trouble',
        what: `This graphics device cannot draw a part of the picture; the rest goes on. ${why.slice(0, 160)}`,
      });
    };
    renderer.setSize(this.#pixels(0), this.#pixels(1), false);
    return renderer;
  }
  /** Another size has another quality: the one that it had before, or one that should cost as much as this one does. */
  #requality([width, height]: readonly [number, number]): void {
    const before = this.#size;
    this.#size = [width, height];
    const { quality } = this.#governor;
    this.#known.set(sizeKey(before), { ...quality });
    const known = this.#known.get(sizeKey(this.#size));
    this.#governor.begin(
      known ?? {
        ...quality,
        resolution: quality.edges
          ? 1
          : quality.resolution * Math.sqrt((before[0] * before[1]) / (width * height)),
      },
    );
  }
  #pixels(side: 0 | 1): number {
    return Math.max(2, Math.round((this.#size[side] * this.#governor.quality.resolution) / 2) * 2);
  }
  /** A canvas that is given a size is emptied, even by the size that it has: only where a picture follows at once. */
  #resize(): void {
    const width = this.#pixels(0),
      height = this.#pixels(1);
    if (this.#canvas.width !== width || this.#canvas.height !== height)
      this.#renderer.setSize(width, height, false);
  }

  /** From the next picture on. */
  size(width: number, height: number): void {
    if (width !== this.#size[0] || height !== this.#size[1]) this.#requality([width, height]);
  }
  /** Nobody sees it: it draws nothing until it is shown again. */
  show(shown: boolean): void {
    this.#shown = shown;
  }
  card(on: boolean): void {
    this.#shownAs.card = on;
  }
  /** Whether it was asked to lose its graphics device, to see it come back. */
  lose(): void {
    const gl = this.#renderer.getContext().getExtension('WEBGL_lose_context');
    gl?.loseContext();
    setTimeout(() => gl?.restoreContext(), 60);
  }
  costs(on: boolean): void {
    this.#costsAsked = on;
  }

  /** Becomes one of the show's screens. */
  screen(id: string | null): void {
    this.#screenId = id;
    this.#setScreen();
  }
  /** Draws another surface of the show, or only its matte. */
  surface(id: string, matte: boolean): void {
    this.#shownAs.matte = matte;
    if (id === this.#surfaceId) return;
    this.#surfaceId = id;
    this.#onSurface = null;
    this.#setScreen();
    this.#apply();
  }
  #setScreen(): void {
    if (this.#surfaceId !== WHOLE_PICTURE) {
      const at = this.#plan.show?.overlays.findIndex((o) => o.id === this.#surfaceId) ?? -1;
      // On its own page it is the only one, and is told of nothing but itself.
      this.#blinks = at < 0 ? 0 : blinkCode('overlay', at);
    }
    const screen = this.#plan.show?.screens.find((s) => s.id === this.#screenId) ?? null;
    if (screen === this.#screen) return;
    this.#screen = screen;
    this.#blinks = screen ? blinkCode('screen', this.#plan.show!.screens.indexOf(screen)) : 0;
    this.#shownAs.map = screen ? screenMap(screen) : null;
    if (screen) this.#tell({ type: 'screen', screen });
  }

  /** Follows this machine's conductor. */
  listen(port: MessagePort): void {
    if (this.#plan !== this.#reader) this.#plan.leave();
    this.#plan = this.#reader;
    this.#reader.listen(port, this.#follow());
  }
  /** Follows a show on any machine. @param url - of its bridge @param name - by which it says there how it is */
  listenTo(url: string, name: string): void {
    this.#plan.leave();
    const changed = this.#follow();
    const plan: BridgePlan<PicturePart> = new BridgePlan(url, (what) => {
      if (this.#plan !== plan) return;
      changed(what);
      this.#tellThere(plan);
    });
    this.#pageName = name;
    plan.onOtherVersion = () => this.#tell({ type: 'otherVersion' });
    plan.onArrival = this.#arrive;
    this.#plan = plan;
  }
  #tellThere(plan: BridgePlan<PicturePart>): void {
    const surface = plan.show && surfaceOf(plan.show, this.#surfaceId);
    this.#tell({
      type: 'there',
      live: plan.live,
      show: surface !== null,
      gone: plan.told && plan.live && surface === null,
      ...(surface && { width: surface.width, height: surface.height, name: surface.name }),
    });
  }
  readonly #arrive = (place: number, _: number, value: number): void => {
    this.#arrived++;
    this.#scene.arrive(place, value);
  };
  #follow(): (changed: Changed) => void {
    let before = this.#plan.show;
    return (changed) => {
      const { show } = this.#plan;
      if (!show) return;
      if (changed.show) {
        if (before?.budget !== show.budget) this.#governor.budget = show.budget;
        this.#setScreen();
      }
      const other =
        before?.figures !== show.figures ||
        before.figureGroups !== show.figureGroups ||
        before.finishes !== show.finishes ||
        before.overlays !== show.overlays ||
        before.flashLimit !== show.flashLimit;
      before = show;
      if (changed.map || other) this.#apply();
    };
  }
  /** Ends the reading; what it was told by belongs to its window again. */
  leave(): void {
    this.#plan.leave();
  }
  /** How long what it is drawn from has not moved, in ms; infinite before it was heard of. */
  get age(): number {
    return this.#plan.age;
  }
  #apply(): void {
    const { map, show } = this.#plan;
    if (!map || !show) return;
    const surface = surfaceOf(show, this.#surfaceId);
    // Of one that is gone the last that was known stays, until its window shows another.
    if (!surface) return;
    const now = onSurface(show, this.#surfaceId),
      on = this.#onSurface && sameOnSurface(this.#onSurface, now) ? this.#onSurface : now;
    this.#onSurface = on;
    this.#scene.set({ ...on, flashLimit: show.flashLimit, surface }, map);
  }

  readonly #drawNext = (): void => {
    requestAnimationFrame(this.#drawNext);
    this.#tryToDraw();
  };
  #tryToDraw(): boolean {
    try {
      return this.#draw();
    } catch (error) {
      this.#faults.take(error);
      return false;
    }
  }
  /** A recording keeps a pace of its own: it goes on while no window is seen, and each frame carries the time at which it was drawn. */
  async #record(writer: WritableStreamDefaultWriter<VideoFrame>, everyMs: number): Promise<void> {
    const from = performance.now();
    for (let next = from; ;) {
      next = Math.max(next + everyMs, performance.now() + 1);
      await new Promise((r) => setTimeout(r, next - performance.now()));
      if (!this.#tryToDraw()) continue;
      const frame = new VideoFrame(this.#canvas, {
        timestamp: Math.round((performance.now() - from) * 1000),
      });
      try {
        await writer.write(frame);
      } catch {
        frame.close();
        return;
      }
    }
  }

  /** For lamps: drawn at a pace of its own, and read back. */
  async #read(read: SheetRead): Promise<void> {
    for (;;) {
      await new Promise((r) => setTimeout(r, SHEET_LOOK_MS));
      const gl = this.#renderer.getContext() as WebGL2RenderingContext,
        now = performance.now();
      if (this.#lost) continue;
      read.fetch(gl);
      if (now < this.#sheetAt) continue;
      this.#sheetAt = now + SHEET_EVERY_MS;
      if (this.#tryToDraw()) read.take(gl);
    }
  }

  /** @returns whether anything was drawn */
  readonly #draw = (): boolean => {
    const now = performance.now();
    // On a machine without a graphics processor drawing takes the sound's own time: after each picture it rests as long.
    if (this.#lost || !this.#shown || now < this.#next) return false;
    const gl = this.#renderer.getContext() as WebGL2RenderingContext;
    if (!this.#device.ready(gl, now)) return false;
    const { frames: reader, show } = this.#plan;
    if (!reader || !show) return false;
    const fresh = reader.read();
    if (fresh) this.#waited += 0.1 * (Math.min(500, this.age) - this.#waited);
    if (this.#plan === this.#reader) this.#reader.arrivals?.drain(this.#arrive);
    if (reader.darkness > 0) this.#scene.quiet();
    if (this.#scene.wantsRows) reader.readVectors();
    if (reader.tick < 0) return false;
    this.#resize();
    this.#scene.around.counts.value = this.#governor.quality.counts;
    this.#scene.smooth = this.#governor.quality.edges;
    // A page that is one output is told of itself alone; all others, which it is that blinks.
    const alone = this.#surfaceId !== WHOLE_PICTURE && this.#plan !== this.#reader;
    this.#shownAs.blink = alone
      ? Math.sign(reader.blink)
      : this.#blinks > 0
        ? blinkOf(reader.blink, this.#blinks)
        : 0;
    const delay = this.#screen?.delayMs ?? 0;
    if (delay > 0) this.#delayed.keep(reader);
    const past = delay > 0 ? this.#delayed.at(delay / 1000, reader.now) : null;
    if (past)
      this.#scene.render(
        this.#renderer,
        past.parameters,
        past.pictureTime,
        past.darkness,
        past.vectors,
        this.#shownAs,
        now / 1000,
      );
    else
      this.#scene.render(
        this.#renderer,
        this.#preview ? reader.preview : reader.parameters,
        reader.pictureTime,
        reader.curtain,
        this.#preview ? reader.previewVectors : reader.vectors,
        this.#shownAs,
        now / 1000,
      );
    this.#device.gave(gl, now);
    this.#pace(now);
    if (this.#costsAsked && reader.darkness < 1) this.#measureCosts(gl, reader);
    return true;
  };
  /** What a part costs is no part of what the picture takes: neither its pace nor its quality may follow from it. */
  #measureCosts(gl: WebGL2RenderingContext, reader: Frames): void {
    const from = performance.now();
    const { measured, known } = this.#costs.step(this.#renderer, this.#scene, reader);
    if (known) this.#tell({ type: 'costs', costs: this.#costs.list() });
    if (!measured) return;
    this.#device.waitedFor(gl);
    const took = performance.now() - from;
    this.#before += took;
    this.#next += took;
  }
  #pace(now: number): void {
    const took = performance.now() - now;
    this.#busy += 0.2 * (took - this.#busy);
    // A processor that draws leaves the sound its time: after each picture it rests for a while, and longer while sound is lost.
    const whole = Math.max(this.#busy, this.#device.took);
    if (whole > SLOW_MS && whole < STANDS_MS) this.#next = now + whole * (1 + this.#rest);
    const dt = (now - this.#before) / 1000;
    this.#before = now;
    // While it rests on purpose, the time between frames says nothing.
    const frame = whole > SLOW_MS ? whole / 1000 : Math.max(whole / 1000, dt > 1.5 / 60 && dt < 0.2 ? dt : 0);
    this.#governor.step(frame, dt < 2 ? dt : 0);
    this.#frames++;
    if (now - this.#since >= 1000) {
      const { memory } = this.#renderer.info,
        { hopsLost, soundMissed } = this.#plan;
      this.#rest =
        hopsLost > this.#hopsLost || soundMissed > this.#soundMissed + HEARD
          ? Math.min(REST_MOST, this.#rest * 2)
          : Math.max(REST_USUAL, this.#rest * 0.9);
      this.#hopsLost = hopsLost;
      this.#soundMissed = soundMissed;
      this.#tell({
        type: 'rate',
        framesPerSecond: (this.#frames * 1000) / (now - this.#since),
        age: this.age,
        size: sizeKey(this.#size),
        processor: drawnByProcessor(),
        quality: { ...this.#governor.quality },
        onDevice: memory.geometries + memory.textures,
        arrived: this.#arrived,
      });
      if (this.#plan instanceof BridgePlan)
        this.#plan.tell(this.#pageName, (this.#frames * 1000) / (now - this.#since), this.#waited);
      this.#frames = 0;
      this.#since = now;
    }
  }

  /** The picture as it is now, as a PNG with what nothing covers left open. */
  async still(
    id: number,
    width: number,
    height: number,
    as: readonly (readonly [at: number, value: number])[] = [],
  ): Promise<void> {
    const reader = this.#plan.frames;
    // It may not have drawn for a while.
    reader?.read();
    if (!reader || reader.tick < 0 || this.#lost) {
      this.#tell({ type: 'still', id, blob: null });
      return;
    }
    const numbers = as.length > 0 ? reader.parameters.slice() : reader.parameters;
    for (const [at, value] of as) if (at < numbers.length) numbers[at] = value;
    const pixels = this.#scene.still(
      this.#renderer,
      numbers,
      reader.pictureTime,
      width,
      height,
      reader.vectors,
    );
    const canvas = new OffscreenCanvas(width, height);
    canvas.getContext('2d')!.putImageData(new ImageData(pixels, width, height), 0, 0);
    this.#tell({ type: 'still', id, blob: await canvas.convertToBlob({ type: 'image/png' }) });
  }
}
