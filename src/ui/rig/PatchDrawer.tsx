'use client';
import { Box, Button, MenuItem, Select } from '@mui/material';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef } from 'react';
import { clashesOf, footprintOf, shownUniverse, UNIVERSE_MAX } from '../../core/lights';
import { carries } from '../../core/outlets';
import {
  addFixture,
  type Fixture,
  freeAddress,
  freeId,
  freeName,
  patchFixture,
  removeThing,
} from '../../core/show';
import { LiveText } from '../controls/LiveText';
import { NumberField } from '../controls/NumberField';
import { say } from '../state/notices';
import { currentShow, edit, endDrag, theEngine, useSession } from '../state/session';
import { useKinds } from './LampPanel';
import { PatchTable } from './PatchTable';
import { ReadRigFile } from './ReadRigFile';
import { PicturePlace } from './LayPicture';
import { RoomSize } from './RoomSize';
import { PhoneAddress } from '../controls/PhoneAddress';
import { heardBy } from './roomLamps';
import { RIG_TABLE, RowName } from './table';

/** A patch of so many lamps is drawn whole; a row of it is so high. */
const PATCH_WHOLE = 60;
const PATCH_ROW = 45;
/** Channels of one lamp that are written out. */
const CHANNELS_SHOWN = 7;

/** A new lamp behind the one that is selected, of its kind. @returns its id, or null when there is no room */
export function addLamp(like: Fixture | undefined): string | null {
  const show = currentShow(),
    universe = like?.universe ?? 0,
    mode = like?.mode ?? 'rgb',
    cells = like?.cells;
  const address = freeAddress(show, universe, footprintOf({ mode, ...(cells && { cells }) }, show.kinds));
  if (address === null) {
    say('warning', `Universe ${shownUniverse(universe)} is full. Change a lamp’s universe first.`);
    return null;
  }
  const id = freeId(show, 'lamp');
  edit(
    'patch a lamp',
    addFixture({
      id,
      name: freeName(show.fixtures, 'Lamp'),
      mode,
      ...(cells && { cells }),
      universe,
      address,
      rest: {},
    }),
  );
  return id;
}

/**
 * The patch: which lamp listens where. What is set in a row that is selected with others is set in all of them; an address numbers
 * them on from there.
 */
export function PatchDrawer({
  chosen,
  onChoose,
}: {
  readonly chosen: ReadonlySet<string>;
  readonly onChoose: (id: string, more: boolean) => void;
}) {
  const show = useSession((s) => s.history.show),
    { fixtures, kinds, wires } = show;
  const patch = useRef<HTMLDivElement>(null);
  // Of a long patch only the rows that are seen are drawn.
  const long = fixtures.length > PATCH_WHOLE;
  const rows = useVirtualizer({
    count: fixtures.length,
    enabled: long,
    getScrollElement: () => patch.current,
    estimateSize: () => PATCH_ROW,
    overscan: 6,
  });
  const drawn = rows.getVirtualItems(),
    seen = long ? drawn.flatMap((r) => fixtures[r.index] ?? []) : fixtures,
    above = long ? (drawn[0]?.start ?? 0) : 0,
    below = long ? rows.getTotalSize() - (drawn.at(-1)?.end ?? 0) : 0;
  const clashes = useMemo(() => clashesOf(fixtures, kinds), [fixtures, kinds]);
  const offered = useKinds();
  /** Those that a change in one row is meant for. */
  const meant = (f: Fixture): readonly Fixture[] =>
    chosen.has(f.id) && chosen.size > 1 ? fixtures.filter((x) => chosen.has(x.id)) : [f];
  const change = (f: Fixture, patched: Partial<Fixture>, mark: string | null = null): void => {
    const all = meant(f);
    edit(
      all.length > 1 ? `patch ${all.length} lamps` : `patch ${f.name}`,
      (d) => all.forEach((x) => patchFixture(x.id, patched)(d)),
      mark,
    );
  };
  /** From this address on, one lamp behind the other, in the next universe where one is full. */
  const renumber = (f: Fixture, address: number): void => {
    const all = meant(f);
    if (all.length === 1) {
      edit(`patch ${f.name}`, patchFixture(f.id, { address }), `address ${f.id}`);
      return;
    }
    let at = address,
      { universe } = all[0]!;
    edit(
      `number ${all.length} lamps`,
      (d) => {
        for (const x of all) {
          const long = footprintOf(x, kinds);
          if (at + long - 1 > 512) {
            universe++;
            at = 1;
          }
          patchFixture(x.id, { universe, address: at })(d);
          at += long;
        }
      },
      'number lamps',
    );
  };
  return (
    <Box ref={patch} sx={{ overflow: 'auto', maxHeight: long ? '100%' : 'none' }}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, pb: 0.5 }}>
        <ReadRigFile />
        <PatchTable />
        <RoomSize />
        <PicturePlace />
        <PhoneAddress
          label="Walk with a phone …"
          title="Walk with a phone"
          text="Scan this: the phone lights one lamp after the other, full and white, and says which it is."
          at="&lamps"
        />
        {chosen.size > 1 && (
          <Box sx={(t) => ({ color: t.ink.sheetFaint, alignSelf: 'center', fontSize: '0.9rem' })}>
            {chosen.size} are selected: what is set in one of their rows is set in all of them.
          </Box>
        )}
      </Box>
      {fixtures.length === 0 && <Box sx={{ py: 1 }}>No lamps yet. Press “+ lamp” to patch one.</Box>}
      {fixtures.length > 0 && (
        <Box component="table" aria-label="Patch" aria-rowcount={fixtures.length + 1} sx={RIG_TABLE}>
          <thead>
            <tr>
              <th scope="col">lamp</th>
              <th scope="col">kind</th>
              <th scope="col">universe</th>
              <th scope="col">address</th>
              <th scope="col">on the wire</th>
              <th scope="col">
                <span style={{ position: 'absolute', clipPath: 'inset(50%)' }}>remove</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {above > 0 && <tr aria-hidden style={{ height: above }} />}
            {seen.map((f) => {
              const long = footprintOf(f, kinds),
                protocol = heardBy(wires, f.universe),
                carried = wires.some((w) => carries(w.universes, f.universe));
              return (
                <tr key={f.id} style={{ height: PATCH_ROW }}>
                  <td>
                    <RowName name={f.name} on={chosen.has(f.id)} onPress={(more) => onChoose(f.id, more)} />
                  </td>
                  <td>
                    <Select
                      size="small"
                      value={offered.some(([k]) => k === f.mode) ? f.mode : ''}
                      displayEmpty
                      inputProps={{ 'aria-label': `Kind of ${f.name} in the patch` }}
                      onChange={(e) => change(f, { mode: e.target.value })}
                      sx={{ fontSize: '0.92rem', maxWidth: 150 }}
                    >
                      {offered.map(([k, label]) => (
                        <MenuItem key={k} value={k}>
                          {label}
                        </MenuItem>
                      ))}
                    </Select>
                  </td>
                  <td>
                    <NumberField
                      label={`Universe of ${f.name}`}
                      value={shownUniverse(f.universe)}
                      unit=""
                      min={shownUniverse(0)}
                      max={shownUniverse(UNIVERSE_MAX)}
                      step={1}
                      onChange={(v) =>
                        change(f, { universe: Math.round(v) - shownUniverse(0) }, `universe ${f.id}`)
                      }
                      onEnd={endDrag}
                    />
                    {!carried && (
                      <Box component="span" role="alert" sx={{ pl: 0.5, whiteSpace: 'nowrap' }}>
                        on no wire
                      </Box>
                    )}
                  </td>
                  <td>
                    <NumberField
                      label={`Address of ${f.name}`}
                      value={f.address}
                      unit=""
                      min={1}
                      max={513 - long}
                      step={1}
                      onChange={(v) => renumber(f, Math.round(v))}
                      onEnd={endDrag}
                    />
                    {clashes.has(f.id) && <Clash fixture={f} other={clashes.get(f.id)!} />}
                  </td>
                  <td>
                    <LiveText
                      read={() => {
                        const channels = protocol && theEngine()?.received.universe(protocol, f.universe);
                        return `${Array.from({ length: Math.min(CHANNELS_SHOWN, long) }, (_, i) =>
                          String((channels && channels[f.address - 1 + i]) ?? 0).padStart(3, ' '),
                        ).join(' ')}${long > CHANNELS_SHOWN ? ' …' : ''}`;
                      }}
                      sx={{ whiteSpace: 'pre' }}
                      label={`Channels of ${f.name} as received`}
                    />
                  </td>
                  <td>
                    <Button
                      variant="text"
                      aria-label={`Remove ${f.name}`}
                      onClick={() => edit(`remove ${f.name}`, removeThing(f.id))}
                    >
                      remove
                    </Button>
                  </td>
                </tr>
              );
            })}
            {below > 0 && <tr aria-hidden style={{ height: below }} />}
          </tbody>
        </Box>
      )}
    </Box>
  );
}

/** A lamp that shares channels with another: with whom, that neither is sent, and the way out in one press. */
function Clash({ fixture, other }: { readonly fixture: Fixture; readonly other: string }) {
  const name = useSession((s) => s.history.show.fixtures.find((f) => f.id === other)?.name) ?? other;
  const moveOn = (): void => {
    const show = currentShow(),
      free = freeAddress(show, fixture.universe, footprintOf(fixture, show.kinds));
    if (free === null)
      say(
        'warning',
        `Universe ${shownUniverse(fixture.universe)} is full. Change ${fixture.name}’s universe first.`,
      );
    else edit(`patch ${fixture.name}`, patchFixture(fixture.id, { address: free }));
  };
  return (
    <Box
      component="span"
      role="alert"
      title="Neither of them is sent until one is moved."
      sx={(t) => ({
        display: 'inline-flex',
        alignItems: 'center',
        gap: 0.5,
        whiteSpace: 'nowrap',
        borderLeft: `4px solid ${t.ink.selected}`,
        pl: 0.75,
        ml: 0.5,
      })}
    >
      shared with {name}: dark
      <Button variant="text" aria-label={`Next free address for ${fixture.name}`} onClick={moveOn}>
        next free
      </Button>
    </Box>
  );
}
