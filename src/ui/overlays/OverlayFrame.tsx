'use client';
import { Box } from '@mui/material';
import { useRef } from 'react';
import { OVERLAY_HEIGHT, OVERLAY_WIDTH, overlayParameters } from '../../core/overlays';
import type { Overlay } from '../../core/show';
import { drawFrame, FRAME_NUMBERS, Sparks } from '../../engine/overlay/drawFrame';
import { EventReader } from '../../engine/memory/eventRing';
import { live, useFrame } from '../live/live';

const STRIPES = 'repeating-conic-gradient(#26343d 0 25%, #1b2830 0 50%) 0 0 / 24px 24px';

/** An overlay in this window, on the checks that stand for transparency. */
export function OverlayFrame({ overlay, width }: { readonly overlay: Overlay; readonly width: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const values = useRef(new Float32Array(FRAME_NUMBERS));
  const arrivals = useRef<{ reader: EventReader; life: string; sparks: Sparks } | null>(null);
  useFrame((time) => {
    const g = canvas.current?.getContext('2d');
    if (!g) return;
    let at = 0;
    for (const p of overlayParameters())
      for (let i = 0; i < (p.kind === 'colour' ? 3 : 1); i++)
        values.current[at++] = live.parameter(`${overlay.id}/${p.id}`, i);
    const { blocks } = live,
      now = time / 1000,
      spark = live.map?.parameters[`${overlay.id}/spark`];
    if (blocks && arrivals.current?.life !== blocks.life)
      arrivals.current = {
        reader: new EventReader(blocks.arrivals),
        life: blocks.life,
        sparks: new Sparks(),
      };
    const { reader, sparks } = arrivals.current ?? {};
    reader?.drain((at, _, value) => {
      if (at === spark) sparks!.light(value, now);
    });
    if ((live.frame?.darkness ?? 0) > 0) sparks?.clear();
    drawFrame(g, values.current, 0, null, sparks ?? null, now);
  });
  return (
    <Box sx={{ background: STRIPES, aspectRatio: '16 / 9', width: '100%', maxWidth: width }}>
      <canvas
        ref={canvas}
        width={OVERLAY_WIDTH}
        height={OVERLAY_HEIGHT}
        role="img"
        aria-label={`${overlay.name}, live`}
        style={{ width: '100%', display: 'block' }}
      />
    </Box>
  );
}
