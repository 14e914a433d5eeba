'use client';
import { Box, Button, Checkbox, Dialog, Typography } from '@mui/material';
import { useState } from 'react';
import type { Together } from './addInputs';

/** Several sounds came at once: how they are taken in. Either way they play in lockstep. */
export function FilesTogether({
  sounds,
  onChoose,
  onClose,
}: {
  readonly sounds: readonly File[];
  readonly onChoose: (together: Together, levels: boolean) => void;
  readonly onClose: () => void;
}) {
  const [levels, setLevels] = useState(true);
  const ways = [
    [
      'one',
      'One input',
      `Heard as one sound of ${sounds.length} stems. An ear may still hear a single one of them.`,
    ],
    [
      'each',
      `${sounds.length} inputs`,
      'Each with a level, a trim and ears of its own. They start and turn together.',
    ],
  ] as const;
  return (
    <Dialog
      open
      onClose={onClose}
      aria-labelledby="files-together"
      slotProps={{ paper: { sx: { p: 2.5, width: 'min(560px, 94vw)' } } }}
    >
      <Typography id="files-together" variant="h2">
        {sounds.length} sounds in lockstep
      </Typography>
      <Box sx={(t) => ({ color: t.ink.paperFaint, fontSize: '0.92rem', mt: 0.5, overflowWrap: 'anywhere' })}>
        {sounds
          .slice(0, 8)
          .map((f) => f.name)
          .join(', ')}
        {sounds.length > 8 && ` and ${sounds.length - 8} more`}
      </Box>
      <Box component="dl" sx={{ display: 'grid', gap: 1.5, mt: 2, mb: 0 }}>
        {ways.map(([way, name, help], i) => (
          <Box key={way}>
            <Box component="dt">
              <Button variant="contained" autoFocus={i === 0} onClick={() => onChoose(way, levels)}>
                {name}
              </Button>
            </Box>
            <Box component="dd" sx={{ m: 0, mt: 0.5, fontSize: '0.92rem' }}>
              {help}
            </Box>
          </Box>
        ))}
      </Box>
      <Box component="label" sx={{ display: 'flex', alignItems: 'center', mt: 1.5, ml: -1 }}>
        <Checkbox checked={levels} onChange={(e) => setLevels(e.target.checked)} sx={{ color: 'inherit' }} />
        with an ear for the level of each
      </Box>
    </Dialog>
  );
}
