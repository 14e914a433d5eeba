import type { ParameterRun } from './parameterStore';

/** What a look makes of one parameter: where it was when the fade began, and where it goes. Three numbers each, for colours. */
export interface Held {
  readonly key: string;
  /** Where its parameter stands; none while nothing has it. */
  run: ParameterRun | undefined;
  readonly from: Float64Array;
  readonly goal: Float64Array;
  /** It goes back to its rest, wherever that is by then. */
  toRest: boolean;
}

export const newHeld = (key: string): Held => ({
  key,
  run: undefined,
  from: new Float64Array(3),
  goal: new Float64Array(3),
  toRest: true,
});

/** The look has no share in it any more. @param lookShare - of every place */
export function letGo({ run }: Held, lookShare: Float64Array): void {
  if (run) for (let k = 0; k < run.size; k++) lookShare[run.at + k] = 0;
}

/** Three numbers, without the object that handing them over in one call would make. */
export function put(into: Float64Array, a: number, b: number, c: number): void {
  into[0] = a;
  into[1] = b;
  into[2] = c;
}
export const copy = (from: Float64Array, into: Float64Array): void => put(into, from[0]!, from[1]!, from[2]!);

/** Whether a look's value is of the parameter's kind; that of one that is gone is kept as it is. */
export function suits(run: ParameterRun | undefined, value: number | string): boolean {
  return !run || (run.parameter.kind === 'colour') === (typeof value === 'string');
}
