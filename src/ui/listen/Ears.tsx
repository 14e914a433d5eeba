'use client';
import { Box, Button, Typography } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import { toHex } from '../../core/parameters';
import {
  changeEar,
  type Ear,
  type Input,
  removeEar,
  type Signal,
  signalsOfEar,
  stemOfEar,
} from '../../core/show';
import { LiveText } from '../controls/LiveText';
import { NameField } from '../controls/NameField';
import { Sheet } from '../controls/Sheet';
import { SignalTrace } from '../controls/SignalTrace';
import { live } from '../live/live';
import { currentShow, edit, endDrag, useSession } from '../state/session';
import { look, useView } from '../state/view';
import { Distribution } from './Distribution';
import { EarPicker } from './EarPicker';
import { EarSettings } from './EarSettings';
import { listeningWords, retitled, signalText } from './names';

/** A number that is worth reading: what it is now, or the strength of a hit while it is fresh. */
export function readSignal(
  signal: Pick<Signal, 'id' | 'kind' | 'measure' | 'ear' | 'maker'>,
  now: number,
): string {
  if (signal.kind === 'event') {
    const last = live.lastEvent.get(live.slot(signal.id));
    return signalText(signal.measure, last && now - last.at < 250 ? last.strength : 0);
  }
  if (signal.ear?.listening.kind === 'presence') return live.signal(signal.id) > 0.5 ? 'yes' : 'no';
  if (signal.kind === 'vector') {
    const row = live.vectorAt(signal.id);
    return row ? `${row.points}` : '–';
  }
  if (signal.kind === 'colour') {
    const at = live.slot(signal.id);
    return at < 0
      ? '–'
      : toHex(
          live.frame?.signals[at] ?? 0,
          live.frame?.signals[at + 1] ?? 0,
          live.frame?.signals[at + 2] ?? 0,
        );
  }
  // What a maker gives may be any number, not only a whole one.
  if (signal.maker && signal.measure === 'count') {
    const x = live.signal(signal.id);
    return Number.isFinite(x) ? x.toFixed(2).replace('-', '−') : '–';
  }
  return signalText(signal.measure, live.signal(signal.id));
}

/** Every ear of the show, with its trace. */
export function Ears({ input }: { readonly input: Input | null }) {
  const ears = useSession((s) => s.history.show.ears);
  const inputs = useSession((s) => s.history.show.inputs);
  const selected = useView((v) => v.ear);
  return (
    <Box
      component="section"
      aria-label="Ears"
      sx={{ display: 'flex', flexDirection: 'column', minHeight: 0 }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between' }}>
        <Typography variant="h2">Ears</Typography>
        <EarPicker input={input} />
      </Box>
      <Box
        sx={{ overflowY: 'auto', display: 'flex', flexDirection: 'column', gap: 1.25, py: 0.5, minHeight: 0 }}
      >
        {ears.map((ear) => (
          <EarCard
            key={ear.id}
            ear={ear}
            input={inputs.find((i) => i.id === ear.input) ?? null}
            picked={ear.id === selected}
          />
        ))}
        {ears.length === 0 && (
          <Sheet name="no ears" sx={{ p: 2 }}>
            No ears yet. Drag across the field, or press <b>+ ear</b>.
          </Sheet>
        )}
      </Box>
    </Box>
  );
}

function EarCard({
  ear,
  input,
  picked,
}: {
  readonly ear: Ear;
  readonly input: Input | null;
  readonly picked: boolean;
}) {
  const [naming, setNaming] = useState(false);
  const [own] = signalsOfEar(ear);
  const card = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (picked) card.current?.scrollIntoView({ block: 'nearest' });
  }, [picked]);
  return (
    <Sheet
      ref={card}
      name={ear.id}
      picked={picked}
      warned={input === null}
      role="group"
      aria-label={ear.name}
      onPointerDown={() => {
        if (!picked) look({ ear: ear.id, signal: ear.id });
      }}
      sx={{ p: 1.25, px: 1.5, flex: 'none' }}
    >
      <Box sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'baseline', gap: 1 }}>
        {naming ? (
          <NameField
            autoFocus
            label="Name of the ear"
            name={ear.name}
            onLeave={() => setNaming(false)}
            onRename={(name) => edit('rename an ear', changeEar(ear.id, { name }))}
            sx={{ font: 'inherit', width: '100%', minHeight: 30 }}
          />
        ) : (
          <Typography
            variant="h3"
            component="h3"
            sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
            onDoubleClick={() => setNaming(true)}
          >
            <Box
              component="button"
              aria-pressed={picked}
              onClick={() => look({ ear: ear.id, signal: ear.id })}
              sx={(t) => ({
                all: 'unset',
                cursor: 'pointer',
                maxWidth: '100%',
                overflow: 'hidden',
                textOverflow: 'ellipsis',
                minHeight: 32,
                display: 'inline-flex',
                alignItems: 'center',
                '&:focus-visible': { outline: `3px solid ${t.ink.now}` },
              })}
            >
              {ear.name}
            </Box>
          </Typography>
        )}
        <LiveText read={(now) => readSignal(own!, now)} sx={{ fontSize: '0.94rem' }} />
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1, alignItems: 'end' }}>
        <Box sx={{ color: 'var(--faint)', fontSize: '0.86rem', lineHeight: 1.25 }}>
          {listeningWords(ear)}
          <br />
          {input
            ? [input.name, stemOfEar([input], ear)?.name].filter(Boolean).join(' · ')
            : 'its input is gone'}
        </Box>
        <SignalTrace signal={own!} sx={{ height: 30 }} />
      </Box>
      {picked && (
        <Box sx={{ mt: 1, '& button': { color: 'inherit', '&:hover': { background: 'var(--bed)' } } }}>
          <EarSettings
            ear={ear}
            onChange={(change, mark) =>
              edit(
                `set ${ear.name}`,
                changeEar(ear.id, retitled(currentShow(), ear, change)),
                mark && `${ear.id} ${mark}`,
              )
            }
            onEnd={endDrag}
          />
          {own!.kind === 'level' && <Distribution signal={own!} />}
          <Box sx={{ display: 'flex', ml: -1, mt: 0.5 }}>
            <Button variant="text" onClick={() => setNaming(true)}>
              rename
            </Button>
            <Button
              variant="text"
              onClick={() => look({ trying: { ...ear, id: 'trying' }, input: ear.input, ear: null })}
            >
              try a variant
            </Button>
            <Box sx={{ flex: 1 }} />
            <Button
              variant="text"
              aria-label={`Remove ${ear.name}`}
              onClick={() => edit(`remove ${ear.name}`, removeEar(ear.id))}
            >
              remove
            </Button>
          </Box>
        </Box>
      )}
    </Sheet>
  );
}
