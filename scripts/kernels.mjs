// npm run kernels: compiles src/core/kernels/assembly into src/core/kernels/compiled.ts. A test compares the two.
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { ensurePackages } from './ensure.mjs';

ensurePackages();
const { default: asc } = await import('assemblyscript/asc');
const folder = path.join(path.dirname(path.dirname(fileURLToPath(import.meta.url))), 'src/core/kernels');
let bytes = null;
const { error, stderr } = await asc.main(
  [
    path.join(folder, 'assembly/index.ts'),
    '--outFile',
    'kernels.wasm',
    '--optimizeLevel',
    '3',
    '--shrinkLevel',
    '0',
    '--runtime',
    'stub',
    '--enable',
    'simd',
    '--noAssert',
    '--initialMemory',
    '128',
    '--maximumMemory',
    '128',
  ],
  {
    writeFile: (name, contents) => {
      if (name.endsWith('.wasm')) bytes = contents;
    },
  },
);
if (error || !bytes) {
  console.error(stderr.toString(), error);
  process.exit(1);
}
const text = `/** Made by \`npm run kernels\` from \`assembly/index.ts\`: a WebAssembly module, base64. */\nexport const COMPILED = '${Buffer.from(bytes).toString('base64')}';\n`;
if (process.argv.includes('--print')) process.stdout.write(text);
else writeFileSync(path.join(folder, 'compiled.ts'), text);
