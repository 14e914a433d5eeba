'use client';
import { Box, type SxProps, type Theme } from '@mui/material';
import type { KeyboardEvent } from 'react';

const LONGEST = 80;

/** A name, edited where it stands: Enter or leaving keeps it, Escape gives it up; an empty one is not taken. */
export function NameField({
  name,
  label,
  onRename,
  onLeave,
  autoFocus,
  sx,
}: {
  readonly name: string;
  readonly label: string;
  readonly onRename: (name: string) => void;
  readonly onLeave?: () => void;
  readonly autoFocus?: boolean;
  readonly sx?: SxProps<Theme>;
}) {
  const key = (e: KeyboardEvent<HTMLInputElement>): void => {
    const field = e.currentTarget;
    // Undo and its like are the show's to judge; all other keys are letters of the name.
    if (!(e.ctrlKey || e.metaKey)) e.stopPropagation();
    if (e.key === 'Escape') field.value = name;
    if (e.key === 'Escape' || e.key === 'Enter') field.blur();
  };
  return (
    <Box
      component="input"
      key={name}
      autoFocus={autoFocus}
      aria-label={label}
      defaultValue={name}
      maxLength={LONGEST}
      onKeyDown={key}
      onBlur={(e) => {
        const typed = e.currentTarget.value.trim();
        onLeave?.();
        if (typed && typed !== name) onRename(typed);
      }}
      sx={sx}
    />
  );
}
