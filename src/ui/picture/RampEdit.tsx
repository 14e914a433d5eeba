'use client';
import { Box, Button, Menu, MenuItem } from '@mui/material';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import {
  colourAt,
  layRamp,
  type ParameterDescription,
  RAMP_MOST,
  type RampStop,
  wholeRamp,
} from '../../core/parameters';
import {
  addRamp,
  type Figure,
  type Finish,
  freeId,
  freeName,
  removeRamp,
  restOf,
  setRamp,
} from '../../core/show';
import { clamp } from '../../core/units';
import { ColourField } from '../controls/ColourField';
import { currentShow, edit, endDrag, useSession } from '../state/session';
import { say } from '../state/notices';

const SHOWN = 32;
/** How far from the strip an ink is dragged to take it away, in pixels. */
const AWAY = 44;

/**
 * The inks of a figure or a finish, and where each lies on its way to the next: dragged along the strip, put in by pressing on it, taken
 * out by dragging them off it or with Delete. Its own inks, which signals may move, stay on it.
 */
export function RampEdit({
  thing,
  inks,
  parameters,
}: {
  readonly thing: Figure | Finish;
  /** Its colour parameters that lie on the ramp, first to last. */
  readonly inks: readonly string[];
  readonly parameters: readonly ParameterDescription[];
}) {
  const [picked, setPicked] = useState(0);
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const kept = useSession((s) => s.history.show.ramps);
  const drag = useRef<{ moved: boolean } | null>(null);
  const strip = useRef<HTMLDivElement>(null);
  const stops = wholeRamp(thing.ramp, inks),
    now = Math.min(picked, stops.length - 1);
  const own = (ink: string): ParameterDescription | undefined => parameters.find((p) => p.id === ink);
  const colourOf = ({ ink }: RampStop): string => {
    const p = own(ink);
    return p ? String(restOf(thing, p)) : ink;
  };
  const plain = stops.map((s) => ({ at: s.at, ink: colourOf(s) }));
  const nameOf = (s: RampStop, i: number): string => own(s.ink)?.label ?? `ink ${i + 1}`;
  const mark = `ramp ${thing.id}`;
  const set = (next: readonly RampStop[], keep: RampStop | null, drags = true): void => {
    const sorted = [...next].sort((a, b) => a.at - b.at);
    edit(`inks of ${thing.name}`, setRamp(thing.id, sorted), drags ? mark : null);
    if (keep) setPicked(sorted.indexOf(keep));
  };
  const moveTo = (i: number, at: number): void => {
    const to = Math.round(clamp(at, 0, 1) * 1000) / 1000,
      moved = { ...stops[i]!, at: to };
    if (to === stops[i]!.at) return;
    set(
      stops.map((s, k) => (k === i ? moved : s)),
      moved,
    );
  };
  const takeOut = (i: number): void => {
    if (own(stops[i]!.ink)) {
      say('done', `${nameOf(stops[i]!, i)} is one that signals may move. Drag it aside instead.`);
      return;
    }
    endDrag();
    set(
      stops.filter((_, k) => k !== i),
      null,
      false,
    );
    setPicked(Math.max(0, i - 1));
  };
  const placeOf = (e: PointerEvent): { at: number; away: number } => {
    const r = strip.current!.getBoundingClientRect();
    return {
      at: (e.clientX - r.left) / r.width,
      away: Math.max(r.top - e.clientY, e.clientY - r.bottom),
    };
  };
  const putIn = (at: number): void => {
    if (stops.length >= RAMP_MOST) {
      say('done', `A ramp has at most ${RAMP_MOST} inks. Take one out first.`);
      return;
    }
    const fresh = { at: Math.round(clamp(at, 0, 1) * 1000) / 1000, ink: colourAt(plain, at) };
    set([...stops, fresh], fresh, false);
  };
  const keys = (e: KeyboardEvent, i: number): void => {
    const by = e.shiftKey ? 0.1 : 0.01;
    if (e.key === 'ArrowLeft' || e.key === 'ArrowDown') moveTo(i, stops[i]!.at - by);
    else if (e.key === 'ArrowRight' || e.key === 'ArrowUp') moveTo(i, stops[i]!.at + by);
    else if (e.key === 'Delete' || e.key === 'Backspace') takeOut(i);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const keep = (): void => {
    setMenu(null);
    const show = currentShow(),
      name = freeName(show.ramps, `Inks of ${thing.name}`.slice(0, 76));
    edit('keep a ramp', addRamp({ id: freeId(show, 'ramp'), name, stops: plain }));
    say('done', `Kept as “${name}”, for every figure and finish of this show.`);
  };
  return (
    <Box role="group" aria-label={`Inks of ${thing.name}`} sx={{ py: 0.75, width: '100%' }}>
      <Box
        ref={strip}
        title="Press to put an ink in"
        onPointerDown={(e) => {
          if (e.target === e.currentTarget || (e.target as HTMLElement).dataset.strip) putIn(placeOf(e).at);
        }}
        onPointerMove={(e) => {
          if (!drag.current) return;
          drag.current.moved = true;
          moveTo(now, placeOf(e).at);
        }}
        onPointerUp={(e) => {
          const d = drag.current;
          drag.current = null;
          if (d?.moved && placeOf(e).away > AWAY) takeOut(now);
          endDrag();
        }}
        sx={{ position: 'relative', height: 30, mx: 1, cursor: 'copy', touchAction: 'none' }}
      >
        <Box data-strip="1" aria-hidden sx={{ position: 'absolute', inset: '0 0 8px', display: 'flex' }}>
          {Array.from({ length: SHOWN }, (_, i) => (
            <Box key={i} data-strip="1" sx={{ flex: 1, background: colourAt(plain, (i + 0.5) / SHOWN) }} />
          ))}
        </Box>
        {stops.map((s, i) => (
          <Box
            key={`${s.ink} ${i}`}
            role="slider"
            tabIndex={0}
            aria-label={`Place of ${nameOf(s, i)}`}
            aria-valuemin={0}
            aria-valuemax={100}
            aria-valuenow={Math.round(s.at * 100)}
            aria-valuetext={`${Math.round(s.at * 100)} %`}
            title={nameOf(s, i)}
            onFocus={() => setPicked(i)}
            onKeyDown={(e) => keys(e, i)}
            onBlur={endDrag}
            onPointerDown={(e) => {
              e.stopPropagation();
              // The strip follows: as inks change places, this handle may come to be another's.
              strip.current?.setPointerCapture(e.pointerId);
              endDrag();
              setPicked(i);
              drag.current = { moved: false };
            }}
            sx={(t) => ({
              position: 'absolute',
              left: `${s.at * 100}%`,
              bottom: -4,
              width: 24,
              height: 26,
              ml: '-12px',
              cursor: 'ew-resize',
              touchAction: 'none',
              '&:focus-visible': { outline: `3px solid ${t.ink.now}` },
              '&::after': {
                content: '""',
                position: 'absolute',
                left: 5,
                bottom: 2,
                width: 14,
                height: 18,
                background: colourOf(s),
                border: `2.5px solid ${i === now ? t.ink.selected : t.ink.paperText}`,
                clipPath: 'polygon(50% 0, 100% 38%, 100% 100%, 0 100%, 0 38%)',
              },
            })}
          />
        ))}
      </Box>
      <Box
        sx={{ display: 'flex', alignItems: 'center', gap: 1, mt: 1, fontSize: '0.9rem', flexWrap: 'wrap' }}
      >
        <ColourField
          label={`Colour of ${nameOf(stops[now]!, now)}`}
          value={colourOf(stops[now]!)}
          onChange={(v) => {
            const { ink } = stops[now]!;
            if (own(ink))
              edit(`inks of ${thing.name}`, setRamp(thing.id, thing.ramp ?? null, { [ink]: v }), mark);
            else {
              const changed = { ...stops[now]!, ink: v };
              set(
                stops.map((s, k) => (k === now ? changed : s)),
                changed,
              );
            }
          }}
          onEnd={endDrag}
        />
        <span>
          {nameOf(stops[now]!, now)} at {Math.round(stops[now]!.at * 100)} %
        </span>
        <Button variant="text" onClick={() => putIn(widest(plain))} sx={{ color: 'inherit', px: 0.75 }}>
          + ink
        </Button>
        {!own(stops[now]!.ink) && (
          <Button variant="text" onClick={() => takeOut(now)} sx={{ color: 'inherit', px: 0.75 }}>
            take it out
          </Button>
        )}
        <Button
          variant="text"
          aria-haspopup="menu"
          onClick={(e) => setMenu(e.currentTarget)}
          sx={{ color: 'inherit', px: 0.75 }}
        >
          kept …
        </Button>
      </Box>
      <Menu
        anchorEl={menu}
        open={menu !== null}
        onClose={() => setMenu(null)}
        slotProps={{ list: { 'aria-label': 'Kept ramps' } }}
      >
        {kept.map((r) => (
          <MenuItem
            key={r.id}
            onClick={() => {
              setMenu(null);
              const { stops: laid, rests } = layRamp(r.stops, inks);
              edit(`lay ${r.name} on ${thing.name}`, setRamp(thing.id, laid, rests));
            }}
            sx={{ gap: 1.5 }}
          >
            <Box
              aria-hidden
              sx={{
                width: 90,
                height: 16,
                background: `linear-gradient(90deg, ${r.stops.map((s) => `${s.ink} ${s.at * 100}%`).join(', ')}, ${r.stops.at(-1)!.ink})`,
              }}
            />
            {r.name}
            <Button
              size="small"
              variant="text"
              aria-label={`Forget the ramp ${r.name}`}
              onClick={(e) => {
                e.stopPropagation();
                edit('forget a ramp', removeRamp(r.id));
              }}
            >
              forget
            </Button>
          </MenuItem>
        ))}
        <MenuItem onClick={keep} divider={false}>
          <b>Keep these inks</b>
        </MenuItem>
        {thing.ramp && (
          <MenuItem
            onClick={() => {
              setMenu(null);
              edit(`plain inks for ${thing.name}`, setRamp(thing.id, null));
            }}
          >
            Only its own inks, evenly apart
          </MenuItem>
        )}
      </Menu>
    </Box>
  );
}

/** The middle of the widest gap between two inks. */
function widest(stops: readonly { readonly at: number }[]): number {
  let at = 0.5,
    most = -1;
  for (let i = 1; i < stops.length; i++) {
    const gap = stops[i]!.at - stops[i - 1]!.at;
    if (gap > most) {
      most = gap;
      at = (stops[i]!.at + stops[i - 1]!.at) / 2;
    }
  }
  return at;
}
