'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { useEffect, useMemo, useRef, useState } from 'react';
import { formatNumber, type NumberParameter } from '../../core/parameters';
import { COLUMN_SECONDS, TRACE_COLUMNS } from '../../core/plan';
import { type Likeness, RouteBank, showIt } from '../../core/shaping';
import {
  addRoute,
  findSignal,
  freeId,
  isRoutable,
  newRoute,
  setRest,
  signalsOf,
  type Target,
} from '../../core/show';
import { SignalTrace } from '../controls/SignalTrace';
import { handSeconds, readHand } from '../live/handTrail';
import { live, useFrame } from '../live/live';
import { currentShow, edit, giveBack, lendHand, useSession } from '../state/session';
import { say } from '../state/notices';
import { look } from '../state/view';

/** Shorter movements say too little: about two bars. */
const ENOUGH_S = 4;

/**
 * For a parameter that is held by hand: once it has been moved to the music for a while, the signals that move so are offered,
 * each with its fit, attack, release, rest and reach.
 */
export function ShowIt({
  target,
  name,
  parameter,
}: {
  readonly target: Target;
  readonly name: string;
  readonly parameter: NumberParameter;
}) {
  const key = `${target.thing}/${target.parameter}`;
  const byHand = useSession((s) => key in s.hands);
  const [enough, setEnough] = useState(false);
  const [found, setFound] = useState<readonly Likeness[] | null>(null);
  const last = useRef(0);
  useFrame((now) => {
    if (!byHand || now - last.current < 250) return;
    last.current = now;
    const e = handSeconds(key) >= ENOUGH_S;
    if (e !== enough) setEnough(e);
  });
  const search = (): void => {
    const movement = new Float32Array(TRACE_COLUMNS);
    if (!readHand(key, movement)) return;
    const heard = signalsOf(currentShow())
      .filter((s) => isRoutable(s) && s.maker === null)
      .flatMap((signal) => {
        const trace = new Float32Array(TRACE_COLUMNS);
        return live.trace(signal.id, trace) < 0 ? [] : [{ signal, trace }];
      });
    const best = showIt(movement, heard, parameter, COLUMN_SECONDS).slice(0, 3);
    if (best.length === 0) {
      say('done', 'Nothing that sounded moved like that. Move it for a few bars while something plays.');
      return;
    }
    setFound(best);
  };
  if (!byHand) return null;
  return (
    <>
      <Button
        variant="contained"
        disabled={!enough}
        title={
          enough
            ? `Finds the signals that move ${name} as you did.`
            : 'Move the mark to the music for a few bars, and the signals that move so are found.'
        }
        onClick={search}
        sx={{ whiteSpace: 'nowrap', ml: 1 }}
      >
        {enough ? 'what moves so?' : 'move it to the music …'}
      </Button>
      {found && (
        <Offers
          target={target}
          name={name}
          parameter={parameter}
          found={found}
          onClose={() => setFound(null)}
        />
      )}
    </>
  );
}

function Offers({
  target,
  name,
  parameter,
  found,
  onClose,
}: {
  readonly target: Target;
  readonly name: string;
  readonly parameter: NumberParameter;
  readonly found: readonly Likeness[];
  readonly onClose: () => void;
}) {
  const key = `${target.thing}/${target.parameter}`;
  const show = useSession((s) => s.history.show);
  const held = useSession((s) => s.hands[key]);
  const [pointed, setPointed] = useState<Likeness | null>(found[0] ?? null);
  const bank = useMemo(() => new RouteBank(1), []);
  const before = useRef(NaN),
    count = useRef(-1);
  useEffect(() => {
    if (!pointed) return;
    bank.reset(0);
    bank.set(0, pointed.shaping, findSignal(currentShow(), pointed.signal)?.usual ?? 1);
    before.current = NaN;
    count.current = -1;
  }, [pointed, bank]);
  // What is pointed at moves the thing meanwhile; what was held comes back when nothing is.
  const restore = useRef(held);
  useEffect(() => {
    const at = restore.current;
    return () => lendHand(key, key in useSession.getState().hands ? (at ?? null) : null);
  }, [key]);
  useFrame((now) => {
    if (!pointed) return;
    const dt = Number.isNaN(before.current) ? 0.016 : Math.min(0.1, (now - before.current) / 1000);
    before.current = now;
    const slot = live.slot(pointed.signal),
      n = slot < 0 ? 0 : (live.frame?.counts[slot] ?? 0);
    const struck = count.current >= 0 && n !== count.current ? (live.lastEvent.get(slot)?.strength ?? 1) : 0;
    count.current = n;
    bank.begin(dt, 1);
    const y = bank.step(0, live.signal(pointed.signal) || 0, struck);
    lendHand(key, [pointed.rest + y * (pointed.reach - pointed.rest)]);
  });
  const keep = (l: Likeness): void => {
    const signal = findSignal(show, l.signal);
    if (!signal) return;
    const route = {
      ...newRoute(freeId(show, 'route'), signal, target, parameter, null),
      shaping: l.shaping,
      reach: l.reach,
    };
    edit(`move ${name} with ${signal.name}, as it was shown`, (d) => {
      addRoute(route)(d);
      setRest(target, l.rest)(d);
    });
    onClose();
    giveBack(key);
    look({ route: route.id, signal: l.signal });
  };
  return (
    <Dialog
      open
      onClose={onClose}
      aria-labelledby="show-title"
      slotProps={{ paper: { sx: { p: 3, minWidth: 520 } }, backdrop: { sx: { background: 'transparent' } } }}
    >
      <Typography id="show-title" variant="h2">
        These move like that
      </Typography>
      <Box sx={{ my: 1 }}>Point at one to see it move {name}.</Box>
      {found.map((l) => {
        const signal = findSignal(show, l.signal);
        if (!signal) return null;
        return (
          <Box
            key={l.signal}
            onPointerEnter={() => setPointed(l)}
            onFocus={() => setPointed(l)}
            sx={(t) => ({
              display: 'grid',
              gridTemplateColumns: '1fr 120px auto',
              gap: 2,
              alignItems: 'center',
              py: 1,
              px: 1,
              borderTop: '2px solid var(--bed)',
              boxShadow: pointed === l ? `inset 5px 0 0 ${t.ink.now}` : 'none',
            })}
          >
            <Box>
              <b>{signal.name}</b>
              <Box sx={{ fontSize: '0.88rem' }}>
                {Math.round(l.score * 100)} % alike · {formatNumber(l.rest, parameter)} to{' '}
                {formatNumber(l.reach, parameter)}
                {l.lagMs > 30 ? ` · you were ${Math.round(l.lagMs)} ms behind` : ''}
              </Box>
            </Box>
            <SignalTrace signal={signal} columns={300} sx={{ height: 30 }} />
            <Button variant="contained" aria-label={`Keep ${signal.name}`} onClick={() => keep(l)}>
              keep
            </Button>
          </Box>
        );
      })}
      <Button variant="text" onClick={onClose} sx={{ mt: 1 }}>
        Never mind
      </Button>
    </Dialog>
  );
}
