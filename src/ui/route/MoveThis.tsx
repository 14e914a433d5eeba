'use client';
import { Box, Button, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import { findParameter, isRoutable, type Signal, signalsOf, type Target } from '../../core/show';
import { SignalTrace } from '../controls/SignalTrace';
import { live } from '../live/live';
import { useSession } from '../state/session';
import { makeRoute } from './makeRoute';

/** Columns that count as "now" when signals are listed by what sounds. */
const LATELY = 94;

/** Chooses the signal that moves a parameter: what sounds now comes first, each with its trace. */
export function MoveThis({
  target,
  label,
  dark = false,
}: {
  readonly target: Target;
  readonly label: string;
  readonly dark?: boolean;
}) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [order, setOrder] = useState<readonly Signal[]>([]);
  const show = useSession((s) => s.history.show);
  const open = (from: HTMLElement): void => {
    const loud = (s: Signal): number => {
      const slot = live.slot(s.id);
      return slot < 0 || !live.traces ? 0 : live.traces.recent(slot, LATELY) / s.usual;
    };
    const all = signalsOf(show),
      rows = all.filter((s) => !isRoutable(s)),
      parameter = findParameter(show, target)?.parameter;
    const single = all.filter((s) => isRoutable(s)).sort((a, b) => loud(b) - loud(a));
    // What has a value for each of many is made for rows.
    setOrder(
      rows.length > 0 && isRoutable(rows[0]!, parameter) ? [...rows, ...single] : [...single, ...rows],
    );
    setAt(from);
  };
  return (
    <>
      <Button
        variant="contained"
        aria-haspopup="menu"
        aria-label={`+ move this: ${label}`}
        onClick={(e) => {
          e.stopPropagation();
          open(e.currentTarget);
        }}
        sx={(t) => ({
          ml: 1,
          whiteSpace: 'nowrap',
          px: 1.25,
          minWidth: 104,
          ...(dark && {
            background: t.ink.paperText,
            color: t.ink.paper,
            '&:hover': {
              background: t.ink.sheetQuiet,
              color: t.palette.mode === 'dark' ? t.ink.paper : t.ink.paperText,
            },
          }),
        })}
      >
        + move this
      </Button>
      <Menu
        anchorEl={at}
        open={at !== null}
        onClose={() => setAt(null)}
        onClick={(e) => e.stopPropagation()}
        slotProps={{ list: { 'aria-label': `Signals for ${label}` } }}
      >
        {order.map((signal) => (
          <MenuItem
            key={signal.id}
            onClick={() => {
              setAt(null);
              makeRoute(signal.id, target);
            }}
            sx={{ display: 'grid', gridTemplateColumns: '200px 120px', gap: 2 }}
          >
            <Box component="span" sx={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>
              {signal.name}
              {signal.kind === 'vector'
                ? isRoutable(signal, findParameter(show, target)?.parameter)
                  ? ' (a row)'
                  : ' (a row, onto many)'
                : ''}
            </Box>
            <SignalTrace signal={signal} columns={188} sx={{ height: 24 }} />
          </MenuItem>
        ))}
        {order.length === 0 && <MenuItem disabled>No signals yet. Make an ear in Listen first.</MenuItem>}
      </Menu>
    </>
  );
}
