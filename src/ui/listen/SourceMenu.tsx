'use client';
import { Box, Button, ListSubheader, Menu, MenuItem } from '@mui/material';
import { useRef, useState } from 'react';
import { listDevices, type SoundDevice } from '../../engine/devices';
import { listMidi, type MidiDevice } from '../../engine/midi';
import type { Wave } from '../../core/show';
import { WAVE_WORDS, WAVES } from './addInputs';

export interface SourceMenuProps {
  readonly label: string;
  readonly onFiles: (files: readonly File[]) => void;
  readonly onDevice: (device: SoundDevice) => void;
  readonly onTab?: () => void;
  readonly onMidi?: (device: MidiDevice) => void;
  readonly onTone?: (wave: Wave) => void;
  readonly onMix?: () => void;
  readonly onFind?: () => void;
}

/** Chooses where sound or notes come from. */
export function SourceMenu({
  label,
  onFiles,
  onDevice,
  onTab,
  onMidi,
  onTone,
  onMix,
  onFind,
}: SourceMenuProps) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [devices, setDevices] = useState<SoundDevice[]>([]);
  const [keyboards, setKeyboards] = useState<MidiDevice[]>([]);
  const file = useRef<HTMLInputElement>(null);
  const open = (from: HTMLElement): void => {
    setAt(from);
    void listDevices().then(setDevices);
    if (onMidi) void listMidi().then(setKeyboards);
  };
  const item = (key: string, name: string, act: () => void) => (
    <MenuItem
      key={key}
      onClick={() => {
        setAt(null);
        act();
      }}
    >
      {name}
    </MenuItem>
  );
  const head = (name: string) => (
    <ListSubheader
      key={name}
      disableSticky
      sx={{ fontSize: '0.84rem', lineHeight: '28px', background: 'none', color: 'inherit', opacity: 0.8 }}
    >
      {name}
    </ListSubheader>
  );
  return (
    <>
      <Button variant="text" aria-haspopup="menu" onClick={(e) => open(e.currentTarget)}>
        {label}
      </Button>
      <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
        {item('file', 'A sound file …', () => file.current?.click())}
        {onTab && item('tab', 'The sound of a tab or window', onTab)}
        {head('Microphones and lines')}
        {item('system', 'The system’s microphone', () => onDevice({ id: '', name: '' }))}
        {devices.filter((d) => d.id && d.id !== 'default').map((d) => item(d.id, d.name, () => onDevice(d)))}
        {onFind && item('find', 'Clap: find the microphone …', onFind)}
        {onMidi && head('Notes')}
        {onMidi && keyboards.map((k) => item(`midi ${k.id}`, k.name, () => onMidi(k)))}
        {onMidi && (
          <MenuItem key="look" onClick={() => void listMidi(true).then(setKeyboards)}>
            Look for MIDI keyboards …
          </MenuItem>
        )}
        {onTone && head('Test tones')}
        {onTone && (
          <Box key="tones" role="presentation" sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr' }}>
            {WAVES.map((w) => item(w, WAVE_WORDS[w], () => onTone(w)))}
          </Box>
        )}
        {onMix && head('Several at once')}
        {onMix && item('mix', 'A mix of inputs', onMix)}
      </Menu>
      <input
        ref={file}
        type="file"
        multiple
        accept="audio/*,video/*,.wav,.mp3,.ogg,.flac,.m4a,.mid,.midi"
        hidden
        aria-label={`${label}: choose a sound file`}
        onChange={(e) => {
          const all = [...(e.currentTarget.files ?? [])];
          e.currentTarget.value = '';
          if (all.length) onFiles(all);
        }}
      />
    </>
  );
}
