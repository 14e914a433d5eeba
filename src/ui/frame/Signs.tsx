'use client';
import { Box, Tooltip } from '@mui/material';
import { useMemo, type ReactNode } from 'react';
import { useSession } from '../state/session';
import { goTo, look, useView } from '../state/view';
import { type Sign, signsOf } from './signsOf';

const SHAPES: Record<Sign['shape'], ReactNode> = {
  disc: <circle cx="9" cy="9" r="7.6" />,
  square: <path d="M1.5 2 16.4 1.4 16.8 16.3 1.8 16.8Z" />,
  diamond: <path d="M9 .4 17.4 9.3 8.8 17.7 .5 8.8Z" />,
  peak: <path d="M9.2.8 17.6 16.9.6 16.6Z" />,
  beam: <path d="M1 7.6 11 7.6 11 3 17.4 9.1 11 15 11 10.6 1 10.6Z" />,
};

const MEANING: Record<string, string> = {
  Sound:
    'How the sound is. “press” means that the browser waits for a press anywhere before it lets sound out.',
  Picture: 'Pictures drawn a second in this window’s preview.',
  Lamps: 'Whether the lamps get their packets.',
  Laser: 'Whether the laser is dark, armed or lit. Pressing it while it says “arm?” arms it.',
  Pages: 'Overlay pages that are connected now.',
};

/** State of sound and of each output, readable from afar; a fault fills its sign and says what to do. */
export function Signs() {
  const session = useSession();
  const signs = useMemo(() => signsOf(session), [session]);
  const faults = [...new Set(signs.flatMap((s) => s.fault ?? []))];
  return (
    <Box
      role="group"
      aria-label="Signs"
      sx={{
        position: 'relative',
        display: 'grid',
        gridTemplateColumns: {
          // Upright on a tablet: names over states, without their shapes.
          xs: 'repeat(3, minmax(84px, 1fr))',
          md: 'repeat(3, minmax(118px, 1fr))',
        },
        gap: 0.75,
        flex: { xs: '0 3 328px', md: '0 3 410px' },
        minWidth: { xs: 270, md: 366 },
      }}
    >
      {signs.map(({ shape, name, state, fault, mind, place, act }) => (
        <Tooltip key={name} describeChild title={fault ?? mind ?? MEANING[name] ?? ''}>
          <Box
            component="button"
            onClick={() => {
              if (act) {
                act();
                return;
              }
              if (name === 'Laser') look({ rig: 'laser' });
              else if (place === 'rig' && useView.getState().rig === 'laser') look({ rig: 'front' });
              goTo(place);
            }}
            sx={(t) => ({
              all: 'unset',
              cursor: 'pointer',
              display: 'flex',
              flexDirection: { xs: 'column', md: 'row' },
              alignItems: { xs: 'flex-start', md: 'center' },
              justifyContent: 'center',
              gap: { xs: 0, md: 0.75 },
              px: { xs: 0.75, md: 1.25 },
              minHeight: 38,
              boxSizing: 'border-box',
              background: fault || act ? t.ink.paper : t.ink.sheet,
              color: fault || act ? t.ink.paperText : t.ink.sheetText,
              clipPath: fault
                ? 'polygon(0 0,calc(100% - 16px) 0,100% 16px,100% 100%,0 100%)'
                : 'polygon(0 1px,50% 0,100% 2px,99% 100%,40% 97%,1% 100%)',
              '&:focus-visible': { outline: `3px solid ${t.ink.now}`, outlineOffset: -3 },
            })}
          >
            <Box
              component="svg"
              viewBox="0 0 18 18"
              aria-hidden
              sx={{
                width: 18,
                height: 18,
                fill: 'currentColor',
                flex: 'none',
                display: { xs: 'none', md: 'block' },
              }}
            >
              {SHAPES[shape]}
            </Box>
            <Box
              component="span"
              sx={{
                fontWeight: 700,
                fontSize: { xs: '0.98rem', md: '1.08rem' },
                lineHeight: { xs: 1.1, md: 1.5 },
                flex: { xs: 'none', md: 1 },
              }}
            >
              {name}
            </Box>{' '}
            <Box
              component="span"
              sx={{
                fontSize: { xs: '0.86rem', md: '0.92rem' },
                lineHeight: { xs: 1.05, md: 1.15 },
                whiteSpace: { xs: 'normal', lg: 'nowrap' },
                opacity: 0.9,
              }}
            >
              {state}
            </Box>
          </Box>
        </Tooltip>
      ))}
      {faults.length > 0 && (
        <Box
          role="alert"
          sx={(t) => ({
            position: 'absolute',
            right: 0,
            top: '100%',
            mt: 1,
            zIndex: 20,
            maxWidth: 480,
            background: t.ink.paper,
            color: t.ink.paperText,
            p: 1.25,
            px: 2,
            fontSize: '1rem',
            fontWeight: 700,
            clipPath: 'polygon(0 0,calc(100% - 22px) 0,100% 22px,100% 100%,0 100%)',
          })}
        >
          {faults.map((f) => (
            <div key={f}>{f}</div>
          ))}
        </Box>
      )}
    </Box>
  );
}
