/** Pictures a second by which trails are told "each picture"; how fast they really go never depends on it. */
export const BY_PICTURE = 60;

/** What a trail's settings, which are by the second, come to with each of {@link BY_PICTURE} pictures a second; and back. */
export const TRAIL_BY_PICTURE = {
  /** Size, in % of the picture before. From doublings a second. */
  zoom: {
    to: (doublings: number): number => 100 * 2 ** (doublings / BY_PICTURE),
    from: (percent: number): number => BY_PICTURE * Math.log2(percent / 100),
  },
  /** Degrees. */
  turn: {
    to: (degrees: number): number => degrees / BY_PICTURE,
    from: (degrees: number): number => degrees * BY_PICTURE,
  },
  /** What is left of it, in %. From the seconds until a tenth is left. */
  last: {
    to: (seconds: number): number => (seconds > 0 ? 100 * 10 ** (-1 / (BY_PICTURE * seconds)) : 0),
    from: (percent: number): number => (percent > 0 ? -1 / (BY_PICTURE * Math.log10(percent / 100)) : 0),
  },
} as const;
