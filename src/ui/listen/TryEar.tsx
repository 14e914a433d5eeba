'use client';
import { Box, Button, ButtonBase, Typography } from '@mui/material';
import { bandDelay } from '../../core/audio';
import { bandOf, type Listening, rangeHit } from '../../core/ears';
import { addEar, type Ear, freeId, freeName, signalsOfEar } from '../../core/show';
import { LiveText } from '../controls/LiveText';
import { SignalTrace } from '../controls/SignalTrace';
import { currentShow, edit } from '../state/session';
import { goTo, look } from '../state/view';
import { cutEdge } from '../theme/cutEdge';
import { readSignal } from './Ears';
import { EarSettings } from './EarSettings';
import { listeningWords, rangeName, retitled } from './names';

const EDGE = cutEdge(66, 3, 14);

/** How late an ear is, in words; nothing where it depends on what it hears. */
function lateness({ listening: l }: Ear): string {
  if (l.kind === 'band' && l.reading === 'energy')
    return ` · ${Math.round(bandDelay(l.low, l.high) * 1000)} ms late`;
  if (l.kind === 'hit' && l.what === 'range')
    return ` · ${Math.round(bandDelay(l.low, l.high) * 1000)} ms late`;
  return '';
}

/** An ear that is being tried on the sound that plays, and on the last twelve seconds, before it is kept. */
export function TryEar({ ear }: { readonly ear: Ear }) {
  const l = ear.listening;
  const change = (what: Partial<Ear>): void => look({ trying: retitled(currentShow(), ear, what) });
  const set = (listening: Listening): void => change({ listening });
  const keep = (): Ear => {
    const show = currentShow();
    const kept: Ear = { ...ear, id: freeId(show, 'ear'), name: freeName(show.ears, ear.name) };
    edit(`listen to ${kept.name}`, addEar(kept));
    return kept;
  };
  const [own] = signalsOfEar(ear);
  const ranged = l.kind === 'band' || (l.kind === 'hit' && l.what === 'range') ? l : null;
  // A drawn range may be listened to in three ways; each is one press away.
  const ways: [string, Listening][] = ranged
    ? [
        ['level of this range', bandOf(ranged.low, ranged.high)],
        ['hit in this range', rangeHit(ranged.low, ranged.high)],
        ['strongest pitch', { ...bandOf(ranged.low, ranged.high), reading: 'frequency' } as Listening],
      ]
    : [];
  const isWay = (w: Listening): boolean =>
    w.kind === l.kind &&
    (w.kind !== 'band' || (l.kind === 'band' && (w.reading === 'frequency') === (l.reading === 'frequency')));
  return (
    <Box
      component="section"
      aria-label={`New ear: ${ear.name}`}
      sx={(t) => ({
        background: t.ink.paper,
        color: t.ink.paperText,
        p: 2,
        pt: 1.25,
        clipPath: EDGE,
        '--mark': t.ink.paperText,
        '--bed': t.ink.paperDeep,
        '--faint': t.ink.paperFaint,
      })}
    >
      <Box
        sx={{
          display: 'flex',
          alignItems: 'baseline',
          justifyContent: 'space-between',
          gap: 2,
          flexWrap: 'wrap',
        }}
      >
        <Typography variant="h2">
          New ear: {ranged ? rangeName(ranged.low, ranged.high) : listeningWords(ear)}
        </Typography>
        <Box sx={{ color: 'var(--faint)', fontSize: '0.9rem', flex: 1, textAlign: 'right' }}>
          tried on the sound{lateness(ear)}
        </Box>
        <Button variant="text" onClick={() => look({ trying: null })} sx={{ color: 'inherit' }}>
          Drop <kbd style={{ font: 'inherit', fontWeight: 400, marginLeft: 6 }}>Esc</kbd>
        </Button>
      </Box>
      {ranged ? (
        <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(3, minmax(0, 1fr))', gap: 1.5, my: 1 }}>
          {ways.map(([label, listening]) => {
            const on = isWay(listening);
            return (
              <ButtonBase
                key={label}
                aria-pressed={on}
                onClick={() => {
                  if (!on) set(listening);
                }}
                sx={(t) => ({
                  display: 'block',
                  textAlign: 'left',
                  p: 1.25,
                  background: on ? '#fffaf0' : t.ink.paperShade,
                  borderTop: `6px solid ${on ? t.ink.selected : 'transparent'}`,
                  color: 'inherit',
                })}
              >
                <Box
                  sx={{
                    display: 'flex',
                    justifyContent: 'space-between',
                    fontWeight: 700,
                    fontSize: '0.94rem',
                  }}
                >
                  <span>{label}</span>
                  {on && <LiveText read={(now) => readSignal(own!, now)} />}
                </Box>
                {on ? (
                  <SignalTrace signal={own!} columns={560} sx={{ height: 44, mt: 0.5 }} />
                ) : (
                  <Box sx={{ height: 44, mt: 0.5, fontSize: '0.88rem', opacity: 0.8 }}>
                    {listening.kind === 'hit'
                      ? 'once a stroke, with its strength'
                      : label === 'strongest pitch'
                        ? 'which frequency leads in it'
                        : 'how much of it there is'}
                  </Box>
                )}
              </ButtonBase>
            );
          })}
        </Box>
      ) : (
        <Box
          sx={{
            display: 'grid',
            gridTemplateColumns: 'minmax(0, 1fr) auto',
            gap: 1.5,
            alignItems: 'end',
            my: 1,
            background: '#fffaf0',
            p: 1.25,
          }}
        >
          <SignalTrace signal={own!} columns={560} sx={{ height: 56 }} />
          <LiveText read={(now) => readSignal(own!, now)} sx={{ fontSize: '1.2rem', fontWeight: 700 }} />
        </Box>
      )}
      <Box sx={{ mb: 1 }}>
        <EarSettings ear={ear} onChange={change} />
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, flexWrap: 'wrap' }}>
        <Button
          variant="contained"
          onClick={() => {
            const kept = keep();
            look({
              trying: null,
              aiming: own!.kind === 'vector' ? null : kept.id,
              signal: kept.id,
              ear: kept.id,
            });
            goTo('route');
          }}
          sx={(t) => ({
            background: t.ink.paperText,
            color: t.ink.paper,
            '&:hover': { background: t.ink.sheet },
          })}
        >
          Keep and move something
        </Button>
        <Button
          variant="text"
          onClick={() => {
            const kept = keep();
            look({ trying: null, ear: kept.id, signal: kept.id });
          }}
          sx={{ color: 'inherit' }}
        >
          Keep only
        </Button>
      </Box>
    </Box>
  );
}
