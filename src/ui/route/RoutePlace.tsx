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
import { Box, Button, Typography } from '@mui/material';
import { useRef, useState } from 'react';
import { findSignal, signalsOf } from '../../core/show/signals';
import { thingsOf } from '../../core/show/things';
import { aimRoute } from '../../core/show/commands';
import { edit, useSession } from '../state/session';
import { goTo, look, useView } from '../state/view';
import { GroupCard } from './GroupCard';
import { MakerMenu } from './MakerMenu';
import { makeRoute } from './makeRoute';
import { Ribbons } from './Ribbons';
import { RouteList } from './RouteList';
import { SignalRow } from './SignalRow';
import { ThingCard } from './ThingCard';
import { WhatComesOut } from './WhatComesOut';

/** The ribbon board: signals at the left, what they move at the right, and a strip of paper for each route. */
export function RoutePlace() {
  const show = useSession((s) => s.history.show);
  const aiming = useView((v) => v.aiming);
  const picked = useView((v) => v.signal);
  const list = useView((v) => v.list);
  const unseen = useView((v) => v.unseen);
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
  const torn = show.routes.filter(
    (r) =>
      !findSignal(show, r.signal) ||
      !things.some((t) => t.id === r.target.thing && t.parameters.some((p) => p.id === r.target.parameter)),
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
          gridTemplateColumns: { xs: 'minmax(0,1fr)', md: 'minmax(0, 1fr) minmax(220px, 284px)' },
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
            <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between' }}>
              <Typography variant="h2">What they move</Typography>
            </Box>
            <Box
              data-column="signals"
              role="list"
              aria-label="Signals"
              sx={{
                overflowY: 'auto',
                display: 'flex',
                flexDirection: 'column',
                gap: 1,
                pb: 1,
                scrollbarWidth: 'none',
              }}
            >
              {rows.map((signal) => (
                <SignalRow key={signal.id} signal={signal} />
              ))}
              {show.ears.length + show.makers.length === 0 && (
                <Box sx={(t) => ({ color: t.ink.sheetFaint, py: 2 })}>
                  No signals yet. Make an ear in Listen, or a maker here.
                </Box>
              )}
            </Box>
            <Box />
            <Box
              data-column="things"
              role="list"
              aria-label="What they move"
              sx={{
                overflowY: 'auto',
                display: 'flex',
                flexDirection: 'column',
                gap: 1,
                pb: 1,
                scrollbarWidth: 'none',
              }}
            >
              {folded.map((g) => (
                <GroupCard key={g.id} group={g} show={show} />
              ))}
              {[...things.filter((t) => targets.has(t.id)), ...things.filter((t) => !targets.has(t.id))].map(
                (thing) => (
                  <ThingCard key={thing.id} thing={thing} open={aimed !== null} />
                ),
              )}
            </Box>
            <Ribbons board={board} />
          </Box>
        )}
        <Box sx={{ minHeight: 0, overflowY: 'auto', pb: 1 }}>
          <WhatComesOut />
          {torn.length > 0 && (
            <Box sx={{ mt: 2 }}>
              <Typography variant="h2">Torn routes</Typography>
              {torn.map((r) => (
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
                        edit('mend a route', aimRoute(r.id, { signal: aimed.id }));
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
