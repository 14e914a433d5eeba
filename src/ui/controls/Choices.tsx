'use client';
import { Box, Checkbox, MenuItem, Select } from '@mui/material';
import { SELECT } from './Choice';

/** Any of several; none of them stands for all. */
export function Choices<T extends number | string>({
  label,
  name = label,
  all,
  values,
  options,
  onChange,
  short,
}: {
  readonly label: string;
  /** What it is called where the label alone does not say it. */
  readonly name?: string;
  /** What it says while none is chosen. */
  readonly all: string;
  readonly values: readonly T[];
  readonly options: readonly (readonly [T, string])[];
  readonly onChange: (values: readonly T[]) => void;
  /** What a chosen one is called in the closed list, if not by itself. */
  readonly short?: (value: T) => string;
}) {
  return (
    <Box
      component="label"
      sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.75, fontSize: '0.9rem' }}
    >
      <Box component="span" sx={{ color: 'var(--faint)' }}>
        {label}
      </Box>
      <Select<T[]>
        multiple
        size="small"
        displayEmpty
        value={[...values]}
        inputProps={{ 'aria-label': name }}
        renderValue={(chosen) => (chosen.length ? chosen.map((c) => short?.(c) ?? c).join(', ') : all)}
        onChange={(e) => {
          const next = e.target.value;
          if (typeof next === 'string') return;
          const known = options.map(([key]) => key);
          // In the order of the list; what is gone from it stays chosen, behind.
          onChange([...known.filter((k) => next.includes(k)), ...next.filter((k) => !known.includes(k))]);
        }}
        onPointerDown={(e) => e.stopPropagation()}
        sx={{ ...SELECT, maxWidth: 150 }}
      >
        {options.map(([key, words]) => (
          <MenuItem key={key} value={key} dense>
            <Checkbox size="small" checked={values.includes(key)} sx={{ p: 0.5, color: 'inherit' }} />
            {words}
          </MenuItem>
        ))}
      </Select>
    </Box>
  );
}
