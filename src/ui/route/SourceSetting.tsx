'use client';
import { loopThrough, type Making } from '../../core/makers';
import { changeMaker, isRoutable, type Maker, signalsOf, tellsEvents } from '../../core/show';
import { Choice } from '../controls/Choice';
import { currentShow, edit, useSession } from '../state/session';
import { say } from '../state/notices';

/** What a maker takes from, where it takes from anything; `second` for the other of two. A way back to itself is refused, and named. */
export function SourceSetting({
  maker,
  second = false,
}: {
  readonly maker: Maker;
  readonly second?: boolean;
}) {
  const show = useSession((s) => s.history.show);
  const { making } = maker,
    key = second ? 'and' : 'on' in making ? 'on' : 'of';
  if (!(key in making)) return null;
  const value = (making as Readonly<Partial<Record<typeof key, string | null>>>)[key] ?? null;
  const options = signalsOf(show).filter(
    (s) => s.id !== maker.id && (key === 'on' ? tellsEvents(s) : s.kind === 'level' && isRoutable(s)),
  );
  const known = value === null || options.some((s) => s.id === value);
  const choose = (id: string): void => {
    const source = id === '' ? null : id;
    const { makers } = currentShow();
    const loop = source === null ? null : loopThrough(makers, maker.id, source);
    if (loop) {
      const names = loop.map((m) => makers.find((x) => x.id === m)?.name ?? m);
      say('warning', `That would feed itself: ${names.join(' ← ')}. Choose another signal.`);
      return;
    }
    edit(`change ${maker.name}`, changeMaker(maker.id, { making: { ...making, [key]: source } as Making }));
  };
  const words = { on: 'at', of: 'of', and: making.kind === 'gate' ? 'while' : 'and' }[key];
  return (
    <Choice
      label={words}
      name={`${second ? 'Second source' : 'Source'} of ${maker.name}`}
      value={value ?? ''}
      options={[
        ['', 'choose a signal'] as const,
        ...(known ? [] : [[value, 'signal gone'] as const]),
        ...options.map((s) => [s.id, s.name] as const),
      ]}
      onChange={choose}
    />
  );
}
