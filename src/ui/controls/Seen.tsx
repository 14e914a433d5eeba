'use client';
import { useEffect, useRef, useState, type CSSProperties, type ReactNode } from 'react';

/** What is made only while it is seen, or nearly: a room full of lamps is a room full of canvases otherwise. It keeps its size. */
export function Seen({ style, children }: { readonly style: CSSProperties; readonly children: ReactNode }) {
  const at = useRef<HTMLDivElement>(null);
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    const watch = new IntersectionObserver(([e]) => setSeen(e?.isIntersecting ?? false), {
      rootMargin: '200px',
    });
    if (at.current) watch.observe(at.current);
    return () => watch.disconnect();
  }, []);
  return (
    <div ref={at} style={style}>
      {seen && children}
    </div>
  );
}
