'use client';
import { Box, type SxProps, type Theme } from '@mui/material';
import { useEffect } from 'react';
import { live } from '../live/live';
import { useCanvas } from './canvas';

/** A row of numbers as it is now: bars for a few, a coastline for many, a line around the middle for a waveform. */
export function VectorCanvas({
  signal,
  wave = false,
  sx,
}: {
  readonly signal: string;
  readonly wave?: boolean;
  readonly sx?: SxProps<Theme>;
}) {
  useEffect(() => live.wantVectors(), []);
  const ref = useCanvas(({ g, width, height, styles }) => {
    const place = live.vectorAt(signal);
    if (!place) return;
    const { values, at, points } = place;
    g.fillStyle = styles.color;
    if (wave) {
      let top = 0.02;
      for (let i = 0; i < points; i++) top = Math.max(top, Math.abs(values[at + i]!));
      for (let x = 0; x < width; x += 2) {
        const y =
          (values[at + Math.min(points - 1, Math.floor((x / width) * points))]! / top) * (height / 2 - 2);
        g.fillRect(x, height / 2 - y - 1, 2, 2.5);
      }
      return;
    }
    const few = points <= 40,
      w = width / points;
    g.fillRect(0, height - 1.5, width, 1.5);
    if (!few) {
      g.beginPath();
      g.moveTo(0, height);
    }
    for (let i = 0; i < points; i++) {
      // 60 dB from foot to top: linear numbers would show only the loudest.
      const x = values[at + i]!,
        h = x > 0 ? Math.max(0, Math.min(1, 1 + Math.log10(x / 0.5) / 3)) * (height - 3) : 0;
      if (few) g.fillRect(i * w + 1, height - 1.5 - h, Math.max(1, w - 2), h);
      else g.lineTo((i + 0.5) * w, height - 1.5 - h);
    }
    if (!few) {
      g.lineTo(width, height);
      g.fill();
    }
  });
  return (
    <Box
      component="canvas"
      ref={ref}
      aria-hidden
      sx={[{ display: 'block', width: '100%', height: 28 }, ...(Array.isArray(sx) ? sx : [sx])]}
    />
  );
}
