import type { Milliseconds } from '../units';

/** How late something is that happens once a period, by when it was noticed. */
export interface Lag {
  readonly lagMs: Milliseconds;
  /** Standard deviation of one notice. */
  readonly spreadMs: Milliseconds;
  readonly count: number;
}

/**
 * The lag of flashes by presses in time with them: the circular mean of where in the period they fall. Early ones count as early, by up
 * to a quarter of the period, as people foresee a steady beat.
 * @param presses - in ms @param from - the first flash, in ms @returns null when they are too few, or all over the place
 */
export function lagOfPresses(
  presses: readonly Milliseconds[],
  from: Milliseconds,
  period: Milliseconds,
): Lag | null {
  if (presses.length < 4) return null;
  let x = 0,
    y = 0;
  for (const p of presses) {
    const turn = ((p - from) / period) * 2 * Math.PI;
    x += Math.cos(turn);
    y += Math.sin(turn);
  }
  const together = Math.hypot(x, y) / presses.length;
  // Presses that fall anywhere agree on nothing.
  if (together < 0.7) return null;
  let share = Math.atan2(y, x) / (2 * Math.PI);
  if (share < -0.25) share += 1;
  return {
    lagMs: share * period,
    spreadMs: (Math.sqrt(-2 * Math.log(Math.min(1, together))) / (2 * Math.PI)) * period,
    count: presses.length,
  };
}

/**
 * The lag of flashes by how bright a camera sees them: where a flash of this length fits best, to a millisecond.
 * @param samples - time in ms and brightness, in order @param from - the first flash @param long - of one flash
 * @returns null when nothing blinks there
 */
export function lagOfLight(
  samples: readonly (readonly [at: Milliseconds, light: number])[],
  from: Milliseconds,
  period: Milliseconds,
  long: Milliseconds,
): Lag | null {
  const seen = samples.filter(([at]) => at >= from);
  const flashes = seen.length > 0 ? Math.floor((seen.at(-1)![0] - from) / period) : 0;
  if (flashes < 3 || seen.length < 8 * flashes) return null;
  const mean = seen.reduce((n, [, l]) => n + l, 0) / seen.length;
  const power = seen.reduce((n, [, l]) => n + (l - mean) ** 2, 0);
  if (!(power > 0)) return null;
  // Of a wave that is up for `long` of every `period`, how well it goes with what was seen, for each lag.
  const up = long / period;
  let best = 0,
    most = -Infinity;
  for (let lag = 0; lag < period; lag++) {
    let together = 0;
    for (const [at, light] of seen) {
      const place = (((at - from - lag) % period) + period) % period < long ? 1 - up : -up;
      together += place * (light - mean);
    }
    if (together > most) {
      most = together;
      best = lag;
    }
  }
  const agreed = most / Math.sqrt(power * seen.length * up * (1 - up));
  if (agreed < 0.5) return null;
  // Between two camera pictures the edge may lie anywhere: half of that either way.
  const frame = (seen.at(-1)![0] - seen[0]![0]) / (seen.length - 1);
  return { lagMs: best, spreadMs: frame / Math.sqrt(12 * flashes), count: flashes };
}
