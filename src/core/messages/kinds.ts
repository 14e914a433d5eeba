import type { Milliseconds } from '../units';
import { numberParameter, type ParameterDescription } from '../parameters/description';

/** Where a message to another program goes. */
export type MessageTarget =
  /** The receiver that ships with us, on loopback. */
  { readonly kind: 'simulated' } | { readonly kind: 'network'; readonly host: string; readonly port: number };

export const OSC_TYPES = ['float', 'int'] as const;
export type OscType = (typeof OSC_TYPES)[number];

/** What is said to another program, over OSC: to one address, a number between two others. */
export interface OscForm {
  readonly kind: 'osc';
  readonly target: MessageTarget;
  /** OSC address: begins with a slash. */
  readonly address: string;
  readonly type: OscType;
  /** What is sent at 0 and at 100 %. */
  readonly low: number;
  readonly high: number;
  /** Sent as a bundle, to be followed so long after what it tells of happened, or at once (null); absent: as a plain message. */
  readonly bundle?: { readonly afterMs: Milliseconds | null };
}
/** Latest that a bundle may be followed. */
export const BUNDLE_AFTER_MOST: Milliseconds = 5000;
/** What is said to a device, over MIDI. */
export interface MidiForm {
  readonly kind: 'midi';
  /** Id of the device, as the browser names it. */
  readonly device: string;
  readonly deviceName: string;
  /** A controller follows the value; a note sounds at each strike; the clock is the show's beat. */
  readonly says: (typeof MIDI_SAYS)[number];
  /** 1 to 16. */
  readonly channel: number;
  /** Of the controller or the key, 0 to 127. */
  readonly number: number;
  /** How long a note sounds. */
  readonly holdMs: Milliseconds;
}
export const MIDI_SAYS = ['controller', 'note', 'clock'] as const;
export type MessageForm = OscForm | MidiForm;

/** A value that changes is sent no more often than this in a second. */
export const MESSAGE_RATE = 60;
/** Letters of an OSC address. */
export const ADDRESS_MOST = 120;

/** Whether a text may stand as an OSC address that is sent to (OSC 1.0: printable ASCII without the letters of patterns). */
export function isOscAddress(text: string): boolean {
  return text.length <= ADDRESS_MOST && /^(\/[^\s#*,/?[\]{}]+)+$/.test(text) && /^[\x21-\x7e]+$/.test(text);
}

const PARAMETERS: readonly ParameterDescription[] = [
  numberParameter({
    id: 'value',
    label: 'value',
    help: 'What is said: each change is sent, sixty times a second at most.',
    unit: '%',
    min: 0,
    max: 100,
    step: 0.1,
    rest: 0,
    reach: 100,
    dark: 'rest',
  }),
  numberParameter({
    id: 'strike',
    label: 'strike',
    help: 'Each hit is sent at once, as its strength.',
    unit: '%',
    min: 0,
    max: 100,
    step: 1,
    rest: 0,
    reach: 100,
    dark: 'rest',
    takesEvents: true,
  }),
];
/** What a message is, in words. */
export function messageWords(form: MessageForm): string {
  return form.kind === 'osc'
    ? `OSC to ${form.address}`
    : form.says === 'clock'
      ? `MIDI clock, ${form.deviceName}`
      : `MIDI ${form.says} ${form.number} on channel ${form.channel}, ${form.deviceName}`;
}
/** The clock is moved by the show's beat and by nothing else. */
export const messageParameters = (form: MessageForm): readonly ParameterDescription[] =>
  form.kind === 'midi' && form.says === 'clock' ? [] : PARAMETERS;

/** The number that is sent. @param share - 0 to 1; what is no number is the low end */
export function saidOf({ type, low, high }: Pick<OscForm, 'type' | 'low' | 'high'>, share: number): number {
  const x = low + (high - low) * (share > 0 ? Math.min(1, share) : 0);
  return type === 'int' ? Math.round(x) : x;
}
