import { numberText } from './cueList';
import type { Cue, Fade, Show, Song, StageState } from '../show/types';

const few = (n: number, one: string, many: string): string =>
  `${numberText(n)} ${Math.abs(n - 1) < 0.005 ? one : many}`;
/** How a cue comes in, in a line. */
export function fadeWords({ unit, length, from }: Fade, delay = 0): string {
  const how =
    length === 0
      ? 'at once'
      : `fades over ${unit === 'bars' ? few(length, 'bar', 'bars') : few(length, 'second', 'seconds')}`;
  const when = from === 'now' ? '' : `, on the next ${from}`;
  return `${delay > 0 ? `waits ${few(delay, 'second', 'seconds')}, then ` : ''}${how}${when}`;
}
/** What takes the next cue by itself. */
export function followWords(follow: NonNullable<Cue['follow']>, show: Show): string {
  switch (follow.kind) {
    case 'seconds':
      return `goes on after ${few(follow.after, 'second', 'seconds')}`;
    case 'bars':
      return `goes on after ${few(follow.after, 'bar', 'bars')}`;
    case 'event': {
      const from = [...show.ears, ...show.makers].find((x) => x.id === follow.signal);
      return from ? `goes on at “${from.name}”` : 'waits for a signal that is gone';
    }
    case 'time':
      return `goes on at ${follow.at}`;
  }
}
/** A cue by its number and its name. */
export const cueWords = ({ number, name }: Pick<Cue, 'number' | 'name'>): string =>
  `${numberText(number)} ${name}`.trim();

/** Where a night is: the song that is in, or comes first, and which of how many it and the cue are, in words. */
export function placeInNight(
  { cues, songs }: Pick<Show, 'cues' | 'songs'>,
  stage: Pick<StageState, 'cue' | 'next'>,
): { readonly song: Song | null; readonly words: string } {
  const at = cues.findIndex((c) => c.id === stage.cue),
    cue = cues[at] ?? cues.find((c) => c.id === stage.next),
    song = songs.find((s) => s.id === cue?.song) ?? null;
  const words = [
    song && songs.length > 1 && `song ${songs.indexOf(song) + 1} of ${songs.length}`,
    cues.length > 0 && (at < 0 ? `${cues.length} cues` : `cue ${at + 1} of ${cues.length}`),
  ];
  return { song, words: words.filter(Boolean).join(' · ') };
}
