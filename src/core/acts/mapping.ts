import { isNumbered, type Touch } from '../makers/making';
import type { Maker } from '../show/types';
import { clamp } from '../units';
import type { Act } from './act';

/** The keyboard that needs no cable. */
export const SIMULATED_MIDI_ID = 'simulated';

/** Which hand controls of a show are moved by what: made once for each list of makers. */
export interface TouchMap {
  readonly midi: readonly { readonly maker: string; readonly touch: Extract<Touch, { by: 'midi' }> }[];
  readonly osc: ReadonlyMap<
    string,
    readonly { readonly maker: string; readonly touch: Extract<Touch, { by: 'osc' }> }[]
  >;
}

export function touchMap(makers: readonly Maker[]): TouchMap {
  const midi: TouchMap['midi'][number][] = [],
    osc = new Map<string, { maker: string; touch: Extract<Touch, { by: 'osc' }> }[]>();
  for (const { id, making } of makers) {
    if ((making.kind !== 'slider' && making.kind !== 'button') || !making.touch) continue;
    const { touch } = making;
    if (touch.by === 'midi') midi.push({ maker: id, touch });
    else osc.set(touch.address, [...(osc.get(touch.address) ?? []), { maker: id, touch }]);
  }
  return { midi, osc };
}

/** What a number from the network performs. @param value - as it came */
export function actsOfOsc(map: TouchMap, address: string, value: number): Act[] {
  return (map.osc.get(address) ?? []).map(({ maker, touch }) => ({
    do: 'touch',
    maker,
    // Plus nothing: an end that is turned round would be a negative zero.
    value: clamp((value - touch.low) / (touch.high - touch.low), 0, 1) + 0,
  }));
}

/** A message of a MIDI controller: its channel from 0, its number, and its value from 0 to 1. */
export interface MidiTouch {
  readonly message: Extract<Touch, { by: 'midi' }>['message'];
  readonly channel: number;
  readonly number: number;
  readonly value: number;
  /** It comes from the keyboard that needs no cable: that never plays what was learned from a real one, nor the other way about. */
  readonly simulated: boolean;
}
/** What a controller performs. @param simulatedId - the id of the keyboard that needs no cable */
export function actsOfMidi(map: TouchMap, midi: MidiTouch, simulatedId: string): Act[] {
  const { message, channel, number, value, simulated } = midi;
  return map.midi.flatMap(({ maker, touch }): Act[] => {
    if (touch.message !== message || touch.channel !== channel + 1) return [];
    if (isNumbered(message) && touch.number !== number) return [];
    if ((touch.device === simulatedId) !== simulated) return [];
    // A pressed key is pressed, however softly; its strength goes along.
    return [{ do: 'touch', maker, value: message === 'note' && value > 0 ? 0.5 + value / 2 : value }];
  });
}
