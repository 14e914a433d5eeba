'use client';
import { Box, useTheme } from '@mui/material';
import { useEffect, useLayoutEffect, useMemo, useRef, useState, type RefObject } from 'react';
import { signalsOf } from '../../core/show/signals';
import { routeSignal } from '../../core/plan/conductor';
import { parameterKey } from '../../core/show/things';
import type { Route, Show } from '../../core/show/types';
import { live, useFrame } from '../live/live';
import { useSession } from '../state/session';
import { look, useView } from '../state/view';

/** From here on only the ribbons of what is selected are drawn whole; the others are stubs with a count. */
const MANY = 24;
const BED = 13;
const GRAB = 32;
/** Level part of a ribbon at either end, before its fold. */
const FLAT = 34;

/** What one ribbon stands for: a route, or all routes of a folded group. */
interface Strip {
  readonly id: string;
  readonly signal: string;
  readonly key: string;
  readonly muted: boolean;
  readonly unseen: boolean;
  readonly routes: readonly Route[];
}
interface Line {
  readonly route: Strip;
  readonly d: string;
  readonly whole: boolean;
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
}

/** Places of rows relative to the board; ribbons leave a row spread over its height. */
function measure(
  board: HTMLElement,
  routes: readonly Strip[],
  near: (r: Strip) => boolean,
): { lines: Line[]; stubs: { x: number; y: number; n: number }[]; width: number; height: number } {
  const frame = board.getBoundingClientRect();
  const column = (name: string): DOMRect =>
    board.querySelector(`[data-column=${name}]`)!.getBoundingClientRect();
  const left = column('signals'),
    right = column('things');
  const rows = new Map<string, DOMRect>();
  for (const e of board.querySelectorAll<HTMLElement>('[data-signal]'))
    rows.set(`s ${e.dataset.signal}`, e.getBoundingClientRect());
  for (const e of board.querySelectorAll<HTMLElement>('[data-parameter]'))
    rows.set(`p ${e.dataset.parameter}`, e.getBoundingClientRect());
  const ends = new Map<string, Strip[]>();
  for (const r of routes)
    for (const key of [`s ${r.signal}`, `p ${r.key}`]) {
      const list = ends.get(key);
      if (list) list.push(r);
      else ends.set(key, [r]);
    }
  const spread = (key: string, route: Strip, bounds: DOMRect): number | null => {
    const row = rows.get(key);
    if (!row) return null;
    const all = ends.get(key)!,
      i = all.indexOf(route);
    const room = Math.min(row.height - 10, all.length * (BED + 3));
    const y = row.top + row.height / 2 + (all.length > 1 ? ((i + 0.5) / all.length - 0.5) * room : 0);
    return Math.min(bounds.bottom - 4, Math.max(bounds.top + 4, y)) - frame.top;
  };
  const lines: Line[] = [];
  const stubs = new Map<string, { x: number; y: number; n: number }>();
  for (const route of routes) {
    const a = spread(`s ${route.signal}`, route, left),
      b = spread(`p ${route.key}`, route, right);
    const x0 = left.right - frame.left,
      x1 = right.left - frame.left;
    const whole = routes.length <= MANY || near(route);
    if (!whole) {
      if (a !== null) {
        const key = `s ${route.signal}`;
        const s = stubs.get(key) ?? { x: x0 + 4, y: a, n: 0 };
        stubs.set(key, { ...s, n: s.n + 1 });
      }
      continue;
    }
    // A lost end is torn: the ribbon stops halfway.
    const y0 = a ?? b ?? 0,
      y1 = b ?? a ?? 0;
    const mid = (x0 + x1) / 2;
    const d =
      a === null
        ? torn(x1, y1, mid)
        : b === null
          ? torn(x0, y0, mid)
          : `M${x0} ${y0}L${x0 + FLAT} ${y0}L${x1 - FLAT} ${y1}L${x1} ${y1}`;
    lines.push({ route, d, whole, x0, y0, x1, y1 });
  }
  return { lines, stubs: [...stubs.values()], width: frame.width, height: frame.height };
}
/** Every route by itself, and every folded group as one. */
function stripsOf(show: Show): Strip[] {
  const folded = new Map(show.groups.filter((g) => g.folded).map((g) => [g.id, g]));
  const strips: Strip[] = show.routes
    .filter((r) => r.group === null || !folded.has(r.group))
    .map((r) => ({
      id: r.id,
      signal: r.signal,
      key: parameterKey(r.target),
      muted: r.muted || (show.groups.find((g) => g.id === r.group)?.muted ?? false),
      unseen: r.unseen !== null,
      routes: [r],
    }));
  for (const g of folded.values()) {
    const routes = show.routes.filter((r) => r.group === g.id);
    for (const signal of new Set(routes.map((r) => r.signal.split('/')[0]!)))
      strips.push({
        id: `${g.id} ${signal}`,
        signal,
        key: `group:${g.id}`,
        muted: g.muted,
        unseen: false,
        routes: routes.filter((r) => r.signal.split('/')[0] === signal),
      });
  }
  return strips;
}
function torn(x: number, y: number, mid: number): string {
  const s = Math.sign(mid - x);
  return `M${x} ${y}L${mid - s * 12} ${y}L${mid - s * 6} ${y - 5}L${mid} ${y + 3}L${mid + s * 4} ${y - 4}`;
}

/** One folded strip of paper a route. Its bed has one width; what is inside it is the present value. */
export function Ribbons({ board }: { readonly board: RefObject<HTMLDivElement | null> }) {
  const show = useSession((s) => s.history.show);
  const selected = useView((v) => v.route);
  const signal = useView((v) => v.signal);
  const aiming = useView((v) => v.aiming);
  const theme = useTheme();
  const [drawn, setDrawn] = useState<ReturnType<typeof measure>>({
    lines: [],
    stubs: [],
    width: 0,
    height: 0,
  });
  const [pointed, setPointed] = useState<string | null>(null);
  const kinds = useMemo(
    () => new Map(signalsOf({ ears: show.ears, makers: show.makers }).map((s) => [s.id, s.kind])),
    [show.ears, show.makers],
  );
  const inner = useRef(
    new Map<string, { readonly path: SVGPathElement; readonly routes: readonly Route[] }>(),
  );
  const latest = useRef<() => void>(() => undefined);
  useLayoutEffect(() => {
    latest.current = () => {
      if (board.current)
        setDrawn(
          measure(
            board.current,
            stripsOf(show),
            (r) => r.routes.some((x) => x.id === selected) || r.signal === signal,
          ),
        );
    };
    latest.current();
  }, [board, show, selected, signal, aiming]);
  useEffect(() => {
    const b = board.current;
    if (!b) return;
    let asked = 0;
    const again = (): void => {
      asked ||= requestAnimationFrame(() => {
        asked = 0;
        latest.current();
      });
    };
    again(); // the board is there only now: a child's layout runs before its parent's
    const watch = new ResizeObserver(again);
    watch.observe(b);
    // Live numbers rewrite their text all the time; only rows that come and go move a ribbon.
    const changes = new MutationObserver((list) => {
      if (list.some((m) => [...m.addedNodes, ...m.removedNodes].some((n) => n instanceof HTMLElement)))
        again();
    });
    for (const c of b.querySelectorAll('[data-column]')) {
      c.addEventListener('scroll', again);
      changes.observe(c, { childList: true, subtree: true });
      for (const child of c.children) watch.observe(child);
    }
    return () => {
      cancelAnimationFrame(asked);
      watch.disconnect();
      changes.disconnect();
      for (const c of b.querySelectorAll('[data-column]')) c.removeEventListener('scroll', again);
    };
  }, [board]);
  const isOn = (l: Line): boolean => l.route.routes.some((r) => r.id === selected);
  useFrame(() => {
    for (const { path, routes } of inner.current.values()) {
      let y = 0;
      for (const r of routes) y = Math.max(y, Math.abs(live.signal(routeSignal(r.id)) || 0));
      const w = (1.5 + Math.min(1.2, y) * (BED - 4)).toFixed(1);
      if (path.getAttribute('stroke-width') !== w) path.setAttribute('stroke-width', w);
    }
  });
  return (
    <Box
      component="svg"
      width={drawn.width}
      height={drawn.height}
      aria-hidden
      sx={{ position: 'absolute', inset: 0, pointerEvents: 'none', overflow: 'visible' }}
    >
      {[...drawn.lines]
        .sort((a, b) => Number(isOn(a)) - Number(isOn(b)))
        .map(({ route, d }) => {
          const on = route.routes.some((r) => r.id === selected);
          const event = kinds.get(route.signal) === 'event';
          const ink = on
            ? theme.ink.selected
            : theme.palette.mode === 'dark'
              ? theme.ink.paper
              : theme.ink.sheetText;
          const quiet = !on && pointed !== route.id && selected !== null;
          return (
            <g key={route.id} opacity={quiet ? 0.75 : 1}>
              <path
                d={d}
                fill="none"
                stroke={on ? theme.ink.selected : theme.ink.track}
                strokeWidth={BED}
                strokeOpacity={on ? 0.5 : pointed === route.id ? 0.95 : 0.5}
                strokeLinejoin="bevel"
                strokeDasharray={route.muted ? '9 7' : route.unseen ? '3 9' : undefined}
              />
              {!route.muted && (
                <path
                  ref={(e) => {
                    if (e) inner.current.set(route.id, { path: e, routes: route.routes });
                    else inner.current.delete(route.id);
                  }}
                  d={d}
                  fill="none"
                  stroke={ink}
                  strokeWidth={2}
                  strokeLinejoin="bevel"
                  strokeDasharray={event ? '7 4' : undefined}
                />
              )}
              <path
                data-route={route.routes.length === 1 ? route.id : undefined}
                data-group={route.routes.length > 1 ? route.key : undefined}
                d={d}
                fill="none"
                stroke="transparent"
                strokeWidth={GRAB}
                style={{ pointerEvents: 'stroke', cursor: 'pointer' }}
                onClick={() =>
                  look({ route: on ? null : route.routes[0]!.id, signal: on ? null : route.signal })
                }
                onPointerEnter={() => setPointed(route.id)}
                onPointerLeave={() => setPointed(null)}
              />
            </g>
          );
        })}
      {drawn.stubs.map((s) => (
        <g key={`${s.x} ${s.y}`}>
          <path d={`M${s.x - 4} ${s.y}h18`} stroke={theme.ink.sheetText} strokeWidth={BED} />
          <text x={s.x + 20} y={s.y + 5} fill={theme.ink.sheetText} fontSize={13}>
            {s.n}
          </text>
        </g>
      ))}
    </Box>
  );
}
