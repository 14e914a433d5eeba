/** Inks and papers. Urucum red means selected, maize means now; neither means anything else. */
export interface Tokens {
  readonly ground: string;
  readonly groundLine: string;
  readonly sheet: string;
  readonly sheetQuiet: string;
  readonly sheetText: string;
  readonly sheetFaint: string;
  readonly paper: string;
  readonly paperShade: string;
  readonly paperDeep: string;
  readonly paperText: string;
  readonly paperFaint: string;
  readonly night: string;
  readonly selected: string;
  readonly now: string;
  readonly track: string;
}

export const NIGHT: Tokens = {
  ground: '#14110f',
  groundLine: '#1f1a16',
  sheet: '#2a2119',
  sheetQuiet: '#4d4234',
  sheetText: '#f2e9d4',
  sheetFaint: '#cdbfa2',
  paper: '#f2e9d4',
  paperShade: '#e3d5b6',
  paperDeep: '#cbb78f',
  paperText: '#16110d',
  paperFaint: '#574936',
  night: '#0d1b23',
  selected: '#e8572a',
  now: '#f0b53c',
  track: '#7d6c55',
};
/** Day: paper ground for lit rooms. Sheets are darker paper, and what is picked out is ink. */
export const DAY: Tokens = {
  ground: '#efe6d0',
  groundLine: '#e4d8bd',
  sheet: '#e0d2b2',
  sheetQuiet: '#c4b28a',
  sheetText: '#1b1511',
  sheetFaint: '#4f4230',
  paper: '#fffaf0',
  paperShade: '#f0e6cf',
  paperDeep: '#cdb98f',
  paperText: '#16110d',
  paperFaint: '#574936',
  night: '#0d1b23',
  selected: '#c23f15',
  now: '#c98400',
  track: '#8b795c',
};

export const FONT = {
  head: '"Bricolage Grotesque Variable", "Atkinson Hyperlegible", sans-serif',
  text: '"Atkinson Hyperlegible", sans-serif',
  number: '"Atkinson Hyperlegible Mono", monospace',
} as const;
