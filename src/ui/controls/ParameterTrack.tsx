'use client';
import { Box } from '@mui/material';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
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
  const now = useRef<HTMLDivElement>(null);
  const way = useRef<HTMLDivElement>(null);
  const last = useRef(NaN);
  const dragging = useRef(false);
  const byHand = useSession((s) => at in s.hands);
  const from = (e: PointerEvent): number => {
    const r = e.currentTarget.getBoundingClientRect();
    return low + Math.min(1, Math.max(0, (e.clientX - r.left) / r.width)) * (high - low);
  };
  const down = (e: PointerEvent): void => {
    const r = e.currentTarget.getBoundingClientRect(),
      mark = r.left + share(live.parameter(at)) * r.width;
    // Only the mark is taken; a press beside it belongs to the row.
    if (e.button !== 0 || Math.abs(e.clientX - mark) > 16) return;
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
    if (!Number.isFinite(s) || Math.abs(s - last.current) < 0.002 || !now.current || !way.current) return;
    last.current = s;
    now.current.style.left = `${s * 100}%`;
    const r = share(rest);
    way.current.style.left = `${Math.min(r, s) * 100}%`;
    way.current.style.width = `${Math.abs(s - r) * 100}%`;
  });
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
      <Box sx={{ position: 'absolute', left: 0, right: 0, top: 12, height: 5, background: 'var(--bed)' }} />
      <Box ref={way} sx={{ position: 'absolute', top: 12, height: 5, background: 'var(--mark)' }} />
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
      <Box
        ref={now}
        data-now={at}
        sx={(t) => ({
          position: 'absolute',
          ml: byHand ? '-8px' : '-4px',
          top: byHand ? 3 : 6,
          width: byHand ? 16 : 8,
          height: byHand ? 23 : 17,
          background: t.ink.now,
          outline: `${byHand ? 3 : 1.5}px solid ${t.ink.paperText}`,
          cursor: 'grab',
          ...(byHand && { clipPath: 'polygon(0 0,100% 0,100% 70%,50% 100%,0 70%)' }),
        })}
      />
    </Box>
  );
}

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
