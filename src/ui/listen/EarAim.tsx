'use client';
import { type Channel, CHANNELS } from '../../core/hearing';
import { type Ear, stemOfEar } from '../../core/show';
import { Choice } from '../controls/Choice';
import { useSession } from '../state/session';
import { CHANNEL_WORDS } from './names';

/** The input that an ear hears, or a single stem of one. */
export function HearsOf({
  ear,
  bare = false,
  onChange,
}: {
  readonly ear: Ear;
  /** Without the word before it. */
  readonly bare?: boolean;
  readonly onChange: (change: Pick<Ear, 'input' | 'stem'>) => void;
}) {
  const inputs = useSession((s) => s.history.show.inputs);
  const notes = ear.listening.kind === 'notes';
  const options = inputs
    .filter((i) => (i.kind === 'notes') === notes)
    .flatMap((i): [string, string][] => [
      [i.id, i.name],
      ...(i.kind === 'files' && i.stems.length > 1
        ? i.stems.map((s): [string, string] => [`${i.id} ${s.media}`, `${i.name} · ${s.name}`])
        : []),
    ]);
  const stem = stemOfEar(inputs, ear);
  const value = stem ? `${ear.input} ${stem.media}` : ear.input;
  return (
    <Choice
      label={bare ? '' : 'hears'}
      name="Input that it hears"
      value={value}
      options={options.some(([v]) => v === value) ? options : [[value, 'input gone'], ...options]}
      onChange={(v) => {
        const [input, media] = v.split(' ');
        onChange({ input: input!, stem: media ?? null });
      }}
    />
  );
}

/** The channel that an ear hears. */
export function ChannelOf({
  ear,
  bare = false,
  onChange,
}: {
  readonly ear: Ear;
  /** Without the word before it. */
  readonly bare?: boolean;
  readonly onChange: (change: Pick<Ear, 'channel'>) => void;
}) {
  return (
    <Choice<Channel>
      label={bare ? '' : 'channel'}
      name="channel"
      value={ear.channel}
      options={CHANNELS.map((c) => [c, CHANNEL_WORDS[c]] as const)}
      onChange={(channel) => onChange({ channel })}
    />
  );
}
/** What is listened for that belongs to no channel: notes, and the show's beat. */
export const hearsChannels = ({ listening }: Ear): boolean =>
  listening.kind !== 'notes' && listening.kind !== 'beat';
