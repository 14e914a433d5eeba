import type { LaserForm } from './kinds';
import { Do } from './kinds';
import { LaserPaths } from './paths';
import { At, POINT } from './points';
import { addFan, addGrid, addPolygon, addRing, addText, addWave, type Ray } from './shapes';

/** How far the eye is from what leans and swings, in halves of the field. */
const EYE = 3;
const INNER = 0.42;
const DASH = 0.1;
const WHITE: Ray = [1, 1, 1];

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
      addFan(paths, form.beams, 1, WHITE);
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
  }
  return paths;
}

/**
 * Adds one figure to a frame, as its values say: bent by its row, turned about three axes and seen in perspective, drawn in part and
 * dashed, in its colours, and copied. Allocates nothing.
 * @param own - the form's own paths @param v - by {@link Do} @param row - one number for each part of its way, −1 to 1; null: none
 */
export function addFigure(out: LaserPaths, own: LaserPaths, v: Float64Array, row: Float32Array | null): void {
  const copies = Math.max(1, Math.min(12, Math.round(v[Do.Copies]!))) || 1;
  for (let k = 0; k < copies; k++) addCopy(out, own, v, row, (k - (copies - 1) / 2) * v[Do.Apart]!);
}

function addCopy(
  out: LaserPaths,
  own: LaserPaths,
  v: Float64Array,
  row: Float32Array | null,
  beside: number,
): void {
  const whole = own.length,
    drawn = v[Do.Drawn]! * whole,
    dashes = v[Do.Dashes]!,
    bright = v[Do.Bright]!;
  if (!(drawn > 0) || !(bright > 0) || !(dashes > 0)) return;
  const turn = radians(v[Do.Turn]!),
    lean = radians(v[Do.Lean]!),
    swing = radians(v[Do.Swing]!),
    st = Math.sin(turn),
    ct = Math.cos(turn),
    sl = Math.sin(lean),
    cl = Math.cos(lean),
    ss = Math.sin(swing),
    cs = Math.cos(swing);
  const straight = isStraight(own);
  let gone = 0,
    lit = false;
  /** A place of the form, `way` along the whole of it. */
  const corner = (x: number, y: number, way: number): void => {
    const far = Math.hypot(x, y) || 1,
      bent = v[Do.Rise]! * rowAt(row, way);
    // A line is bent upwards, anything else outwards.
    const bx = straight ? x : x + (bent * x) / far,
      by = straight ? y + bent : y + (bent * y) / far;
    const tx = ct * bx - st * by,
      ty = st * bx + ct * by,
      ly = cl * ty,
      lz = sl * ty,
      sx = cs * tx + ss * lz,
      sz = -ss * tx + cs * lz,
      near = EYE / Math.max(0.2, EYE + sz * v[Do.Size]!);
    out.corner(
      v[Do.Across]! + beside + sx * v[Do.Size]! * near,
      v[Do.Height]! + ly * v[Do.Size]! * near,
      (v[Do.Red]! + (v[Do.FarRed]! - v[Do.Red]!) * way) * bright,
      (v[Do.Green]! + (v[Do.FarGreen]! - v[Do.Green]!) * way) * bright,
      (v[Do.Blue]! + (v[Do.FarBlue]! - v[Do.Blue]!) * way) * bright,
    );
  };
  for (let p = 0; p < own.paths && gone < drawn; p++) {
    lit = false;
    for (let i = own.starts[p]! + 1; i < own.starts[p + 1]! && gone < drawn; i++) {
      const a = (i - 1) * POINT,
        x0 = own.corners[a]!,
        y0 = own.corners[a + 1]!,
        dx = own.corners[a + POINT]! - x0,
        dy = own.corners[a + POINT + 1]! - y0,
        long = Math.hypot(dx, dy);
      if (long <= 0) continue;
      let at = 0;
      const until = Math.min(long, drawn - gone);
      while (at < until - 1e-9) {
        // The next place at which a dash begins or ends.
        const stretch = DASH * whole,
          place = (gone + at) % stretch,
          on = dashes >= 1 || place < stretch * dashes - 1e-9,
          next =
            dashes >= 1 ? until : Math.min(until, at + ((on ? stretch * dashes : stretch) - place) + 1e-9);
        if (on) {
          if (!lit) {
            out.begin();
            corner(x0 + (dx * at) / long, y0 + (dy * at) / long, (gone + at) / whole);
          }
          corner(x0 + (dx * next) / long, y0 + (dy * next) / long, (gone + next) / whole);
        }
        lit = on;
        at = next;
      }
      gone += until;
    }
  }
  out.end();
}
/** A line across: it is bent upwards. */
function isStraight(own: LaserPaths): boolean {
  for (let i = 0; i < own.starts[own.paths]!; i++) if (own.corners[i * POINT + At.Y] !== 0) return false;
  return own.paths === 1;
}
const radians = (degrees: number): number => (degrees * Math.PI) / 180;
/** Of a row, what lies so far along it; 1 without one: a single number bends all of it alike. */
function rowAt(row: Float32Array | null, way: number): number {
  if (!row || row.length === 0) return 1;
  const at = Math.min(1, Math.max(0, way)) * (row.length - 1),
    i = Math.min(row.length - 2, Math.floor(at));
  return i < 0 ? row[0]! : row[i]! + (row[i + 1]! - row[i]!) * (at - i);
}
