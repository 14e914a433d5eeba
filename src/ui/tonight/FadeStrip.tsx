'use client';
import { Box } from '@mui/material';
import { useRef } from 'react';
import { cueWords, followWords } from '../../core/stage';
import type { Show, StageState } from '../../core/show';
import { live, useFrame } from '../live/live';

/** What is in and how far, in one line across; what will go on by itself; and how far a build has come. */
export function FadeStrip({
  show,
  stage,
  where,
}: {
  readonly show: Show;
  readonly stage: StageState;
  /** Where in the night that is. */
  readonly where: string;
}) {
  const bar = useRef<HTMLDivElement>(null),
    was = useRef(NaN);
  useFrame(() => {
    const fade = live.frame?.fade ?? 1;
    if (fade === was.current || !bar.current) return;
    was.current = fade;
    bar.current.style.transform = `scaleX(${fade})`;
  });
  // Where somebody listens for builds, how far one has come.
  const build = show.ears.find((e) => e.listening.kind === 'structure' && e.listening.reading === 'progress'),
    rising = useRef<HTMLDivElement>(null),
    word = useRef<HTMLSpanElement>(null),
    rose = useRef(NaN);
  useFrame(() => {
    const x = build ? live.signal(build.id) : 0;
    if (x === rose.current || !rising.current || !word.current) return;
    rose.current = x;
    rising.current.style.transform = `scaleX(${x > 0 ? x : 0})`;
    word.current.style.display = x > 0 ? 'inline' : 'none';
  });
  const cue = show.cues.find((c) => c.id === stage.cue),
    name = cue ? cueWords(cue) : null;
  const look = show.looks.find((l) => l.id === stage.look)?.name,
    what = look && cue?.look !== stage.look ? look : (name ?? look ?? 'Everything as it rests');
  const how =
    stage.phase === 'waits' ? 'waits for its moment' : stage.phase === 'fades' ? 'comes in' : 'is in';
  return (
    <Box
      role="status"
      sx={(t) => ({
        position: 'relative',
        minHeight: 56,
        flex: 1,
        minWidth: 0,
        background: t.ink.sheet,
        color: t.ink.sheetText,
        overflow: 'hidden',
        display: 'flex',
        alignItems: 'center',
        justifyContent: 'space-between',
        gap: 2,
        px: 1.5,
        fontSize: '1.25rem',
        lineHeight: 1.2,
        '& > *': { position: 'relative' },
      })}
    >
      <Box
        ref={bar}
        aria-hidden
        sx={(t) => ({
          position: 'absolute !important',
          inset: 0,
          background: t.ink.sheetQuiet,
          borderRight: `6px solid ${t.ink.now}`,
          transformOrigin: 'left',
          transform: 'scaleX(1)',
        })}
      />
      <Box
        ref={rising}
        aria-hidden
        sx={(t) => ({
          position: 'absolute !important',
          left: 0,
          right: 0,
          bottom: 0,
          height: 10,
          background: t.ink.now,
          transformOrigin: 'left',
          transform: 'scaleX(0)',
        })}
      />
      <Box
        component="span"
        sx={{ fontWeight: 700, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
      >
        {what} {how}
      </Box>
      <Box component="span" ref={word} sx={(t) => ({ display: 'none', fontWeight: 800, color: t.ink.now })}>
        build
      </Box>
      <Box
        component="span"
        sx={(t) => ({
          whiteSpace: 'nowrap',
          color: t.ink.sheetFaint,
          overflow: 'hidden',
          textOverflow: 'ellipsis',
        })}
      >
        {cue?.follow ? (stage.byHand ? 'waits for go' : followWords(cue.follow, show)) : where}
      </Box>
    </Box>
  );
}
