'use client';
import { Box, Button, Menu, MenuItem } from '@mui/material';
import { IconAct } from '../controls/IconAct';
import { useState } from 'react';
import { amountLoop, routeSignal } from '../../core/plan';
import {
  addShape,
  applyShape,
  changeRoutes,
  type Combine,
  COMBINES,
  findParameter,
  findSignal,
  freeId,
  freeName,
  isRoutable,
  removeRoutes,
  removeShape,
  type Route,
  sendUnseen,
  type Show,
  signalsOf,
  tryUnseen,
} from '../../core/show';
import { OUR_SHAPES, type Shaping } from '../../core/shaping';
import { Choice } from '../controls/Choice';
import { currentShow, edit, useSession } from '../state/session';
import { say } from '../state/notices';
import { look } from '../state/view';

const COMBINE_WORDS: Readonly<Record<Combine, string>> = {
  add: 'adds',
  subtract: 'subtracts',
  multiply: 'multiplies',
  greatest: 'the greatest wins',
  least: 'the least wins',
  average: 'averages',
  replace: 'replaces',
};
/** How a route acts beside others, and what can be done with it. */
export function RouteActs({ route }: { readonly route: Route }) {
  const show = useSession((s) => s.history.show);
  const others = show.routes.filter(
    (r) =>
      r.id !== route.id &&
      r.target.thing === route.target.thing &&
      r.target.parameter === route.target.parameter,
  ).length;
  const change = (what: string, c: Parameters<typeof changeRoutes>[1]): void =>
    edit(what, changeRoutes([route.id], c));
  return (
    <>
      {(others > 0 || route.combine !== 'add') && (
        <Choice
          label=""
          name="How it combines"
          value={route.combine}
          options={COMBINES.map((c) => [c, COMBINE_WORDS[c]] as const)}
          onChange={(combine) => change('how a route combines', { combine })}
        />
      )}
      <Shapes route={route} show={show} />
      <Box
        sx={{
          display: 'flex',
          flexWrap: 'wrap',
          '& button': {
            color: 'inherit',
            px: 1,
            '&:hover': { background: 'var(--bed)' },
            '&[aria-pressed=true]': { background: 'var(--mark)', color: 'var(--on-mark)' },
          },
          '& kbd': { font: 'inherit', fontWeight: 400, ml: 0.75, opacity: 0.75 },
        }}
      >
        {route.unseen ? (
          <Button
            variant="text"
            aria-pressed
            title="Only this window shows it. Send it, or drop it with Delete."
            onClick={() => send(route)}
          >
            send <kbd>Enter</kbd>
          </Button>
        ) : (
          <Button
            variant="text"
            title="Tries a copy that only this window shows"
            onClick={() => tryIt(route.id)}
          >
            try unseen <kbd>U</kbd>
          </Button>
        )}
        <Button
          variant="text"
          aria-pressed={route.soloed}
          onClick={() => change(route.soloed ? 'end solo' : 'solo a route', { soloed: !route.soloed })}
        >
          solo <kbd>S</kbd>
        </Button>
        <Button
          variant="text"
          aria-pressed={route.bypassed}
          title="Straight from the fit to the amount; what else shapes it is passed by."
          onClick={() =>
            change(route.bypassed ? 'end a bypass' : 'bypass the shaping', { bypassed: !route.bypassed })
          }
        >
          bypass <kbd>Y</kbd>
        </Button>
        <Button
          variant="text"
          aria-pressed={route.muted}
          onClick={() => change(route.muted ? 'unmute a route' : 'mute a route', { muted: !route.muted })}
        >
          {route.muted ? 'unmute' : 'mute'} <kbd>M</kbd>
        </Button>
        <IconAct
          act="delete"
          label={route.unseen ? 'drop' : 'delete'}
          keyName="Del"
          onClick={() => {
            edit(route.unseen ? 'drop what was tried' : 'delete a route', removeRoutes([route.id]));
            look({ route: route.unseen?.of ?? null });
          }}
        />
        <Button variant="text" onClick={() => look({ route: null })}>
          close <kbd>Esc</kbd>
        </Button>
      </Box>
    </>
  );
}

/** Sends what is tried unseen. */
export function send(route: Route): void {
  edit('send what was tried', sendUnseen([route.id]));
  look({ route: route.unseen?.of ?? route.id });
}
/** Tries a route unseen, and selects the copy. */
export function tryIt(id: string): void {
  const made = tryUnseen(currentShow(), id);
  if (!made) return;
  edit('try unseen', made.command);
  look({ route: made.route });
}

/** The signal that scales a route's amount. A way back to itself is refused, and named. */
export function AmountBy({ route }: { readonly route: Route }) {
  const show = useSession((s) => s.history.show);
  const [at, setAt] = useState<HTMLElement | null>(null);
  const nameOf = (id: string): string => {
    const other = id.startsWith('route:') ? show.routes.find((r) => r.id === id.slice(6)) : null;
    return other ? routeName(show, other) : (findSignal(show, id)?.name ?? 'signal gone');
  };
  const choose = (id: string | null): void => {
    setAt(null);
    const loop = id === null ? null : amountLoop(currentShow(), route.id, id);
    if (loop) {
      say(
        'warning',
        `That would move its own amount: ${loop
          .map((r) =>
            routeName(
              show,
              show.routes.find((x) => x.id === r)!,
            ),
          )
          .join(' ← ')}. Choose another signal.`,
      );
      return;
    }
    edit('what moves an amount', changeRoutes([route.id], { amountBy: id }));
  };
  return (
    <>
      <Button
        variant="text"
        aria-haspopup="menu"
        onClick={(e) => setAt(e.currentTarget)}
        sx={{
          color: 'inherit',
          px: 0.75,
          minHeight: 30,
          fontSize: '0.86rem',
          maxWidth: 150,
          overflow: 'hidden',
          textOverflow: 'ellipsis',
          whiteSpace: 'nowrap',
          display: 'block',
        }}
      >
        {route.amountBy === null ? 'by hand only' : `times ${nameOf(route.amountBy)}`}
      </Button>
      <Menu
        anchorEl={at}
        open={at !== null}
        onClose={() => setAt(null)}
        slotProps={{ list: { 'aria-label': 'What moves the amount' } }}
      >
        <MenuItem selected={route.amountBy === null} onClick={() => choose(null)}>
          nothing: it stays as it is set
        </MenuItem>
        {signalsOf(show)
          .filter((s) => isRoutable(s) && s.kind !== 'colour' && s.member === null)
          .map((s) => (
            <MenuItem key={s.id} selected={route.amountBy === s.id} onClick={() => choose(s.id)}>
              {s.name}
            </MenuItem>
          ))}
        {show.routes
          .filter((r) => r.id !== route.id)
          .slice(0, 40)
          .map((r) => (
            <MenuItem
              key={r.id}
              selected={route.amountBy === routeSignal(r.id)}
              onClick={() => choose(routeSignal(r.id))}
            >
              route: {routeName(show, r)}
            </MenuItem>
          ))}
      </Menu>
    </>
  );
}

/** Shapes by name: ours, and those that were kept. */
function Shapes({ route, show }: { readonly route: Route; readonly show: Show }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const use = (name: string, shaping: Shaping): void => {
    setAt(null);
    edit(`use the shape ${name}`, applyShape([route.id], shaping));
  };
  const keep = (): void => {
    setAt(null);
    const { strike, floor: _floor, fit: _fit, ...rest } = route.shaping;
    const name = freeName(show.shapes, `${findSignal(show, route.signal)?.name ?? 'Shape'}`.slice(0, 70));
    edit(
      'keep a shape',
      addShape({ id: freeId(show, 'shape'), name, shaping: { ...(strike && { strike }), ...rest } }),
    );
    say('done', `Kept as “${name}”, for every route of this show.`);
  };
  return (
    <>
      <Button
        variant="text"
        aria-haspopup="menu"
        onClick={(e) => setAt(e.currentTarget)}
        sx={{ color: 'inherit', px: 1 }}
      >
        shapes
      </Button>
      <Menu
        anchorEl={at}
        open={at !== null}
        onClose={() => setAt(null)}
        slotProps={{ list: { 'aria-label': 'Shapes' } }}
      >
        {OUR_SHAPES.map(([name, shaping]) => (
          <MenuItem key={name} onClick={() => use(name, shaping)}>
            {name}
          </MenuItem>
        ))}
        {show.shapes.map((s) => (
          <MenuItem
            key={s.id}
            onClick={() => use(s.name, s.shaping)}
            sx={{ justifyContent: 'space-between', gap: 2 }}
          >
            {s.name}
            <Button
              size="small"
              variant="text"
              aria-label={`Forget the shape ${s.name}`}
              onClick={(e) => {
                e.stopPropagation();
                edit('forget a shape', removeShape(s.id));
              }}
            >
              forget
            </Button>
          </MenuItem>
        ))}
        <MenuItem onClick={keep} divider={false}>
          <b>Keep this shape</b>
        </MenuItem>
      </Menu>
    </>
  );
}

/** A route in words: "Low drum to Ferry · height". */
export function routeName(show: Show, route: Route): string {
  const end = findParameter(show, route.target);
  return `${findSignal(show, route.signal)?.name ?? 'lost signal'} to ${end ? `${end.thing.name} · ${end.parameter.label}` : 'lost target'}`;
}
