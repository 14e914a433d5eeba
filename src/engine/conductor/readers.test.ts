import { afterEach, describe, expect, it } from '@jest/globals';
import { MessageChannel as Channel } from 'node:worker_threads';
import { Conductor } from '../../core/plan';
import { apply, changeShaping, type History, newHistory, setRest, type Show, undo } from '../../core/show';
import { ferryShow } from '../../core/ferry';
import { makeControlMemory } from '../memory/control';
import { EventWriter, makeEventMemory } from '../memory/eventRing';
import { FrameWriter, makeFrameMemory } from '../memory/frames';
import { OUTLET_PARTS, PICTURE_PARTS, type Blocks } from '../memory/messages';
import { PlanReader } from '../memory/planReader';
import { Readers } from './readers';

const hash = '0'.repeat(64);
const ferry = ferryShow({
  stems: { lowDrum: hash, snareDrum: hash, shaker: hash, bell: hash, voice: hash },
  badge: hash,
  tune: hash,
});
const opened: { close(): void }[] = [];
afterEach(() => {
  for (const port of opened.splice(0)) port.close();
});
const channel = (): { port1: MessagePort; port2: MessagePort } => {
  const made = new Channel();
  opened.push(made.port1, made.port2);
  return made as unknown as { port1: MessagePort; port2: MessagePort };
};
/** Until messages have arrived at the other end of a port. */
const settled = async (): Promise<void> => {
  for (let i = 0; i < 4; i++) await new Promise((done) => setImmediate(done));
};

function stage(life = 'one'): {
  readonly readers: Readers;
  readonly events: SharedArrayBuffer;
  readonly writer: FrameWriter;
  history: History;
  step(next: History): void;
} {
  const conductor = new Conductor();
  let history = newHistory(ferry);
  conductor.setShow(ferry);
  const events = makeEventMemory(),
    empty = new SharedArrayBuffer(8);
  const writer = new FrameWriter(
    makeFrameMemory(
      conductor.signalCapacity,
      conductor.parameterCapacity,
      conductor.vectorCapacity,
      conductor.epoch,
    ),
  );
  const blocks: Blocks = {
    life,
    control: makeControlMemory(),
    frames: writer.memory,
    events: makeEventMemory(),
    arrivals: events,
    traces: { data: empty, head: empty },
    field: { data: empty, head: empty },
  };
  const readers = new Readers();
  readers.tell({ blocks, map: conductor.map(), show: ferry }, { blocks: true, map: true }, null);
  return {
    readers,
    events,
    writer,
    get history() {
      return history;
    },
    step(next) {
      history = next;
      const { layout } = conductor;
      conductor.setShow(next.show);
      readers.tell(
        { blocks, map: conductor.map(), show: next.show },
        { blocks: false, map: conductor.layout !== layout },
        next.patches ?? null,
      );
    },
  };
}
const follow = <K extends keyof Show>(
  readers: Readers,
  id: string,
  wants: readonly K[],
): PlanReader<K> & { heard: number } => {
  const reader = Object.assign(new PlanReader<K>(), { heard: 0 }),
    { port1, port2 } = channel();
  readers.add(id, port1, wants);
  reader.listen(port2, () => reader.heard++);
  return reader;
};

describe('readers of a conductor', () => {
  it('do not pile up when the same one asks again and again: an edit is told to each once', async () => {
    const { readers, step, history } = stage();
    const reader = new PlanReader<'figures'>();
    let heard = 0;
    for (let i = 0; i < 3600; i++) {
      const { port1, port2 } = channel();
      readers.add('screen', port1, PICTURE_PARTS);
      if (i === 3599) reader.listen(port2, () => heard++);
    }
    await settled();
    expect(readers.count).toBe(1);
    const before = readers.sent;
    heard = 0;
    step(apply(history, 'move', setRest({ thing: 'ferry', parameter: 'height' }, 5)));
    await settled();
    expect(readers.sent - before).toBe(1);
    expect(heard).toBe(1);
  });
  it('are gone when they say goodbye', async () => {
    const { readers } = stage();
    const reader = follow(readers, 'a', PICTURE_PARTS);
    await settled();
    expect(readers.count).toBe(1);
    reader.leave();
    await settled();
    expect(readers.count).toBe(0);
  });
  it('hear nothing of an edit that does not concern them', async () => {
    const s = stage();
    const picture = follow(s.readers, 'picture', PICTURE_PARTS),
      lamps = follow(s.readers, 'lamps', ['fixtures']);
    await settled();
    expect([picture.heard, lamps.heard]).toEqual([1, 1]);
    for (let i = 1; i <= 30; i++)
      s.step(apply(s.history, 'amount', changeShaping(ferry.routes[0]!.id, { amount: i / 30 }), 'drag'));
    await settled();
    expect([picture.heard, lamps.heard]).toEqual([1, 1]);
    s.step(apply(s.history, 'move', setRest({ thing: 'ferry', parameter: 'height' }, 5)));
    await settled();
    expect([picture.heard, lamps.heard]).toEqual([2, 1]);
  });
  it('keep their frames, their map, and every thing that an edit did not touch', async () => {
    const s = stage();
    const picture = follow(s.readers, 'picture', PICTURE_PARTS);
    await settled();
    const { frames, map, show } = picture;
    s.step(apply(s.history, 'move', setRest({ thing: 'ferry', parameter: 'height' }, 5)));
    await settled();
    expect(picture.frames).toBe(frames);
    expect(picture.map).toBe(map);
    const at = ferry.figures.findIndex((f) => f.id === 'ferry');
    expect(picture.show!.figures[at]!.rest.height).toBe(5);
    picture.show!.figures.forEach((f, i) => {
      if (i !== at) expect(f).toBe(show!.figures[i]);
    });
    expect(picture.show!.finishes).toBe(show!.finishes);
    s.step(undo(s.history));
    await settled();
    expect(picture.show!.figures).toEqual(ferry.figures);
  });
  it('lose no event while something is dragged', async () => {
    const s = stage();
    const outlets = follow(s.readers, 'outlets', OUTLET_PARTS);
    await settled();
    const writer = new EventWriter(s.events),
      got: number[] = [];
    const overlay = ferry.overlays[0]!.id;
    for (let i = 0; i < 200; i++) {
      writer.write(7, i, 1);
      s.step(apply(s.history, 'drag', setRest({ thing: overlay, parameter: 'swell' }, 1 + i / 100), 'drag'));
      await settled();
      if (i % 3 === 0) outlets.arrivals!.drain((_, time) => got.push(time));
    }
    outlets.arrivals!.drain((_, time) => got.push(time));
    expect(got).toEqual(Array.from({ length: 200 }, (_, i) => i));
  });
  it('begin anew under another conductor, and only then', async () => {
    const a = stage(),
      b = stage('two');
    const reader = new PlanReader<'figures'>(),
      first = channel(),
      again = channel();
    a.readers.add('x', first.port1, ['figures']);
    reader.listen(first.port2, () => undefined);
    await settled();
    const { frames } = reader;
    a.readers.add('x', again.port1, ['figures']);
    reader.listen(again.port2, () => undefined);
    await settled();
    expect(reader.frames).toBe(frames);
    const other = channel();
    b.readers.add('x', other.port1, ['figures']);
    reader.listen(other.port2, () => undefined);
    await settled();
    expect(reader.frames).not.toBe(frames);
    expect(a.readers.count).toBe(0);
  });
});
