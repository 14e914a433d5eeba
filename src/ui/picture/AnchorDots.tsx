'use client';
import { Box } from '@mui/material';
import { anchorPlace, ANCHORS } from '../../core/figures';

const pc = (share: number): string => `${share * 100}%`;

/** The nine points of a box that something may grow from, while one of them is being chosen. */
export function AnchorDots() {
  return ANCHORS.map((a) => (
    <Box
      key={a}
      sx={{
        position: 'absolute',
        left: pc(anchorPlace(a)[0]),
        bottom: pc(anchorPlace(a)[1]),
        width: 8,
        height: 8,
        m: '-4px',
        borderRadius: '50%',
        background: '#f2e9d4',
        outline: '1.5px solid #14110f',
      }}
    />
  ));
}
