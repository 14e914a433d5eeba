import { describe, expect, it } from '@jest/globals';
import { lapFrames, mixStems } from '../audio/stems';
import { dbToGain } from '../units';
import { emptyShow } from '../ferry/show';
import { replaceInput } from './commands';
import { apply, newHistory } from './history';
import { newInput } from './inputs';
import { playedInputOf, playedInputs, stemOfEar, STEMS_HEARD_MOST, wholeInputOf } from './stems';
import type { Ear, FilesInput } from './types';

const media = (n: number): string => `${n.toString(16).padStart(2, '0')}`.padEnd(64, '0');
const deck = (stems: number): FilesInput => ({
  ...newInput('deck', 'Deck', true),
  kind: 'files',
  loop: true,
  part: null,
  stems: Array.from({ length: stems }, (_, i) => ({ name: `stem ${i}`, media: media(i), gainDb: -3 * i })),
});
const ear = (stem: string | null, id = 'ear-1'): Ear => ({
  id,
  name: id,
  input: 'deck',
  channel: 'sum',
  stem,
  listening: { kind: 'level', reading: 'rms' },
});

describe('a stem that is heard by itself', () => {
  it('is played as an input of its own, with that stem at its gain and the others at none', () => {
    const inputs = [deck(3)],
      alone = ear(media(1));
    const [, played] = playedInputs(inputs, [alone, ear(media(1), 'ear-2'), ear(null, 'ear-3')]) as [
      FilesInput,
      FilesInput,
    ];
    expect(playedInputs(inputs, [alone, ear(media(1), 'ear-2')])).toHaveLength(2);
    expect([played.id, wholeInputOf(played.id)]).toEqual([playedInputOf(inputs, alone), 'deck']);
    expect(played.monitor.on).toBe(false);
    expect(played.stems.map((s) => dbToGain(s.gainDb))).toEqual([0, dbToGain(-3), 0]);
  });
  it('turns with the whole, though it is shorter', () => {
    const sounds = [Float32Array.of(1, 1, 1, 1), Float32Array.of(5, 5)];
    const played = playedInputs([deck(2)], [ear(media(1))])[1] as FilesInput;
    const stems = played.stems.map((s, i) => ({
      left: sounds[i]!,
      right: null,
      gain: dbToGain(s.gainDb) > 0 ? 1 : 0,
    }));
    const out = new Float32Array(10);
    mixStems(stems, lapFrames(stems), true, 0, out, new Float32Array(10), 0, 10);
    expect([...out]).toEqual([5, 5, 0, 0, 5, 5, 0, 0, 5, 5]);
  });
  it('is the very list where none is', () => {
    const inputs = [deck(3)];
    expect(playedInputs(inputs, [ear(null), ear(media(9))])).toBe(inputs);
    expect(playedInputs([deck(1)], [ear(media(0))])).toHaveLength(1);
    expect(stemOfEar(inputs, ear(media(9)))).toBeNull();
  });
  it('is one of so many at most', () => {
    const ears = Array.from({ length: 30 }, (_, i) => ear(media(i), `ear-${i}`));
    expect(playedInputs([deck(30)], ears)).toHaveLength(1 + STEMS_HEARD_MOST);
  });
  it('is heard by itself no longer when its input gets other files; undone, it is', () => {
    const show = { ...emptyShow('s', 'S'), inputs: [deck(3)], ears: [ear(media(2))] };
    const edited = apply(newHistory(show), 'change', replaceInput('deck', deck(2)));
    expect(edited.show.ears[0]).not.toHaveProperty('stem');
    expect(playedInputs(edited.show.inputs, edited.show.ears)).toHaveLength(1);
  });
});
