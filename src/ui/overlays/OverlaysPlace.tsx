'use client';
import { Box, Button, Typography } from '@mui/material';
import { IconAct } from '../controls/IconAct';
import { useRef } from 'react';
import { addOverlay, freeId, freeName, removeThing, renameThing, setBadge, thingsOf } from '../../core/show';
import { keepMedia } from '../../data/database';
import { IMAGE_MOST_BYTES, overlayPage } from '../../core/protocols';
import { CopyAddress } from '../controls/CopyAddress';
import { placeGrid, WITH_PANEL } from '../controls/placeGrid';
import { Sheet } from '../controls/Sheet';
import { ThingPanel } from '../controls/ThingPanel';
import { currentShow, edit, useSession } from '../state/session';
import { say } from '../state/notices';

/** Overlays: each over a camera stand-in, with the address that a streaming program loads. */
export function OverlaysPlace() {
  const show = useSession((s) => s.history.show);
  const report = useSession((s) => s.outlets);
  const file = useRef<HTMLInputElement>(null);
  const overlay = show.overlays[0];
  const thing = overlay ? thingsOf(show).find((t) => t.id === overlay.id) : undefined;
  const base = report?.address ?? '';
  const address = overlay && report?.key ? `${base}/overlay/${overlay.id}?key=${report.key}` : null;
  const pages = overlay ? (report?.pages[overlayPage(overlay.id)] ?? 0) : 0;
  const choose = async (f: File): Promise<void> => {
    if (!overlay) return;
    if (!f.type.startsWith('image/')) {
      say('warning', `“${f.name}” is not an image. Choose a PNG, JPEG, WebP or SVG.`);
      return;
    }
    if (f.size > IMAGE_MOST_BYTES) {
      say('warning', `“${f.name}” is larger than ${IMAGE_MOST_BYTES >> 20} MB. Make it smaller first.`);
      return;
    }
    try {
      edit('choose a badge', setBadge(overlay.id, await keepMedia(f, f.name)));
    } catch (e) {
      say('warning', e instanceof Error ? e.message : 'The image could not be kept.');
    }
  };
  const add = (): void =>
    edit(
      'add an overlay',
      addOverlay({
        id: freeId(currentShow(), 'overlay'),
        name: freeName(currentShow().overlays, 'Frame'),
        kind: 'frame',
        badge: null,
        rest: {},
      }),
    );
  if (!overlay || !thing)
    return (
      <Box sx={{ p: 3 }}>
        <Typography variant="h2">No overlay yet</Typography>
        <Button variant="contained" onClick={add} sx={{ mt: 1 }}>
          + overlay
        </Button>
      </Box>
    );
  return (
    <Box sx={placeGrid(WITH_PANEL)}>
      <Box sx={{ overflowY: 'auto', px: 1.5, pt: 1, pb: 2, minWidth: 0 }}>
        <Typography variant="h2" sx={{ mb: 1 }}>
          {overlay.name}, over the host’s camera
        </Typography>
        <Box sx={{ maxWidth: 'min(100%, 84vh)', aspectRatio: '16 / 9', background: '#0d1b23' }}>
          {report?.key && (
            <Box
              component="iframe"
              title="The stream, with the overlay as a streaming program shows it"
              src={`/stream/${overlay.id}?key=${report.key}`}
              sx={{ width: '100%', height: '100%', border: 'none', display: 'block' }}
            />
          )}
        </Box>
        <Sheet name="address" sx={{ p: 1.5, mt: 2 }}>
          <Typography variant="h3">Address for a streaming program</Typography>
          <CopyAddress address={address} data-testid="overlay-address" />
          <Box role="status" sx={{ fontSize: '0.92rem', mt: 0.75, color: 'var(--faint)' }}>
            {pages === 0
              ? 'No page shows it now.'
              : pages === 1
                ? 'One page shows it now.'
                : `${pages} pages show it now.`}{' '}
            Add it as a browser source of {1280} × {720}. Its background is transparent; in silence and under
            dark it is a plain frame.
          </Box>
        </Sheet>
        <Sheet name="badge" sx={{ p: 1.5, mt: 1.25, display: 'flex', alignItems: 'center', gap: 1.5 }}>
          <Typography variant="h3">Badge in the corner</Typography>
          <Box sx={{ flex: 1, color: 'var(--faint)', fontSize: '0.92rem' }}>
            {overlay.badge ? 'an image of the show' : 'none'}
          </Box>
          <Button variant="outlined" onClick={() => file.current?.click()}>
            Choose an image …
          </Button>
          {overlay.badge && (
            <Button variant="text" onClick={() => edit('remove the badge', setBadge(overlay.id, null))}>
              remove
            </Button>
          )}
          <input
            ref={file}
            type="file"
            accept="image/*"
            hidden
            aria-label="Choose an image for the badge"
            onChange={(e) => {
              const f = e.currentTarget.files?.[0];
              e.currentTarget.value = '';
              if (f) void choose(f);
            }}
          />
        </Sheet>
      </Box>
      <Box
        component="section"
        aria-label="Selected overlay"
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
        <ThingPanel
          thing={thing}
          onRename={(name) => edit('rename an overlay', renameThing(overlay.id, name))}
          footer={
            <IconAct
              act="delete"
              onClick={() => edit(`delete ${overlay.name}`, removeThing(overlay.id))}
              sx={{ color: 'inherit', my: 1 }}
            />
          }
        />
      </Box>
    </Box>
  );
}
