/** One fault and what it cost, in ms by this machine's clock, as a lamp node on the network and the control window saw it. */
export interface Survived {
  readonly fault: string;
  /** How it was brought about. */
  readonly means: string;
  /** Until somebody is told in words, or the outputs rest; null where there is nothing to be told. */
  readonly noticed: number | null;
  /** From its end, or from the remedy, until everything is as before. */
  readonly back: number;
  /** The longest that the node had no packet meanwhile. */
  readonly silence: number;
  /** Blocks of show time that were left out. */
  readonly lost: number;
  /** Packets that were neither what was on, nor on their way to rest, nor dark. */
  readonly wrong: number;
}

const HEAD = [
  'fault',
  'brought about by',
  'noticed',
  'back',
  'longest silence',
  'blocks lost',
  'wrong packets',
];
const ms = (x: number | null): string =>
  x === null ? '–' : x < 1000 ? `${Math.round(x)} ms` : `${(x / 1000).toFixed(1)} s`;

/** A table as Markdown has it. */
export function tableOf(all: readonly Survived[]): string {
  const rows = all.map((s) => [
    s.fault,
    s.means,
    ms(s.noticed),
    ms(s.back),
    ms(s.silence),
    String(s.lost),
    String(s.wrong),
  ]);
  return [HEAD, HEAD.map(() => '---'), ...rows].map((r) => `| ${r.join(' | ')} |`).join('\n');
}
