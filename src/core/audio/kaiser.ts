/** Modified Bessel function of the first kind, order 0, by its power series. */
function bessel0(x: number): number {
  let sum = 1,
    term = 1;
  for (let k = 1; k < 40; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}

/** Kaiser's window. @param place - −1 to 1 across it; beyond it reads 0 @param beta - how far its side lobes lie down */
export function kaiser(place: number, beta: number): number {
  return place * place < 1 ? bessel0(beta * Math.sqrt(1 - place * place)) / bessel0(beta) : 0;
}

/** `sin(πx) / (πx)` */
export function sinc(x: number): number {
  return x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
}
