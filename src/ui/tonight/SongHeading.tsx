'use client';
import { Typography } from '@mui/material';
import type { Show, Song } from '../../core/show';

/** Which song it is, or the show where there is none; its note where the pointer rests. @param level - of the heading */
export function SongHeading({
  song,
  show,
  level,
}: {
  readonly song: Song | null;
  readonly show: Show;
  readonly level: 'h1' | 'h2';
}) {
  return (
    <Typography
      component={level}
      variant="h2"
      title={song?.note}
      sx={{
        fontSize: '1.6rem',
        whiteSpace: 'nowrap',
        maxWidth: '34%',
        overflow: 'hidden',
        textOverflow: 'ellipsis',
      }}
    >
      {song?.name ?? show.name}
    </Typography>
  );
}
