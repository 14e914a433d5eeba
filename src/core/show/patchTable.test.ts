import { describe, expect, it } from '@jest/globals';
import { ferryShow } from '../ferry/show';
import { apply, newHistory, undo } from './history';
import { patchFromTable, patchToCsv } from './patchTable';
import { parseShow } from './schema';
import type { Show } from './types';

const m = 'a'.repeat(64);
const ferry = ferryShow({
  stems: { lowDrum: m, snareDrum: m, shaker: m, bell: m, voice: m },
  badge: m,
  tune: m,
});
const read = (text: string, show: Show = ferry) => patchFromTable(text, show);
const done = (text: string, show: Show = ferry): Show =>
  apply(newHistory(show), 'x', read(text, show).command).show;

describe('the patch as a table', () => {
  it('goes out and comes in again as it was', () => {
    const csv = patchToCsv(ferry),
      { changed, added, problems } = read(csv);
    expect([changed, added, problems]).toEqual([ferry.fixtures.length, 0, []]);
    expect(done(csv).fixtures).toEqual(ferry.fixtures);
    expect(csv.split('\n')[0]).toBe('name,kind,columns,rows,universe,address,group,across,height,depth');
  });
  it('changes what is known by name, adds what is not, in one step that is undone', () => {
    const table = 'name\tuniverse\taddress\nRail lamp left\t4\t100\nBow light\t4\t1\nBow light 2\t4\t';
    const h = apply(newHistory(ferry), 'x', read(table).command),
      of = (name: string) => h.show.fixtures.find((f) => f.name === name)!;
    expect([of('Rail lamp left').universe, of('Rail lamp left').address]).toEqual([3, 100]);
    expect([of('Bow light').mode, of('Bow light').address, of('Bow light 2').address]).toEqual(['rgb', 1, 4]);
    expect(() => parseShow(h.show)).not.toThrow();
    expect(undo(h).show.fixtures).toEqual(ferry.fixtures);
  });
  it('without a first row of names is name, kind, universe, address', () => {
    const made = done(
      'Bow,dimmer,9,12\nStern,"colour lamp with white, 4 channels",9,20\nKeel,pixel bar,9,100',
    ).fixtures.slice(-3);
    expect(made.map((f) => [f.name, f.mode, f.universe, f.address])).toEqual([
      ['Bow', 'dimmer', 8, 12],
      ['Stern', 'rgbw', 8, 20],
      ['Keel', 'bar', 8, 100],
    ]);
  });
  it('says what cannot be used, row by row, and takes the rest', () => {
    const { added, changed, problems } = read(
      'name,kind,universe,address\nA,rgb,0,1\nB,lantern,1,1\nC,rgb,1,511\n,rgb,1,1\nD,rgb,7,x\nE,rgb,7,1\nE,rgb,7,9',
    );
    expect([added, changed]).toEqual([1, 0]);
    expect(problems.map((p) => p.slice(0, 40))).toEqual([
      'Row 2 (A): universe is “0”; it must be a',
      'Row 3 (B): the kind “lantern” is not kno',
      'Row 4 (C): at address 511 it would reach',
      'Row 5: it has no name.',
      'Row 6 (D): address is “x”; it must be a ',
      'Row 8 (E): this name stands in the table',
    ]);
    expect(read('').problems).toEqual([]);
  });
  it('writes nothing that a spreadsheet would take for a formula', () => {
    const tricky = { ...ferry, fixtures: [{ ...ferry.fixtures[0]!, name: '=1+1', group: '@x' }] };
    const csv = patchToCsv(tricky);
    expect(csv).toContain("'=1+1");
    expect(read(csv, tricky).changed).toBe(1);
  });
});
