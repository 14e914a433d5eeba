'use client';
import { Box, type CSSObject, type Theme } from '@mui/material';
import { useEffect, useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { formatNumber, type NumberParameter, toHex } from '../../core/parameters';
import { live, useFrame } from '../live/live';
import { giveBack, takeByHand, useSession } from '../state/session';
import { LiveText } from './LiveText';

/** What a track spans: from the lowest to the highest of rest and reaches, with a little room. */
export function trackSpan(
  p: NumberParameter,
  rest: number,
  reaches: readonly number[],
): { low: number; high: number } {
  const all = [rest, ...(reaches.length ? reaches : [p.reach])];
  let low = Math.min(...all),
    high = Math.max(...all);
  if (high - low < p.step) {
    low = Math.max(p.min, low - p.step * 10);
    high = Math.min(p.max, high + p.step * 10);
  }
  const room = (high - low) * 0.12;
  return { low: Math.max(p.min, low - room), high: Math.min(p.max, high + room) };
}

/**
 * A parameter's way: a post where it rests, a flag where each route takes it, a ring where that route gets to at its amount, and
 * the maize mark where it is now. Dragging that mark takes the parameter over by hand; a double click gives it back.
 */
export function ParameterTrack({
  at,
  name,
  parameter,
  rest,
  routes,
}: {
  readonly at: string;
  readonly name: string;
  readonly parameter: NumberParameter;
  readonly rest: number;
  readonly routes: readonly { readonly reach: number; readonly amount: number }[];
}) {
  const { low, high } = trackSpan(
    parameter,
    rest,
    routes.map((r) => r.reach),
  );
  const share = (x: number): number => Math.min(1, Math.max(0, (x - low) / Math.max(1e-9, high - low)));
  const way = useRef<HTMLDivElement>(null),
    mark = useRef<HTMLDivElement>(null);
  const last = useRef(NaN);
  const dragging = useRef(false);
  const byHand = useSession((s) => at in s.hands);
  const from = (e: PointerEvent): number => {
    const r = e.currentTarget.getBoundingClientRect();
    return low + Math.min(1, Math.max(0, (e.clientX - r.left) / r.width)) * (high - low);
  };
  const isNear = (e: PointerEvent): boolean => {
    const r = e.currentTarget.getBoundingClientRect();
    return Math.abs(e.clientX - r.left - share(live.parameter(at)) * r.width) <= 16;
  };
  const down = (e: PointerEvent): void => {
    // Only the mark is taken; a press beside it belongs to the row.
    if (e.button !== 0 || !isNear(e)) return;
    e.stopPropagation();
    e.currentTarget.setPointerCapture(e.pointerId);
    dragging.current = true;
  };
  const keys = (e: KeyboardEvent): void => {
    const by =
      (e.key === 'ArrowRight' || e.key === 'ArrowUp'
        ? 1
        : e.key === 'ArrowLeft' || e.key === 'ArrowDown'
          ? -1
          : 0) *
      parameter.step *
      (e.shiftKey ? 10 : 1) *
      (e.altKey ? 0.1 : 1);
    if (by) {
      e.preventDefault();
      e.stopPropagation();
      const from = useSession.getState().hands[at]?.[0] ?? (live.parameter(at) || 0);
      takeByHand(at, [Math.min(parameter.max, Math.max(parameter.min, from + by))]);
    } else if (e.key === 'Home' || e.key === 'End') {
      e.preventDefault();
      e.stopPropagation();
      takeByHand(at, [e.key === 'Home' ? parameter.min : parameter.max]);
    } else if (byHand && (e.key === 'Backspace' || e.key === 'Delete')) {
      e.preventDefault();
      e.stopPropagation();
      giveBack(at);
    }
  };
  useFrame(() => {
    const s = share(live.parameter(at));
    if (!Number.isFinite(s) || Math.abs(s - last.current) < 0.002) return;
    last.current = s;
    // Painted as backgrounds that move within boxes that do not: nothing is laid out for it.
    const r = share(rest),
      wide = Math.abs(s - r);
    if (way.current) {
      way.current.style.backgroundSize = `${wide * 100}% 100%`;
      way.current.style.backgroundPosition = `${wide < 1 ? (100 * Math.min(r, s)) / (1 - wide) : 0}% 0`;
    }
    if (!mark.current) return;
    if (byHand) mark.current.style.left = `${s * 100}%`;
    else
      mark.current.style.backgroundPosition = `calc(${s * 100}% + ${EDGE * (1 - 2 * s)}px) ${EDGE}px, ${s * 100}% 0`;
  });
  // Another kind of mark begins where the former stood.
  useEffect(() => {
    last.current = NaN;
  }, [byHand]);
  return (
    <Box
      role="slider"
      tabIndex={0}
      aria-label={`${name} by hand`}
      aria-valuemin={parameter.min}
      aria-valuemax={parameter.max}
      aria-valuenow={rest}
      aria-valuetext={byHand ? 'held by hand' : 'moved by its routes'}
      title={
        byHand
          ? 'Held by hand. Double click, or Backspace, gives it back.'
          : 'Drag the mark, or press an arrow key, to take it over by hand.'
      }
      onPointerDown={down}
      onPointerMove={(e) => {
        if (dragging.current) takeByHand(at, [from(e)]);
        else (e.currentTarget as HTMLElement).style.cursor = isNear(e) ? 'grab' : '';
      }}
      onPointerUp={() => {
        dragging.current = false;
      }}
      onPointerCancel={() => {
        dragging.current = false;
      }}
      onClick={(e) => {
        if (byHand) e.stopPropagation();
      }}
      onDoubleClick={(e) => {
        e.stopPropagation();
        giveBack(at);
      }}
      onKeyDown={keys}
      sx={(t) => ({
        position: 'relative',
        height: 32,
        flex: 1,
        minWidth: 70,
        ml: 0.75,
        mr: 2.25,
        touchAction: 'none',
        '&:focus-visible': { outline: `3px solid ${t.ink.now}`, outlineOffset: 2 },
      })}
    >
      <Box ref={way} sx={WAY} />
      <Box
        sx={{
          position: 'absolute',
          left: `${share(rest) * 100}%`,
          ml: '-1.5px',
          top: 4,
          width: 3,
          height: 21,
          background: 'var(--mark)',
        }}
      />
      {routes.map((r, i) => (
        <Box key={i} sx={{ display: 'contents' }}>
          <Box
            component="svg"
            viewBox="0 0 17 22"
            sx={{
              position: 'absolute',
              left: `${share(r.reach) * 100}%`,
              ml: '-1px',
              top: 3,
              width: 17,
              height: 22,
              fill: 'var(--mark)',
            }}
          >
            <path d="M0 0h2v22H0ZM2 0 16 .6 11.6 5.4 16 10.6 2 10.2Z" />
          </Box>
          {Math.abs(r.amount - 1) > 0.005 && (
            <Box
              sx={{
                position: 'absolute',
                left: `${share(rest + (r.reach - rest) * r.amount) * 100}%`,
                ml: '-6px',
                top: 9,
                width: 8,
                height: 8,
                border: '2px solid var(--mark)',
                borderRadius: '50%',
              }}
            />
          )}
        </Box>
      ))}
      {/* Another element for each: what is written straight into one must not stay in the other. */}
      <Box key={byHand ? 'held' : 'free'} ref={mark} data-mark sx={(t) => (byHand ? held(t) : free(t))} />
    </Box>
  );
}

/** Its bed, and on it the way from where it rests to where it is. */
const WAY = {
  position: 'absolute',
  left: 0,
  right: 0,
  top: 12,
  height: 5,
  background: 'linear-gradient(var(--mark), var(--mark)) 0 0 / 0 no-repeat var(--bed)',
} as const;
/** Half the width of the mark with its edge, in pixels, and how wide the edge is. */
const HALF = 5.5,
  EDGE = 1.5;
/** The maize mark where it is now, over the whole track and half a mark beyond at either end. */
const free = ({ ink }: Theme): CSSObject => ({
  position: 'absolute',
  left: -HALF,
  right: -HALF,
  top: 4.5,
  height: 20,
  pointerEvents: 'none',
  background: [
    `linear-gradient(${ink.now}, ${ink.now}) 0 ${EDGE}px / ${2 * (HALF - EDGE)}px 17px no-repeat`,
    `linear-gradient(${ink.paperText}, ${ink.paperText}) 0 0 / ${2 * HALF}px 20px no-repeat`,
  ].join(),
});
/** The same, held by hand. */
const held = ({ ink }: Theme): CSSObject => ({
  position: 'absolute',
  marginLeft: '-8px',
  top: 3,
  width: 16,
  height: 23,
  background: ink.now,
  outline: `3px solid ${ink.paperText}`,
  clipPath: 'polygon(0 0,100% 0,100% 70%,50% 100%,0 70%)',
});

/** The present value of a number, in its unit. */
export function ParameterNow({
  at,
  parameter,
}: {
  readonly at: string;
  readonly parameter: NumberParameter;
}) {
  return (
    <LiveText
      read={() => {
        const x = live.parameter(at);
        return Number.isFinite(x) ? formatNumber(x, parameter) : '–';
      }}
      sx={{ fontSize: '0.9rem', minWidth: 68, textAlign: 'right', display: 'inline-block' }}
    />
  );
}

/** The present value of a colour, as a blot. */
export function ColourNow({ at }: { readonly at: string }) {
  const ref = useRef<HTMLDivElement>(null);
  const last = useRef('');
  useFrame(() => {
    const hex = toHex(live.parameter(at) || 0, live.parameter(at, 1) || 0, live.parameter(at, 2) || 0);
    if (hex !== last.current && ref.current) {
      last.current = hex;
      ref.current.style.background = hex;
    }
  });
  return (
    <Box
      ref={ref}
      role="img"
      aria-label="its colour now"
      sx={{
        width: 44,
        height: 22,
        border: '2px solid var(--mark)',
        clipPath: 'polygon(4% 0,97% 5%,100% 94%,50% 100%,1% 95%)',
      }}
    />
  );
}
