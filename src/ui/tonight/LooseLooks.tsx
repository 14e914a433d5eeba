'use client';
import { Box, ButtonBase } from '@mui/material';
import type { Show } from '../../core/show';
import { perform } from '../state/session';
import { edgeOf } from '../theme/cutEdge';
import { FONT } from '../theme/tokens';
import { Print } from './Print';

/** Looks that hang beside the cord: those on keys first, then those that no cue takes. */
export function LooseLooks({ show, look }: { readonly show: Show; readonly look: string | null }) {
  const used = new Set(show.cues.map((c) => c.look));
  const loose = [
    ...show.looks.filter((l) => l.key !== null),
    ...show.looks.filter((l) => l.key === null && !used.has(l.id)),
  ];
  return (
    <Box
      component="ul"
      aria-label="Loose looks"
      sx={{
        listStyle: 'none',
        m: 0,
        p: 0,
        display: 'flex',
        flexDirection: 'column',
        gap: 1,
        minHeight: 0,
        overflowY: 'auto',
        scrollbarWidth: 'thin',
      }}
    >
      {loose.length === 0 && (
        <Box
          component="li"
          sx={(t) => ({ p: 1.5, fontSize: '1.25rem', background: t.ink.sheet, color: t.ink.sheetText })}
        >
          Looks that no cue takes hang here.
        </Box>
      )}
      {loose.map((l) => (
        <Box
          component="li"
          key={l.id}
          sx={{ flex: '1 0 64px', maxHeight: 92, minHeight: 64, display: 'grid' }}
        >
          <ButtonBase
            onClick={() => perform({ do: 'look', look: l.id })}
            aria-pressed={l.id === look}
            sx={(t) => ({
              display: 'grid',
              gridTemplateColumns: 'auto minmax(0, 1fr) auto',
              alignItems: 'center',
              gap: 1.5,
              p: 0.75,
              pr: 1.5,
              textAlign: 'left',
              background: l.id === look ? t.ink.paperShade : t.ink.sheet,
              color: l.id === look ? t.ink.paperText : t.ink.sheetText,
              borderLeft: `8px solid ${l.id === look ? t.ink.now : t.ink.track}`,
              clipPath: edgeOf(l.id),
            })}
          >
            <Print look={l.id} sx={{ height: '100%', minHeight: 44, maxHeight: 68 }} />
            <Box
              component="span"
              sx={{ fontFamily: FONT.head, fontWeight: 800, fontSize: '1.3rem', lineHeight: 1.1 }}
            >
              {l.name}
            </Box>{' '}
            <Box component="span" sx={{ fontFamily: FONT.number, fontSize: '1.3rem' }}>
              {l.key?.toUpperCase()}
            </Box>
          </ButtonBase>
        </Box>
      ))}
    </Box>
  );
}
