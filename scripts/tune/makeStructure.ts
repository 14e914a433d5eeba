/**
 * Makes what the hearing of structure is tuned on: frames and truth of planned dance pieces, and of music, lines and speech in which
 * nothing builds up. tsx scripts/tune/makeStructure.ts OUT known|unknown FROM TO [SECONDS]
 */
import { closeSync, openSync, writeFileSync, writeSync } from 'node:fs';
import { makeHop } from '../../src/core/audio/hop';
import { BandFrame } from '../../src/core/hearing/bandFrame';
import { STRUCTURE_INPUTS, StructureFrame } from '../../src/core/hearing/structureFrame';
import { makeArranged } from '../material/arranged';
import { makeDance } from '../material/dance';
import { formOf } from '../material/form';
import type { Side } from '../material/kinds';
import { lineSong } from '../material/lines';
import { drawTreatment, record } from '../material/record';
import type { Song } from '../material/song';

const [out, side, from, to] = [
  process.argv[2]!,
  process.argv[3]! as Side,
  Number(process.argv[4]),
  Number(process.argv[5]),
];
const seconds = Number(process.argv[6] ?? 200);
const file = openSync(`${out}.f32`, 'w');
const index: object[] = [];
let offset = 0;

function put(song: Song, seed: number): void {
  const { left, right } = record(song, drawTreatment(seed, side), seed),
    bands = new BandFrame(48000),
    frame = new StructureFrame(48000, 256),
    hop = makeHop(256),
    rows: number[] = [];
  for (let k = 0; k < Math.floor(left.length / 256); k++) {
    hop.left.set(left.subarray(k * 256, (k + 1) * 256));
    hop.right.set(right.subarray(k * 256, (k + 1) * 256));
    bands.process(hop);
    if (frame.take(bands)) rows.push(...frame.input);
  }
  writeSync(file, Float32Array.from(rows));
  const frames = rows.length / STRUCTURE_INPUTS;
  index.push({
    name: song.kind,
    from: song.from,
    offset,
    frames,
    passages: song.passages ?? [],
    downbeats: song.downbeats,
  });
  offset += frames;
  writeFileSync(`${out}.json`, JSON.stringify({ count: STRUCTURE_INPUTS, pieces: index }));
}

for (let seed = from; seed < to; seed++) {
  // One in six is no dance music: there nothing drops.
  const song =
    seed % 6 === 5
      ? seed % 12 === 5
        ? makeArranged(seed, side, 90)
        : lineSong(seed, side, 60)
      : makeDance(seed, side, seconds, formOf(seed));
  if (song) put(song, seed);
}
closeSync(file);
