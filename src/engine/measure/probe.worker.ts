import { SAMPLE_RATE } from '../../core/units';
import { Control, Real, Word, type ControlMemory } from '../memory/control';
import { FrameReader, type FrameMemory } from '../memory/frames';
import { Received } from '../memory/received';

/** What is timed: a burst that comes round every `period`, and where its effects are to be seen. */
export interface ProbeTask {
  readonly control: ControlMemory;
  readonly frames: FrameMemory;
  readonly received: SharedArrayBuffer;
  /** Seconds of the show's position at which the burst begins, and after which it comes again. */
  readonly onset: number;
  readonly period: number;
  readonly slot: number;
  readonly goal: number;
  readonly universe: number;
  readonly address: number;
  readonly byteGoal: number;
  readonly bursts: number;
}
/** Milliseconds from the block that carried the burst's first sample to the parameter, and to the decoded packet. */
export interface ProbeResult {
  readonly parameter: readonly number[];
  readonly packet: readonly number[];
  /** When each burst began, in ms since 1970. */
  readonly starts: readonly number[];
}

/** Times the way of a sound through the running application, in one clock. It sleeps between two looks, half a millisecond each. */
function probe(task: ProbeTask): ProbeResult {
  const control = new Control(task.control);
  const reader = new FrameReader(task.frames);
  const received = new Received(task.received);
  const parameter: number[] = [],
    packet: number[] = [],
    starts: number[] = [];
  const lapOf = (): number =>
    Math.floor((control.reals[Real.Position]! / SAMPLE_RATE - task.onset) / task.period);
  let lap = lapOf();
  let start = NaN,
    waitParameter = false,
    waitPacket = false;
  const deadline = performance.now() + (task.bursts + 4) * task.period * 1000;
  while (packet.length < task.bursts && performance.now() < deadline) {
    Atomics.wait(control.words, Word.Wake, control.get(Word.Wake), 0.5);
    const now = performance.now();
    const next = lapOf();
    if (next !== lap) {
      lap = next;
      start = now;
      starts.push(performance.timeOrigin + now);
      waitParameter = waitPacket = true;
    }
    if (waitParameter) {
      reader.read();
      if (reader.parameters[task.slot]! >= task.goal) {
        parameter.push(now - start);
        waitParameter = false;
      }
    }
    if (waitPacket && received.channel('artnet', task.universe, task.address) >= task.byteGoal) {
      packet.push(now - start);
      waitPacket = false;
    }
  }
  return { parameter, packet, starts };
}

self.onmessage = (e: MessageEvent<ProbeTask>) => (globalThis as unknown as Worker).postMessage(probe(e.data));
