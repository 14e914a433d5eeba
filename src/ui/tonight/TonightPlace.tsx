'use client';
import { Box, ButtonBase } from '@mui/material';
import { useRef } from 'react';
import { placeInNight } from '../../core/stage';
import { PictureStage } from '../picture/PictureStage';
import { useSession } from '../state/session';
import { look, setLocked, useView } from '../state/view';
import { edgeOf } from '../theme/cutEdge';
import { FONT } from '../theme/tokens';
import { BeforeDoors } from './BeforeDoors';
import { Cord } from './Cord';
import { FadeStrip } from './FadeStrip';
import { GoCard } from './GoCard';
import { LooseLooks } from './LooseLooks';
import { MasterRow } from './MasterRow';
import { NightDisplayButton } from './NightDisplay';
import { NightLogButton } from './NightLogDialog';
import { NightKeys } from './NightKeys';
import { PrepareNight } from './PrepareNight';
import { SongHeading } from './SongHeading';
import { useKeptAwake } from './machine';
import { useMadePrints } from './prints';

/** For performing: the cord with what is next, the picture, loose looks and masters. Nothing small, and a lock. */
export function TonightPlace() {
  const show = useSession((s) => s.history.show),
    stage = useSession((s) => s.stage),
    rehearsed = useSession((s) => s.rehearsed),
    preparing = useView((v) => v.preparing);
  useMadePrints();
  useKeptAwake(true);
  const { song, words } = placeInNight(show, stage);
  return (
    <Box
      sx={{
        height: 1,
        minHeight: 0,
        display: 'grid',
        gridTemplateRows: preparing ? 'auto minmax(0, 1fr)' : 'auto auto minmax(0, 1fr) auto',
        gap: 1,
        p: 1,
      }}
    >
      <NightKeys />
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, minWidth: 0 }}>
        <SongHeading song={song} show={show} level="h2" />
        {preparing ? (
          <Box sx={{ flex: 1, display: 'flex', justifyContent: 'flex-end', gap: 1 }}>
            <NightDisplayButton />
            <NightLogButton />
            <BeforeDoors />
          </Box>
        ) : (
          <FadeStrip show={show} stage={stage} where={words} />
        )}
        <LockAndPrepare />
      </Box>
      {preparing ? (
        <PrepareNight show={show} />
      ) : (
        <>
          {show.cues.length > 0 ? <Cord show={show} cue={stage.cue} next={stage.next} /> : <Box />}
          <Box
            sx={{
              minHeight: 0,
              display: 'grid',
              gap: 1,
              gridTemplateColumns: {
                xs: 'minmax(0, 1fr)',
                sm: 'minmax(0, 1.5fr) minmax(300px, 1fr)',
                md: 'minmax(0, 1.5fr) minmax(320px, 1fr) minmax(260px, 0.95fr)',
              },
              gridTemplateRows: 'minmax(0, 1fr)',
              // A tablet that stands upright has its picture above, as wide as it is.
              '@media (orientation: portrait)': {
                gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)',
                gridTemplateRows: 'auto minmax(240px, 1fr)',
                '& > [data-picture]': { gridColumn: '1 / -1', gridRow: 1, aspectRatio: '16 / 9' },
              },
              overflow: { xs: 'auto', md: 'hidden' },
            }}
          >
            <Box
              data-picture
              sx={{
                position: 'relative',
                minHeight: 0,
                minWidth: 0,
                display: 'grid',
                placeItems: 'center',
                background: '#000',
                containerType: 'size',
                gridRow: { sm: '1 / 3', md: 'auto' },
              }}
            >
              <PictureStage sx={{ width: 'min(100cqw, 177.78cqh)' }} />
              {rehearsed !== null && (
                <Box
                  sx={(t) => ({
                    position: 'absolute',
                    left: 0,
                    bottom: 0,
                    px: 1.5,
                    py: 0.5,
                    fontSize: '1.25rem',
                    background: t.ink.ground,
                    color: t.ink.sheetText,
                    border: `3px dashed ${t.ink.sheetText}`,
                  })}
                >
                  tried here only: nothing of it goes out
                </Box>
              )}
            </Box>
            <GoCard show={show} next={stage.next} />
            <LooseLooks show={show} look={stage.look} />
          </Box>
          <MasterRow show={show} />
        </>
      )}
    </Box>
  );
}

const HELD_MS = 1000;
/** The lock opens only to a press that is held. */
function LockAndPrepare() {
  const locked = useView((v) => v.locked),
    preparing = useView((v) => v.preparing),
    opening = useRef<ReturnType<typeof setTimeout> | null>(null);
  const end = (): void => {
    if (opening.current) clearTimeout(opening.current);
    opening.current = null;
  };
  const press = {
    minHeight: 56,
    px: 2,
    fontFamily: FONT.head,
    fontWeight: 800,
    fontSize: '1.25rem',
    whiteSpace: 'nowrap',
  } as const;
  return (
    <>
      {!locked && (
        <ButtonBase
          aria-pressed={preparing}
          onClick={() => look({ preparing: !preparing })}
          sx={(t) => ({
            ...press,
            background: preparing ? t.ink.paper : t.ink.sheet,
            color: preparing ? t.ink.paperText : t.ink.sheetText,
            clipPath: edgeOf('prepare'),
          })}
        >
          {preparing ? 'perform' : 'prepare'}
        </ButtonBase>
      )}
      <ButtonBase
        aria-pressed={locked}
        title={
          locked
            ? 'Hold it, or the key L, for a second: the show can be edited again.'
            : 'Nothing of the show can be edited; everything can be performed. Key L.'
        }
        onClick={() => {
          if (!locked) setLocked(true);
        }}
        onPointerDown={() => {
          if (locked) opening.current = setTimeout(() => setLocked(false), HELD_MS);
        }}
        onPointerUp={end}
        onPointerLeave={end}
        onKeyDown={(e) => {
          if (locked && (e.key === 'Enter' || e.key === ' ') && !e.repeat)
            opening.current = setTimeout(() => setLocked(false), HELD_MS);
        }}
        onKeyUp={end}
        onBlur={end}
        sx={(t) => ({
          ...press,
          background: locked ? t.ink.paper : t.ink.sheet,
          color: locked ? t.ink.paperText : t.ink.sheetText,
          clipPath: edgeOf('lock'),
        })}
      >
        {locked ? 'locked · hold L' : 'lock'}
      </ButtonBase>
    </>
  );
}
