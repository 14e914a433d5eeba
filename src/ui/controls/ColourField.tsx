'use client';
import { Box, type SxProps, type Theme } from '@mui/material';

/** A colour, shown as a blot of ink; pressed, the system's own chooser opens. */
export function ColourField({
  label,
  value,
  onChange,
  onEnd,
  sx,
}: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly onEnd?: () => void;
  readonly sx?: SxProps<Theme>;
}) {
  return (
    <Box
      component="input"
      type="color"
      aria-label={label}
      title={label}
      value={value}
      onChange={(e) => onChange(e.currentTarget.value.toLowerCase())}
      onBlur={() => onEnd?.()}
      sx={[
        {
          width: 40,
          height: 32,
          p: 0,
          border: '2px solid var(--mark, currentColor)',
          background: 'none',
          cursor: 'pointer',
          clipPath: 'polygon(6% 0,96% 4%,100% 92%,52% 100%,2% 94%)',
          '&::-webkit-color-swatch-wrapper': { p: 0 },
          '&::-webkit-color-swatch': { border: 'none' },
        },
        ...(Array.isArray(sx) ? sx : [sx]),
      ]}
    />
  );
}
