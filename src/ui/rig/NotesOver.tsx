'use client';
import { Box, Button, Typography } from '@mui/material';
import { useState } from 'react';
import { cellsOf } from '../../core/lights';
import { keyName, keyOfName } from '../../core/notes';
import { KEYS_MOST, notesOver } from '../../core/show';
import { Choice } from '../controls/Choice';
import { ColourField } from '../controls/ColourField';
import { EntryField } from '../controls/EntryField';
import { say } from '../state/notices';
import { currentShow, edit, theEngine, useSession } from '../state/session';
import { look } from '../state/view';
import type { RoomLamp } from './roomLamps';

const INKS = ['#f0b53c', '#e8572a', '#6db5a8', '#d9c7f2', '#8fc4e8', '#c5d86d'];
/** The lowest key of what has no tune to tell it: middle C. */
const MIDDLE = 60;

interface Lane {
  readonly track: number;
  readonly name: string;
  readonly low: number;
}
/** The tracks of the tune that an input plays, each with its lowest key. */
function lanesOf(input: string): Lane[] {
  const tune = theEngine()?.inputs.tunes.get(input);
  if (!tune) return [];
  const first = tune.lanes.filter((l, i) => tune.lanes.findIndex((m) => m.track === l.track) === i);
  return first.map(({ track, name }) => ({
    track,
    name,
    low: tune.notes.reduce((n, x) => (x.track + 1 === track && x.velocity > 0 ? Math.min(n, x.key) : n), 127),
  }));
}

/** A file's notes over lamps: a lamp or a cell for each key. */
export function NotesOver({ lamps }: { readonly lamps: readonly RoomLamp[] }) {
  const all = useSession((s) => s.history.show.inputs),
    inputs = all.filter((i) => i.kind === 'notes');
  const [chosen, setChosen] = useState(''),
    [inks, setInks] = useState<Readonly<Record<number, string>>>({}),
    [lowest, setLowest] = useState<number | null>(null);
  const input = inputs.find((i) => i.id === chosen) ?? inputs[0];
  const cells = lamps.length === 1 ? cellsOf(lamps[0]!.kind) : 1;
  if ((lamps.length < 2 && cells < 2) || !input) return null;
  const lanes = lanesOf(input.id),
    // A keyboard has no tracks: whatever comes is one.
    tracks = lanes.length > 0 ? lanes : [{ track: 1, name: input.name, low: MIDDLE }],
    low = lowest ?? Math.min(...tracks.map((t) => t.low)),
    count = Math.min(KEYS_MOST, lamps.length === 1 ? cells : lamps.length, 128 - low);
  const inkOf = (i: number): string => inks[i] ?? INKS[i % INKS.length]!,
    nameOf = (t: Lane): string => t.name || `track ${t.track}`;
  const lay = (): void => {
    const made = notesOver(
      currentShow(),
      input.id,
      tracks.map((t, i) => ({ track: t.track, name: t.name || input.name, ink: inkOf(i) })),
      lamps.map((l) => l.fixture.id),
      cells,
      low,
    );
    if (made.routes.length === 0) {
      say('warning', 'These lamps have no dimmer that notes could move.');
      return;
    }
    const what = lamps.length === 1 ? lamps[0]!.fixture.name : `${lamps.length} lamps`;
    edit(`lay notes over ${what}`, made.command);
    look({ route: made.routes[0]!.id, signal: made.ears[0]!.id });
  };
  return (
    <Box
      role="group"
      aria-label="A file’s notes"
      sx={{
        width: '100%',
        borderTop: '2px solid var(--bed)',
        py: 1,
        display: 'flex',
        flexWrap: 'wrap',
        gap: 1,
        alignItems: 'center',
        fontSize: '0.9rem',
      }}
    >
      <Typography variant="h3" component="h3" sx={{ width: '100%' }}>
        notes over {lamps.length === 1 ? 'its cells' : 'them'}
      </Typography>
      {inputs.length > 1 && (
        <Choice
          label="of"
          name="Whose notes"
          value={input.id}
          options={inputs.map((i) => [i.id, i.name] as const)}
          onChange={setChosen}
        />
      )}
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
        <span>from the key</span>
        <EntryField
          label="Lowest key"
          value={keyName(low)}
          read={(text) => {
            const key = keyOfName(text);
            return key === null ? null : String(key);
          }}
          wrong="A key such as C4, or its number from 0 to 127."
          width={70}
          onChange={(key) => setLowest(Number(key))}
        />
        <span>to {keyName(low + count - 1)}</span>
      </Box>
      {tracks.map((t, i) => (
        <Box key={t.track} sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
          <ColourField
            label={`Colour of ${nameOf(t)}`}
            value={inkOf(i)}
            onChange={(ink) => setInks({ ...inks, [i]: ink })}
          />
          <span>{nameOf(t)}</span>
        </Box>
      ))}
      <Button variant="outlined" onClick={lay}>
        Lay the notes over
      </Button>
    </Box>
  );
}
