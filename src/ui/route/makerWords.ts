import { isNumbered, type Making, MAKING_LABELS, sourceOf } from '../../core/makers';
import { findSignal, type Show } from '../../core/show';

/** What a maker does, in words. */
export function makerWords(making: Making, show: Pick<Show, 'ears' | 'makers'>): string {
  const nameOf = (id: string | null): string =>
      id === null ? 'waits for a signal' : (findSignal(show, id)?.name ?? 'signal gone'),
    source = sourceOf(making),
    takes = 'on' in making || 'of' in making,
    from = !takes ? '' : source === null ? ', waits for a signal' : ` · ${nameOf(source)}`;
  switch (making.kind) {
    case 'oscillator':
      return `${making.shape}, ${making.every.unit === 'hz' ? `${short(making.every.value)} Hz` : making.every.value === 1 ? 'every beat' : `${short(making.every.value)} beats`}`;
    case 'random':
      return `${making.choices === null ? 'random' : `one of ${making.choices}`}${from}`;
    case 'slider':
    case 'button':
      return making.touch
        ? touchWords(making.touch)
        : making.kind === 'button' && making.key
          ? `key ${making.key.toUpperCase()}`
          : 'by hand';
    case 'clock':
      return { position: 'seconds of the show', sinceOpened: 'seconds since it was opened', beats: 'beats' }[
        making.reading
      ];
    case 'gate':
      return `gate${from} · while ${nameOf(making.and)}`;
    case 'pair':
      return `${making.makes}${from} · ${nameOf(making.and)}`;
    case 'prompter':
      return `${making.lines.length} ${making.lines.length === 1 ? 'line' : 'lines'}`;
    default:
      return `${MAKING_LABELS[making.kind].toLowerCase()}${from}`;
  }
}

export function touchWords(touch: NonNullable<Extract<Making, { kind: 'slider' }>['touch']>): string {
  return touch.by === 'osc'
    ? (deskWords(touch.address) ?? touch.address)
    : `${touch.message} ${isNumbered(touch.message) ? `${touch.number}, ` : ''}channel ${touch.channel}`;
}

/** What a desk's channel is called, or null for what is none. */
function deskWords(address: string): string | null {
  const [, universe, channel] = /^\/desk\/(\d+)\/(\d+)$/.exec(address) ?? [];
  return universe ? `desk, universe ${universe}, channel ${channel}` : null;
}

/** Three decimals at most, and no more than it has. */
function short(x: number): string {
  return String(Number(x.toFixed(3)));
}
