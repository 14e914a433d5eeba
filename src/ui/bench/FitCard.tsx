'use client';
import { Box } from '@mui/material';
import { useEffect, useMemo, useRef, type PointerEvent } from 'react';
import type { Fit } from '../../core/shaping';
import { columnChanged, useCanvas } from '../controls/canvas';
import { live } from '../live/live';
import { endDrag } from '../state/session';

const BARS = 44;

/** The fit over the distribution of what came in: its two edges are dragged, the maize mark is the number now. */
export function FitCard({
  fit,
  source,
  now,
  set,
}: {
  readonly fit: Fit;
  readonly source: () => Float32Array;
  readonly now: () => number;
  readonly set: (low: number, high: number) => void;
}) {
  const latest = useRef({ source, now, fit });
  useEffect(() => {
    latest.current = { source, now, fit };
  });
  const counts = useMemo(() => new Float32Array(BARS), []);
  const span = useRef(1);
  const grip = useRef<'low' | 'high' | null>(null);
  const changed = useMemo(() => columnChanged(() => Math.floor((live.traces?.newest ?? -1) / 2)), []);
  const low = fit.mode === 'coming' ? null : fit.low,
    high = fit.mode === 'coming' ? null : fit.high;
  const ref = useCanvas(({ g, width, height, styles }) => {
    const { source: read, now: value, fit: f } = latest.current;
    const x = read();
    let top = f.mode === 'coming' ? 1e-4 : f.high;
    for (let i = 0; i < x.length; i++) if (x[i]! > top) top = x[i]!;
    // The edges stay put under the hand while they are dragged.
    if (grip.current === null) span.current = top * 1.12;
    counts.fill(0);
    for (let i = 0; i < x.length; i++)
      if (x[i]! > 1e-5) {
        const k = Math.min(BARS - 1, Math.floor((x[i]! / span.current) * BARS));
        counts[k]!++;
      }
    let most = 1;
    for (let k = 1; k < BARS; k++) if (counts[k]! > most) most = counts[k]!;
    const w = width / BARS;
    g.fillStyle = styles.getPropertyValue('--bed');
    for (let k = 0; k < BARS; k++) {
      const h = Math.min(1, Math.sqrt(counts[k]! / most)) * (height - 16);
      g.fillRect(k * w, height - 2 - h, w - 1.5, h);
    }
    g.fillStyle = styles.color;
    g.fillRect(0, height - 2, width, 2);
    if (f.mode !== 'coming')
      for (const e of [f.low, f.high]) {
        const at = Math.min(width - 2, (e / span.current) * width);
        g.fillRect(at - 1.5, 8, 3, height - 8);
        g.beginPath();
        g.moveTo(at - 9, 0);
        g.lineTo(at + 9, 1);
        g.lineTo(at + 8, 10);
        g.lineTo(at, 17);
        g.lineTo(at - 8, 11);
        g.fill();
      }
    const n = value();
    if (Number.isFinite(n)) {
      g.fillStyle = styles.getPropertyValue('--now');
      g.fillRect(Math.min(width - 4, (n / span.current) * width), height - 26, 4, 24);
    }
  }, changed);
  const at = (e: PointerEvent): number => {
    const r = e.currentTarget.getBoundingClientRect();
    return Math.max(0, ((e.clientX - r.left) / r.width) * span.current);
  };
  const down = (e: PointerEvent): void => {
    if (low === null || high === null) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    const x = at(e);
    grip.current = Math.abs(x - low) < Math.abs(x - high) ? 'low' : 'high';
  };
  const move = (e: PointerEvent): void => {
    if (!grip.current || low === null || high === null) return;
    const x = at(e),
      least = span.current / 200;
    if (grip.current === 'low') set(Math.min(x, high - least), high);
    else set(low, Math.max(x, low + least));
  };
  const up = (): void => {
    if (grip.current) {
      grip.current = null;
      endDrag();
    }
  };
  return (
    <Box
      component="canvas"
      ref={ref}
      role="img"
      aria-label="What came in, and the stretch of it that is used"
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      sx={(t) => ({
        width: '100%',
        height: 62,
        display: 'block',
        color: t.ink.paperText,
        '--now': t.ink.now,
        cursor: low === null ? 'default' : 'ew-resize',
        touchAction: 'none',
      })}
    />
  );
}
