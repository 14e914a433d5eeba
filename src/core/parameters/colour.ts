/**
 * Colours are written as `#rrggbb` (sRGB, IEC 61966-2-1) and mixed in linear light, as lamps and screens add them.
 */
export function toLinear(hex: string, out: Float32Array | Float64Array | number[], offset = 0): void {
  const n = Number.parseInt(hex.slice(1), 16);
  out[offset] = DECODED[(n >> 16) & 255]!;
  out[offset + 1] = DECODED[(n >> 8) & 255]!;
  out[offset + 2] = DECODED[n & 255]!;
}

/** @param r @param g @param b - linear light; clamped to 0–1 */
export function toHex(r: number, g: number, b: number): string {
  const byte = (x: number): string =>
    Math.round(encode(Math.min(1, Math.max(0, x))) * 255)
      .toString(16)
      .padStart(2, '0');
  return `#${byte(r)}${byte(g)}${byte(b)}`;
}

/** sRGB component (0–1) of a linear one. */
export function encode(x: number): number {
  if (x >= 1) return 1; // the formula itself ends a rounding error below
  return x <= 0.0031308 ? x * 12.92 : 1.055 * x ** (1 / 2.4) - 0.055;
}
/** Linear component (0–1) of an sRGB one. */
export function decode(x: number): number {
  return x <= 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4;
}
/** Of each byte: a look of thousands of colours is taken within a tick. */
const DECODED = Float64Array.from({ length: 256 }, (_, byte) => decode(byte / 255));
