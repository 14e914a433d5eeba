import { toLab } from '../parameters/oklch';

const lab = new Float64Array(3);

/** OKLab of a colour at its brightest: a wheel changes the colour, the dimmer the brightness. Black has no colour, and counts as white. */
export function brightLab(of: ArrayLike<number>, at: number, out: Float64Array, to: number): void {
  const most = Math.max(of[at]!, of[at + 1]!, of[at + 2]!);
  if (!(most > 1e-9)) toLab(1, 1, 1, lab);
  else toLab(of[at]! / most, of[at + 1]! / most, of[at + 2]! / most, lab);
  out.set(lab, to);
}
const own = new Float64Array(3);

/**
 * Which of some colours is nearest to the eye, by the distance in OKLab. Allocates nothing.
 * @param labs - {@link brightLab} of each, one after the other @param to - linear red, green and blue
 */
export function nearestInk(labs: Float64Array, to: Float64Array): number {
  brightLab(to, 0, own, 0);
  let best = 0,
    least = Infinity;
  for (let i = 0; 3 * i < labs.length; i++) {
    const d =
      (own[0]! - labs[3 * i]!) ** 2 + (own[1]! - labs[3 * i + 1]!) ** 2 + (own[2]! - labs[3 * i + 2]!) ** 2;
    if (d < least) {
      least = d;
      best = i;
    }
  }
  return best;
}
