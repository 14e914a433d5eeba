import { beamOf, reachOf, sheetOf, widthOf } from '../../core/lights';
import { encode } from '../../core/parameters';
import type { RoomLamp } from './roomLamps';
import { drawnAt, scaleAt, type RoomView } from './roomView';

/** More lamps than this are drawn without their beams. */
const BEAMS_MOST = 240;
const PAPER = '#f2e9d4',
  INK = '#14110f',
  WALL = '#15120f',
  FLOOR = '#1b1611',
  EDGE = '#4a3d2c',
  LINE = '#271f17';
const a = [0, 0],
  b = [0, 0],
  way = [0, 0, 0];

const ink = (light: ArrayLike<number>, at = 0): string =>
  `rgb(${Math.round(encode(light[at]!) * 255)},${Math.round(encode(light[at + 1]!) * 255)},${Math.round(encode(light[at + 2]!) * 255)})`;
const brightest = (light: ArrayLike<number>, at = 0): number =>
  encode(Math.max(light[at]!, light[at + 1]!, light[at + 2]!));

/** The empty room. */
export function drawWalls(g: CanvasRenderingContext2D, view: RoomView): void {
  const { room } = view,
    half = room.width / 2;
  const corner = (x: number, y: number, z: number): void => {
    drawnAt(view, x, y, z, a);
    g.lineTo(a[0]!, a[1]!);
  };
  const sheet = (points: readonly (readonly [number, number, number])[], colour: string): void => {
    g.fillStyle = colour;
    g.beginPath();
    for (const [x, y, z] of points) corner(x, y, z);
    g.closePath();
    g.fill();
  };
  if (view.side === 'front') {
    sheet(
      [
        [-half, 0, 0],
        [half, 0, 0],
        [half, room.height, 0],
        [-half, room.height, 0],
      ],
      WALL,
    );
  }
  sheet(
    [
      [-half, 0, 0],
      [half, 0, 0],
      [half, 0, room.depth],
      [-half, 0, room.depth],
    ],
    FLOOR,
  );
  g.strokeStyle = LINE;
  g.lineWidth = 1;
  g.beginPath();
  for (let z = 0; z <= room.depth; z++) {
    drawnAt(view, -half, 0, z, a);
    drawnAt(view, half, 0, z, b);
    g.moveTo(a[0]!, a[1]!);
    g.lineTo(b[0]!, b[1]!);
  }
  for (let x = Math.ceil(-half); x <= half; x++) {
    drawnAt(view, x, 0, 0, a);
    drawnAt(view, x, 0, room.depth, b);
    g.moveTo(a[0]!, a[1]!);
    g.lineTo(b[0]!, b[1]!);
  }
  g.stroke();
  g.strokeStyle = EDGE;
  g.lineWidth = 2;
  g.beginPath();
  for (const z of view.side === 'front' ? [0] : [0, room.depth]) {
    drawnAt(view, -half, 0, z, a);
    drawnAt(view, half, 0, z, b);
    g.moveTo(a[0]!, a[1]!);
    g.lineTo(b[0]!, b[1]!);
  }
  g.stroke();
}

/** Where the picture lies, as deep as the lamps that take it. */
export function drawSheet(g: CanvasRenderingContext2D, view: RoomView, lamps: readonly RoomLamp[]): void {
  if (view.side !== 'front' || lamps.length === 0) return;
  const { left, right, bottom, top } = sheetOf(view.room),
    z = lamps.reduce((n, l) => n + l.at.z, 0) / lamps.length;
  drawnAt(view, left, top, z, a);
  drawnAt(view, right, bottom, z, b);
  g.strokeStyle = PAPER;
  g.lineWidth = 2;
  g.setLineDash([6, 6]);
  g.strokeRect(a[0]!, a[1]!, b[0]! - a[0]!, b[1]! - a[1]!);
  g.setLineDash([]);
  g.fillStyle = PAPER;
  g.font = '400 13px "Atkinson Hyperlegible"';
  g.textAlign = 'left';
  g.fillText('the picture lies here', a[0]! + 6, a[1]! + 16);
}

/** The raised awning that the laser draws on: its field, as large as it hangs there. */
const AWNING = { bottom: 0.56, top: 0.96, z: 0.1 };
/**
 * The awning, and on it what the laser's mirrors draw.
 * @param draw - draws it, told where a place of the field lands
 */
export function drawAwning(
  g: CanvasRenderingContext2D,
  view: RoomView,
  draw: (place: (x: number, y: number, out: number[]) => void) => void,
): void {
  if (view.side !== 'front') return;
  const { height } = view.room,
    half = (height * (AWNING.top - AWNING.bottom)) / 2,
    middle = height * AWNING.bottom + half;
  drawnAt(view, -half, middle + half, AWNING.z, a);
  drawnAt(view, half, middle - half, AWNING.z, b);
  g.fillStyle = '#0b0a09';
  g.fillRect(a[0]!, a[1]!, b[0]! - a[0]!, b[1]! - a[1]!);
  g.strokeStyle = EDGE;
  g.lineWidth = 1.5;
  g.strokeRect(a[0]!, a[1]!, b[0]! - a[0]!, b[1]! - a[1]!);
  draw((x, y, out) => drawnAt(view, x * half, middle + y * half, AWNING.z, out));
}

/** Haze, beams, and then the lamps themselves, as their packets say. */
export function drawLamps(g: CanvasRenderingContext2D, view: RoomView, lamps: readonly RoomLamp[]): void {
  let haze = 0;
  for (const l of lamps) if (l.seen.haze > haze) haze = l.seen.haze;
  if (haze > 0) {
    g.fillStyle = `rgba(150,140,120,${(haze * 0.16).toFixed(3)})`;
    g.fillRect(0, 0, view.width, view.height);
  }
  g.globalCompositeOperation = 'lighter';
  if (lamps.length <= BEAMS_MOST) for (const l of lamps) drawBeam(g, view, l, haze);
  g.globalCompositeOperation = 'source-over';
  for (const l of lamps) drawBody(g, view, l);
}

function drawBeam(g: CanvasRenderingContext2D, view: RoomView, lamp: RoomLamp, haze: number): void {
  const { kind, at, seen } = lamp,
    { light } = seen;
  if (kind.beam <= 0) return;
  if (light.length > 3) {
    drawCellGlow(g, view, lamp);
    return;
  }
  const bright = brightest(light);
  if (bright < 0.02) return;
  // What does not turn shines the way it hangs, a little towards the audience.
  const turns = kind.pan !== null || kind.tilt !== null;
  beamOf(at, seen.pan, turns ? seen.tilt : 12, way);
  const { room } = view,
    far = turns
      ? reachOf(at, way, room.depth, room.width, room.height)
      : Math.min(1.6, Math.max(0.5, at.hangs ? at.y : room.height - at.y));
  const wide = Math.tan((Math.min(150, seen.beam) * Math.PI) / 360) * far;
  const ex = at.x + way[0]! * far,
    ey = at.y + way[1]! * far,
    ez = at.z + way[2]! * far;
  drawnAt(view, at.x, at.y, at.z, a);
  drawnAt(view, ex, ey, ez, b);
  const s0 = scaleAt(view, at.z),
    s1 = scaleAt(view, ez),
    colour = ink(light);
  const dx = b[0]! - a[0]!,
    dy = b[1]! - a[1]!,
    long = Math.hypot(dx, dy) || 1,
    nx = -dy / long,
    ny = dx / long,
    r0 = 0.09 * s0;
  const strength = turns ? 0.1 + 0.34 * Math.min(1, haze * 2) : 0.26;
  for (let i = 3; i >= 1; i--) {
    const r1 = wide * s1 * (0.4 + 0.2 * i),
      fade = g.createLinearGradient(a[0]!, a[1]!, b[0]!, b[1]!);
    fade.addColorStop(0, colour);
    fade.addColorStop(1, 'rgba(0,0,0,0)');
    g.globalAlpha = strength / (0.6 * i);
    g.fillStyle = fade;
    g.beginPath();
    g.moveTo(a[0]! + nx * r0, a[1]! + ny * r0);
    g.lineTo(a[0]! - nx * r0, a[1]! - ny * r0);
    g.lineTo(b[0]! - nx * r1, b[1]! - ny * r1);
    g.lineTo(b[0]! + nx * r1, b[1]! + ny * r1);
    g.fill();
  }
  if (turns) drawPool(g, view, lamp, ex, ey, ez, wide, colour, bright);
  g.globalAlpha = 1;
}

/** Where a beam lands: its light on the floor or a wall, cut by its gobo. */
function drawPool(
  g: CanvasRenderingContext2D,
  view: RoomView,
  { kind, seen }: RoomLamp,
  x: number,
  y: number,
  z: number,
  wide: number,
  colour: string,
  bright: number,
): void {
  drawnAt(view, x, y, z, b);
  const s = scaleAt(view, z),
    r = Math.max(3, wide * s),
    flat = view.side === 'front' && y < 0.05 ? 0.3 : 1,
    gobo = kind.gobos[seen.gobo]?.name ?? 'open';
  g.globalAlpha = 0.5 * bright;
  g.fillStyle = g.strokeStyle = colour;
  const spot = (cx: number, cy: number, size: number): void => {
    g.beginPath();
    g.ellipse(b[0]! + cx * r, b[1]! + cy * r * flat, size * r, size * r * flat, 0, 0, 7);
    g.fill();
  };
  if (seen.gobo === 0) spot(0, 0, 1);
  else if (gobo === 'ring') {
    g.lineWidth = Math.max(2, r * 0.25);
    g.beginPath();
    g.ellipse(b[0]!, b[1]!, r * 0.8, r * 0.8 * flat, 0, 0, 7);
    g.stroke();
  } else if (gobo === 'bars') {
    for (let i = -2; i <= 2; i++)
      g.fillRect(b[0]! + (i * 0.4 - 0.12) * r, b[1]! - r * flat * 0.8, r * 0.24, r * flat * 1.6);
  } else
    for (let i = 0; i < 6; i++) {
      const turn = (i * Math.PI) / 3 + seen.gobo;
      spot(0.62 * Math.cos(turn), 0.62 * Math.sin(turn), gobo === 'dots' ? 0.2 : 0.28);
    }
}

/** Where a cell is drawn: left, top, width and height. */
export function cellBox(view: RoomView, lamp: RoomLamp, cell: number, out: number[]): void {
  const { kind, at } = lamp,
    s = scaleAt(view, at.z),
    wide = (widthOf(kind, view.room) * s) / kind.columns,
    high = kind.rows > 1 ? wide : Math.max(6, 0.16 * s);
  drawnAt(view, at.x, at.y, at.z, a);
  out[0] = a[0]! + ((cell % kind.columns) - kind.columns / 2) * wide;
  out[1] = a[1]! + (Math.floor(cell / kind.columns) - kind.rows / 2) * high;
  out[2] = wide;
  out[3] = high;
}
const box = [0, 0, 0, 0];
function drawCellGlow(g: CanvasRenderingContext2D, view: RoomView, lamp: RoomLamp): void {
  const { light } = lamp.seen;
  if (light.length > 3 * BEAMS_MOST) return;
  for (let cell = 0; 3 * cell < light.length; cell++) {
    const bright = brightest(light, 3 * cell);
    if (bright < 0.04) continue;
    cellBox(view, lamp, cell, box);
    g.globalAlpha = 0.16 * bright;
    g.fillStyle = ink(light, 3 * cell);
    g.fillRect(box[0]! - box[2]! * 0.6, box[1]! - box[3]! * 3.2, box[2]! * 2.2, box[3]! * 4.2);
  }
  g.globalAlpha = 1;
}

function drawBody(g: CanvasRenderingContext2D, view: RoomView, lamp: RoomLamp): void {
  const { kind, at, seen } = lamp,
    s = scaleAt(view, at.z);
  if (seen.light.length > 3) {
    for (let cell = 0; 3 * cell < seen.light.length; cell++) {
      cellBox(view, lamp, cell, box);
      g.fillStyle = '#211a13';
      g.fillRect(box[0]!, box[1]!, box[2]! - 1, box[3]!);
      g.fillStyle = ink(seen.light, 3 * cell);
      g.fillRect(box[0]! + 1, box[1]! + 1, Math.max(1, box[2]! - 3), Math.max(1, box[3]! - 2));
    }
    return;
  }
  drawnAt(view, at.x, at.y, at.z, a);
  const [x, y] = a as [number, number],
    r = Math.max(3, (kind.pan ? 0.24 : 0.19) * s);
  if (kind.beam <= 0) {
    // Haze: a box with a mouth, and a puff as thick as it is told.
    g.fillStyle = PAPER;
    g.fillRect(x - r, y - r * 0.6, 2 * r, r * 1.3);
    g.fillStyle = INK;
    g.fillRect(x + r * 0.2, y - r * 0.2, r * 0.5, r * 0.5);
    if (seen.haze > 0) {
      g.fillStyle = `rgba(200,190,170,${(0.5 * seen.haze).toFixed(2)})`;
      g.beginPath();
      g.ellipse(x + r * 2.2, y, r * (1 + seen.haze), r * 0.8, 0, 0, 7);
      g.fill();
    }
    return;
  }
  if (kind.pan) {
    g.fillStyle = '#4a3d2c';
    g.fillRect(x - r * 0.5, y + (at.hangs ? -1.9 : 0.9) * r, r, r);
  }
  g.fillStyle = PAPER;
  g.beginPath();
  g.arc(x, y, r, 0, 7);
  g.fill();
  g.fillStyle = INK;
  g.beginPath();
  g.arc(x, y, r * 0.86, 0, 7);
  g.fill();
  g.fillStyle = ink(seen.light);
  g.beginPath();
  g.arc(x, y, r * 0.72, 0, 7);
  g.fill();
  if (seen.strobe > 0) {
    // It is not made to flash here: whoever sits before it is told.
    g.fillStyle = PAPER;
    g.font = '700 13px "Atkinson Hyperlegible"';
    g.textAlign = 'center';
    g.fillText(`${seen.strobe.toFixed(1)} Hz`, x, y - r - 5);
  }
}
