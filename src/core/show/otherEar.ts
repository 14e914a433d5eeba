import type { Draft } from 'immer';
import { freeId } from './commands';
import { followSignal } from './followSignal';
import type { Command } from './history';
import { signalsOfEar } from './signals';
import type { Ear, Route, Show } from './types';

/** What may differ between two ears that otherwise hear the same. */
export type EarDifference = Partial<Pick<Ear, 'input' | 'stem' | 'channel' | 'listening'>>;

/** Routes to a thing or to a finish on it that follow an ear, or one of its bands. */
export function routesFrom(show: Show, thing: string, ear: string): readonly Route[] {
  const own = new Set([thing, ...show.finishes.filter((f) => f.on === thing).map((f) => f.id)]);
  return show.routes.filter((r) => own.has(r.target.thing) && r.signal.split('/')[0] === ear);
}

/**
 * Lets what moves one thing follow an ear that differs from its own: one that is there already, or else a new one. The ear that
 * others follow stays as it is.
 * @param name - of a new ear
 */
export function followOther(
  show: Show,
  thing: string,
  ear: Ear,
  difference: EarDifference,
  name: (ear: Ear) => string,
): Command {
  const wanted = { ...ear, ...difference };
  const there = show.ears.find((e) => e.id !== ear.id && hearsLike(e, wanted));
  const fresh = { ...wanted, id: freeId(show, 'ear') };
  const other = there ?? { ...fresh, name: name(fresh) };
  const after = there ? show : { ...show, ears: [...show.ears, other] };
  const signals = signalsOfEar(other);
  return (d) => {
    if (!there) d.ears.push(other as Draft<Ear>);
    for (const route of routesFrom(show, thing, ear.id)) {
      const [, member] = route.signal.split('/');
      const signal = member === undefined ? signals[0] : (signals[Number(member) + 1] ?? signals[0]);
      // Two that are to be compared are fitted alike.
      followSignal(after, [route.id], signal!, () => null)(d);
    }
  };
}

function hearsLike(a: Ear, b: Ear): boolean {
  return (
    a.input === b.input &&
    a.channel === b.channel &&
    (a.stem ?? null) === (b.stem ?? null) &&
    JSON.stringify(a.listening) === JSON.stringify(b.listening)
  );
}
