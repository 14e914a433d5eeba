'use client';
import { Box, type SxProps, type Theme } from '@mui/material';
import type { MouseEvent } from 'react';

/** How the tables of the drawers look. */
export const RIG_TABLE: SxProps<Theme> = (t) => ({
  width: '100%',
  borderCollapse: 'collapse',
  fontSize: '0.94rem',
  '& th': { textAlign: 'left', fontWeight: 400, color: t.ink.sheetFaint, pb: 0.5, pr: 2 },
  '& td': { borderTop: `2px solid ${t.ink.sheet}`, py: 0.5, pr: 2 },
  '& td:first-of-type': { whiteSpace: 'nowrap' },
  '--bed': t.ink.track,
});

/** The name of a row: pressed to select it; with Shift beside others, where there may be several. */
export function RowName({
  name,
  on,
  onPress,
}: {
  readonly name: string;
  readonly on: boolean;
  readonly onPress: (more: boolean) => void;
}) {
  return (
    <Box
      component="button"
      aria-pressed={on}
      onClick={(e: MouseEvent) => onPress(e.shiftKey || e.metaKey || e.ctrlKey)}
      sx={(t) => ({
        all: 'unset',
        cursor: 'pointer',
        fontWeight: 700,
        minHeight: 34,
        display: 'inline-flex',
        alignItems: 'center',
        boxShadow: on ? `inset 0 -4px 0 ${t.ink.selected}` : 'none',
        '&:focus-visible': { outline: `3px solid ${t.ink.now}` },
      })}
    >
      {name}
    </Box>
  );
}
