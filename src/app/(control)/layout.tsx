import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter';
import '@fontsource-variable/bricolage-grotesque';
import '@fontsource/atkinson-hyperlegible/400.css';
import '@fontsource/atkinson-hyperlegible/700.css';
import '@fontsource/atkinson-hyperlegible-mono/400.css';
import '@fontsource/atkinson-hyperlegible-mono/700.css';
import type { Metadata, Viewport } from 'next';
import type { ReactNode } from 'react';

export const metadata: Metadata = {
  title: 'Batucada',
  description: 'Listens to live sound, and lets it move pictures, overlays and lamps.',
  icons: { icon: '/icon.svg' },
};
export const viewport: Viewport = { themeColor: '#14110f', width: 'device-width', initialScale: 1 };

export default function ControlLayout({ children }: { readonly children: ReactNode }) {
  return (
    <html lang="en">
      <body style={{ margin: 0, background: '#14110f' }}>
        <AppRouterCacheProvider options={{ key: 'b' }}>{children}</AppRouterCacheProvider>
      </body>
    </html>
  );
}
