'use client';
import { useEffect } from 'react';
import { create } from 'zustand';
import { toLinear } from '../../core/parameters';
import { findParameter, type Look, restOf, type Show, targetOf } from '../../core/show';
import { live } from '../live/live';
import { stillPicture } from '../picture/PictureStage';
import { currentShow, useSession } from '../state/session';

/** Prints of looks: each a small picture of the show as that look would have it, made anew when one of the two changed. */
interface Prints {
  readonly urls: Readonly<Record<string, string>>;
}
export const usePrints = create<Prints>(() => ({ urls: {} }));

const WIDTH = 320,
  HEIGHT = 180,
  /** Edits that follow each other quickly are pictured once. */
  REST_MS = 500,
  AGAIN_MS = 300;
/** What each was made of. */
const madeOf = new Map<string, readonly unknown[]>();
const partsOf = (show: Show, look: Look): readonly unknown[] => [
  look,
  show.figures,
  show.figureGroups,
  show.finishes,
  show.camera,
];
const same = (a: readonly unknown[] | undefined, b: readonly unknown[]): boolean =>
  a !== undefined && a.every((x, i) => x === b[i]);

/** Numbers that would be others under a look: those of any look, as this one has them or as they rest. */
function numbersOf(show: Show, look: Look): (readonly [number, number])[] {
  const out: (readonly [number, number])[] = [],
    three = [0, 0, 0];
  for (const key of new Set(show.looks.flatMap((l) => Object.keys(l.values)))) {
    const at = live.map?.parameters[key],
      end = findParameter(show, targetOf(key));
    if (at === undefined || !end) continue;
    const value = look.values[key] ?? restOf(end.thing, end.parameter);
    if (typeof value === 'number') out.push([at, value]);
    else {
      toLinear(value, three);
      three.forEach((x, i) => out.push([at + i, x]));
    }
  }
  return out;
}

let making = false;
/** Places that show prints now: with none, none is made. */
let watching = 0;
/** Those of looks that are gone are let go. */
function prune(show: Show): void {
  const { urls } = usePrints.getState(),
    gone = Object.keys(urls).filter((id) => !show.looks.some((l) => l.id === id));
  if (gone.length === 0) return;
  for (const id of gone) {
    URL.revokeObjectURL(urls[id]!);
    madeOf.delete(id);
  }
  usePrints.setState({
    urls: Object.fromEntries(Object.entries(urls).filter(([id]) => !gone.includes(id))),
  });
}
async function makeAll(): Promise<void> {
  if (making) return;
  making = true;
  try {
    while (watching > 0) {
      const show = currentShow(),
        look = show.looks.find((l) => !same(madeOf.get(l.id), partsOf(show, l)));
      if (!look) break;
      const blob = await stillPicture(WIDTH, HEIGHT, 'picture', numbersOf(show, look));
      if (blob) {
        madeOf.set(look.id, partsOf(show, look));
        const { urls } = usePrints.getState(),
          before = urls[look.id];
        usePrints.setState({ urls: { ...urls, [look.id]: URL.createObjectURL(blob) } });
        if (before) setTimeout(() => URL.revokeObjectURL(before), 2000);
      }
      // The live picture comes first.
      await new Promise((r) => setTimeout(r, blob ? 60 : AGAIN_MS));
    }
  } finally {
    making = false;
  }
}

/** Keeps the prints true for as long as somebody looks. */
export function useMadePrints(): void {
  const show = useSession((s) => s.history.show);
  useEffect(() => {
    watching++;
    return () => {
      watching--;
    };
  }, []);
  useEffect(() => {
    prune(currentShow());
    const soon = setTimeout(
      () => void makeAll(),
      Object.keys(usePrints.getState().urls).length ? REST_MS : 0,
    );
    return () => clearTimeout(soon);
  }, [show.looks, show.figures, show.figureGroups, show.finishes, show.camera]);
}
