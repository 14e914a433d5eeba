'use client';
import { Box, ButtonBase, Typography } from '@mui/material';
import { cueWords, fadeWords, followWords } from '../../core/stage';
import type { Show } from '../../core/show';
import { perform, useSession } from '../state/session';
import { cutEdge } from '../theme/cutEdge';
import { FONT } from '../theme/tokens';

const EDGES = [cutEdge(411, 3, 5), cutEdge(412, 2, 4), cutEdge(413, 2, 4), cutEdge(414, 2, 4)];

/** What comes next, its note, and the press that takes it. */
export function GoCard({ show, next }: { readonly show: Show; readonly next: string | null }) {
  const cue = show.cues.find((c) => c.id === next),
    rehearsed = useSession((s) => s.rehearsed);
  const home = show.looks.find((l) => l.id === show.home)?.name;
  return (
    <Box
      component="section"
      aria-label="Next"
      sx={(t) => ({
        background: t.ink.paper,
        color: t.ink.paperText,
        clipPath: EDGES[0],
        p: 1.5,
        display: 'grid',
        gridTemplateRows: 'auto minmax(64px, 1fr) 56px',
        overflow: 'hidden',
        gap: 1,
        minHeight: 0,
        minWidth: 0,
      })}
    >
      <Box sx={{ minHeight: 0, display: 'grid', gap: 0.25 }}>
        <Typography
          variant="h2"
          sx={{ fontSize: '1.6rem', overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
        >
          {cue ? cueWords(cue) : show.cues.length === 0 ? 'No cue yet' : 'That was the last one'}
        </Typography>
        <Box sx={(t) => ({ fontSize: '1.25rem', lineHeight: 1.2, color: t.ink.paperFaint })}>
          {cue
            ? `${fadeWords(cue.fade, cue.delay)}${cue.follow ? `; ${followWords(cue.follow, show)}` : ''}`
            : show.cues.length === 0
              ? 'Prepare: keep what is on as a look, and hang it on the cord.'
              : 'Press any print to go on from there.'}
        </Box>
        {cue?.note && (
          <Box
            sx={{
              fontSize: '1.25rem',
              lineHeight: 1.25,
              display: '-webkit-box',
              WebkitLineClamp: 1,
              '@media (min-height: 900px)': { WebkitLineClamp: 3 },
              '@media (max-height: 700px)': { display: 'none' },
              WebkitBoxOrient: 'vertical',
              overflow: 'hidden',
            }}
          >
            {cue.note}
          </Box>
        )}
      </Box>
      <ButtonBase
        disabled={!cue}
        onClick={() => perform({ do: 'go' })}
        sx={(t) => ({
          background: t.ink.paperText,
          color: t.ink.paper,
          clipPath: EDGES[1],
          minHeight: 64,
          display: 'flex',
          flexDirection: 'column',
          '&.Mui-disabled': { background: t.ink.paperDeep, color: t.ink.paperFaint },
        })}
      >
        <Box
          component="span"
          sx={{ fontFamily: FONT.head, fontWeight: 800, fontSize: '2.6rem', lineHeight: 1 }}
        >
          Go
        </Box>{' '}
        <Box
          component="span"
          sx={{ fontSize: '1.25rem', lineHeight: 1.1, '@media (max-height: 700px)': { display: 'none' } }}
        >
          space
        </Box>
      </ButtonBase>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(3, minmax(0, 1fr))', gap: 1 }}>
        {(
          [
            ['back', () => perform({ do: 'back' }), false, 'The cue before this one. Key Backspace.', false],
            [
              'try',
              () => perform({ do: 'rehearse', look: rehearsed === null ? (cue?.look ?? null) : null }),
              rehearsed !== null,
              'Shows the next look in this window only; nothing goes out.',
              !cue?.look && rehearsed === null,
            ],
            [
              'home',
              () => perform({ do: 'home' }),
              false,
              `${home ? `“${home}”` : 'Everything as it rests'}: the safe look. Key Home.`,
              false,
            ],
          ] as const
        ).map(([label, act, on, title, off], i) => (
          <ButtonBase
            key={label}
            disabled={off}
            aria-pressed={label === 'try' ? on : undefined}
            title={title}
            onClick={act}
            sx={(t) => ({
              minHeight: 56,
              fontFamily: FONT.head,
              fontWeight: 800,
              fontSize: '1.3rem',
              background: on ? t.ink.paperText : t.ink.paperShade,
              color: on ? t.ink.paper : t.ink.paperText,
              clipPath: EDGES[(i % 3) + 1],
              '&.Mui-disabled': { color: t.ink.paperFaint },
            })}
          >
            {label}
          </ButtonBase>
        ))}
      </Box>
    </Box>
  );
}
