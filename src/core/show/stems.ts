import type { Ear, FilesInput, Input, Show, Stem } from './types';

/** How many stems may be heard by themselves at a time: each is played and measured as an input of its own. */
export const STEMS_HEARD_MOST = 16;

/** The stem that an ear hears by itself; null where it hears all of its input. */
export function stemOfEar(inputs: readonly Input[], ear: Ear): Stem | null {
  const input = ear.stem ? inputs.find((i) => i.id === ear.input) : undefined;
  if (input?.kind !== 'files' || input.stems.length < 2) return null;
  return input.stems.find((s) => s.media === ear.stem) ?? null;
}

/** Id under which an ear's sound is played: its input's, or that of the stem that it hears by itself. */
export function playedInputOf(inputs: readonly Input[], ear: Ear): string {
  const stem = stemOfEar(inputs, ear);
  return stem ? stemInputId(ear.input, stem) : ear.input;
}
/** No input of a show has a dot in its id. */
const DOT = '.';
/** The show's input whose sound, or whose stem, is played under this id. */
export const wholeInputOf = (played: string): string => played.split(DOT)[0]!;
const stemInputId = (input: string, stem: Stem): string => `${input}${DOT}${stem.media.slice(0, 16)}`;

/**
 * The inputs as they are played and measured: those of the show, and after them every stem that an ear hears by itself. Such a
 * one is its input with all other stems at no gain, so that it starts, loops and is turned up as the whole is; it is not sent to
 * the loudspeakers, and belongs to no mix. Returns the very list where there are none.
 */
export function playedInputs(inputs: readonly Input[], ears: readonly Ear[]): readonly Input[] {
  const alone = new Map<string, FilesInput>();
  for (const ear of ears) {
    const stem = stemOfEar(inputs, ear);
    if (!stem || alone.size >= STEMS_HEARD_MOST) continue;
    const id = stemInputId(ear.input, stem);
    const whole = inputs.find((i) => i.id === ear.input) as FilesInput;
    if (alone.has(id)) continue;
    alone.set(id, {
      ...whole,
      id,
      name: `${whole.name} · ${stem.name}`,
      monitor: { ...whole.monitor, on: false },
      stems: whole.stems.map((s) => (s.media === stem.media ? s : { ...s, gainDb: -Infinity })),
    });
  }
  return alone.size ? [...inputs, ...alone.values()] : inputs;
}

/** How many different stems are heard by themselves. */
export function stemsHeard(show: Pick<Show, 'inputs' | 'ears'>): number {
  const heard = new Set<string>();
  for (const ear of show.ears) if (stemOfEar(show.inputs, ear)) heard.add(playedInputOf(show.inputs, ear));
  return heard.size;
}
