'use client';
import { Box } from '@mui/material';
import { useMemo } from 'react';
import { type ChannelUse, FIXTURE_MODES, seenLight } from '../../core/lights';
import { encode } from '../../core/parameters';
import type { Fixture } from '../../core/show';
import { useCanvas } from '../controls/canvas';
import { theEngine } from '../state/session';

/** A lamp as its packets light it: read from what the simulated lamps decoded, never from what was meant to be sent. */
export function Lamp({ fixture, size = 120 }: { readonly fixture: Fixture; readonly size?: number }) {
  const channels: readonly ChannelUse[] = FIXTURE_MODES[fixture.mode].channels;
  const seen = useMemo(() => [0, 0, 0], []);
  const ref = useCanvas(({ g, width, height }) => {
    const received = theEngine()?.received;
    seenLight(channels, (i) => received?.channel(fixture.universe, fixture.address + i) ?? 0, seen);
    const [r, gr, b] = seen.map((x) => encode(x) * 255) as [number, number, number];
    const cx = width / 2,
      cy = height * 0.34,
      R = Math.min(width, height) * 0.24;
    const light = Math.max(r, gr, b) / 255;
    const ink = `rgb(${Math.round(r)},${Math.round(gr)},${Math.round(b)})`;
    if (light > 0.01) {
      // The beam falls in three cut sheets, the widest the faintest.
      for (let i = 3; i >= 1; i--) {
        g.globalAlpha = 0.3 / i;
        g.fillStyle = ink;
        g.beginPath();
        g.moveTo(cx - R * 0.8, cy);
        g.lineTo(cx + R * 0.8, cy);
        g.lineTo(cx + R * (0.8 + 0.55 * i), height);
        g.lineTo(cx - R * (0.8 + 0.55 * i), height);
        g.fill();
      }
      g.globalAlpha = 1;
    }
    g.fillStyle = '#f2e9d4';
    g.beginPath();
    g.arc(cx, cy, R + 3, 0, 7);
    g.fill();
    g.fillStyle = '#14110f';
    g.beginPath();
    g.arc(cx, cy, R, 0, 7);
    g.fill();
    g.fillStyle = ink;
    g.beginPath();
    g.arc(cx, cy, R - 3, 0, 7);
    g.fill();
    g.fillStyle = '#f2e9d4';
    g.fillRect(cx - 2, 0, 4, Math.max(0, cy - R));
  });
  return (
    <Box
      component="canvas"
      ref={ref}
      role="img"
      aria-label={`${fixture.name}, as its packets light it`}
      data-lamp={fixture.id}
      sx={{ width: size, height: size * 1.2, display: 'block', background: '#0b0a0a' }}
    />
  );
}
