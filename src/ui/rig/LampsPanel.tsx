'use client';
import { Box, Button, Typography } from '@mui/material';
import { useState } from 'react';
import { isHead } from '../../core/lights';
import { findParameter, findSignal, patchFixture, signalsOf, type Show } from '../../core/show';
import { Choice } from '../controls/Choice';
import { EntryField } from '../controls/EntryField';
import { edit, useSession } from '../state/session';
import { look } from '../state/view';
import { LayPicture } from './LayPicture';
import { NotesOver } from './NotesOver';
import { aimHeads } from './RoomStage';
import type { RoomLamp } from './roomLamps';

type Axis = 'y' | 'z';
const AXES: readonly (readonly [Axis, string])[] = [
  ['y', 'Align in height'],
  ['z', 'Align in depth'],
];
const mean = (list: readonly number[]): number => list.reduce((n, x) => n + x, 0) / list.length;
const tidy = (x: number): number => Math.round(x * 1000) / 1000;

/** In the order in which they stand, from the left. */
const fromTheLeft = (lamps: readonly RoomLamp[]): RoomLamp[] =>
  [...lamps].sort((p, q) => p.at.x - q.at.x || p.at.y - q.at.y);

function put(
  lamps: readonly RoomLamp[],
  what: string,
  at: (lamp: RoomLamp, place: number) => Partial<RoomLamp['at']>,
): void {
  edit(`${what} ${lamps.length} lamps`, (d) => {
    lamps.forEach((l, i) => patchFixture(l.fixture.id, { at: { ...l.at, ...at(l, i) } })(d));
  });
}

/** Signals that are rows: each member moves another lamp. */
const rowsOf = (show: Show): readonly (readonly [string, string])[] =>
  signalsOf(show)
    .filter((s) => s.kind === 'vector' && s.ear)
    .map((s) => [s.id, s.name] as const);

/** Several lamps at once: put in line, spread evenly, grouped, aimed together, and a row of bands laid over them. */
export function LampsPanel({ lamps }: { readonly lamps: readonly RoomLamp[] }) {
  const show = useSession((s) => s.history.show);
  const [parameter, setParameter] = useState('dimmer');
  const row = fromTheLeft(lamps);
  const groups = new Set(lamps.map((l) => l.fixture.group ?? ''));
  const heads = lamps.filter((l) => isHead(l.kind));
  // What all of them have.
  const common = (id: string): boolean =>
    lamps.every(
      (l) => findParameter(show, { thing: l.fixture.id, parameter: id })?.parameter.kind === 'number',
    );
  const able = ['dimmer', 'uv', 'pan', 'tilt', 'zoom'].filter(common);
  const rows = rowsOf(show);
  const spread = (): void => {
    const from = row[0]!.at.x,
      to = row.at(-1)!.at.x;
    put(row, 'spread', (_, i) => ({ x: tidy(from + ((to - from) * i) / (row.length - 1)) }));
  };
  return (
    <>
      <Typography variant="h2">{lamps.length} lamps</Typography>
      <Box sx={{ color: 'var(--faint)', fontSize: '0.9rem', pb: 1 }}>
        {row.map((l) => l.fixture.name).join(', ')}
      </Box>
      <Box sx={{ borderTop: '2px solid var(--bed)', py: 1, display: 'flex', flexWrap: 'wrap', gap: 1 }}>
        <Typography variant="h3" component="h3" sx={{ width: '100%' }}>
          where they hang
        </Typography>
        <LayPicture lamps={lamps} />
        <Button variant="outlined" disabled={lamps.length < 3} onClick={spread}>
          Spread evenly
        </Button>
        {AXES.map(([axis, label]) => (
          <Button
            key={axis}
            variant="outlined"
            onClick={() => {
              const to = tidy(mean(lamps.map((l) => l.at[axis])));
              put(lamps, 'align', () => ({ [axis]: to }));
            }}
          >
            {label}
          </Button>
        ))}
      </Box>
      <Box sx={{ borderTop: '2px solid var(--bed)', py: 1, display: 'flex', alignItems: 'center', gap: 1 }}>
        <span>group</span>
        <EntryField
          label="Group of these lamps"
          value={groups.size === 1 ? [...groups][0]! : 'mixed'}
          read={(text) => text.trim().slice(0, 120)}
          wrong=""
          onChange={(group) =>
            edit(`group ${lamps.length} lamps`, (d) => {
              for (const l of lamps) patchFixture(l.fixture.id, { group })(d);
            })
          }
        />
      </Box>
      {heads.length > 0 && show.spots.length > 0 && (
        <Box sx={{ borderTop: '2px solid var(--bed)', py: 1, display: 'flex', flexWrap: 'wrap', gap: 1 }}>
          <Typography variant="h3" component="h3" sx={{ width: '100%' }}>
            {heads.length === 1 ? 'the head points at' : `all ${heads.length} heads point at`}
          </Typography>
          {show.spots.map((s) => (
            <Button key={s.id} variant="outlined" onClick={() => aimHeads(heads, s, 'rest')}>
              {s.name}
            </Button>
          ))}
        </Box>
      )}
      <Box
        sx={{
          borderTop: '2px solid var(--bed)',
          py: 1,
          display: 'flex',
          flexWrap: 'wrap',
          gap: 1,
          alignItems: 'center',
        }}
      >
        <Typography variant="h3" component="h3" sx={{ width: '100%' }}>
          a row of bands over them
        </Typography>
        {able.length === 0 && <span>These lamps have nothing in common that a row could move.</span>}
        {able.length > 1 && (
          <Choice
            label="moves"
            value={able.includes(parameter) ? parameter : able[0]!}
            options={able.map((p) => [p, p] as const)}
            onChange={setParameter}
          />
        )}
        {able.length > 0 &&
          (rows.length > 0 ? (
            <Choice
              label="with"
              name="Lay a row over these lamps"
              value=""
              options={[['', 'choose a row …'], ...rows]}
              onChange={(signal) => {
                if (!findSignal(show, signal)) return;
                look({
                  fanning: {
                    signal,
                    target: {
                      thing: row[0]!.fixture.id,
                      parameter: able.includes(parameter) ? parameter : able[0]!,
                    },
                    only: row.map((l) => l.fixture.id),
                  },
                });
              }}
            />
          ) : (
            <span>No ear gives a row yet. Make one in Listen: bands, or a spectrum.</span>
          ))}
      </Box>
      <NotesOver lamps={row} />
    </>
  );
}
