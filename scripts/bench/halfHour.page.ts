/** Runs in a page: half an hour of a show under a fast clock, from its sound to its pixels, with the graphics device lost ten times. @see ./picture.ts */
import { renderFerry, type FerrySound } from '../../src/core/ferry/demo';
import { Conductor, type PlanMap } from '../../src/core/plan/conductor';
import type { Show } from '../../src/core/show/types';
import { HOP, SAMPLE_RATE } from '../../src/core/units';
import { makeControlMemory } from '../../src/engine/memory/control';
import { makeEventMemory } from '../../src/engine/memory/eventRing';
import { FrameWriter, makeFrameMemory } from '../../src/engine/memory/frames';
import { PICTURE_PARTS, type FromPicture, type ToReader } from '../../src/engine/memory/messages';
import { Picture } from '../../src/engine/picture/picture';

export interface HalfHour {
  /** Bytes on the heap beyond what was there after its first third: until then the browser still makes machine code of what runs often. */
  readonly grownBytes: number;
  /** Geometries and textures on the graphics device beyond those of the first minute. */
  readonly grownParts: number;
  readonly pictures: number;
  readonly hits: number;
  readonly lost: number;
  readonly troubles: readonly string[];
}
const HOPS_A_SECOND = SAMPLE_RATE / HOP,
  PICTURES_A_SECOND = 3;

/** Empties the heap of all that nothing holds; the page's own `gc` leaves some of it for later. From the one who runs the page. */
declare const collect: () => Promise<void>;

/** One time for the picture, which goes as fast as the show does. */
const clock = { ms: 0, next: null as FrameRequestCallback | null };
const turn = (): Promise<void> =>
  new Promise((r) => {
    const { port1, port2 } = new MessageChannel();
    port2.onmessage = () => {
      port1.close();
      r();
    };
    port1.postMessage(0);
  });

async function halfHour(show: Show, minutes: number, losses: number): Promise<HalfHour> {
  performance.now = () => clock.ms;
  globalThis.requestAnimationFrame = (draw) => {
    clock.next = draw;
    return 1;
  };
  const used = async (): Promise<number> => {
    await collect();
    return (performance as unknown as { memory: { usedJSHeapSize: number } }).memory.usedJSHeapSize;
  };
  const { stems }: FerrySound = renderFerry();
  const conductor = new Conductor();
  conductor.setShow(show);
  const writer = new FrameWriter(
    makeFrameMemory(
      conductor.signalCapacity,
      conductor.parameterCapacity,
      conductor.vectorCapacity,
      conductor.epoch,
    ),
  );
  const map: PlanMap = conductor.map(),
    counted = Object.entries(map.signals)
      .filter(([name]) => show.ears.some((e) => e.id === name && e.listening.kind === 'hit'))
      .map(([, at]) => at);
  let held = 0,
    lost = 0,
    well = 0,
    pictures = 0,
    hop = 0;
  const troubles = new Set<string>();
  const heard = (m: FromPicture): void => {
    if (m.type === 'rate') {
      held = m.onDevice;
      pictures += m.framesPerSecond;
    } else if (m.type === 'well') well++;
    else if (m.type === 'trouble') {
      if (m.what.includes('comes back by itself')) lost++;
      else troubles.add(m.what);
    }
  };
  const picture = new Picture(heard, new OffscreenCanvas(64, 36), 64, 36, false);
  const { port1, port2 } = new MessageChannel();
  picture.listen(port2);
  const control = makeControlMemory(),
    empty = new SharedArrayBuffer(8);
  port1.postMessage({
    blocks: {
      life: 'half an hour',
      control,
      frames: writer.memory,
      events: makeEventMemory(),
      arrivals: makeEventMemory(),
      traces: { data: empty, head: empty },
      field: { data: empty, head: empty },
    },
    map,
    // Under a clock of its own the governor knows nothing of what a picture costs.
    show: {
      ...Object.fromEntries(PICTURE_PARTS.map((part) => [part, show[part]])),
      budget: { ...show.budget, on: false },
    },
  } satisfies ToReader);
  await turn();
  await turn();

  const source = {
    position: 0,
    playing: true,
    fill: (input: string, into: { left: Float32Array; right: Float32Array; mono: boolean }): boolean => {
      const list =
        input === 'host'
          ? [stems.voice]
          : input === 'deck'
            ? [stems.lowDrum, stems.snareDrum, stems.shaker, stems.bell]
            : null;
      if (!list) return false;
      into.left.fill(0);
      const { length } = stems.voice,
        from = (hop * HOP) % length;
      for (const stem of list) for (let i = 0; i < HOP; i++) into.left[i]! += stem[(from + i) % length]!;
      into.right.set(into.left);
      into.mono = true;
      return true;
    },
  };
  let k = 0;
  const run = async (seconds: number): Promise<void> => {
    for (const until = k + seconds * PICTURES_A_SECOND; k < until;) {
      for (const to = Math.round((++k * HOPS_A_SECOND) / PICTURES_A_SECOND); hop < to; hop++) {
        source.position = ((hop + 1) * HOP) / SAMPLE_RATE;
        conductor.tick(hop, source);
        writer.write(conductor, hop, source.position);
      }
      clock.ms = (k * 1000) / PICTURES_A_SECOND;
      const draw = clock.next;
      clock.next = null;
      draw?.(clock.ms);
      await turn();
      // A third of a second is long for a device; of the fast clock's it is given some of the real one's.
      await new Promise((done) => setTimeout(done, 8));
    }
  };
  await run(60);
  const parts = held;
  let bytes = NaN;
  for (let i = 0; i < losses; i++) {
    await run(((minutes - 2) * 60) / losses);
    const before = well;
    picture.lose();
    // That takes its time by the real clock, while the show goes on.
    for (let tries = 0; well === before && tries < 2000; tries++) {
      await run(1 / PICTURES_A_SECOND);
      await new Promise((r) => setTimeout(r, 5));
    }
    if (i + 1 === Math.ceil(losses / 3)) bytes = await used();
  }
  await run(60);
  return {
    grownBytes: (await used()) - bytes,
    grownParts: held - parts,
    pictures: Math.round(pictures),
    hits: counted.reduce((n, at) => n + conductor.counts[at]!, 0),
    lost: Math.min(lost, well),
    troubles: [...troubles],
  };
}
Object.assign(globalThis, { halfHour });
