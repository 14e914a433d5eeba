import { describe, expect, it } from '@jest/globals';
import { emptyShow } from '../ferry';
import { parseFromPhone, phoneAct, type PhonePerforms } from '../protocols';
import {
  addToPhone,
  apply,
  type Command,
  moveOnPhone,
  newHistory,
  parseShow,
  removeFromPhone,
  type Show,
} from '../show';
import { deedWords, phoneThings, usualPhone } from '.';

const show: Show = {
  ...emptyShow('phones', 'A night with phones'),
  looks: ['Calm', 'Storm'].map((name, i) => ({
    id: `look-${i}`,
    name,
    values: {},
    routes: {},
    key: i ? 'c' : null,
  })),
};

const after = (s: Show, command: Command): Show => apply(newHistory(s), 'a', command).show;

describe('a phone’s page', () => {
  it('is the usual one until something is put on it: go first, then what saves a night', () => {
    expect(
      usualPhone(show)
        .slice(0, 5)
        .map((t) => t.deed.do),
    ).toEqual(['go', 'back', 'home', 'dark', 'freeze']);
    expect(phoneThings(show)).toEqual(usualPhone(show));
    // Those on keys are meant to be taken at any time.
    const looks = usualPhone(show).flatMap(({ deed }) => (deed.do === 'look' ? [deed.look] : []));
    expect(looks).toEqual(['look-1', 'look-0']);
    const ids = usualPhone(show).map((t) => t.id);
    expect(new Set(ids).size).toBe(ids.length);
  });
  it('has things put before others, moved and taken off, and is read again as it was', () => {
    const put = (s: Show, id: string, at?: number): Show =>
      after(s, addToPhone({ id, deed: { do: 'look', look: 'x' }, size: 'half' }, at));
    const three = put(put(put(show, 'a'), 'b'), 'c', 0);
    const ids = (s: Show): string =>
      phoneThings(s)
        .map((t) => t.id)
        .join('');
    expect(ids(three)).toBe('cab');
    expect(ids(after(three, moveOnPhone('c', 2)))).toBe('abc');
    expect(ids(after(three, removeFromPhone('a')))).toBe('cb');
    expect(parseShow(JSON.parse(JSON.stringify(three))).phone).toEqual(three.phone);
  });
  it('takes nothing that lasts as long as it is held: a phone may go while it is', () => {
    const held = { ...show, phone: [{ id: 'f', deed: { do: 'flash', master: 'laser' }, size: 'half' }] };
    expect(() => parseShow(held)).toThrow(/as long as it is held/);
  });
  it('every thing performs what a bridge lets through', () => {
    const hand = { do: 'hand', thing: 'hills', parameter: 'x' } as const,
      all = [...usualPhone(show).map((t) => t.deed), hand, { do: 'cue', cue: 'c' } as const];
    for (const deed of all) {
      const act: PhonePerforms = phoneAct({ deed, stands: 0 }, 0.25);
      expect(parseFromPhone(JSON.stringify({ type: 'act', act }))).toEqual({ type: 'act', act });
    }
    expect(phoneAct({ deed: { do: 'dark' }, stands: 1 }, 1)).toEqual({ do: 'dark', on: false });
    expect(phoneAct({ deed: hand, stands: 0 }, 0.25)).toEqual({
      do: 'hand place',
      thing: 'hills',
      parameter: 'x',
      place: 0.25,
    });
  });
  it('what is gone stays, and says so', () => {
    expect(deedWords({ do: 'look', look: 'nobody' }, show)).toMatch(/gone/);
    expect(deedWords({ do: 'master', master: 'lamps' }, show)).toBe('Lamps');
  });
});
