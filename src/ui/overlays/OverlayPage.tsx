'use client';
import { useCallback } from 'react';
import { OVERLAY_HEIGHT, OVERLAY_WIDTH } from '../../core/overlays/kinds';
import { drawFrame, FRAME_NUMBERS, FRAME_SPARK, Sparks } from '../../engine/overlay/drawFrame';
import { PageSource } from '../../engine/overlay/pageSource';

/** What a streaming program loads: the overlay alone, on nothing. */
export function OverlayPage({ id }: { readonly id: string }) {
  const hold = useCallback(
    (canvas: HTMLCanvasElement | null) => {
      const g = canvas?.getContext('2d');
      if (!canvas || !g) return;
      const key = new URLSearchParams(location.search).get('key');
      const query = key ? `&key=${encodeURIComponent(key)}` : '';
      const source = new PageSource(
        `${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/bridge?role=page&overlay=${encodeURIComponent(id)}${query}`,
      );
      let badge: { hash: string; image: HTMLImageElement; ready: boolean } | null = null;
      let again: ReturnType<typeof setTimeout> | null = null;
      const load = (hash: string): void => {
        const image = new Image();
        const loading = { hash, image, ready: false };
        badge = loading;
        image.onload = () => {
          loading.ready = true;
          source.changed = true;
        };
        // The image may still be on its way to the bridge.
        image.onerror = () => {
          again = setTimeout(() => {
            if (badge === loading) load(hash);
          }, 1000);
        };
        image.src = `/media/${hash}${key ? `?key=${encodeURIComponent(key)}` : ''}`;
      };
      source.onOverlay = () => {
        const hash = source.overlay?.badge ?? null;
        if (hash === null) badge = null;
        else if (badge?.hash !== hash || !badge.ready) load(hash);
      };
      const sparks = new Sparks();
      source.onArrival = (place, _, value) => {
        if (place === FRAME_SPARK) {
          sparks.light(value, performance.now() / 1000);
          source.changed = true;
        }
      };
      let frame = 0;
      const draw = (): void => {
        frame = requestAnimationFrame(draw);
        if (!source.changed) return;
        const now = performance.now() / 1000;
        if (source.dark) sparks.clear();
        source.changed = sparks.alive(now);
        if (!source.overlay || source.values.length < FRAME_NUMBERS)
          g.clearRect(0, 0, OVERLAY_WIDTH, OVERLAY_HEIGHT);
        else drawFrame(g, source.values, 0, badge?.ready ? badge.image : null, sparks, now);
        canvas.dataset.swell = String(source.values[0] ?? '');
        canvas.dataset.sparks = String(sparks.count);
      };
      draw();
      return () => {
        cancelAnimationFrame(frame);
        if (again) clearTimeout(again);
        source.close();
      };
    },
    [id],
  );
  return (
    <canvas
      ref={hold}
      width={OVERLAY_WIDTH}
      height={OVERLAY_HEIGHT}
      role="img"
      aria-label="Overlay"
      style={{
        position: 'fixed',
        inset: 0,
        width: '100vw',
        height: '100vh',
        objectFit: 'contain',
        display: 'block',
      }}
    />
  );
}
