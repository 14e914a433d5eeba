/**
 * What wins, once and for all: rest ← look ← routes ← hand ← masters ← limits ← freeze ← dark. One column for each, one row for
 * each value, be it a parameter's own or one point of a row that is laid over it. Ticks allocate nothing here.
 *
 * Looks and masters have their columns, and nothing writes them yet: every look weighs 0, every master is at 1.
 */
export class Winning {
  /** A value when nothing moves it. */
  rest: Float64Array;
  /** What a look makes of it, and how far that look is in: 0 to 1. */
  look: Float64Array;
  lookShare: Float64Array;
  /** Rest, look, and everything that moves it: routes write here between {@link begin} and {@link settle}. */
  live: Float64Array;
  /** Where a hand holds it, and how firmly: 0 to 1. */
  hand: Float64Array;
  handShare: Float64Array;
  /** What its masters make of it together, 0 to 1; at 0 it is at `still`. */
  master: Float64Array;
  still: Float64Array;
  low: Float64Array;
  high: Float64Array;
  /** What it was when *freeze* was pressed. */
  frozenAt: Float64Array;
  /** What it is in the dark; NaN for what stays as it is. */
  dark: Float64Array;

  /** @param capacity - values that there is room for */
  constructor(readonly capacity: number) {
    const column = (fill = 0): Float64Array => new Float64Array(capacity).fill(fill);
    this.rest = column();
    this.look = column();
    this.lookShare = column();
    this.live = column();
    this.hand = column();
    this.handShare = column();
    this.master = column(1);
    this.still = column();
    this.low = column(-Infinity);
    this.high = column(Infinity);
    this.frozenAt = column();
    this.dark = column(NaN);
  }

  /** Takes over a stretch of rows from another's columns. @param size - rows that are neighbours in both */
  take(other: Winning, from: number, to: number, size: number): void {
    for (const column of COLUMNS)
      for (let i = 0; i < size; i++) this[column][to + i] = other[column][from + i]!;
  }

  /** Before routes move anything: rest, or the look that is in. */
  begin(count: number): void {
    const { live, rest, look, lookShare } = this;
    for (let i = 0; i < count; i++) live[i] = rest[i]! + (look[i]! - rest[i]!) * lookShare[i]!;
  }

  /** *Freeze* was pressed: what is out now is what is held. */
  hold(out: Float32Array, from: number, to: number): void {
    for (let i = from; i < to; i++) this.frozenAt[i] = out[i]!;
  }

  /**
   * From what moves the values to what is sent, for rows from ≤ i < to.
   * @param out - receives them, at the same places @param frozen - 0 to 1: how far *freeze* holds @param darkness - 0 to 1
   */
  settle(out: Float32Array, from: number, to: number, frozen: number, darkness: number): void {
    const { live, hand, handShare, master, still, low, high, frozenAt, dark } = this;
    for (let i = from; i < to; i++) {
      let x = live[i]!;
      x += (hand[i]! - x) * handShare[i]!;
      x = still[i]! + (x - still[i]!) * master[i]!;
      x = x < low[i]! ? low[i]! : x > high[i]! ? high[i]! : x;
      x += (frozenAt[i]! - x) * frozen;
      const goal = dark[i]!;
      if (goal === goal) x += (goal - x) * darkness;
      out[i] = x;
    }
  }
}

const COLUMNS = [
  'rest',
  'look',
  'lookShare',
  'live',
  'hand',
  'handShare',
  'master',
  'still',
  'low',
  'high',
  'frozenAt',
  'dark',
] as const;
