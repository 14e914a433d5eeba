'use client';
import { Box, Button } from '@mui/material';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import type { Maker } from '../../core/show';
import { clamp } from '../../core/units';
import { live, useFrame } from '../live/live';
import { touchMaker } from '../state/session';

/** A slider or a button of the show, for a hand. What it does is no edit: it is kept in the memory. */
export function HandControl({ maker }: { readonly maker: Maker }) {
  return maker.making.kind === 'slider' ? (
    <HandSlider maker={maker} />
  ) : (
    <HandButton maker={maker} latching={maker.making.kind === 'button' && maker.making.latching} />
  );
}

function HandSlider({ maker }: { readonly maker: Maker }) {
  const bar = useRef<HTMLDivElement>(null),
    track = useRef<HTMLDivElement>(null),
    last = useRef(NaN);
  /** Where the keys brought it: it comes back from the conductor only later, and quick presses go on from here. */
  const mine = useRef({ value: 0, until: 0 });
  useFrame(() => {
    const x = live.signal(maker.id);
    if (!Number.isFinite(x) || x === last.current) return;
    last.current = x;
    if (bar.current) bar.current.style.width = `${x * 100}%`;
    track.current?.setAttribute('aria-valuenow', x.toFixed(2));
  });
  const to = (e: PointerEvent): void => {
    const r = e.currentTarget.getBoundingClientRect();
    touchMaker(maker.id, clamp((e.clientX - r.left) / r.width, 0, 1));
  };
  const keys = (e: KeyboardEvent): void => {
    const by =
      (e.key === 'ArrowRight' || e.key === 'ArrowUp'
        ? 0.01
        : e.key === 'ArrowLeft' || e.key === 'ArrowDown'
          ? -0.01
          : 0) * (e.shiftKey ? 10 : 1);
    const now = performance.now(),
      from = now < mine.current.until ? mine.current.value : last.current || 0;
    const next = e.key === 'Home' ? 0 : e.key === 'End' ? 1 : by ? clamp(from + by, 0, 1) : null;
    if (next === null) return;
    e.preventDefault();
    e.stopPropagation();
    mine.current = { value: next, until: now + 500 };
    touchMaker(maker.id, next);
  };
  return (
    <Box
      ref={track}
      role="slider"
      tabIndex={0}
      aria-label={maker.name}
      aria-valuemin={0}
      aria-valuemax={1}
      aria-valuenow={0}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        to(e);
      }}
      onPointerMove={(e) => {
        if (e.buttons) to(e);
      }}
      onClick={(e) => e.stopPropagation()}
      onKeyDown={keys}
      sx={(t) => ({
        height: 34,
        my: 0.5,
        background: 'var(--bed)',
        cursor: 'ew-resize',
        touchAction: 'none',
        '&:focus-visible': { outline: `3px solid ${t.ink.now}` },
      })}
    >
      <Box
        ref={bar}
        sx={(t) => ({
          height: '100%',
          width: 0,
          background: 'var(--mark)',
          borderRight: `5px solid ${t.ink.now}`,
          boxSizing: 'border-box',
        })}
      />
    </Box>
  );
}

function HandButton({ maker, latching }: { readonly maker: Maker; readonly latching: boolean }) {
  const ref = useRef<HTMLButtonElement>(null),
    last = useRef('');
  useFrame(() => {
    const on = live.signal(maker.id) > 0.5 ? 'true' : 'false';
    if (on !== last.current) {
      last.current = on;
      ref.current?.setAttribute('aria-pressed', on);
    }
  });
  const press = (on: boolean): void => touchMaker(maker.id, on ? 1 : 0);
  return (
    <Button
      ref={ref}
      aria-pressed={false}
      variant="contained"
      aria-label={latching ? maker.name : `${maker.name}, while pressed`}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        press(true);
      }}
      onPointerUp={() => press(false)}
      onPointerCancel={() => press(false)}
      onClick={(e) => e.stopPropagation()}
      onKeyDown={(e) => {
        if ((e.key === ' ' || e.key === 'Enter') && !e.repeat) {
          e.preventDefault();
          e.stopPropagation();
          press(true);
        }
      }}
      onKeyUp={(e) => {
        if (e.key === ' ' || e.key === 'Enter') {
          e.preventDefault();
          press(false);
        }
      }}
      sx={(t) => ({
        width: '100%',
        my: 0.5,
        minHeight: 40,
        '&[aria-pressed=true]': { background: t.ink.now, color: t.ink.paperText },
      })}
    >
      {latching ? 'on and off' : 'press'}
    </Button>
  );
}
