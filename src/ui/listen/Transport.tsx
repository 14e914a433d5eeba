'use client';
import { Box, Typography } from '@mui/material';
import { IconAct } from '../controls/IconAct';
import { useRef, type PointerEvent } from 'react';
import { LiveText } from '../controls/LiveText';
import { Sheet } from '../controls/Sheet';
import { beatAt } from '../frame/tempo';
import { useFrame } from '../live/live';
import { seek, setPlaying, theEngine, useSession } from '../state/session';

/** Play, pause, and where in the sound the show is. All files follow it together. */
export function Transport() {
  const show = useSession((s) => s.history.show);
  const states = useSession((s) => s.inputs);
  const playing = useSession((s) => s.playing);
  const mark = useRef<HTMLDivElement>(null);
  const files = show.inputs.filter(
    (i) => i.kind === 'files' || (i.kind === 'notes' && i.from.kind === 'file'),
  );
  const length = Math.max(
    0,
    ...files.map((i) => {
      const s = states[i.id];
      return s?.kind === 'ready' ? (s.seconds ?? 0) : 0;
    }),
  );
  const loops = files.some((i) =>
    i.kind === 'files' ? i.loop : i.kind === 'notes' && i.from.kind === 'file' && i.from.loop,
  );
  const place = (): number => {
    const p = theEngine()?.position ?? 0;
    return length > 0 ? (loops ? p % length : Math.min(p, length)) : 0;
  };
  useFrame(() => {
    if (mark.current) mark.current.style.left = `${length > 0 ? (100 * place()) / length : 0}%`;
  });
  if (files.length === 0) return null;
  const to = (e: PointerEvent<HTMLDivElement>): void => {
    if (e.buttons !== 1) return;
    const box = e.currentTarget.getBoundingClientRect();
    seek(Math.max(0, Math.min(1, (e.clientX - box.left) / box.width)) * length);
  };
  return (
    <Box component="section" aria-label="Playing" sx={{ mt: 0.5 }}>
      <Typography variant="h2" sx={{ mb: 0.75 }}>
        Playing
      </Typography>
      <Sheet name="transport" sx={{ p: 1.25 }}>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5 }}>
          <IconAct
            act={playing ? 'pause' : 'play'}
            label={playing ? 'Pause' : 'Play'}
            size={30}
            onClick={() => setPlaying(!playing)}
          />
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <LiveText
              read={() => {
                const bar = Math.floor(beatAt(show.tempo, place()) / show.tempo.beatsPerBar) + 1;
                return `${show.tempo.source === 'known' ? `bar ${bar} · ` : ''}${place().toFixed(1)} / ${length.toFixed(1)} s`;
              }}
              sx={{ fontWeight: 700, fontSize: '0.8125rem', letterSpacing: '-0.03em' }}
            />
            <Box sx={{ color: 'var(--faint)', fontSize: '0.86rem' }}>
              {playing ? 'space to pause' : 'space to play'}
              {loops ? ' · loops' : ''}
            </Box>
          </Box>
        </Box>
        <Box
          role="slider"
          tabIndex={0}
          aria-label="Position"
          aria-valuemin={0}
          aria-valuemax={Math.round(length)}
          aria-valuenow={0}
          aria-valuetext="Arrow keys move by a second"
          onPointerDown={to}
          onPointerMove={to}
          onKeyDown={(e) => {
            const by = e.key === 'ArrowRight' ? 1 : e.key === 'ArrowLeft' ? -1 : 0;
            if (by) {
              e.preventDefault();
              seek(Math.max(0, place() + by));
            } else if (e.key === 'Home') {
              e.preventDefault();
              e.stopPropagation();
              seek(0);
            }
          }}
          sx={{
            position: 'relative',
            height: 32,
            cursor: 'pointer',
            touchAction: 'none',
            '&::before': {
              content: '""',
              position: 'absolute',
              left: 0,
              right: 0,
              top: 14,
              height: 5,
              background: 'var(--bed)',
            },
          }}
        >
          <Box
            ref={mark}
            sx={(t) => ({
              position: 'absolute',
              top: 6,
              width: 6,
              ml: '-3px',
              height: 21,
              background: t.ink.now,
            })}
          />
        </Box>
      </Sheet>
    </Box>
  );
}
