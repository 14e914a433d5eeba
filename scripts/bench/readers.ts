import { MessageChannel as Channel } from 'node:worker_threads';
import { serialize } from 'node:v8';
import { crowdShow } from '../../e2e/crowd';
import { Conductor } from '../../src/core/plan/conductor';
import { changeFigure, changeShaping } from '../../src/core/show/commands';
import { apply, newHistory, type Command } from '../../src/core/show/history';
import { Readers } from '../../src/engine/conductor/readers';
import { makeControlMemory } from '../../src/engine/memory/control';
import { makeEventMemory } from '../../src/engine/memory/eventRing';
import { makeFrameMemory } from '../../src/engine/memory/frames';
import { OUTLET_PARTS, PICTURE_PARTS, type Blocks } from '../../src/engine/memory/messages';

export interface ReadersBench {
  /** For one step of a drag: messages to readers, and their bytes as they are copied. */
  readonly amount: { readonly messages: number; readonly bytes: number };
  readonly figure: { readonly messages: number; readonly bytes: number };
  /** The same after an hour in which each screen asked once a second. */
  readonly amountLater: { readonly messages: number; readonly bytes: number };
  readonly figureLater: { readonly messages: number; readonly bytes: number };
  /** Median milliseconds of a tick, still and with a step of a drag before each. */
  readonly tickStill: number;
  readonly tickDragged: number;
  readonly editDragged: number;
}

/** 300 routes, three screens and the ways out: what one step of a drag costs those who follow the show. */
export function measureReaders(): ReadersBench {
  const conductor = new Conductor();
  let history = newHistory(crowdShow(300));
  conductor.setShow(history.show);
  const memory = makeFrameMemory(
    conductor.signalCapacity,
    conductor.parameterCapacity,
    conductor.vectorCapacity,
    conductor.epoch,
  );
  const empty = new SharedArrayBuffer(8),
    blocks: Blocks = {
      life: 'bench',
      control: makeControlMemory(),
      frames: memory,
      events: makeEventMemory(),
      arrivals: makeEventMemory(),
      traces: { data: empty, head: empty },
      field: { data: empty, head: empty },
    };
  const readers = new Readers();
  let messages = 0,
    bytes = 0;
  const join = (id: string, wants: typeof PICTURE_PARTS | typeof OUTLET_PARTS): void => {
    const { port1 } = new Channel();
    const counted = port1 as unknown as MessagePort,
      post = counted.postMessage.bind(counted);
    counted.postMessage = (message: unknown): void => {
      messages++;
      // Shared memory is not copied: only its wrapper is.
      bytes += serialize(JSON.parse(JSON.stringify(message))).length;
      post(message);
    };
    readers.add(id, counted, wants);
  };
  const all = (): void => {
    for (const screen of ['screen 1', 'screen 2', 'screen 3']) join(screen, PICTURE_PARTS);
  };
  readers.tell({ blocks, map: conductor.map(), show: history.show }, { blocks: true, map: true }, null);
  join('outlets', OUTLET_PARTS);
  all();
  const step = (command: Command): void => {
    const { layout } = conductor;
    history = apply(history, 'drag', command, 'drag');
    conductor.setShow(history.show);
    readers.tell(
      { blocks, map: conductor.map(), show: history.show },
      { blocks: false, map: conductor.layout !== layout },
      history.patches ?? null,
    );
  };
  let turn = 0;
  const amount = (): Command => changeShaping('r7', { amount: 0.5 + (turn++ % 100) / 200 });
  const figure = (): Command => changeFigure('ferry', { at: { x: 600 + (turn++ % 50), y: 300 } });
  const counted = (command: Command): { messages: number; bytes: number } => {
    messages = bytes = 0;
    step(command);
    return { messages, bytes };
  };
  const first = { amount: counted(amount()), figure: counted(figure()) };
  for (let second = 0; second < 3600; second++) all();
  const later = { amountLater: counted(amount()), figureLater: counted(figure()) };
  const silence = { fill: (): boolean => false };
  const median = (x: number[]): number => x.sort((a, b) => a - b)[x.length >> 1]!;
  const still: number[] = [],
    dragged: number[] = [],
    edits: number[] = [];
  for (let i = 0; i < 1200; i++) {
    const from = performance.now();
    if (i >= 600) step(amount());
    const between = performance.now();
    conductor.tick(i, silence);
    (i >= 600 ? dragged : still).push(performance.now() - between);
    if (i >= 600) edits.push(between - from);
  }
  readers.remove('outlets');
  for (const screen of ['screen 1', 'screen 2', 'screen 3']) readers.remove(screen);
  return {
    ...first,
    ...later,
    tickStill: median(still),
    tickDragged: median(dragged),
    editDragged: median(edits),
  };
}
