'use client';
import { Box, ButtonBase } from '@mui/material';
import { giveBack, setDark, setFreeze, useSession } from '../state/session';
import { FONT } from '../theme/tokens';
import { cutEdge } from '../theme/cutEdge';

const EDGES = [cutEdge(91, 3, 4), cutEdge(92, 3, 4), cutEdge(93, 3, 4)];

/** Everything out, everything held. */
export function DarkFreeze() {
  const dark = useSession((s) => s.dark);
  const freeze = useSession((s) => s.freeze);
  const hands = useSession((s) => Object.keys(s.hands).length);
  return (
    <Box sx={{ display: 'flex', gap: 1, flex: 'none' }}>
      {hands > 0 && (
        <ButtonBase onClick={() => giveBack()} title="Give everything that is held by hand back to its routes, with a fade." sx={(t) => ({ width: { xs: 76, lg: 94 }, background: t.ink.now, color: t.ink.paperText, display: 'grid', alignContent: 'center', justifyItems: 'center', clipPath: EDGES[2] })}>
          <Box component="span" sx={{ fontFamily: FONT.head, fontWeight: 800, fontSize: '1.25rem', lineHeight: 1.1 }}>{hands} by hand</Box>{' '}
          <Box component="span" sx={{ fontSize: '0.84rem', textAlign: 'center', lineHeight: 1.1 }}>give back all</Box>
        </ButtonBase>
      )}
      {([['Dark', '0', dark, () => setDark(!dark), 'everything is out'], ['Freeze', '9', freeze, () => setFreeze(!freeze), 'everything is held']] as const).map(([label, key, on, press, state], i) => (
        <ButtonBase
          key={label} aria-pressed={on} onClick={press}
          sx={(t) => ({ width: { xs: 76, lg: 94 }, background: on ? '#000' : t.ink.paper, color: on ? t.ink.paper : t.ink.paperText, border: on ? `4px solid ${t.ink.paper}` : 'none', display: 'grid', alignContent: 'center', justifyItems: 'center', clipPath: EDGES[i] })}
        >
          <Box component="span" sx={{ fontFamily: FONT.head, fontWeight: 800, fontSize: '1.4rem', lineHeight: 1.1 }}>{label}</Box>{' '}
          <Box component="span" sx={{ fontSize: '0.84rem', textAlign: 'center', lineHeight: 1.1 }}>{on ? state : `key ${key}`}</Box>
        </ButtonBase>
      ))}
    </Box>
  );
}
