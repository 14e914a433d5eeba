'use client';
import { useSyncExternalStore } from 'react';
import { HostCamera } from './HostCamera';

const never = (): (() => void) => () => undefined;

/** A streaming program's stand-in: a drawn camera, and the overlay page over it, loaded as such a program loads it. */
export function StreamPage({ id }: { readonly id: string }) {
  const search = useSyncExternalStore(
    never,
    () => location.search,
    () => null,
  );
  return (
    <main style={{ position: 'fixed', inset: 0, background: '#0d1b23' }}>
      <h1 style={{ position: 'absolute', width: 1, height: 1, overflow: 'hidden', clipPath: 'inset(50%)' }}>
        The stream
      </h1>
      <HostCamera />
      {search !== null && (
        <iframe
          title="Overlay"
          src={`/overlay/${encodeURIComponent(id)}${search}`}
          style={{
            position: 'absolute',
            inset: 0,
            width: '100%',
            height: '100%',
            border: 'none',
            background: 'transparent',
          }}
        />
      )}
    </main>
  );
}
