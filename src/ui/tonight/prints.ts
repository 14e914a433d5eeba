'use client';
import { useEffect } from 'react';
import { create } from 'zustand';
import { toHex, toLinear } from '../../core/parameters';
import { findParameter, type Look, restOf, type Show, targetOf } from '../../core/show';
import { lampsOfLook, type PrintedLamp } from '../../core/stage';
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
  show.fixtures,
  show.kinds,
  show.routes,
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

/** The picture with a row of the lamps below: each in its light; a bar under it where something moves it. */
async function withLamps(blob: Blob, lamps: readonly PrintedLamp[]): Promise<Blob> {
  if (lamps.length === 0) return blob;
  const canvas = new OffscreenCanvas(WIDTH, HEIGHT),
    g = canvas.getContext('2d'),
    picture = await createImageBitmap(blob);
  if (!g) return blob;
  g.drawImage(picture, 0, 0, WIDTH, HEIGHT);
  picture.close();
  g.fillStyle = '#000';
  g.fillRect(0, HEIGHT - STRIP, WIDTH, STRIP);
  const wide = Math.min(LAMP_MOST, (WIDTH - 8) / lamps.length),
    from = (WIDTH - wide * lamps.length) / 2,
    side = Math.max(2, wide - 3);
  lamps.forEach(({ colour, moved }, i) => {
    const x = from + i * wide;
    g.fillStyle = toHex(...colour);
    g.fillRect(x, HEIGHT - STRIP + 5, side, LAMP_HIGH);
    g.strokeStyle = '#7d6c55';
    g.strokeRect(x + 0.5, HEIGHT - STRIP + 5.5, side - 1, LAMP_HIGH - 1);
    if (!moved) return;
    g.fillStyle = '#f2e9d4';
    g.fillRect(x, HEIGHT - 5, side, 3);
  });
  return canvas.convertToBlob({ type: 'image/png' });
}
const STRIP = 26,
  LAMP_HIGH = 13,
  LAMP_MOST = 20;

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
        const printed = await withLamps(blob, lampsOfLook(show, look));
        madeOf.set(look.id, partsOf(show, look));
        const { urls } = usePrints.getState(),
          before = urls[look.id];
        usePrints.setState({ urls: { ...urls, [look.id]: URL.createObjectURL(printed) } });
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
    // Each print knows what it was made of: of other edits nothing comes but this.
  }, [show]);
}
