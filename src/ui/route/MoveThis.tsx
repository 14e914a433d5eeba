'use client';
import { Button } from '@mui/material';
import { useState } from 'react';
import type { Target } from '../../core/show';
import { makeRoute } from './makeRoute';
import { SignalMenu } from './SignalMenu';

/** Chooses the signal that moves a parameter. */
export function MoveThis({
  target,
  label,
  dark = false,
}: {
  readonly target: Target;
  readonly label: string;
  readonly dark?: boolean;
}) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button
        variant="contained"
        aria-haspopup="menu"
        aria-label={`+ move this: ${label}`}
        onClick={(e) => {
          e.stopPropagation();
          setAt(e.currentTarget);
        }}
        sx={(t) => ({
          ml: 1,
          whiteSpace: 'nowrap',
          px: 1.25,
          minWidth: 104,
          ...(dark && {
            background: t.ink.paperText,
            color: t.ink.paper,
            '&:hover': {
              background: t.ink.sheetQuiet,
              color: t.palette.mode === 'dark' ? t.ink.paper : t.ink.paperText,
            },
          }),
        })}
      >
        + move this
      </Button>
      <SignalMenu
        at={at}
        target={target}
        label={`Signals for ${label}`}
        onChoose={(signal) => makeRoute(signal.id, target)}
        onClose={() => setAt(null)}
      />
    </>
  );
}
