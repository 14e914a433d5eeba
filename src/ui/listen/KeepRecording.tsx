'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { useState } from 'react';
import { addInput, freeId, freeName, type Input, replaceInput } from '../../core/show';
import { NumberField } from '../controls/NumberField';
import { currentShow, edit } from '../state/session';
import { keepRecording } from '../state/takeIn';
import { look } from '../state/view';

/** Keeps a stretch of what a live input heard, to be replayed as if it were live. */
export function KeepRecording({ input, onClose }: { readonly input: Input; readonly onClose: () => void }) {
  const [from, setFrom] = useState(30);
  const [to, setTo] = useState(0);
  const [busy, setBusy] = useState(false);
  const keep = async (instead: boolean): Promise<void> => {
    setBusy(true);
    const made = await keepRecording(input, from, to);
    setBusy(false);
    if (!made) return;
    const show = currentShow();
    if (instead)
      edit(
        `play a recording in place of ${input.name}`,
        replaceInput(input.id, {
          ...made,
          id: input.id,
          name: input.name,
          trimDb: input.trimDb,
          autoGain: input.autoGain,
          delayMs: input.delayMs,
        }),
      );
    else {
      const id = freeId(show, 'input');
      edit(`add ${made.name}`, addInput({ ...made, id, name: freeName(show.inputs, made.name) }));
      look({ input: id });
    }
    onClose();
  };
  return (
    <Dialog
      open
      onClose={onClose}
      aria-labelledby="recording-title"
      slotProps={{ paper: { sx: { p: 3, width: 500 } } }}
    >
      <Typography id="recording-title" variant="h2">
        Keep what {input.name} heard
      </Typography>
      <Box sx={{ my: 1.5 }}>
        The last five minutes are at hand. A recording plays like a file, and everything that follows{' '}
        {input.name} can follow it.
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mb: 2 }}>
        from{' '}
        <NumberField
          label="Recording from, seconds ago"
          value={from}
          unit="s"
          min={to + 1}
          max={300}
          step={1}
          usual={30}
          onChange={(v) => setFrom(Math.round(v))}
        />{' '}
        ago to{' '}
        <NumberField
          label="Recording to, seconds ago"
          value={to}
          unit="s"
          min={0}
          max={from - 1}
          step={1}
          usual={0}
          onChange={(v) => setTo(Math.round(v))}
        />{' '}
        ago
      </Box>
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        <Button variant="contained" disabled={busy} onClick={() => void keep(false)}>
          Keep beside it
        </Button>
        <Button variant="outlined" disabled={busy} onClick={() => void keep(true)}>
          Play in its place
        </Button>
        <Box sx={{ flex: 1 }} />
        <Button variant="text" onClick={onClose}>
          Close
        </Button>
      </Box>
    </Dialog>
  );
}
