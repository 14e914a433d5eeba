'use client';
import { Box, Button, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import { overlayPage } from '../../core/protocols';
import { PictureStage } from '../picture/PictureStage';
import { LaserStage } from '../rig/laser/LaserStage';
import { laserWords } from '../rig/laser/LaserSays';
import { RoomCanvas, useRoomLamps } from '../rig/RoomCanvas';
import { useSession } from '../state/session';
import { goTo, type PlaceName } from '../state/view';
import { playedInput, soundName, swapBack, swapForMicrophone, useSwapped } from './swap';

/** Everything that comes out, at once: as somebody sees it who stands on the far bank. */
export function FarBankPlace() {
  const show = useSession((s) => s.history.show),
    outlets = useSession((s) => s.outlets);
  const lamps = useRoomLamps(),
    overlay = show.overlays[0],
    pulled = outlets?.receivers?.artnet.pulled || outlets?.receivers?.sacn.pulled || false,
    rate = useSession((s) => Math.round(s.picture.rate)),
    draws = show.laserFigures.length > 0,
    pages = overlay ? (outlets?.pages[overlayPage(overlay.id)] ?? 0) : 0;
  return (
    <Box
      sx={{
        height: 1,
        minHeight: 0,
        display: 'grid',
        gridTemplateRows: 'auto minmax(0, 1fr)',
        gap: 1,
        p: 1.5,
        pt: 1,
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, flexWrap: 'wrap' }}>
        <Typography variant="h2" sx={{ flex: 1, minWidth: 220 }}>
          The far bank
        </Typography>
        <SwapButton />
        <Button
          variant={pulled ? 'contained' : 'outlined'}
          aria-pressed={pulled}
          onClick={() => void fetch(`/bridge/receiver?pulled=${pulled ? 'no' : 'yes'}`, { method: 'POST' })}
          title="The simulated lamps get no more packets, as if their cable were out. Everything else goes on."
        >
          {pulled ? 'put the lamp cable back' : 'pull the lamp cable'}
        </Button>
      </Box>
      <Box
        sx={{
          minHeight: 0,
          display: 'grid',
          gap: 1.25,
          gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'repeat(2, minmax(0, 1fr))' },
          gridTemplateRows: { md: 'repeat(2, minmax(0, 1fr))' },
          gridAutoRows: { xs: 'minmax(220px, 52vw)', md: 'auto' },
          overflow: { xs: 'auto', md: 'hidden' },
        }}
      >
        <Pane
          title="The sail"
          says={
            rate > 0 ? `drawn, ${rate} ${rate === 1 ? 'picture' : 'pictures'} a second` : 'is being drawn'
          }
          place="picture"
        >
          <Fitted>
            <PictureStage most={960} sx={{ width: 'min(100cqw, 177.78cqh)' }} />
          </Fitted>
        </Pane>
        <Pane
          title="The deck"
          says={
            lamps.length === 0
              ? 'no lamps yet'
              : pulled
                ? 'the cable is out: lamps stay as they were'
                : 'lamps as their packets were decoded'
          }
          loud={pulled}
          place="rig"
        >
          <RoomCanvas side="front" lamps={lamps} />
        </Pane>
        <Pane title="The awning" says={laserSays(draws, laserWords(outlets?.laser ?? null).word)} place="rig">
          <LaserStage zones={false} onNumbers={nothing} />
        </Pane>
        <Pane
          title="The stream"
          says={
            overlay
              ? `${overlay.name}, loaded as a page; ${pages === 1 ? 'one page shows it' : `${pages} pages show it`}`
              : 'no overlay yet'
          }
          place="overlays"
        >
          {overlay && outlets?.key ? (
            <Fitted>
              <Box
                component="iframe"
                title="The stream"
                src={`/stream/${encodeURIComponent(overlay.id)}?key=${outlets.key}`}
                sx={{
                  width: 'min(100cqw, 177.78cqh)',
                  aspectRatio: '16 / 9',
                  border: 'none',
                  display: 'block',
                }}
              />
            </Fitted>
          ) : (
            <Box sx={{ color: '#f2e9d4', p: 2 }}>
              {overlay ? 'The server does not answer.' : 'Add an overlay, and it is seen here.'}
            </Box>
          )}
        </Pane>
      </Box>
    </Box>
  );
}
function laserSays(draws: boolean, word: string): string {
  if (!draws) return 'no laser figure yet';
  return word === 'Lit'
    ? 'the laser is lit: what its mirrors drew'
    : `the laser is ${word.toLowerCase()}: what its mirrors would draw`;
}
const nothing = (): void => undefined;
/** What it holds may be as large as fits. */
const Fitted = ({ children }: { readonly children: ReactNode }) => (
  <Box sx={{ containerType: 'size', width: 1, height: 1, display: 'grid', placeItems: 'center' }}>
    {children}
  </Box>
);

function Pane({
  title,
  says,
  loud = false,
  place,
  children,
}: {
  readonly title: string;
  readonly says: string;
  /** What it says is a fault. */
  readonly loud?: boolean;
  readonly place: PlaceName;
  readonly children: ReactNode;
}) {
  return (
    <Box
      component="section"
      aria-label={title}
      sx={{ minHeight: 0, minWidth: 0, display: 'grid', gridTemplateRows: 'minmax(0, 1fr) auto' }}
    >
      <Box sx={{ minHeight: 0, minWidth: 0, background: '#080707', overflow: 'hidden' }}>{children}</Box>
      <Box
        sx={(t) => ({
          display: 'flex',
          alignItems: 'baseline',
          gap: 1.5,
          px: 1,
          py: 0.25,
          background: loud ? t.ink.now : t.ink.paper,
          color: t.ink.paperText,
          whiteSpace: 'nowrap',
        })}
      >
        <Typography variant="h3" sx={{ fontSize: '1.1rem' }}>
          {title}
        </Typography>
        <Box component="span" sx={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis' }}>
          {says}
        </Box>
        <Button variant="text" sx={{ color: 'inherit', py: 0, minHeight: 28 }} onClick={() => goTo(place)}>
          to its place
        </Button>
      </Box>
    </Box>
  );
}

function SwapButton() {
  const show = useSession((s) => s.history.show),
    swapped = useSwapped((s) => s.swapped);
  const now = swapped && show.inputs.find((i) => i.id === swapped.input.id),
    back = swapped?.show === show.id && now?.kind === 'device' ? swapped : null,
    played = playedInput(show);
  if (back)
    return (
      <Button variant="contained" aria-pressed onClick={() => swapBack(back)}>
        swap my microphone for {soundName(back.input)}
      </Button>
    );
  return (
    <Button
      variant="outlined"
      disabled={!played || played.kind === 'device'}
      onClick={() => played && swapForMicrophone(played)}
      title="Everything that listened to it listens to the microphone. Undo, or this button, brings it back."
    >
      {played?.kind === 'device'
        ? `${played.name} is heard`
        : `swap ${played ? soundName(played) : 'the sound'} for my microphone`}
    </Button>
  );
}
