'use client';
import { Box, Button, ButtonBase, Typography } from '@mui/material';
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import type { Measure } from '../../core/ears/ear';
import { TRACE_COLUMNS } from '../../core/plan/traces';
import { formatNumber, type NumberParameter } from '../../core/parameters/description';
import { TAP_INDEX, type Fit, type Shaping, type Tap } from '../../core/shaping/steps';
import { changeShaping, muteRoute, removeRoutes, setReach, setRest } from '../../core/show/commands';
import { findSignal, usualOfSignal } from '../../core/show/signals';
import { findParameter, restOf } from '../../core/show/things';
import { ColourField } from '../controls/ColourField';
import { columnChanged, useCanvas } from '../controls/canvas';
import { LiveText } from '../controls/LiveText';
import { NumberField } from '../controls/NumberField';
import { ColourNow } from '../controls/ParameterTrack';
import { dbText, signalText } from '../listen/names';
import { live } from '../live/live';
import { edit, endDrag, useSession } from '../state/session';
import { look, useView } from '../state/view';
import { FONT } from '../theme/tokens';
import { FitCard } from './FitCard';
import { fitToHeard } from './fitToHeard';
import { Replay } from './replay';

const TITLE: Record<Tap, string> = { heard: 'heard', strike: 'strike', floor: 'floor', fit: 'fit', clamp: 'clamp', flip: 'flip', curve: 'curve', hold: 'hold', smooth: 'attack · release', steady: 'steady', average: 'average', steps: 'steps', delay: 'delay', amount: 'amount', reach: 'rest to reach', together: 'together' };
type Optional = 'strike' | 'floor' | 'fit' | 'clamp' | 'smooth';
/** What a step is when its seam is opened. */
const FRESH: { readonly [K in Optional]: NonNullable<Shaping[K]> } = { strike: { holdMs: 0, fallMs: 240 }, floor: { at: 0.01 }, fit: { mode: 'coming', forgetS: 30 }, clamp: { low: 0, high: 1 }, smooth: { attackMs: 8, releaseMs: 140 } };
/** Highest number that a fit or a floor may be set to, by what the signal measures. */
const FIT_MOST: Readonly<Record<Measure, number>> = { amplitude: 4, loudness: 4, strength: 4, share: 4, count: 128, note: 127, bpm: 400, hz: 24000 };
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
    if (seen.current && shaping && seen.current !== shaping && (!ghost.current || performance.now() > ghost.current.until)) ghost.current = { shaping: seen.current, until: 0 };
    if (ghost.current && shaping !== seen.current) ghost.current.until = performance.now() + GHOST_MS;
    seen.current = shaping;
  }, [shaping]);
  if (!route || !shaping) return null;

  const rest = end ? restOf(end.thing, end.parameter) : 0;
  const number = end?.parameter.kind === 'number' ? end.parameter : null;
  const restN = typeof rest === 'number' ? rest : 0, reachN = typeof route.reach === 'number' ? route.reach : 1;
  const set = (change: Parameters<typeof changeShaping>[1], what: string, mark: string | null = null): void => edit(what, changeShaping(route.id, change), mark && `${route.id} ${mark}`);
  const key = end ? `${end.thing.id}/${end.parameter.id}` : '';
  const tap = (t: Tap): number => live.frame?.taps[TAP_INDEX[t]] ?? NaN;
  const plain = (x: number): string => (Number.isFinite(x) ? (Math.abs(x) < 0.1 ? x.toFixed(4) : x.toFixed(2)) : '–');
  const inUnit = (x: number): string => (number ? (Number.isFinite(x) ? formatNumber(x, number) : '–') : plain(x));
  const replay = (): { now: Replay; ghost: Replay | null } => {
    live.trace(route.signal, trace);
    after.run(trace, shaping, event, usual, restN, reachN);
    const g = ghost.current && performance.now() < ghost.current.until ? ghost.current : null;
    if (g) before.run(trace, g.shaping, event, usual, restN, reachN);
    return { now: after, ghost: g ? before : null };
  };
  const field = { color: 'inherit', fontSize: '0.88rem' } as const;
  const optional = (t: Optional, body: ReactNode, sub: string, graph?: ReactNode): ReactNode => (
    shaping[t] === undefined
      ? <Seam key={t} title={TITLE[t]} onAdd={() => { if (t === 'fit') fitOrWait(route.id, set); else set({ [t]: FRESH[t] }, `add ${TITLE[t]}`); setOpen(t); }} />
      : (
        <Card key={t} tap={t} open={open === t} onOpen={() => setOpen(t)} replay={replay} value={() => plain(tap(t))} sub={sub} onRemove={() => set({ [t]: undefined }, `remove ${TITLE[t]}`)} {...(graph !== undefined && { graph })}>{body}</Card>
      )
  );
  return (
    <Box
      component="section" aria-label="Bench"
      sx={(t) => ({ gridColumn: 2, background: t.ink.paper, color: t.ink.paperText, '--mark': t.ink.paperText, '--bed': t.ink.paperDeep, '--faint': t.ink.paperFaint, px: 2, pt: 1, pb: 1.25, position: 'relative', zIndex: 5, minWidth: 0, clipPath: 'polygon(0 3px, 9% 0, 24% 2px, 47% 0, 63% 3px, 82% 1px, 100% 2px, 100% 100%, 0 100%)' })}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, minHeight: 36, flexWrap: 'wrap' }}>
        <Typography variant="h2">{signal?.name ?? 'Lost signal'}</Typography>
        <Box sx={(t) => ({ color: t.ink.paperFaint })}>moves {end ? `${end.thing.name} · ${end.parameter.label}` : 'nothing: its target is gone'}{route.muted ? ', muted' : ''}</Box>
        <Box sx={{ flex: 1 }} />
        <Box sx={{ display: 'flex', '& button': { color: 'inherit', '&:hover': { background: 'var(--bed)' } }, '& kbd': { font: 'inherit', fontWeight: 400, ml: 0.75, color: 'var(--faint)' } }}>
          <Button variant="text" onClick={() => fitToHeard(route.id)}>fit to heard <kbd>L</kbd></Button>
          <Button variant="text" aria-pressed={route.muted} onClick={() => edit(route.muted ? 'unmute a route' : 'mute a route', muteRoute(route.id, !route.muted))}>{route.muted ? 'unmute' : 'mute'} <kbd>M</kbd></Button>
          <Button variant="text" onClick={() => { edit('delete a route', removeRoutes([route.id])); look({ route: null }); }}>delete <kbd>Del</kbd></Button>
          <Button variant="text" onClick={() => look({ route: null })}>close <kbd>Esc</kbd></Button>
        </Box>
      </Box>
      <Box sx={{ display: 'flex', gap: 1, overflowX: 'auto', mt: 0.75, }}>
        <Card tap="heard" open={open === 'heard'} onOpen={() => setOpen('heard')} replay={replay} value={() => plain(tap('heard'))} sub={() => (event ? 'strength of a hit' : measure === 'amplitude' ? dbText(tap('heard')) : signalText(measure, tap('heard')))} />
        {(event || shaping.strike) && optional('strike', shaping.strike && <><NumberField label="Hold" value={shaping.strike.holdMs} unit="ms" min={0} max={5000} step={5} usual={0} onChange={(holdMs) => set({ strike: { ...shaping.strike!, holdMs } }, 'set a hold', 'hold')} onEnd={endDrag} sx={field} /><NumberField label="Fall" value={shaping.strike.fallMs} unit="ms" min={0} max={10000} step={10} usual={240} onChange={(fallMs) => set({ strike: { ...shaping.strike!, fallMs } }, 'set a fall', 'fall')} onEnd={endDrag} sx={field} /></>, `falls in ${Math.round(shaping.strike?.fallMs ?? 0)} ms`)}
        {optional('floor', shaping.floor && <NumberField label="Floor" value={shaping.floor.at} unit="" min={0} max={event ? 1 : FIT_MOST[measure] / 2} step={usual / 200} usual={0} onChange={(at) => set({ floor: { at } }, 'set a floor', 'floor')} onEnd={endDrag} sx={field} />, `above ${plain(shaping.floor?.at ?? 0)}`)}
        {optional('fit', shaping.fit && <FitControls fit={shaping.fit} usual={usual} most={FIT_MOST[measure]} set={(fit, mark) => set({ fit }, 'set a fit', mark)} onHeard={() => fitToHeard(route.id)} />, fitWords(shaping.fit, plain), shaping.fit && open === 'fit' ? <FitCard fit={shaping.fit} source={() => { const r = replay(); return shaping.floor ? r.now.of('floor') : shaping.strike ? r.now.of('strike') : r.now.of('heard'); }} now={() => tap(shaping.floor ? 'floor' : shaping.strike ? 'strike' : 'heard')} set={(low, high) => set({ fit: { mode: 'hand', low, high } }, 'fit by hand', 'fit')} /> : undefined)}
        {optional('clamp', shaping.clamp && <><NumberField label="Lowest" value={shaping.clamp.low} unit="" min={-4} max={shaping.clamp.high - 0.01} step={0.01} usual={0} onChange={(low) => set({ clamp: { ...shaping.clamp!, low } }, 'set a clamp', 'clamp')} onEnd={endDrag} sx={field} /><NumberField label="Highest" value={shaping.clamp.high} unit="" min={shaping.clamp.low + 0.01} max={4} step={0.01} usual={1} onChange={(high) => set({ clamp: { ...shaping.clamp!, high } }, 'set a clamp', 'clamp')} onEnd={endDrag} sx={field} /></>, `${shaping.clamp?.low} to ${shaping.clamp?.high}`)}
        {optional('smooth', shaping.smooth && <><NumberField label="Attack" value={shaping.smooth.attackMs} unit="ms" min={0} max={20000} step={1} usual={8} onChange={(attackMs) => set({ smooth: { ...shaping.smooth!, attackMs } }, 'set an attack', 'attack')} onEnd={endDrag} sx={field} /><NumberField label="Release" value={shaping.smooth.releaseMs} unit="ms" min={0} max={20000} step={5} usual={140} onChange={(releaseMs) => set({ smooth: { ...shaping.smooth!, releaseMs } }, 'set a release', 'release')} onEnd={endDrag} sx={field} /></>, `${Math.round(shaping.smooth?.attackMs ?? 0)} ms · ${Math.round(shaping.smooth?.releaseMs ?? 0)} ms`)}
        <Card tap="amount" open={open === 'amount'} onOpen={() => setOpen('amount')} replay={replay} value={() => plain(tap('amount'))} sub={`${Math.round(shaping.amount * 100)} %`}>
          <NumberField label="Amount" value={Math.round(shaping.amount * 100)} unit="%" min={0} max={200} step={1} usual={100} onChange={(a) => set({ amount: a / 100 }, 'set an amount', 'amount')} onEnd={endDrag} sx={field} />
        </Card>
        <Card tap="reach" open={open === 'reach'} onOpen={() => setOpen('reach')} replay={replay} value={() => (number ? inUnit(tap('reach')) : `${Math.round((tap('amount') || 0) * 100)} %`)} sub={number ? `${formatNumber(restN, number)} to ${formatNumber(reachN, number)}` : 'a colour'}>
          {end && (number
            ? <><NumberField label="Rest" value={restN} unit={number.unit} min={number.min} max={number.max} step={number.step} usual={number.rest} onChange={(v) => edit(`rest of ${end.parameter.label}`, setRest(route.target, v), `rest ${key}`)} onEnd={endDrag} sx={field} /><NumberField label="Reach" value={reachN} unit={number.unit} min={number.min} max={number.max} step={number.step} usual={number.reach} onChange={(v) => edit(`reach of ${end.parameter.label}`, setReach(route.id, v), `reach ${route.id}`)} onEnd={endDrag} sx={field} /></>
            : <><ColourField label="Rest" value={String(rest)} onChange={(v) => edit(`rest of ${end.parameter.label}`, setRest(route.target, v), `rest ${key}`)} onEnd={endDrag} /><ColourField label="Reach" value={String(route.reach)} onChange={(v) => edit(`reach of ${end.parameter.label}`, setReach(route.id, v), `reach ${route.id}`)} onEnd={endDrag} /></>)}
        </Card>
        <Together replay={replay} number={number} at={key} value={() => inUnit(tap('together'))} />
      </Box>
    </Box>
  );
}

function fitOrWait(route: string, set: (change: { fit: Fit }, what: string) => void): void {
  set({ fit: FRESH.fit }, 'add fit');
  fitToHeard(route);
}
function fitWords(fit: Fit | undefined, plain: (x: number) => string): string {
  return !fit ? '' : fit.mode === 'coming' ? 'to what comes' : `${plain(fit.low)} to ${plain(fit.high)}`;
}

/** The three ways to fit, and its edges as numbers. */
function FitControls({ fit, usual, most, set, onHeard }: { readonly fit: Fit; readonly usual: number; readonly most: number; readonly set: (fit: Fit, mark: string | null) => void; readonly onHeard: () => void }) {
  const low = fit.mode === 'coming' ? 0 : fit.low, high = fit.mode === 'coming' ? usual : fit.high;
  const step = Math.max(0.0001, usual / 400);
  const choice = { minHeight: 30, px: 0.75, whiteSpace: 'nowrap', fontSize: '0.86rem', color: 'inherit', borderBottom: '3px solid transparent', '&[aria-pressed=true]': { borderBottomColor: 'currentColor' } } as const;
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.25 }}>
      <Button variant="text" aria-pressed={fit.mode === 'heard'} onClick={onHeard} sx={choice}>to heard</Button>
      <Button variant="text" aria-pressed={fit.mode === 'coming'} onClick={() => set({ mode: 'coming', forgetS: 30 }, null)} sx={choice}>to what comes</Button>
      <Button variant="text" aria-pressed={fit.mode === 'hand'} onClick={() => set({ mode: 'hand', low, high }, null)} sx={choice}>by hand</Button>
      {fit.mode === 'coming'
        ? <NumberField label="Forget" value={fit.forgetS} unit="s" min={0.5} max={600} step={0.5} usual={30} onChange={(forgetS) => set({ mode: 'coming', forgetS }, 'forget')} onEnd={endDrag} sx={{ color: 'inherit' }} />
        : <><NumberField label="Fit from" value={low} unit="" min={0} max={high - step} step={step} onChange={(v) => set({ mode: 'hand', low: v, high }, 'fit')} onEnd={endDrag} sx={{ color: 'inherit' }} /><NumberField label="Fit to" value={high} unit="" min={low + step} max={most} step={step} onChange={(v) => set({ mode: 'hand', low, high: v }, 'fit')} onEnd={endDrag} sx={{ color: 'inherit' }} /></>}
    </Box>
  );
}

function Seam({ title, onAdd }: { readonly title: string; readonly onAdd: () => void }) {
  return (
    <ButtonBase onClick={onAdd} aria-label={`Add ${title}`} title={`Add ${title}`} sx={(t) => ({ flex: 'none', width: 34, minHeight: 158, background: t.ink.paperShade, color: 'inherit', fontWeight: 700, fontSize: '1.3rem', display: 'grid', placeItems: 'center', '&:hover': { background: t.ink.paperDeep } })}>
      <span>+</span>
      <Box component="span" sx={{ writingMode: 'vertical-rl', fontSize: '0.8125rem', fontWeight: 400 }}>{title}</Box>
    </ButtonBase>
  );
}

interface CardProps {
  readonly tap: Tap;
  readonly open: boolean;
  readonly onOpen: () => void;
  readonly replay: () => { now: Replay; ghost: Replay | null };
  readonly value: () => string;
  readonly sub: string | (() => string);
  readonly onRemove?: () => void;
  readonly graph?: ReactNode;
  readonly children?: ReactNode;
}

/** One step: its name, the last twelve seconds through it, the number that comes out of it, and, when open, its settings. */
function Card({ tap, open, onOpen, replay, value, sub, onRemove, graph, children }: CardProps) {
  const changed = useMemo(() => { const c = columnChanged(() => Math.floor((live.traces?.newest ?? -1) / 5)); return () => c(); }, []);
  return (
    <Box
      role="group" aria-label={TITLE[tap]} onClick={onOpen} onFocus={onOpen}
      sx={(t) => ({ flex: open && children ? '0 0 auto' : '1 1 112px', width: open && children ? (tap === 'fit' ? 386 : 214) : undefined, minWidth: tap === 'smooth' || tap === 'reach' ? 132 : 108, maxWidth: open && children ? undefined : 190, overflow: 'hidden', background: open ? (t.palette.mode === 'dark' ? '#fffaf0' : '#ffffff') : t.ink.paperShade, borderTop: `6px solid ${open && children ? t.ink.selected : 'transparent'}`, p: 1.25, pt: 0.75, pb: 0.75, display: 'grid', gridTemplateRows: 'auto 62px auto auto', gap: 0.25 })}
    >
      <Box sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center', minHeight: 26 }}>
        <Typography variant="h3" component="h3" sx={{ fontSize: '0.92rem', whiteSpace: 'nowrap', letterSpacing: '-0.01em' }}>{TITLE[tap]}</Typography>
        {open && onRemove && <Button variant="text" onClick={(e) => { e.stopPropagation(); onRemove(); }} aria-label={`Remove ${TITLE[tap]}`} sx={{ color: 'inherit', minHeight: 26, p: '0 6px', fontSize: '0.84rem' }}>remove</Button>}
      </Box>
      {graph ?? <Graph tap={tap} replay={replay} changed={changed} />}
      <LiveText read={value} sx={{ fontSize: '1.24rem', fontWeight: 700, lineHeight: 1.3 }} />
      <Box sx={{ minHeight: 32, display: 'flex', alignItems: 'center', gap: 1, color: 'var(--faint)', fontFamily: FONT.number, fontSize: '0.8125rem', letterSpacing: '-0.02em', whiteSpace: 'nowrap' }} onClick={(e) => { if (open) e.stopPropagation(); }}>
        {open && children ? children : typeof sub === 'string' ? sub : <LiveText read={sub} sx={{ fontSize: '0.84rem' }} />}
      </Box>
    </Box>
  );
}

function Graph({ tap, replay, changed }: { readonly tap: Tap; readonly replay: CardProps['replay']; readonly changed: () => boolean }) {
  const latest = useRef(replay);
  useEffect(() => { latest.current = replay; });
  const ref = useCanvas(({ g, width, height, styles }) => {
    const { now, ghost } = latest.current();
    const series = now.of(tap), old = ghost?.of(tap);
    let low = 0, high = 1e-6;
    for (let i = 0; i < series.length; i++) {
      const x = series[i]!, y = old?.[i] ?? NaN;
      if (x < low) low = x; else if (x > high) high = x;
      if (y < low) low = y; else if (y > high) high = y;
    }
    // Fitted numbers are judged against 1; raw ones against what they reached.
    if (tap !== 'heard' && tap !== 'floor' && tap !== 'strike' && tap !== 'reach' && tap !== 'together') high = Math.max(1, high);
    const dx = width / series.length;
    const y = (x: number): number => height - 2 - ((x - low) / (high - low)) * (height - 6);
    g.fillStyle = styles.color;
    g.beginPath();
    g.moveTo(0, y(0));
    for (let i = 0; i < series.length; i++) g.lineTo(i * dx, y(Number.isFinite(series[i]!) ? series[i]! : 0));
    g.lineTo(width, y(0));
    g.fill();
    g.fillRect(0, height - 2, width, 2);
    if (old) {
      g.strokeStyle = styles.getPropertyValue('--ghost');
      g.lineWidth = 1.5;
      g.setLineDash([4, 3]);
      g.beginPath();
      for (let i = 0; i < old.length; i++) g.lineTo(i * dx, y(Number.isFinite(old[i]!) ? old[i]! : 0));
      g.stroke();
      g.setLineDash([]);
    }
  }, changed);
  return <Box component="canvas" ref={ref} aria-hidden sx={(t) => ({ width: '100%', height: 62, display: 'block', color: t.ink.paperText, '--ghost': t.ink.paperDeep })} />;
}

/** What is really sent, after everything else that moves or limits this parameter. */
function Together({ replay, number, at, value }: { readonly replay: CardProps['replay']; readonly number: NumberParameter | null; readonly at: string; readonly value: () => string }) {
  const dark = useSession((s) => s.dark);
  const freeze = useSession((s) => s.freeze);
  const others = useSession((s) => s.history.show.routes.filter((r) => `${r.target.thing}/${r.target.parameter}` === at && !r.muted).length);
  const by = dark ? 'dark wins' : freeze ? 'held by freeze' : others > 1 ? `of ${others} routes` : others === 1 ? 'of this route' : 'at rest';
  const changed = useMemo(() => columnChanged(() => Math.floor((live.traces?.newest ?? -1) / 5)), []);
  return (
    <Box role="group" aria-label="together" sx={(t) => ({ flex: '1 1 120px', minWidth: 116, maxWidth: 200, background: t.ink.paperShade, borderTop: '6px solid transparent', p: 1.25, pt: 0.75, pb: 0.75, display: 'grid', gridTemplateRows: 'auto 62px auto auto', gap: 0.25 })}>
      <Typography variant="h3" component="h3" sx={{ fontSize: '0.92rem', lineHeight: '26px' }}>together</Typography>
      <Graph tap="together" replay={replay} changed={changed} />
      {number ? <LiveText read={value} sx={{ fontSize: '1.24rem', fontWeight: 700, lineHeight: 1.3 }} /> : <Box sx={{ minHeight: 26 }}><ColourNow at={at} /></Box>}
      <Box sx={{ minHeight: 32, display: 'flex', alignItems: 'center', color: 'var(--faint)', fontSize: '0.86rem' }}>{by}</Box>
    </Box>
  );
}
