/**
 * Colours by hue, lightness and strength, even to the eye (OKLab, B. Ottosson 2020, https://bottosson.github.io/posts/oklab/).
 */

type Out = Float32Array | Float64Array | number[];

/** Linear red, green and blue of OKLab coordinates; may lie outside 0–1 where no screen shows that colour. */
function fromLab(L: number, a: number, b: number, out: Out, at: number): void {
  const l = (L + 0.3963377774 * a + 0.2158037573 * b) ** 3,
    m = (L - 0.1055613458 * a - 0.0638541728 * b) ** 3,
    s = (L - 0.0894841775 * a - 1.291485548 * b) ** 3;
  out[at] = 4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s;
  out[at + 1] = -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s;
  out[at + 2] = -0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s;
}

/** OKLab coordinates of linear red, green and blue. Allocates nothing. */
export function toLab(r: number, g: number, b: number, out: Out): void {
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b),
    m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b),
    s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  out[0] = 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s;
  out[1] = 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s;
  out[2] = 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s;
}

/** What lies so little outside, of a grey of the same lightness, is shown all the same. */
const SLACK = 2e-3;
function shown(out: Out, at: number, grey: number): boolean {
  const slack = SLACK * grey;
  for (let c = at; c < at + 3; c++) if (out[c]! < -slack || out[c]! > 1 + slack) return false;
  return true;
}

/**
 * A colour in linear light. Allocates nothing.
 * @param hue - in degrees @param lightness - 0 black to 1 white
 * @param strength - 0 grey to 1, as strong as a screen shows all that lies between grey and it, at this hue and lightness
 */
export function colourOf(hue: number, lightness: number, strength: number, out: Out, at = 0): void {
  const turn = (hue * Math.PI) / 180,
    x = Math.cos(turn),
    y = Math.sin(turn);
  let low = 0,
    high = 0.4;
  for (let i = 0; i < 24; i++) {
    const chroma = (low + high) / 2;
    fromLab(lightness, chroma * x, chroma * y, out, at);
    if (shown(out, at, lightness ** 3)) low = chroma;
    else high = chroma;
  }
  fromLab(lightness, low * strength * x, low * strength * y, out, at);
  for (let c = at; c < at + 3; c++) out[c] = Math.min(1, Math.max(0, out[c]!));
}
