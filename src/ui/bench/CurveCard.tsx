'use client';
import { Box } from '@mui/material';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { CURVE_POINTS_MOST, curveAt, type CurvePoint } from '../../core/shaping';
import { clamp } from '../../core/units';
import { useFrame } from '../live/live';
import { endDrag } from '../state/session';

const W = 236,
  H = 62,
  PAD = 9;
const GAP = 0.02;
const px = (x: number): number => PAD + x * (W - 2 * PAD);
const py = (y: number): number => H - PAD - y * (H - 2 * PAD);

/**
 * The curve with its handles: dragged, moved with the arrow keys, added by pressing between two, taken out with Delete. The
 * maize mark is where the number is now.
 */
export function CurveCard({
  points,
  now,
  set,
}: {
  readonly points: readonly CurvePoint[];
  readonly now: () => number;
  readonly set: (points: readonly CurvePoint[]) => void;
}) {
  const grip = useRef<number | null>(null);
  const mark = useRef<SVGRectElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  useFrame(() => {
    const x = now();
    if (mark.current)
      mark.current.setAttribute('x', String(Number.isFinite(x) ? px(clamp(x, 0, 1)) - 2 : -9));
  });
  const place = (i: number, x: number, y: number): readonly CurvePoint[] =>
    points.map((p, k): CurvePoint => {
      if (k !== i) return p;
      const low = i === 0 ? 0 : points[i - 1]![0] + GAP,
        high = i === points.length - 1 ? 1 : points[i + 1]![0] - GAP;
      // The ends keep their sides: beyond them there would be nothing.
      return [
        i === 0 ? 0 : i === points.length - 1 ? 1 : Number(clamp(x, low, high).toFixed(3)),
        Number(clamp(y, 0, 1).toFixed(3)),
      ];
    });
  const at = (e: PointerEvent): [number, number] => {
    const r = svg.current!.getBoundingClientRect();
    return [
      (((e.clientX - r.left) / r.width) * W - PAD) / (W - 2 * PAD),
      1 - (((e.clientY - r.top) / r.height) * H - PAD) / (H - 2 * PAD),
    ];
  };
  const down = (e: PointerEvent<SVGSVGElement>): void => {
    const [x, y] = at(e);
    const near = points.findIndex(([a, b]) => Math.hypot(px(a) - px(x), py(b) - py(y)) < 14);
    e.currentTarget.setPointerCapture(e.pointerId);
    if (near >= 0) {
      grip.current = near;
      return;
    }
    const i = points.findIndex(([a]) => a > x);
    if (i <= 0 || points.length >= CURVE_POINTS_MOST) return;
    set([
      ...points.slice(0, i),
      [
        Number(clamp(x, points[i - 1]![0] + GAP, points[i]![0] - GAP).toFixed(3)),
        Number(clamp(y, 0, 1).toFixed(3)),
      ],
      ...points.slice(i),
    ]);
    grip.current = i;
  };
  const move = (e: PointerEvent): void => {
    if (grip.current !== null && grip.current < points.length) set(place(grip.current, ...at(e)));
  };
  const up = (): void => {
    if (grip.current !== null) {
      grip.current = null;
      endDrag();
    }
  };
  const keys =
    (i: number) =>
    (e: KeyboardEvent): void => {
      const by = e.shiftKey ? 0.1 : 0.01,
        [x, y] = points[i]!;
      if ((e.key === 'Delete' || e.key === 'Backspace') && i > 0 && i < points.length - 1) {
        e.preventDefault();
        e.stopPropagation();
        set(points.filter((_, k) => k !== i));
        return;
      }
      const dx = e.key === 'ArrowRight' ? by : e.key === 'ArrowLeft' ? -by : 0,
        dy = e.key === 'ArrowUp' ? by : e.key === 'ArrowDown' ? -by : 0;
      if (dx || dy) {
        e.preventDefault();
        set(place(i, x + dx, y + dy));
      }
    };
  const path = Array.from(
    { length: 60 },
    (_, i) => `${i ? 'L' : 'M'}${px(i / 59).toFixed(1)} ${py(curveAt(points, i / 59)).toFixed(1)}`,
  ).join('');
  return (
    <Box
      component="svg"
      ref={svg}
      viewBox={`0 0 ${W} ${H}`}
      aria-label="Curve"
      role="group"
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      sx={(t) => ({
        width: '100%',
        height: 62,
        display: 'block',
        touchAction: 'none',
        cursor: 'crosshair',
        color: t.ink.paperText,
        '& circle:focus-visible': { outline: `3px solid ${t.ink.now}` },
      })}
    >
      <path d={`M${px(0)} ${py(0)}H${px(1)}V${py(1)}`} fill="none" stroke="var(--bed)" strokeWidth={1.5} />
      <Box component="rect" ref={mark} y={2} width={4} height={H - 4} sx={(t) => ({ fill: t.ink.now })} />
      <path d={path} fill="none" stroke="currentColor" strokeWidth={3} />
      {points.map(([x, y], i) => (
        <circle
          key={i}
          cx={px(x)}
          cy={py(y)}
          r={7}
          fill="currentColor"
          tabIndex={0}
          role="slider"
          aria-label={`Point ${i + 1} of the curve`}
          aria-valuemin={0}
          aria-valuemax={1}
          aria-valuenow={y}
          aria-valuetext={`${x} becomes ${y}`}
          onKeyDown={keys(i)}
          style={{ cursor: 'grab' }}
        />
      ))}
    </Box>
  );
}
