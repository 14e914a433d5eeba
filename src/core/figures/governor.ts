/** What the budget may take away, and in which order; each no further than its least. */
export const SAVINGS = ['edges', 'resolution', 'counts'] as const;
export type Saving = (typeof SAVINGS)[number];
export interface Budget {
  readonly on: boolean;
  /** Frames a second that are to be kept. */
  readonly framesPerSecond: number;
  readonly order: readonly Saving[];
  /** Least share of a screen's pixels across, 0.1 to 1. */
  readonly leastResolution: number;
  /** Least share of copies and particles, 0 to 1. */
  readonly leastCounts: number;
}
export const USUAL_BUDGET: Budget = {
  on: true,
  framesPerSecond: 30,
  order: SAVINGS,
  leastResolution: 0.5,
  leastCounts: 0.25,
};
export interface Quality {
  edges: boolean;
  resolution: number;
  counts: number;
}

const STEP = 0.85;
/** Seconds that it must be too slow, or have plenty of room, before anything is changed. */
const TOO_SLOW = 0.6,
  ROOM = 5;
/** So much slower than it may be it is in no doubt: all that must go goes at once, after so many pictures. */
const FAR_TOO_SLOW = 1.6,
  SURE_AFTER = 2;
/** What is left of a picture's cost without smooth edges, and with a step fewer copies, about: measured where the processor draws. */
const WITHOUT_EDGES = 0.5,
  FEWER_COUNTS = 0.93;

/**
 * Lowers what a picture costs before frames are lost, one step at a time in a fixed order, and gives it back, last first, when
 * there has been room for a while. Pure: told how long frames take.
 */
export class Governor {
  readonly quality: Quality = { edges: true, resolution: 1, counts: 1 };
  #budget: Budget;
  #slow = 0;
  #room = 0;
  /** A step that had to be taken back is tried again only later. */
  #patience = ROOM;
  #farTooSlow = 0;

  constructor(budget: Budget = USUAL_BUDGET) {
    this.#budget = budget;
  }
  set budget(b: Budget) {
    this.#budget = b;
    if (!b.on) {
      this.quality.edges = true;
      this.quality.resolution = this.quality.counts = 1;
    }
  }

  /** Begins where a picture of this size was before. */
  begin({ edges, resolution, counts }: Quality): void {
    const q = this.quality,
      b = this.#budget;
    if (!b.on) return;
    q.edges = edges;
    q.resolution = Math.min(1, Math.max(b.leastResolution, resolution));
    q.counts = Math.min(1, Math.max(b.leastCounts, counts));
    this.#slow = this.#room = this.#farTooSlow = 0;
  }

  /** @param busy - seconds that a frame takes @param dt - seconds since the last call */
  step(busy: number, dt: number): void {
    if (!this.#budget.on || !(dt > 0)) return;
    const allowed = 1 / this.#budget.framesPerSecond;
    this.#farTooSlow = busy > allowed * FAR_TOO_SLOW ? this.#farTooSlow + 1 : 0;
    if (this.#farTooSlow >= SURE_AFTER) {
      this.#farTooSlow = 0;
      this.#slow = 0;
      this.#patience = Math.min(60, this.#patience * 1.5);
      this.#muchLess(busy, allowed);
      return;
    }
    this.#slow = busy > allowed ? this.#slow + dt : Math.max(0, this.#slow - 2 * dt);
    this.#room = busy < allowed * 0.55 ? this.#room + dt : 0;
    if (this.#slow >= TOO_SLOW) {
      this.#slow = 0;
      this.#patience = Math.min(60, this.#patience * 1.5);
      this.#less();
    } else if (this.#room >= this.#patience) {
      this.#room = 0;
      this.#patience = Math.max(ROOM, this.#patience * 0.8);
      this.#more();
    }
  }
  /** One step after the other, until by all that is known of them a picture would take what it may. */
  #muchLess(busy: number, allowed: number): void {
    for (let left = busy; left > allowed;) {
      const { edges, resolution, counts } = this.quality;
      this.#less();
      const q = this.quality;
      if (q.edges === edges && q.resolution === resolution && q.counts === counts) return;
      left *=
        (q.edges === edges ? 1 : WITHOUT_EDGES) *
        (q.resolution / resolution) ** 2 *
        (q.counts === counts ? 1 : FEWER_COUNTS);
    }
  }
  #less(): void {
    const q = this.quality,
      b = this.#budget;
    for (const what of b.order) {
      if (what === 'edges' && q.edges) {
        q.edges = false;
        return;
      }
      if (what === 'resolution' && q.resolution > b.leastResolution) {
        q.resolution = Math.max(b.leastResolution, q.resolution * STEP);
        return;
      }
      if (what === 'counts' && q.counts > b.leastCounts) {
        q.counts = Math.max(b.leastCounts, q.counts * STEP);
        return;
      }
    }
  }
  #more(): void {
    const q = this.quality,
      up = (x: number): number => (x / STEP > 0.98 ? 1 : x / STEP);
    for (const what of [...this.#budget.order].reverse()) {
      if (what === 'edges' && !q.edges) {
        q.edges = true;
        return;
      }
      if (what === 'resolution' && q.resolution < 1) {
        q.resolution = up(q.resolution);
        return;
      }
      if (what === 'counts' && q.counts < 1) {
        q.counts = up(q.counts);
        return;
      }
    }
  }
}
