'use client';
import { Box, Checkbox, MenuItem, Select } from '@mui/material';
import { SELECT } from './Choice';

/** Any of several; none of them stands for all. */
export function Choices({
  label,
  all,
  values,
  options,
  onChange,
}: {
  readonly label: string;
  /** What it says while none is chosen. */
  readonly all: string;
  readonly values: readonly number[];
  readonly options: readonly (readonly [number, string])[];
  readonly onChange: (values: readonly number[]) => void;
}) {
  return (
    <Box
      component="label"
      sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.75, fontSize: '0.9rem' }}
    >
      <Box component="span" sx={{ color: 'var(--faint)' }}>
        {label}
      </Box>
      <Select<number[]>
        multiple
        size="small"
        displayEmpty
        value={[...values]}
        inputProps={{ 'aria-label': label }}
        renderValue={(chosen) => (chosen.length ? chosen.join(', ') : all)}
        onChange={(e) => {
          const next = e.target.value;
          if (typeof next !== 'string') onChange([...next].sort((a, b) => a - b));
        }}
        onPointerDown={(e) => e.stopPropagation()}
        sx={{ ...SELECT, maxWidth: 150 }}
      >
        {options.map(([key, name]) => (
          <MenuItem key={key} value={key} dense>
            <Checkbox size="small" checked={values.includes(key)} sx={{ p: 0.5, color: 'inherit' }} />
            {name}
          </MenuItem>
        ))}
      </Select>
    </Box>
  );
}
