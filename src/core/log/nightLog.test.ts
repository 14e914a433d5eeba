import { describe, expect, it } from '@jest/globals';
import type { Performed } from '../acts';
import { ferryShow } from '../ferry';
import { EMPTY_STAGE } from '../show';
import { actWords, logAsCsv, logAsJsonLines, type LogLine, NightLog, summaryOf } from '.';

const show = ferryShow({
  stems: { lowDrum: 'a', snareDrum: 'a', shaker: 'a', bell: 'a', voice: 'a' },
  badge: 'a',
  tune: 'a',
});
const written = (): { log: NightLog; lines: LogLine[] } => {
  const lines: LogLine[] = [];
  return { log: new NightLog((l) => lines.push(l)), lines };
};

describe('the night’s log', () => {
  it('writes who did what by name, and of what is dragged only where it came to', () => {
    const { log, lines } = written();
    const slide = (value: number, at: number, hand: number): Performed => ({
      act: { do: 'master', master: 'lamps', value },
      who: 'phone',
      hand,
      at,
    });
    log.acts(show, [
      slide(0.9, 1, 2),
      { act: { do: 'go' }, who: 'window', at: 2 },
      slide(0.4, 3, 2),
      { act: { do: 'dark', on: true, over: 2 }, who: 'midi', at: 4 },
    ]);
    expect(lines.map((l) => [l.at, l.kind, l.who, l.what])).toEqual([
      [2, 'act', 'window', 'go'],
      [3, 'act', 'phone 2', 'master Lamps 40 %'],
      [4, 'act', 'midi', 'dark on over 2 s'],
    ]);
    expect(lines[1]!.act).toEqual({ do: 'master', master: 'lamps', value: 0.4 });
  });

  it('names cues, looks and parameters, and says of what is gone that it is', () => {
    const [cue] = show.cues,
      [look] = show.looks;
    expect(actWords(show, { do: 'cue', cue: cue!.id })).toBe(`cue ${cue!.number} ${cue!.name}`);
    expect(actWords(show, { do: 'look', look: look!.id })).toBe(`look ${look!.name}`);
    expect(actWords(show, { do: 'hand', key: 'ferry/tilt', value: [2] })).toMatch(/^Ferry .*held at 2$/);
    expect(actWords(show, { do: 'hand', key: 'nothing/tilt', value: [2] })).toBe(
      'nothing/tilt (gone) held at 2',
    );
    expect(actWords(show, { do: 'look', look: 'x' })).toBe('look x (gone)');
  });

  it('writes a fault once however its count rises, and how long it lasted when it is mended', () => {
    const { log, lines } = written();
    log.faults([{ who: 'Sound', what: '3 ticks failed.' }], 1000);
    log.faults(
      [
        { who: 'Sound', what: '17 ticks failed.' },
        { who: 'Lamps', what: 'The lamp cable is out.' },
      ],
      2000,
    );
    log.faults([{ who: 'Lamps', what: 'The lamp cable is out.' }], 3500);
    log.faults([], 4000);
    expect(lines.map((l) => [l.at, l.kind, l.who, l.number])).toEqual([
      [1000, 'fault', 'Sound', undefined],
      [2000, 'fault', 'Lamps', undefined],
      [3500, 'mended', 'Sound', 2.5],
      [4000, 'mended', 'Lamps', 2],
    ]);
  });

  it('writes what comes in, also by itself, and after a reload not again', () => {
    const { log, lines } = written(),
      [cue] = show.cues,
      look = show.looks.find((l) => l.id === cue!.look),
      at = { ...EMPTY_STAGE, cue: cue!.id, look: cue!.look };
    log.show(show.name, at, 0);
    log.stage(show, at, 1);
    expect(lines.map((l) => l.kind)).toEqual(['show']);
    log.stage(show, { ...at, look: null, cue: null }, 2);
    log.stage(show, { ...at, look: null, cue: null }, 3);
    log.stage(show, at, 4);
    const { fade } = cue!;
    expect([fade.unit, fade.from, cue!.delay]).toEqual(['seconds', 'now', 0]);
    expect(lines.slice(1)).toEqual([
      { at: 2, kind: 'cue', who: '', what: 'everything as it rests' },
      {
        at: 4,
        kind: 'cue',
        who: `cue ${cue!.number} ${cue!.name}`,
        what: `${look!.name}, fades over ${fade.length} seconds`,
      },
    ]);
  });

  it('writes a tempo when it changed by a beat a minute or comes from elsewhere', () => {
    const { log, lines } = written();
    for (const [bpm, source] of [
      [120, 'found'],
      [120.6, 'found'],
      [121.2, 'found'],
      [121.2, 'tapped'],
      [0, 'tapped'],
    ] as const)
      log.tempo(bpm, source, 5);
    expect(lines.map((l) => [l.who, l.number])).toEqual([
      ['found', 120],
      ['found', 121.2],
      ['tapped', 121.2],
      ['tapped', 0],
    ]);
  });
});

describe('a log as a file', () => {
  const iso = (at: number): string => new Date(at).toISOString();
  const lines: LogLine[] = [
    {
      at: Date.UTC(2026, 0, 2, 3, 4, 5, 6),
      kind: 'act',
      who: 'phone 1',
      what: 'look “a, b”',
      act: { do: 'look', look: 'l' },
    },
    { at: Date.UTC(2026, 0, 2, 3, 4, 6), kind: 'fault', who: 'Sound', what: '=1+1 says "no"' },
    { at: Date.UTC(2026, 0, 2, 3, 4, 7), kind: 'level', who: 'Mix', what: 'loudest', number: -6.2 },
  ];
  it('is one JSON object a line, which reads back as it was', () => {
    const read = logAsJsonLines(lines, iso)
      .trimEnd()
      .split('\n')
      .map((l) => JSON.parse(l) as LogLine & { time: string });
    expect(read.map(({ time: _, ...l }) => l)).toEqual(lines);
    expect(read[0]!.time).toBe('2026-01-02T03:04:05.006Z');
  });
  it('is a table in which commas and quotes stay in their cells, and nothing is a formula', () => {
    expect(logAsCsv(lines, iso).split('\r\n')).toEqual([
      'time,kind,who,what,number',
      '2026-01-02T03:04:05.006Z,act,phone 1,"look “a, b”",',
      '2026-01-02T03:04:06.000Z,fault,Sound,"\'=1+1 says ""no""",',
      '2026-01-02T03:04:07.000Z,level,Mix,loudest,-6.2',
      '',
    ]);
  });
  it('is summed up: what was done, what is still open, how loud it was', () => {
    const { counts, open, loudest, from, to } = summaryOf(lines);
    expect([counts.act, counts.fault, counts.mended, open, loudest, to - from]).toEqual([
      1, 1, 0, 1, -6.2, 1994,
    ]);
    expect(summaryOf([]).loudest).toBeNaN();
  });
});
