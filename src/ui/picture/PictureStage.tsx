'use client';
import { Box, type SxProps, type Theme } from '@mui/material';
import { useCallback, type ReactNode } from 'react';
import { PICTURE_HEIGHT, PICTURE_WIDTH } from '../../core/figures/kinds';
import { theEngine, useSession } from '../state/session';

/**
 * The one preview of this window: a canvas handed to the picture worker once, moved to whichever place shows it. A canvas that
 * was given away cannot be given again, and a second worker would draw everything twice.
 */
let stage: { canvas: HTMLCanvasElement; engine: unknown; resize(w: number, h: number): void; show(shown: boolean): void; end(): void } | null = null;

function stageFor(width: number, height: number): typeof stage {
  const engine = theEngine();
  if (!engine) return null;
  if (stage && stage.engine !== engine) { stage.end(); stage.canvas.remove(); stage = null; }
  if (!stage) {
    const canvas = document.createElement('canvas');
    canvas.setAttribute('role', 'img');
    canvas.setAttribute('aria-label', 'The picture, live');
    Object.assign(canvas.style, { width: '100%', height: '100%', display: 'block' });
    stage = { canvas, engine, ...engine.drawOn(canvas, width, height) };
  }
  return stage;
}

/** The live picture, as large as its place. @param most - most pixels across that it is drawn with */
export function PictureStage({ sx, most = 1280, children }: { readonly sx?: SxProps<Theme>; readonly most?: number; readonly children?: ReactNode }) {
  const hold = useCallback((box: HTMLDivElement | null) => {
    if (!box) return;
    const size = (): [number, number] => {
      const w = Math.min(most, Math.max(160, Math.round(box.clientWidth * Math.min(2, devicePixelRatio))));
      const even = w - (w % 2);
      return [even, Math.round((even * PICTURE_HEIGHT) / PICTURE_WIDTH / 2) * 2];
    };
    const shown = stageFor(...size());
    if (!shown) return;
    box.prepend(shown.canvas);
    shown.show(true);
    useSession.setState({ previewing: true });
    const watch = new ResizeObserver(() => shown.resize(...size()));
    watch.observe(box);
    return () => { watch.disconnect(); if (shown.canvas.parentElement === box) { shown.canvas.remove(); shown.show(false); useSession.setState({ previewing: false }); } };
  }, [most]);
  return <Box ref={hold} sx={[{ aspectRatio: '16 / 9', position: 'relative', background: '#000', overflow: 'hidden' }, ...(Array.isArray(sx) ? sx : [sx])]}>{children}</Box>;
}
