'use client';
import { useCallback } from 'react';
import { PICTURE_HEIGHT, PICTURE_WIDTH } from '../../core/figures/kinds';
import { SCREEN_HELLO } from '../../engine/engine';
import type { FromPicture, ToPicture } from '../../engine/memory/messages';

/** After this long without a heartbeat the control window is asked anew: it was reloaded, or is not there yet. */
const STALE_MS = 700;

/** An output window: nothing but the picture, drawn by a worker of its own. F or a double click fills the display. */
export function ScreenWindow() {
  const hold = useCallback((canvas: HTMLCanvasElement | null) => {
    if (!canvas) return;
    const worker = new Worker(new URL('../../engine/picture/picture.worker.ts', import.meta.url), { type: 'module', name: 'screen' });
    const size = (): [number, number] => {
      const w = Math.round(Math.min(1920, Math.min(innerWidth, (innerHeight * PICTURE_WIDTH) / PICTURE_HEIGHT) * Math.min(2, devicePixelRatio)) / 2) * 2;
      return [Math.max(160, w), Math.max(90, Math.round((w * PICTURE_HEIGHT) / PICTURE_WIDTH / 2) * 2)];
    };
    const offscreen = canvas.transferControlToOffscreen();
    const [width, height] = size();
    worker.postMessage({ type: 'canvas', canvas: offscreen, width, height, preview: false } satisfies ToPicture, [offscreen]);
    let age = Infinity;
    worker.onmessage = (e: MessageEvent<FromPicture>) => { if (e.data.type === 'rate') age = e.data.age; };
    const ask = (): void => { if (age > STALE_MS && window.opener) (window.opener as Window).postMessage(SCREEN_HELLO, location.origin); };
    const answered = (e: MessageEvent): void => {
      const port = e.ports[0];
      if (e.origin !== location.origin || e.data !== SCREEN_HELLO || !port) return;
      age = 0;
      worker.postMessage({ type: 'conductor', port } satisfies ToPicture, [port]);
    };
    const resized = (): void => { const [w, h] = size(); worker.postMessage({ type: 'size', width: w, height: h } satisfies ToPicture); };
    const fill = (): void => { if (document.fullscreenElement) void document.exitFullscreen(); else void document.documentElement.requestFullscreen().catch(() => undefined); };
    const key = (e: KeyboardEvent): void => { if (e.key === 'f' || e.key === 'F') fill(); };
    window.addEventListener('message', answered);
    window.addEventListener('resize', resized);
    window.addEventListener('keydown', key);
    canvas.addEventListener('dblclick', fill);
    ask();
    const timer = setInterval(() => { age += 500; ask(); }, 500);
    return () => {
      clearInterval(timer);
      window.removeEventListener('message', answered);
      window.removeEventListener('resize', resized);
      window.removeEventListener('keydown', key);
      worker.terminate();
    };
  }, []);
  return (
    <main style={{ position: 'fixed', inset: 0, background: '#000', display: 'grid', placeItems: 'center', cursor: 'none' }}>
      <h1 style={{ position: 'absolute', width: 1, height: 1, overflow: 'hidden', clipPath: 'inset(50%)' }}>Batucada screen</h1>
      <canvas ref={hold} aria-label="The picture, live" role="img" style={{ width: `min(100vw, ${(100 * PICTURE_WIDTH) / PICTURE_HEIGHT}vh)`, aspectRatio: `${PICTURE_WIDTH} / ${PICTURE_HEIGHT}`, display: 'block' }} />
    </main>
  );
}
