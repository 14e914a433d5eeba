'use client';
import { Box } from '@mui/material';
import { useRef } from 'react';
import { inputSignal } from '../../core/plan';
import { gainToDb } from '../../core/units';
import { useCanvas } from '../controls/canvas';
import { live } from '../live/live';

export function dbfs(x: number): string {
  return x > 0 ? `${gainToDb(x).toFixed(1).replace('-', '−')} dBFS` : '−∞ dBFS';
}

const SEGMENTS = 36;
const LOWEST_DB = -54;

/** Segments from −54 to 0 dBFS: RMS filled, the held peak as a mark. */
export function Meter({ input }: { readonly input: string }) {
  const held = useRef({ db: -200, at: 0 });
  const ref = useCanvas(({ g, width, height, styles }, now) => {
    const rms = gainToDb(Math.max(0, live.signal(inputSignal(input, 'rms')) || 0) * Math.SQRT2);
    const peak = gainToDb(Math.max(0, live.signal(inputSignal(input, 'peak')) || 0));
    if (peak >= held.current.db) held.current = { db: peak, at: now };
    else if (now - held.current.at > 1500) held.current.db -= 0.4;
    const place = (db: number): number => (db - LOWEST_DB) / -LOWEST_DB;
    const w = width / SEGMENTS;
    for (let i = 0; i < SEGMENTS; i++) {
      g.fillStyle = (i + 0.5) / SEGMENTS < place(rms) ? styles.color : styles.getPropertyValue('--off');
      g.fillRect(i * w, 2, w - 2, height - 4);
    }
    const p = place(held.current.db);
    if (p > 0) {
      g.fillStyle = styles.getPropertyValue('--now');
      g.fillRect(Math.min(1, p) * (width - 4), 0, 4, height);
    }
  });
  return (
    <Box
      component="canvas"
      ref={ref}
      role="img"
      aria-label="Level from −54 to 0 dBFS, with its peak held"
      sx={(t) => ({
        display: 'block',
        width: '100%',
        height: 18,
        my: 0.75,
        color: 'var(--mark)',
        '--now': t.ink.now,
        '--off': 'var(--bed)',
      })}
    />
  );
}
