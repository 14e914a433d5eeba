'use client';
import { Box, type SxProps, type Theme } from '@mui/material';
import { useMemo } from 'react';
import type { SignalKind } from '../../core/ears';
import { TRACE_COLUMNS } from '../../core/plan';
import { live } from '../live/live';
import { columnChanged, useCanvas } from './canvas';

/** Recent past of one signal: a coastline for a level, teeth for events. Scaled to what it reached, so that small is seen. */
export function TraceCanvas({
  signal,
  kind,
  place = false,
  columns = 200,
  sx,
}: {
  readonly signal: string;
  readonly kind: SignalKind;
  /** A place on a scale, such as a pitch: drawn as a line between its own lowest and highest. */ readonly place?: boolean;
  readonly columns?: number;
  readonly sx?: SxProps<Theme>;
}) {
  const trace = useMemo(() => new Float32Array(Math.min(columns, TRACE_COLUMNS)), [columns]);
  const changed = useMemo(() => columnChanged(() => live.traces?.newest ?? -1), []);
  const ref = useCanvas(({ g, width, height, styles }) => {
    live.trace(signal, trace);
    g.fillStyle = styles.color;
    const n = trace.length;
    let top = kind === 'event' ? 1 : 1e-4;
    for (let i = 0; i < n; i++) if (trace[i]! > top) top = trace[i]!;
    const dx = width / n;
    if (kind === 'event') {
      g.fillRect(0, height - 1.5, width, 1.5);
      for (let i = 0; i < n; i++) {
        const x = trace[i]!;
        if (!(x > 0)) continue;
        const h = Math.max(4, (x / top) * (height - 2));
        g.beginPath();
        g.moveTo(i * dx - 4, height);
        g.lineTo(i * dx, height - h);
        g.lineTo(i * dx + 4, height);
        g.fill();
      }
      return;
    }
    if (place) {
      let low = Infinity,
        high = -Infinity;
      for (let i = 0; i < n; i++) {
        const x = trace[i]!;
        if (x > 0) {
          if (x < low) low = x;
          if (x > high) high = x;
        }
      }
      const span = Math.max(high - low, high * 0.02, 1e-6);
      for (let i = 0; i < n; i++) {
        const x = trace[i]!;
        if (x > 0)
          g.fillRect(i * dx, height - 4 - ((x - low) / span) * (height - 7), Math.max(1.5, dx + 0.5), 3);
      }
      return;
    }
    g.beginPath();
    g.moveTo(0, height);
    for (let i = 0; i < n; i++)
      g.lineTo(i * dx, height - 1.5 - (trace[i]! > 0 ? (trace[i]! / top) * (height - 3) : 0));
    g.lineTo(width, height);
    g.fill();
  }, changed);
  return (
    <Box
      component="canvas"
      ref={ref}
      aria-hidden
      sx={[{ display: 'block', width: '100%', height: 28 }, ...(Array.isArray(sx) ? sx : [sx])]}
    />
  );
}
