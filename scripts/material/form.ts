/** What a dance piece is built of: whole passages of 4, 8, 16 or 32 bars, with builds before their drops. */
import { seeded } from '../../src/core/random';
import type { Section } from './song';

/** One bar of a planned piece. */
export interface PlannedBar {
  readonly what: Section;
  /** Which bar of its passage it is, and how many that has. */
  readonly bar: number;
  readonly bars: number;
  /** Of a build: whether snares roll, noise rises, all of it loses its low end, chords swell; the share of it to which the bass drum goes on, and from which all is silent. */
  readonly roll: boolean;
  readonly rise: boolean;
  readonly thin: boolean;
  readonly swell: boolean;
  readonly kickTo: number;
  readonly silentFrom: number;
}
/** @returns a plan of at least so many bars */
export type FormOf = (bars: number) => readonly PlannedBar[];

/** How far a build has come at a step of sixteen in a bar. */
export const place = ({ bar, bars }: PlannedBar, step: number): number => (bar + step / 16) / bars;

/** A form by chance: an opening, then grooves with breaks between, most of which build up to a drop. */
export function formOf(seed: number): FormOf {
  return (least) => {
    const random = seeded(seed * 7907 + 13),
      pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!,
      plan: PlannedBar[] = [];
    const add = (what: Section, bars: number): void => {
      const roll = random() < 0.7,
        shape = {
          roll,
          rise: !roll || random() < 0.7,
          thin: random() < 0.35,
          swell: random() < 0.5,
          kickTo: pick([0, 0, 0.5, 0.75, 0.9]),
          silentFrom: pick([1, 1, 1 - 1 / bars, 1 - 0.5 / bars, 1 - 0.25 / bars]),
        };
      for (let bar = 0; bar < bars; bar++) plan.push({ what, bar, bars, ...shape });
    };
    add(pick(['intro', 'main', 'bare']), pick([8, 16]));
    while (plan.length < least) {
      add('main', pick([8, 16, 16, 32]));
      if (random() < 0.3) add(pick(['bare', 'intro']), pick([4, 8]));
      if (random() < 0.75) add('break', pick([4, 8, 8, 16]));
      if (random() < 0.7) add('build', pick([4, 4, 8, 8, 16]));
    }
    return plan;
  };
}
