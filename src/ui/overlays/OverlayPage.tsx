'use client';
import { useCallback } from 'react';
import { OVERLAY_HEIGHT, OVERLAY_WIDTH, overlayParameters } from '../../core/overlays';
import { parameterSize } from '../../core/parameters';
import { overlayPage } from '../../core/protocols';
import { drawFrame, FRAME_NUMBERS, Sparks } from '../../engine/overlay/drawFrame';
import { BridgePlan } from '../../engine/memory/bridgePlan';
import { mediaAddress, pageAddress } from '../../engine/memory/pageAddress';

/** What a streaming program loads: the overlay alone, on nothing. */
export function OverlayPage({ id }: { readonly id: string }) {
  const hold = useCallback(
    (canvas: HTMLCanvasElement | null) => {
      const g = canvas?.getContext('2d');
      if (!canvas || !g) return;
      let changed = true;
      let badge: { hash: string; image: HTMLImageElement; ready: boolean } | null = null;
      let again: ReturnType<typeof setTimeout> | null = null;
      const load = (hash: string): void => {
        const image = new Image();
        const loading = { hash, image, ready: false };
        badge = loading;
        image.onload = () => {
          loading.ready = true;
          changed = true;
        };
        // The image may still be on its way to the bridge.
        image.onerror = () => {
          again = setTimeout(() => {
            if (badge === loading) load(hash);
          }, 1000);
        };
        image.src = mediaAddress(hash);
      };
      const sparks = new Sparks();
      const values = new Float32Array(FRAME_NUMBERS);
      /** Where its numbers stand in a frame. */
      let places: number[] = [],
        spark = -1;
      const plan = new BridgePlan<'overlays'>(pageAddress(overlayPage(id)), (what) => {
        changed = true;
        if (!what.show) return;
        const hash = plan.show?.overlays[0]?.badge ?? null,
          at = (parameter: string): number => plan.map?.parameters[`${id}/${parameter}`] ?? -1;
        places = overlayParameters().flatMap((p) =>
          Array.from({ length: parameterSize(p) }, (_, i) => at(p.id) + i),
        );
        spark = at('spark');
        if (hash === null) badge = null;
        else if (badge?.hash !== hash || !badge.ready) load(hash);
      });
      plan.onArrival = (place, _, value) => {
        if (place !== spark) return;
        sparks.light(value, performance.now() / 1000);
        changed = true;
      };
      let frame = 0;
      const draw = (): void => {
        frame = requestAnimationFrame(draw);
        const { frames } = plan;
        if (frames?.read()) changed = true;
        if (!changed) return;
        const now = performance.now() / 1000;
        if ((frames?.darkness ?? 0) > 0) sparks.clear();
        changed = sparks.alive(now);
        if (!frames) g.clearRect(0, 0, OVERLAY_WIDTH, OVERLAY_HEIGHT);
        else {
          for (let i = 0; i < values.length; i++) values[i] = frames.parameters[places[i] ?? -1] ?? 0;
          drawFrame(g, values, 0, badge?.ready ? badge.image : null, sparks, now);
        }
        // To see how late it comes: all of it white, and then nothing.
        const blink = frames?.blink ?? 0;
        if (blink !== 0) {
          g.clearRect(0, 0, OVERLAY_WIDTH, OVERLAY_HEIGHT);
          g.fillStyle = '#ffffff';
          if (blink > 0 && frames!.darkness === 0) g.fillRect(0, 0, OVERLAY_WIDTH, OVERLAY_HEIGHT);
        }
        canvas.dataset.swell = String(values[0] ?? '');
        canvas.dataset.sparks = String(sparks.count);
      };
      draw();
      return () => {
        cancelAnimationFrame(frame);
        if (again) clearTimeout(again);
        plan.leave();
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
