'use client';
import { Box, ButtonBase } from '@mui/material';
import { numberText } from '../../core/stage';
import type { Cue, Show } from '../../core/show';
import { perform } from '../state/session';
import { edgeOf } from '../theme/cutEdge';
import { FONT } from '../theme/tokens';
import { Print } from './Print';

/** How much of the cord is in view: one that was, what is, what is next, and those after. */
const BEFORE = 1,
  AFTER = 4;

/** The night's looks on a cord, in their order: what was, now on a maize peg, next on a red one. */
export function Cord({
  show,
  cue,
  next,
}: {
  readonly show: Show;
  readonly cue: string | null;
  readonly next: string | null;
}) {
  const { cues } = show,
    here = cues.findIndex((c) => c.id === cue),
    ahead = cues.findIndex((c) => c.id === next);
  const middle = here >= 0 ? here : Math.max(0, ahead),
    from = Math.max(0, Math.min(middle - BEFORE, cues.length - BEFORE - AFTER - 1)),
    shown = cues.slice(from, from + BEFORE + AFTER + 1);
  // What is next may have been put far away.
  if (ahead >= 0 && !shown.some((c) => c.id === next)) shown[shown.length - 1] = cues[ahead]!;
  return (
    <Box
      component="ol"
      aria-label="The cord"
      sx={(t) => ({
        listStyle: 'none',
        m: 0,
        p: 0,
        pt: '14px',
        minHeight: 0,
        display: 'flex',
        alignItems: 'flex-start',
        gap: 1.5,
        overflow: 'hidden',
        '@media (max-width: 900px)': { '& > li:nth-of-type(n + 5):not([data-next])': { display: 'none' } },
        background: `linear-gradient(${t.ink.paperDeep}, ${t.ink.paperDeep}) 0 8px / 100% 3px no-repeat`,
      })}
    >
      {shown.map((c) => (
        <Hung
          key={c.id}
          cue={c}
          show={show}
          state={c.id === cue ? 'now' : c.id === next ? 'next' : 'other'}
          past={cues.indexOf(c) < here}
        />
      ))}
    </Box>
  );
}

function Hung({
  cue,
  show,
  state,
  past,
}: {
  readonly cue: Cue;
  readonly show: Show;
  readonly state: 'now' | 'next' | 'other';
  readonly past: boolean;
}) {
  const gone = cue.look !== null && !show.looks.some((l) => l.id === cue.look);
  return (
    <Box
      component="li"
      data-next={state === 'next' || undefined}
      sx={{
        position: 'relative',
        flex: state === 'next' ? '1.65 1 0' : state === 'now' ? '1.2 1 0' : '1 1 0',
        minWidth: 0,
        maxWidth: 330,
      }}
    >
      <Box
        aria-hidden
        sx={(t) => ({
          position: 'absolute',
          zIndex: 1,
          top: -10,
          left: '50%',
          width: 12,
          height: 26,
          ml: '-6px',
          background: state === 'now' ? t.ink.now : state === 'next' ? t.ink.selected : t.ink.track,
        })}
      />
      <ButtonBase
        onClick={() => perform({ do: 'next', cue: cue.id })}
        aria-current={state === 'now' ? 'step' : undefined}
        title={state === 'next' ? 'It is next: go takes it.' : 'Make it the next one.'}
        sx={(t) => ({
          display: 'block',
          width: 1,
          textAlign: 'left',
          p: 0.75,
          background: state === 'next' ? t.ink.paper : state === 'now' ? t.ink.paperShade : t.ink.sheet,
          color: state === 'other' ? t.ink.sheetText : t.ink.paperText,
          clipPath: edgeOf(cue.id),
          '& > :first-of-type': { opacity: past ? 0.45 : state === 'other' ? 0.8 : 1 },
        })}
      >
        <Print
          look={cue.look}
          gone={gone}
          sx={{ aspectRatio: '16 / 8', '@media (max-height: 700px)': { aspectRatio: '16 / 5' } }}
        />
        <Box
          component="span"
          sx={{
            display: 'flex',
            gap: 1,
            pt: 0.5,
            fontFamily: FONT.head,
            fontWeight: 800,
            fontSize: state === 'next' ? '1.4rem' : '1.25rem',
            lineHeight: 1.15,
          }}
        >
          <Box component="span" sx={{ fontFamily: FONT.number, fontWeight: 400 }}>
            {numberText(cue.number)}
          </Box>{' '}
          <Box
            component="span"
            sx={{
              overflow: 'hidden',
              display: '-webkit-box',
              WebkitLineClamp: 2,
              WebkitBoxOrient: 'vertical',
              '@media (max-height: 700px)': { WebkitLineClamp: 1 },
            }}
          >
            {cue.name}
          </Box>
        </Box>
        {state !== 'other' && (
          <Box
            component="span"
            sx={(t) => ({
              position: 'absolute',
              top: 0,
              right: 0,
              px: 1,
              fontSize: '1.25rem',
              fontWeight: 700,
              background: state === 'now' ? t.ink.now : t.ink.selected,
              color: '#16110d',
            })}
          >
            {' '}
            {state}
          </Box>
        )}
      </ButtonBase>
    </Box>
  );
}
