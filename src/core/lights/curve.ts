/** How a lamp's dimmer answers: evenly, slowly at first, or slowly at both ends. */
export const DIMMER_CURVES = ['linear', 'square', 's-shaped'] as const;
export type DimmerCurve = (typeof DIMMER_CURVES)[number];

/** What is sent for a dimmer at `x`, 0 to 1; both ends stay, and no number is nothing. */
export function dimmed(curve: DimmerCurve, x: number): number {
  const y = x > 0 ? (x < 1 ? x : 1) : 0;
  return curve === 'square' ? y * y : curve === 's-shaped' ? y * y * (3 - 2 * y) : y;
}
