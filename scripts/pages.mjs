// Bundles the pages that other programs and machines load: one small script, one that draws, and the letters, each packed beforehand.
import { build } from 'esbuild';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const out = path.join(root, '.cache/pages');
/** Our own files do nothing by being loaded: what nobody uses is left out. */
const ours = {
  name: 'ours',
  setup(b) {
    b.onResolve({ filter: /^\.|^three$/ }, async (a) => {
      if (a.pluginData === 'asked') return undefined;
      const found = await b.resolve(a.path, {
        resolveDir: a.resolveDir,
        kind: a.kind,
        importer: a.importer,
        pluginData: 'asked',
      });
      return { ...found, sideEffects: false };
    });
  },
};
const { metafile } = await build({
  entryPoints: {
    page: path.join(root, 'src/page/page.ts'),
    drawer: path.join(root, 'src/page/drawer.worker.ts'),
  },
  outdir: out,
  write: false,
  entryNames: '[name]-[hash]',
  chunkNames: 'part-[hash]',
  bundle: true,
  splitting: true,
  format: 'esm',
  // Browsers of the last three years.
  target: ['chrome112', 'firefox115', 'safari17'],
  minify: true,
  metafile: true,
  logLevel: 'warning',
  plugins: [ours],
}).then((result) => {
  rmSync(out, { recursive: true, force: true });
  mkdirSync(out, { recursive: true });
  for (const file of result.outputFiles) put(path.basename(file.path), Buffer.from(file.contents));
  return result;
});

const named = (name) =>
  Object.keys(metafile.outputs)
    .map((f) => path.basename(f))
    .find((f) => f.startsWith(`${name}-`));

const FONTS = [
  [
    'Bricolage Grotesque Variable',
    '@fontsource-variable/bricolage-grotesque/files/bricolage-grotesque-latin-wght-normal.woff2',
    '200 800',
  ],
  [
    'Atkinson Hyperlegible',
    '@fontsource/atkinson-hyperlegible/files/atkinson-hyperlegible-latin-400-normal.woff2',
    '400',
  ],
  [
    'Atkinson Hyperlegible Mono',
    '@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-400-normal.woff2',
    '400',
  ],
];
const faces = FONTS.map(([family, file, weight]) => {
  const name = path.basename(file);
  writeFileSync(path.join(out, name), readFileSync(path.join(root, 'node_modules', file)));
  return `@font-face { font-family: "${family}"; font-weight: ${weight}; src: url(/page/${name}) format("woff2"); }`;
});
const page = readFileSync(path.join(root, 'src/page/page.html'), 'utf8')
  .replaceAll('DRAWER', named('drawer'))
  .replaceAll('PAGE', named('page'))
  .replace('FONTS', faces.join('\n'));
put('page.html', Buffer.from(page));

function put(name, bytes) {
  writeFileSync(path.join(out, name), bytes);
  writeFileSync(path.join(out, `${name}.gz`), gzipSync(bytes, { level: 9 }));
  writeFileSync(
    path.join(out, `${name}.br`),
    brotliCompressSync(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: 11 } }),
  );
}
