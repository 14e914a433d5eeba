'use client';
import { Box, Button, Typography } from '@mui/material';
import { useState } from 'react';
import { PICTURE_HEIGHT, PICTURE_WIDTH } from '../../core/figures';
import { CAMERA_ID, type Figure, thingsOf, WHOLE_PICTURE } from '../../core/show';
import { formatNumber } from '../../core/parameters';
import { placeGrid, WITH_PANEL } from '../controls/placeGrid';
import { LiveText } from '../controls/LiveText';
import { ColourNow } from '../controls/ParameterTrack';
import { live } from '../live/live';
import { useSession } from '../state/session';
import { look, useView } from '../state/view';
import { AddFigure } from './AddFigure';
import { FigurePanel } from './FigurePanel';
import { FigureStrip } from './FigureStrip';
import { GroupHandles } from './GroupHandles';
import { Handles } from './Handles';
import { PictureStage } from './PictureStage';
import { clockText } from '../controls/amounts';
import { useRecording } from './recording';
import { Screens } from './Screens';

/** Picture: what is drawn, directly handled; its figures; and everything about the selected one. */
export function PicturePlace() {
  const show = useSession((s) => s.history.show);
  const rate = useSession((s) => s.picture.rate);
  const chosen = useView((v) => v.figure);
  const numbers = useView((v) => v.numbers),
    recording = useRecording((r) => r.now);
  const known =
    chosen !== null &&
    (chosen === WHOLE_PICTURE ||
      chosen === CAMERA_ID ||
      show.figureGroups.some((g) => g.id === chosen) ||
      show.figures.some((f) => f.id === chosen));
  const id = known ? chosen : ((show.figures.find((f) => f.id === 'ferry') ?? show.figures[0])?.id ?? null);
  const figure = show.figures.find((f) => f.id === id);
  const group = show.figureGroups.find((g) => g.id === id),
    members = show.figures.filter((f) => f.group !== null && f.group === group?.id);
  const [adding, setAdding] = useState(false),
    [screens, setScreens] = useState(false);
  return (
    <Box sx={placeGrid(WITH_PANEL)}>
      <Box
        sx={{
          display: 'grid',
          gridTemplateRows: {
            xs: 'minmax(min(56vw, 420px), 1fr) auto auto',
            md: 'minmax(160px, 1fr) auto auto',
          },
          minHeight: 0,
          px: 1.5,
          pt: 1,
          gap: 1,
          minWidth: 0,
        }}
      >
        {/* As large as fits, and never out of shape. */}
        <Box
          sx={{
            minHeight: 0,
            minWidth: 0,
            display: 'grid',
            placeItems: 'center',
            overflow: 'hidden',
            containerType: 'size',
          }}
        >
          <PictureStage
            most={1280}
            sx={{ width: `min(100cqw, ${(100 * PICTURE_WIDTH) / PICTURE_HEIGHT}cqh)`, height: 'auto' }}
          >
            {group && members.length > 0 && <GroupHandles group={group} members={members} />}
            {figure && <Handles figure={figure} figures={show.figures} />}
            {figure && numbers && <Numbers figure={figure} />}
          </PictureStage>
        </Box>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, flexWrap: { xs: 'wrap', md: 'nowrap' } }}>
          <Typography variant="h2">Figures, back to front</Typography>
          <Box sx={{ flex: 1 }} />
          {recording && (
            <Box role="status" aria-label="Recording" sx={{ fontSize: '0.9rem', fontWeight: 700 }}>
              ● {recording.seconds === null ? '…' : clockText(recording.seconds)}
            </Box>
          )}
          <Box sx={(t) => ({ color: t.ink.sheetFaint, fontSize: '0.9rem', whiteSpace: 'nowrap' })}>
            {PICTURE_WIDTH} × {PICTURE_HEIGHT} · {Math.round(rate)} frames/s here
          </Box>
          <Button
            variant="text"
            aria-pressed={numbers}
            onClick={() => look({ numbers: !numbers })}
            title="Writes what moves in the selected figure on the picture, in this window only."
            sx={(t) => ({ '&[aria-pressed=true]': { background: t.ink.paper, color: t.ink.paperText } })}
          >
            numbers
          </Button>
          <Button variant="outlined" onClick={() => setScreens(true)}>
            Screens …
          </Button>
          <Button variant="text" aria-haspopup="dialog" onClick={() => setAdding(true)}>
            + figure
          </Button>
          <AddFigure open={adding} onClose={() => setAdding(false)} />
          <Screens open={screens} onClose={() => setScreens(false)} />
        </Box>
        <FigureStrip chosen={id} />
      </Box>
      <Box
        component="section"
        aria-label="Selected figure"
        sx={(t) => ({
          background: t.ink.paper,
          color: t.ink.paperText,
          '--mark': t.ink.paperText,
          '--bed': t.ink.paperDeep,
          '--faint': t.ink.paperFaint,
          px: 2.25,
          pt: 1.5,
          overflowY: 'auto',
          minHeight: 0,
          clipPath: 'polygon(0 2px, 100% 0, 100% 100%, 3px 100%, 0 62%, 3px 31%)',
        })}
      >
        <FigurePanel chosen={id} />
      </Box>
    </Box>
  );
}

/** The numbers of the selected figure that something moves, written on the preview: never on a screen. */
function Numbers({ figure }: { readonly figure: Figure }) {
  const show = useSession((s) => s.history.show);
  const hands = useSession((s) => s.hands);
  const parameters =
    thingsOf(show)
      .find((t) => t.id === figure.id)
      ?.parameters.filter(
        (p) =>
          `${figure.id}/${p.id}` in hands ||
          show.routes.some((r) => r.target.thing === figure.id && r.target.parameter === p.id),
      ) ?? [];
  return (
    <Box
      role="list"
      aria-label={`Numbers of ${figure.name}`}
      sx={{
        position: 'absolute',
        left: 0,
        top: 0,
        pointerEvents: 'none',
        background: 'rgba(12, 15, 17, .82)',
        color: '#f2e9d4',
        px: 1.25,
        py: 0.75,
        display: 'grid',
        gridTemplateColumns: 'auto auto',
        columnGap: 1.5,
        fontSize: '0.9rem',
      }}
    >
      {parameters.length === 0 && (
        <Box role="listitem" sx={{ gridColumn: '1 / 3' }}>
          Nothing moves {figure.name}.
        </Box>
      )}
      {parameters.map((p) => (
        <Box key={p.id} role="listitem" sx={{ display: 'contents' }}>
          <span>{p.label}</span>
          {p.kind === 'number' ? (
            <LiveText
              read={() => {
                const v = live.parameter(`${figure.id}/${p.id}`);
                return Number.isFinite(v) ? formatNumber(v, p) : '–';
              }}
              sx={{ textAlign: 'right', fontWeight: 700 }}
            />
          ) : (
            <ColourNow at={`${figure.id}/${p.id}`} />
          )}
        </Box>
      ))}
    </Box>
  );
}
