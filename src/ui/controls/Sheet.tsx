'use client';
import { Box, type SxProps, type Theme } from '@mui/material';
import { forwardRef, type ComponentPropsWithoutRef } from 'react';
import { edgeOf } from '../theme/cutEdge';

type SheetProps = ComponentPropsWithoutRef<'div'> & {
  /** Fixes its cut edge. */
  readonly name: string;
  /** Picked out: light paper instead of dark. */
  readonly picked?: boolean;
  /** A warning cuts a corner off. */
  readonly warned?: boolean;
  readonly sx?: SxProps<Theme>;
};

/** A sheet of paper with a hand-cut edge. */
export const Sheet = forwardRef<HTMLDivElement, SheetProps>(function Sheet(
  { name, picked = false, warned = false, sx, ...rest },
  ref,
) {
  return (
    <Box
      ref={ref}
      {...rest}
      sx={[
        (t) => ({
          backgroundColor: picked ? t.ink.paper : t.ink.sheet,
          color: picked ? t.ink.paperText : t.ink.sheetText,
          position: 'relative',
          clipPath: warned
            ? 'polygon(0 1px, calc(100% - 26px) 0, 100% 26px, calc(100% - 1px) 100%, 30% calc(100% - 1px), 0 100%)'
            : edgeOf(name),
          '--faint': picked ? t.ink.paperFaint : t.ink.sheetFaint,
          '--mark': picked ? t.ink.paperText : t.ink.sheetText,
          '--bed': picked ? t.ink.paperDeep : t.ink.track,
        }),
        ...(Array.isArray(sx) ? sx : [sx]),
      ]}
    />
  );
});
