import { length } from './length';
import type { Hz } from '../units';
import type { LaserPaths } from './paths';
import { PathOrder } from './pathOrder';
import { At, POINT, POINTS_MOST } from './points';

/** How paths become points, for a scanner. */
export interface PointSetting {
  readonly pointsPerSecond: Hz;
  /** Frames a second that are kept to, where quality must fall for it. */
  readonly framesPerSecond: Hz;
  /** Between two points of a line, of the field, where there is room. */
  readonly spacing: number;
  /** Between two points of a dark way. */
  readonly darkSpacing: number;
  /** Points more at a corner that turns right back; less for less. */
  readonly dwell: number;
  /** Dark points where a line begins and lit ones where it ends: the mirrors are late, and the light is not. */
  readonly anchors: number;
  /** Colours come so many points later than their places: the mirrors are late by as much. */
  readonly colourShift: number;
}
export const USUAL_POINTS: PointSetting = {
  pointsPerSecond: 30000,
  framesPerSecond: 30,
  spacing: 0.03,
  darkSpacing: 0.05,
  dwell: 6,
  anchors: 4,
  colourShift: 1,
};

/** What was given up to keep to the rate, in this order: spacing first, then repeats, then what comes last. */
export interface PointCost {
  /** Of the spacing that was asked for, 1 or more. */
  readonly spacing: number;
  /** Of dwells and anchors, 1 or less. */
  readonly repeats: number;
  /** Paths that were left out. */
  readonly leftOut: number;
}

/** Makes a frame's points of its paths. Allocates nothing after it is made. */
export class PointMaker {
  readonly points = new Float32Array(POINT * POINTS_MOST);
  count = 0;
  /** Of the way, in the field's unit: dark, and lit. */
  darkWay = 0;
  litWay = 0;
  cost: PointCost = { spacing: 1, repeats: 1, leftOut: 0 };
  readonly #setting: PointSetting;
  readonly #order = new PathOrder();
  readonly #colours = new Float32Array(3 * POINTS_MOST);
  #x = 0;
  #y = 0;

  constructor(setting: PointSetting = USUAL_POINTS) {
    this.#setting = setting;
  }

  /** @returns points of the frame */
  make(paths: LaserPaths): number {
    const { pointsPerSecond, framesPerSecond } = this.#setting,
      most = Math.min(POINTS_MOST - 8, Math.floor(pointsPerSecond / framesPerSecond));
    // From its own beginning, and not from where the one before ended: a figure that stays is drawn the same way round each time.
    this.#order.find(paths, paths.corners[0]!, paths.corners[1]!);
    // From what the picture before needed: one that goes on costs as much, and quality comes back step by step.
    const last = this.cost;
    let spacing = last.repeats < 1 ? last.spacing : Math.max(1, last.spacing / 1.25),
      repeats = last.repeats < 1 ? Math.min(1, last.repeats / 0.7) : 1,
      kept = paths.paths;
    for (;;) {
      this.#closeRound(paths, kept);
      this.#draw(paths, kept, spacing, repeats);
      if (this.count <= most || kept === 0) break;
      if (spacing < 3) spacing *= 1.25;
      else if (repeats > 0.3) repeats *= 0.7;
      else kept = Math.max(0, Math.min(kept - 1, Math.floor((kept * most) / this.count)));
    }
    if (
      spacing !== this.cost.spacing ||
      repeats !== this.cost.repeats ||
      paths.paths - kept !== this.cost.leftOut
    )
      this.cost = { spacing, repeats, leftOut: paths.paths - kept };
    this.#shiftColours();
    return this.count;
  }

  #draw(paths: LaserPaths, kept: number, spacing: number, repeats: number): void {
    this.count = 0;
    this.darkWay = this.litWay = 0;
    let drawn = 0;
    for (let k = 0; k < paths.paths && this.count < POINTS_MOST; k++) {
      const code = this.#order.order[k]!,
        p = code < 0 ? -1 - code : code;
      // What comes last in the show is given up first.
      if (p >= kept) continue;
      this.#drawPath(paths, p, code < 0, spacing, repeats);
      drawn++;
    }
    if (drawn === 0) this.count = 0;
  }

  /** It is drawn over and over until the next one comes: it begins where it ends. */
  #closeRound(paths: LaserPaths, kept: number): void {
    for (let k = paths.paths - 1; k >= 0; k--) {
      const code = this.#order.order[k]!,
        p = code < 0 ? -1 - code : code;
      if (p >= kept) continue;
      const at = POINT * (code < 0 ? paths.starts[p]! : paths.starts[p + 1]! - 1);
      this.#x = paths.corners[at]!;
      this.#y = paths.corners[at + 1]!;
      return;
    }
  }
  #drawPath(paths: LaserPaths, p: number, turned: boolean, spacing: number, repeats: number): void {
    const { corners, starts } = paths,
      first = starts[p]!,
      n = starts[p + 1]! - first,
      setting = this.#setting,
      anchors = Math.round(setting.anchors * repeats);
    const at = (i: number): number => POINT * (first + (turned ? n - 1 - i : i));
    const x0 = corners[at(0)]!,
      y0 = corners[at(0) + 1]!;
    this.#travel(x0, y0);
    for (let i = 0; i < anchors; i++) this.#put(x0, y0, 0, 0, 0);
    for (let i = 1; i < n; i++) {
      const a = at(i - 1),
        b = at(i),
        ax = corners[a]!,
        ay = corners[a + 1]!,
        bx = corners[b]!,
        by = corners[b + 1]!,
        long = length(bx - ax, by - ay),
        steps = Math.max(1, Math.ceil(long / (setting.spacing * spacing) - 1e-6));
      this.litWay += long;
      for (let s = 1; s <= steps; s++) {
        const t = s / steps;
        this.#put(
          ax + (bx - ax) * t,
          ay + (by - ay) * t,
          corners[a + At.Red]! + (corners[b + At.Red]! - corners[a + At.Red]!) * t,
          corners[a + At.Green]! + (corners[b + At.Green]! - corners[a + At.Green]!) * t,
          corners[a + At.Blue]! + (corners[b + At.Blue]! - corners[a + At.Blue]!) * t,
        );
      }
      const stay =
        i < n - 1
          ? Math.round(
              setting.dwell * repeats * turnOf(ax, ay, bx, by, corners[at(i + 1)]!, corners[at(i + 1) + 1]!),
            )
          : anchors;
      // Where a line ends the mirrors leave at once, and the light comes later by its shift: it is out by then.
      const lit = i < n - 1 ? stay : Math.max(0, stay - setting.colourShift);
      for (let k = 0; k < stay; k++) {
        const on = k < lit ? 1 : 0;
        this.#put(bx, by, on * corners[b + At.Red]!, on * corners[b + At.Green]!, on * corners[b + At.Blue]!);
      }
    }
  }
  /** To where the next line begins, in the dark: slowly away, quickly between, and slowly there. */
  #travel(x: number, y: number): void {
    const far = length(x - this.#x, y - this.#y);
    this.darkWay += far;
    if (far < 1e-6) return;
    const steps = Math.max(1, Math.ceil(far / this.#setting.darkSpacing)),
      x0 = this.#x,
      y0 = this.#y;
    for (let s = 1; s <= steps; s++) {
      const t = s / steps,
        eased = t * t * (3 - 2 * t);
      this.#put(x0 + (x - x0) * eased, y0 + (y - y0) * eased, 0, 0, 0);
    }
  }
  #put(x: number, y: number, r: number, g: number, b: number): void {
    this.#x = x;
    this.#y = y;
    if (this.count >= POINTS_MOST) return;
    const at = POINT * this.count++;
    this.points[at + At.X] = x;
    this.points[at + At.Y] = y;
    this.points[at + At.Red] = r;
    this.points[at + At.Green] = g;
    this.points[at + At.Blue] = b;
  }
  /** Round the frame, as it is drawn over and over. */
  #shiftColours(): void {
    const n = this.count,
      shift = n > 0 ? this.#setting.colourShift % n : 0;
    if (shift === 0) return;
    for (let i = 0; i < n; i++)
      for (let c = 0; c < 3; c++) this.#colours[3 * i + c] = this.points[POINT * i + 2 + c]!;
    for (let i = 0; i < n; i++) {
      const from = 3 * ((i - shift + n) % n);
      for (let c = 0; c < 3; c++) this.points[POINT * i + 2 + c] = this.#colours[from + c]!;
    }
  }
}

/** How much a line turns at a corner: 0 goes straight on, 1 right back. */
function turnOf(ax: number, ay: number, bx: number, by: number, cx: number, cy: number): number {
  const ux = bx - ax,
    uy = by - ay,
    vx = cx - bx,
    vy = cy - by,
    long = length(ux, uy) * length(vx, vy);
  if (long < 1e-12) return 0;
  return Math.acos(Math.max(-1, Math.min(1, (ux * vx + uy * vy) / long))) / Math.PI;
}
