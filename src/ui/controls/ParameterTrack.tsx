'use client';
import { Box } from '@mui/material';
import { useRef } from 'react';
import { formatNumber, type NumberParameter } from '../../core/parameters/description';
import { live, useFrame } from '../live/live';
import { LiveText } from './LiveText';
import { toHex } from '../../core/parameters/colour';

/** What a track spans: from the lowest to the highest of rest and reaches, with a little room. */
export function trackSpan(p: NumberParameter, rest: number, reaches: readonly number[]): { low: number; high: number } {
  const all = [rest, ...(reaches.length ? reaches : [p.reach])];
  let low = Math.min(...all), high = Math.max(...all);
  if (high - low < p.step) { low = Math.max(p.min, low - p.step * 10); high = Math.min(p.max, high + p.step * 10); }
  const room = (high - low) * 0.12;
  return { low: Math.max(p.min, low - room), high: Math.min(p.max, high + room) };
}

/**
 * A parameter's way: a post where it rests, a flag where each route takes it, a ring where that route gets to at its amount, and
 * the maize mark where it is now.
 */
export function ParameterTrack({ at, parameter, rest, routes }: { readonly at: string; readonly parameter: NumberParameter; readonly rest: number; readonly routes: readonly { readonly reach: number; readonly amount: number }[] }) {
  const { low, high } = trackSpan(parameter, rest, routes.map((r) => r.reach));
  const share = (x: number): number => Math.min(1, Math.max(0, (x - low) / Math.max(1e-9, high - low)));
  const now = useRef<HTMLDivElement>(null);
  const way = useRef<HTMLDivElement>(null);
  const last = useRef(NaN);
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
    <Box aria-hidden sx={{ position: 'relative', height: 28, flex: 1, minWidth: 70, ml: 0.75, mr: 2.25 }}>
      <Box sx={{ position: 'absolute', left: 0, right: 0, top: 12, height: 5, background: 'var(--bed)' }} />
      <Box ref={way} sx={{ position: 'absolute', top: 12, height: 5, background: 'var(--mark)' }} />
      <Box sx={{ position: 'absolute', left: `${share(rest) * 100}%`, ml: '-1.5px', top: 4, width: 3, height: 21, background: 'var(--mark)' }} />
      {routes.map((r, i) => (
        <Box key={i} sx={{ display: 'contents' }}>
          <Box component="svg" viewBox="0 0 17 22" sx={{ position: 'absolute', left: `${share(r.reach) * 100}%`, ml: '-1px', top: 3, width: 17, height: 22, fill: 'var(--mark)' }}><path d="M0 0h2v22H0ZM2 0 16 .6 11.6 5.4 16 10.6 2 10.2Z" /></Box>
          {Math.abs(r.amount - 1) > 0.005 && <Box sx={{ position: 'absolute', left: `${share(rest + (r.reach - rest) * r.amount) * 100}%`, ml: '-6px', top: 9, width: 8, height: 8, border: '2px solid var(--mark)', borderRadius: '50%' }} />}
        </Box>
      ))}
      <Box ref={now} data-now={at} sx={(t) => ({ position: 'absolute', ml: '-4px', top: 6, width: 8, height: 17, background: t.ink.now, outline: `1.5px solid ${t.ink.paperText}` })} />
    </Box>
  );
}

/** The present value of a number, in its unit. */
export function ParameterNow({ at, parameter }: { readonly at: string; readonly parameter: NumberParameter }) {
  return <LiveText read={() => { const x = live.parameter(at); return Number.isFinite(x) ? formatNumber(x, parameter) : '–'; }} sx={{ fontSize: '0.9rem', minWidth: 68, textAlign: 'right', display: 'inline-block' }} />;
}

/** The present value of a colour, as a blot. */
export function ColourNow({ at }: { readonly at: string }) {
  const ref = useRef<HTMLDivElement>(null);
  const last = useRef('');
  useFrame(() => {
    const hex = toHex(live.parameter(at) || 0, live.parameter(at, 1) || 0, live.parameter(at, 2) || 0);
    if (hex !== last.current && ref.current) { last.current = hex; ref.current.style.background = hex; }
  });
  return <Box ref={ref} role="img" aria-label="its colour now" sx={{ width: 44, height: 22, border: '2px solid var(--mark)', clipPath: 'polygon(4% 0,97% 5%,100% 94%,50% 100%,1% 95%)' }} />;
}
