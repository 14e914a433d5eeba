'use client';
import { Box } from '@mui/material';
import { type Nth, NTH_MOST } from '../../core/nth';
import { NumberField } from './NumberField';

/** Which of a row of events count: each, or every so many, beginning with one of them. */
export function NthSetting({
  of,
  value,
  onChange,
  onEnd,
}: {
  /** Whose events. */
  readonly of: string;
  readonly value: Nth | null | undefined;
  readonly onChange: (nth: Nth | null, mark: string) => void;
  readonly onEnd?: () => void;
}) {
  const every = value?.every ?? 1,
    from = value?.from ?? 0;
  const field = { color: 'inherit', fontSize: '0.9rem' } as const;
  const words = { color: 'var(--faint)' } as const;
  const change = (e: number, f: number, mark: string): void =>
    onChange(e > 1 ? { every: e, from: Math.min(f, e - 1) } : null, mark);
  return (
    <Box
      component="span"
      sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.75, fontSize: '0.9rem' }}
    >
      <Box component="span" sx={words}>
        one of every
      </Box>
      <NumberField
        label={`One of every so many of ${of}`}
        value={every}
        unit=""
        min={1}
        max={NTH_MOST}
        step={1}
        usual={1}
        onChange={(v) => change(Math.round(v), from, 'every')}
        {...(onEnd && { onEnd })}
        sx={field}
      />
      {every > 1 && (
        <>
          <Box component="span" sx={words}>
            beginning with number
          </Box>
          <NumberField
            label={`First that counts of ${of}`}
            value={from + 1}
            unit=""
            min={1}
            max={every}
            step={1}
            usual={1}
            onChange={(v) => change(every, Math.round(v) - 1, 'from')}
            {...(onEnd && { onEnd })}
            sx={field}
          />
        </>
      )}
    </Box>
  );
}
