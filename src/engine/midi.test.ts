import { afterEach, describe, expect, it } from '@jest/globals';
import type { Making } from '../core/makers';
import { listMidi, MidiError, MidiParser, openMidi, SIMULATED_MIDI, type MidiListener } from './midi';
import { Touches } from './touches';

interface Heard {
  notes: (readonly number[])[];
  controls: (readonly (string | number)[])[];
  clocks: (readonly [number, number])[];
}
function listener(): MidiListener & Heard {
  const h: Heard = { notes: [], controls: [], clocks: [] };
  return {
    ...h,
    note: (c, k, v) => h.notes.push([c, k, v]),
    control: (m, c, n, v) => h.controls.push([m, c, n, Number(v.toFixed(4))]),
    clock: (b, t) => h.clocks.push([b, t]),
    gone: () => undefined,
    notes: h.notes,
    controls: h.controls,
    clocks: h.clocks,
  };
}
async function until(look: () => boolean): Promise<void> {
  const end = Date.now() + 20000;
  while (!look()) {
    if (Date.now() > end) throw new Error('waited 20 s');
    await new Promise((r) => setTimeout(r, 10));
  }
}

describe('MIDI messages', () => {
  it("are read by the standard's tables", () => {
    const l = listener(),
      p = new MidiParser(l);
    p.take([0x92, 60, 100], 0);
    p.take([0x82, 60, 64], 1);
    p.take([0x9f, 61, 0], 2);
    expect(l.notes).toEqual([
      [2, 60, 100],
      [2, 60, 0],
      [15, 61, 0],
    ]);
    p.take([0xb0, 7, 127], 3);
    p.take([0xb3, 1, 0], 4);
    p.take([0xe1, 0x7f, 0x7f], 5);
    p.take([0xe1, 0, 0x40], 6);
    p.take([0xd4, 64], 7);
    expect(l.controls).toEqual([
      ['controller', 0, 7, 1],
      ['controller', 3, 1, 0],
      ['bend', 1, 0, 1],
      ['bend', 1, 0, 0.5],
      ['pressure', 4, 0, 0.5039],
    ]);
  });
  it('all notes off ends every note and moves no control', () => {
    const l = listener(),
      p = new MidiParser(l);
    p.take([0xb5, 123, 0], 0);
    expect(l.notes).toHaveLength(128);
    expect(l.controls).toEqual([]);
  });
  it('a clock of 24 to the beat gives its tempo within a tenth of a beat a minute, however it jitters by a millisecond', () => {
    const l = listener(),
      p = new MidiParser(l),
      gap = 60000 / 128 / 24;
    p.take([0xfa], 0);
    for (let i = 0; i < 400; i++) p.take([0xf8], i * gap + (i % 3) - 1);
    expect(l.clocks.at(-1)![1]).toBeGreaterThan(127);
    expect(l.clocks.at(-1)![1]).toBeLessThan(129);
    expect(l.clocks.at(-1)![0]).toBeCloseTo(400 / 24, 6);
    p.take([0xfc], 9999);
    expect(l.clocks.at(-1)![1]).toBe(0);
  });
  it('rubbish is passed over', () => {
    const l = listener(),
      p = new MidiParser(l);
    for (const bytes of [[], [0xf0, 1, 2], [0xff], [0x05, 3], [0xc0, 4]]) p.take(bytes, 0);
    expect([l.notes, l.controls, l.clocks]).toEqual([[], [], []]);
  });
});

describe('devices', () => {
  it('where the browser has no MIDI only the simulated keyboard is listed, and another one is refused in words', async () => {
    expect(await listMidi()).toEqual([SIMULATED_MIDI]);
    await expect(openMidi('other', listener())).rejects.toThrow(MidiError);
    await expect(openMidi('other', listener())).rejects.toThrow('simulated keyboard');
  });
  it('the simulated keyboard plays, turns its wheel and sends a clock, and ends its notes when it is closed', async () => {
    const l = listener(),
      close = await openMidi(SIMULATED_MIDI.id, l);
    await until(
      () => l.notes.filter((n) => n[2]! > 0).length >= 3 && l.controls.length >= 3 && l.clocks.length > 5,
    );
    close();
    const n = l.notes.length;
    expect(new Set(l.notes.slice(-128).map((x) => x[2]))).toEqual(new Set([0]));
    await new Promise((r) => setTimeout(r, 60));
    expect(l.notes.length).toBe(n);
  });
});

describe('touches', () => {
  let touches: Touches | null = null;
  afterEach(() => touches?.close());
  const button = (touch: Extract<Making, { kind: 'button' }>['touch']): Making => ({
    kind: 'button',
    latching: false,
    key: null,
    touch,
  });
  it("carry the simulated keyboard's notes and wheel to the controls that learned them, and to no others", async () => {
    const moved = new Map<string, number[]>(),
      turned = new Set<string>();
    touches = new Touches(
      (act) => {
        if (act.do !== 'touch') throw new Error('a control does nothing but move');
        const list = moved.get(act.maker) ?? [];
        list.push(act.value);
        moved.set(act.maker, list);
      },
      (touch) => {
        if (touch.by === 'midi') turned.add(touch.message);
      },
      () => undefined,
      () => undefined,
    );
    touches.follow(
      [
        {
          id: 'pad',
          name: 'pad',
          making: button({ by: 'midi', device: 'simulated', message: 'note', channel: 1, number: 74 }),
        },
        {
          id: 'wheel',
          name: 'wheel',
          making: {
            kind: 'slider',
            touch: { by: 'midi', device: 'simulated', message: 'controller', channel: 1, number: 1 },
          },
        },
        {
          id: 'elsewhere',
          name: 'x',
          making: button({ by: 'midi', device: 'simulated', message: 'note', channel: 2, number: 74 }),
        },
        {
          id: 'real',
          name: 'x',
          making: button({ by: 'midi', device: 'abc', message: 'note', channel: 1, number: 74 }),
        },
        { id: 'free', name: 'x', making: button(null) },
      ],
      [],
    );
    await until(() => (moved.get('pad')?.length ?? 0) >= 3 && (moved.get('wheel')?.length ?? 0) >= 3);
    expect([...moved.keys()].sort()).toEqual(['pad', 'wheel']);
    expect(moved.get('pad')!.some((v) => v > 0.5)).toBe(true);
    expect(moved.get('pad')!.some((v) => v === 0)).toBe(true);
    expect(moved.get('wheel')!.every((v) => v >= 0 && v <= 1)).toBe(true);
    expect(turned).toEqual(new Set(['note', 'controller']));
  });
  it('are opened for grips alone too', async () => {
    const turned = new Set<string>();
    touches = new Touches(
      () => undefined,
      (touch) => turned.add(touch.by),
      () => undefined,
      () => undefined,
    );
    touches.follow(
      [],
      [
        {
          id: 'g',
          touch: { by: 'midi', device: 'simulated', message: 'controller', channel: 1, number: 1 },
          deed: { do: 'go' },
          page: null,
          answers: false,
        },
      ],
    );
    await until(() => turned.has('midi'));
  });
  it('open a controller that is plugged in again, and tell of it: its lights know nothing yet', async () => {
    const before = Object.getOwnPropertyDescriptor(globalThis, 'navigator');
    const port = (id: string): EventTarget & { id: string; state: string } =>
      Object.assign(new EventTarget(), { id, name: 'Box', type: 'input', state: 'connected' });
    const first = port('box'),
      access = Object.assign(new EventTarget(), { inputs: new Map([['box', first]]), outputs: new Map() });
    Object.defineProperty(globalThis, 'navigator', {
      configurable: true,
      value: {
        requestMIDIAccess: () => Promise.resolve(access),
        permissions: { query: () => Promise.resolve({ state: 'granted' }) },
      },
    });
    try {
      let opened = 0;
      const moved: number[] = [],
        troubles: string[] = [];
      touches = new Touches(
        () => undefined,
        (m) => {
          if (m.by === 'midi') moved.push(m.value);
        },
        (what) => troubles.push(what),
        () => opened++,
      );
      touches.follow(
        [],
        [
          {
            id: 'g',
            touch: { by: 'midi', device: 'box', message: 'controller', channel: 1, number: 7 },
            deed: { do: 'go' },
            page: null,
            answers: true,
          },
        ],
      );
      const turn = (on: EventTarget, value: number): boolean =>
        on.dispatchEvent(Object.assign(new Event('midimessage'), { data: [0xb0, 7, value] }));
      await until(() => opened === 1);
      turn(first, 127);
      expect(moved).toEqual([1]);
      first.state = 'disconnected';
      access.inputs.delete('box');
      first.dispatchEvent(new Event('statechange'));
      expect(troubles).toHaveLength(1);
      const again = port('box');
      access.inputs.set('box', again);
      access.dispatchEvent(Object.assign(new Event('statechange'), { port: again }));
      await until(() => opened === 2);
      turn(again, 0);
      expect(moved).toEqual([1, 0]);
    } finally {
      if (before) Object.defineProperty(globalThis, 'navigator', before);
      else delete (globalThis as { navigator?: unknown }).navigator;
    }
  });
});
