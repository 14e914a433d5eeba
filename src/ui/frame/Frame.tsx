'use client';
import { Box, Typography } from '@mui/material';
import { useEffect } from 'react';
import { Bench } from '../bench/Bench';
import { FarBankPlace } from '../farbank/FarBankPlace';
import { ListenPlace } from '../listen/ListenPlace';
import { OverlaysPlace } from '../overlays/OverlaysPlace';
import { PicturePlace } from '../picture/PicturePlace';
import { PictureStage } from '../picture/PictureStage';
import { knowScreens } from '../picture/screenWindows';
import { RigPlace } from '../rig/RigPlace';
import { FanOut } from '../route/FanOut';
import { RoutePlace } from '../route/RoutePlace';
import { useSecondComputer } from '../state/second';
import { useTapsHeard } from '../state/tapTempo';
import { NightDisplay } from '../tonight/NightDisplay';
import { usePhonesTold } from '../tonight/phoneNight';
import { TonightPlace } from '../tonight/TonightPlace';
import { theEngine, useSession } from '../state/session';
import { PLACES, useView } from '../state/view';
import { Bookmarks } from './Bookmarks';
import { DarkFreeze } from './DarkFreeze';
import { FirstPath, resumePath } from './FirstPath';
import { HandKeys } from './HandKeys';
import { Keys } from './Keys';
import { Roda } from './Roda';
import { ShowMenu } from './ShowMenu';
import { Signs } from './Signs';
import { Tape } from './Tape';
import { UndoRedo } from './UndoRedo';

const PLACE = {
  listen: ListenPlace,
  route: RoutePlace,
  picture: PicturePlace,
  rig: RigPlace,
  overlays: OverlaysPlace,
  tonight: TonightPlace,
  bank: FarBankPlace,
} as const;

/** The places that show the picture themselves. */
const LARGE: ReadonlySet<string> = new Set(['route', 'picture', 'tonight', 'bank']);

/** What stands around every place: the strip of time and state above, the bookmarks at the left, the bench below. */
export function Frame() {
  const place = useView((v) => v.place);
  const route = useView((v) => v.route),
    bright = useView((v) => v.bright);
  const exists = useSession((s) => s.history.show.routes.some((r) => r.id === route));
  const Place = PLACE[place];
  const bench = exists && (place === 'route' || place === 'picture');
  useEffect(knowScreens, []);
  useEffect(resumePath, []);
  usePhonesTold();
  useTapsHeard();
  useSecondComputer();
  useEffect(() => {
    theEngine()?.tap(bench ? route : null);
  }, [bench, route]);
  return (
    <Box
      sx={(t) => ({
        height: '100vh',
        display: 'grid',
        gridTemplateColumns: '62px minmax(0, 1fr)',
        gridTemplateRows: '96px minmax(0, 1fr) auto auto',
        background: `repeating-linear-gradient(178.6deg, ${t.ink.ground} 0 13px, ${t.ink.groundLine} 13px 14px)`,
      })}
    >
      <Box
        component="header"
        sx={(t) => ({
          gridColumn: '1 / -1',
          display: 'flex',
          alignItems: 'stretch',
          gap: { xs: 0.75, md: 1.25 },
          px: { xs: 0.5, md: 1 },
          py: 0.75,
          background: t.ink.groundLine,
          minWidth: 0,
        })}
      >
        <Roda />
        <Tape />
        {/* Where the picture is not large, it is small: what is promised to move is always seen. */}
        {!LARGE.has(place) && (
          <PictureStage
            most={320}
            sx={{ height: '100%', flex: 'none', display: { xs: 'none', sm: 'block' } }}
          />
        )}
        <Signs />
        <DarkFreeze />
      </Box>
      <Box
        component="nav"
        aria-label="Places"
        sx={{ gridRow: '2 / 5', display: 'flex', flexDirection: 'column', minHeight: 0 }}
      >
        <Bookmarks />
        <UndoRedo />
        <ShowMenu />
      </Box>
      <Box component="main" sx={{ minHeight: 0, minWidth: 0, overflow: 'hidden', position: 'relative' }}>
        <Typography
          component="h1"
          sx={{ position: 'absolute', width: 1, height: 1, overflow: 'hidden', clipPath: 'inset(50%)' }}
        >
          {PLACES.find((p) => p.name === place)?.label}
        </Typography>
        <Place />
      </Box>
      {bench && <Bench key={route} />}
      <FirstPath />
      {bright < 1 && (
        <Box
          aria-hidden
          sx={{
            position: 'fixed',
            inset: 0,
            zIndex: 3000,
            background: '#000',
            opacity: 1 - bright,
            pointerEvents: 'none',
          }}
        />
      )}
      <FanOut />
      <Keys />
      <HandKeys />
      <NightDisplay />
    </Box>
  );
}
