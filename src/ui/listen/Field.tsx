'use client';
import { Box, Typography } from '@mui/material';
import { useMemo, useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { fieldToHz, hzToField, SPECTRUM_POINTS } from '../../core/audio/spectrum';
import { TRACE_COLUMNS } from '../../core/plan/traces';
import type { Ear, Input } from '../../core/show/types';
import { clamp } from '../../core/units';
import { columnChanged, useCanvas } from '../controls/canvas';
import { live } from '../live/live';
import { useSession } from '../state/session';
import { look, useView } from '../state/view';
import { FONT } from '../theme/tokens';
import { rangeName } from './names';

const TOP_DB = 0;
const BOTTOM_DB = -84;
/** The newest spectrum stands in the lower part; its past rises above it. */
const PRESENT = 0.42;
const HZ_LINES = [40, 100, 250, 630, 1600, 4000, 10000];
const DB_LINES = [-12, -36, -60];
/** Rows of history, and how many columns each stands for. */
const ROWS = 40;
const COLUMNS_PER_ROW = 12;
const TRY_ID = 'trying';

/** The live spectrum over its recent past. Dragging across it draws a range, which becomes an ear. */
export function Field({ input }: { readonly input: Input | null }) {
  const ears = useSession((s) => s.history.show.ears);
  const trying = useView((v) => v.trying);
  const selected = useView((v) => v.ear);
  const drag = useRef<{ from: number; box: DOMRect } | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const peak = useMemo(() => new Float32Array(SPECTRUM_POINTS), []);
  const changed = useMemo(() => columnChanged(() => (live.field ? Atomics.load(live.field.head, 0) : -1)), []);
  const ranged = ears.filter((e) => e.input === input?.id && e.listening.kind !== 'level');

  const ref = useCanvas(({ g, width, height, styles }) => {
    const field = live.field;
    const head = field ? Atomics.load(field.head, 0) : -1;
    const foot = height - 24;
    const presentTop = foot * (1 - PRESENT);
    const paper = styles.color;
    const dx = width / (SPECTRUM_POINTS - 1);
    if (field && head >= 0) {
      g.fillStyle = paper;
      const rowHeight = presentTop / ROWS;
      for (let row = 0; row < ROWS; row++) {
        const newest = head - row * COLUMNS_PER_ROW;
        peak.fill(-200);
        for (let c = Math.max(0, newest - COLUMNS_PER_ROW + 1); c <= newest; c++) {
          if (c <= head - TRACE_COLUMNS) continue;
          const at = (c % TRACE_COLUMNS) * SPECTRUM_POINTS;
          for (let i = 0; i < SPECTRUM_POINTS; i++) { const db = field.data[at + i]!; if (db > peak[i]!) peak[i] = db; }
        }
        // The past is printed in dashes: thicker where it was louder, fainter the longer ago.
        g.globalAlpha = 0.95 - (0.62 * row) / ROWS;
        const y = presentTop - (row + 1) * rowHeight;
        for (let i = 0; i < SPECTRUM_POINTS; i++) {
          const loud = clamp((peak[i]! + 62) / 52, 0, 1);
          if (loud > 0.06) g.fillRect(i * dx - dx * 0.42, y + rowHeight * (1 - loud) * 0.5, dx * 0.84, Math.max(1, loud * rowHeight * 0.92));
        }
      }
      g.globalAlpha = 1;
      const at = (head % TRACE_COLUMNS) * SPECTRUM_POINTS;
      g.beginPath();
      g.moveTo(0, foot);
      for (let i = 0; i < SPECTRUM_POINTS; i++) {
        const db = field.data[at + i]!;
        const up = Number.isFinite(db) ? clamp((db - BOTTOM_DB) / (TOP_DB - BOTTOM_DB), 0, 1) : 0;
        g.lineTo(i * dx, foot - 2 - up * (foot - presentTop));
      }
      g.lineTo(width, foot);
      g.fill();
    }
    g.font = `13px ${FONT.number}`;
    for (const hz of HZ_LINES) {
      const x = hzToField(hz) * width;
      g.fillStyle = styles.getPropertyValue('--line');
      for (let y = presentTop; y < foot; y += 8) g.fillRect(x, y, 1.5, 3);
    }
    g.textAlign = 'right';
    for (const db of DB_LINES) {
      const y = foot - ((db - BOTTOM_DB) / (TOP_DB - BOTTOM_DB)) * (foot - presentTop);
      g.fillStyle = styles.getPropertyValue('--night');
      g.fillRect(width - 62, y - 10, 62, 19);
      g.fillStyle = paper;
      g.fillText(`−${-db} dB`, width - 6, y + 4);
    }
    g.fillStyle = styles.getPropertyValue('--ground');
    g.fillRect(0, foot, width, height - foot);
    g.fillStyle = styles.getPropertyValue('--word');
    g.textAlign = 'center';
    for (const hz of HZ_LINES) g.fillText(hz >= 1000 ? `${hz / 1000} k` : String(hz), hzToField(hz) * width, height - 7);
    g.textAlign = 'right';
    g.fillText('Hz', width - 4, height - 7);
  }, changed);

  const draw = (from: number, to: number): void => {
    if (!input) return;
    const low = Math.round(fieldToHz(clamp(Math.min(from, to), 0, 0.97))), high = Math.max(low + 10, Math.round(fieldToHz(clamp(Math.max(from, to), 0.02, 1))));
    const kind = trying?.listening.kind === 'hit' ? 'hit' : 'band';
    look({ trying: { id: TRY_ID, name: rangeName(low, high), input: input.id, listening: kind === 'hit' ? { kind, low, high, sensitivity: 0.5 } : { kind, low, high } } });
  };
  const place = (e: PointerEvent, r: DOMRect): number => clamp((e.clientX - r.left) / r.width, 0, 1);
  const down = (e: PointerEvent<HTMLDivElement>): void => {
    if (!input || e.button !== 0) return;
    const r = e.currentTarget.getBoundingClientRect();
    e.currentTarget.setPointerCapture(e.pointerId);
    drag.current = { from: place(e, r), box: r };
  };
  const move = (e: PointerEvent): void => {
    const d = drag.current;
    if (d && Math.abs(place(e, d.box) - d.from) > 0.008) draw(d.from, place(e, d.box));
  };
  const keys = (e: KeyboardEvent): void => {
    if (!input) return;
    if (e.key === 'Enter' && !trying) { e.preventDefault(); draw(hzToField(60), hzToField(250)); return; }
    if (!trying || trying.listening.kind === 'level') return;
    const by = e.key === 'ArrowRight' ? 0.01 : e.key === 'ArrowLeft' ? -0.01 : 0;
    if (!by) return;
    e.preventDefault();
    const a = hzToField(trying.listening.low), b = hzToField(trying.listening.high);
    if (e.shiftKey) draw(a, Math.max(a + 0.02, b + by)); else draw(a + by, b + by);
  };
  return (
    <Box component="section" aria-label="The field" sx={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', minHeight: 0 }}>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2, minWidth: 0 }}>
        <Typography variant="h2" sx={{ whiteSpace: 'nowrap' }}>The field</Typography>
        <Box sx={(t) => ({ color: t.ink.sheetFaint, fontSize: '0.9rem', flex: 1, whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' })}>drag across it to listen to a range</Box>
        <Box sx={(t) => ({ color: t.ink.sheetFaint, fontSize: '0.9rem', whiteSpace: 'nowrap' })}>{input?.name ?? 'no input'}</Box>
      </Box>
      <Box
        ref={box} role="application" tabIndex={0} aria-label="Spectrum. Press Enter to draw a range, then arrow keys to move it, with Shift to widen it." onPointerDown={down} onPointerMove={move} onPointerUp={() => { drag.current = null; }} onPointerCancel={() => { drag.current = null; }} onKeyDown={keys}
        sx={{ position: 'relative', cursor: 'crosshair', touchAction: 'none', minHeight: 0, mt: 0.5 }}
      >
        <Box component="canvas" ref={ref} aria-hidden sx={(t) => ({ position: 'absolute', inset: 0, width: '100%', height: '100%', color: '#f2e9d4', '--line': '#5d6f78', '--night': t.ink.night, '--ground': t.ink.ground, '--word': t.ink.sheetText, background: t.ink.night })} />
        {ranged.map((ear) => <Range key={ear.id} ear={ear} selected={!trying && ear.id === selected} />)}
        {trying && <Range ear={trying} selected label={trying.name} />}
      </Box>
    </Box>
  );
}

/** A drawn range: brackets over the field. */
function Range({ ear, selected, label }: { readonly ear: Ear; readonly selected: boolean; readonly label?: string }) {
  if (ear.listening.kind === 'level') return null;
  const left = hzToField(ear.listening.low), right = hzToField(ear.listening.high);
  return (
    <Box
      aria-hidden
      sx={(t) => ({
        position: 'absolute', left: `${left * 100}%`, width: `${(right - left) * 100}%`, top: 0, bottom: 24, pointerEvents: 'none', border: `${selected ? 3 : 1.5}px solid ${selected ? t.ink.selected : '#f2e9d4'}`, borderTopWidth: 5, borderBottom: 'none',
        background: selected ? 'rgba(232,87,42,0.20)' : 'none',
      })}
    >
      <Box sx={{ color: '#f2e9d4', fontWeight: 700, fontSize: '0.84rem', pt: ear.listening.kind === 'hit' && !label ? 2.75 : 0.25, px: 0.5, textAlign: 'center', whiteSpace: 'nowrap', overflow: 'hidden', textShadow: '0 0 4px #0d1b23, 0 0 4px #0d1b23' }}>{(right - left) > 0.08 ? (label ?? ear.name.split(' · ')[0]) : ''}</Box>
    </Box>
  );
}
