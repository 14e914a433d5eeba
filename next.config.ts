import type { NextConfig } from 'next';

const isolation = [
  // Without these three the page has no SharedArrayBuffer, on which the whole engine rests.
  { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
  { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
  { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
];
// Overlay pages run in other programs and over plain http, where an opener policy is only noise in the console.
// The embedder policy lets the control window show them in a frame.
const embeddable = [
  { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
  { key: 'Cross-Origin-Resource-Policy', value: 'cross-origin' },
];

const config: NextConfig = {
  reactStrictMode: true,
  poweredByHeader: false,
  devIndicators: false,
  compress: false,
  typescript: { ignoreBuildErrors: true }, // `npm test` runs the compiler over everything, tests included
  headers: async () => [
    { source: '/((?!overlay/|picture/|stream/).*)', headers: isolation },
    { source: '/overlay/:path*', headers: embeddable },
    { source: '/picture/:path*', headers: embeddable },
    { source: '/stream/:path*', headers: embeddable },
  ],
};
export default config;
