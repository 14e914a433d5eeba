'use client';
import { Box, useTheme } from '@mui/material';
import { useEffect, useLayoutEffect, useMemo, useRef, useState, type RefObject } from 'react';
import { parameterKey, type Route, type Show, signalsOf } from '../../core/show';
import { routeSignal } from '../../core/plan';
import { live, useFrame } from '../live/live';
import { placeIn } from '../controls/LongList';
import { useSession } from '../state/session';
import { look, useView } from '../state/view';

/** From here on only the ribbons of what is selected, pointed at or sounding are drawn; the others are stubs with a count. */
const MANY = 12;
/** So many are drawn at the most: a fan of hundreds is a curtain. */
const DRAWN_MOST = 64;
/** A route sounds while it moves its parameter by at least this share of its way, and for so long after. */
const SOUNDS = 0.02;
const SOUNDED_MS = 400;
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
  /** It is drawn only while it sounds. */
  readonly faint: boolean;
}
interface Drawn {
  readonly lines: readonly Line[];
  readonly stubs: readonly { readonly x: number; readonly y: number; readonly n: number }[];
  readonly width: number;
  readonly height: number;
}

/**
 * Places of rows relative to the board; ribbons leave a row spread over its height.
 * @param near - whether a strip is drawn however many there are
 */
function measure(board: HTMLElement, strips: readonly Strip[], near: (r: Strip) => boolean): Drawn {
  const frame = board.getBoundingClientRect();
  const column = (name: string): { readonly element: HTMLElement; readonly bounds: DOMRect } => {
    const element = board.querySelector<HTMLElement>(`[data-column=${name}]`)!;
    return { element, bounds: element.getBoundingClientRect() };
  };
  const left = column('signals'),
    right = column('things');
  const rows = new Map<string, DOMRect>();
  for (const e of board.querySelectorAll<HTMLElement>('[data-signal]'))
    rows.set(`s ${e.dataset.signal}`, e.getBoundingClientRect());
  for (const e of board.querySelectorAll<HTMLElement>('[data-parameter]'))
    rows.set(`p ${e.dataset.parameter}`, e.getBoundingClientRect());
  const ends = new Map<string, number>(),
    turns = new Map<Strip, readonly [signal: number, key: number]>();
  const count = (key: string): number => {
    const n = ends.get(key) ?? 0;
    ends.set(key, n + 1);
    return n;
  };
  for (const strip of strips) turns.set(strip, [count(`s ${strip.signal}`), count(`p ${strip.key}`)]);
  /** Where a strip ends at a row: also at one that is out of sight, above or below what is seen of its column. */
  const spread = (
    key: string,
    item: string,
    turn: number,
    { element, bounds }: typeof left,
  ): { readonly y: number; readonly seen: boolean } | null => {
    const row = rows.get(key),
      place = row ? null : placeIn(element, item);
    if (!row && !place) return null;
    const top = row ? row.top : bounds.top + place!.start - element.scrollTop,
      height = row ? row.height : place!.size,
      all = ends.get(key)!;
    const room = Math.min(height - 10, all * (BED + 3));
    const y = top + height / 2 + (all > 1 ? ((turn + 0.5) / all - 0.5) * room : 0);
    return {
      y: Math.min(bounds.bottom - 4, Math.max(bounds.top + 4, y)) - frame.top,
      seen: row !== undefined && top + height > bounds.top && top < bounds.bottom,
    };
  };
  const lines: Line[] = [],
    stubs = new Map<string, { x: number; y: number; n: number }>();
  const x0 = left.bounds.right - frame.left,
    x1 = right.bounds.left - frame.left,
    mid = (x0 + x1) / 2;
  let faint = 0;
  for (const route of strips) {
    const [i, k] = turns.get(route)!,
      whole = strips.length <= MANY || near(route);
    const a = spread(`s ${route.signal}`, route.signal, i, left);
    if (!whole && a) {
      const stub = stubs.get(route.signal);
      if (stub) stub.n++;
      else stubs.set(route.signal, { x: x0 + 4, y: a.y, n: 1 });
    }
    if (whole ? lines.length >= DRAWN_MOST : faint >= DRAWN_MOST) continue;
    const b = spread(`p ${route.key}`, itemOf(route.key), k, right);
    if (!whole && !(a?.seen && b?.seen)) continue;
    if (!whole) faint++;
    // A lost end is torn: the ribbon stops halfway.
    const y0 = (a ?? b)?.y ?? 0,
      y1 = (b ?? a)?.y ?? 0;
    const d =
      a === null
        ? torn(x1, y1, mid)
        : b === null
          ? torn(x0, y0, mid)
          : `M${x0} ${y0}L${x0 + FLAT} ${y0}L${x1 - FLAT} ${y1}L${x1} ${y1}`;
    lines.push({ route, d, faint: !whole });
  }
  return { lines, stubs: [...stubs.values()], width: frame.width, height: frame.height };
}
/** The card of a column that a parameter's row is in. */
const itemOf = (key: string): string =>
  key.startsWith('group:') ? key.slice('group:'.length) : key.slice(0, key.indexOf('/'));

/** Every route by itself, and every folded group as one. */
function stripsOf(show: Show): Strip[] {
  const groups = new Map(show.groups.map((g) => [g.id, g])),
    folded = new Map(show.groups.filter((g) => g.folded).map((g) => [g.id, g]));
  const strips: Strip[] = show.routes
    .filter((r) => r.group === null || !folded.has(r.group))
    .map((r) => ({
      id: r.id,
      signal: r.signal,
      key: parameterKey(r.target),
      muted: r.muted || (groups.get(r.group ?? '')?.muted ?? false),
      unseen: r.unseen !== null,
      routes: [r],
    }));
  const grouped = new Map<
    string,
    { readonly group: string; readonly signal: string; readonly routes: Route[] }
  >();
  for (const route of show.routes) {
    if (route.group === null || !folded.has(route.group)) continue;
    const signal = route.signal.split('/')[0]!,
      id = `${route.group} ${signal}`,
      one = grouped.get(id);
    if (one) one.routes.push(route);
    else grouped.set(id, { group: route.group, signal, routes: [route] });
  }
  for (const [id, { group, signal, routes }] of grouped)
    strips.push({
      id,
      signal,
      key: `group:${group}`,
      muted: folded.get(group)!.muted,
      unseen: false,
      routes,
    });
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
  const [drawn, setDrawn] = useState<Drawn>({
    lines: [],
    stubs: [],
    width: 0,
    height: 0,
  });
  const [pointed, setPointed] = useState<string | null>(null);
  /** The row under the pointer: its ribbons are drawn however many there are. */
  const [row, setRow] = useState<string | null>(null);
  const strips = useMemo(() => stripsOf(show), [show]);
  const kinds = useMemo(
    () => new Map(signalsOf({ ears: show.ears, makers: show.makers }).map((s) => [s.id, s.kind])),
    [show.ears, show.makers],
  );
  const inner = useRef(
    new Map<
      string,
      { readonly path: SVGPathElement; readonly routes: readonly Route[]; soundedAt: number }
    >(),
  );
  const faint = useRef(new Map<string, SVGGElement>());
  const latest = useRef<() => void>(() => undefined);
  useLayoutEffect(() => {
    latest.current = () => {
      if (board.current)
        setDrawn(
          measure(
            board.current,
            strips,
            (r) =>
              r.signal === signal ||
              `s ${r.signal}` === row ||
              `p ${r.key}` === row ||
              r.routes.some((x) => x.id === selected),
          ),
        );
    };
    latest.current();
  }, [board, strips, selected, signal, aiming, row]);
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
    const over = (e: PointerEvent): void => {
      const at = (e.target as Element).closest<HTMLElement>('[data-signal],[data-parameter]');
      setRow(at ? (at.dataset.signal ? `s ${at.dataset.signal}` : `p ${at.dataset.parameter}`) : null);
    };
    const out = (): void => setRow(null);
    b.addEventListener('pointerover', over);
    b.addEventListener('pointerleave', out);
    return () => {
      b.removeEventListener('pointerover', over);
      b.removeEventListener('pointerleave', out);
      cancelAnimationFrame(asked);
      watch.disconnect();
      changes.disconnect();
      for (const c of b.querySelectorAll('[data-column]')) c.removeEventListener('scroll', again);
    };
  }, [board]);
  const isOn = (l: Line): boolean => l.route.routes.some((r) => r.id === selected);
  useFrame((now) => {
    for (const [id, one] of inner.current) {
      const { path, routes } = one;
      let y = 0;
      for (const r of routes) y = Math.max(y, Math.abs(live.signal(routeSignal(r.id)) || 0));
      const group = faint.current.get(id);
      if (group) {
        if (y > SOUNDS) one.soundedAt = now;
        const shown = now - one.soundedAt < SOUNDED_MS ? 'visible' : 'hidden';
        if (group.getAttribute('visibility') !== shown) group.setAttribute('visibility', shown);
      }
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
        .map(({ route, d, faint: isFaint }) => {
          const on = route.routes.some((r) => r.id === selected);
          const event = kinds.get(route.signal) === 'event';
          const ink = on
            ? theme.ink.selected
            : theme.palette.mode === 'dark'
              ? theme.ink.paper
              : theme.ink.sheetText;
          const quiet = !on && pointed !== route.id && selected !== null;
          return (
            <g
              key={route.id}
              ref={(e) => {
                if (e && isFaint) faint.current.set(route.id, e);
                else faint.current.delete(route.id);
              }}
              opacity={isFaint ? 0.6 : quiet ? 0.75 : 1}
              visibility={isFaint ? 'hidden' : undefined}
            >
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
                    if (e)
                      inner.current.set(route.id, { path: e, routes: route.routes, soundedAt: -Infinity });
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
                data-route={!isFaint && route.routes.length === 1 ? route.id : undefined}
                data-group={route.routes.length > 1 ? route.key : undefined}
                d={d}
                fill="none"
                stroke="transparent"
                strokeWidth={GRAB}
                style={{ pointerEvents: isFaint ? 'none' : 'stroke', cursor: 'pointer' }}
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
          <text
            x={s.x + 19}
            y={s.y + 5}
            fill={theme.ink.sheetText}
            stroke={theme.ink.ground}
            strokeWidth={6}
            paintOrder="stroke"
            fontSize={14}
            fontWeight={700}
          >
            {s.n}
          </text>
        </g>
      ))}
    </Box>
  );
}
