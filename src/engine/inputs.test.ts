import { afterEach, beforeEach, describe, expect, it } from '@jest/globals';
import type { Input } from '../core/show';
import { EngineInputs } from './inputs';
import type { DecodedSound, SoundReader } from './media';
import { makeControlMemory } from './memory/control';
import type { InputsMessage } from './memory/messages';

const hash = (n: number): string => String(n).repeat(64);
const common = { name: 'x', trimDb: 0, mono: false, monitor: { on: false, db: 0 } };
const tone = (id: string): Input =>
  ({ ...common, id, kind: 'tone', wave: 'sine', hz: 440, db: -18 }) as unknown as Input;
const files = (id: string, n: number): Input =>
  ({
    ...common,
    id,
    kind: 'files',
    stems: [{ media: hash(n), name: 'x.wav', gainDb: 0 }],
    loop: true,
    part: null,
  }) as unknown as Input;

/** Inputs that follow shows, with a decoder that counts what it is asked to decode. */
function stage(): {
  readonly decoded: string[];
  follow(...inputs: Input[]): Promise<InputsMessage['inputs']>;
} {
  const decoded: string[] = [];
  let last: InputsMessage | null = null;
  const sound: DecodedSound = { left: new SharedArrayBuffer(4), right: null, seconds: 1 };
  const inputs = new EngineInputs(
    { read: () => Promise.resolve(sound), record: () => undefined } as unknown as SoundReader,
    {
      media: (h) => {
        decoded.push(h);
        return Promise.resolve({ blob: new Blob(), name: 'x.wav' });
      },
      input: () => undefined,
      tell: (m) => {
        if (m.type === 'inputs') last = m;
      },
      sendToPlayer: () => undefined,
      control: makeControlMemory(),
      graph: () => null,
    },
  );
  return {
    decoded,
    follow: async (...list) => {
      await inputs.follow(list);
      return last!.inputs;
    },
  };
}

describe('inputs that come and go', () => {
  beforeEach(() => {
    Object.assign(globalThis, { navigator: {} });
  });
  afterEach(() => {
    Reflect.deleteProperty(globalThis, 'navigator');
  });

  it('a new one in the place of one that is gone has heard nothing of it; those that stay keep theirs', async () => {
    const { follow } = stage();
    const [a, b] = await follow(tone('a'), tone('b'));
    const [stays, comes] = await follow(tone('b'), tone('c'));
    expect(stays!.ring).toBe(b!.ring);
    expect(comes!.place).toBe(a!.place);
    expect(comes!.ring).not.toBe(a!.ring);
  });
  it('a sound that nothing plays any more is let go, and one that is still played is decoded once', async () => {
    const { follow, decoded } = stage();
    await follow(files('a', 1), files('b', 1), files('c', 2));
    expect(decoded).toEqual([hash(1), hash(2)]);
    await follow(files('b', 1), files('c', 2));
    await follow(files('b', 1));
    expect(decoded).toEqual([hash(1), hash(2)]);
    await follow(files('b', 1), files('c', 2));
    expect(decoded).toEqual([hash(1), hash(2), hash(2)]);
  });
});
