// Bundles the server and its sending thread, so that they are at work within a fraction of a second: one that ended is back before
// anybody asks where it is.
import { build } from 'esbuild';
import { copyFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const out = path.join(root, '.cache/server');
await build({
  entryPoints: {
    main: path.join(root, 'src/bridge/main.ts'),
    relay: path.join(root, 'src/bridge/relay/main.ts'),
    outletThread: path.join(root, 'src/bridge/outlets/outletThread.ts'),
  },
  outdir: out,
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  sourcemap: 'inline',
  logLevel: 'warning',
});
copyFileSync(path.join(root, 'src/bridge/nextChild.mjs'), path.join(out, 'nextChild.mjs'));
