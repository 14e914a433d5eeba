'use client';
import { Box, Button, IconButton, Menu, MenuItem, Typography } from '@mui/material';
import { useState } from 'react';
import { signalKindOf, type Listening } from '../../core/ears/ear';
import { addEar, changeEar, freeId, freeName, removeEar } from '../../core/show/commands';
import type { Ear } from '../../core/show/types';
import { LiveText } from '../controls/LiveText';
import { Sheet } from '../controls/Sheet';
import { TraceCanvas } from '../controls/TraceCanvas';
import { live } from '../live/live';
import { currentShow, edit, useSession } from '../state/session';
import { look, useView } from '../state/view';
import { listeningWords, signalText } from './names';

/** A number that is worth reading: a level now, or the strength of a hit while it is fresh. */
export function readSignal(ear: Ear, now: number): string {
  if (ear.listening.kind !== 'hit') return signalText(ear, live.signal(ear.id));
  const last = live.lastEvent.get(live.slot(ear.id));
  return signalText(ear, last && now - last.at < 250 ? last.strength : 0);
}

/** Every ear of the show, with its trace. */
export function Ears() {
  const ears = useSession((s) => s.history.show.ears);
  const inputs = useSession((s) => s.history.show.inputs);
  const selected = useView((v) => v.ear);
  const current = useView((v) => v.input);
  const [at, setAt] = useState<HTMLElement | null>(null);
  const add = (name: string, listening: Listening): void => {
    setAt(null);
    const show = currentShow();
    const input = show.inputs.find((i) => i.id === current) ?? show.inputs[0];
    if (!input) return;
    const ear: Ear = { id: freeId(show, 'ear'), name: freeName(show.ears, `${input.name} · ${name}`), input: input.id, listening };
    edit(`listen to ${ear.name}`, addEar(ear));
    look({ ear: ear.id });
  };
  return (
    <Box component="section" aria-label="Ears" sx={{ display: 'flex', flexDirection: 'column', minHeight: 0 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between' }}>
        <Typography variant="h2">Ears</Typography>
        <Button variant="text" aria-haspopup="menu" disabled={inputs.length === 0} onClick={(e) => setAt(e.currentTarget)}>+ ear</Button>
        <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
          <MenuItem onClick={() => add('level', { kind: 'level', reading: 'rms' })}>Level, RMS</MenuItem>
          <MenuItem onClick={() => add('peak', { kind: 'level', reading: 'peak' })}>Level, peak</MenuItem>
          <MenuItem onClick={() => add('low', { kind: 'band', low: 40, high: 160 })}>Low range, 40–160 Hz</MenuItem>
          <MenuItem onClick={() => add('high', { kind: 'band', low: 4000, high: 12000 })}>High range, 4–12 kHz</MenuItem>
          <MenuItem onClick={() => add('hit', { kind: 'hit', low: 40, high: 160, sensitivity: 0.5 })}>Hits, 40–160 Hz</MenuItem>
        </Menu>
      </Box>
      <Box sx={{ overflowY: 'auto', display: 'flex', flexDirection: 'column', gap: 1.25, py: 0.5, minHeight: 0 }}>
        {ears.map((ear) => <EarCard key={ear.id} ear={ear} input={inputs.find((i) => i.id === ear.input)?.name ?? null} picked={ear.id === selected} />)}
        {ears.length === 0 && <Sheet name="no ears" sx={{ p: 2 }}>No ears yet. Drag across the field, or press <b>+ ear</b>.</Sheet>}
      </Box>
    </Box>
  );
}

function EarCard({ ear, input, picked }: { readonly ear: Ear; readonly input: string | null; readonly picked: boolean }) {
  const [naming, setNaming] = useState(false);
  return (
    <Sheet name={ear.id} picked={picked} warned={input === null} role="group" aria-label={ear.name} onPointerDown={() => look({ ear: ear.id, signal: ear.id })} sx={{ p: 1.25, px: 1.5, flex: 'none' }}>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'baseline', gap: 1 }}>
        {naming
          ? <Box component="input" autoFocus aria-label="Name of the ear" defaultValue={ear.name} onKeyDown={(e) => { if (e.key === 'Enter') e.currentTarget.blur(); e.stopPropagation(); }} onBlur={(e) => { const name = e.currentTarget.value.trim().slice(0, 80); setNaming(false); if (name && name !== ear.name) edit('rename an ear', changeEar(ear.id, { name })); }} sx={{ font: 'inherit', width: '100%', minHeight: 30 }} />
          : <Typography variant="h3" component="h3" sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }} onDoubleClick={() => setNaming(true)}>{ear.name}</Typography>}
        <LiveText read={(now) => readSignal(ear, now)} sx={{ fontSize: '0.94rem' }} />
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1, alignItems: 'end' }}>
        <Box sx={{ color: 'var(--faint)', fontSize: '0.86rem', lineHeight: 1.25 }}>{listeningWords(ear)}<br />{input ?? 'its input is gone'}</Box>
        <TraceCanvas signal={ear.id} kind={signalKindOf(ear.listening)} sx={{ height: 30 }} />
      </Box>
      {picked && (
        <Box sx={{ display: 'flex', ml: -1, mt: 0.5, '& button': { color: 'inherit', '&:hover': { background: 'var(--bed)' } } }}>
          <Button variant="text" onClick={() => setNaming(true)}>rename</Button>
          {ear.listening.kind !== 'level' && <Button variant="text" onClick={() => look({ trying: { ...ear, id: 'trying' }, input: ear.input })}>try another range</Button>}
          <Box sx={{ flex: 1 }} />
          <IconButton aria-label={`Remove ${ear.name}`} onClick={() => edit(`remove ${ear.name}`, removeEar(ear.id))} sx={{ fontSize: '0.9rem', fontWeight: 700, borderRadius: 0 }}>remove</IconButton>
        </Box>
      )}
    </Sheet>
  );
}
