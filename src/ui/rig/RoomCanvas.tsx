'use client';
import { Box, type SxProps, type Theme } from '@mui/material';
import { useMemo } from 'react';
import { useCanvas } from '../controls/canvas';
import { useSession } from '../state/session';
import { drawLamps, drawWalls } from './drawRoom';
import { lookAt, roomLamps, type RoomLamp } from './roomLamps';
import { type RoomView, type Side, viewOf } from './roomView';

/** The lamps of the show, where they are; the same list for the same rig. */
export function useRoomLamps(): readonly RoomLamp[] {
  const fixtures = useSession((s) => s.history.show.fixtures),
    kinds = useSession((s) => s.history.show.kinds),
    wires = useSession((s) => s.history.show.wires),
    room = useSession((s) => s.history.show.room);
  return useMemo(() => roomLamps({ fixtures, kinds, wires, room }), [fixtures, kinds, wires, room]);
}

/** The room as its packets light it: read from what the simulated receivers decoded, never from what was meant to be sent. */
export function RoomCanvas({
  side,
  lamps,
  under,
  over,
  sx,
}: {
  readonly side: Side;
  readonly lamps: readonly RoomLamp[];
  /** What is drawn on its walls, before the lamps. */
  readonly under?: (g: CanvasRenderingContext2D, view: RoomView) => void;
  /** What is drawn over it. */
  readonly over?: (g: CanvasRenderingContext2D, view: RoomView) => void;
  readonly sx?: SxProps<Theme>;
}) {
  const room = useSession((s) => s.history.show.room);
  const ref = useCanvas(({ g, width, height }) => {
    const view = viewOf(side, room, width, height);
    for (const lamp of lamps) lookAt(lamp);
    drawWalls(g, view);
    under?.(g, view);
    drawLamps(g, view, lamps);
    over?.(g, view);
  });
  return (
    <Box
      component="canvas"
      ref={ref}
      role="img"
      aria-label={`The room ${side === 'front' ? 'from the front' : 'from above'}, as its packets light it`}
      sx={[
        { display: 'block', width: '100%', height: '100%', background: '#080707' },
        ...(Array.isArray(sx) ? sx : [sx]),
      ]}
    />
  );
}
