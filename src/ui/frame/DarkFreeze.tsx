'use client';
import { Box, ButtonBase } from '@mui/material';
import { sendUnseen } from '../../core/show';
import { currentShow, edit, giveBack, setDark, setFreeze, useSession } from '../state/session';
import { FONT } from '../theme/tokens';
import { cutEdge } from '../theme/cutEdge';

const EDGES = [cutEdge(91, 3, 4), cutEdge(92, 3, 4), cutEdge(93, 3, 4)];

/** Everything out, everything held. */
export function DarkFreeze() {
  const dark = useSession((s) => s.dark);
  const freeze = useSession((s) => s.freeze);
  const unseen = useSession((s) => s.history.show.routes.filter((r) => r.unseen).length);
  const hands = useSession((s) => Object.keys(s.hands).length);
  return (
    <Box sx={{ display: 'flex', gap: 1, flex: 'none' }}>
      {unseen > 0 && (
        <ButtonBase
          onClick={() =>
            edit(
              'send what was tried',
              sendUnseen(currentShow().routes.flatMap((r) => (r.unseen ? [r.id] : []))),
            )
          }
          title="Send everything that only this window shows."
          sx={(t) => ({
            width: { xs: 76, lg: 94 },
            background: t.ink.sheet,
            color: t.ink.sheetText,
            border: `3px dashed ${t.ink.sheetText}`,
            display: 'grid',
            alignContent: 'center',
            justifyItems: 'center',
          })}
        >
          <Box
            component="span"
            sx={{ fontFamily: FONT.head, fontWeight: 800, fontSize: '1.15rem', lineHeight: 1.1 }}
          >
            {unseen} unseen
          </Box>{' '}
          <Box component="span" sx={{ fontSize: '0.84rem', textAlign: 'center', lineHeight: 1.1 }}>
            send all
          </Box>
        </ButtonBase>
      )}
      {hands > 0 && (
        <ButtonBase
          onClick={() => giveBack()}
          title="Give everything that is held by hand back to its routes, with a fade."
          sx={(t) => ({
            width: { xs: 76, lg: 94 },
            background: t.ink.now,
            color: t.ink.paperText,
            display: 'grid',
            alignContent: 'center',
            justifyItems: 'center',
            clipPath: EDGES[2],
          })}
        >
          <Box
            component="span"
            sx={{ fontFamily: FONT.head, fontWeight: 800, fontSize: '1.25rem', lineHeight: 1.1 }}
          >
            {hands} by hand
          </Box>{' '}
          <Box component="span" sx={{ fontSize: '0.84rem', textAlign: 'center', lineHeight: 1.1 }}>
            give back all
          </Box>
        </ButtonBase>
      )}
      {(
        [
          ['Dark', '0', dark, () => setDark(!dark), 'everything is out'],
          ['Freeze', '9', freeze, () => setFreeze(!freeze), 'everything is held'],
        ] as const
      ).map(([label, key, on, press, state], i) => (
        <ButtonBase
          key={label}
          aria-pressed={on}
          onClick={press}
          sx={(t) => ({
            width: { xs: 76, lg: 94 },
            background: on ? '#000' : t.ink.paper,
            color: on ? t.ink.paper : t.ink.paperText,
            border: on ? `4px solid ${t.ink.paper}` : 'none',
            display: 'grid',
            alignContent: 'center',
            justifyItems: 'center',
            clipPath: EDGES[i],
          })}
        >
          <Box
            component="span"
            sx={{
              fontFamily: FONT.head,
              fontWeight: 800,
              fontSize: { xs: '1.25rem', lg: '1.4rem' },
              lineHeight: 1.1,
            }}
          >
            {label}
          </Box>{' '}
          <Box component="span" sx={{ fontSize: '0.84rem', textAlign: 'center', lineHeight: 1.1 }}>
            {on ? state : `key ${key}`}
          </Box>
        </ButtonBase>
      ))}
    </Box>
  );
}
