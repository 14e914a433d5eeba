/**
 * Makes what the hearing of structure is tuned on: frames and truth of planned dance pieces, and of music, lines and speech in which
 * nothing builds up. tsx scripts/tune/makeStructure.ts OUT known|unknown FROM TO [SECONDS [plain]]
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
import { mixPiece, stillSound } from '../material/mix';
import { drawTreatment, record } from '../material/record';
import { makePiece } from '../material/score';
import type { Song } from '../material/song';
import { makeSpeech } from '../material/speech';

const [out, side, from, to] = [
  process.argv[2]!,
  process.argv[3]! as Side,
  Number(process.argv[4]),
  Number(process.argv[5]),
];
const seconds = Number(process.argv[6] ?? 200),
  only = process.argv[7];
const file = openSync(`${out}.f32`, 'w');
const index: object[] = [];
let offset = 0;

interface About {
  readonly name: string;
  readonly from: readonly string[];
  readonly passages: Song['passages'];
}
function put(left: Float32Array, right: Float32Array, { name, from: made, passages = [] }: About): void {
  const bands = new BandFrame(48000),
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
  index.push({ name, from: made, offset, frames, passages });
  offset += frames;
  writeFileSync(`${out}.json`, JSON.stringify({ count: STRUCTURE_INPUTS, pieces: index }));
}
function putSong(song: Song | null, seed: number): void {
  if (!song) return;
  const { left, right } = record(song, drawTreatment(seed, side), seed);
  put(left, right, { name: song.kind, from: song.from, passages: song.passages });
}

const STILL = ['white', 'pink', 'brown', 'hum', 'chord'] as const;
/** What is no dance music: there nothing drops. */
const PLAIN: readonly ((seed: number) => void)[] = [
  (seed) => putSong(makeArranged(seed, side, 90), seed),
  (seed) => putSong(lineSong(seed, side, 60), seed),
  (seed) => {
    const { left, right } = mixPiece(makePiece(seed, { seconds: 60 }), {
      source: 'own',
      bedDb: seed % 2 ? -6 : -Infinity,
      peakDb: -6,
      seed,
    });
    put(left, right, { name: 'pattern', from: [], passages: [] });
  },
  (seed) => {
    const sound = stillSound(STILL[seed % STILL.length]!, 60, seed);
    put(sound, sound, { name: 'still', from: [], passages: [] });
  },
  (seed) => {
    const { sound } = makeSpeech(seed, 60);
    put(sound, sound, { name: 'speech', from: [], passages: [] });
  },
];

for (let seed = from; seed < to; seed++)
  if (only === 'plain' || seed % 6 === 5)
    PLAIN[Math.floor(seed / (only === 'plain' ? 1 : 6)) % PLAIN.length]!(seed);
  else putSong(makeDance(seed, side, seconds, formOf(seed)), seed);
closeSync(file);
