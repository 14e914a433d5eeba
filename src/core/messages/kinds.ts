import { numberParameter, type ParameterDescription } from '../parameters/description';

/** Where a message to another program goes. */
export type MessageTarget =
  /** The receiver that ships with us, on loopback. */
  { readonly kind: 'simulated' } | { readonly kind: 'network'; readonly host: string; readonly port: number };

export const OSC_TYPES = ['float', 'int'] as const;
export type OscType = (typeof OSC_TYPES)[number];

/** What is said to another program, over OSC: to one address, a number between two others. */
export interface MessageForm {
  readonly kind: 'osc';
  readonly target: MessageTarget;
  /** OSC address: begins with a slash. */
  readonly address: string;
  readonly type: OscType;
  /** What is sent at 0 and at 100 %. */
  readonly low: number;
  readonly high: number;
}
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
export const messageParameters = (): readonly ParameterDescription[] => PARAMETERS;

/** The number that is sent. @param share - 0 to 1; what is no number is the low end */
export function saidOf(
  { type, low, high }: Pick<MessageForm, 'type' | 'low' | 'high'>,
  share: number,
): number {
  const x = low + (high - low) * (share > 0 ? Math.min(1, share) : 0);
  return type === 'int' ? Math.round(x) : x;
}
