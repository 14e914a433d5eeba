'use client';
import { Box, Checkbox } from '@mui/material';
import { useState } from 'react';
import { ChooseWay } from '../controls/ChooseWay';
import type { Together } from './addInputs';

/** So many names are listed. */
const NAMED = 8;

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
  const names = sounds.slice(0, NAMED).map((f) => f.name);
  return (
    <ChooseWay
      id="files-together"
      title={`${sounds.length} sounds in lockstep`}
      about={`${names.join(', ')}${sounds.length > NAMED ? ` and ${sounds.length - NAMED} more` : ''}`}
      ways={[
        {
          name: 'One input',
          help: `Heard as one sound of ${sounds.length} stems. An ear may still hear a single one of them.`,
          choose: () => onChoose('one', levels),
        },
        {
          name: `${sounds.length} inputs`,
          help: 'Each with a level, a trim and ears of its own. They start and turn together.',
          choose: () => onChoose('each', levels),
        },
      ]}
      onClose={onClose}
    >
      <Box component="label" sx={{ display: 'flex', alignItems: 'center', mt: 1.5, ml: -1 }}>
        <Checkbox checked={levels} onChange={(e) => setLevels(e.target.checked)} sx={{ color: 'inherit' }} />
        with an ear for the level of each
      </Box>
    </ChooseWay>
  );
}
