'use client';
import { Box, type SxProps, type Theme } from '@mui/material';
import { useCallback, type ReactNode } from 'react';
import { create } from 'zustand';
import { PICTURE_SURFACE, type Surface } from '../../core/show';
import type { PictureHandle } from '../../engine/pictures';
import { theEngine, useSession } from '../state/session';
import { MediaDesk } from '../../engine/picture/mediaDesk';
import { OWN_FILES } from './ownFiles';

/** The picture has a preview of its own, and all overlays another. */
type Which = 'picture' | 'overlay';
const whichOf = (surface: string): Which => (surface === PICTURE_SURFACE.id ? 'picture' : 'overlay');
interface Stage {
  readonly canvas: HTMLCanvasElement;
  readonly engine: unknown;
  readonly desk: Pick<MediaDesk, 'close'>;
  readonly picture: PictureHandle;
}
/**
 * The previews of this window: each a canvas handed to a picture worker once, moved to whichever place shows it. A canvas that was
 * given away cannot be given again, and a second worker would draw everything twice.
 */
const stages = new Map<Which, Stage>();
let asked = 0;
const stills = new Map<number, (blob: Blob | null) => void>();
/** Pictures a second of the overlays' preview; the picture's own stands in its sign. */
export const useOverlayRate = create<{ readonly rate: number }>(() => ({ rate: 0 }));

function stageFor(which: Which, width: number, height: number): Stage | null {
  const engine = theEngine();
  if (!engine) return null;
  const before = stages.get(which);
  if (before?.engine === engine) return before;
  if (before) {
    before.desk.close();
    before.picture.end();
    before.canvas.remove();
  }
  const canvas = document.createElement('canvas');
  canvas.setAttribute('role', 'img');
  canvas.setAttribute('aria-label', which === 'picture' ? 'The picture, live' : 'The overlay, live');
  Object.assign(canvas.style, { width: '100%', height: '100%', display: 'block', position: 'relative' });
  let desk: MediaDesk | null = null;
  const picture = engine.pictures.drawOn(canvas, width, height, (message, worker) => {
    if ((desk ??= new MediaDesk(worker, OWN_FILES)).take(message)) return true;
    if (message.type === 'still') {
      stills.get(message.id)?.(message.blob);
      stills.delete(message.id);
      return true;
    }
    if (message.type !== 'rate' || which === 'picture') return false;
    useOverlayRate.setState({ rate: message.framesPerSecond });
    return true;
  });
  const stage: Stage = { canvas, engine, picture, desk: { close: () => desk?.close() } };
  stages.set(which, stage);
  return stage;
}

/** What is drawn now, as a PNG with what nothing covers left open; null when there is nothing yet. */
export function stillPicture(
  width: number,
  height: number,
  which: Which = 'picture',
  as: readonly (readonly [at: number, value: number])[] = [],
): Promise<Blob | null> {
  const { picture } = stages.get(which) ?? {};
  if (!picture) return Promise.resolve(null);
  return new Promise((done) => {
    stills.set(++asked, done);
    picture.tell({ type: 'still', id: asked, width, height, as });
  });
}
/** Takes the graphics device away from this window's picture for a moment, as may happen to it. */
export function loseDevice(): void {
  stages.get('picture')?.picture.tell({ type: 'lose' });
}
/** Lets the preview measure what its parts cost, for as long as somebody looks. */
export function watchCosts(on: boolean): void {
  stages.get('picture')?.picture.tell({ type: 'costs', on });
}

/** The live picture, as large as its place. @param most - most pixels across that it is drawn with */
export function PictureStage({
  sx,
  most = 1280,
  still,
  surface = PICTURE_SURFACE,
  behind,
  children,
}: {
  readonly sx?: SxProps<Theme>;
  readonly most?: number;
  /** An image that stands there until the first picture is drawn. */
  readonly still?: string;
  /** What of the show is drawn: the picture unless told otherwise. */
  readonly surface?: Surface;
  /** What is seen where an overlay is open. */
  readonly behind?: ReactNode;
  readonly children?: ReactNode;
}) {
  const { id, width, height } = surface;
  const hold = useCallback(
    (box: HTMLDivElement | null) => {
      if (!box) return;
      const size = (): [number, number] => {
        const w = Math.min(most, Math.max(160, Math.round(box.clientWidth * Math.min(2, devicePixelRatio))));
        const even = w - (w % 2);
        return [even, Math.round((even * height) / width / 2) * 2];
      };
      const which = whichOf(id),
        shown = stageFor(which, ...size());
      if (!shown) return;
      shown.picture.tell({ type: 'surface', id, matte: false });
      // Over what stands behind it, under what is handled.
      box.insertBefore(shown.canvas, box.querySelector(':scope > [data-handled]'));
      // While nobody can see this window its preview rests: recordings and screens have the graphics device to themselves.
      const see = (): void => shown.picture.tell({ type: 'shown', shown: !document.hidden });
      see();
      document.addEventListener('visibilitychange', see);
      if (which === 'picture') useSession.setState({ previewing: true });
      const watch = new ResizeObserver(() => {
        const [w, h] = size();
        shown.picture.tell({ type: 'size', width: w, height: h });
      });
      watch.observe(box);
      return () => {
        watch.disconnect();
        document.removeEventListener('visibilitychange', see);
        if (shown.canvas.parentElement === box) {
          shown.canvas.remove();
          shown.picture.tell({ type: 'shown', shown: false });
          if (which === 'picture') useSession.setState({ previewing: false });
        }
      };
    },
    [most, id, width, height],
  );
  return (
    <Box
      ref={hold}
      sx={[
        {
          aspectRatio: `${width} / ${height}`,
          position: 'relative',
          background: still ? `#000 url(${still}) center / cover` : '#000',
          overflow: 'hidden',
        },
        ...(Array.isArray(sx) ? sx : [sx]),
      ]}
    >
      {behind && (
        <Box aria-hidden sx={{ position: 'absolute', inset: 0 }}>
          {behind}
        </Box>
      )}
      <Box
        data-handled
        sx={{ position: 'absolute', inset: 0, pointerEvents: 'none', '& > *': { pointerEvents: 'auto' } }}
      >
        {children}
      </Box>
    </Box>
  );
}
