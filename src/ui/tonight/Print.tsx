'use client';
import { Box, type SxProps, type Theme } from '@mui/material';
import { usePrints } from './prints';

/** The print of a look; bare paper until it is made, and a slash for a look that is gone. */
export function Print({
  look,
  gone = false,
  sx,
}: {
  readonly look: string | null;
  readonly gone?: boolean;
  readonly sx?: SxProps<Theme>;
}) {
  const url = usePrints((p) => (look === null ? undefined : p.urls[look]));
  return (
    <Box
      aria-hidden
      sx={[
        (t) => ({
          aspectRatio: '16 / 9',
          background: gone
            ? `repeating-linear-gradient(135deg, ${t.ink.night} 0 12px, ${t.ink.track} 12px 15px)`
            : url
              ? `#000 url(${url}) center / cover`
              : t.ink.night,
        }),
        ...(Array.isArray(sx) ? sx : [sx]),
      ]}
    />
  );
}
