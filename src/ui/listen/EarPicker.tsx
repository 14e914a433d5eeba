'use client';
import { Box, Button, ButtonBase, Dialog, Typography } from '@mui/material';
import { useState } from 'react';
import { bandOf, FLAT, type Listening, rangeHit, strokeHit, USUAL_KEYS } from '../../core/ears';
import type { Input } from '../../core/show';
import { currentShow } from '../state/session';
import { look } from '../state/view';
import { earTitle, RANGES, rangeName } from './names';

const level = (reading: Extract<Listening, { kind: 'level' }>['reading']): Listening => ({
  kind: 'level',
  reading,
});
const bands = (set: Extract<Listening, { kind: 'bands' }>['set']): Listening => ({
  kind: 'bands',
  set,
  crossovers: [],
  weighting: FLAT,
  gainsDb: [],
});
const beat = (reading: Extract<Listening, { kind: 'beat' }>['reading']): Listening => ({
  kind: 'beat',
  reading,
  multiple: 1,
});
const turn = (reading: Extract<Listening, { kind: 'structure' }>['reading']): Listening => ({
  kind: 'structure',
  reading,
  bars: 8,
});

/** Everything that can be listened for, in the order in which people reach for it. */
const GROUPS: readonly {
  readonly title: string;
  readonly help: string;
  readonly notes?: boolean;
  readonly all: readonly (readonly [string, Listening])[];
}[] = [
  {
    title: 'How loud',
    help: 'a number that is always there',
    all: [
      ['Level', level('rms')],
      ['Peak', level('peak')],
      ['True peak', level('truePeak')],
      ['Loudness, momentary', level('momentary')],
      ['Loudness, short-term', level('shortTerm')],
      ['Loudness, integrated', level('integrated')],
    ],
  },
  {
    title: 'Hits',
    help: 'once a stroke, with its strength',
    all: [
      ['Any hit', strokeHit('any')],
      ['Kick', strokeHit('kick')],
      ['Snare', strokeHit('snare')],
      ['Hat', strokeHit('hat')],
      ['In a range', rangeHit(40, 160)],
    ],
  },
  {
    title: 'A range',
    help: 'or drag across the field',
    all: [
      ...RANGES.map(([low, high, words]): [string, Listening] => [
        `${words[0]!.toUpperCase()}${words.slice(1)}, ${rangeName(low, high)}`,
        bandOf(low, high),
      ]),
      [
        'Strongest pitch in it',
        { kind: 'band', low: 80, high: 1200, reading: 'frequency', weighting: FLAT, gainDb: 0 },
      ],
    ],
  },
  {
    title: 'Sets of bands',
    help: 'a row, and each band for itself',
    all: [
      ['Three', bands('three')],
      ['Five', bands('five')],
      ['Eight by hearing', bands('mel')],
      ['Octaves', bands('octaves')],
      ['Thirds', bands('thirds')],
    ],
  },
  {
    title: 'The beat',
    help: 'of the show’s tempo',
    all: [
      ['Each beat', beat('beat')],
      ['Each bar', beat('bar')],
      ['Place in the beat', beat('phase')],
      ['Place in the bar', beat('barPhase')],
      ['Tempo', beat('tempo')],
    ],
  },
  {
    title: 'How it goes on',
    help: 'builds, drops, breaks, phrases',
    all: [
      ['A build begins', turn('build')],
      ['How far it has come', turn('progress')],
      ['Drop', turn('drop')],
      ['Break', turn('break')],
      ['The low end is back', turn('return')],
      ['Anything else begins', turn('section')],
      ['Each phrase of 8 bars', turn('phrase')],
      ['Place in the phrase', turn('phrasePlace')],
    ],
  },
  {
    title: 'What it is like',
    help: 'pitch, brightness, presence',
    all: [
      ['Pitch', { kind: 'pitch', reading: 'note' }],
      ['Note begins', { kind: 'noteBegins', reading: 'event' }],
      ['Brightness', { kind: 'brightness' }],
      ['Something sounds', { kind: 'presence', what: 'sound' }],
      ['Someone speaks', { kind: 'presence', what: 'speech' }],
    ],
  },
  {
    title: 'Rows of points',
    help: 'to lay along copies',
    all: [
      ['Spectrum', { kind: 'vector', of: 'spectrum', scale: 'log', points: 64 }],
      ['Waveform', { kind: 'vector', of: 'waveform', scale: 'linear', points: 128 }],
    ],
  },
  {
    title: 'Notes',
    help: 'of a MIDI file or keyboard',
    notes: true,
    all: [
      ['Each note', { kind: 'notes', channels: [], tracks: [], reading: 'on' }],
      ['A note or chord', { kind: 'notes', channels: [], tracks: [], reading: 'chord', keys: [60] }],
      ['Velocity by key', { kind: 'notes', channels: [], tracks: [], reading: 'keys', ...USUAL_KEYS }],
      ['Pitch', { kind: 'notes', channels: [], tracks: [], reading: 'pitch' }],
      ['Velocity', { kind: 'notes', channels: [], tracks: [], reading: 'velocity' }],
      ['How many sound', { kind: 'notes', channels: [], tracks: [], reading: 'held' }],
    ],
  },
];

/** Chooses what a new ear listens for; it is then tried before it is kept. */
export function EarPicker({ input }: { readonly input: Input | null }) {
  const [open, setOpen] = useState(false);
  const take = (listening: Listening): void => {
    setOpen(false);
    if (!input) return;
    const ear = { input: input.id, channel: 'sum', listening } as const;
    look({ trying: { ...ear, id: 'trying', name: earTitle(currentShow().inputs, ear) }, ear: null });
  };
  return (
    <>
      <Button variant="text" aria-haspopup="dialog" disabled={!input} onClick={() => setOpen(true)}>
        + ear
      </Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        maxWidth={false}
        aria-labelledby="picker-title"
        slotProps={{ paper: { sx: { p: 3, width: 860, maxWidth: 'calc(100vw - 32px)' } } }}
      >
        <Typography id="picker-title" variant="h2" sx={{ mb: 0.5 }}>
          What shall it listen for?
        </Typography>
        <Box sx={{ fontSize: '0.92rem', mb: 2 }}>
          On <b>{input?.name}</b>. It is tried on what plays and on the last twelve seconds before you keep
          it.
        </Box>
        <Box
          sx={{
            display: 'grid',
            gridTemplateColumns: { xs: '1fr', sm: 'repeat(4, minmax(0, 1fr))' },
            gap: 2,
          }}
        >
          {GROUPS.filter(
            (g) => (input?.kind === 'notes') === (g.notes === true) || g.title === 'The beat',
          ).map((g) => (
            <Box key={g.title} component="section" aria-label={g.title}>
              <Typography variant="h3" component="h3">
                {g.title}
              </Typography>
              <Box sx={(t) => ({ fontSize: '0.84rem', mb: 0.5, color: t.ink.paperFaint })}>{g.help}</Box>
              {g.all.map(([name, listening]) => (
                <ButtonBase
                  key={name}
                  onClick={() => take(listening)}
                  sx={(t) => ({
                    display: 'block',
                    width: '100%',
                    textAlign: 'left',
                    fontSize: '0.94rem',
                    fontWeight: 700,
                    px: 1,
                    minHeight: 34,
                    mb: 0.5,
                    background: t.ink.paperShade,
                    color: t.ink.paperText,
                    '&:hover, &:focus-visible': { background: t.ink.paperDeep },
                  })}
                >
                  {name}
                </ButtonBase>
              ))}
            </Box>
          ))}
        </Box>
      </Dialog>
    </>
  );
}
