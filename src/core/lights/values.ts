/** Places of what one lamp is to do, in an array of doubles: shares from 0 to 1 unless it says otherwise. Nothing here allocates. */
export const enum Lit {
  Dimmer,
  /** Linear light. */
  Red,
  Green,
  Blue,
  /** Linear light at its far end, of what has cells. */
  FarRed,
  FarGreen,
  FarBlue,
  Uv,
  /** Degrees. */
  Pan,
  Tilt,
  Zoom,
  Focus,
  /** Which slot, from 0. */
  Gobo,
  /** Flashes a second. */
  Strobe,
  Haze,
  Fan,
  /** Level of every cell where no row says otherwise. */
  Cells,
  /** How much of its colour is the picture's, where it hangs. */
  Picture,
  Length,
}

/** A lamp at rest: white, steady, straight, and dark. */
export function makeValues(): Float64Array {
  const v = new Float64Array(Lit.Length);
  v.fill(1, Lit.Red, Lit.Uv);
  v[Lit.Cells] = 1;
  return v;
}
