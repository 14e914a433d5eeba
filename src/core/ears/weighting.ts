/** How the ranges of a sound are weighed against each other before they are read. `tilt` is in dB per octave around 1 kHz. */
export type Weighting =
  { readonly kind: 'flat' | 'A' | 'C' } | { readonly kind: 'tilt'; readonly dbPerOctave: number };
