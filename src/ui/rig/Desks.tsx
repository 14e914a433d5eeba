'use client';
import { Box, Button, Typography } from '@mui/material';
import { useState } from 'react';
import type { DeskSeen } from '../../core/desk';
import { type MergeWay, MERGES, shownUniverse, UNIVERSE_MAX } from '../../core/lights';
import { LAMP_PROTOCOLS, type LampProtocol, PROTOCOL_WORDS } from '../../core/outlets';
import { shareUniverse } from '../../core/show';
import { Choice } from '../controls/Choice';
import { NumberField } from '../controls/NumberField';
import { Sheet } from '../controls/Sheet';
import { edit, useSession } from '../state/session';
import { FONT } from '../theme/tokens';
import { RIG_TABLE } from './table';

const WAYS: Readonly<Record<MergeWay, string>> = {
  ours: 'ours alone',
  highest: 'the higher of both, in light',
  latest: 'whoever moved last',
};
const NOT_CHOSEN = 'not chosen';

/** Desks that send to this computer: who they are, and what becomes of universes that we send too. */
export function Desks() {
  const desks = useSession((s) => s.outlets?.desks ?? NONE),
    at = useSession((s) => s.outlets?.desksAt ?? null),
    merges = useSession((s) => s.history.show.merges),
    fixtures = useSession((s) => s.history.show.fixtures);
  const own = new Set(fixtures.map((f) => f.universe));
  const how = (universe: number): MergeWay | null => merges.find((m) => m.universe === universe)?.how ?? null;
  const open = [...new Set(desks.filter((d) => d.live).map((d) => d.universe))].filter(
    (u) => own.has(u) && how(u) === null,
  );
  return (
    <Sheet name="desks" warned={open.length > 0} role="group" aria-label="Desks" sx={{ p: 1.5, mb: 1 }}>
      <Box sx={{ display: 'flex', alignItems: 'baseline', columnGap: 2, flexWrap: 'wrap' }}>
        <Typography variant="h3" component="h3">
          Desks that send to here
        </Typography>
        <Box sx={{ fontFamily: FONT.number, fontSize: '0.88rem', color: 'var(--faint)' }}>
          {at
            ? LAMP_PROTOCOLS.map((p) => `${PROTOCOL_WORDS[p]} at ${at[p]}`).join(', ')
            : 'waiting for the bridge …'}
        </Box>
      </Box>
      {open.length > 0 && (
        <Box role="alert" sx={{ py: 0.5 }}>
          A desk sends on {open.length === 1 ? 'universe' : 'universes'} {open.map(shownUniverse).join(', ')},
          on which this show sends as well. Until you choose, it is ours alone.
        </Box>
      )}
      {desks.length === 0 ? (
        <Box sx={{ py: 0.5, fontSize: '0.92rem' }}>
          None is heard. Its channels move controls by hand (“learn from the network”), and on universes that
          this show sends too they can be merged.
        </Box>
      ) : (
        <Box component="table" aria-label="Desks that were heard" sx={RIG_TABLE}>
          <thead>
            <tr>
              <th scope="col">desk</th>
              <th scope="col">universe</th>
              <th scope="col">how it is</th>
              <th scope="col">what is sent there</th>
            </tr>
          </thead>
          <tbody>
            {desks.map((d) => (
              <tr key={`${d.desk} ${d.universe}`}>
                <td>
                  <b>{d.name}</b>{' '}
                  <Box component="span" sx={{ fontFamily: FONT.number }}>
                    {d.address}
                  </Box>
                </td>
                <td>
                  {PROTOCOL_WORDS[d.protocol]} {shownUniverse(d.universe)}
                  {d.protocol === 'sacn' && `, priority ${d.priority}`}
                </td>
                <td>{d.live ? 'sends' : 'lost: silent for more than 2.5 s'}</td>
                <td>
                  {own.has(d.universe) ? (
                    <Choice
                      label=""
                      name={`What is sent on universe ${shownUniverse(d.universe)}`}
                      value={how(d.universe) ?? NOT_CHOSEN}
                      options={[
                        ...(how(d.universe) === null ? [[NOT_CHOSEN, 'choose …'] as const] : []),
                        ...MERGES.map((m) => [m, WAYS[m]] as const),
                      ]}
                      onChange={(way) => {
                        if (way !== NOT_CHOSEN)
                          edit(
                            `share universe ${shownUniverse(d.universe)}`,
                            shareUniverse(d.universe, way as MergeWay),
                          );
                      }}
                    />
                  ) : (
                    'for controls by hand'
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Box>
      )}
      <SimulatedDesk desks={desks} />
    </Sheet>
  );
}
const NONE: readonly DeskSeen[] = [];

/** One fader of the desk that ships with us. */
function SimulatedDesk({ desks }: { readonly desks: readonly DeskSeen[] }) {
  const [protocol, setProtocol] = useState<LampProtocol>('sacn'),
    [universe, setUniverse] = useState(0),
    [channel, setChannel] = useState(1),
    [level, setLevel] = useState(0);
  const post = (query: string): void => {
    void fetch(`/bridge/desk?${query}`, { method: 'POST' });
  };
  const fade = (x: number): void => {
    setLevel(x);
    post(`protocol=${protocol}&universe=${universe}&channel=${channel}&level=${Math.round((x / 100) * 255)}`);
  };
  return (
    <Box
      role="group"
      aria-label="Simulated desk"
      sx={{ display: 'flex', alignItems: 'center', flexWrap: 'wrap', gap: 1, mt: 0.75, fontSize: '0.92rem' }}
    >
      <span>Simulated desk:</span>
      <Choice<LampProtocol>
        label="speaks"
        name="Protocol of the simulated desk"
        value={protocol}
        options={LAMP_PROTOCOLS.map((p) => [p, PROTOCOL_WORDS[p]])}
        onChange={setProtocol}
      />
      <span>universe</span>
      <NumberField
        label="Universe of the simulated desk"
        value={shownUniverse(universe)}
        unit=""
        min={shownUniverse(0)}
        max={shownUniverse(UNIVERSE_MAX)}
        step={1}
        onChange={(x) => setUniverse(Math.round(x) - shownUniverse(0))}
      />
      <span>channel</span>
      <NumberField
        label="Channel of the simulated desk"
        value={channel}
        unit=""
        min={1}
        max={512}
        step={1}
        onChange={(x) => setChannel(Math.round(x))}
      />
      <span>fader at</span>
      <NumberField
        label="Fader of the simulated desk"
        value={level}
        unit="%"
        min={0}
        max={100}
        step={1}
        usual={0}
        onChange={fade}
      />
      <Button
        variant="outlined"
        disabled={!desks.some((d) => d.live)}
        onClick={() => {
          setLevel(0);
          post('off=yes');
        }}
      >
        Switch it off
      </Button>
    </Box>
  );
}
