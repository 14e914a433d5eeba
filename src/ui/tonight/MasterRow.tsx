'use client';
import { Box, ButtonBase } from '@mui/material';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { canBeAlone, mastersOf } from '../../core/stage';
import type { Show } from '../../core/show';
import { perform, useSession } from '../state/session';
import { edgeOf } from '../theme/cutEdge';
import { FONT } from '../theme/tokens';

const STEP = 0.05,
  LARGE = 0.2,
  SETTLED_MS = 300;
const HELP: Readonly<Record<string, string>> = {
  all: 'The light of everything.',
  picture: 'The light of the picture on every screen.',
  lamps: 'The light of all lamps.',
  laser: 'The light of the laser.',
  overlays: 'How much overlays move and swell; at 0 they are plain.',
  moves: 'How far everything is moved by its routes.',
};

/** Masters along the foot: the usual ones, then groups. */
export function MasterRow({ show }: { readonly show: Show }) {
  return (
    <Box
      role="group"
      aria-label="Masters"
      sx={{
        display: 'flex',
        gap: 1,
        minWidth: 0,
        overflowX: 'auto',
        scrollbarWidth: 'thin',
        '@media (orientation: portrait)': { flexWrap: 'wrap', maxHeight: 340, overflowY: 'auto' },
      }}
    >
      {mastersOf(show).map(({ id, label }) => (
        <MasterStrip key={id} id={id} label={label} />
      ))}
    </Box>
  );
}

function MasterStrip({ id, label }: { readonly id: string; readonly label: string }) {
  const told = useSession((s) => s.stage.masters[id] ?? 1),
    dragging = useRef(false);
  /** Where it was put here: what the conductor tells comes a little later, and would draw the slider back under the finger. */
  const [put, setPut] = useState<number | null>(null),
    settling = useRef<ReturnType<typeof setTimeout> | null>(null),
    value = put ?? told;
  const set = (x: number): void => {
    const at = Math.round(Math.min(1, Math.max(0, x)) * 1000) / 1000;
    setPut(at);
    if (settling.current) clearTimeout(settling.current);
    settling.current = setTimeout(() => setPut(null), SETTLED_MS);
    perform({ do: 'master', master: id, value: at });
  };
  const to = (e: PointerEvent<HTMLElement>): void => {
    const box = e.currentTarget.getBoundingClientRect();
    set((e.clientX - box.left - 8) / (box.width - 16));
  };
  const key = (e: KeyboardEvent): void => {
    const by: Readonly<Record<string, number>> = {
      ArrowRight: STEP,
      ArrowUp: STEP,
      ArrowLeft: -STEP,
      ArrowDown: -STEP,
      PageUp: LARGE,
      PageDown: -LARGE,
    };
    if (e.key === 'Home') set(0);
    else if (e.key === 'End') set(1);
    else if (by[e.key] !== undefined) set(value + by[e.key]!);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <Box
      sx={(t) => ({
        flex: '1 0 186px',
        background: t.ink.sheet,
        color: t.ink.sheetText,
        clipPath: edgeOf(id),
        p: 1,
        display: 'grid',
        gap: 0.5,
        '@media (max-height: 700px)': {
          gridTemplateColumns: 'minmax(0, 1fr) auto',
          '& > :first-of-type': { gridColumn: '1 / -1' },
        },
      })}
    >
      <Box
        sx={{
          display: 'flex',
          justifyContent: 'space-between',
          gap: 1,
          fontSize: '1.25rem',
          lineHeight: 1.2,
        }}
      >
        <Box
          component="span"
          sx={{
            fontFamily: FONT.head,
            fontWeight: 800,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            whiteSpace: 'nowrap',
          }}
        >
          {label}
        </Box>{' '}
        <Box component="span" sx={{ fontFamily: FONT.number, whiteSpace: 'nowrap' }}>
          {Math.round(value * 100)} %
        </Box>
      </Box>
      <Box
        role="slider"
        tabIndex={0}
        aria-label={label}
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(value * 100)}
        title={HELP[id]}
        onKeyDown={key}
        onPointerDown={(e) => {
          dragging.current = true;
          e.currentTarget.setPointerCapture(e.pointerId);
          to(e);
        }}
        onPointerMove={(e) => {
          if (dragging.current) to(e);
        }}
        onPointerUp={() => {
          dragging.current = false;
        }}
        onPointerCancel={() => {
          dragging.current = false;
        }}
        onDoubleClick={() => set(1)}
        sx={(t) => ({
          position: 'relative',
          height: 56,
          background: t.ink.track,
          cursor: 'ew-resize',
          touchAction: 'none',
        })}
      >
        <Box
          sx={(t) => ({
            position: 'absolute',
            inset: '0 auto 0 0',
            width: `${value * 100}%`,
            background: t.ink.sheetText,
            pointerEvents: 'none',
          })}
        />
        <Box
          sx={(t) => ({
            position: 'absolute',
            top: -3,
            bottom: -3,
            left: `calc(${value} * (100% - 16px))`,
            width: 16,
            background: t.ink.now,
            pointerEvents: 'none',
          })}
        />
      </Box>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: canBeAlone(id) ? '1fr 1fr' : '1fr',
          gap: 0.5,
          '@media (max-height: 700px)': {
            gridColumn: 2,
            gridRow: 2,
            gridTemplateColumns: '68px',
            '& > :nth-of-type(2)': { display: 'none' },
          },
        }}
      >
        <Hold
          label="flash"
          name={`flash ${label}`}
          title="Full for as long as it is held."
          act={(on) => perform({ do: 'flash', master: id, on })}
        />
        {canBeAlone(id) && (
          <Hold
            label="alone"
            name={`${label} alone`}
            title="The others are out for as long as it is held."
            act={(on) => perform({ do: 'alone', master: id, on })}
          />
        )}
      </Box>
    </Box>
  );
}

/** A press that lasts as long as it is held, by pointer or by key. */
function Hold({
  label,
  name,
  title,
  act,
}: {
  readonly label: string;
  readonly name: string;
  readonly title: string;
  readonly act: (on: boolean) => void;
}) {
  const held = useRef(false);
  const set = (on: boolean): void => {
    if (held.current === on) return;
    held.current = on;
    act(on);
  };
  const isPress = (e: KeyboardEvent): boolean => e.key === 'Enter' || e.key === ' ';
  return (
    <ButtonBase
      aria-label={name}
      title={title}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        set(true);
      }}
      onPointerUp={() => set(false)}
      onPointerCancel={() => set(false)}
      onLostPointerCapture={() => set(false)}
      onBlur={() => set(false)}
      onContextMenu={(e) => e.preventDefault()}
      onKeyDown={(e) => {
        if (isPress(e) && !e.repeat) set(true);
      }}
      onKeyUp={(e) => {
        if (isPress(e)) set(false);
      }}
      sx={(t) => ({
        minHeight: 56,
        fontSize: '1.25rem',
        fontWeight: 700,
        background: t.ink.sheetQuiet,
        color: t.ink.sheetText,
        touchAction: 'none',
        '&:active': { background: t.ink.sheetText, color: t.ink.ground },
      })}
    >
      {label}
    </ButtonBase>
  );
}
