'use client';
import { useCallback } from 'react';

/** A stand-in for the host's camera, drawn and never still: as large as what it is in. */
export function HostCamera() {
  const hold = useCallback((canvas: HTMLCanvasElement | null) => {
    const g = canvas?.getContext('2d');
    if (!canvas || !g) return;
    let frame = 0,
      drawnAt = -Infinity;
    const draw = (now: number): void => {
      frame = requestAnimationFrame(draw);
      // It sways slowly: a few pictures a second are enough, and leave the rest their time.
      if (now - drawnAt < 80) return;
      drawnAt = now;
      camera(g, now / 1000);
    };
    frame = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(frame);
  }, []);
  return (
    <canvas
      ref={hold}
      width={640}
      height={360}
      role="img"
      aria-label="The host’s camera, drawn"
      style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', objectFit: 'cover' }}
    />
  );
}

/** The host on the upper deck, as a lantern lights them: drawn, so that no camera is needed. */
function camera(g: CanvasRenderingContext2D, t: number): void {
  const flat = (ink: string, points: number[]): void => {
    g.fillStyle = ink;
    g.beginPath();
    for (let i = 0; i < points.length; i += 2) g.lineTo(points[i]!, points[i + 1]!);
    g.fill();
  };
  const roll = Math.sin(t * 0.7) * 5;
  g.fillStyle = '#1a2e3a';
  g.fillRect(0, 0, 640, 360);
  flat('#22404e', [
    0,
    210 + roll,
    160,
    196 + roll,
    320,
    214 + roll,
    480,
    200 + roll,
    640,
    212 + roll,
    640,
    300,
    0,
    300,
  ]);
  g.fillStyle = '#f2e9d4';
  g.beginPath();
  g.arc(520, 84 + roll, 34, 0, 7);
  g.fill();
  flat('#3a2c1e', [0, 268, 640, 262, 640, 360, 0, 360]);
  for (let x = -20; x < 640; x += 52) flat('#2b2016', [x, 360, x + 22, 264, x + 25, 264, x + 5, 360]);
  const sway = Math.sin(t * 1.3) * 4;
  flat('#b3472a', [
    236 + sway,
    360,
    250 + sway,
    246,
    292 + sway,
    214,
    348 + sway,
    214,
    390 + sway,
    246,
    404 + sway,
    360,
  ]);
  flat('#c98f6b', [304 + sway, 224, 336 + sway, 224, 334 + sway, 196, 306 + sway, 196]);
  g.fillStyle = '#c98f6b';
  g.beginPath();
  g.ellipse(320 + sway * 1.3, 158, 42, 52, 0, 0, 7);
  g.fill();
  flat('#14110f', [
    274 + sway * 1.3,
    150,
    282 + sway * 1.3,
    104,
    322 + sway * 1.3,
    92,
    362 + sway * 1.3,
    106,
    368 + sway * 1.3,
    148,
    346 + sway * 1.3,
    124,
    300 + sway * 1.3,
    122,
  ]);
  flat('#14110f', [
    300 + sway * 1.3,
    156,
    310 + sway * 1.3,
    153,
    310 + sway * 1.3,
    159,
    300 + sway * 1.3,
    161,
  ]);
  flat('#14110f', [
    330 + sway * 1.3,
    153,
    340 + sway * 1.3,
    156,
    340 + sway * 1.3,
    161,
    330 + sway * 1.3,
    159,
  ]);
  flat('#7a2f1c', [
    306 + sway * 1.3,
    186,
    334 + sway * 1.3,
    184,
    322 + sway * 1.3,
    193 + Math.abs(Math.sin(t * 5)) * 4,
  ]);
}
