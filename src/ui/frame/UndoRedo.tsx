'use client';
import { Box, ButtonBase } from '@mui/material';
import { ArrowArcLeft } from '@phosphor-icons/react/dist/csr/ArrowArcLeft';
import { ArrowArcRight } from '@phosphor-icons/react/dist/csr/ArrowArcRight';
import { redoEdit, undoEdit, useSession } from '../state/session';

/** The last edit back, and forth again; what it was is said where it is pointed at. */
export function UndoRedo() {
  const past = useSession((s) => s.history.past.at(-1)?.label);
  const future = useSession((s) => s.history.future[0]?.label);
  return (
    <Box sx={{ display: 'flex', width: 48, mb: 0.75 }}>
      {(
        [
          ['Undo', past, undoEdit, ArrowArcLeft, 'Ctrl Z'],
          ['Redo', future, redoEdit, ArrowArcRight, 'Ctrl Shift Z'],
        ] as const
      ).map(([name, label, act, Icon, key]) => (
        <ButtonBase
          key={name}
          aria-label={label ? `${name}: ${label}` : name}
          title={label ? `${name}: ${label} (${key})` : `Nothing to ${name.toLowerCase()}`}
          disabled={!label}
          onClick={act}
          sx={(t) => ({
            flex: 1,
            minWidth: 0,
            minHeight: 40,
            background: t.ink.sheet,
            color: t.ink.sheetText,
            '&:hover': { background: t.ink.sheetQuiet },
            '&.Mui-disabled': { color: t.ink.track },
          })}
        >
          <Icon size={20} weight="bold" aria-hidden />
        </ButtonBase>
      ))}
    </Box>
  );
}
