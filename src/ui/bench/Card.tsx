'use client';
import { Box, Button, ButtonBase, Menu, MenuItem, Typography } from '@mui/material';
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import type { NumberParameter } from '../../core/parameters';
import type { StepName, Tap } from '../../core/shaping';
import { columnChanged, useCanvas } from '../controls/canvas';
import { LiveText } from '../controls/LiveText';
import { ColourNow } from '../controls/ParameterTrack';
import { live } from '../live/live';
import { giveBack, useSession } from '../state/session';
import { FONT } from '../theme/tokens';
import type { Replay } from './replay';

export const TITLE: Record<Tap, string> = {
  heard: 'heard',
  strike: 'strike',
  floor: 'floor',
  fit: 'fit',
  clamp: 'clamp',
  flip: 'flip',
  curve: 'curve',
  hold: 'hold',
  smooth: 'attack · release',
  steady: 'steady',
  average: 'average',
  steps: 'steps',
  delay: 'delay',
  amount: 'amount',
  reach: 'rest to reach',
  together: 'together',
};
/** What a step does, for whoever chooses one. */
export const STEP_HELP: Readonly<Record<StepName, string>> = {
  strike: 'makes a level of an event',
  floor: 'what is below it counts as nothing',
  fit: 'which stretch becomes 0 to 1',
  clamp: 'keeps it between two ends',
  flip: 'turns it upside down',
  curve: 'bends it',
  hold: 'keeps the greatest for a while',
  smooth: 'follows up and down in its times',
  steady: 'ignores jitter, follows slow moves',
  average: 'the mean of the last while',
  steps: 'in whole steps',
  delay: 'everything later',
};

/** A narrow place between two steps, where another may be put in. */
export function Seam({
  steps,
  onAdd,
}: {
  readonly steps: readonly StepName[];
  readonly onAdd: (step: StepName) => void;
}) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const only = steps.length === 1 ? steps[0]! : null;
  const name = only
    ? `Add ${TITLE[only]}`
    : `+ ${steps.length} steps: ${steps.map((s) => TITLE[s]).join(', ')}`;
  return (
    <>
      <ButtonBase
        onClick={(e) => {
          if (only) onAdd(only);
          else setAt(e.currentTarget);
        }}
        aria-label={name}
        title={name}
        {...(!only && { 'aria-haspopup': 'menu' })}
        sx={(t) => ({
          flex: 'none',
          width: 34,
          minHeight: 158,
          background: t.ink.paperShade,
          color: 'inherit',
          fontWeight: 700,
          fontSize: '1.3rem',
          display: 'grid',
          placeItems: 'center',
          '&:hover': { background: t.ink.paperDeep },
        })}
      >
        <span>+</span>
        <Box component="span" sx={{ writingMode: 'vertical-rl', fontSize: '0.8125rem', fontWeight: 400 }}>
          {only ? TITLE[only] : `${steps.length} steps`}
        </Box>
      </ButtonBase>
      <Menu
        anchorEl={at}
        open={at !== null}
        onClose={() => setAt(null)}
        slotProps={{ list: { 'aria-label': 'Steps that fit here' } }}
      >
        {steps.map((s) => (
          <MenuItem
            key={s}
            onClick={() => {
              setAt(null);
              onAdd(s);
            }}
            sx={{ gap: 2, display: 'grid', gridTemplateColumns: '120px auto' }}
          >
            <b>{TITLE[s]}</b>
            <span>{STEP_HELP[s]}</span>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

export interface CardProps {
  readonly tap: Tap;
  readonly open: boolean;
  readonly onOpen: () => void;
  readonly replay: () => { now: Replay; ghost: Replay | null };
  readonly value: () => string;
  /** How a number of this step is written, for its least and greatest of the last twelve seconds. */
  readonly say: (x: number) => string;
  readonly sub: string | (() => string);
  readonly onRemove?: () => void;
  readonly graph?: ReactNode;
  /** Shown beside the number while it is open. */
  readonly beside?: ReactNode;
  readonly children?: ReactNode;
}

/** One step: its name, the last twelve seconds through it, the number that comes out of it, and, when open, its settings. */
export function Card({
  tap,
  open,
  onOpen,
  replay,
  value,
  say,
  sub,
  onRemove,
  graph,
  beside,
  children,
}: CardProps) {
  const changed = useMemo(() => {
    const c = columnChanged(() => Math.floor((live.traces?.newest ?? -1) / 5));
    return () => c();
  }, []);
  const card = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (open) card.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [open]);
  return (
    <Box
      ref={card}
      role="group"
      aria-label={TITLE[tap]}
      onClick={onOpen}
      onFocus={onOpen}
      sx={(t) => ({
        flex: open && children ? '0 0 auto' : '1 1 112px',
        width:
          open && children
            ? tap === 'fit'
              ? 344
              : tap === 'curve' || tap === 'steps' || tap === 'amount'
                ? 260
                : 214
            : undefined,
        minWidth: tap === 'smooth' || tap === 'reach' || tap === 'fit' ? 136 : 92,
        maxWidth: open && children ? undefined : 190,
        overflow: 'hidden',
        '--card': open ? (t.palette.mode === 'dark' ? '#fffaf0' : '#ffffff') : t.ink.paperShade,
        background: 'var(--card)',
        borderTop: `6px solid ${open && children ? t.ink.selected : 'transparent'}`,
        p: 1.25,
        pt: 0.75,
        pb: 0.75,
        display: 'grid',
        gridTemplateRows: 'auto 62px auto auto',
        gap: 0.25,
      })}
    >
      <Box sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center', minHeight: 26 }}>
        <Typography
          variant="h3"
          component="h3"
          sx={{ fontSize: '0.92rem', whiteSpace: 'nowrap', letterSpacing: '-0.01em' }}
        >
          {TITLE[tap]}
        </Typography>
        {open && onRemove && (
          <Button
            variant="text"
            onClick={(e) => {
              e.stopPropagation();
              onRemove();
            }}
            aria-label={`Remove ${TITLE[tap]}`}
            sx={{ color: 'inherit', minHeight: 26, p: '0 6px', fontSize: '0.84rem' }}
          >
            remove
          </Button>
        )}
      </Box>
      {graph ?? <Graph tap={tap} replay={replay} changed={changed} say={say} />}
      <Box data-out sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center' }}>
        <LiveText read={value} sx={{ fontSize: '1.24rem', fontWeight: 700, lineHeight: 1.3 }} />
        {open && beside && <Box onClick={(e) => e.stopPropagation()}>{beside}</Box>}
      </Box>
      <Box
        sx={{
          minHeight: 32,
          display: 'flex',
          alignItems: 'center',
          gap: 1,
          color: 'var(--faint)',
          fontFamily: FONT.number,
          fontSize: '0.8125rem',
          letterSpacing: '-0.02em',
          whiteSpace: 'nowrap',
        }}
        onClick={(e) => {
          if (open) e.stopPropagation();
        }}
      >
        {open && children ? (
          children
        ) : typeof sub === 'string' ? (
          sub
        ) : (
          <LiveText read={sub} sx={{ fontSize: '0.84rem' }} />
        )}
      </Box>
    </Box>
  );
}

function Graph({
  tap,
  replay,
  changed,
  say,
}: {
  readonly tap: Tap;
  readonly replay: CardProps['replay'];
  readonly changed: () => boolean;
  readonly say: CardProps['say'];
}) {
  const latest = useRef(replay),
    least = useRef(NaN),
    most = useRef(NaN);
  useEffect(() => {
    latest.current = replay;
  });
  const ref = useCanvas(({ g, width, height, styles }) => {
    const { now, ghost } = latest.current();
    const series = now.of(tap),
      old = ghost?.of(tap);
    let low = 0,
      high = 1e-6,
      from = Infinity,
      to = -Infinity;
    for (let i = 0; i < series.length; i++) {
      const x = series[i]!,
        y = old?.[i] ?? NaN;
      if (x < from) from = x;
      if (x > to) to = x;
      if (x < low) low = x;
      else if (x > high) high = x;
      if (y < low) low = y;
      else if (y > high) high = y;
    }
    least.current = from;
    most.current = to;
    // Fitted numbers are judged against 1; raw ones against what they reached.
    if (tap !== 'heard' && tap !== 'floor' && tap !== 'strike' && tap !== 'reach' && tap !== 'together')
      high = Math.max(1, high);
    const dx = width / series.length;
    const y = (x: number): number => height - 2 - ((x - low) / (high - low)) * (height - 6);
    g.fillStyle = styles.color;
    g.beginPath();
    g.moveTo(0, y(0));
    for (let i = 0; i < series.length; i++) g.lineTo(i * dx, y(Number.isFinite(series[i]!) ? series[i]! : 0));
    g.lineTo(width, y(0));
    g.fill();
    g.fillRect(0, height - 2, width, 2);
    if (old) {
      g.strokeStyle = styles.getPropertyValue('--ghost');
      g.lineWidth = 1.5;
      g.setLineDash([4, 3]);
      g.beginPath();
      for (let i = 0; i < old.length; i++) g.lineTo(i * dx, y(Number.isFinite(old[i]!) ? old[i]! : 0));
      g.stroke();
      g.setLineDash([]);
    }
  }, changed);
  return (
    <Box sx={{ position: 'relative', height: 62 }}>
      <Box
        component="canvas"
        ref={ref}
        aria-hidden
        sx={(t) => ({
          width: '100%',
          height: 62,
          display: 'block',
          color: t.ink.paperText,
          '--ghost': t.ink.paperDeep,
        })}
      />
      <LiveText
        read={() => (most.current >= least.current ? `${say(least.current)}–${say(most.current)}` : '')}
        sx={(t) => ({
          position: 'absolute',
          top: -3,
          left: 0,
          px: 0.25,
          background: 'var(--card)',
          color: t.ink.paperText,
          fontFamily: FONT.number,
          fontSize: '0.8125rem',
          letterSpacing: '-0.04em',
          lineHeight: '15px',
          whiteSpace: 'nowrap',
        })}
      />
    </Box>
  );
}

/** What is really sent, after everything else that moves or limits this parameter. */
export function Together({
  replay,
  number,
  at,
  value,
  say,
}: {
  readonly replay: CardProps['replay'];
  readonly number: NumberParameter | null;
  readonly at: string;
  readonly value: () => string;
  readonly say: CardProps['say'];
}) {
  const dark = useSession((s) => s.dark);
  const freeze = useSession((s) => s.freeze);
  const others = useSession(
    (s) =>
      s.history.show.routes.filter((r) => `${r.target.thing}/${r.target.parameter}` === at && !r.muted)
        .length,
  );
  const byHand = useSession((s) => at in s.hands);
  const by = dark
    ? 'dark wins'
    : freeze
      ? 'held by freeze'
      : byHand
        ? 'by hand'
        : others > 1
          ? `of ${others} routes`
          : others === 1
            ? 'of this route'
            : 'at rest';
  const changed = useMemo(() => columnChanged(() => Math.floor((live.traces?.newest ?? -1) / 5)), []);
  return (
    <Box
      role="group"
      aria-label="together"
      sx={(t) => ({
        flex: '0 0 124px',
        '--card': t.ink.paperShade,
        background: 'var(--card)',
        borderTop: '6px solid transparent',
        p: 1.25,
        pt: 0.75,
        pb: 0.75,
        display: 'grid',
        gridTemplateRows: 'auto 62px auto auto',
        gap: 0.25,
      })}
    >
      <Typography variant="h3" component="h3" sx={{ fontSize: '0.92rem', lineHeight: '26px' }}>
        together
      </Typography>
      <Graph tap="together" replay={replay} changed={changed} say={say} />
      {number ? (
        <Box data-out>
          <LiveText read={value} sx={{ fontSize: '1.24rem', fontWeight: 700, lineHeight: 1.3 }} />
        </Box>
      ) : (
        <Box sx={{ minHeight: 26 }}>
          <ColourNow at={at} />
        </Box>
      )}
      <Box
        sx={{
          minHeight: 32,
          display: 'flex',
          alignItems: 'center',
          color: 'var(--faint)',
          fontSize: '0.86rem',
          gap: 1,
        }}
      >
        {by}
        {byHand && (
          <Button
            variant="text"
            onClick={() => giveBack(at)}
            sx={{ color: 'inherit', minHeight: 30, p: '0 4px' }}
          >
            give back
          </Button>
        )}
      </Box>
    </Box>
  );
}
