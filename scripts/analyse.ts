/** npm run -s analyse -- FILE.wav …: the streaming analysis over files, one JSON line each. */
import { readFile } from 'node:fs/promises';
import { analyseSound } from '../src/core/analyse/analyseSound';
import { readWav, WavError } from '../src/core/audio/wav';

const files = process.argv.slice(2);
if (files.length === 0) {
  console.error('Name one or more WAV files: npm run -s analyse -- FILE.wav …');
  process.exitCode = 1;
}
for (const file of files) {
  let line: object;
  try {
    const sound = readWav(await readFile(file));
    const began = performance.now();
    const analysis = analyseSound(sound);
    const seconds = (performance.now() - began) / 1000;
    line = {
      file,
      ...analysis,
      cost: {
        seconds: Number(seconds.toFixed(4)),
        realtimeFactor: Number((sound.duration / seconds).toFixed(2)),
      },
    };
  } catch (e) {
    line = { file, error: explain(e) };
    process.exitCode = 1;
  }
  // Long lines are written in full before the next file is read.
  await new Promise<void>((done) => process.stdout.write(`${JSON.stringify(line)}\n`, () => done()));
}

function explain(e: unknown): string {
  if (e instanceof WavError) return e.message;
  const code = (e as NodeJS.ErrnoException).code;
  if (code === 'ENOENT') return 'There is no such file.';
  if (code === 'EISDIR') return 'This is a folder, not a file.';
  if (code === 'EACCES') return 'This file may not be read: its permissions forbid it.';
  return e instanceof Error ? e.message : String(e);
}
