'use client';
import { Box, Typography } from '@mui/material';
import { useState, type DragEvent } from 'react';
import { Sheet } from '../controls/Sheet';
import { currentShow, theEngine, useSession } from '../state/session';
import { addDevice, addFiles, addMidi, addMix, addTab, addTone, soundsOf } from './addInputs';
import { FilesTogether } from './FilesTogether';
import { FindMicrophone } from './FindMicrophone';
import { InputStrip } from './InputStrip';
import { SourceMenu } from './SourceMenu';
import { Transport } from './Transport';

/** All that comes in: one strip an input, and what is playing. */
export function Inputs({ current }: { readonly current: string | null }) {
  const inputs = useSession((s) => s.history.show.inputs);
  const [over, setOver] = useState(false);
  const [finding, setFinding] = useState(false);
  const [together, setTogether] = useState<readonly File[] | null>(null);
  const take = (files: readonly File[]): void => {
    if (soundsOf(files).length > 1) setTogether(files);
    else void addFiles(files, 'one');
  };
  const drop = (e: DragEvent): void => {
    e.preventDefault();
    setOver(false);
    const files = [...e.dataTransfer.files];
    if (files.length) take(files);
  };
  return (
    <Box
      component="section"
      aria-label="Inputs"
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      sx={(t) => ({
        display: 'flex',
        flexDirection: 'column',
        minHeight: 0,
        outline: over ? `3px dashed ${t.ink.now}` : 'none',
      })}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between' }}>
        <Typography variant="h2">Inputs</Typography>
        <SourceMenu
          label="+ input"
          onFiles={take}
          onDevice={addDevice}
          onTab={() => {
            const id = addTab();
            void theEngine()?.inputs.shareTab(id);
          }}
          onMidi={addMidi}
          onTone={addTone}
          onMix={() => addMix(currentShow())}
          onFind={() => setFinding(true)}
        />
      </Box>
      <Box
        sx={{ overflowY: 'auto', display: 'flex', flexDirection: 'column', gap: 1.25, py: 0.5, minHeight: 0 }}
      >
        {inputs.map((input) => (
          <InputStrip key={input.id} input={input} picked={input.id === current} />
        ))}
        {inputs.length === 0 && (
          <Sheet name="none" sx={{ p: 2 }}>
            Nothing comes in yet. Drop a sound here, or press <b>+ input</b>.
          </Sheet>
        )}
      </Box>
      <Transport />
      {together && (
        <FilesTogether
          sounds={soundsOf(together)}
          onClose={() => setTogether(null)}
          onChoose={(way, levels) => {
            setTogether(null);
            void addFiles(together, way, levels);
          }}
        />
      )}
      <FindMicrophone open={finding} onClose={() => setFinding(false)} onUse={addDevice} />
    </Box>
  );
}
