'use client';
import { Box, Typography } from '@mui/material';
import { useMemo, useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { fieldToHz, hzToField, SPECTRUM_POINTS } from '../../core/audio';
import { bandOf, bandsOf, rangeHit } from '../../core/ears';
import { tempoSignal, TRACE_COLUMNS } from '../../core/plan';
import { changeEar, type Ear, type Input } from '../../core/show';
import { clamp } from '../../core/units';
import { columnChanged, useCanvas } from '../controls/canvas';
import { live } from '../live/live';
import { currentShow, edit, endDrag, useSession } from '../state/session';
import { look, useView } from '../state/view';
import { COLUMNS_PER_ROW, FieldPast } from './fieldPast';
import { BOTTOM_DB, FieldScale, FOOT, TOP_DB } from './fieldScale';
import { earTitle, rangeName, retitled } from './names';

/** The newest spectrum stands in the lower part; its past rises above it. */
const PRESENT = 0.42;
const TRY_ID = 'trying';

/** The live spectrum over its recent past. Dragging across it draws a range, which becomes an ear. */
export function Field({ input }: { readonly input: Input | null }) {
  const ears = useSession((s) => s.history.show.ears);
  const trying = useView((v) => v.trying);
  const selected = useView((v) => v.ear);
  const drag = useRef<{ from: number; box: DOMRect } | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const past = useMemo(() => new FieldPast(), []),
    scales = useMemo(() => new FieldScale(), []);
  const changed = useMemo(
    () => columnChanged(() => (live.field ? Atomics.load(live.field.head, 0) : -1)),
    [],
  );
  const mine = useMemo(() => ears.filter((e) => e.input === input?.id), [ears, input?.id]);
  const ranged = mine.filter((e) => rangeOf(e) !== null);
  // What is tried, or else what is selected, can be taken by its edges.
  const handled = trying ?? mine.find((e) => e.id === selected) ?? null;
  const change = (listening: Ear['listening'], mark: string): void => {
    if (!handled) return;
    const next = retitled(currentShow(), handled, { listening });
    if (handled === trying) look({ trying: next });
    else edit(`move an edge of ${handled.name}`, changeEar(handled.id, next), `${handled.id} ${mark}`);
  };
  const ended = (): void => {
    if (!trying) endDrag();
  };
  const marks = useMemo(() => marksOf(mine, trying), [mine, trying]);
  const trace = useMemo(() => new Float32Array(TRACE_COLUMNS), []);

  const ref = useCanvas(({ g, width, height, styles }) => {
    const field = live.field,
      head = field ? Atomics.load(field.head, 0) : -1,
      scale = g.canvas.width / width,
      foot = height - FOOT,
      top = foot * (1 - PRESENT),
      paper = styles.color,
      night = styles.getPropertyValue('--night');
    if (field && head >= 0) {
      const perColumn = past.draw(g, field, { width, top, scale }, paper, night);
      drawMarks(g, marks, trace, width, top, perColumn, night, paper);
      const at = (head % TRACE_COLUMNS) * SPECTRUM_POINTS,
        dx = width / (SPECTRUM_POINTS - 1);
      g.fillStyle = paper;
      g.beginPath();
      g.moveTo(0, foot);
      for (let i = 0; i < SPECTRUM_POINTS; i++) {
        const db = field.data[at + i]!;
        const up = Number.isFinite(db) ? clamp((db - BOTTOM_DB) / (TOP_DB - BOTTOM_DB), 0, 1) : 0;
        g.lineTo(i * dx, foot - 2 - up * (foot - top));
      }
      g.lineTo(width, foot);
      g.fill();
    }
    scales.draw(g, { width, height, top, scale }, styles);
  }, changed);

  const draw = (from: number, to: number): void => {
    if (!input) return;
    const low = Math.round(fieldToHz(clamp(Math.min(from, to), 0, 0.97))),
      high = Math.max(low + 10, Math.round(fieldToHz(clamp(Math.max(from, to), 0.02, 1))));
    const hit = trying?.listening.kind === 'hit' && trying.listening.what === 'range';
    const listening = hit ? rangeHit(low, high) : bandOf(low, high);
    const ear = { input: input.id, channel: trying?.channel ?? ('sum' as const), listening };
    look({ trying: { ...ear, id: TRY_ID, name: earTitle(currentShow().inputs, ear) }, ear: null });
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
    if (e.key === 'Enter' && !trying) {
      e.preventDefault();
      draw(hzToField(60), hzToField(250));
      return;
    }
    const range = trying && rangeOf(trying);
    if (!range) return;
    const by = e.key === 'ArrowRight' ? 0.01 : e.key === 'ArrowLeft' ? -0.01 : 0;
    if (!by) return;
    e.preventDefault();
    const a = hzToField(range.low),
      b = hzToField(range.high);
    if (e.shiftKey) draw(a, Math.max(a + 0.02, b + by));
    else draw(a + by, b + by);
  };
  return (
    <Box
      component="section"
      aria-label="The field"
      sx={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', minHeight: 0 }}
    >
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2, minWidth: 0 }}>
        <Typography variant="h2" sx={{ whiteSpace: 'nowrap' }}>
          The field
        </Typography>
        <Box
          sx={(t) => ({
            color: t.ink.sheetFaint,
            fontSize: '0.9rem',
            flex: 1,
            whiteSpace: 'nowrap',
            overflow: 'hidden',
            textOverflow: 'ellipsis',
          })}
        >
          drag across it to listen to a range
        </Box>
        <Box sx={(t) => ({ color: t.ink.sheetFaint, fontSize: '0.9rem', whiteSpace: 'nowrap' })}>
          {input?.name ?? 'no input'}
        </Box>
      </Box>
      <Box
        ref={box}
        role="application"
        tabIndex={0}
        aria-label="Spectrum. Press Enter to draw a range, then arrow keys to move it, with Shift to widen it."
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={() => {
          drag.current = null;
        }}
        onPointerCancel={() => {
          drag.current = null;
        }}
        onKeyDown={keys}
        sx={{ position: 'relative', cursor: 'crosshair', touchAction: 'none', minHeight: 0, mt: 0.5 }}
      >
        <Box
          component="canvas"
          ref={ref}
          aria-hidden
          sx={(t) => ({
            position: 'absolute',
            inset: 0,
            width: '100%',
            height: '100%',
            color: '#f2e9d4',
            '--line': '#5d6f78',
            '--night': t.ink.night,
            '--ground': t.ink.ground,
            '--word': t.ink.sheetText,
            background: t.ink.night,
          })}
        />
        {input?.kind === 'notes' && (
          <Box
            sx={{
              position: 'absolute',
              inset: 0,
              display: 'grid',
              placeContent: 'center',
              textAlign: 'center',
              color: '#f2e9d4',
              pointerEvents: 'none',
              fontSize: '1rem',
            }}
          >
            Notes have no spectrum.
            <br />
            Press “+ ear” to listen to them.
          </Box>
        )}
        {ranged.map((ear) => (
          <Range key={ear.id} ear={ear} selected={!trying && ear.id === selected} />
        ))}
        {trying && rangeOf(trying) && (
          <Range ear={trying} selected label={rangeName(rangeOf(trying)!.low, rangeOf(trying)!.high)} />
        )}
        {handled && <RangeEdges ear={handled} change={change} onEnd={ended} />}
        {handled && <Crossovers ear={handled} change={change} onEnd={ended} />}
      </Box>
    </Box>
  );
}

/** The range that an ear listens in, or null where it hears all of the sound. */
function rangeOf({ listening: l }: Ear): { readonly low: number; readonly high: number } | null {
  return l.kind === 'band' || (l.kind === 'hit' && l.what === 'range') ? l : null;
}

interface Mark {
  readonly id: string;
  readonly kind: 'hit' | 'pitch' | 'beat';
  /** Where a hit's mark stands, 0 to 1. */ readonly place: number;
}
/** Where each kind of stroke is marked, in Hz: there its sound mostly lies. */
const STROKE_PLACE = { any: 22, kick: 60, snare: 1800, hat: 9000 } as const;

/** What is drawn over the history: hits where they sound, pitches at their height, beats as lines across. */
function marksOf(ears: readonly Ear[], trying: Ear | null): Mark[] {
  const list = [...ears, ...(trying ? [trying] : [])].flatMap((e): Mark[] => {
    const l = e.listening;
    if (l.kind === 'hit')
      return [
        {
          id: e.id,
          kind: 'hit',
          place: hzToField(l.what === 'range' ? Math.sqrt(l.low * l.high) : STROKE_PLACE[l.what]),
        },
      ];
    return l.kind === 'pitch' && l.reading === 'note' ? [{ id: e.id, kind: 'pitch', place: 0 }] : [];
  });
  return [{ id: tempoSignal('mark'), kind: 'beat', place: 0 }, ...list];
}

function drawMarks(
  g: CanvasRenderingContext2D,
  marks: readonly Mark[],
  trace: Float32Array,
  width: number,
  foot: number,
  perColumn: number,
  night: string,
  paper: string,
): void {
  for (const { id, kind, place } of marks) {
    if (live.trace(id, trace) < 0) continue;
    for (let back = 0; back < trace.length; back++) {
      const x = trace[trace.length - 1 - back]!;
      if (!(x > 0)) continue;
      // As the rows behind them, which come up when they are whole.
      const y = foot - (back + 0.5 - COLUMNS_PER_ROW) * perColumn;
      if (y < 0) break;
      if (kind === 'beat') {
        // Beats at the right edge, bars right across: faint, for they are a ruler and not a thing.
        g.fillStyle = paper;
        g.globalAlpha = x > 1.5 ? 0.5 : 0.35;
        g.fillRect(x > 1.5 ? 0 : width - 12, y - 0.75, x > 1.5 ? width : 12, 1.5);
      } else if (kind === 'pitch') {
        g.fillStyle = paper;
        g.globalAlpha = 1;
        const at = hzToField(440 * 2 ** ((x - 69) / 12)) * width;
        g.fillRect(at - 3, y - 1.5, 6, 3);
      } else {
        g.fillStyle = paper;
        g.globalAlpha = 1;
        const at = place * width,
          r = 3 + 4 * x;
        g.beginPath();
        g.moveTo(at - r, y);
        g.lineTo(at, y - r);
        g.lineTo(at + r, y);
        g.lineTo(at, y + r);
        g.closePath();
        g.fill();
        g.strokeStyle = night;
        g.lineWidth = 1.5;
        g.stroke();
      }
    }
  }
  g.globalAlpha = 1;
}

/** A drawn range: brackets over the field. */
function Range({
  ear,
  selected,
  label,
}: {
  readonly ear: Ear;
  readonly selected: boolean;
  readonly label?: string;
}) {
  const range = rangeOf(ear);
  if (!range) return null;
  const left = hzToField(range.low),
    right = hzToField(range.high);
  return (
    <Box
      aria-hidden
      sx={(t) => ({
        position: 'absolute',
        left: `${left * 100}%`,
        width: `${(right - left) * 100}%`,
        top: 0,
        bottom: FOOT,
        pointerEvents: 'none',
        border: `${selected ? 3 : 1.5}px solid ${selected ? t.ink.selected : '#f2e9d4'}`,
        borderTopWidth: 5,
        borderBottom: 'none',
        background: selected ? 'rgba(232,87,42,0.20)' : 'none',
      })}
    >
      <Box
        sx={{
          color: '#f2e9d4',
          fontWeight: 700,
          fontSize: '0.84rem',
          pt: ear.listening.kind === 'hit' && !label ? 2.75 : 0.25,
          px: 0.5,
          textAlign: 'center',
          whiteSpace: 'nowrap',
          overflow: 'hidden',
          textShadow: '0 0 4px #0d1b23, 0 0 4px #0d1b23',
        }}
      >
        {right - left > 0.08 ? (label ?? ear.name.split(' · ')[0]) : ''}
      </Box>
    </Box>
  );
}

/** A frequency on the field that is dragged, or moved by arrow keys. */
function EdgeHandle({
  label,
  hz,
  low,
  high,
  onMove,
  onEnd,
}: {
  readonly label: string;
  readonly hz: number;
  readonly low: number;
  readonly high: number;
  readonly onMove: (hz: number) => void;
  readonly onEnd: () => void;
}) {
  const drag = useRef<DOMRect | null>(null);
  const move = (x: number): void => onMove(Math.round(clamp(x, low, high)));
  return (
    <Box
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={Math.round(low)}
      aria-valuemax={Math.round(high)}
      aria-valuenow={Math.round(hz)}
      aria-valuetext={`${Math.round(hz)} Hz`}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = e.currentTarget.parentElement!.getBoundingClientRect();
      }}
      onPointerMove={(e) => {
        const r = drag.current;
        if (r) move(fieldToHz(clamp((e.clientX - r.left) / r.width, 0, 1)));
      }}
      onPointerUp={() => {
        drag.current = null;
        onEnd();
      }}
      onPointerCancel={() => {
        drag.current = null;
        onEnd();
      }}
      onKeyDown={(e) => {
        const by = e.key === 'ArrowRight' ? 1.02 : e.key === 'ArrowLeft' ? 1 / 1.02 : 0;
        if (by) {
          e.preventDefault();
          e.stopPropagation();
          move(by > 1 ? Math.max(hz + 1, hz * by) : Math.min(hz - 1, hz * by));
        }
      }}
      sx={(t) => ({
        position: 'absolute',
        top: 0,
        bottom: FOOT,
        left: `calc(${hzToField(hz) * 100}% - 16px)`,
        width: 32,
        cursor: 'ew-resize',
        touchAction: 'none',
        '&::before': {
          content: '""',
          position: 'absolute',
          left: 15,
          top: 0,
          bottom: 0,
          width: 2.5,
          background: t.ink.selected,
        },
        '&::after': {
          content: '""',
          position: 'absolute',
          left: 9,
          top: 0,
          width: 14,
          height: 20,
          background: t.ink.selected,
          clipPath: 'polygon(0 0,100% 0,100% 60%,50% 100%,0 60%)',
        },
        '&:focus-visible': { outline: `3px solid ${t.ink.now}`, outlineOffset: -3 },
      })}
    />
  );
}

/** The two edges of a range, to be dragged. */
function RangeEdges({
  ear,
  change,
  onEnd,
}: {
  readonly ear: Ear;
  readonly change: (listening: Ear['listening'], mark: string) => void;
  readonly onEnd: () => void;
}) {
  const l = ear.listening;
  if (!(l.kind === 'band' || (l.kind === 'hit' && l.what === 'range'))) return null;
  return (
    <>
      <EdgeHandle
        label="Lower edge on the field"
        hz={l.low}
        low={20}
        high={l.high - 10}
        onMove={(low) => change({ ...l, low }, 'lower edge')}
        onEnd={onEnd}
      />
      <EdgeHandle
        label="Upper edge on the field"
        hz={l.high}
        low={l.low + 10}
        high={20000}
        onMove={(high) => change({ ...l, high }, 'upper edge')}
        onEnd={onEnd}
      />
    </>
  );
}

/** Where the bands of a set meet; those of three and five can be dragged. */
function Crossovers({
  ear,
  change,
  onEnd,
}: {
  readonly ear: Ear;
  readonly change: (listening: Ear['listening'], mark: string) => void;
  readonly onEnd: () => void;
}) {
  const l = ear.listening;
  if (l.kind !== 'bands') return null;
  const inner = bandsOf(l.set, l.crossovers)
    .slice(1)
    .map((b) => b.low);
  if (l.set === 'three' || l.set === 'five') {
    return (
      <>
        {inner.map((hz, i) => (
          <EdgeHandle
            key={i}
            label={`Crossover ${i + 1} on the field`}
            hz={hz}
            low={(inner[i - 1] ?? 30) + 10}
            high={(inner[i + 1] ?? 16000) - 10}
            onMove={(v) =>
              change({ ...l, crossovers: inner.map((x, k) => (k === i ? v : x)) }, `crossover ${i}`)
            }
            onEnd={onEnd}
          />
        ))}
      </>
    );
  }
  return (
    <>
      {inner.map((hz) => (
        <Box
          key={hz}
          aria-hidden
          sx={{
            position: 'absolute',
            top: 0,
            bottom: FOOT,
            left: `${hzToField(hz) * 100}%`,
            width: '1px',
            pointerEvents: 'none',
            background: '#f2e9d4',
            opacity: 0.6,
          }}
        />
      ))}
    </>
  );
}
