'use client';
import { useEffect, useRef, useState } from 'react';
import { FRAME_SEEN, LASER_PAGE } from '../../../core/protocols';
import { LaserViewReader, LaserViewWriter, makeLaserView, SEEN_KEPT } from '../../../engine/memory/laserView';
import { pageAddress } from '../../../engine/memory/pageAddress';
import { drawSeen, EYE_POINTS, fieldBox, toX, toY } from './drawField';

const AGAIN_MS = 1000;
/** Light that is older is none. */
const DARK_AFTER_MS = 250;

/** A page of its own: nothing but what the projector’s mirrors draw, on black, as it comes over the bridge. */
export function LaserPage() {
  const ref = useRef<HTMLCanvasElement>(null),
    [says, setSays] = useState<string | null>('Waiting for the laser.');
  useEffect(() => {
    const canvas = ref.current,
      g = canvas?.getContext('2d');
    if (!canvas || !g) return;
    const memory = makeLaserView(),
      writer = new LaserViewWriter(memory),
      reader = new LaserViewReader(memory);
    let closed = false,
      socket: WebSocket | null = null,
      cameAt = -Infinity,
      frame = 0,
      said: string | null = 'Waiting for the laser.';
    const say = (text: string | null): void => {
      if (text !== said) setSays((said = text));
    };
    const connect = (): void => {
      socket = new WebSocket(pageAddress(LASER_PAGE));
      socket.binaryType = 'arraybuffer';
      socket.onmessage = (e: MessageEvent<string | ArrayBuffer>) => {
        if (typeof e.data === 'string') return;
        const bytes = new Uint8Array(e.data);
        if (bytes[0] !== FRAME_SEEN) return;
        writer.see(bytes);
        cameAt = performance.now();
      };
      socket.onclose = () => {
        if (!closed) setTimeout(connect, AGAIN_MS);
      };
    };
    const draw = (): void => {
      frame = requestAnimationFrame(draw);
      const scale = Math.min(2, window.devicePixelRatio || 1),
        width = canvas.clientWidth,
        height = canvas.clientHeight;
      if (canvas.width !== Math.round(width * scale) || canvas.height !== Math.round(height * scale)) {
        canvas.width = Math.round(width * scale);
        canvas.height = Math.round(height * scale);
      }
      g.setTransform(scale, 0, 0, scale, 0, 0);
      g.fillStyle = '#000';
      g.fillRect(0, 0, width, height);
      const lit = performance.now() - cameAt < DARK_AFTER_MS;
      say(lit ? null : 'The laser is dark.');
      if (!lit) return;
      const b = fieldBox(width, height),
        seen = reader.seenCount;
      drawSeen(
        g,
        (x, y, out) => {
          out[0] = toX(b, x);
          out[1] = toY(b, y);
        },
        reader.seen,
        Math.max(0, seen - EYE_POINTS),
        seen,
        SEEN_KEPT,
        1,
      );
    };
    connect();
    draw();
    return () => {
      closed = true;
      cancelAnimationFrame(frame);
      socket?.close();
    };
  }, []);
  return (
    <main style={{ position: 'fixed', inset: 0, background: '#000' }}>
      <canvas
        ref={ref}
        role="img"
        aria-label="What the laser’s mirrors draw"
        style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', display: 'block' }}
      />
      {says && (
        <div
          role="status"
          style={{
            position: 'absolute',
            left: 0,
            right: 0,
            bottom: 24,
            textAlign: 'center',
            color: '#b9a274',
            font: '400 1.1rem "Atkinson Hyperlegible", sans-serif',
          }}
        >
          {says}
        </div>
      )}
    </main>
  );
}
