/** A parameter described once: the interface, routing, validation and saving all read this. */
export type ParameterDescription = NumberParameter | ColourParameter;

interface Common {
  readonly id: string;
  readonly label: string;
  /** What it does, in a few words, for the person who points at it. */
  readonly help: string;
  /** Smoothing that suits it when a level moves it, in ms. */
  readonly attackMs: number;
  readonly releaseMs: number;
  /** What it becomes under *dark*, where the output as a whole is not blacked out: its rest, or a value. */
  readonly dark?: 'rest' | number;
}

export interface NumberParameter extends Common {
  readonly kind: 'number';
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  /** What an arrow key changes. */
  readonly step: number;
  readonly rest: number;
  /** Where a new route takes it at full. */
  readonly reach: number;
  /**
   * For a speed: the conductor also keeps its sum over time, under `key:sum`, so that every screen agrees on the way that was
   * gone however often each of them draws. The sum starts over at this length. For a parameter that takes events: the sum of what
   * they brought.
   */
  readonly wrap?: number;
  /**
   * The pace of a film: where its own sound is in its file, in seconds, stands under `key:film`; less than 0 where the sound is no
   * input of the show.
   */
  readonly film?: boolean;
  /** It acts anew at each event that comes through its routes, with that event's own time and strength, and not at what it reads now. */
  readonly takesEvents?: boolean;
  /** It is how much light there is: masters scale it. */
  readonly light?: true;
  /** It has a value for each of many copies or points: a whole row of numbers can be laid over it. */
  readonly takesRow?: boolean;
}

export interface ColourParameter extends Common {
  readonly kind: 'colour';
  /** `#rrggbb` */
  readonly rest: string;
  readonly reach: string;
}

export type ParameterValue = number | string;

/** Numbers that a parameter takes in a frame: 1, or 3 for a colour (linear light, 0–1). */
export function parameterSize(d: ParameterDescription): 1 | 3 {
  return d.kind === 'colour' ? 3 : 1;
}

type NumberInput = Pick<
  NumberParameter,
  'id' | 'label' | 'help' | 'unit' | 'min' | 'max' | 'rest' | 'reach'
> &
  Partial<NumberParameter>;

export function numberParameter(d: NumberInput): NumberParameter {
  return { kind: 'number', step: (d.max - d.min) / 100, attackMs: 8, releaseMs: 140, ...d };
}
export function colourParameter(
  d: Pick<ColourParameter, 'id' | 'label' | 'help' | 'rest' | 'reach'> & Partial<ColourParameter>,
): ColourParameter {
  return { kind: 'colour', attackMs: 20, releaseMs: 250, ...d };
}

/** Whether a value may stand as this parameter's rest or reach. */
export function acceptsValue(d: ParameterDescription, value: unknown): value is ParameterValue {
  if (d.kind === 'colour') return typeof value === 'string' && /^#[0-9a-f]{6}$/i.test(value);
  return typeof value === 'number' && value >= d.min && value <= d.max;
}

/** A number as people read it: as many digits as the step asks for. */
export function formatNumber(value: number, d: Pick<NumberParameter, 'step' | 'unit'>): string {
  const digits = Math.max(0, Math.min(3, -Math.floor(Math.log10(d.step) + 1e-9)));
  const text = value
    .toFixed(digits)
    .replace(/^-(0(\.0*)?)$/, '$1')
    .replace('-', '−');
  return d.unit === '°' ? `${text}°` : d.unit ? `${text} ${d.unit}` : text;
}
