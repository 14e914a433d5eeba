'use client';
import {
  DndContext,
  DragOverlay,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { Box, Button, TextField, Typography } from '@mui/material';
import { useMemo, useRef, useState } from 'react';
import {
  followSignal,
  findParameter,
  findSignal,
  type RouteGroup,
  signalsOf,
  type Thing,
  thingsOf,
} from '../../core/show';
import { heardOf } from '../bench/fitToHeard';
import { LongList } from '../controls/LongList';
import { currentShow, edit, useSession } from '../state/session';
import { goTo, look, useView } from '../state/view';
import { GroupCard } from './GroupCard';
import { MakerMenu } from './MakerMenu';
import { makeRoute } from './makeRoute';
import { Ribbons } from './Ribbons';
import { RouteList } from './RouteList';
import { SignalRow } from './SignalRow';
import { ThingCard } from './ThingCard';
import { WhatComesOut } from './WhatComesOut';

/** With more things than this one is found by its name. */
const FIND_FROM = 12;
/** Of lost ends so many are listed; the list of routes has all of them. */
const TORN_MOST = 12;

/** The ribbon board: signals at the left, what they move at the right, and a strip of paper for each route. */
export function RoutePlace() {
  const show = useSession((s) => s.history.show);
  const aiming = useView((v) => v.aiming);
  const picked = useView((v) => v.signal);
  const list = useView((v) => v.list);
  const unseen = useView((v) => v.unseen);
  const selected = useView((v) => v.route);
  const route = show.routes.find((r) => r.id === selected);
  const [dragged, setDragged] = useState<string | null>(null);
  const board = useRef<HTMLDivElement>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor),
  );
  const things = thingsOf(show);
  const folded = show.groups.filter((g) => g.folded && show.routes.some((r) => r.group === g.id)),
    away = new Set(folded.map((g) => g.id));
  const open = show.routes.filter((r) => r.group === null || !away.has(r.group));
  const targets = new Set(open.map((r) => r.target.thing));
  const aimed = findSignal(show, dragged ?? aiming ?? '');
  const routed = new Set(open.map((r) => r.signal));
  // The bands of a set stand under it once it is selected; those that move something always.
  const opened = picked?.split('/')[0] ?? null;
  const rows = signalsOf(show).filter((s) => s.member === null || s.ear?.id === opened || routed.has(s.id));
  const torn = useMemo(
    () => show.routes.filter((r) => !findSignal(show, r.signal) || !findParameter(show, r.target)),
    [show],
  );
  const [find, setFind] = useState('');
  const wanted = find.trim().toLowerCase();
  const cards = useMemo(
    (): readonly (RouteGroup | Thing)[] =>
      [
        ...folded,
        ...things.filter((t) => targets.has(t.id)),
        ...things.filter((t) => !targets.has(t.id)),
      ].filter((x) => x.name.toLowerCase().includes(wanted)),
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [show, wanted],
  );
  const end = ({ active, over }: DragEndEvent): void => {
    setDragged(null);
    const target = over?.data.current as { thing: string; parameter: string } | undefined;
    if (target) makeRoute(String(active.id), target);
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      autoScroll
      onDragStart={(e) => setDragged(String(e.active.id))}
      onDragCancel={() => setDragged(null)}
      onDragEnd={end}
      accessibility={{
        screenReaderInstructions: {
          draggable:
            'Press space to pick this signal up, arrow keys to carry it, space to drop it on a parameter. Or choose “+ move this” on a parameter.',
        },
      }}
    >
      <Box
        sx={{
          height: '100%',
          display: 'grid',
          gridTemplateColumns: {
            xs: 'minmax(0,1fr)',
            md: 'minmax(0, 1fr) minmax(220px, 284px)',
            // On a wide display the ribbons have what they need, and the picture the rest.
            xl: 'minmax(0, 1040px) minmax(284px, 1fr)',
          },
          gap: 2,
          px: 1.5,
          pt: 1,
          overflow: { xs: 'auto', md: 'hidden' },
        }}
      >
        {list ? (
          <Box sx={{ minHeight: 0, minWidth: 0, display: 'grid', gridTemplateRows: 'auto minmax(0,1fr)' }}>
            <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between' }}>
              <Typography variant="h2">Routes</Typography>
              <Button variant="text" onClick={() => look({ list: false })}>
                back to ribbons
              </Button>
            </Box>
            <RouteList />
          </Box>
        ) : (
          <Box
            ref={board}
            sx={{
              position: 'relative',
              display: 'grid',
              gridTemplateColumns: 'minmax(170px, 256px) minmax(60px, 1fr) minmax(240px, 356px)',
              gridTemplateRows: 'auto minmax(0, 1fr)',
              minHeight: 0,
              minWidth: 0,
            }}
          >
            <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between' }}>
              <Typography variant="h2">Signals</Typography>
              <Box>
                <Button variant="text" onClick={() => goTo('listen')}>
                  + ear
                </Button>
                <MakerMenu />
              </Box>
            </Box>
            <Box
              role="status"
              sx={(t) => ({
                alignSelf: 'center',
                textAlign: 'center',
                fontSize: '0.92rem',
                px: 1,
                color: t.ink.sheetFaint,
              })}
            >
              {aimed ? (
                <>
                  <b>{aimed.name}</b>:{' '}
                  {dragged
                    ? 'drop it on what it shall move'
                    : 'now press “+ move this” on what it shall move'}
                </>
              ) : (
                <>
                  <Button variant="text" onClick={() => look({ list: true })} title="Show one route a row">
                    {show.routes.length} {show.routes.length === 1 ? 'route' : 'routes'}: list
                  </Button>
                  <Button
                    variant="text"
                    aria-pressed={unseen}
                    onClick={() => look({ unseen: !unseen })}
                    title="New routes are tried in this window only, until they are sent."
                    sx={(t) => ({
                      '&[aria-pressed=true]': { background: t.ink.paper, color: t.ink.paperText },
                    })}
                  >
                    {unseen ? 'new ones unseen' : 'new ones seen'}
                  </Button>
                </>
              )}
            </Box>
            <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between', gap: 1 }}>
              <Typography variant="h2">What they move</Typography>
              {things.length > FIND_FROM && (
                <TextField
                  size="small"
                  placeholder="find"
                  value={find}
                  onChange={(e) => setFind(e.target.value)}
                  onKeyDown={(e) => {
                    e.stopPropagation();
                    if (e.key === 'Escape') setFind('');
                  }}
                  slotProps={{ htmlInput: { 'aria-label': 'Find what is moved' } }}
                  sx={{ width: 110 }}
                />
              )}
            </Box>
            <LongList
              column="signals"
              label="Signals"
              items={rows}
              keyOf={(s) => s.id}
              estimate={72}
              gap={8}
              shown={picked}
              render={(signal) => <SignalRow key={signal.id} signal={signal} />}
              sx={{ pb: 1, scrollbarWidth: 'none' }}
            >
              {show.ears.length + show.makers.length === 0 && (
                <Box sx={(t) => ({ color: t.ink.sheetFaint, py: 2 })}>
                  No signals yet. Make an ear in Listen, or a maker here.
                </Box>
              )}
            </LongList>
            <Box />
            <LongList
              column="things"
              label="What they move"
              items={cards}
              keyOf={(x) => x.id}
              estimate={88}
              gap={8}
              shown={route ? (away.has(route.group ?? '') ? route.group : route.target.thing) : null}
              render={(x) =>
                'parameters' in x ? (
                  <ThingCard key={x.id} thing={x} open={aimed !== null} />
                ) : (
                  <GroupCard key={x.id} group={x} show={show} />
                )
              }
              sx={{ pb: 1, scrollbarWidth: 'none' }}
            >
              {cards.length === 0 && (
                <Box sx={(t) => ({ color: t.ink.sheetFaint, py: 2 })}>
                  {wanted ? `Nothing is called “${find.trim()}”.` : 'Nothing to move yet.'}
                </Box>
              )}
            </LongList>
            <Ribbons board={board} />
          </Box>
        )}
        <Box sx={{ minHeight: 0, overflowY: 'auto', pb: 1 }}>
          <WhatComesOut />
          {torn.length > 0 && (
            <Box sx={{ mt: 2 }}>
              <Typography variant="h2">Torn routes</Typography>
              {torn.slice(0, TORN_MOST).map((r) => (
                <Box
                  key={r.id}
                  sx={{
                    display: 'flex',
                    alignItems: 'center',
                    gap: 1,
                    fontSize: '0.92rem',
                    py: 0.5,
                    flexWrap: 'wrap',
                  }}
                >
                  <span>
                    {findSignal(show, r.signal)?.name ?? `lost signal “${r.signal}”`} →{' '}
                    {things.find((t) => t.id === r.target.thing)?.name ?? `lost “${r.target.thing}”`}
                  </span>
                  {aimed && (
                    <Button
                      variant="outlined"
                      onClick={() => {
                        edit('mend a route', followSignal(currentShow(), [r.id], aimed, heardOf));
                        look({ aiming: null });
                      }}
                    >
                      take {aimed.name}
                    </Button>
                  )}
                  <Button variant="outlined" onClick={() => look({ route: r.id })}>
                    select
                  </Button>
                </Box>
              ))}
              {torn.length > TORN_MOST && (
                <Button variant="text" onClick={() => look({ list: true })}>
                  {torn.length - TORN_MOST} more: list
                </Button>
              )}
            </Box>
          )}
        </Box>
      </Box>
      <DragOverlay dropAnimation={null}>
        {aimed && dragged ? (
          <Box
            sx={(t) => ({
              display: 'inline-block',
              background: t.ink.selected,
              color: '#16110d',
              px: 1.5,
              py: 0.75,
              fontWeight: 700,
            })}
          >
            {aimed.name}
          </Box>
        ) : null}
      </DragOverlay>
    </DndContext>
  );
}
