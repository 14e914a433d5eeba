'use client';
import { Box, ButtonBase } from '@mui/material';
import { useEffect, useRef } from 'react';
import { numberText } from '../../core/stage';
import type { Cue, Show } from '../../core/show';
import { perform } from '../state/session';
import { edgeOf } from '../theme/cutEdge';
import { FONT } from '../theme/tokens';
import { Print } from './Print';

/** How far from the cord's left end what is now hangs: one that was stays in view. */
const BEFORE = 180;

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
    cord = useRef<HTMLOListElement>(null);
  // What is next is always in view, and what is now where there is room for both.
  useEffect(() => {
    const list = cord.current,
      at = list?.querySelector<HTMLElement>('[data-now]') ?? list?.querySelector<HTMLElement>('[data-next]'),
      ahead = list?.querySelector<HTMLElement>('[data-next]');
    if (!list || !at) return;
    const before = at.offsetLeft - list.offsetLeft - BEFORE,
      least = ahead ? ahead.offsetLeft - list.offsetLeft + ahead.offsetWidth - list.clientWidth : before;
    const left =
      ahead && ahead.offsetLeft < at.offsetLeft
        ? ahead.offsetLeft - list.offsetLeft - BEFORE
        : Math.max(before, least);
    list.scrollTo({
      left,
      behavior: matchMedia('(prefers-reduced-motion: reduce)').matches ? 'auto' : 'smooth',
    });
  }, [cue, next, cues.length]);
  return (
    <Box
      component="ol"
      ref={cord}
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
        overflowX: 'auto',
        overflowY: 'hidden',
        scrollbarWidth: 'none',
        position: 'relative',
        background: `linear-gradient(${t.ink.paperDeep}, ${t.ink.paperDeep}) 0 8px / 100% 3px no-repeat`,
      })}
    >
      {cues.map((c) => (
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
      data-now={state === 'now' || undefined}
      sx={{
        position: 'relative',
        flex:
          state === 'next'
            ? '0 0 clamp(230px, 23%, 330px)'
            : state === 'now'
              ? '0 0 clamp(170px, 16.6%, 250px)'
              : '0 0 clamp(140px, 13.8%, 220px)',
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
