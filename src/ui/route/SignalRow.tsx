'use client';
import { useDraggable } from '@dnd-kit/core';
import { Box, Typography } from '@mui/material';
import { signalKindOf } from '../../core/ears/ear';
import type { Ear } from '../../core/show/types';
import { LiveText } from '../controls/LiveText';
import { Sheet } from '../controls/Sheet';
import { TraceCanvas } from '../controls/TraceCanvas';
import { readSignal } from '../listen/Ears';
import { useSession } from '../state/session';
import { look, useView } from '../state/view';

/** The left edge tells the kind: solid for a level, dotted for an event. */
const EDGE = { level: 'linear-gradient(currentColor, currentColor)', event: 'repeating-linear-gradient(180deg, currentColor 0 6px, transparent 6px 10px)' } as const;

export function SignalRow({ ear }: { readonly ear: Ear }) {
  const kind = signalKindOf(ear.listening);
  const input = useSession((s) => s.history.show.inputs.find((i) => i.id === ear.input)?.name ?? 'input gone');
  const count = useSession((s) => s.history.show.routes.filter((r) => r.signal === ear.id).length);
  const picked = useView((v) => v.signal === ear.id);
  const { setNodeRef, listeners, attributes } = useDraggable({ id: ear.id });
  return (
    <Box role="listitem" data-signal={ear.id}>
      <Sheet
        ref={setNodeRef} name={ear.id} picked={picked} {...attributes} {...listeners} role="button" aria-roledescription="signal" title={`${count} ${count === 1 ? 'route' : 'routes'}`} aria-pressed={picked}
        onClick={() => look({ signal: picked ? null : ear.id })}
        sx={{ p: 1, pl: 2.25, cursor: 'grab', touchAction: 'none', '&::before': { content: '""', position: 'absolute', left: 0, top: 0, bottom: 0, width: 9, background: EDGE[kind], color: 'var(--mark)' } }}
      >
        <Box sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'baseline', gap: 1 }}>
          <Typography variant="h3" component="h3" sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>{ear.name}</Typography>
          <LiveText read={(now) => readSignal(ear, now)} sx={{ fontSize: '0.92rem' }} />
        </Box>
        <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0,1fr) 110px', gap: 1, alignItems: 'end' }}>
          <Box sx={{ color: 'var(--faint)', fontSize: '0.86rem', whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}>{input}</Box>
          <TraceCanvas signal={ear.id} kind={kind} columns={188} sx={{ height: 26 }} />
        </Box>
      </Sheet>
    </Box>
  );
}
