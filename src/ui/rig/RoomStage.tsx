'use client';
import { Box } from '@mui/material';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { isHead, type Point } from '../../core/lights';
import { patchFixture } from '../../core/show';
import { say } from '../state/notices';
import { currentShow, edit, endDrag, useSession } from '../state/session';
import { drawAwning, drawSheet } from './drawRoom';
import { useLaserSetting } from './laser/laserDesk';
import { Eye } from './laser/LaserStage';
import { aimAll, type AimEnd, aimOf, isTurned, spotOf } from './aiming';
import { takesPicture } from './LayPicture';
import { RoomCanvas } from './RoomCanvas';
import type { RoomLamp } from './roomLamps';
import { drawnAt, pointAt, scaleAt, type Side, surfaceAt, viewOf } from './roomView';

/** More lamps than this are picked on the drawing and in the patch alone. */
const HANDLES_MOST = 200;
/** Metres: lamps are put on a grid as wide as this, unless Alt is held. */
const GRID = 0.25;
const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

const snapped = (x: number, free: boolean): number => (free ? x : Math.round(x / GRID) * GRID);
const tidy = (x: number): number => Math.round(x * 1000) / 1000;

/** Puts lamps where they are, moved by so many metres: in height from the front, in depth from above. */
function moveLamps(lamps: readonly RoomLamp[], by: Point, free: boolean, mark: string): void {
  edit(
    lamps.length === 1 ? `place ${lamps[0]!.fixture.name}` : `place ${lamps.length} lamps`,
    (d) => {
      for (const { fixture, at } of lamps)
        patchFixture(fixture.id, {
          at: {
            ...at,
            x: tidy(snapped(at.x + by.x, free || by.x === 0)),
            y: tidy(Math.max(0, snapped(at.y + by.y, free || by.y === 0))),
            z: tidy(Math.max(0, snapped(at.z + by.z, free || by.z === 0))),
          },
        })(d);
    },
    mark,
  );
}
export function aimHeads(
  heads: readonly RoomLamp[],
  spot: Point,
  end: AimEnd,
  mark: string | null = null,
): void {
  const { command, missed } = aimAll(currentShow(), heads, spot, end);
  edit(heads.length === 1 ? `aim ${heads[0]!.fixture.name}` : `aim ${heads.length} heads`, command, mark);
  if (missed > 0 && mark === null)
    say(
      'warning',
      `${missed === 1 ? 'One head' : `${missed} heads`} cannot reach that spot. Widen the limits of tilt, or hang it elsewhere.`,
    );
}

/**
 * The room, handled: lamps are pressed to select and dragged to place, and the heads that are selected are aimed by dragging the spot
 * that they point at. By keyboard: the arrows move what has the focus, a tenth of a metre, or a whole one with Shift.
 */
export function RoomStage({
  side,
  lamps,
  chosen,
  onChoose,
}: {
  readonly side: Side;
  readonly lamps: readonly RoomLamp[];
  readonly chosen: ReadonlySet<string>;
  readonly onChoose: (id: string, more: boolean) => void;
}) {
  const room = useSession((s) => s.history.show.room),
    show = useSession((s) => s.history.show);
  const box = useRef<HTMLDivElement>(null),
    laser = useLaserSetting(),
    eye = useMemo(() => new Eye(laser), [laser]);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const watch = new ResizeObserver(([e]) => {
      if (e) setSize({ width: e.contentRect.width, height: e.contentRect.height });
    });
    if (box.current) watch.observe(box.current);
    return () => watch.disconnect();
  }, []);
  const view = viewOf(side, room, size.width, size.height);
  const drag = useRef<{
    x: number;
    y: number;
    moved: boolean;
    from: readonly RoomLamp[];
    grip: RoomLamp;
  } | null>(null);
  const laid = lamps.filter((l) => takesPicture(show, l.fixture.id));
  const selected = lamps.filter((l) => chosen.has(l.fixture.id)),
    heads = selected.filter((l) => isHead(l.kind));
  const place = (x: number, y: number, z: number): { x: number; y: number } => {
    const out = [0, 0];
    drawnAt(view, x, y, z, out);
    return { x: out[0]!, y: out[1]! };
  };
  const local = (e: PointerEvent): { x: number; y: number } => {
    const r = box.current!.getBoundingClientRect();
    return { x: e.clientX - r.left, y: e.clientY - r.top };
  };

  const down = (e: PointerEvent, lamp: RoomLamp): void => {
    if (e.button !== 0) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    const more = e.shiftKey || e.metaKey || e.ctrlKey;
    const keep = chosen.has(lamp.fixture.id) && !more;
    if (!keep) onChoose(lamp.fixture.id, more);
    const { x, y } = local(e);
    drag.current = {
      x,
      y,
      moved: false,
      from: keep ? selected : [lamp],
      grip: lamp,
    };
  };
  const move = (e: PointerEvent): void => {
    const d = drag.current;
    if (!d) return;
    const { x, y } = local(e);
    if (!d.moved && Math.hypot(x - d.x, y - d.y) < 5) return;
    d.moved = true;
    const { at } = d.grip,
      was = pointAt(view, d.x, d.y, at),
      now = pointAt(view, x, y, at);
    moveLamps(d.from, { x: now.x - was.x, y: now.y - was.y, z: now.z - was.z }, e.altKey, 'place lamps');
  };
  const up = (): void => {
    const d = drag.current;
    drag.current = null;
    if (d?.moved) endDrag();
    else if (d && d.from.length > 1) onChoose(d.grip.fixture.id, false);
  };
  const key = (e: KeyboardEvent, lamp: RoomLamp): void => {
    const arrow = ARROWS[e.key];
    if (!arrow) return;
    e.preventDefault();
    e.stopPropagation();
    const step = e.shiftKey ? 1 : 0.1,
      across = arrow[0] * step,
      along = arrow[1] * step;
    moveLamps(
      chosen.has(lamp.fixture.id) ? selected : [lamp],
      side === 'front' ? { x: across, y: along, z: 0 } : { x: across, y: 0, z: -along },
      true,
      `place ${lamp.fixture.id}`,
    );
  };

  return (
    <Box
      ref={box}
      sx={{ position: 'relative', width: '100%', height: '100%', overflow: 'hidden', background: '#080707' }}
    >
      <RoomCanvas
        side={side}
        lamps={lamps}
        under={(g, view) => {
          if (show.laserFigures.length === 0) return;
          eye.look(performance.now());
          drawAwning(g, view, (place) => eye.drawAt(g, place, true));
        }}
        over={(g, view) => drawSheet(g, view, laid)}
        sx={{ position: 'absolute', inset: 0 }}
      />
      {lamps.length <= HANDLES_MOST &&
        size.width > 0 &&
        lamps.map((lamp) => {
          const { fixture, at, kind } = lamp,
            on = chosen.has(fixture.id),
            { x, y } = place(at.x, at.y, at.z),
            r = Math.max(17, (kind.pan ? 0.26 : 0.2) * scaleAt(view, at.z) + 4);
          return (
            <Box
              key={fixture.id}
              component="button"
              aria-label={`Select ${fixture.name}`}
              aria-pressed={on}
              title={`${fixture.name}: press to select, drag to place`}
              onPointerDown={(e: PointerEvent) => down(e, lamp)}
              onPointerMove={move}
              onPointerUp={up}
              onPointerCancel={up}
              onClick={(e) => {
                // By keyboard; a pointer has chosen already.
                if (e.detail === 0) onChoose(fixture.id, e.shiftKey);
              }}
              onKeyDown={(e: KeyboardEvent) => key(e, lamp)}
              sx={(t) => ({
                all: 'unset',
                position: 'absolute',
                left: x - r,
                top: y - r,
                width: 2 * r,
                height: 2 * r,
                borderRadius: kind.columns * kind.rows > 1 ? 0 : '50%',
                cursor: 'grab',
                touchAction: 'none',
                boxShadow: on ? `0 0 0 3px ${t.ink.selected}` : 'none',
                '&:focus-visible': { outline: `3px solid ${t.ink.now}` },
              })}
            />
          );
        })}
      {heads.map((head) => {
        const ends: AimEnd[] = isTurned(show, head.fixture.id) ? ['rest', 'reach'] : ['rest'];
        return ends.map((end) => {
          const want = aimOf(show, head, end);
          if (!want || size.width === 0) return null;
          const spot = spotOf(head, want, room),
            { x, y } = place(spot.x, spot.y, spot.z);
          return (
            <SpotHandle
              key={`${head.fixture.id} ${end}`}
              x={x}
              y={y}
              end={end}
              name={head.fixture.name}
              onMove={(px, py) => aimHeads(heads, surfaceAt(view, px, py), end, `aim ${end}`)}
              onStep={(dx, dy) => {
                const moved =
                  side === 'front' && spot.z < 0.01
                    ? { x: spot.x + dx, y: Math.max(0, spot.y + dy), z: 0 }
                    : { x: spot.x + dx, y: spot.y, z: Math.max(0, spot.z - dy) };
                aimHeads([head], moved, end, `aim ${end} ${head.fixture.id}`);
              }}
              local={local}
            />
          );
        });
      })}
    </Box>
  );
}

/** The spot that a head points at: a ring where it rests, a flag where its routes take it. */
function SpotHandle({
  x,
  y,
  end,
  name,
  onMove,
  onStep,
  local,
}: {
  readonly x: number;
  readonly y: number;
  readonly end: AimEnd;
  readonly name: string;
  readonly onMove: (x: number, y: number) => void;
  readonly onStep: (dx: number, dy: number) => void;
  readonly local: (e: PointerEvent) => { x: number; y: number };
}) {
  const held = useRef(false);
  const what = end === 'rest' ? 'points here at rest' : 'points here when its routes are at full';
  return (
    <Box
      component="button"
      aria-label={`${name} ${what}`}
      title={`${name} ${what}: drag it`}
      onPointerDown={(e: PointerEvent) => {
        if (e.button !== 0) return;
        held.current = true;
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e: PointerEvent) => {
        if (!held.current) return;
        const p = local(e);
        onMove(p.x, p.y);
      }}
      onPointerUp={() => {
        if (held.current) endDrag();
        held.current = false;
      }}
      onPointerCancel={() => {
        held.current = false;
      }}
      onKeyDown={(e: KeyboardEvent) => {
        const arrow = ARROWS[e.key];
        if (!arrow) return;
        e.preventDefault();
        e.stopPropagation();
        const step = e.shiftKey ? 1 : 0.1;
        onStep(arrow[0] * step, arrow[1] * step);
      }}
      sx={(t) => ({
        all: 'unset',
        position: 'absolute',
        left: x - 22,
        top: y - 22,
        width: 44,
        height: 44,
        borderRadius: '50%',
        cursor: 'crosshair',
        touchAction: 'none',
        display: 'grid',
        placeItems: 'center',
        border: end === 'rest' ? '2px dashed #f2e9d4' : 'none',
        boxSizing: 'border-box',
        '&:focus-visible': { outline: `3px solid ${t.ink.now}` },
      })}
    >
      {end === 'reach' && (
        <svg width="30" height="30" viewBox="0 0 30 30" aria-hidden>
          <path d="M8 3v25" stroke="#f2e9d4" strokeWidth="3" />
          <path d="M8 3h17l-5 6 5 6H8z" fill="#f2e9d4" />
        </svg>
      )}
    </Box>
  );
}
