'use client';
import { Box, type SxProps, type Theme } from '@mui/material';
import { useCallback, type ReactNode } from 'react';
import { PICTURE_HEIGHT, PICTURE_WIDTH } from '../../core/figures';
import type { PictureHandle } from '../../engine/engine';
import { theEngine, useSession } from '../state/session';
import { MediaDesk } from './mediaDesk';

/**
 * The one preview of this window: a canvas handed to the picture worker once, moved to whichever place shows it. A canvas that
 * was given away cannot be given again, and a second worker would draw everything twice.
 */
let stage: {
  readonly canvas: HTMLCanvasElement;
  readonly engine: unknown;
  readonly desk: Pick<MediaDesk, 'close'>;
  readonly picture: PictureHandle;
} | null = null;
let asked = 0;
const stills = new Map<number, (blob: Blob | null) => void>();

function stageFor(width: number, height: number): typeof stage {
  const engine = theEngine();
  if (!engine) return null;
  if (stage && stage.engine !== engine) {
    stage.desk.close();
    stage.picture.end();
    stage.canvas.remove();
    stage = null;
  }
  if (!stage) {
    const canvas = document.createElement('canvas');
    canvas.setAttribute('role', 'img');
    canvas.setAttribute('aria-label', 'The picture, live');
    Object.assign(canvas.style, { width: '100%', height: '100%', display: 'block' });
    let desk: MediaDesk | null = null;
    const picture = engine.drawOn(canvas, width, height, (message, worker) => {
      if ((desk ??= new MediaDesk(worker)).take(message)) return true;
      if (message.type === 'still') {
        stills.get(message.id)?.(message.blob);
        stills.delete(message.id);
        return true;
      }
      return false;
    });
    stage = { canvas, engine, picture, desk: { close: () => desk?.close() } };
  }
  return stage;
}

/** The picture as it is now, as a PNG; null when there is none yet. */
export function stillPicture(width: number, height: number): Promise<Blob | null> {
  const { picture } = stage ?? {};
  if (!picture) return Promise.resolve(null);
  return new Promise((done) => {
    stills.set(++asked, done);
    picture.tell({ type: 'still', id: asked, width, height });
  });
}
/** Takes the graphics device away from this window's picture for a moment, as may happen to it. */
export function loseDevice(): void {
  stage?.picture.tell({ type: 'lose' });
}
/** Lets the preview measure what its parts cost, for as long as somebody looks. */
export function watchCosts(on: boolean): void {
  stage?.picture.tell({ type: 'costs', on });
}

/** The live picture, as large as its place. @param most - most pixels across that it is drawn with */
export function PictureStage({
  sx,
  most = 1280,
  still,
  children,
}: {
  readonly sx?: SxProps<Theme>;
  readonly most?: number;
  /** An image that stands there until the first picture is drawn. */
  readonly still?: string;
  readonly children?: ReactNode;
}) {
  const hold = useCallback(
    (box: HTMLDivElement | null) => {
      if (!box) return;
      const size = (): [number, number] => {
        const w = Math.min(most, Math.max(160, Math.round(box.clientWidth * Math.min(2, devicePixelRatio))));
        const even = w - (w % 2);
        return [even, Math.round((even * PICTURE_HEIGHT) / PICTURE_WIDTH / 2) * 2];
      };
      const shown = stageFor(...size());
      if (!shown) return;
      box.prepend(shown.canvas);
      // While nobody can see this window its preview rests: recordings and screens have the graphics device to themselves.
      const see = (): void => shown.picture.tell({ type: 'shown', shown: !document.hidden });
      see();
      document.addEventListener('visibilitychange', see);
      useSession.setState({ previewing: true });
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
          useSession.setState({ previewing: false });
        }
      };
    },
    [most],
  );
  return (
    <Box
      ref={hold}
      sx={[
        {
          aspectRatio: '16 / 9',
          position: 'relative',
          background: still ? `#000 url(${still}) center / cover` : '#000',
          overflow: 'hidden',
        },
        ...(Array.isArray(sx) ? sx : [sx]),
      ]}
    >
      {children}
    </Box>
  );
}
