'use client';
import { Box, Button, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import { MAKING_HELP, MAKING_LABELS, type MakingKind, newMaking } from '../../core/makers';
import { addMaker, findSignal, freeId, freeName, signalsOf, tellsEvents } from '../../core/show';
import { currentShow, edit } from '../state/session';
import { look, useView } from '../state/view';

const KINDS: readonly (readonly [string, readonly MakingKind[]])[] = [
  ['By themselves', ['oscillator', 'clock', 'prompter']],
  ['At an event', ['flip', 'oneShot', 'random', 'colours', 'list']],
  ['From another signal', ['glide', 'crossing', 'change', 'gate', 'pair']],
  ['By hand', ['slider', 'button']],
];

/** Adds a signal that is not sound. It takes from the selected signal where that suits it. */
export function MakerMenu() {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const picked = useView((v) => v.signal);
  const add = (kind: MakingKind): void => {
    setAt(null);
    const show = currentShow(),
      chosen = picked === null ? null : findSignal(show, picked);
    const wantsEvents = 'on' in newMaking(kind, null),
      suits = (s: NonNullable<typeof chosen>): boolean => (wantsEvents ? tellsEvents(s) : s.kind === 'level');
    const source = chosen && suits(chosen) ? chosen : (signalsOf(show).find(suits) ?? null);
    const making = newMaking(kind, source?.id ?? null);
    const id = freeId(show, 'maker');
    edit(
      `add ${MAKING_LABELS[kind].toLowerCase()}`,
      addMaker({
        id,
        name: freeName(show.makers, MAKING_LABELS[kind]),
        making:
          making.kind === 'crossing' && source
            ? {
                ...making,
                at: Number((source.usual / 2).toPrecision(2)),
                back: Number((source.usual / 10).toPrecision(2)),
              }
            : making,
      }),
    );
    look({ signal: id });
  };
  return (
    <>
      <Button variant="text" aria-haspopup="menu" onClick={(e) => setAt(e.currentTarget)}>
        + maker
      </Button>
      <Menu
        anchorEl={at}
        open={at !== null}
        onClose={() => setAt(null)}
        slotProps={{ list: { 'aria-label': 'Makers' } }}
      >
        {KINDS.flatMap(([group, kinds]) => [
          <Box
            key={group}
            component="li"
            role="presentation"
            sx={{ px: 2, pt: 1, fontSize: '0.84rem', color: 'text.secondary' }}
          >
            {group}
          </Box>,
          ...kinds.map((k) => (
            <MenuItem
              key={k}
              onClick={() => add(k)}
              sx={{ display: 'grid', gridTemplateColumns: '110px auto', gap: 2 }}
            >
              <b>{MAKING_LABELS[k]}</b>
              <span>{MAKING_HELP[k]}</span>
            </MenuItem>
          )),
        ])}
      </Menu>
    </>
  );
}
