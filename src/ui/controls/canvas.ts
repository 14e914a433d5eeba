'use client';
import { useCallback, useRef, type RefCallback } from 'react';
import { useFrame } from '../live/live';

export interface Pen {
  readonly g: CanvasRenderingContext2D;
  readonly width: number;
  readonly height: number;
  readonly styles: CSSStyleDeclaration;
}

/**
 * A canvas that is drawn once a display frame from shared memory, sharp on any display. Only while it is on the screen.
 * @param draw - gets a cleared canvas in CSS pixels; return false to leave the last drawing as it is
 */
export function useCanvas(
  draw: (pen: Pen, now: number) => void,
  dirty: (now: number) => boolean = always,
): RefCallback<HTMLCanvasElement> {
  const state = useRef<{
    canvas: HTMLCanvasElement;
    g: CanvasRenderingContext2D;
    width: number;
    height: number;
    seen: boolean;
    styles: CSSStyleDeclaration;
    fresh: boolean;
  } | null>(null);
  const ref = useCallback((canvas: HTMLCanvasElement | null) => {
    if (!canvas) return;
    const g = canvas.getContext('2d');
    if (!g) return;
    const s = { canvas, g, width: 0, height: 0, seen: true, styles: getComputedStyle(canvas), fresh: true };
    state.current = s;
    const sized = new ResizeObserver(() => {
      const { clientWidth, clientHeight } = canvas;
      const scale = Math.min(2, window.devicePixelRatio || 1);
      canvas.width = Math.max(1, Math.round(clientWidth * scale));
      canvas.height = Math.max(1, Math.round(clientHeight * scale));
      g.setTransform(scale, 0, 0, scale, 0, 0);
      s.width = clientWidth;
      s.height = clientHeight;
      s.fresh = true;
    });
    const shown = new IntersectionObserver(([e]) => {
      s.seen = e?.isIntersecting ?? true;
    });
    sized.observe(canvas);
    shown.observe(canvas);
    return () => {
      sized.disconnect();
      shown.disconnect();
      state.current = null;
    };
  }, []);
  useFrame((now) => {
    const s = state.current;
    if (!s?.seen || s.width === 0 || (!s.fresh && !dirty(now))) return;
    s.fresh = false;
    s.g.clearRect(0, 0, s.width, s.height);
    draw(s, now);
  });
  return ref;
}
function always(): boolean {
  return true;
}

/** A true when the newest trace column is another than the last time: traces need no more than 47 drawings a second. */
export function columnChanged(newest: () => number): () => boolean {
  let last = NaN;
  return () => {
    const n = newest();
    if (n === last) return false;
    last = n;
    return true;
  };
}
