'use client';
import { Box } from '@mui/material';
import { useMemo } from 'react';
import { TRACE_COLUMNS } from '../../core/plan';
import type { Signal } from '../../core/show';
import { gainToDb } from '../../core/units';
import { ReadChart, type ChartData } from '../controls/ReadChart';
import { live } from '../live/live';
import { signalText } from './names';

const BINS = 16;

/** How often a signal was where, in the last twelve seconds: levels by decibels, all else by its own scale. */
export function Distribution({ signal }: { readonly signal: Signal }) {
  const trace = useMemo(() => new Float32Array(TRACE_COLUMNS), []);
  const inDb = signal.measure === 'amplitude' || signal.measure === 'loudness';
  const read = (): ChartData => {
    live.trace(signal.id, trace);
    const values = [...trace].filter((x) => Number.isFinite(x) && x > 0).map((x) => (inDb ? gainToDb(x) : x));
    const low = inDb ? -72 : values.length ? Math.min(...values) : 0,
      high = inDb ? 0 : Math.max(low + 1e-6, ...values);
    const counts = Array<number>(BINS).fill(0);
    for (const v of values)
      counts[Math.min(BINS - 1, Math.max(0, Math.floor(((v - low) / (high - low)) * BINS)))]!++;
    const name = (i: number): string => {
      const x = low + ((high - low) * i) / BINS;
      return inDb ? `${Math.round(x)}`.replace('-', '−') : signalText(signal.measure, x);
    };
    return {
      labels: counts.map((_, i) => name(i)),
      rows: [{ values: counts.map((c) => (100 * c) / Math.max(1, values.length)) }],
      low: 0,
    };
  };
  return (
    <Box sx={{ mt: 0.75 }}>
      <Box sx={{ color: 'var(--faint)', fontSize: '0.86rem' }}>
        where it was in the last 12 s{inDb ? `, in ${signal.measure === 'loudness' ? 'LUFS' : 'dBFS'}` : ''}
      </Box>
      <ReadChart
        kind="bar"
        unit="%"
        label={`Distribution of ${signal.name} over the last twelve seconds`}
        read={read}
        sx={{ height: 96 }}
      />
    </Box>
  );
}
