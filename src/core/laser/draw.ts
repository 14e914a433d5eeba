import { length } from './length';
import { Do, type LaserForm } from './kinds';
import { LaserPaths } from './paths';
import { At, POINT } from './points';
import { addDots, addGrid, addPolygon, addRing, addText, addWave, type Ray } from './shapes';

/** How far the eye is from what leans and swings, in halves of the field. */
const EYE = 3;
const INNER = 0.42;
const DASH = 0.1;
const WHITE: Ray = [1, 1, 1];
/** Of a dot or a beam: its corners, and its radius in the field. */
const LOOP_CORNERS = 6,
  LOOP_LEAST = 0.008,
  LOOP_MORE = 0.08;

/** A form's own paths, about its middle: made once, as only its settings change it. */
export function pathsOfForm(form: LaserForm): LaserPaths {
  const paths = new LaserPaths();
  switch (form.kind) {
    case 'ring':
      addRing(paths, WHITE);
      break;
    case 'polygon':
      addPolygon(paths, form.corners, form.star ? INNER : 1, WHITE);
      break;
    case 'wave':
      addWave(paths, new Float32Array(form.points), WHITE);
      break;
    case 'fan':
      addDots(paths, form.beams, false, WHITE);
      break;
    case 'grid':
      addGrid(paths, form.across, form.up, WHITE);
      break;
    case 'tunnel':
      for (let i = 0; i < form.rings; i++) {
        const from = paths.starts[paths.paths]!,
          by = 1 / (1 + i * 0.7);
        addRing(paths, WHITE);
        for (let k = from; k < paths.starts[paths.paths]!; k++)
          for (const c of [At.X, At.Y]) paths.corners[k * POINT + c] = paths.corners[k * POINT + c]! * by;
      }
      break;
    case 'text':
      addText(paths, form.text, WHITE);
      break;
    case 'drawing':
      for (const run of form.strokes) {
        paths.begin();
        for (let i = 0; i + 1 < run.length; i += 2) paths.corner(run[i]!, run[i + 1]!, 1, 1, 1);
      }
      paths.end();
      break;
    case 'points':
      addDots(paths, form.count, true, WHITE);
      break;
    // A file's are of every frame its own, and a figure's of the picture come from there.
    case 'frames':
    case 'figure':
      break;
  }
  return paths;
}

/** Rows that are laid on a figure, one number for each part of its way; null: none. */
export interface FigureRows {
  /** −1 to 1. */
  rise: Float32Array | null;
  /** 0 to 1. */
  brightness: Float32Array | null;
  run: Float32Array | null;
}
export const NO_ROWS: FigureRows = { rise: null, brightness: null, run: null };

/** What one copy is drawn with: worked out once for all of its corners. */
class Pen {
  #out!: LaserPaths;
  #v!: Float64Array;
  #rows!: FigureRows;
  #straight = false;
  #x = 0;
  #y = 0;
  #st = 0;
  #ct = 1;
  #sl = 0;
  #cl = 1;
  #ss = 0;
  #cs = 1;
  /** Where the last place landed in the field, and its colour by how far along it is. */
  px = 0;
  py = 0;

  take(out: LaserPaths, v: Float64Array, rows: FigureRows, straight: boolean, k: number, n: number): void {
    this.#out = out;
    this.#v = v;
    this.#rows = rows;
    this.#straight = straight;
    const round = v[Do.Round]!,
      apart = v[Do.Apart]!,
      angle = (2 * Math.PI * k) / n,
      turn = radians(v[Do.Turn]!) - round * angle,
      lean = radians(v[Do.Lean]!),
      swing = radians(v[Do.Swing]!);
    const one = n > 1 ? 1 : 0;
    this.#x = v[Do.Across]! + one * ((1 - round) * (k - (n - 1) / 2) + round * Math.sin(angle)) * apart;
    this.#y = v[Do.Height]! + one * round * Math.cos(angle) * apart;
    this.#st = Math.sin(turn);
    this.#ct = Math.cos(turn);
    this.#sl = Math.sin(lean);
    this.#cl = Math.cos(lean);
    this.#ss = Math.sin(swing);
    this.#cs = Math.cos(swing);
  }
  /** Brings a place of the form, `way` along the whole of it, into the field. */
  place(x: number, y: number, way: number): void {
    const v = this.#v,
      size = v[Do.Size]!,
      far = length(x, y) || 1,
      bent = this.#rows.rise ? rowAt(this.#rows.rise, way) : v[Do.Rise]!;
    // A line is bent upwards, anything else outwards.
    const bx = this.#straight ? x : x + (bent * x) / far,
      by = this.#straight ? y + bent : y + (bent * y) / far;
    const tx = this.#ct * bx - this.#st * by,
      ty = this.#st * bx + this.#ct * by,
      ly = this.#cl * ty,
      lz = this.#sl * ty,
      sx = this.#cs * tx + this.#ss * lz,
      sz = -this.#ss * tx + this.#cs * lz,
      near = EYE / Math.max(0.2, EYE + sz * size);
    this.px = this.#x + sx * size * near;
    this.py = this.#y + ly * size * near;
  }
  /** A corner where the last place landed, or so far beside it. */
  corner(way: number, dx: number, dy: number, r: number, g: number, b: number): void {
    const v = this.#v,
      { brightness, run } = this.#rows,
      bright = v[Do.Bright]! * (brightness ? rowAt(brightness, way) : 1),
      far = run ? rowAt(run, way) : Math.min(1, way + v[Do.Run]!);
    this.#out.corner(
      v[Do.Mirror]! * (this.px + dx),
      this.py + dy,
      r * bright * (v[Do.Red]! + (v[Do.FarRed]! - v[Do.Red]!) * far),
      g * bright * (v[Do.Green]! + (v[Do.FarGreen]! - v[Do.Green]!) * far),
      b * bright * (v[Do.Blue]! + (v[Do.FarBlue]! - v[Do.Blue]!) * far),
    );
  }
}
const pen = new Pen();

/**
 * Adds one figure to a frame, as its values say: bent by its row, turned about three axes and seen in perspective, drawn in part and
 * dashed, in its colours, and copied. Allocates nothing.
 * @param own - the form's own paths @param v - by {@link Do}
 */
export function addFigure(out: LaserPaths, own: LaserPaths, v: Float64Array, rows: FigureRows): void {
  const copies = Math.max(1, Math.min(12, Math.round(v[Do.Copies]!))) || 1,
    whole = own.length,
    straight = isStraight(own);
  if (!(v[Do.Drawn]! > 0) || !(v[Do.Bright]! > 0) || !(v[Do.Dashes]! > 0)) return;
  for (let k = 0; k < copies; k++) {
    pen.take(out, v, rows, straight, k, copies);
    if (whole > 0) addLines(out, own, v, whole);
    else addLoops(out, own, v);
  }
}

/** Lines, as far as they are drawn and where their dashes are. */
function addLines(out: LaserPaths, own: LaserPaths, v: Float64Array, whole: number): void {
  const drawn = Math.min(1, v[Do.Drawn]!) * whole,
    dashes = v[Do.Dashes]!,
    stretch = DASH * whole,
    phase = v[Do.Phase]! - Math.floor(v[Do.Phase]!);
  let gone = 0;
  for (let p = 0; p < own.paths && gone < drawn; p++) {
    let lit = false;
    for (let i = own.starts[p]! + 1; i < own.starts[p + 1]! && gone < drawn; i++) {
      const a = (i - 1) * POINT,
        x0 = own.corners[a]!,
        y0 = own.corners[a + 1]!,
        dx = own.corners[a + POINT]! - x0,
        dy = own.corners[a + POINT + 1]! - y0,
        r = own.corners[a + POINT + At.Red]!,
        g = own.corners[a + POINT + At.Green]!,
        b = own.corners[a + POINT + At.Blue]!,
        long = length(dx, dy);
      if (long <= 0) continue;
      let at = 0;
      const until = Math.min(long, drawn - gone);
      while (at < until - 1e-9) {
        // The next place at which a dash begins or ends.
        const place = (gone + at + phase * stretch) % stretch,
          on = dashes >= 1 || place < stretch * dashes - 1e-9,
          next =
            dashes >= 1 ? until : Math.min(until, at + ((on ? stretch * dashes : stretch) - place) + 1e-9);
        if (on) {
          if (!lit) {
            out.begin();
            pen.place(x0 + (dx * at) / long, y0 + (dy * at) / long, (gone + at) / whole);
            pen.corner((gone + at) / whole, 0, 0, r, g, b);
          }
          pen.place(x0 + (dx * next) / long, y0 + (dy * next) / long, (gone + next) / whole);
          pen.corner((gone + next) / whole, 0, 0, r, g, b);
        }
        lit = on;
        at = next;
      }
      gone += until;
    }
  }
  out.end();
}
/** Dots and beams: each a small loop. */
function addLoops(out: LaserPaths, own: LaserPaths, v: Float64Array): void {
  const n = own.paths,
    radius = LOOP_LEAST + v[Do.Thick]! * LOOP_MORE;
  for (let p = 0; p < n && p < v[Do.Drawn]! * n; p++) {
    const a = own.starts[p]! * POINT,
      way = n > 1 ? p / (n - 1) : 0;
    pen.place(own.corners[a]!, own.corners[a + 1]!, way);
    out.begin();
    for (let i = 0; i <= LOOP_CORNERS; i++) {
      const angle = (2 * Math.PI * i) / LOOP_CORNERS;
      pen.corner(way, radius * Math.cos(angle), radius * Math.sin(angle), 1, 1, 1);
    }
  }
  out.end();
}
/** A line across: it is bent upwards. */
function isStraight(own: LaserPaths): boolean {
  for (let i = 0; i < own.starts[own.paths]!; i++) if (own.corners[i * POINT + At.Y] !== 0) return false;
  return own.paths === 1 || own.length === 0;
}
const radians = (degrees: number): number => (degrees * Math.PI) / 180;
/** Of a row, what lies so far along it. */
function rowAt(row: Float32Array, way: number): number {
  if (row.length === 0) return 0;
  const at = Math.min(1, Math.max(0, way)) * (row.length - 1),
    i = Math.min(row.length - 2, Math.floor(at));
  return i < 0 ? row[0]! : row[i]! + (row[i + 1]! - row[i]!) * (at - i);
}
