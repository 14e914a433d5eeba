import type { Act } from '../../core/acts';
import type { Ear, Route } from '../../core/show';
import type { PlaceName } from '../state/view';

/** How things stood when a step of the first path began. */
export interface Start {
  readonly ears: readonly Pick<Ear, 'id'>[];
  readonly routes: readonly Pick<Route, 'id' | 'shaping'>[];
}
/** How things stand, and what was performed since the step began. */
export interface Standing extends Start {
  readonly hands: number;
  readonly dark: boolean;
  readonly acts: readonly Act[];
}
interface Step {
  readonly title: string;
  readonly words: string;
  readonly place: PlaceName | null;
  /** Whether it was done, from how things stood and stand. */
  done(was: Start, now: Standing): boolean;
}

const fresh = (was: readonly { readonly id: string }[], now: readonly { readonly id: string }[]): boolean =>
  now.some((x) => !was.some((y) => y.id === x.id));
const did = (acts: readonly Act[], what: (act: Act) => boolean): boolean => acts.some(what);

/** The first path through a running show: each step is done by doing it. */
export const STEPS: readonly Step[] = [
  {
    title: 'Hear something',
    words: 'In Listen, press “+ ear” and choose anything: it is tried on what plays at once. Keep it.',
    place: 'listen',
    done: (was, now) => fresh(was.ears, now.ears),
  },
  {
    title: 'Let it move something',
    words: 'In Route, drag a signal at the left onto something at the right that it shall move.',
    place: 'route',
    done: (was, now) => fresh(was.routes, now.routes),
  },
  {
    title: 'Change how it moves',
    words: 'Press its ribbon: the bench below shows every step of the way. Change one, the amount say.',
    place: 'route',
    done: (was, now) =>
      was.routes.some((r) => {
        const is = now.routes.find((x) => x.id === r.id);
        return is !== undefined && JSON.stringify(is.shaping) !== JSON.stringify(r.shaping);
      }),
  },
  {
    title: 'Take it by hand',
    words:
      'Drag a parameter’s maize mark at the right: it is yours, until “give back all” in the strip above.',
    place: 'route',
    done: (_, now) => now.hands > 0 || did(now.acts, (a) => a.do === 'hand' && a.value !== null),
  },
  {
    title: 'Make it dark',
    words: 'Press 0 on the keyboard, anywhere: everything is out. Press 0 again, and it is back.',
    place: null,
    done: (_, now) => !now.dark && did(now.acts, (a) => a.do === 'dark' && !a.on),
  },
  {
    title: 'Perform it',
    words: 'In Tonight, press the space bar: the next look comes in. The sound never stops for it.',
    place: 'tonight',
    done: (_, now) => did(now.acts, (a) => a.do === 'go' || a.do === 'look' || a.do === 'cue'),
  },
];
