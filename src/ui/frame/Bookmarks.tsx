'use client';
import { Box, ButtonBase } from '@mui/material';
import { FONT } from '../theme/tokens';
import { goTo, PLACES, useView } from '../state/view';

/** The places, in the order of the work. */
export function Bookmarks() {
  const place = useView((v) => v.place);
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 0.75, pt: 1, flex: 1, minHeight: 0 }}>
      {PLACES.map(({ name, label }, i) => {
        const here = name === place;
        return (
          <ButtonBase
            key={name}
            aria-current={here ? 'page' : undefined}
            onClick={() => goTo(name)}
            sx={(t) => ({
              flex: '1 1 0',
              maxHeight: 104,
              minHeight: 56,
              width: here ? 60 : 48,
              background: here ? t.ink.paper : t.ink.sheet,
              color: here ? t.ink.paperText : t.ink.sheetText,
              clipPath:
                'polygon(0 0, calc(100% - 3px) 2px, 100% 40%, calc(100% - 2px) calc(100% - 2px), 0 100%)',
              position: 'relative',
              '&:hover': { background: here ? t.ink.paper : t.ink.sheetQuiet },
            })}
          >
            <Box
              component="span"
              sx={{
                position: 'absolute',
                top: 4,
                left: 7,
                fontFamily: FONT.number,
                fontSize: '0.84rem',
                opacity: 0.85,
              }}
            >
              {i + 1}
            </Box>{' '}
            <Box
              component="span"
              sx={{
                writingMode: 'vertical-rl',
                transform: 'rotate(180deg)',
                fontWeight: 700,
                fontSize: '1.02rem',
                '@media (max-height: 700px)': { fontSize: '0.86rem' },
              }}
            >
              {label}
            </Box>
          </ButtonBase>
        );
      })}
    </Box>
  );
}
