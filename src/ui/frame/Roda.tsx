'use client';
import { Box } from '@mui/material';
import { useMemo } from 'react';
import { tempoSignal } from '../../core/plan';
import { useCanvas } from '../controls/canvas';
import { LiveText } from '../controls/LiveText';
import { live } from '../live/live';
import { currentShow, useSession, perform } from '../state/session';
import { FONT } from '../theme/tokens';
import { tapTempo } from '../state/tapTempo';
import { TempoMenu } from './TempoMenu';

const SOURCE = { found: 'found', typed: 'typed', tapped: 'tapped', known: 'known', midi: 'MIDI' } as const;
/** Under this a found tempo is a guess. */
const SURE = 0.5;

/** The circle that turns once a bar and shows the hits where they fell. A press is a tap. */
export function Roda() {
  const tempo = useSession((s) => s.history.show.tempo);
  const ears = useSession((s) => s.history.show.ears);
  const hits = useMemo(() => ears.filter((e) => e.listening.kind === 'hit').map((e) => e.id), [ears]);
  const marks = useMemo(
    () => ({ seen: new Map<string, number>(), list: [] as { turn: number; strength: number; at: number }[] }),
    [],
  );
  const ref = useCanvas(({ g, width, height, styles }, now) => {
    const paper = styles.getPropertyValue('--paper'),
      nowInk = styles.getPropertyValue('--now'),
      ground = styles.getPropertyValue('--ground');
    const cx = width / 2,
      cy = height / 2,
      r = Math.min(cx, cy) - 1;
    const turn = live.signal(tempoSignal('bar')) || 0;
    const perBar = Math.max(1, Math.round(live.signal(tempoSignal('perBar')) || 4)),
      bpm = live.signal(tempoSignal('bpm')) || 0;
    const sure = Math.max(0, Math.min(1, live.signal(tempoSignal('confidence')) || 0));
    g.fillStyle = paper;
    g.beginPath();
    // The rim closes as the tempo gets surer.
    g.moveTo(cx, cy);
    g.arc(cx, cy, r, -Math.PI / 2, -Math.PI / 2 + 2 * Math.PI * Math.max(0.02, sure));
    g.fill();
    g.fillStyle = ground;
    g.beginPath();
    g.arc(cx, cy, r - 4, 0, 7);
    g.fill();
    for (let b = 0; b < perBar; b++)
      wedge(
        g,
        cx,
        cy,
        r - 4,
        r - (b === 0 ? 15 : 10),
        (b / perBar) * 2 * Math.PI,
        b === 0 ? 0.1 : 0.06,
        paper,
      );
    for (const id of hits) {
      const last = live.lastEvent.get(live.slot(id));
      if (last && marks.seen.get(id) !== last.at) {
        marks.seen.set(id, last.at);
        marks.list.push({ turn, strength: last.strength, at: now });
      }
    }
    const bar = (60000 / Math.max(30, bpm)) * perBar;
    while (marks.list.length && now - marks.list[0]!.at > bar) marks.list.shift();
    for (const m of marks.list) {
      g.globalAlpha = 1 - (now - m.at) / bar;
      g.fillStyle = paper;
      const a = m.turn * 2 * Math.PI - Math.PI / 2;
      g.beginPath();
      g.arc(cx + Math.cos(a) * (r - 11), cy + Math.sin(a) * (r - 11), 2 + 2.5 * m.strength, 0, 7);
      g.fill();
    }
    g.globalAlpha = 1;
    wedge(g, cx, cy, r - 2, 24, turn * 2 * Math.PI, 0.07, nowInk);
    g.fillStyle = ground;
    g.beginPath();
    g.arc(cx, cy, 23, 0, 7);
    g.fill();
  });
  const tap = (): void => {
    tapTempo(performance.now());
    if (currentShow().tempo.source === 'tapped') perform({ do: 'beat now' });
  };
  return (
    <Box sx={{ position: 'relative', flex: 'none', display: 'flex', alignItems: 'end' }}>
      <Box
        component="button"
        onPointerDown={tap}
        onKeyDown={(e) => {
          if (e.key === 'Enter') tap();
        }}
        title="Press in time with the music to tap the tempo"
        sx={(t) => ({
          all: 'unset',
          cursor: 'pointer',
          position: 'relative',
          width: 86,
          height: 84,
          flex: 'none',
          '--paper': t.palette.mode === 'dark' ? t.ink.paper : t.ink.sheetText,
          '--now': t.ink.now,
          '--ground': t.ink.sheet,
          color: t.ink.sheetText,
          '&:focus-visible': { outline: `3px solid ${t.ink.now}`, borderRadius: '50%' },
        })}
      >
        <Box
          component="canvas"
          ref={ref}
          aria-hidden
          sx={{ width: '100%', height: '100%', display: 'block', '--paper': 'inherit' }}
        />
        <Box
          sx={{
            position: 'absolute',
            inset: 0,
            display: 'grid',
            placeContent: 'center',
            textAlign: 'center',
            pointerEvents: 'none',
          }}
        >
          <Box sx={{ fontFamily: FONT.head, fontWeight: 800, fontSize: '1.15rem', lineHeight: 1 }}>
            <LiveText
              read={() => {
                const b = live.signal(tempoSignal('bpm'));
                return b > 0
                  ? Number.isInteger(Math.round(b * 10) / 10)
                    ? String(Math.round(b))
                    : b.toFixed(1)
                  : '–';
              }}
              sx={{ fontFamily: FONT.head }}
            />
          </Box>{' '}
          <Box sx={{ fontSize: '0.8125rem', lineHeight: 1.1 }}>
            {tempo.source === 'found' ? (
              <LiveText
                read={() => ((live.signal(tempoSignal('confidence')) || 0) > SURE ? 'found' : 'unsure')}
                sx={{ fontFamily: 'inherit' }}
              />
            ) : (
              SOURCE[tempo.source]
            )}
          </Box>
        </Box>
      </Box>
      <Box sx={{ position: 'absolute', right: -14, bottom: -6 }}>
        <TempoMenu />
      </Box>
    </Box>
  );
}

function wedge(
  g: CanvasRenderingContext2D,
  cx: number,
  cy: number,
  outer: number,
  inner: number,
  turn: number,
  half: number,
  ink: string,
): void {
  const a = turn - Math.PI / 2;
  g.fillStyle = ink;
  g.beginPath();
  g.moveTo(cx + Math.cos(a - half) * outer, cy + Math.sin(a - half) * outer);
  g.lineTo(cx + Math.cos(a + half) * outer, cy + Math.sin(a + half) * outer);
  g.lineTo(cx + Math.cos(a) * inner, cy + Math.sin(a) * inner);
  g.fill();
}
