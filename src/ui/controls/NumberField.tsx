'use client';
import { Box, type SxProps, type Theme } from '@mui/material';
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { formatNumber } from '../../core/parameters';
import { clamp } from '../../core/units';
import { FONT } from '../theme/tokens';

export interface NumberFieldProps {
  readonly label: string;
  readonly value: number;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  /** What a double click or Backspace puts it back to. */
  readonly usual?: number;
  readonly onChange: (value: number, dragging: boolean) => void;
  readonly onEnd?: () => void;
  readonly sx?: SxProps<Theme>;
  readonly disabled?: boolean;
}

/**
 * A number that can be dragged sideways, typed (click or Enter), stepped with the arrow keys (Shift: ten steps, Alt: a tenth),
 * and put back (double click or Backspace).
 */
export function NumberField({
  label,
  value,
  unit,
  min,
  max,
  step,
  usual,
  onChange,
  onEnd,
  sx,
  disabled = false,
}: NumberFieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const drag = useRef<{ x: number; from: number; moved: boolean } | null>(null);
  const resting = useRef<HTMLElement>(null),
    back = useRef(false);
  // Whoever typed it goes on from it by keyboard.
  useEffect(() => {
    if (typed === null && back.current) {
      back.current = false;
      resting.current?.focus();
    }
  }, [typed]);
  const digits = Math.max(0, Math.min(4, -Math.floor(Math.log10(step) + 1e-9)));
  const tidy = (x: number): number => Number(clamp(x, min, max).toFixed(digits + 1));
  const wrong = typed !== null && !accepts(typed, min, max);

  const down = (e: PointerEvent): void => {
    if (disabled || typed !== null || e.button !== 0) return;
    drag.current = { x: e.clientX, from: value, moved: false };
    e.currentTarget.setPointerCapture(e.pointerId);
  };
  const move = (e: PointerEvent): void => {
    const d = drag.current;
    if (!d) return;
    const way = e.clientX - d.x;
    if (!d.moved && Math.abs(way) < 4) return;
    d.moved = true;
    onChange(tidy(d.from + Math.round(way / 3) * step * (e.shiftKey ? 10 : 1)), true);
  };
  const up = (): void => {
    const d = drag.current;
    drag.current = null;
    if (d?.moved) onEnd?.();
    else if (d) setTyped(value.toFixed(digits));
  };
  const keys = (e: KeyboardEvent): void => {
    if (disabled) return;
    const by =
      (e.key === 'ArrowUp' || e.key === 'ArrowRight'
        ? 1
        : e.key === 'ArrowDown' || e.key === 'ArrowLeft'
          ? -1
          : 0) *
      step *
      (e.shiftKey ? 10 : 1) *
      (e.altKey ? 0.1 : 1);
    if (by) {
      e.preventDefault();
      onChange(tidy(value + by), false);
    } else if (e.key === 'Enter') {
      e.preventDefault();
      setTyped(value.toFixed(digits));
    } else if ((e.key === 'Backspace' || e.key === 'Delete') && usual !== undefined) {
      e.preventDefault();
      e.stopPropagation();
      onChange(usual, false);
    } else if (e.key === 'Home') {
      e.preventDefault();
      onChange(min, false);
    } else if (e.key === 'End') {
      e.preventDefault();
      onChange(max, false);
    }
  };
  const finish = (keep: boolean): void => {
    if (keep && typed !== null && accepts(typed, min, max)) onChange(tidy(parse(typed)), false);
    setTyped(null);
  };
  const base: SxProps<Theme> = {
    fontFamily: FONT.number,
    fontSize: '0.9rem',
    minHeight: 32,
    minWidth: 32,
    boxSizing: 'border-box',
    display: 'inline-flex',
    alignItems: 'center',
    px: 0.75,
    whiteSpace: 'nowrap',
  };
  if (typed !== null) {
    return (
      <Box sx={[{ position: 'relative', display: 'inline-block' }, ...(Array.isArray(sx) ? sx : [sx])]}>
        <Box
          component="input"
          autoFocus
          aria-label={label}
          aria-invalid={wrong}
          value={typed}
          inputMode="decimal"
          onFocus={(e) => e.currentTarget.select()}
          onChange={(e) => setTyped(e.currentTarget.value)}
          onBlur={() => finish(true)}
          onDoubleClick={() => {
            if (usual !== undefined) {
              setTyped(null);
              onChange(usual, false);
            }
          }}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key !== 'Enter' && e.key !== 'Escape') return;
            back.current = true;
            finish(e.key === 'Enter');
          }}
          sx={[
            base,
            (t) => ({
              width: 110,
              border: `2px solid ${wrong ? t.ink.selected : t.ink.now}`,
              background: t.ink.paper,
              color: t.ink.paperText,
              boxSizing: 'border-box',
            }),
          ]}
        />
        {wrong && (
          <Box
            role="alert"
            sx={(t) => ({
              position: 'absolute',
              right: 0,
              top: '100%',
              zIndex: 30,
              background: t.ink.paper,
              color: t.ink.paperText,
              p: 0.75,
              fontSize: '0.84rem',
              whiteSpace: 'nowrap',
            })}
          >
            A number from {formatNumber(min, { step, unit })} to {formatNumber(max, { step, unit })}.
          </Box>
        )}
      </Box>
    );
  }
  return (
    <Box
      ref={resting}
      role="slider"
      tabIndex={disabled ? -1 : 0}
      aria-label={label}
      aria-valuenow={value}
      aria-valuemin={min}
      aria-valuemax={max}
      aria-valuetext={formatNumber(value, { step, unit })}
      aria-disabled={disabled}
      title={
        disabled
          ? undefined
          : `${label}: drag, click to type, arrow keys; ${formatNumber(min, { step, unit })} to ${formatNumber(max, { step, unit })}`
      }
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={() => {
        drag.current = null;
        onEnd?.();
      }}
      onKeyDown={keys}
      onDoubleClick={() => {
        if (usual !== undefined && !disabled) {
          setTyped(null);
          onChange(usual, false);
        }
      }}
      sx={[
        base,
        {
          cursor: disabled ? 'default' : 'ew-resize',
          touchAction: 'none',
          userSelect: 'none',
          borderBottom: '2px dotted var(--bed, currentColor)',
        },
        ...(Array.isArray(sx) ? sx : [sx]),
      ]}
    >
      {formatNumber(value, { step, unit })}
    </Box>
  );
}

function parse(text: string): number {
  return Number.parseFloat(text.replace(',', '.').replace('−', '-'));
}
function accepts(text: string, min: number, max: number): boolean {
  const n = parse(text);
  return Number.isFinite(n) && n >= min && n <= max;
}
