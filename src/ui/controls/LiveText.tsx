'use client';
import { Box, type SxProps, type Theme } from '@mui/material';
import { useRef } from 'react';
import { FONT } from '../theme/tokens';
import { live, useFrame } from '../live/live';

/** Least time between two numbers, in ms, with a graphics card and without. */
const EVERY_MS = 80,
  EVERY_MS_DRAWN = 190;

/**
 * A number that changes as fast as the sound, written straight into the page a dozen times a second: more cannot be read. Where
 * the processor draws, five times: each time the page is laid out anew.
 */
export function LiveText({
  read,
  sx,
  label,
}: {
  readonly read: (now: number) => string;
  readonly sx?: SxProps<Theme>;
  readonly label?: string;
}) {
  const ref = useRef<HTMLSpanElement>(null);
  const last = useRef({ at: 0, text: '' });
  useFrame((now) => {
    if (now - last.current.at < (live.everyMs ? EVERY_MS_DRAWN : EVERY_MS) || !ref.current) return;
    const text = read(now);
    last.current.at = now;
    if (text !== last.current.text) {
      last.current.text = text;
      ref.current.textContent = text;
    }
  });
  return (
    <Box
      component="span"
      ref={ref}
      aria-label={label}
      role={label ? 'img' : undefined}
      sx={[
        { fontFamily: FONT.number, whiteSpace: 'nowrap', fontVariantNumeric: 'tabular-nums' },
        ...(Array.isArray(sx) ? sx : [sx]),
      ]}
    />
  );
}
