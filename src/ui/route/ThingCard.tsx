'use client';
import { useDroppable } from '@dnd-kit/core';
import { Box, Button, Typography } from '@mui/material';
import { useState } from 'react';
import type { ParameterDescription } from '../../core/parameters';
import { restOf, type Thing } from '../../core/show';
import { ColourNow, ParameterNow, ParameterTrack } from '../controls/ParameterTrack';
import { Sheet } from '../controls/Sheet';
import { useSession } from '../state/session';
import { look, useView } from '../state/view';
import { makeRoute } from './makeRoute';
import { MoveThis } from './MoveThis';
import { ShowIt } from './ShowIt';

/** Marks of so many routes are drawn on one parameter: of more, none could be told from the next. */
const MARKED_MOST = 24;

/** A thing with the parameters that are moved; all of them when it is opened, or while a signal looks for a target. */
export function ThingCard({ thing, open }: { readonly thing: Thing; readonly open: boolean }) {
  const routes = useSession((s) => s.history.show.routes);
  const [opened, setOpened] = useState(false);
  const routed = thing.parameters.filter((p) =>
    routes.some((r) => r.target.thing === thing.id && r.target.parameter === p.id),
  );
  const all = open || opened;
  const shown = all ? thing.parameters : routed;
  return (
    <Box role="listitem">
      <Sheet name={thing.id} sx={{ p: 1, px: 1.5 }}>
        <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between', minHeight: 30 }}>
          <Typography variant="h3" component="h3">
            {thing.name}
          </Typography>
          <Button
            variant="text"
            aria-expanded={all}
            onClick={() => setOpened(!opened)}
            sx={(t) => ({ color: t.ink.sheetFaint, fontSize: '0.86rem', minHeight: 28 })}
          >
            {all ? 'fewer' : `all ${thing.parameters.length}`}
          </Button>
        </Box>
        {shown.map((p) => (
          <ParameterRow key={p.id} thing={thing} parameter={p} movable={all} />
        ))}
      </Sheet>
    </Box>
  );
}

function ParameterRow({
  thing,
  parameter,
  movable,
}: {
  readonly thing: Thing;
  readonly parameter: ParameterDescription;
  readonly movable: boolean;
}) {
  const key = `${thing.id}/${parameter.id}`;
  const all = useSession((s) => s.history.show.routes);
  const routes = all.filter((r) => r.target.thing === thing.id && r.target.parameter === parameter.id);
  const selected = useView((v) => v.route);
  const aiming = useView((v) => v.aiming);
  const { setNodeRef, isOver } = useDroppable({
    id: key,
    data: { thing: thing.id, parameter: parameter.id },
  });
  const rest = restOf(thing, parameter);
  const target = { thing: thing.id, parameter: parameter.id };
  return (
    <Box
      ref={setNodeRef}
      data-parameter={key}
      onClick={() => {
        if (routes[0]) look({ route: routes[0].id, signal: routes[0].signal });
      }}
      sx={(t) => ({
        display: 'flex',
        alignItems: 'center',
        minHeight: 34,
        cursor: routes.length ? 'pointer' : 'default',
        background: isOver ? t.ink.sheetQuiet : 'none',
        boxShadow: routes.some((r) => r.id === selected) ? `inset 4px 0 0 ${t.ink.selected}` : 'none',
        pl: 1,
        ml: -1,
      })}
    >
      <Box
        component="span"
        title={parameter.help}
        sx={{
          width: 76,
          flex: 'none',
          fontSize: '0.92rem',
          whiteSpace: 'nowrap',
          overflow: 'hidden',
          textOverflow: 'ellipsis',
        }}
      >
        {parameter.label}
      </Box>
      {parameter.kind === 'number' ? (
        <>
          <ParameterTrack
            at={key}
            name={`${thing.name} · ${parameter.label}`}
            parameter={parameter}
            rest={rest as number}
            routes={routes
              .slice(0, MARKED_MOST)
              .map((r) => ({ reach: r.reach as number, amount: r.shaping.amount }))}
          />
          {!movable && <ParameterNow at={key} parameter={parameter} />}
          <ShowIt target={target} name={`${thing.name} · ${parameter.label}`} parameter={parameter} />
        </>
      ) : (
        <>
          <Box sx={{ flex: 1 }} />
          <ColourNow at={key} />
        </>
      )}
      {movable &&
        (aiming ? (
          <Button
            variant="contained"
            aria-label={`Move ${thing.name} · ${parameter.label}`}
            onClick={(e) => {
              e.stopPropagation();
              makeRoute(aiming, target);
            }}
            sx={{ ml: 1, whiteSpace: 'nowrap', px: 1.25, minWidth: 104 }}
          >
            + move this
          </Button>
        ) : (
          <MoveThis target={target} label={`${thing.name} · ${parameter.label}`} />
        ))}
    </Box>
  );
}
