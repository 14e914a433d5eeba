'use client';
import { Box } from '@mui/material';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { FieldMap, type LaserSetting, nearest, POINT, POINTS_MOST, Rehearsal } from '../../../core/laser';
import { LaserViewReader, SEEN_KEPT } from '../../../engine/memory/laserView';
import { useCanvas } from '../../controls/canvas';
import { theEngine, useSession } from '../../state/session';
import { drawField, drawSeen, drawWanted, EYE_POINTS, fieldBox, toX, toY, type FieldBox } from './drawField';
import { endLaserDrag, setLaser, useLaserSetting } from './laserDesk';

const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};
/** What is written under the field about what is drawn. */
export interface FieldNumbers {
  /** Of the way, what is dark: 0 to 1. */
  readonly dark: number;
  readonly points: number;
  readonly leftOut: number;
  readonly spacing: number;
  /** Of dwells at corners. */
  readonly repeats: number;
  /** From the nearest keep-out, in degrees; null where nothing is lit or there is none. */
  readonly away: number | null;
  /** Of what was meant to be lit, what the gate let through in the rehearsal. */
  readonly passed: number;
}
const NUMBERS_EVERY_MS = 300;
/** Light that went out by now is not light any more, however long the ring keeps it. */
const SEEN_FOR_MS = 250;

/**
 * The laser's field: what is wanted in thin lines, and over it what its mirrors draw, from the points that the projector got; while
 * nothing is lit, what they would draw.
 */
export function LaserStage({
  zones,
  onNumbers,
}: {
  /** The zones are being set. */
  readonly zones: boolean;
  readonly onNumbers: (numbers: FieldNumbers) => void;
}) {
  const setting = useLaserSetting(),
    lit = useSession((s) => s.outlets?.laser?.state?.step === 'armed');
  const [size, setSize] = useState({ width: 0, height: 0 });
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const watch = new ResizeObserver(([e]) => {
      if (e) setSize({ width: e.contentRect.width, height: e.contentRect.height });
    });
    if (box.current) watch.observe(box.current);
    return () => watch.disconnect();
  }, []);
  const eye = useMemo(() => new Eye(setting), [setting]);
  const told = useRef(0);
  const ref = useCanvas(({ g, width, height }, now) => {
    const b = fieldBox(width, height);
    drawField(g, b, setting);
    eye.look(now);
    drawWanted(g, b, eye.laid, eye.count, setting.scanner.colourShift);
    eye.draw(g, b, lit);
    if (now - told.current > NUMBERS_EVERY_MS) {
      told.current = now;
      onNumbers(eye.numbers(lit));
    }
  });
  return (
    <Box
      ref={box}
      sx={{ position: 'relative', width: '100%', height: '100%', minHeight: 0, background: '#080707' }}
    >
      <Box
        component="canvas"
        ref={ref}
        role="img"
        aria-label="The laser’s field, as its mirrors draw it"
        sx={{ position: 'absolute', inset: 0, display: 'block', width: '100%', height: '100%' }}
      />
      {size.width > 0 && <ZoneNames setting={setting} box={fieldBox(size.width, size.height)} />}
      {zones && size.width > 0 && <ZoneHandles setting={setting} box={fieldBox(size.width, size.height)} />}
    </Box>
  );
}

/** Reads what the laser is to draw and what its mirrors drew, and keeps what both look like. */
export class Eye {
  readonly laid = new Float32Array(POINT * POINTS_MOST);
  readonly #setting: LaserSetting;
  readonly #map: FieldMap;
  readonly #rehearsal: Rehearsal;
  #reader: LaserViewReader | null = null;
  #seen = 0;
  #seenAt = -Infinity;
  #now = 0;

  constructor(setting: LaserSetting) {
    this.#setting = setting;
    this.#map = new FieldMap(setting.field);
    this.#rehearsal = new Rehearsal(setting);
  }
  get count(): number {
    return this.#reader?.count ?? 0;
  }
  look(now: number): void {
    const memory = theEngine()?.laserMemory;
    if (!memory) return;
    if (!this.#reader) {
      this.#reader = new LaserViewReader(memory);
      // What mirrors drew before anybody looked is no light any more.
      this.#seen = this.#reader.seenCount;
    }
    const r = this.#reader;
    r.read();
    this.laid.set(r.wanted.subarray(0, r.count * POINT));
    this.#map.apply(this.laid, r.count);
    this.#rehearsal.draw(r.wanted, r.count, now);
    const seen = r.seenCount;
    if (seen !== this.#seen) this.#seenAt = now;
    this.#seen = seen;
    this.#now = now;
  }
  /** Whether mirrors moved of late. */
  get #moves(): boolean {
    return this.#now - this.#seenAt < SEEN_FOR_MS;
  }
  draw(g: CanvasRenderingContext2D, b: FieldBox, lit: boolean): void {
    const place = (x: number, y: number, out: number[]): void => {
      out[0] = toX(b, x);
      out[1] = toY(b, y);
    };
    this.drawAt(g, place, lit);
  }
  /** @param lit - what was seen is drawn; otherwise what would be, more faintly */
  drawAt(
    g: CanvasRenderingContext2D,
    place: (x: number, y: number, out: number[]) => void,
    lit: boolean,
  ): void {
    const r = this.#reader;
    if (lit && r && this.#moves)
      drawSeen(g, place, r.seen, Math.max(0, this.#seen - EYE_POINTS), this.#seen, SEEN_KEPT, 1);
    else if (!lit) {
      const { points, count } = this.#rehearsal;
      drawSeen(g, place, points, 0, count, POINTS_MOST, 0.42);
    }
  }
  numbers(lit: boolean): FieldNumbers {
    const r = this.#reader,
      { limits, scanner } = this.#setting,
      { points, count, passed } = this.#rehearsal;
    const away = nearest(points, count, limits.keepOuts) * (scanner.angle / 2),
      way = (r?.litWay ?? 0) + (r?.darkWay ?? 0);
    return {
      dark: way > 0 ? (r?.darkWay ?? 0) / way : 0,
      points: r?.count ?? 0,
      leftOut: r?.cost.leftOut ?? 0,
      spacing: r?.cost.spacing ?? 1,
      repeats: r?.cost.repeats ?? 1,
      away: Number.isFinite(away) ? away : null,
      passed: lit ? 1 : passed,
    };
  }
}

const middle = (polygon: readonly number[]): [number, number] => {
  const n = polygon.length / 2;
  let x = 0,
    y = 0;
  for (let i = 0; i < polygon.length; i += 2) {
    x += polygon[i]! / n;
    y += polygon[i + 1]! / n;
  }
  return [x, y];
};
const clamp1 = (x: number): number => Math.max(-1, Math.min(1, Math.round(x * 1000) / 1000));

/** What each zone is, in words, in its middle. */
function ZoneNames({ setting, box }: { readonly setting: LaserSetting; readonly box: FieldBox }) {
  const { keepOuts, zones } = setting.limits;
  const label = (key: string, polygon: readonly number[], words: string) => {
    const [x, y] = middle(polygon);
    return (
      <Box
        key={key}
        sx={{
          position: 'absolute',
          left: toX(box, x),
          top: toY(box, y),
          transform: 'translate(-50%, -50%)',
          px: 1.25,
          py: 0.25,
          background: '#14110f',
          color: '#f2e9d4',
          fontWeight: 700,
          fontSize: '0.95rem',
          whiteSpace: 'nowrap',
          pointerEvents: 'none',
        }}
      >
        {words}
      </Box>
    );
  };
  return (
    <>
      {keepOuts.map((p, i) => label(`k${i}`, p, 'keep-out: never lit'))}
      {zones.map((z, i) => label(`z${i}`, z.polygon, `at most ${Math.round(z.most * 100)} %`))}
    </>
  );
}

/** Corners and the whole of each zone, dragged or moved by the arrow keys. */
function ZoneHandles({ setting, box }: { readonly setting: LaserSetting; readonly box: FieldBox }) {
  const { keepOuts, zones } = setting.limits;
  const drag = useRef<{ x: number; y: number } | null>(null);
  const set = (
    list: 'keepOuts' | 'zones',
    i: number,
    change: (p: readonly number[]) => number[],
    mark: string,
  ): void =>
    setLaser((s) => {
      const limits =
        list === 'keepOuts'
          ? { ...s.limits, keepOuts: s.limits.keepOuts.map((p, k) => (k === i ? change(p) : p)) }
          : {
              ...s.limits,
              zones: s.limits.zones.map((z, k) => (k === i ? { ...z, polygon: change(z.polygon) } : z)),
            };
      return { ...s, limits };
    }, mark);
  const moved = (p: readonly number[], corner: number | null, dx: number, dy: number): number[] => {
    if (corner !== null)
      return p.map((x, k) => (k === 2 * corner ? clamp1(x + dx) : k === 2 * corner + 1 ? clamp1(x + dy) : x));
    // All of it, as far as all of it stays in the field.
    const xs = p.filter((_, k) => k % 2 === 0),
      ys = p.filter((_, k) => k % 2 === 1),
      within = (d: number, list: readonly number[]): number =>
        Math.max(-1 - Math.min(...list), Math.min(1 - Math.max(...list), d));
    const mx = within(dx, xs),
      my = within(dy, ys);
    return p.map((x, k) => clamp1(x + (k % 2 === 0 ? mx : my)));
  };
  const handle = (
    list: 'keepOuts' | 'zones',
    i: number,
    corner: number | null,
    polygon: readonly number[],
    name: string,
  ) => {
    const [x, y] = corner === null ? middle(polygon) : [polygon[2 * corner]!, polygon[2 * corner + 1]!],
      mark = `${list} ${i} ${corner}`;
    const by = (dx: number, dy: number): void => set(list, i, (p) => moved(p, corner, dx, dy), mark);
    return (
      <Box
        key={`${list} ${i} ${corner}`}
        component="button"
        aria-label={`${corner === null ? 'Move' : `Corner ${corner + 1} of`} ${name}`}
        title="Drag it, or use the arrow keys"
        onPointerDown={(e: PointerEvent) => {
          if (e.button !== 0) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          drag.current = { x: e.clientX, y: e.clientY };
        }}
        onPointerMove={(e: PointerEvent) => {
          const d = drag.current;
          if (!d) return;
          by((e.clientX - d.x) / box.half, -(e.clientY - d.y) / box.half);
          drag.current = { x: e.clientX, y: e.clientY };
        }}
        onPointerUp={() => {
          drag.current = null;
          endLaserDrag();
        }}
        onPointerCancel={() => {
          drag.current = null;
        }}
        onKeyDown={(e: KeyboardEvent) => {
          const arrow = ARROWS[e.key];
          if (!arrow) return;
          e.preventDefault();
          e.stopPropagation();
          const step = e.shiftKey ? 0.1 : 0.01;
          by(arrow[0] * step, arrow[1] * step);
        }}
        sx={(t) => ({
          all: 'unset',
          position: 'absolute',
          left: toX(box, x) - 16,
          top: toY(box, y) - (corner === null ? 40 : 16),
          width: 32,
          height: 32,
          cursor: 'grab',
          touchAction: 'none',
          display: 'grid',
          placeItems: 'center',
          '&::after': {
            content: '""',
            width: corner === null ? 20 : 14,
            height: corner === null ? 20 : 14,
            background: corner === null ? t.ink.paper : t.ink.now,
            border: '2px solid #14110f',
            borderRadius: corner === null ? '50%' : 0,
          },
          '&:focus-visible': { outline: `3px solid ${t.ink.now}` },
        })}
      />
    );
  };
  const all = (list: 'keepOuts' | 'zones', polygons: readonly (readonly number[])[], words: string) =>
    polygons.flatMap((p, i) => {
      const name = `${words} ${i + 1}`;
      return [
        ...Array.from({ length: p.length / 2 }, (_, c) => handle(list, i, c, p, name)),
        handle(list, i, null, p, name),
      ];
    });
  return (
    <>
      {all('keepOuts', keepOuts, 'keep-out')}
      {all(
        'zones',
        zones.map((z) => z.polygon),
        'zone',
      )}
    </>
  );
}
