import { describe, expect, it } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { keep, keptOf } from './kept';

const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-kept-')),
  measured = {
    figures: [{ group: 'hits', figure: 'F', value: 0.9, unit: '', aim: '≥ 0.8' }],
    absent: ['hits: a soundfont'],
    shown: null,
  };
describe('figures that are kept', () => {
  it('are those of the same state, and of no other', () => {
    expect(keptOf(folder, 'hits', 'a')).toBeNull();
    keep(folder, 'hits', 'a', measured);
    expect(keptOf(folder, 'hits', 'a')).toEqual(measured);
    expect(keptOf(folder, 'hits', 'b')).toBeNull();
    expect(keptOf(folder, 'beat', 'a')).toBeNull();
  });
  it('are measured anew when their file is torn', () => {
    writeFileSync(path.join(folder, 'hits.json'), '{"state":"a","fig');
    expect(keptOf(folder, 'hits', 'a')).toBeNull();
  });
});
