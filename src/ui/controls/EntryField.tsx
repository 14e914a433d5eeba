'use client';
import { Box } from '@mui/material';
import { useState } from 'react';

/** A row of values as text. What cannot be read is said, and changes nothing. */
export function EntryField<T>({
  label,
  value,
  read,
  wrong,
  width = 150,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  /** @returns null for what cannot be read */
  readonly read: (text: string) => T | null;
  /** What to write instead. */
  readonly wrong: string;
  readonly width?: number;
  readonly onChange: (value: T) => void;
}) {
  const [text, setText] = useState<string | null>(null);
  const bad = text !== null && read(text) === null;
  return (
    <Box component="span" sx={{ position: 'relative', display: 'inline-flex' }}>
      <Box
        component="input"
        aria-label={label}
        aria-invalid={bad}
        value={text ?? value}
        onFocus={() => setText(value)}
        onChange={(e) => setText(e.currentTarget.value)}
        onBlur={() => {
          const next = text === null || text === value ? null : read(text);
          if (next !== null) onChange(next);
          setText(null);
        }}
        onKeyDown={(e) => {
          if (e.key === 'Enter') e.currentTarget.blur();
        }}
        sx={(t) => ({
          font: 'inherit',
          width,
          minHeight: 34,
          px: 1,
          border: 'none',
          borderBottom: '2px dotted',
          background: t.ink.paper,
          color: t.ink.paperText,
        })}
      />
      {bad && (
        <Box
          role="alert"
          sx={(t) => ({
            position: 'absolute',
            top: '100%',
            left: 0,
            zIndex: 20,
            background: t.ink.paper,
            color: t.ink.paperText,
            p: 0.75,
            whiteSpace: 'nowrap',
          })}
        >
          {wrong}
        </Box>
      )}
    </Box>
  );
}
