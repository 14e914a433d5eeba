import { describe, expect, it } from '@jest/globals';
import { makeHop } from '../audio/hop';
import { seeded } from '../random';
import { BandFrame } from './bandFrame';
import { STRUCTURE_HOPS, STRUCTURE_INPUTS, StructureFrame } from './structureFrame';
import { StructureListener, TURNS } from './structureListener';

const HOP_S = 256 / 48000;
/** A sound by the sample's number, as hops of bands. */
function run(
  seconds: number,
  sound: (i: number) => number,
  each: (bands: BandFrame, k: number) => void,
): void {
  const bands = new BandFrame(48000),
    hop = makeHop(256);
  for (let k = 0; k < seconds / HOP_S; k++) {
    for (let i = 0; i < 256; i++) hop.left[i] = hop.right[i] = sound(k * 256 + i);
    hop.time = k * HOP_S;
    bands.process(hop);
    each(bands, k);
  }
}
/** A bass drum twice a second, a hat between, over noise. */
function groove(gain = 1): (i: number) => number {
  const random = seeded(5);
  return (i) => {
    const t = (i / 48000) % 0.5,
      hat = (i / 48000 + 0.25) % 0.5;
    return (
      gain *
      (0.7 * Math.sin(2 * Math.PI * 55 * t) * Math.exp(-t / 0.09) +
        (random() - 0.5) * (0.25 * Math.exp(-hat / 0.02) + 0.02))
    );
  };
}

describe('how the sound stands to the last half minute', () => {
  it('is told every eighth hop, in numbers that do not depend on how loud it is set', () => {
    const frames = (gain: number): number[][] => {
      const frame = new StructureFrame(48000, 256),
        rows: number[][] = [];
      run(4, groove(gain), (bands, k) => {
        const fresh = frame.take(bands);
        expect(fresh).toBe(k % STRUCTURE_HOPS === STRUCTURE_HOPS - 1);
        if (fresh) rows.push([...frame.input]);
      });
      return rows;
    };
    const loud = frames(1),
      soft = frames(0.25);
    expect(loud[40]).toHaveLength(STRUCTURE_INPUTS);
    // After the first second, in which silence is still told from sound.
    for (let r = 30; r < loud.length; r++)
      loud[r]!.forEach((x, i) => expect(Math.abs(x - soft[r]![i]!)).toBeLessThan(0.1));
  });
  it('says how long ago the low end rose', () => {
    const frame = new StructureFrame(48000, 256);
    let wrong = 0,
      seen = 0;
    run(4, groove(), (bands, k) => {
      if (!frame.take(bands) || frame.lowRise < 12) return;
      seen++;
      const at = (k + 1) * HOP_S - frame.lowAgo * HOP_S,
        off = Math.abs(at / 0.5 - Math.round(at / 0.5)) * 0.5;
      if (off > 0.03) wrong++;
    });
    expect(seen).toBeGreaterThan(5);
    expect(wrong).toBe(0);
  });
});

describe('the course of a piece', () => {
  const turns = (seconds: number, sound: (i: number) => number): string[] => {
    const listener = new StructureListener(48000, 256),
      told: string[] = [];
    run(seconds, sound, (bands) => {
      listener.process(bands);
      TURNS.forEach((t, i) => {
        if (listener.told[i]) told.push(t);
      });
      expect(listener.progress).toBeGreaterThanOrEqual(0);
      expect(listener.progress).toBeLessThanOrEqual(1);
    });
    return told;
  };
  it('has no drop and no build in silence, in noise, and in a groove that goes on', () => {
    const random = seeded(3);
    for (const sound of [() => 0, () => random() - 0.5, groove()])
      expect(turns(40, sound).filter((t) => t === 'drop' || t === 'build')).toEqual([]);
  });
  it('is not stopped by what is no number', () => {
    const play = groove();
    expect(() => turns(12, (i) => (i > 96000 && i < 97000 ? NaN : play(i)))).not.toThrow();
  });
  it('knows phrases by the bars of the show’s tempo', () => {
    const listener = new StructureListener(48000, 256);
    let beat = 0,
      whole = 0,
      before = 0;
    listener.pace = {
      bpm: 120,
      beatsPerBar: 4,
      get bar() {
        return (beat / 4) % 1;
      },
      get isBar() {
        return whole > before;
      },
      get beatAgo() {
        return 0;
      },
    };
    let bars = 0,
      late = 0;
    run(
      34,
      () => 0,
      (bands, k) => {
        beat = (k + 1) * HOP_S * 2;
        before = whole;
        whole = Math.floor(beat / 4 + 1e-9);
        listener.process(bands);
        if (!listener.barBegins) return;
        bars++;
        late = Math.max(late, listener.barAgo);
        expect(listener.grid.bar).toBe(bars - 1);
      },
    );
    expect(bars).toBe(17);
    expect(late).toBeLessThanOrEqual(HOP_S);
  });
});
