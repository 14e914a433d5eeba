'use client';
import { Box, Button, Typography } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { CAMERA_ID, type Figure, PICTURE_SURFACE, type Surface, thingsOf } from '../../core/show';
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
import { PictureStage, useOverlayRate } from './PictureStage';
import { SurfaceContext, useOnSurface } from './surface';

interface SurfaceEditorProps {
  readonly surface: Surface;
  /** What is chosen while nothing is. */
  readonly usual: string;
  /** What stands over it. */
  readonly top?: ReactNode;
  /** What is seen where it is open. */
  readonly behind?: ReactNode;
  /** What else is chosen in its strip. */
  readonly ends: readonly (readonly [id: string, label: string, about: string])[];
  /** What is said of all of it. */
  readonly whole: ReactNode;
  /** Acts beside its strip. */
  readonly acts: ReactNode;
}

/** A surface, large and directly handled; its figures; and everything about the selected one. The same for the picture and for overlays. */
export function SurfaceEditor(props: SurfaceEditorProps) {
  return (
    <SurfaceContext.Provider value={props.surface}>
      <Editor {...props} />
    </SurfaceContext.Provider>
  );
}

function Editor({ surface, usual, top, behind, ends, whole, acts }: SurfaceEditorProps) {
  const { figures, figureGroups } = useOnSurface();
  const ofPicture = useSession((s) => s.picture.rate),
    ofOverlay = useOverlayRate((r) => r.rate),
    rate = surface.id === PICTURE_SURFACE.id ? ofPicture : ofOverlay;
  const chosen = useView((v) => v.figure);
  const numbers = useView((v) => v.numbers);
  const known =
    chosen !== null &&
    (ends.some(([id]) => id === chosen) ||
      figureGroups.some((g) => g.id === chosen) ||
      figures.some((f) => f.id === chosen));
  const id = known ? chosen : usual;
  const figure = figures.find((f) => f.id === id);
  const group = figureGroups.find((g) => g.id === id),
    members = figures.filter((f) => f.group !== null && f.group === group?.id);
  const [adding, setAdding] = useState(false);
  return (
    <Box sx={placeGrid(WITH_PANEL)}>
      <Box
        sx={{
          display: 'grid',
          gridTemplateRows: {
            xs: `${top ? 'auto ' : ''}minmax(min(56vw, 420px), 1fr) auto auto`,
            md: `${top ? 'auto ' : ''}minmax(160px, 1fr) auto auto`,
          },
          minHeight: 0,
          px: 1.5,
          pt: 1,
          gap: 1,
          minWidth: 0,
        }}
      >
        {top}
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
            surface={surface}
            behind={behind}
            sx={{ width: `min(100cqw, ${(100 * surface.width) / surface.height}cqh)`, height: 'auto' }}
          >
            {group && members.length > 0 && <GroupHandles group={group} members={members} />}
            {figure && <Handles figure={figure} figures={figures} />}
            {figure && numbers && <Numbers figure={figure} />}
          </PictureStage>
        </Box>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, flexWrap: { xs: 'wrap', md: 'nowrap' } }}>
          <Typography variant="h2" sx={{ whiteSpace: 'nowrap' }}>
            {top ? 'Figures' : 'Figures, back to front'}
          </Typography>
          <Box sx={{ flex: 1 }} />
          <Box sx={(t) => ({ color: t.ink.sheetFaint, fontSize: '0.9rem', whiteSpace: 'nowrap' })}>
            {surface.width} × {surface.height} · {Math.round(rate)} frames/s here
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
          {acts}
          <Button
            variant="text"
            aria-haspopup="dialog"
            onClick={() => setAdding(true)}
            sx={{ whiteSpace: 'nowrap' }}
          >
            + figure
          </Button>
          <AddFigure open={adding} onClose={() => setAdding(false)} />
        </Box>
        <FigureStrip chosen={id} ends={ends} />
      </Box>
      <Box
        component="section"
        aria-label={
          ends.some(([e]) => e === id && e !== CAMERA_ID) ? `All of ${surface.name}` : 'Selected figure'
        }
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
        <FigurePanel chosen={id} whole={whole} />
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
