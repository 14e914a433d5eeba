import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import '@fontsource-variable/bricolage-grotesque';
import '@fontsource/atkinson-hyperlegible/400.css';
import '@fontsource/atkinson-hyperlegible-mono/400.css';

export const metadata: Metadata = { title: 'Batucada page', icons: { icon: '/icon.svg' } };

/** Pages for other programs: no theme, no shared memory, nothing behind what they draw. */
export default function PagesLayout({ children }: { readonly children: ReactNode }) {
  return (
    <html lang="en" style={{ background: 'transparent' }}>
      <body style={{ margin: 0, background: 'transparent', overflow: 'hidden' }}>{children}</body>
    </html>
  );
}
