'use client';
import { Box, Button, Switch, Typography } from '@mui/material';
import { useEffect, useState, type ReactNode } from 'react';
import {
  BUILT_IN,
  cellsOf,
  columnsMost,
  type DimmerCurve,
  DIMMER_CURVES,
  isCelled,
  isHead,
  type Kind,
  type RowOrder,
  ROW_ORDERS,
  USUAL_SPEED,
} from '../../core/lights';
import {
  addSpot,
  type Fixture,
  freeId,
  freeName,
  patchFixture,
  removeSpot,
  renameThing,
  thingsOf,
} from '../../core/show';
import { Choice } from '../controls/Choice';
import { EntryField } from '../controls/EntryField';
import { Folded } from '../controls/Folded';
import { ORDER_WORDS } from '../controls/orderWords';
import { NameField } from '../controls/NameField';
import { NumberField } from '../controls/NumberField';
import { ThingPanel } from '../controls/ThingPanel';
import { currentShow, edit, endDrag, identify, useSession } from '../state/session';
import { aimOf, spotOf } from './aiming';
import { useRoomLamps } from './RoomCanvas';
import { LampChannels } from './LampChannels';
import { LayPicture } from './LayPicture';
import { NotesOver } from './NotesOver';
import { aimHeads } from './RoomStage';
import type { RoomLamp } from './roomLamps';

const CURVE_WORDS: Readonly<Record<DimmerCurve, string>> = {
  linear: 'evenly',
  square: 'slowly at first',
  's-shaped': 'slowly at both ends',
};

/** Kinds that a lamp may be of: built in, and read from files. */
export function useKinds(): readonly (readonly [string, string])[] {
  const read = useSession((s) => s.history.show.kinds);
  return [...BUILT_IN, ...read.map((k) => [k.id, k.label] as const)];
}

const change = (f: Fixture, patch: Partial<Fixture>, mark: string | null = null): void =>
  edit(`change ${f.name}`, patchFixture(f.id, patch), mark);

/** Everything about one lamp: what it is, how it hangs, and its parameters like a figure's. */
export function LampPanel({ lamp }: { readonly lamp: RoomLamp }) {
  const { fixture, kind } = lamp;
  const show = useSession((s) => s.history.show),
    sought = useSession((s) => s.outlets?.sought === fixture.id);
  const thing = thingsOf(show).find((t) => t.id === fixture.id);
  const kinds = useKinds();
  // Another lamp is looked at: this one is not looked for any more.
  const { id } = fixture;
  useEffect(
    () => () => {
      if (useSession.getState().outlets?.sought === id) identify(null);
    },
    [id],
  );
  if (!thing) return null;
  const turns = isHead(kind);
  return (
    <ThingPanel
      thing={thing}
      onRename={(name) => edit('rename a lamp', renameThing(thing.id, name))}
      before={
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center', pb: 1 }}>
          <Choice
            label="kind"
            name={`Kind of ${fixture.name}`}
            value={fixture.mode}
            options={kinds}
            onChange={(mode) => change(fixture, { mode })}
            sx={{ maxWidth: '100%', '& .MuiSelect-root': { maxWidth: 240 } }}
          />
          {isCelled(fixture.mode) && <CellFields fixture={fixture} kind={kind} />}
          <Choice<DimmerCurve>
            label="dims"
            value={fixture.curve ?? 'linear'}
            options={DIMMER_CURVES.map((c) => [c, CURVE_WORDS[c]])}
            onChange={(curve) => edit(`how ${fixture.name} dims`, patchFixture(fixture.id, { curve }))}
          />
          {cellsOf(kind) > 1 && (
            <Choice<RowOrder>
              label="a row lies"
              value={fixture.order ?? 'along'}
              options={ROW_ORDERS.map((o) => [o, ORDER_WORDS[o]])}
              onChange={(order) => change(fixture, { order })}
            />
          )}
          <Button
            variant="outlined"
            aria-pressed={sought}
            title="Lights this lamp full and white, to see which one it is."
            onClick={() => identify(sought ? null : fixture.id)}
          >
            {sought ? 'Found it' : 'Which one is it?'}
          </Button>
          <LayPicture lamps={[lamp]} />
          <NotesOver lamps={[lamp]} />
          {turns && <PointsAt lamp={lamp} />}
        </Box>
      }
      footer={
        <>
          <Folded title="How it hangs">
            <HangFields lamp={lamp} />
          </Folded>
          <Folded title={`Channels${fixture.parked?.length ? `, ${fixture.parked.length} parked` : ''}`}>
            <LampChannels lamp={lamp} />
          </Folded>
        </>
      }
    />
  );
}

function CellFields({ fixture, kind }: { readonly fixture: Fixture; readonly kind: Kind }) {
  const { columns, rows } = kind;
  const set = (cells: { columns: number; rows: number }): void => {
    change(fixture, { cells }, `cells ${fixture.id}`);
  };
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75, fontSize: '0.9rem' }}>
      <span>cells</span>
      <NumberField
        label="Cells across"
        value={columns}
        unit=""
        min={1}
        max={columnsMost(fixture.mode, rows)}
        step={1}
        onChange={(x) => set({ columns: Math.round(x), rows })}
        onEnd={endDrag}
      />
      {fixture.mode === 'panel' && (
        <>
          <span>×</span>
          <NumberField
            label="Rows of cells"
            value={rows}
            unit=""
            min={1}
            max={Math.max(1, columnsMost(fixture.mode, columns))}
            step={1}
            onChange={(x) => set({ columns, rows: Math.round(x) })}
            onEnd={endDrag}
          />
        </>
      )}
    </Box>
  );
}

/** Spots that are kept, and where it points now as one more. */
function PointsAt({ lamp }: { readonly lamp: RoomLamp }) {
  const show = useSession((s) => s.history.show),
    { spots, room } = show;
  const group = useRoomGroup(lamp.fixture);
  const keep = (name: string): void => {
    const want = aimOf(currentShow(), lamp, 'rest');
    if (!want) return;
    const at = spotOf(lamp, want, room),
      round = (x: number): number => Math.round(x * 100) / 100;
    edit(
      'keep a spot',
      addSpot({
        id: freeId(currentShow(), 'spot'),
        name: freeName(spots, name),
        x: round(at.x),
        y: round(at.y),
        z: round(at.z),
      }),
    );
  };
  return (
    <Box
      role="group"
      aria-label="Points at"
      sx={{ width: '100%', borderTop: '2px solid var(--bed)', pt: 0.75 }}
    >
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1 }}>
        <Typography variant="h3" component="h3" sx={{ flex: 1 }}>
          points at
        </Typography>
        <Box component="span" sx={{ color: 'var(--faint)', fontSize: '0.86rem' }}>
          or drag the ring in the room
        </Box>
      </Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75, py: 0.75 }}>
        {spots.map((s) => (
          <Box key={s.id} sx={{ display: 'inline-flex' }}>
            <Button variant="outlined" onClick={() => aimHeads([lamp], s, 'rest')}>
              {s.name}
            </Button>
            <Button
              variant="text"
              aria-label={`Forget the spot ${s.name}`}
              onClick={() => edit(`forget ${s.name}`, removeSpot(s.id))}
              sx={{ minWidth: 32, px: 0, color: 'inherit' }}
            >
              ×
            </Button>
          </Box>
        ))}
        <KeepSpot onKeep={keep} />
      </Box>
      {group.length > 1 && spots.length > 0 && (
        <Choice
          label={`all of ${lamp.fixture.group}`}
          name={`Aim all of ${lamp.fixture.group}`}
          value=""
          options={[['', 'aim at …'], ...spots.map((s) => [s.id, s.name] as const)]}
          onChange={(id) => {
            const spot = spots.find((s) => s.id === id);
            if (spot) aimHeads(group, spot, 'rest');
          }}
        />
      )}
    </Box>
  );
}
/** Where it points now, kept under a name. */
function KeepSpot({ onKeep }: { readonly onKeep: (name: string) => void }) {
  const [naming, setNaming] = useState(false);
  return naming ? (
    <NameField
      autoFocus
      label="Name of the spot"
      name=""
      onLeave={() => setNaming(false)}
      onRename={onKeep}
      sx={{ font: 'inherit', width: 140, minHeight: 34 }}
    />
  ) : (
    <Button variant="text" onClick={() => setNaming(true)} sx={{ color: 'inherit' }}>
      + keep this spot
    </Button>
  );
}
/** The heads of a lamp's group, with where they are. */
function useRoomGroup(fixture: Fixture): readonly RoomLamp[] {
  const lamps = useRoomLamps();
  return fixture.group ? lamps.filter((l) => l.fixture.group === fixture.group && isHead(l.kind)) : [];
}

function HangFields({ lamp: { fixture, at, kind } }: { readonly lamp: RoomLamp }) {
  const { room } = useSession((s) => s.history.show);
  const metres = (label: string, axis: 'x' | 'y' | 'z', min: number, max: number): ReactNode => (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
      <span>{label}</span>
      <NumberField
        label={`${label} of ${fixture.name}`}
        value={at[axis]}
        unit="m"
        min={min}
        max={max}
        step={0.05}
        onChange={(x) => change(fixture, { at: { ...at, [axis]: x } }, `place ${fixture.id}`)}
        onEnd={endDrag}
      />
    </Box>
  );
  const aim = fixture.aim ?? {};
  const turns = isHead(kind);
  const flip = (label: string, on: boolean, set: (on: boolean) => void): ReactNode => (
    <Box component="label" sx={{ display: 'flex', alignItems: 'center', fontSize: '0.9rem' }}>
      {label}
      <Switch
        size="small"
        checked={on}
        onChange={(e) => set(e.target.checked)}
        slotProps={{ input: { 'aria-label': label } }}
      />
    </Box>
  );
  const limit = (axis: 'pan' | 'tilt', end: 'from' | 'to'): ReactNode => {
    const whole = kind[axis]!,
      span = aim[axis] ?? whole,
      min = Math.min(whole.from, whole.to),
      max = Math.max(whole.from, whole.to);
    return (
      <NumberField
        label={`${axis} ${end === 'from' ? 'from' : 'to'}`}
        value={span[end]}
        unit="°"
        min={min}
        max={max}
        step={1}
        usual={whole[end]}
        onChange={(x) =>
          change(fixture, { aim: { ...aim, [axis]: { ...span, [end]: x } } }, `${axis} ${end} ${fixture.id}`)
        }
        onEnd={endDrag}
      />
    );
  };
  return (
    <Box
      sx={{
        display: 'flex',
        flexWrap: 'wrap',
        columnGap: 1.5,
        rowGap: 0.5,
        alignItems: 'center',
        fontSize: '0.9rem',
      }}
    >
      {metres('across', 'x', -room.width / 2, room.width / 2)}
      {metres('height', 'y', 0, room.height)}
      {metres('depth', 'z', 0, room.depth)}
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
        <span>turned</span>
        <NumberField
          label={`Turn of ${fixture.name}`}
          value={at.turn}
          unit="°"
          min={-180}
          max={180}
          step={5}
          usual={0}
          onChange={(turn) => change(fixture, { at: { ...at, turn } }, `turn ${fixture.id}`)}
          onEnd={endDrag}
        />
      </Box>
      {flip('hangs head down', at.hangs, (hangs) => change(fixture, { at: { ...at, hangs } }))}
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
        <span>group</span>
        <EntryField
          label={`Group of ${fixture.name}`}
          value={fixture.group ?? ''}
          read={(text) => text.trim().slice(0, 120)}
          wrong=""
          onChange={(group) => change(fixture, { group })}
        />
      </Box>
      {turns && (
        <>
          {flip('pan the other way', aim.invertPan ?? false, (invertPan) =>
            change(fixture, { aim: { ...aim, invertPan } }),
          )}
          {flip('tilt the other way', aim.invertTilt ?? false, (invertTilt) =>
            change(fixture, { aim: { ...aim, invertTilt } }),
          )}
          {flip('pan and tilt exchanged', aim.swap ?? false, (swap) =>
            change(fixture, { aim: { ...aim, swap } }),
          )}
          <Box sx={{ width: '100%', display: 'flex', flexWrap: 'wrap', gap: 0.5, alignItems: 'center' }}>
            <span>never pans beyond</span> {limit('pan', 'from')} {limit('pan', 'to')}
          </Box>
          <Box sx={{ width: '100%', display: 'flex', flexWrap: 'wrap', gap: 0.5, alignItems: 'center' }}>
            <span>never tilts beyond</span> {limit('tilt', 'from')} {limit('tilt', 'to')}
          </Box>
          <Box sx={{ display: 'flex', gap: 0.5, alignItems: 'center' }}>
            <span>no quicker than</span>
            <NumberField
              label="Degrees a second at most"
              value={aim.speed ?? USUAL_SPEED}
              unit="°/s"
              min={1}
              max={2000}
              step={10}
              usual={USUAL_SPEED}
              onChange={(speed) => change(fixture, { aim: { ...aim, speed } }, `speed ${fixture.id}`)}
              onEnd={endDrag}
            />
          </Box>
        </>
      )}
    </Box>
  );
}
