export interface Figure {
  readonly group: string;
  readonly figure: string;
  readonly value: number;
  readonly unit: string;
  readonly aim: string;
}

/** Gathers figures; prints a table at the end, or one JSON line each at once. */
export class Report {
  readonly figures: Figure[] = [];
  /** What could not be measured here, with its group. */
  readonly missing: string[] = [];
  readonly #json: boolean;
  constructor(json: boolean) {
    this.#json = json;
  }
  add(group: string, figure: string, value: number, unit: string, aim = ''): void {
    const f: Figure = { group, figure, value: Math.round(value * 1000) / 1000, unit, aim };
    this.take(f);
  }
  /** Takes a figure that was measured before. */
  take(f: Figure): void {
    this.figures.push(f);
    if (this.#json) console.log(JSON.stringify(f));
  }
  /** Something could not be measured here, and why. */
  absent(group: string, why: string): void {
    this.missing.push(`${group}: ${why}`);
    console.error(`${group}: ${why}.`);
  }
  print(): void {
    if (this.#json) return;
    const wide = Math.max(0, ...this.figures.map((f) => f.figure.length));
    for (const group of new Set(this.figures.map((f) => f.group))) {
      console.log(`\n${group}`);
      for (const f of this.figures)
        if (f.group === group)
          console.log(
            `  ${f.figure.padEnd(wide)}  ${String(f.value).padStart(9)} ${f.unit.padEnd(6)} ${f.aim && `aim ${f.aim}`}`,
          );
    }
  }
}

export function quantile(x: readonly number[], q: number): number {
  const sorted = [...x].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))] ?? NaN;
}
