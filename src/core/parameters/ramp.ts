import { clamp } from '../units';
import { toHex, toLinear } from './colour';

/** One ink of a ramp. */
export interface RampStop {
  /** Where on it, 0 to 1. */
  readonly at: number;
  /** `#rrggbb`, or the id of a colour parameter of the thing that has the ramp: that ink is moved as any parameter is. */
  readonly ink: string;
}
/** Most inks of a ramp. */
export const RAMP_MOST = 16;

/** The ramp of a thing to which nothing was done: its own inks, evenly apart. */
export function plainRamp(inks: readonly string[]): readonly RampStop[] {
  return inks.map((ink, i) => ({ at: inks.length > 1 ? i / (inks.length - 1) : 0, ink }));
}

/** In their order; inks of the thing that were left out stand where they usually do, so that none is without effect. */
export function wholeRamp(
  stops: readonly RampStop[] | null | undefined,
  inks: readonly string[],
): readonly RampStop[] {
  if (!stops) return plainRamp(inks);
  const missing = plainRamp(inks).filter((p) => !stops.some((s) => s.ink === p.ink));
  return [...stops, ...missing].sort((a, b) => a.at - b.at).slice(0, RAMP_MOST);
}

/**
 * The colour at a place of a ramp, in linear light, as the picture's shaders mix it.
 * @param stops - four numbers each, in order: linear red, green, blue, and where @param count - how many
 * @param x - 0 to 1 @param out - receives three numbers
 */
export function rampColour(
  stops: ArrayLike<number>,
  count: number,
  x: number,
  out: Float32Array | number[],
  to = 0,
): void {
  for (let c = 0; c < 3; c++) out[to + c] = stops[c]!;
  for (let i = 1; i < count; i++) {
    const a = stops[i * 4 - 1]!,
      share = clamp((x - a) / Math.max(1e-5, stops[i * 4 + 3]! - a), 0, 1);
    for (let c = 0; c < 3; c++) out[to + c]! += (stops[i * 4 + c]! - out[to + c]!) * share;
  }
}

/** A ramp without parameters: colours and where they lie, as it is kept under a name. */
export interface PlainStop {
  readonly at: number;
  readonly ink: string;
}

/** The colour at a place among plain stops, as `#rrggbb`. */
export function colourAt(stops: readonly PlainStop[], x: number): string {
  const numbers = new Float32Array(stops.length * 4),
    out = [0, 0, 0];
  stops.forEach((s, i) => {
    toLinear(s.ink, numbers, i * 4);
    numbers[i * 4 + 3] = s.at;
  });
  rampColour(numbers, stops.length, x, out);
  return toHex(out[0]!, out[1]!, out[2]!);
}

/**
 * Lays kept colours on a thing: its first and last ink take the first and the last of them, one between them the nearest to its
 * middle; what is left stands as it is.
 * @returns its ramp, and what its own inks rest at by it
 */
export function layRamp(
  kept: readonly PlainStop[],
  inks: readonly string[],
): { readonly stops: readonly RampStop[]; readonly rests: Readonly<Record<string, string>> } {
  const sorted = [...kept].sort((a, b) => a.at - b.at);
  const rests: Record<string, string> = {},
    taken = new Map<number, string>();
  inks.forEach((ink, k) => {
    const wish = inks.length > 1 ? k / (inks.length - 1) : 0;
    let best = k === 0 ? 0 : k === inks.length - 1 ? sorted.length - 1 : -1;
    if (best < 0)
      sorted.forEach((s, i) => {
        if (i === 0 || i === sorted.length - 1) return;
        if (best < 0 || Math.abs(s.at - wish) < Math.abs(sorted[best]!.at - wish)) best = i;
      });
    rests[ink] = best < 0 ? colourAt(sorted, wish) : sorted[best]!.ink;
    if (best >= 0 && !taken.has(best)) taken.set(best, ink);
  });
  const stops = sorted.map((s, i): RampStop => ({ at: s.at, ink: taken.get(i) ?? s.ink }));
  return { stops: wholeRamp(stops, inks), rests };
}
