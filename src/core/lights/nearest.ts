import { toLab } from '../parameters/oklch';

const a = new Float64Array(3),
  b = new Float64Array(3);

/**
 * Which of some colours is nearest to the eye, by the distance in OKLab when both are as bright as they can be: a wheel changes the
 * colour, the dimmer the brightness. Allocates nothing.
 * @param inks - linear red, green and blue of each, one after the other @param to - linear red, green and blue
 */
export function nearestInk(inks: Float64Array, to: Float64Array): number {
  full(to, 0, a);
  let best = 0,
    least = Infinity;
  for (let i = 0; 3 * i < inks.length; i++) {
    full(inks, 3 * i, b);
    const d = (a[0]! - b[0]!) ** 2 + (a[1]! - b[1]!) ** 2 + (a[2]! - b[2]!) ** 2;
    if (d < least) {
      least = d;
      best = i;
    }
  }
  return best;
}
function full(of: Float64Array, at: number, out: Float64Array): void {
  const most = Math.max(of[at]!, of[at + 1]!, of[at + 2]!);
  // Black has no colour: it is sent as white, and the dimmer takes it away.
  if (!(most > 1e-9)) toLab(1, 1, 1, out);
  else toLab(of[at]! / most, of[at + 1]! / most, of[at + 2]! / most, out);
}
