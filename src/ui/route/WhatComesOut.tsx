'use client';
import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material';
import { useRef, useState } from 'react';
import { inputSignal, routeSignal } from '../../core/plan';
import {
  changeGroup,
  changeRoutes,
  changeShaping,
  endSolo,
  findSignal,
  muteRoute,
  parameterKey,
  surfaceOfThing,
  surfacesOf,
  WHOLE_PICTURE,
} from '../../core/show';
import { fitPastLimit, fitToHeard, heldByLimit } from '../bench/fitToHeard';
import { send } from '../bench/RouteActs';
import { live, useFrame } from '../live/live';
import { HostCamera } from '../overlays/HostCamera';
import { PictureStage } from '../picture/PictureStage';
import { RoomCanvas, useRoomLamps } from '../rig/RoomCanvas';
import { currentShow, edit, giveBack, setDark, setFreeze, setPlaying, useSession } from '../state/session';
import { goTo, useView } from '../state/view';
import { whyNot, type Answer, type Remedy } from './why';

type Output = 'picture' | 'lamps' | 'overlay';

/** What comes out, following the selection, and why a thing is not moving. */
export function WhatComesOut() {
  const show = useSession((s) => s.history.show);
  const selected = useView((v) => v.route);
  const route = show.routes.find((r) => r.id === selected);
  const on = route ? surfaceOfThing(show, route.target.thing) : null,
    overlaid = on !== null && on.id !== WHOLE_PICTURE ? on : null;
  const follows: Output =
    route && show.fixtures.some((f) => f.id === route.target.thing)
      ? 'lamps'
      : overlaid
        ? 'overlay'
        : 'picture';
  const overlay = overlaid ?? surfacesOf(show)[1];
  const [chosen, setChosen] = useState<{ output: Output; at: string | null } | null>(null);
  const output = chosen && chosen.at === selected ? chosen.output : follows;
  return (
    <>
      <Typography variant="h2" sx={{ mb: 0.75 }}>
        What comes out
      </Typography>
      {output === 'picture' && <PictureStage most={960} />}
      {output === 'lamps' && <LampsComeOut />}
      {output === 'overlay' &&
        (overlay ? (
          <PictureStage most={960} surface={overlay} behind={<HostCamera />} />
        ) : (
          <Box sx={{ p: 2 }}>There is no overlay.</Box>
        ))}
      <ToggleButtonGroup
        exclusive
        value={output}
        onChange={(_, v: Output | null) => {
          if (v) setChosen({ output: v, at: selected });
        }}
        aria-label="Output that is shown"
        sx={(t) => ({
          display: 'flex',
          gap: 1,
          mt: 1,
          '& .MuiToggleButton-root': {
            flex: 1,
            minHeight: 34,
            py: 0,
            border: 'none !important',
            color: t.ink.sheetText,
            background: t.ink.sheet,
            textTransform: 'none',
            fontWeight: 700,
            fontSize: '0.92rem',
            '&.Mui-selected, &.Mui-selected:hover': { background: t.ink.paper, color: t.ink.paperText },
          },
        })}
      >
        {(['picture', 'lamps', 'overlay'] as const).map((o) => (
          <ToggleButton key={o} value={o}>
            {o}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Why />
    </>
  );
}

function LampsComeOut() {
  const lamps = useRoomLamps();
  return (
    <Box sx={{ aspectRatio: '16 / 9', background: '#080707' }}>
      {lamps.length ? (
        <RoomCanvas side="front" lamps={lamps} />
      ) : (
        <Box sx={{ p: 2, color: '#f2e9d4' }}>No lamps are patched.</Box>
      )}
    </Box>
  );
}

const TWO_SECONDS = 94;
const LABEL: Record<Exclude<Remedy, null>, string> = {
  play: 'play',
  light: 'dark off',
  thaw: 'freeze off',
  unmute: 'unmute',
  'unmute the group': 'unmute the group',
  'end solo': 'end solo',
  'give back': 'give it back',
  send: 'send it',
  'add instead': 'let it add instead',
  'lower the floor': 'lower the floor',
  fit: 'fit to heard',
  'fit past the limit': 'fit past the limit',
  'raise the amount': 'raise the amount',
  'choose an input': 'go to Listen',
};

function Why() {
  const selected = useView((v) => v.route);
  const muted = useSession((s) => s.history.show.routes.filter((r) => r.muted).length);
  const [answer, setAnswer] = useState<Answer | null>(null);
  const last = useRef(0);
  const said = useRef('');
  // A drum rests between its strokes: what counts is the most of the last two seconds.
  const most = useRef({ route: '', tops: new Float32Array(7), at: 0 });
  useFrame((now) => {
    const top = most.current,
      y = selected ? Math.abs(live.signal(routeSignal(selected)) || 0) : 0;
    if (top.route !== selected) {
      top.route = selected ?? '';
      top.tops.fill(0);
    }
    if (y > top.tops[top.at]!) top.tops[top.at] = y;
    if (now - last.current < 300) return;
    last.current = now;
    const show = currentShow();
    const route = show.routes.find((r) => r.id === selected);
    let shaped = 0;
    for (const x of top.tops) if (x > shaped) shaped = x;
    top.at = (top.at + 1) % top.tops.length;
    top.tops[top.at] = 0;
    let next: Answer | null = null;
    if (route) {
      const { dark, freeze, playing, hands } = useSession.getState();
      const ear = findSignal(show, route.signal)?.ear;
      const recent = (id: string): number => {
        const s = live.slot(id);
        return s < 0 || !live.traces ? 0 : live.traces.recent(s, TWO_SECONDS);
      };
      next = whyNot(show, route, {
        health: ear ? live.signal(inputSignal(ear.input, 'health')) : 0,
        paused: !playing,
        dark,
        freeze,
        recent: recent(route.signal),
        shaped,
        byHand: parameterKey(route.target) in hands,
        unseen: route.unseen !== null,
        quiet: heldByLimit(route),
        fitted: route.shaping.fit?.mode !== 'coming' || shaped > 0,
      });
    }
    const key = next ? next.words + String(next.remedy) : '';
    if (key !== said.current) {
      said.current = key;
      setAnswer(next);
    }
  });
  const mend = (remedy: Remedy): void => {
    if (!selected || !remedy) return;
    const route = currentShow().routes.find((r) => r.id === selected);
    switch (remedy) {
      case 'play':
        setPlaying(true);
        return;
      case 'light':
        setDark(false);
        return;
      case 'thaw':
        setFreeze(false);
        return;
      case 'unmute the group':
        edit('unmute a group', changeGroup(route?.group ?? '', { muted: false }));
        return;
      case 'end solo':
        edit('end solo', endSolo);
        return;
      case 'give back':
        if (route) giveBack(parameterKey(route.target));
        return;
      case 'send':
        if (route) send(route);
        return;
      case 'add instead': {
        const over =
          route &&
          currentShow()
            .routes.filter(
              (r) =>
                r.combine === 'replace' &&
                parameterKey(r.target) === parameterKey(route.target) &&
                r.id !== selected,
            )
            .map((r) => r.id);
        if (over) edit('add instead of replacing', changeRoutes(over, { combine: 'add' }));
        return;
      }
      case 'unmute':
        edit('unmute a route', muteRoute(selected, false));
        return;
      case 'lower the floor':
        edit(
          'lower a floor',
          changeShaping(selected, { floor: { at: (route?.shaping.floor?.at ?? 0) / 4 } }),
        );
        return;
      case 'fit past the limit':
        fitPastLimit(selected);
        return;
      case 'fit':
        fitToHeard(selected);
        return;
      case 'raise the amount':
        edit('raise an amount', changeShaping(selected, { amount: 1 }));
        return;
      case 'choose an input':
        goTo('listen');
        return;
    }
  };
  return (
    <Box component="section" aria-label="Why isn’t it moving?" sx={{ mt: 2 }}>
      <Typography variant="h2" sx={{ fontSize: '1.2rem' }}>
        Why isn’t it moving?
      </Typography>
      <Box role="status" sx={{ fontSize: '0.95rem', my: 0.75, minHeight: 40 }}>
        {answer?.words ?? 'Select a ribbon, and it is told here.'}
      </Box>
      {answer?.remedy && (
        <Button variant="contained" onClick={() => mend(answer.remedy)}>
          {LABEL[answer.remedy]}
        </Button>
      )}
      {muted > 0 && (
        <Box sx={(t) => ({ mt: 1.5, color: t.ink.sheetFaint, fontSize: '0.9rem' })}>
          {muted === 1 ? 'One route is muted.' : `${muted} routes are muted.`}
        </Box>
      )}
    </Box>
  );
}
