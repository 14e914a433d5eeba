'use client';
import { Box, Button, Typography } from '@mui/material';
import { useState } from 'react';
import { placeGrid, WITH_PANEL } from '../controls/placeGrid';
import { useSession } from '../state/session';
import { look, useView } from '../state/view';
import { LaserField, LaserSide } from './laser/LaserPlace';
import { LampPanel } from './LampPanel';
import { LampsPanel } from './LampsPanel';
import { addLamp, PatchDrawer } from './PatchDrawer';
import { ReceivedDrawer } from './ReceivedDrawer';
import { LineUpDrawer } from './LineUpDrawer';
import { MessagePanel, MessagesDrawer } from './MessagesDrawer';
import { useRoomLamps } from './RoomCanvas';
import { RoomStage } from './RoomStage';
import { WiresDrawer } from './WiresDrawer';

const SIDES = [
  ['front', 'from the front'],
  ['above', 'from above'],
  ['laser', 'laser'],
] as const;
const DRAWERS = ['Patch', 'Wires', 'Received', 'Line-up', 'Messages'] as const;
type Drawer = (typeof DRAWERS)[number];

/** Rig: the room as its packets light it, one drawer under it, and the selected lamp. */
export function RigPlace() {
  const side = useView((v) => v.rig),
    [zones, setZones] = useState(false),
    [drawer, setDrawer] = useState<Drawer | null>('Patch'),
    [marked, setMarked] = useState<readonly string[]>([]),
    [message, setMessage] = useState<string | null>(null);
  const laser = side === 'laser';
  const lamps = useRoomLamps();
  const said = useSession((s) => s.history.show.messages.find((m) => m.id === message)) ?? null;
  const flashing = useSession((s) => s.outlets?.flashing ?? NONE);
  const known = marked.filter((id) => lamps.some((l) => l.fixture.id === id)),
    selected = known.length > 0 ? known : lamps[0] ? [lamps[0].fixture.id] : [],
    chosen = new Set(selected);
  const choose = (id: string, more: boolean): void =>
    setMarked(more ? (chosen.has(id) ? selected.filter((x) => x !== id) : [...selected, id]) : [id]);
  const own = lamps.filter((l) => chosen.has(l.fixture.id)),
    last = lamps.find((l) => l.fixture.id === selected.at(-1));
  const add = (): void => {
    const id = addLamp(last?.fixture);
    if (id) setMarked([id]);
  };
  const flashingNames = flashing.flatMap((id) => lamps.find((l) => l.fixture.id === id)?.fixture.name ?? []);
  return (
    <Box sx={placeGrid(WITH_PANEL)}>
      <Box
        sx={{
          display: 'grid',
          gridTemplateRows: {
            xs: 'auto minmax(260px, 48vw) auto auto',
            md: laser
              ? 'auto minmax(180px, 1fr) auto auto'
              : drawer
                ? 'auto minmax(180px, 1.45fr) auto minmax(120px, 1fr)'
                : 'auto minmax(180px, 1fr) auto',
          },
          minHeight: 0,
          minWidth: 0,
          px: 1.5,
          pt: 1,
          pb: 1,
          gap: 1,
        }}
      >
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap' }}>
          <Typography variant="h2" sx={{ flex: 1 }}>
            {laser ? 'The laser, as its mirrors draw it' : 'The deck, as its packets light it'}
          </Typography>
          {!laser && (
            <Button variant="text" onClick={add}>
              + lamp
            </Button>
          )}
          {SIDES.map(([s, words]) => (
            <Tab key={s} on={s === side} onPress={() => look({ rig: s })}>
              {words}
            </Tab>
          ))}
        </Box>
        {laser ? (
          <LaserField zones={zones} />
        ) : (
          <>
            <Box sx={{ minHeight: 0, position: 'relative' }}>
              <RoomStage
                side={side === 'above' ? 'above' : 'front'}
                lamps={lamps}
                chosen={chosen}
                onChoose={choose}
              />
              {lamps.length === 0 && (
                <Box
                  sx={{
                    position: 'absolute',
                    inset: 0,
                    display: 'grid',
                    placeItems: 'center',
                    color: '#f2e9d4',
                  }}
                >
                  No lamps yet. Press “+ lamp” to patch one.
                </Box>
              )}
              {flashingNames.length > 0 && (
                <Box
                  role="alert"
                  sx={(t) => ({
                    position: 'absolute',
                    left: 12,
                    top: 12,
                    maxWidth: 'calc(100% - 24px)',
                    px: 1.5,
                    py: 0.75,
                    background: t.ink.paper,
                    color: t.ink.paperText,
                    clipPath: 'polygon(0 0, calc(100% - 16px) 0, 100% 16px, 100% 100%, 0 100%)',
                  })}
                >
                  {flashingNames.slice(0, 3).join(', ')}
                  {flashingNames.length > 3 ? ` and ${flashingNames.length - 3} more` : ''}: between 3 and 30
                  flashes a second can bring on a seizure. Let it fall more slowly.
                </Box>
              )}
            </Box>
            <Box role="group" aria-label="Drawers" sx={{ display: 'flex', gap: 1 }}>
              {DRAWERS.map((d) => (
                <Tab key={d} on={d === drawer} onPress={() => setDrawer(d === drawer ? null : d)}>
                  {d}
                </Tab>
              ))}
            </Box>
            {drawer && (
              <Box
                component="section"
                aria-label={drawer}
                tabIndex={0}
                sx={{ overflowY: 'auto', minHeight: 0, pb: 1 }}
              >
                {drawer === 'Patch' && <PatchDrawer chosen={chosen} onChoose={choose} />}
                {drawer === 'Wires' && <WiresDrawer />}
                {drawer === 'Received' && <ReceivedDrawer />}
                {drawer === 'Line-up' && <LineUpDrawer />}
                {drawer === 'Messages' && <MessagesDrawer chosen={message} onChoose={setMessage} />}
              </Box>
            )}
          </>
        )}
      </Box>
      <Box
        component="section"
        aria-label={laser ? 'The laser' : 'Selected lamp'}
        sx={(t) => ({
          background: t.ink.paper,
          color: t.ink.paperText,
          '--mark': t.ink.paperText,
          '--bed': t.ink.paperDeep,
          '--faint': t.ink.paperFaint,
          '& .MuiButton-outlined': { color: 'inherit', borderColor: 'currentColor' },
          '& .MuiButton-contained': {
            backgroundColor: t.ink.paperText,
            color: t.ink.paper,
            '&:hover': {
              backgroundColor: t.ink.sheetQuiet,
              color: t.palette.mode === 'dark' ? t.ink.paper : t.ink.paperText,
            },
          },
          '& .MuiButton-text': { color: 'inherit' },
          px: 2.25,
          pt: 1.5,
          overflowY: 'auto',
          minHeight: 0,
          clipPath: 'polygon(0 2px, 100% 0, 100% 100%, 3px 100%, 0 62%, 3px 31%)',
        })}
      >
        {laser ? (
          <LaserSide zones={zones} onZones={setZones} />
        ) : drawer === 'Messages' && said ? (
          <MessagePanel message={said} />
        ) : own.length > 1 ? (
          <LampsPanel lamps={own} />
        ) : last ? (
          <LampPanel lamp={last} />
        ) : (
          <Typography sx={{ pt: 2 }}>No lamp is selected.</Typography>
        )}
      </Box>
    </Box>
  );
}
const NONE: readonly string[] = [];

/** One of a few that are shown in turn. */
function Tab({
  on,
  onPress,
  children,
}: {
  readonly on: boolean;
  readonly onPress: () => void;
  readonly children: string;
}) {
  return (
    <Box
      component="button"
      aria-pressed={on}
      onClick={onPress}
      sx={(t) => ({
        all: 'unset',
        cursor: 'pointer',
        minHeight: 36,
        px: 2,
        display: 'inline-flex',
        alignItems: 'center',
        fontWeight: 700,
        background: on ? t.ink.paper : t.ink.sheet,
        color: on ? t.ink.paperText : t.ink.sheetText,
        '&:focus-visible': { outline: `3px solid ${t.ink.now}` },
      })}
    >
      {children}
    </Box>
  );
}
