'use client';
import { useDraggable } from '@dnd-kit/core';
import { Box, Typography } from '@mui/material';
import { useEffect, useRef } from 'react';
import { changeMaker, type Maker, type Signal } from '../../core/show';
import { LiveText } from '../controls/LiveText';
import { NameField } from '../controls/NameField';
import { Sheet } from '../controls/Sheet';
import { SignalTrace } from '../controls/SignalTrace';
import { readSignal } from '../listen/Ears';
import { live } from '../live/live';
import { edit, useSession } from '../state/session';
import { look, useView } from '../state/view';
import { HandControl } from './HandControl';
import { MakerSettings } from './MakerSettings';
import { makerWords } from './makerWords';

/** The left edge tells the kind: solid for a level, dotted for an event, barred for a vector, slanted for what a maker gives. */
const EDGE = {
  level: 'linear-gradient(currentColor, currentColor)',
  event: 'repeating-linear-gradient(180deg, currentColor 0 6px, transparent 6px 10px)',
  vector: 'repeating-linear-gradient(90deg, currentColor 0 2px, transparent 2px 4px)',
  maker: 'repeating-linear-gradient(135deg, currentColor 0 2.5px, transparent 2.5px 6px)',
} as const;

export function SignalRow({ signal }: { readonly signal: Signal }) {
  const { id, name, kind, ear, maker } = signal;
  const input = useSession((s) =>
    ear
      ? (s.history.show.inputs.find((i) => i.id === ear.input)?.name ?? 'input gone')
      : maker
        ? makerWords(maker.making, s.history.show)
        : '',
  );
  const count = useSession((s) => s.history.show.routes.filter((r) => r.signal === id).length);
  const picked = useView((v) => v.signal === id);
  const { setNodeRef, listeners, attributes } = useDraggable({ id });
  const row = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (picked) row.current?.scrollIntoView({ block: 'nearest' });
  }, [picked]);
  return (
    <Box ref={row} role="listitem" data-signal={id} sx={{ ml: signal.member === null ? 0 : 2 }}>
      <Sheet
        ref={setNodeRef}
        name={id}
        picked={picked}
        {...attributes}
        {...listeners}
        role="button"
        aria-roledescription="signal"
        title={
          kind === 'vector'
            ? 'A row of numbers. Select it to see its members, or drop it on one of many.'
            : `${count} ${count === 1 ? 'route' : 'routes'}`
        }
        aria-pressed={picked}
        onClick={() => look({ signal: picked ? null : id })}
        sx={{
          p: 1,
          pl: 2.25,
          cursor: 'grab',
          touchAction: 'none',
          '&::before': {
            content: '""',
            position: 'absolute',
            left: 0,
            top: 0,
            bottom: 0,
            width: 9,
            background: EDGE[maker ? 'maker' : kind === 'colour' ? 'level' : kind],
            color: 'var(--mark)',
          },
        }}
      >
        <Box sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'baseline', gap: 1 }}>
          <Typography
            variant="h3"
            component="h3"
            sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
          >
            {name}
          </Typography>
          <LiveText read={(now) => readSignal(signal, now)} sx={{ fontSize: '0.92rem' }} />
        </Box>
        {maker?.making.kind === 'prompter' && <PresentLine id={id} lines={maker.making.lines} />}
        {maker && (maker.making.kind === 'slider' || maker.making.kind === 'button') && (
          <HandControl maker={maker} />
        )}
        <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0,1fr) 110px', gap: 1, alignItems: 'end' }}>
          <Box
            sx={{
              color: 'var(--faint)',
              fontSize: '0.86rem',
              whiteSpace: 'nowrap',
              overflow: 'hidden',
              textOverflow: 'ellipsis',
            }}
          >
            {input}
          </Box>
          <SignalTrace signal={signal} columns={188} sx={{ height: 26 }} />
        </Box>
      </Sheet>
      {maker && picked && (
        <Sheet name={`${id} settings`} sx={{ p: 1, mt: 0.25 }}>
          <Rename maker={maker} />
          <MakerSettings maker={maker} />
        </Sheet>
      )}
    </Box>
  );
}

/** What timed text says now, to be read from across the deck. */
function PresentLine({
  id,
  lines,
}: {
  readonly id: string;
  readonly lines: readonly { readonly text: string }[];
}) {
  return (
    <Box sx={{ fontSize: '1.3rem', fontWeight: 700, minHeight: 34, whiteSpace: 'normal', lineHeight: 1.25 }}>
      <LiveText
        read={() => lines[Math.round(live.signal(id)) - 1]?.text ?? ''}
        sx={{ whiteSpace: 'normal', fontFamily: 'inherit' }}
      />
    </Box>
  );
}

function Rename({ maker }: { readonly maker: Maker }) {
  return (
    <NameField
      label={`Name of ${maker.name}`}
      name={maker.name}
      onRename={(name) => edit('rename a maker', changeMaker(maker.id, { name }))}
      sx={(t) => ({
        font: 'inherit',
        fontWeight: 700,
        width: '100%',
        minHeight: 34,
        px: 1,
        boxSizing: 'border-box',
        border: 'none',
        background: t.ink.paper,
        color: t.ink.paperText,
      })}
    />
  );
}
