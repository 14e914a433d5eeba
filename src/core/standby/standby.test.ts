import { describe, expect, it } from '@jest/globals';
import { Standby, type First } from '.';

const WELL: First = { drives: true, armed: true },
  EMPTY: First = { drives: false, armed: true };

/** Plays what a first says, four times a second, from one second to another. */
function play(s: Standby, from: number, to: number, says: First | null): string[] {
  const states: string[] = [];
  for (let t = from * 1000; t < to * 1000; t += 250) {
    if (says) s.heard(says, t);
    s.step(t);
    states.push(`${s.state}${s.armed ? ' armed' : ''}`);
  }
  return [...new Set(states)];
}

describe('a second computer', () => {
  it('sends nothing before it ever heard the first, however long that takes', () => {
    const s = new Standby();
    expect(play(s, 0, 600, null)).toEqual(['waits']);
    expect(play(s, 600, 1200, EMPTY)).toEqual(['waits']);
  });
  it('takes over two seconds after the first falls silent, and not before', () => {
    const s = new Standby();
    expect(play(s, 0, 10, WELL)).toEqual(['follows']);
    expect(play(s, 10, 11.9, null)).toEqual(['follows']);
    expect(play(s, 12, 13, null)).toEqual(['drives armed']);
  });
  it('lets the first’s page be loaded anew, and takes over when it stays away', () => {
    const s = new Standby();
    play(s, 0, 10, WELL);
    expect(play(s, 10, 13.5, EMPTY)).toEqual(['follows']);
    expect(play(s, 13.5, 14, WELL)).toEqual(['follows']);
    expect(play(s, 14, 17.9, EMPTY)).toEqual(['follows']);
    expect(play(s, 18, 20, EMPTY)).toEqual(['drives armed']);
  });
  it('never lets packets out that did not leave the first', () => {
    const s = new Standby();
    play(s, 0, 10, { drives: true, armed: false });
    expect(play(s, 10, 20, null)).toEqual(['follows', 'drives']);
  });
  it('started anew while it drove, it drives again unless the first is heard at once', () => {
    const gone = new Standby({ armed: true }, 0);
    expect(play(gone, 0, 1, null)).toEqual(['follows']);
    expect(play(gone, 1.25, 2, null)).toEqual(['drives armed']);
    const unarmed = new Standby({ armed: false }, 0);
    expect(play(unarmed, 0, 2, null)).toEqual(['follows', 'drives']);
    const back = new Standby({ armed: true }, 0);
    expect(play(back, 0.25, 10, WELL)).toEqual(['follows']);
  });
  it('gives back as soon as the first sends again, and goes on while it is only back', () => {
    const s = new Standby();
    play(s, 0, 10, WELL);
    play(s, 10, 20, null);
    expect(play(s, 20, 25, { drives: true, armed: false })).toEqual(['drives armed']);
    expect(play(s, 25, 26, WELL)).toEqual(['follows']);
  });
});
