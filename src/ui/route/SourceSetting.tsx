'use client';
import { loopThrough, type Making } from '../../core/makers';
import { changeMaker, isRoutable, type Maker, signalsOf, tellsEvents } from '../../core/show';
import { Choice } from '../controls/Choice';
import { currentShow, edit, useSession } from '../state/session';
import { say } from '../state/notices';

/** What a maker takes from, where it takes from anything. A way back to itself is refused, and named. */
export function SourceSetting({ maker }: { readonly maker: Maker }) {
  const show = useSession((s) => s.history.show);
  const { making } = maker;
  if (!('on' in making) && !('of' in making)) return null;
  const events = 'on' in making;
  const value = 'on' in making ? making.on : making.of;
  const options = signalsOf(show).filter(
    (s) => s.id !== maker.id && (events ? tellsEvents(s) : s.kind === 'level' && isRoutable(s)),
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
    const next = { ...making, ...(events ? { on: source } : { of: source }) } as Making;
    edit(`change ${maker.name}`, changeMaker(maker.id, { making: next }));
  };
  return (
    <Choice
      label={events ? 'at' : 'of'}
      name={`Source of ${maker.name}`}
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
