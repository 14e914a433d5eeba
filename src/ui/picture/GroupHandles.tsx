'use client';
import { Box } from '@mui/material';
import { useRef, useState, type PointerEvent } from 'react';
import { nearestAnchor } from '../../core/figures';
import type { Figure, FigureGroup } from '../../core/show';
import { endDrag } from '../state/session';
import { AnchorDots } from './AnchorDots';
import { useSurface } from './surface';
import { boxAround, groupAnchor, groupGrowsFrom, restBounds } from './groupAnchor';

const pc = (n: number, of: number): string => `${(n / of) * 100}%`;

/** The box around a group's figures, and the point that it grows from, to be dragged to another of nine. */
export function GroupHandles({
  group,
  members,
}: {
  readonly group: FigureGroup;
  readonly members: readonly Figure[];
}) {
  const [dragged, setDragged] = useState(false);
  const surface = useSurface(),
    { width, height } = surface;
  const area = useRef<HTMLDivElement>(null);
  const box = boxAround(members.map((f) => restBounds(f, surface))),
    pivot = group.pivot ?? { x: width / 2, y: height / 2 };
  const move = (e: PointerEvent): void => {
    const r = area.current?.getBoundingClientRect();
    if (!dragged || !r) return;
    const x = ((e.clientX - r.left) / r.width) * width,
      y = (1 - (e.clientY - r.top) / r.height) * height;
    const to = nearestAnchor((x - box.x) / Math.max(1, box.w), (y - box.y) / Math.max(1, box.h));
    if (to !== groupAnchor(group, box)) groupGrowsFrom(group, box, to, `anchor ${group.id}`);
  };
  const up = (): void => {
    if (dragged) endDrag();
    setDragged(false);
  };
  return (
    <Box ref={area} aria-hidden sx={{ position: 'absolute', inset: 0, pointerEvents: 'none' }}>
      <Box
        sx={{
          position: 'absolute',
          left: pc(box.x, width),
          bottom: pc(box.y, height),
          width: pc(box.w, width),
          height: pc(box.h, height),
          border: `2px ${group.locked ? 'solid' : 'dotted'} #f2e9d4`,
        }}
      >
        {dragged && <AnchorDots />}
      </Box>
      {!group.locked && (
        <Box
          data-grip="anchor"
          title="Drag to where it grows from"
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            setDragged(true);
          }}
          onPointerMove={move}
          onPointerUp={up}
          onPointerCancel={up}
          sx={(t) => ({
            position: 'absolute',
            left: pc(pivot.x, width),
            bottom: pc(pivot.y, height),
            borderLeft: '10px solid transparent',
            borderRight: '10px solid transparent',
            borderBottom: `16px solid ${t.ink.selected}`,
            ml: '-10px',
            mb: '-8px',
            pointerEvents: 'auto',
            cursor: 'crosshair',
            touchAction: 'none',
          })}
        />
      )}
    </Box>
  );
}
