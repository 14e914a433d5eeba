'use client';
import { Box, Button, ButtonBase, Typography } from '@mui/material';
import { bandDelay } from '../../core/audio/bandFilter';
import { signalKindOf, type Listening } from '../../core/ears/ear';
import { addEar, freeId, freeName } from '../../core/show/commands';
import type { Ear } from '../../core/show/types';
import { LiveText } from '../controls/LiveText';
import { NumberField } from '../controls/NumberField';
import { TraceCanvas } from '../controls/TraceCanvas';
import { live } from '../live/live';
import { currentShow, edit } from '../state/session';
import { goTo, look } from '../state/view';
import { cutEdge } from '../theme/cutEdge';
import { rangeName, signalText } from './names';

const EDGE = cutEdge(66, 3, 14);

/** A range that is being tried on the sound that plays, and on the last twelve seconds, before it is kept. */
export function TryEar({ ear }: { readonly ear: Ear }) {
  const l = ear.listening;
  if (l.kind === 'level') return null;
  const set = (listening: Listening): void => look({ trying: { ...ear, listening, name: listening.kind === 'level' ? ear.name : rangeName(listening.low, listening.high) } });
  const keep = (): Ear => {
    const show = currentShow();
    const kept: Ear = { ...ear, id: freeId(show, 'ear'), name: freeName(show.ears, `${ear.name}${l.kind === 'hit' ? ' · hit' : ''}`) };
    edit(`listen to ${kept.name}`, addEar(kept));
    return kept;
  };
  const choices: [string, Listening][] = [['level of this range', { kind: 'band', low: l.low, high: l.high }], ['hit in this range', { kind: 'hit', low: l.low, high: l.high, sensitivity: l.kind === 'hit' ? l.sensitivity : 0.5 }]];
  return (
    <Box component="section" aria-label={`New ear: ${ear.name}`} sx={(t) => ({ background: t.ink.paper, color: t.ink.paperText, p: 2, pt: 1.25, clipPath: EDGE, '--mark': t.ink.paperText, '--bed': t.ink.paperDeep })}>
      <Box sx={{ display: 'flex', alignItems: 'baseline', justifyContent: 'space-between', gap: 2, flexWrap: 'wrap' }}>
        <Typography variant="h2">New ear: {rangeName(l.low, l.high)}</Typography>
        <Box sx={(t) => ({ color: t.ink.paperFaint, fontSize: '0.9rem', flex: 1, textAlign: 'right' })}>tried on the sound · {Math.round(bandDelay(l.low, l.high) * 1000)} ms late</Box>
        <Button variant="text" onClick={() => look({ trying: null })} sx={{ color: 'inherit' }}>Drop <kbd style={{ font: 'inherit', fontWeight: 400, marginLeft: 6 }}>Esc</kbd></Button>
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1.5, my: 1 }}>
        {choices.map(([label, listening]) => {
          const on = listening.kind === l.kind;
          return (
            <ButtonBase key={label} aria-pressed={on} onClick={() => set(listening)} sx={(t) => ({ display: 'block', textAlign: 'left', p: 1.25, background: on ? '#fffaf0' : t.ink.paperShade, borderTop: `6px solid ${on ? t.ink.selected : 'transparent'}`, color: 'inherit' })}>
              <Box sx={{ display: 'flex', justifyContent: 'space-between', fontWeight: 700, fontSize: '0.94rem' }}><span>{label}</span>{on && <LiveText read={() => signalText(ear, live.signal(ear.id))} />}</Box>
              {on ? <TraceCanvas signal={ear.id} kind={signalKindOf(listening)} columns={560} sx={{ height: 44, mt: 0.5 }} /> : <Box sx={{ height: 44, mt: 0.5, fontSize: '0.88rem', opacity: 0.8 }}>{listening.kind === 'hit' ? 'once a stroke, with its strength' : 'how much of it there is'}</Box>}
            </ButtonBase>
          );
        })}
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, flexWrap: 'wrap' }}>
        <Button variant="contained" onClick={() => { const kept = keep(); look({ trying: null, aiming: kept.id, signal: kept.id, ear: kept.id }); goTo('route'); }} sx={(t) => ({ background: t.ink.paperText, color: t.ink.paper, '&:hover': { background: t.ink.sheet } })}>Keep and move something</Button>
        <Button variant="text" onClick={() => { const kept = keep(); look({ trying: null, ear: kept.id }); }} sx={{ color: 'inherit' }}>Keep only</Button>
        <Box sx={{ flex: 1 }} />
        <NumberField label="Lower edge" value={l.low} unit="Hz" min={20} max={l.high - 10} step={1} onChange={(low) => set({ ...l, low: Math.round(low) })} />
        <NumberField label="Upper edge" value={l.high} unit="Hz" min={l.low + 10} max={20000} step={1} onChange={(high) => set({ ...l, high: Math.round(high) })} />
        {l.kind === 'hit' && <NumberField label="Sensitivity" value={Math.round(l.sensitivity * 100)} unit="%" min={0} max={100} step={1} usual={50} onChange={(s) => set({ ...l, sensitivity: s / 100 })} />}
      </Box>
    </Box>
  );
}
