'use client';
import { Box } from '@mui/material';
import { inputSignal } from '../../core/plan';
import { gainToDb, SILENCE_DB } from '../../core/units';
import { useCanvas } from '../controls/canvas';
import { live } from '../live/live';

const SEGMENTS = 36;
const LOWEST_DB = -54;
const HELD_MS = 1500;
const FALLS_DB_A_SECOND = 24;

/** The loudest peak of the last moment, which then falls: what an eye can read of a sound shorter than a look. */
export class HeldPeak {
  db = SILENCE_DB;
  #at = 0;
  #now = 0;
  /** @param now - `performance.now()` */
  take(peak: number, now: number): void {
    const db = gainToDb(peak);
    const seconds = (now - this.#now) / 1000;
    this.#now = now;
    if (now - this.#at > HELD_MS) this.db -= FALLS_DB_A_SECOND * seconds;
    if (db < this.db) return;
    this.db = db;
    this.#at = now;
  }
}

/** Segments from −54 to 0 dBFS: RMS filled, the held peak as a mark. */
export function Meter({ input, held }: { readonly input: string; readonly held: HeldPeak }) {
  const ref = useCanvas(({ g, width, height, styles }) => {
    const rms = gainToDb(Math.max(0, live.signal(inputSignal(input, 'rms')) || 0) * Math.SQRT2);
    const place = (db: number): number => (db - LOWEST_DB) / -LOWEST_DB;
    const w = width / SEGMENTS;
    for (let i = 0; i < SEGMENTS; i++) {
      g.fillStyle = (i + 0.5) / SEGMENTS < place(rms) ? styles.color : styles.getPropertyValue('--off');
      g.fillRect(i * w, 2, w - 2, height - 4);
    }
    const p = place(held.db);
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
