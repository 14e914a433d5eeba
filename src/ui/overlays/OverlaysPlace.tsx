'use client';
import { Box, Button, Menu, MenuItem, Typography } from '@mui/material';
import { useState } from 'react';
import { overlayPage } from '../../core/protocols';
import {
  addOverlay,
  freeId,
  freeName,
  newOverlay,
  OVERLAY_STARTS,
  type OverlayStart,
  type Overlay,
  surfaceIdOf,
  surfaceOf,
} from '../../core/show';
import { Choice } from '../controls/Choice';
import { Sheet } from '../controls/Sheet';
import { SurfaceEditor } from '../picture/SurfaceEditor';
import { currentShow, edit, useSession } from '../state/session';
import { look, useView } from '../state/view';
import { BehindOverlay, useBehind } from './behind';
import { OverlayPanel } from './OverlayPanel';

/** What a start listens to: the chosen input, or the first that has a sound. */
function inputForStart(): string {
  const { inputs } = currentShow(),
    chosen = useView.getState().input;
  const sounding = inputs.filter((i) => i.kind !== 'notes');
  return (sounding.find((i) => i.id === chosen) ?? sounding[0] ?? inputs[0])?.id ?? '';
}

/** Adds a start to an overlay that is there, or to a new one, in one edit. */
function start(with_: OverlayStart | null, to: string | null): void {
  const show = currentShow(),
    fresh =
      to === null
        ? newOverlay(freeId(show, 'overlay'), freeName(show.overlays, with_ ? overlayName(with_) : 'Overlay'))
        : null,
    id = to ?? fresh!.id;
  const before = fresh ? { ...show, overlays: [...show.overlays, fresh] } : show,
    made = with_?.make(before, inputForStart(), id);
  edit(with_ ? `add ${with_.name}` : 'add an overlay', (d) => {
    if (!made) {
      addOverlay(fresh!)(d);
      return;
    }
    const { overlays, figures, figureGroups, finishes, ears, makers, routes } = made.show;
    Object.assign(d, { overlays, figures, figureGroups, finishes, ears, makers, routes });
  });
  look({ overlay: id, figure: made?.figure ?? id, finish: null, also: [] });
}
const overlayName = ({ name }: OverlayStart): string => {
  const bare = name.replace(/^An? /, '');
  return bare[0]!.toUpperCase() + bare.slice(1);
};

function StartMenu({ label, to }: { readonly label: string; readonly to: string | null }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button
        variant={to === null ? 'outlined' : 'text'}
        aria-haspopup="menu"
        onClick={(e) => setAt(e.currentTarget)}
        sx={{ whiteSpace: 'nowrap' }}
      >
        {label}
      </Button>
      <Menu
        anchorEl={at}
        open={at !== null}
        onClose={() => setAt(null)}
        slotProps={{ list: { 'aria-label': label } }}
      >
        {[...OVERLAY_STARTS, ...(to === null ? [null] : [])].map((s) => (
          <MenuItem
            key={s?.id ?? 'empty'}
            onClick={() => {
              setAt(null);
              start(s, to);
            }}
            sx={{ display: 'grid', maxWidth: 460, whiteSpace: 'normal' }}
          >
            <Box component="span" sx={{ fontWeight: 700 }}>
              {s?.name ?? 'An empty overlay'}
            </Box>
            <Box component="span" sx={{ fontSize: '0.9rem', opacity: 0.85 }}>
              {s?.help ?? 'Open all over, with nothing on it yet.'}
            </Box>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

/** Overlays: each a surface like the picture, over a camera's stand-in, with its addresses, and who watches. */
export function OverlaysPlace() {
  const show = useSession((s) => s.history.show),
    pages = useSession((s) => s.outlets?.pages ?? NO_PAGES),
    chosen = useView((v) => v.overlay),
    way = useBehind((b) => b.way);
  const overlay = show.overlays.find((o) => o.id === chosen) ?? show.overlays[0];
  if (!overlay)
    return (
      <Box sx={{ p: 3, display: 'grid', gap: 2, justifyItems: 'start' }}>
        <Typography variant="h2">No overlay yet</Typography>
        <Box sx={{ maxWidth: 560 }}>
          An overlay is a transparent page that a streaming program lays over the host’s camera. Begin with
          one that moves already:
        </Box>
        <Box sx={{ display: 'grid', gap: 1 }}>
          {[...OVERLAY_STARTS, null].map((s) => (
            <Button
              key={s?.id ?? 'empty'}
              variant="outlined"
              onClick={() => start(s, null)}
              sx={{ justifyContent: 'flex-start', textAlign: 'left' }}
            >
              {s?.name ?? 'An empty overlay'}
            </Button>
          ))}
        </Box>
      </Box>
    );
  const surface = surfaceOf(show, overlay.id)!,
    ownCamera = show.figures.some(
      (f) => surfaceIdOf(f) === overlay.id && f.form.kind === 'camera' && !f.hidden,
    );
  const finishes = show.finishes.filter((f) => f.on === overlay.id).length;
  return (
    <SurfaceEditor
      key={overlay.id}
      surface={surface}
      usual={overlay.id}
      behind={<BehindOverlay overlay={overlay} way={ownCamera ? 'checks' : way} />}
      top={<OverlayRow overlays={show.overlays} chosen={overlay.id} pages={pages} />}
      whole={<OverlayPanel overlay={overlay} />}
      ends={[
        [
          overlay.id,
          'Whole overlay',
          finishes === 0 ? 'addresses, size' : finishes === 1 ? '1 finish' : `${finishes} finishes`,
        ],
      ]}
      acts={
        <>
          {!ownCamera && (
            <Choice
              label="over"
              value={way === 'still' && !overlay.still ? 'host' : way}
              options={[
                ['host', 'the drawn host'],
                ['camera', 'a camera here'],
                ...(overlay.still ? [['still', 'its still'] as const] : []),
                ['checks', 'nothing'],
              ]}
              onChange={(w) => useBehind.setState({ way: w })}
            />
          )}
          <StartMenu label="+ ready part" to={overlay.id} />
        </>
      }
    />
  );
}
const NO_PAGES: Readonly<Record<string, number>> = {};

function OverlayRow({
  overlays,
  chosen,
  pages,
}: {
  readonly overlays: readonly Overlay[];
  readonly chosen: string;
  readonly pages: Readonly<Record<string, number>>;
}) {
  return (
    <Box sx={{ display: 'flex', gap: 1, minWidth: 0 }}>
      <Box
        role="list"
        aria-label="Overlays"
        sx={{ display: 'flex', gap: 1, overflowX: 'auto', pb: 0.25, minWidth: 0 }}
      >
        {overlays.map((o) => {
          const watching = pages[overlayPage(o.id)] ?? 0;
          return (
            <Sheet
              key={o.id}
              role="listitem"
              name={`overlay ${o.id}`}
              picked={o.id === chosen}
              sx={{ flex: '0 0 auto' }}
            >
              <Box
                component="button"
                aria-pressed={o.id === chosen}
                onClick={() => look({ overlay: o.id, figure: null, finish: null, also: [] })}
                sx={{
                  all: 'unset',
                  boxSizing: 'border-box',
                  cursor: 'pointer',
                  px: 1.5,
                  minHeight: 40,
                  display: 'flex',
                  alignItems: 'center',
                  gap: 1,
                  whiteSpace: 'nowrap',
                }}
              >
                <Box component="span" sx={{ fontWeight: 700 }}>
                  {o.name}
                </Box>
                <Box component="span" sx={{ color: 'var(--faint)', fontSize: '0.9rem' }}>
                  {watching === 0 ? 'nobody watches' : watching === 1 ? '1 page' : `${watching} pages`}
                </Box>
              </Box>
            </Sheet>
          );
        })}
      </Box>
      <StartMenu label="+ overlay" to={null} />
    </Box>
  );
}
