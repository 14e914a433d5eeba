/** Makes the Night Ferry's sounds, its badge, and the truth about them, into public/demo. The same bytes on every run. */
import { createHash } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { FERRY_BADGE, ferryTune, renderFerry } from '../src/core/ferry/demo';
import { FERRY_DEFINITIONS } from '../src/core/ferry/fixtures';
import { strToU8, zipSync } from 'fflate';
import { writeWav } from '../src/core/audio/wav';
import { SAMPLE_RATE } from '../src/core/units';

const folder = path.join(import.meta.dirname, '../public/demo');
mkdirSync(folder, { recursive: true });
const { stems, truth } = renderFerry();
const hash = (bytes: Uint8Array | string): string => createHash('sha256').update(bytes).digest('hex');
const hashes: Record<string, string> = {};
for (const [name, samples] of Object.entries(stems)) {
  const bytes = writeWav([samples], SAMPLE_RATE, 16);
  hashes[name] = hash(bytes);
  writeFileSync(path.join(folder, `${name}.wav`), bytes);
}
// The ferry's own lamps, as fixture files to read anywhere.
for (const [name, description] of Object.entries(FERRY_DEFINITIONS))
  writeFileSync(
    path.join(folder, `${name}.gdtf`),
    zipSync({ 'description.xml': [strToU8(description), { mtime: new Date('2026-01-01T00:00:00') }] }),
  );
writeFileSync(path.join(folder, 'badge.svg'), FERRY_BADGE);
const tune = ferryTune();
writeFileSync(path.join(folder, 'bell.mid'), tune);
writeFileSync(path.join(folder, 'truth.json'), JSON.stringify(truth));
writeFileSync(
  path.join(folder, 'manifest.json'),
  JSON.stringify({ stems: hashes, badge: hash(FERRY_BADGE), tune: hash(tune) }),
);
