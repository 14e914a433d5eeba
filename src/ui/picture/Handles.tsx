'use client';
import { Box } from '@mui/material';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import {
  anchorOf,
  type Bounds,
  boxOf,
  figureParameters,
  nearestAnchor,
  snap,
  type Snapped,
} from '../../core/figures';
import type { NumberParameter } from '../../core/parameters';
import { changeFigure, type Figure, restOf, setRests } from '../../core/show';
import { clamp } from '../../core/units';
import { edit, endDrag, useSession } from '../state/session';
import { look } from '../state/view';
import { restBounds } from './groupAnchor';
import { useSurface } from './surface';
import { AnchorDots } from './AnchorDots';
import { growFrom } from './growFrom';

type Grip = 'move' | 'size' | 'turn' | 'anchor';
interface Drag {
  readonly grip: Grip;
  readonly id: string;
  readonly x: number;
  readonly y: number;
  readonly from: { x: number; y: number };
  readonly size: number;
  readonly turn: number;
  moved: boolean;
}

const sizeOf = (f: Figure): NumberParameter | undefined =>
  figureParameters(f.form.kind).find(
    (p): p is NumberParameter =>
      p.id === 'size' && p.kind === 'number' && f.form.kind !== 'stars' && f.form.kind !== 'lanterns',
  );
const turnOf = (f: Figure): NumberParameter | undefined =>
  figureParameters(f.form.kind).find(
    (p): p is NumberParameter =>
      (p.id === 'turn' || p.id === 'tilt') && p.kind === 'number' && f.form.kind !== 'stars',
  );
const fixed = (f: Figure): boolean =>
  f.form.kind === 'ground' || (f.form.kind === 'texture' && f.form.whole) || (f.cover ?? null) !== null;
const pc = (n: number, of: number): string => `${(n / of) * 100}%`;

/**
 * The selected figure, handled on the picture itself: pressed to select, dragged to move (drawn to middles and edges unless Alt is
 * held), sized at its corners, turned at its knob; by keyboard with arrows, + and −, and , and . to turn.
 */
export function Handles({
  figure,
  figures,
}: {
  readonly figure: Figure;
  readonly figures: readonly Figure[];
}) {
  const surface = useSurface(),
    { width, height } = surface;
  const drag = useRef<Drag | null>(null),
    groups = useSession((s) => s.history.show.figureGroups);
  const [lines, setLines] = useState<Snapped | null>(null);
  const [dragged, setDragged] = useState<Grip | null>(null);
  const sizing = sizeOf(figure),
    turning = turnOf(figure);
  const rest = (f: Figure, p: NumberParameter | undefined, otherwise: number): number =>
    p ? (restOf(f, p) as number) : otherwise;
  const bounds = (f: Figure): Bounds => restBounds(f, surface);
  const b = bounds(figure),
    box = boxOf(figure, surface),
    anchor = anchorOf(figure),
    turn = rest(figure, turning, 0);
  const at = (e: PointerEvent<HTMLElement>): { x: number; y: number } => {
    const r = e.currentTarget.getBoundingClientRect(),
      scale = width / r.width;
    return { x: (e.clientX - r.left) * scale, y: height - (e.clientY - r.top) * scale };
  };
  const begin = (e: PointerEvent<HTMLElement>, f: Figure, grip: Grip, p: { x: number; y: number }): void => {
    e.currentTarget.setPointerCapture(e.pointerId);
    setDragged(grip);
    drag.current = {
      grip,
      id: f.id,
      ...p,
      from: f.at,
      size: rest(f, sizeOf(f), 1),
      turn: rest(f, turnOf(f), 0),
      moved: grip === 'anchor',
    };
  };
  const down = (e: PointerEvent<HTMLElement>): void => {
    const p = at(e),
      grip = (e.target as HTMLElement).dataset.grip as Grip | undefined;
    if (grip && !figure.locked) {
      begin(e, figure, grip, p);
      return;
    }
    const inside = (f: Figure): boolean => {
      const o = bounds(f);
      return p.x >= o.x && p.x <= o.x + o.w && p.y >= o.y && p.y <= o.y + o.h;
    };
    const free = (f: Figure): boolean =>
      !f.hidden && !f.locked && !fixed(f) && !groups.some((g) => g.id === f.group && (g.hidden || g.locked));
    const hit =
      free(figure) && inside(figure) ? figure : [...figures].reverse().find((f) => free(f) && inside(f));
    if (!hit) return;
    look({ figure: hit.id, finish: null, also: [] });
    begin(e, hit, 'move', p);
  };
  const move = (e: PointerEvent<HTMLElement>): void => {
    const d = drag.current,
      target = figures.find((f) => f.id === d?.id);
    if (!d || !target) return;
    const p = at(e);
    if (!d.moved && Math.hypot(p.x - d.x, p.y - d.y) < 6) return;
    d.moved = true;
    if (d.grip === 'move') {
      const wish = {
        ...target,
        at: { x: Math.round(d.from.x + p.x - d.x), y: Math.round(d.from.y + p.y - d.y) },
      };
      const drawn = e.altKey
        ? null
        : snap(
            bounds(wish),
            figures.filter((f) => f.id !== d.id && !f.hidden && !fixed(f)).map(bounds),
            surface,
          );
      setLines(drawn);
      edit(
        `place ${target.name}`,
        changeFigure(d.id, {
          at: { x: Math.round(wish.at.x + (drawn?.dx ?? 0)), y: Math.round(wish.at.y + (drawn?.dy ?? 0)) },
        }),
        `place ${d.id}`,
      );
      return;
    }
    if (d.grip === 'anchor') {
      // From its anchor, turned back, in shares of its box.
      const own = boxOf(target, surface),
        o = bounds(target),
        back = (-rest(target, turnOf(target), 0) * Math.PI) / 180,
        x = p.x - target.at.x,
        y = p.y - target.at.y;
      const to = nearestAnchor(
        own.anchorX + (x * Math.cos(back) - y * Math.sin(back)) / Math.max(1, o.w),
        own.anchorY + (x * Math.sin(back) + y * Math.cos(back)) / Math.max(1, o.h),
      );
      if (to !== anchorOf(target)) growFrom(target, to, `anchor ${d.id}`);
      return;
    }
    const angle = (q: { x: number; y: number }): number =>
      (Math.atan2(q.y - target.at.y, q.x - target.at.x) * 180) / Math.PI;
    if (d.grip === 'size') {
      const parameter = sizeOf(target),
        far = Math.hypot(d.x - target.at.x, d.y - target.at.y);
      if (parameter && far > 1)
        edit(
          `size of ${target.name}`,
          setRests(d.id, {
            size: clamp(
              Math.round(((d.size * Math.hypot(p.x - target.at.x, p.y - target.at.y)) / far) * 100) / 100,
              Math.max(0.02, parameter.min),
              parameter.max,
            ),
          }),
          `size ${d.id}`,
        );
    } else {
      const parameter = turnOf(target);
      let to = d.turn + angle(p) - angle(d);
      to = ((((to + 180) % 360) + 360) % 360) - 180;
      // Upright and lying are easy to meet.
      if (!e.altKey) for (const right of [-180, -90, 0, 90, 180]) if (Math.abs(to - right) < 4) to = right;
      if (parameter)
        edit(
          `turn ${target.name}`,
          setRests(d.id, { [parameter.id]: Math.round(to * 2) / 2 }),
          `turn ${d.id}`,
        );
    }
  };
  const up = (): void => {
    if (drag.current?.moved) endDrag();
    drag.current = null;
    setDragged(null);
    setLines(null);
  };
  const keys = (e: KeyboardEvent): void => {
    if (figure.locked || fixed(figure)) return;
    const n = e.shiftKey ? 10 : 1;
    const by = { ArrowLeft: [-n, 0], ArrowRight: [n, 0], ArrowUp: [0, n], ArrowDown: [0, -n] }[e.key];
    const larger = e.key === '+' || e.key === '=' ? 1 : e.key === '-' || e.key === '−' ? -1 : 0,
      round = e.key === ',' ? 1 : e.key === '.' ? -1 : 0;
    if (by)
      edit(
        `place ${figure.name}`,
        changeFigure(figure.id, { at: { x: figure.at.x + by[0]!, y: figure.at.y + by[1]! } }),
        `place ${figure.id}`,
      );
    else if (larger && sizing)
      edit(
        `size of ${figure.name}`,
        setRests(figure.id, {
          size: clamp(Math.round((rest(figure, sizing, 1) + larger * 0.05) * 100) / 100, 0.05, sizing.max),
        }),
        `size ${figure.id}`,
      );
    else if (round && turning)
      edit(
        `turn ${figure.name}`,
        setRests(figure.id, {
          [turning.id]: clamp(turn + round * (e.shiftKey ? 10 : 1), turning.min, turning.max),
        }),
        `turn ${figure.id}`,
      );
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const grip = {
    position: 'absolute',
    width: 13,
    height: 13,
    m: '-7px',
    background: '#f2e9d4',
    border: '1.5px solid #14110f',
  } as const;
  return (
    <Box
      role="application"
      tabIndex={0}
      aria-label={`${figure.name} in the picture. Arrow keys move it, with Shift by ten; plus and minus size it, comma and full stop turn it.`}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      onKeyDown={keys}
      sx={{ position: 'absolute', inset: 0, touchAction: 'none', cursor: 'move' }}
    >
      {!fixed(figure) && (
        <Box
          aria-hidden
          sx={{
            position: 'absolute',
            left: pc(b.x, width),
            top: pc(height - b.y - b.h, height),
            width: pc(b.w, width),
            height: pc(b.h, height),
            border: `2px ${figure.locked ? 'solid' : 'dotted'} #f2e9d4`,
            transformOrigin: `${box.anchorX * 100}% ${(1 - box.anchorY) * 100}%`,
            transform: turn ? `rotate(${-turn}deg)` : 'none',
          }}
        >
          {!figure.locked &&
            sizing &&
            [
              [0, 0],
              [1, 0],
              [0, 1],
              [1, 1],
            ].map(([x, y]) => (
              <Box
                key={`${x}${y}`}
                data-grip="size"
                title="Drag to size it"
                sx={{
                  ...grip,
                  left: `${x! * 100}%`,
                  top: `${y! * 100}%`,
                  transform: 'rotate(45deg)',
                  cursor: 'nwse-resize',
                }}
              />
            ))}
          {!figure.locked && turning && (
            <>
              <Box
                sx={{
                  position: 'absolute',
                  left: '50%',
                  top: -22,
                  height: 22,
                  borderLeft: '2px dotted #f2e9d4',
                }}
              />
              <Box
                data-grip="turn"
                title="Drag to turn it"
                sx={{ ...grip, left: '50%', top: -26, borderRadius: '50%', cursor: 'grab' }}
              />
            </>
          )}
          {anchor && !figure.locked && dragged === 'anchor' && <AnchorDots />}
          <Box
            {...(anchor && !figure.locked && { 'data-grip': 'anchor', title: 'Drag to where it grows from' })}
            sx={(t) => ({
              position: 'absolute',
              left: pc(box.anchorX, 1),
              bottom: pc(box.anchorY, 1),
              borderLeft: '8px solid transparent',
              borderRight: '8px solid transparent',
              borderBottom: `13px solid ${t.ink.selected}`,
              ml: '-8px',
              mb: '-6px',
              ...(anchor && !figure.locked ? { cursor: 'crosshair', zIndex: 1 } : { pointerEvents: 'none' }),
            })}
          />
        </Box>
      )}
      {lines?.lineX !== null && lines?.lineX !== undefined && (
        <Box
          aria-hidden
          sx={(t) => ({
            position: 'absolute',
            top: 0,
            bottom: 0,
            left: pc(lines.lineX!, width),
            borderLeft: `1.5px solid ${t.ink.selected}`,
          })}
        />
      )}
      {lines?.lineY !== null && lines?.lineY !== undefined && (
        <Box
          aria-hidden
          sx={(t) => ({
            position: 'absolute',
            left: 0,
            right: 0,
            bottom: pc(lines.lineY!, height),
            borderTop: `1.5px solid ${t.ink.selected}`,
          })}
        />
      )}
    </Box>
  );
}
