'use client';
import { useCallback } from 'react';
import { PICTURE_HEIGHT, PICTURE_WIDTH } from '../../core/figures';
import { laidOn, type Screen } from '../../core/screens';
import { SCREEN_HELLO } from '../../engine/readers';
import { keepQuality, knownQualities } from '../../engine/picture/knownQualities';
import type { FromPicture, ToPicture } from '../../engine/memory/messages';
import { fillDisplay } from './displays';
import { MediaDesk } from '../../engine/picture/mediaDesk';
import { OWN_FILES } from './ownFiles';
import { SCREEN_WORD, type ScreenWord } from './screenWindows';

/** How often a control window is asked that does not answer: it is being reloaded, or is not there yet. */
const ASK_AGAIN_MS = 500;

/**
 * An output window: nothing but the picture, drawn by a worker of its own. F or a double click fills its display, T shows a test card.
 */
export function ScreenWindow() {
  const hold = useCallback((canvas: HTMLCanvasElement | null) => {
    if (!canvas) return;
    const id = new URLSearchParams(location.search).get('id') ?? 'screen-main';
    const worker = new Worker(new URL('../../engine/picture/picture.worker.ts', import.meta.url), {
      type: 'module',
      name: 'screen',
    });
    let screen: Screen | null = null;
    // It is drawn with the pixels that the show gives it, and shown as large as the window lets it.
    const size = (): [number, number] => [screen?.width ?? PICTURE_WIDTH, screen?.height ?? PICTURE_HEIGHT];
    const offscreen = canvas.transferControlToOffscreen();
    const [width, height] = size();
    worker.postMessage(
      {
        type: 'canvas',
        canvas: offscreen,
        width,
        height,
        preview: false,
        known: knownQualities(),
      } satisfies ToPicture,
      [offscreen],
    );
    worker.postMessage({ type: 'screen', id } satisfies ToPicture);
    let asked = -Infinity;
    const desk = new MediaDesk(worker, OWN_FILES);
    worker.onmessage = (e: MessageEvent<FromPicture>) => {
      if (desk.take(e.data)) return;
      if (e.data.type === 'rate') keepQuality(e.data);
      else if (e.data.type === 'stale') ask();
      else if (e.data.type === 'screen') {
        screen = e.data.screen;
        document.title = `${screen.name} · Batucada`;
        resized();
      }
    };
    const ask = (): void => {
      if (!window.opener || performance.now() - asked < ASK_AGAIN_MS) return;
      asked = performance.now();
      (window.opener as Window).postMessage(SCREEN_HELLO, location.origin);
    };
    const answered = (e: MessageEvent): void => {
      const port = e.ports[0],
        word = e.data as Partial<ScreenWord & { about: unknown }> | null;
      if (e.origin === location.origin && word?.about === SCREEN_WORD) {
        if (word.type === 'fill') fill(word.on === true);
        else show(word.on === true);
        return;
      }
      if (e.origin !== location.origin || e.data !== SCREEN_HELLO || !port) return;
      worker.postMessage({ type: 'conductor', port } satisfies ToPicture, [port]);
    };
    const resized = (): void => {
      const [w, h] = size();
      const laid = laidOn(
        { width: w, height: h, ...(screen?.lies && { lies: screen.lies }) },
        { width: window.innerWidth, height: window.innerHeight },
      );
      canvas.style.aspectRatio = 'auto';
      canvas.style.width = `${laid.width}px`;
      canvas.style.height = `${laid.height}px`;
      worker.postMessage({ type: 'size', width: w, height: h } satisfies ToPicture);
    };
    let card = false;
    const show = (on: boolean): void => {
      card = on;
      document.documentElement.dataset.card = String(on);
      worker.postMessage({ type: 'card', on } satisfies ToPicture);
    };
    // A control window says so when the browser does not let it; a press in here is always allowed.
    const fill = (on: boolean): void =>
      void (on ? fillDisplay(id) : document.exitFullscreen()).catch(() => undefined);
    const turnFull = (): void => fill(!document.fullscreenElement);
    const key = (e: KeyboardEvent): void => {
      if (e.key === 'f' || e.key === 'F') turnFull();
      else if (e.key === 't' || e.key === 'T') show(!card);
    };
    window.addEventListener('message', answered);
    window.addEventListener('resize', resized);
    window.addEventListener('keydown', key);
    canvas.addEventListener('dblclick', turnFull);
    const leave = (): void => worker.postMessage({ type: 'leave' } satisfies ToPicture);
    window.addEventListener('pagehide', leave);
    ask();
    return () => {
      window.removeEventListener('pagehide', leave);
      window.removeEventListener('message', answered);
      window.removeEventListener('resize', resized);
      window.removeEventListener('keydown', key);
      desk.close();
      worker.terminate();
    };
  }, []);
  return (
    <main
      style={{
        position: 'fixed',
        inset: 0,
        background: '#000',
        display: 'grid',
        placeContent: 'center',
        placeItems: 'center',
        overflow: 'hidden',
        cursor: 'none',
      }}
    >
      <h1 style={{ position: 'absolute', width: 1, height: 1, overflow: 'hidden', clipPath: 'inset(50%)' }}>
        Batucada screen
      </h1>
      <canvas
        ref={hold}
        aria-label="The picture, live"
        role="img"
        style={{
          width: `min(100vw, ${(100 * PICTURE_WIDTH) / PICTURE_HEIGHT}vh)`,
          aspectRatio: `${PICTURE_WIDTH} / ${PICTURE_HEIGHT}`,
          display: 'block',
        }}
      />
    </main>
  );
}
