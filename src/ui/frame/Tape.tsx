'use client';
import { Box } from '@mui/material';
import { useMemo, useState, type PointerEvent } from 'react';
import { measureOf } from '../../core/ears';
import { COLUMN_SECONDS, inputSignal, tempoSignal, TRACE_COLUMNS } from '../../core/plan';
import { gainToDb } from '../../core/units';
import { dbText } from '../controls/dbText';
import { columnChanged, useCanvas } from '../controls/canvas';
import { signalText } from '../listen/names';
import { live } from '../live/live';
import { useSession } from '../state/session';
import { useView } from '../state/view';
import { FONT } from '../theme/tokens';

/** Columns of twelve seconds. */
const COLUMNS = Math.min(TRACE_COLUMNS, Math.round(12 / COLUMN_SECONDS));
const QUIETEST_DB = -54;

/** The last twelve seconds of the chosen input as one coastline, notched by hits, slotted by bars, ruled by drops and builds. A press reads a moment. */
export function Tape() {
  const inputs = useSession((s) => s.history.show.inputs);
  const ears = useSession((s) => s.history.show.ears);
  const chosen = useView((v) => v.input);
  const input = inputs.find((i) => i.id === chosen) ?? inputs[0];
  const hits = useMemo(
    () => ears.filter((e) => e.input === input?.id && e.listening.kind === 'hit').map((e) => e.id),
    [ears, input?.id],
  );
  const turns = useMemo(
    () =>
      ears.flatMap(({ id, input: of, listening: l }) =>
        of === input?.id && l.kind === 'structure' && l.reading !== 'phrasePlace'
          ? [{ id, reading: l.reading }]
          : [],
      ),
    [ears, input?.id],
  );
  const trace = useMemo(() => new Float32Array(COLUMNS), []);
  const hitTrace = useMemo(() => new Float32Array(COLUMNS), []);
  const [moment, setMoment] = useState<{ x: number; lines: string[] } | null>(null);
  const changed = useMemo(() => columnChanged(() => live.traces?.newest ?? -1), []);
  const signal = input ? inputSignal(input.id, 'peak') : '';
  const ref = useCanvas(({ g, width, height, styles }) => {
    const ink = styles.color,
      ground = styles.getPropertyValue('--ground'),
      nowInk = styles.getPropertyValue('--now'),
      faint = styles.getPropertyValue('--faint');
    const floor = height - 18;
    live.trace(signal, trace);
    const w = width - 4;
    const dx = w / COLUMNS;
    g.fillStyle = ink;
    g.beginPath();
    g.moveTo(0, floor);
    for (let i = 0; i < COLUMNS; i++) {
      const db = gainToDb(trace[i]! > 0 ? trace[i]! : 0);
      g.lineTo(i * dx, floor - 1.5 - Math.max(0, (db - QUIETEST_DB) / -QUIETEST_DB) * (floor - 4));
    }
    g.lineTo(w, floor);
    g.fill();
    // Hits cut notches out of the coast.
    g.fillStyle = ground;
    for (const id of hits) {
      live.trace(id, hitTrace);
      for (let i = 0; i < COLUMNS; i++) {
        const s = hitTrace[i]!;
        if (!(s > 0)) continue;
        g.beginPath();
        g.moveTo(i * dx - 2.6, floor + 0.5);
        g.lineTo(i * dx, floor - 5 - 9 * s);
        g.lineTo(i * dx + 2.6, floor + 0.5);
        g.fill();
      }
    }
    // Beats below the coast, bars as slots through it: as they fell, whoever owns the tempo.
    live.trace(tempoSignal('mark'), hitTrace);
    for (let i = 0; i < COLUMNS; i++) {
      const m = hitTrace[i]!;
      if (!(m > 0)) continue;
      const x = i * dx;
      g.fillStyle = m > 1.5 ? ink : faint;
      if (m > 1.5) {
        g.fillRect(x - 1, floor + 3, 8, 5);
        g.fillStyle = ground;
        g.fillRect(x - 0.75, 0, 1.5, floor);
      } else g.fillRect(x - 1, floor + 4, 2.5, 4);
    }
    // The course of the piece, where somebody listens for it: how far a build has come as a line, what happened as a rule with its word.
    g.strokeStyle = nowInk;
    g.lineWidth = 2.5;
    g.font = `700 13px ${FONT.text}`;
    for (const { id, reading } of turns) {
      live.trace(id, hitTrace);
      let rising = false;
      for (let i = 0; i < COLUMNS; i++) {
        const v = hitTrace[i]!,
          x = i * dx;
        if (!(v > 0)) {
          if (rising) g.stroke();
          rising = false;
          continue;
        }
        if (reading === 'progress') {
          if (!rising) g.beginPath();
          rising = true;
          g.lineTo(x, floor - 2 - v * (floor - 6));
          continue;
        }
        g.fillStyle = nowInk;
        g.fillRect(x - 1, 0, 2.5, floor);
        g.fillStyle = ground;
        g.fillRect(x + 2, 0, g.measureText(reading).width + 6, 16);
        g.fillStyle = nowInk;
        g.fillText(reading, x + 5, 12.5);
      }
      if (rising) g.stroke();
    }
    g.fillStyle = nowInk;
    g.fillRect(width - 4, 0, 4, floor + 2);
  }, changed);
  const read = (e: PointerEvent): void => {
    if (!input || !live.traces) return;
    const box = e.currentTarget.getBoundingClientRect();
    const x = e.clientX - box.left;
    const column = Math.min(COLUMNS - 1, Math.max(0, Math.round((x / box.width) * COLUMNS)));
    const at = (id: string): number => {
      live.trace(id, hitTrace);
      return hitTrace[column]!;
    };
    const lines = [
      `${((COLUMNS - 1 - column) * COLUMN_SECONDS).toFixed(1)} s ago · ${input.name} ${dbText(at(inputSignal(input.id, 'peak')))}`,
    ];
    for (const ear of ears.filter((a) => a.input === input.id).slice(0, 4)) {
      const v = at(ear.id);
      lines.push(
        `${ear.name}: ${Number.isFinite(v) ? signalText(measureOf(ear.listening), v) : 'not yet heard'}`,
      );
    }
    setMoment({ x: Math.min(Math.max(0, x - 90), Math.max(0, box.width - 240)), lines });
  };
  return (
    <Box sx={{ position: 'relative', flex: '1 1 300px', minWidth: 56 }}>
      <Box
        component="button"
        aria-label={`The last twelve seconds of ${input?.name ?? 'nothing yet'}. Press a moment to read it.`}
        onPointerDown={read}
        onBlur={() => setMoment(null)}
        onKeyDown={(e) => {
          if (e.key === 'Escape') setMoment(null);
        }}
        sx={(t) => ({
          all: 'unset',
          display: 'block',
          width: '100%',
          height: '100%',
          cursor: 'crosshair',
          '&:focus-visible': { outline: `3px solid ${t.ink.now}` },
        })}
      >
        <Box
          component="canvas"
          ref={ref}
          aria-hidden
          sx={(t) => ({
            width: '100%',
            height: '100%',
            display: 'block',
            color: t.palette.mode === 'dark' ? t.ink.paper : t.ink.sheetText,
            '--ground': t.ink.groundLine,
            '--now': t.ink.now,
            '--faint': t.ink.track,
          })}
        />
      </Box>
      <Box
        aria-hidden
        sx={(t) => ({
          position: 'absolute',
          left: 2,
          bottom: -4,
          fontSize: '0.8125rem',
          color: t.ink.sheetFaint,
        })}
      >
        12 s ago
      </Box>
      <Box
        aria-hidden
        sx={(t) => ({
          position: 'absolute',
          right: 0,
          bottom: -4,
          fontSize: '0.8125rem',
          fontWeight: 700,
          color: t.palette.mode === 'dark' ? t.ink.now : t.ink.sheetText,
          background: t.ink.groundLine,
          pl: 0.5,
        })}
      >
        now
      </Box>
      {!input && (
        <Box
          sx={(t) => ({
            position: 'absolute',
            inset: 0,
            display: 'grid',
            placeItems: 'center',
            color: t.ink.sheetFaint,
          })}
        >
          No input yet
        </Box>
      )}
      {moment && (
        <Box
          role="status"
          sx={(t) => ({
            position: 'absolute',
            top: '100%',
            left: moment.x,
            zIndex: 20,
            minWidth: 220,
            background: t.ink.paper,
            color: t.ink.paperText,
            p: 1,
            fontFamily: FONT.number,
            fontSize: '0.84rem',
          })}
        >
          {moment.lines.map((l) => (
            <div key={l}>{l}</div>
          ))}
        </Box>
      )}
    </Box>
  );
}
