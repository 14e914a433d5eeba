'use client';
import { Box, Button, ButtonBase, Typography } from '@mui/material';
import { useRef } from 'react';
import { beginPath } from '../frame/FirstPath';
import { PictureStage } from '../picture/PictureStage';
import { OPENING_STILL } from './still';
import { importShow, playFerry, startWithDevice, startWithSound } from '../state/session';
import { soundInput } from '../state/takeIn';
import { SHOW_FILE_ENDING } from '../../data/showFile';
import { cutEdge } from '../theme/cutEdge';

const CHOICES = [
  {
    key: 'mic',
    label: 'Use a microphone',
    about: 'Clap, and the picture moves. You will not hear yourself.',
  },
  { key: 'ferry', label: 'Play the ferry', about: 'A crossing with drums, a host, and everything moving.' },
  { key: 'file', label: 'Open a sound', about: 'A song, a stem, or a saved show. Or drop it here.' },
] as const;

/** The first page: the picture, and three ways to make it move. */
export function Opening() {
  const file = useRef<HTMLInputElement>(null);
  const take = (f: File | undefined): void => {
    if (f)
      void (f.name.endsWith(SHOW_FILE_ENDING) ? importShow(f) : startWithSound(soundInput('input-1', [f])));
  };
  return (
    <Box
      component="main"
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        take(e.dataTransfer.files[0]);
      }}
      sx={(t) => ({
        height: '100vh',
        overflow: 'auto',
        background: t.ink.ground,
        display: 'grid',
        gridTemplateRows: 'auto minmax(0, 1fr) auto',
        gap: 2,
        p: { xs: 2, md: 3 },
      })}
    >
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2.5, flexWrap: 'wrap' }}>
        <Typography variant="h1">Batucada</Typography>
        <Typography sx={(t) => ({ color: t.ink.sheetFaint, fontSize: '1.1rem' })}>
          What sounds, moves: picture, overlay and lamps, while it plays.
        </Typography>
        <Button
          variant="text"
          sx={{ ml: 'auto' }}
          onClick={() => {
            beginPath();
            void playFerry();
          }}
        >
          New here? Play it, and be shown round in six short steps
        </Button>
      </Box>
      <Box sx={{ minHeight: 180, display: 'grid', placeItems: 'center', overflow: 'hidden' }}>
        <PictureStage
          most={960}
          still={OPENING_STILL}
          sx={{ height: '100%', maxWidth: '100%', clipPath: cutEdge(5, 5, 16) }}
        />
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: 'repeat(3, 1fr)' }, gap: 2 }}>
        {CHOICES.map(({ key, label, about }, i) => (
          <Box
            key={key}
            sx={(t) => ({
              position: 'relative',
              background: t.ink.paper,
              color: t.ink.paperText,
              minHeight: { xs: 76, md: 108 },
              p: 2,
              display: 'grid',
              justifyItems: 'start',
              alignContent: 'center',
              gap: 0.5,
              clipPath: cutEdge(40 + i, 4, 9),
              '&:hover': { background: t.ink.paperShade },
              '&:focus-within': { boxShadow: `inset 0 -8px 0 ${t.ink.now}` },
            })}
          >
            {/* The button is as large as its sheet, and is called by its own words only. */}
            <ButtonBase
              aria-describedby={`about-${key}`}
              onClick={() => {
                if (key === 'mic') void startWithDevice();
                else if (key === 'ferry') void playFerry();
                else file.current?.click();
              }}
              sx={{ position: 'static', '&::after': { content: '""', position: 'absolute', inset: 0 } }}
            >
              <Typography variant="h2" component="span" sx={{ fontSize: { xs: '1.4rem', md: '1.7rem' } }}>
                {label}
              </Typography>
            </ButtonBase>
            <Typography
              id={`about-${key}`}
              component="span"
              sx={(t) => ({ color: t.ink.paperFaint, fontSize: '0.98rem' })}
            >
              {about}
            </Typography>
          </Box>
        ))}
      </Box>
      <input
        ref={file}
        type="file"
        accept={`audio/*,video/*,.wav,.mp3,.ogg,.flac,.m4a,${SHOW_FILE_ENDING}`}
        hidden
        aria-label="Open a sound"
        onChange={(e) => {
          take(e.currentTarget.files?.[0]);
          e.currentTarget.value = '';
        }}
      />
    </Box>
  );
}
