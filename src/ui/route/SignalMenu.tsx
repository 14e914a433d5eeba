'use client';
import { Box, ListSubheader, Menu, MenuItem } from '@mui/material';
import { useMemo } from 'react';
import { findParameter, isRoutable, type Show, type Signal, signalsOf, type Target } from '../../core/show';
import { SignalTrace } from '../controls/SignalTrace';
import { live } from '../live/live';
import { currentShow, useSession } from '../state/session';
import { listenAndMove, newListenings } from './newListening';

/** Columns that count as "now" when signals are listed by what sounds. */
const LATELY = 94;

/** Every signal that may move a parameter: what sounds now comes first. What has a value for each of many is made for rows. */
function inOrder(show: Show, target: Target): readonly Signal[] {
  const loud = (s: Signal): number => {
    const slot = live.slot(s.id);
    return slot < 0 || !live.traces ? 0 : live.traces.recent(slot, LATELY) / s.usual;
  };
  const all = signalsOf(show),
    rows = all.filter((s) => !isRoutable(s)),
    parameter = findParameter(show, target)?.parameter;
  const single = all.filter((s) => isRoutable(s)).sort((a, b) => loud(b) - loud(a));
  return rows.length > 0 && isRoutable(rows[0]!, parameter) ? [...rows, ...single] : [...single, ...rows];
}

/** Signals to choose from, each with its trace. */
export function SignalMenu({
  at,
  target,
  label,
  chosen = null,
  onlyOne = false,
  onChoose,
  onClose,
}: {
  /** What it opens at; null while it is closed. */
  readonly at: HTMLElement | null;
  readonly target: Target;
  readonly label: string;
  readonly chosen?: string | null;
  /** Leaves out rows that the parameter does not take as they are. */
  readonly onlyOne?: boolean;
  readonly onChoose: (signal: Signal) => void;
  readonly onClose: () => void;
}) {
  const show = useSession((s) => s.history.show);
  const parameter = findParameter(show, target)?.parameter;
  // Not again while it is open: nothing moves under the hand.
  const order = useMemo(() => (at ? inOrder(currentShow(), target) : []), [at, target]);
  const fresh = at && !onlyOne ? newListenings(show, target) : [];
  const listed = onlyOne
    ? order.filter((s) => isRoutable(s, parameter) && (s.kind !== 'colour' || parameter?.kind === 'colour'))
    : order;
  return (
    <Menu
      anchorEl={at}
      open={at !== null}
      onClose={onClose}
      onClick={(e) => e.stopPropagation()}
      slotProps={{ list: { 'aria-label': label } }}
    >
      {listed.map((signal) => (
        <MenuItem
          key={signal.id}
          selected={signal.id === chosen}
          onClick={() => {
            onClose();
            onChoose(signal);
          }}
          sx={{ display: 'grid', gridTemplateColumns: '200px 120px', gap: 2 }}
        >
          <Box component="span" sx={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>
            {signal.name}
            {signal.kind === 'vector'
              ? isRoutable(signal, parameter)
                ? ' (a row)'
                : ' (a row, onto many)'
              : ''}
          </Box>
          <SignalTrace signal={signal} columns={188} sx={{ height: 24 }} />
        </MenuItem>
      ))}
      {fresh.length > 0 && (
        <ListSubheader disableSticky sx={{ background: 'none', color: 'inherit', lineHeight: '30px' }}>
          not listened to yet
        </ListSubheader>
      )}
      {fresh.map((listening) => (
        <MenuItem
          key={listening.id}
          onClick={() => {
            onClose();
            void listenAndMove(listening, target);
          }}
        >
          + {listening.name}
        </MenuItem>
      ))}
    </Menu>
  );
}
