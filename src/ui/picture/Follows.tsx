'use client';
import { Box } from '@mui/material';
import { useEffect, useRef } from 'react';
import {
  type Ear,
  type EarDifference,
  findSignal,
  followOther,
  followSignal,
  freeName,
  routesFrom,
  signalsOfEar,
} from '../../core/show';
import { Choice } from '../controls/Choice';
import { ChannelOf, hearsChannels, HearsOf } from '../listen/EarAim';
import { earTitle, RANGES, rangeName } from '../listen/names';
import { currentShow, edit, useSession } from '../state/session';
import { look, useView } from '../state/view';

/** So many ears are listed; what follows more is seen in Route. */
const MOST = 4;

/**
 * Which ears a thing follows, and what of them may be another for it alone: input, channel, band. A copy asks for this first, since
 * that is what copies are made for.
 */
export function Follows({ thing, name }: { readonly thing: string; readonly name: string }) {
  const show = useSession((s) => s.history.show);
  const copied = useView((v) => v.copied === thing);
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!copied) return;
    box.current?.querySelector<HTMLElement>('[role=combobox]')?.focus();
    look({ copied: null });
  }, [copied]);
  const ears = show.ears.filter(
    (e) => e.listening.kind !== 'beat' && routesFrom(show, thing, e.id).length > 0,
  );
  if (ears.length === 0) return null;
  return (
    <Box
      ref={box}
      role="group"
      aria-label={`What ${name} follows`}
      sx={{ borderTop: '2px solid var(--bed)', py: 0.75, fontSize: '0.9rem', display: 'grid', gap: 0.5 }}
    >
      {ears.slice(0, MOST).map((ear) => (
        <OneEar key={ear.id} thing={thing} ear={ear} />
      ))}
      {ears.length > MOST && <span>and {ears.length - MOST} more ears</span>}
    </Box>
  );
}

function OneEar({ thing, ear }: { readonly thing: string; readonly ear: Ear }) {
  const show = useSession((s) => s.history.show);
  const change = (what: string, difference: EarDifference): void => {
    const now = currentShow();
    edit(
      what,
      followOther(now, thing, ear, difference, (e) => freeName(now.ears, earTitle(now.inputs, e))),
    );
  };
  const { listening: l } = ear;
  const routes = routesFrom(show, thing, ear.id);
  const members = signalsOfEar(ear).slice(1);
  const followed = new Set(routes.map((r) => r.signal));
  const [only] = followed;
  const ranged = l.kind === 'band' || (l.kind === 'hit' && l.what === 'range') ? l : null;
  const range = ranged && `${ranged.low} ${ranged.high}`;
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: 'repeat(3, minmax(0, 1fr))',
        gap: 0.5,
        '& label, & .MuiInputBase-root': { minWidth: 0, width: '100%' },
        '& label': { gap: 0 },
        '& .MuiSelect-select.MuiSelect-select': { pl: 1, pr: '26px' },
      }}
    >
      <Box component="b" sx={{ gridColumn: '1 / -1' }}>
        follows {followed.size === 1 ? (findSignal(show, only!)?.name ?? ear.name) : ear.name}
      </Box>
      <HearsOf bare ear={ear} onChange={(c) => change('follow another input', c)} />
      {hearsChannels(ear) && (
        <ChannelOf bare ear={ear} onChange={(c) => change('follow another channel', c)} />
      )}
      {followed.size === 1 && only !== ear.id && (
        <Choice
          label=""
          name="band"
          value={only!}
          options={members.map((m) => [m.id, m.name.slice(ear.name.length + 3)] as const)}
          onChange={(id) => {
            const signal = members.find((m) => m.id === id);
            if (signal)
              edit(
                'follow another band',
                followSignal(
                  currentShow(),
                  routes.map((r) => r.id),
                  signal,
                  () => null,
                ),
              );
          }}
        />
      )}
      {ranged && range && (
        <Choice
          label=""
          name="band"
          value={range}
          options={[
            ...(RANGES.some(([a, b]) => `${a} ${b}` === range)
              ? []
              : [[range, rangeName(ranged.low, ranged.high)] as const]),
            ...RANGES.map(([low, high]) => [`${low} ${high}`, rangeName(low, high)] as const),
          ]}
          onChange={(r) => {
            const [low, high] = r.split(' ').map(Number);
            change('follow another band', { listening: { ...ranged, low: low!, high: high! } });
          }}
        />
      )}
    </Box>
  );
}
