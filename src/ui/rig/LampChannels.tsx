'use client';
import { Box, Button } from '@mui/material';
import type { Kind, LampChannel, Parked } from '../../core/lights';
import { type Fixture, patchFixture } from '../../core/show';
import { LiveText } from '../controls/LiveText';
import { NumberField } from '../controls/NumberField';
import { edit, endDrag, theEngine } from '../state/session';
import type { RoomLamp } from './roomLamps';

/** What each channel of a lamp carries. */
interface Row {
  readonly at: number;
  readonly words: string;
}
const cellWords = ({ cell }: LampChannel): string => (cell === undefined ? '' : `, cell ${cell + 1}`);
function rowsOf(kind: Kind): Row[] {
  return kind.channels
    .flatMap((c): Row[] => [
      { at: c.at, words: `${c.use}${cellWords(c)}` },
      ...(c.fine === undefined ? [] : [{ at: c.fine, words: `${c.use}, fine${cellWords(c)}` }]),
    ])
    .sort((a, b) => a.at - b.at);
}
/** As the drawers' tables, on the panel's paper. */
const OWN_TABLE = {
  width: '100%',
  borderCollapse: 'collapse',
  fontSize: '0.9rem',
  '& td': { borderTop: '2px solid var(--bed)', py: 0.25, pr: 1 },
} as const;
/** More channels than these are found in Received. */
const SHOWN_MOST = 96;

/** A lamp's channels as they arrive, each of which can be parked: it stays where it is put, whatever moves the lamp. */
export function LampChannels({ lamp }: { readonly lamp: RoomLamp }) {
  const { fixture, kind, heard } = lamp,
    parked = fixture.parked ?? [],
    rows = rowsOf(kind);
  const now = (at: number): number =>
    (heard && theEngine()?.received.channel(heard, fixture.universe, fixture.address + at)) || 0;
  return (
    <>
      <Box sx={{ fontSize: '0.9rem', pb: 0.5 }}>
        A parked channel stays where it is put. Dark, and the limits of heads and strobes, still hold.
      </Box>
      <Box component="table" aria-label={`Channels of ${fixture.name}`} sx={OWN_TABLE}>
        <tbody>
          {rows.slice(0, SHOWN_MOST).map(({ at, words }) => {
            const own = parked.find((p) => p.at === at);
            return (
              <tr key={at}>
                <td>
                  {fixture.address + at} {words}
                </td>
                <td>
                  <LiveText read={() => String(now(at))} />
                </td>
                <td>
                  {own ? (
                    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
                      <NumberField
                        label={`${words} of ${fixture.name} is parked at`}
                        value={own.value}
                        unit=""
                        min={0}
                        max={255}
                        step={1}
                        onChange={(x) =>
                          park(fixture, { at, value: Math.round(x) }, `park ${fixture.id} ${at}`)
                        }
                        onEnd={endDrag}
                      />
                      <Button
                        variant="text"
                        aria-label={`Free ${words} of ${fixture.name}`}
                        onClick={() => free(fixture, at)}
                        sx={{ color: 'inherit' }}
                      >
                        free
                      </Button>
                    </Box>
                  ) : (
                    <Button
                      variant="text"
                      aria-label={`Park ${words} of ${fixture.name}`}
                      onClick={() => park(fixture, { at, value: now(at) })}
                      sx={{ color: 'inherit' }}
                    >
                      park
                    </Button>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </Box>
      {rows.length > SHOWN_MOST && (
        <Box sx={{ fontSize: '0.9rem' }}>
          Its first {SHOWN_MOST} channels of {rows.length}.
        </Box>
      )}
    </>
  );
}
const others = (fixture: Fixture, at: number): readonly Parked[] =>
  (fixture.parked ?? []).filter((p) => p.at !== at);
function park(fixture: Fixture, parked: Parked, mark: string | null = null): void {
  edit(
    `park a channel of ${fixture.name}`,
    patchFixture(fixture.id, { parked: [...others(fixture, parked.at), parked] }),
    mark,
  );
}
function free(fixture: Fixture, at: number): void {
  edit(`free a channel of ${fixture.name}`, patchFixture(fixture.id, { parked: others(fixture, at) }));
}
