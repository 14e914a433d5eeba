'use client';
import { Box, MenuItem, Select, type SxProps, type Theme } from '@mui/material';

/** How a list looks that is opened to choose from. */
export const SELECT = {
  fontSize: '0.9rem',
  color: 'inherit',
  '& .MuiSelect-select': { py: 0.5, minHeight: '24px !important', lineHeight: '24px' },
  '& .MuiSelect-icon': { color: 'inherit' },
  '& fieldset': { borderColor: 'var(--bed) !important' },
} as const;

/** One of a few, by name; what is chosen is always in view. */
export function Choice<T extends string | number>({
  label,
  name = label,
  value,
  options,
  onChange,
  sx,
}: {
  readonly label: string;
  /** What it is called where the label alone does not say it. */
  readonly name?: string;
  readonly value: T;
  readonly options: readonly (readonly [T, string])[];
  readonly onChange: (value: T) => void;
  readonly sx?: SxProps<Theme>;
}) {
  return (
    <Box
      component="label"
      sx={[
        { display: 'inline-flex', alignItems: 'center', gap: 0.75, fontSize: '0.9rem' },
        ...(Array.isArray(sx) ? sx : [sx]),
      ]}
    >
      <Box component="span" sx={{ color: 'var(--faint)' }}>
        {label}
      </Box>
      <Select
        size="small"
        displayEmpty
        value={value}
        inputProps={{ 'aria-label': name }}
        onChange={(e) => onChange(e.target.value as T)}
        onPointerDown={(e) => e.stopPropagation()}
        sx={SELECT}
      >
        {options.map(([key, name]) => (
          <MenuItem key={key} value={key}>
            {name}
          </MenuItem>
        ))}
      </Select>
    </Box>
  );
}
