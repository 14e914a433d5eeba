import type { Input } from './types';

/** What every kind of input begins with. A microphone is never heard unless asked, or the room howls. */
export function newInput(
  id: string,
  name: string,
  heard: boolean,
): Pick<Input, 'id' | 'name' | 'trimDb' | 'autoGain' | 'delayMs' | 'monitor'> {
  return { id, name, trimDb: 0, autoGain: false, delayMs: 0, monitor: { on: heard, db: heard ? -6 : -12 } };
}

/** Media that an input plays. */
export function mediaOfInput(input: Input): readonly string[] {
  if (input.kind === 'files') return input.stems.map((s) => s.media);
  return input.kind === 'notes' && input.from.kind === 'file' ? [input.from.media] : [];
}

/**
 * Inputs in an order in which every mix comes after its parts, so that one pass serves all. A mix that contains itself by any
 * way loses that part: it is listed among `loops`.
 */
export function inInputOrder(inputs: readonly Input[]): {
  readonly order: readonly Input[];
  readonly loops: ReadonlySet<string>;
} {
  const order: Input[] = [],
    loops = new Set<string>(),
    state = new Map<string, 'open' | 'done'>();
  const byId = new Map(inputs.map((i) => [i.id, i]));
  const visit = (input: Input): void => {
    if (state.has(input.id)) return;
    state.set(input.id, 'open');
    if (input.kind === 'mix')
      for (const { input: part } of input.parts) {
        const next = byId.get(part);
        if (!next) continue;
        if (state.get(part) === 'open') loops.add(`${input.id} ${part}`);
        else visit(next);
      }
    state.set(input.id, 'done');
    order.push(input);
  };
  inputs.forEach(visit);
  return { order, loops };
}
