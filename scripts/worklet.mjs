// Bundles the audio worklet into public/: addModule() wants one plain script, which the bundler of the pages cannot make.
import { build } from 'esbuild';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
await build({
  entryPoints: [path.join(root, 'src/engine/worklet/player.worklet.ts')],
  outfile: path.join(root, 'public/engine/player.worklet.js'),
  bundle: true,
  format: 'esm',
  target: 'es2022',
  minify: true,
  sourcemap: false,
  logLevel: 'warning',
});
