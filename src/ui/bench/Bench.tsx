'use client';
import { Box } from '@mui/material';
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import type { Measure } from '../../core/ears';
import { TRACE_COLUMNS } from '../../core/plan';
import { formatNumber } from '../../core/parameters';
import { type Shaping, STEP_NAMES, type StepName, type Tap, TAP_INDEX } from '../../core/shaping';
import {
  canLead,
  changeShaping,
  findParameter,
  findSignal,
  restOf,
  setReach,
  setRest,
  usualOfSignal,
} from '../../core/show';
import { ColourField } from '../controls/ColourField';
import { NumberField } from '../controls/NumberField';
import { dbText } from '../controls/dbText';
import { signalText } from '../listen/names';
import { live } from '../live/live';
import { edit, endDrag, useSession } from '../state/session';
import { useView } from '../state/view';
import { Card, Seam, TITLE, Together } from './Card';
import { CurveCard } from './CurveCard';
import { FitCard } from './FitCard';
import { fitToHeard } from './fitToHeard';
import { Replay } from './replay';
import { AmountBy, RouteActs } from './RouteActs';
import { SignalOfRoute } from './SignalOfRoute';
import { LeadField } from './LeadField';
import { WhereHeard } from './WhereHeard';
import { FitEdges, FitWays, FRESH, stepSettings, stepWords, type SetShaping } from './stepSettings';

/** Highest number that a fit or a floor may be set to, by what the signal measures. */
const FIT_MOST: Readonly<Record<Measure, number>> = {
  amplitude: 4,
  loudness: 4,
  strength: 4,
  share: 4,
  count: 128,
  note: 127,
  bpm: 400,
  hz: 24000,
};
/** How long the former shape stays to be compared with, in ms. */
const GHOST_MS = 5000;

/** The bench: one route's number on its way, step by step, from what is heard to what is really sent. */
export function Bench() {
  const show = useSession((s) => s.history.show);
  const id = useView((v) => v.route);
  const [open, setOpen] = useState<Tap>('fit');
  const route = show.routes.find((r) => r.id === id);
  const signal = route ? findSignal(show, route.signal) : null;
  const end = route ? findParameter(show, route.target) : null;
  const event = signal?.kind === 'event';
  const measure = signal?.measure ?? 'amplitude';
  const usual = route ? usualOfSignal(show, route.signal) : 1;
  const trace = useMemo(() => new Float32Array(TRACE_COLUMNS), []);
  const after = useMemo(() => new Replay(), []);
  const before = useMemo(() => new Replay(), []);
  const ghost = useRef<{ shaping: Shaping; until: number } | null>(null);
  const seen = useRef<Shaping | null>(null);
  const shaping = route?.shaping ?? null;
  useEffect(() => {
    // A drag changes the shape many times; what is compared with is the shape before it.
    if (
      seen.current &&
      shaping &&
      seen.current !== shaping &&
      (!ghost.current || performance.now() > ghost.current.until)
    )
      ghost.current = { shaping: seen.current, until: 0 };
    if (ghost.current && shaping !== seen.current) ghost.current.until = performance.now() + GHOST_MS;
    seen.current = shaping;
  }, [shaping]);
  if (!route || !shaping) return null;

  const rest = end ? restOf(end.thing, end.parameter) : 0;
  const number = end?.parameter.kind === 'number' ? end.parameter : null;
  const restN = typeof rest === 'number' ? rest : 0,
    reachN = typeof route.reach === 'number' ? route.reach : 1;
  const set: SetShaping = (change, what, mark = null) =>
    edit(what, changeShaping(route.id, change), mark && `${route.id} ${mark}`);
  const key = end ? `${end.thing.id}/${end.parameter.id}` : '';
  const tap = (t: Tap): number => live.frame?.taps[TAP_INDEX[t]] ?? NaN;
  const plain = (x: number): string =>
    Number.isFinite(x) ? (Math.abs(x) < 0.1 ? x.toFixed(4) : x.toFixed(2)) : '–';
  /** As short as a card is narrow. */
  const short = (x: number): string =>
    Number.isFinite(x)
      ? x
          .toFixed(Math.abs(x) < 0.1 && x !== 0 ? 3 : 2)
          .replace(/^(-?)0\./, '$1.')
          .replace(/^-?\.0+$/, '0')
          .replace(/\.00$/, '')
      : '–';
  const inUnit = (x: number): string =>
    number ? (Number.isFinite(x) ? formatNumber(x, number) : '–') : plain(x);
  /** In the parameter's unit, which stands below. */
  const bare = (x: number): string => (number ? formatNumber(x, { ...number, unit: '' }) : short(x));
  const replay = (): { now: Replay; ghost: Replay | null } => {
    live.trace(route.signal, trace);
    after.run(trace, shaping, event, usual, restN, reachN);
    const g = ghost.current && performance.now() < ghost.current.until ? ghost.current : null;
    if (g) before.run(trace, g.shaping, event, usual, restN, reachN);
    return { now: after, ghost: g ? before : null };
  };
  const field = { color: 'inherit', fontSize: '0.88rem' } as const;
  const add = (step: StepName): void => {
    set({ [step]: FRESH[step] }, `add ${TITLE[step]}`);
    if (step === 'fit') fitToHeard(route.id);
    setOpen(step);
  };
  const fitSource = (): Tap => (shaping.floor ? 'floor' : shaping.strike ? 'strike' : 'heard');
  const entering = (step: StepName): Tap => {
    for (let i = STEP_NAMES.indexOf(step) - 1; i >= 0; i--)
      if (shaping[STEP_NAMES[i]!] !== undefined) return STEP_NAMES[i]!;
    return 'heard';
  };
  const card = (step: StepName): ReactNode => {
    const graph =
      open !== step ? undefined : step === 'fit' ? (
        <FitCard
          fit={shaping.fit!}
          source={() => replay().now.of(fitSource())}
          now={() => tap(fitSource())}
          set={(low, high) => set({ fit: { mode: 'hand', low, high } }, 'fit by hand', 'fit')}
        />
      ) : step === 'curve' ? (
        <CurveCard
          points={shaping.curve!.points}
          now={() => tap(entering('curve'))}
          set={(points) => set({ curve: { points } }, 'bend the curve', 'curve')}
        />
      ) : undefined;
    return (
      <Card
        key={step}
        tap={step}
        open={open === step}
        onOpen={() => setOpen(step)}
        replay={replay}
        value={() => plain(tap(step))}
        say={short}
        sub={stepWords(step, shaping, plain)}
        onRemove={() => set({ [step]: undefined }, `remove ${TITLE[step]}`)}
        {...(graph !== undefined && { graph })}
        {...(step === 'fit' && {
          beside: (
            <FitEdges
              fit={shaping.fit!}
              usual={usual}
              most={FIT_MOST[measure]}
              set={(fit, mark) => set({ fit }, 'set a fit', mark)}
            />
          ),
        })}
      >
        {step === 'fit' ? (
          <FitWays
            fit={shaping.fit!}
            usual={usual}
            set={(fit, mark) => set({ fit }, 'set a fit', mark)}
            onHeard={() => fitToHeard(route.id)}
          />
        ) : (
          stepSettings(step, shaping, set, { floorMost: event ? 1 : FIT_MOST[measure] / 2, usual })
        )}
      </Card>
    );
  };
  // Steps that are there, with one narrow seam for all that could stand between two of them. Only an event is struck.
  const cards: ReactNode[] = [];
  let spare: StepName[] = [];
  const seam = (): void => {
    if (spare.length) cards.push(<Seam key={`seam ${spare[0]}`} steps={spare} onAdd={add} />);
    spare = [];
  };
  for (const step of STEP_NAMES) {
    if (shaping[step] !== undefined) {
      seam();
      cards.push(card(step));
    } else if (step !== 'strike' || event) spare.push(step);
  }
  seam();
  return (
    <Box
      component="section"
      aria-label="Bench"
      sx={(t) => ({
        gridColumn: 2,
        background: t.ink.paper,
        color: t.ink.paperText,
        '--mark': t.ink.paperText,
        '--bed': t.ink.paperDeep,
        '--faint': t.ink.paperFaint,
        '--on-mark': t.ink.paper,
        px: 2,
        pt: 1,
        pb: 1.25,
        position: 'relative',
        zIndex: 5,
        minWidth: 0,
        clipPath: 'polygon(0 3px, 9% 0, 24% 2px, 47% 0, 63% 3px, 82% 1px, 100% 2px, 100% 100%, 0 100%)',
      })}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, minHeight: 36, flexWrap: 'wrap' }}>
        <SignalOfRoute route={route} />
        <Box sx={(t) => ({ color: t.ink.paperFaint })}>
          moves {end ? `${end.thing.name} · ${end.parameter.label}` : 'nothing: its target is gone'}
          {route.muted ? ', muted' : ''}
          {route.bypassed ? ', bypassed' : ''}
          {route.unseen ? ', unseen' : ''}
        </Box>
        <Box sx={{ flex: 1 }} />
        <RouteActs route={route} />
      </Box>
      <Box sx={{ display: 'flex', gap: 1, mt: 0.75 }}>
        <Box sx={{ display: 'flex', gap: 1, overflowX: 'auto', flex: '1 1 0', minWidth: 0 }}>
          <Card
            tap="heard"
            open={open === 'heard'}
            onOpen={() => setOpen('heard')}
            replay={replay}
            value={() => plain(tap('heard'))}
            say={short}
            sub={() =>
              event
                ? 'strength of a hit'
                : measure === 'amplitude'
                  ? dbText(tap('heard'))
                  : signalText(measure, tap('heard'))
            }
          >
            {signal && (signal.ear || signal.maker) && <WhereHeard signal={signal} />}
            {canLead(signal?.ear) && <LeadField route={route} sx={field} />}
          </Card>
          {cards}
          <Card
            tap="amount"
            open={open === 'amount'}
            onOpen={() => setOpen('amount')}
            replay={replay}
            value={() => plain(tap('amount'))}
            say={short}
            sub={`${Math.round(shaping.amount * 100)} %${route.amountBy === null ? '' : ', moved'}`}
          >
            <NumberField
              label="Amount"
              value={Math.round(shaping.amount * 100)}
              unit="%"
              min={0}
              max={200}
              step={1}
              usual={100}
              onChange={(a) => set({ amount: a / 100 }, 'set an amount', 'amount')}
              onEnd={endDrag}
              sx={field}
            />
            <AmountBy route={route} />
          </Card>
          <Card
            tap="reach"
            open={open === 'reach'}
            onOpen={() => setOpen('reach')}
            replay={replay}
            value={() => (number ? inUnit(tap('reach')) : `${Math.round((tap('amount') || 0) * 100)} %`)}
            say={bare}
            sub={number ? `${formatNumber(restN, number)} to ${formatNumber(reachN, number)}` : 'a colour'}
          >
            {end &&
              (number ? (
                <>
                  <NumberField
                    label="Rest"
                    value={restN}
                    unit={number.unit}
                    min={number.min}
                    max={number.max}
                    step={number.step}
                    usual={number.rest}
                    onChange={(v) =>
                      edit(`rest of ${end.parameter.label}`, setRest(route.target, v), `rest ${key}`)
                    }
                    onEnd={endDrag}
                    sx={field}
                  />
                  <NumberField
                    label="Reach"
                    value={reachN}
                    unit={number.unit}
                    min={number.min}
                    max={number.max}
                    step={number.step}
                    usual={number.reach}
                    onChange={(v) =>
                      edit(`reach of ${end.parameter.label}`, setReach(route.id, v), `reach ${route.id}`)
                    }
                    onEnd={endDrag}
                    sx={field}
                  />
                </>
              ) : (
                <>
                  <ColourField
                    label="Rest"
                    value={String(rest)}
                    onChange={(v) =>
                      edit(`rest of ${end.parameter.label}`, setRest(route.target, v), `rest ${key}`)
                    }
                    onEnd={endDrag}
                  />
                  <ColourField
                    label="Reach"
                    value={String(route.reach)}
                    onChange={(v) =>
                      edit(`reach of ${end.parameter.label}`, setReach(route.id, v), `reach ${route.id}`)
                    }
                    onEnd={endDrag}
                  />
                </>
              ))}
          </Card>
        </Box>
        <Together replay={replay} number={number} at={key} value={() => inUnit(tap('together'))} say={bare} />
      </Box>
    </Box>
  );
}
