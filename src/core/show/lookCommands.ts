import { numberBetween } from '../stage/cueList';
import type { Draft } from 'immer';
import type { ParameterValue } from '../parameters/description';
import { freeId, freeName } from './commands';
import type { Command } from './history';
import type { Cue, Fade, Grip, Look, PhoneThing, Show, Song } from './types';

/** How a new cue comes in. */
export const USUAL_FADE: Fade = { unit: 'bars', length: 2, from: 'bar' };

export function newLook(show: Show, name: string, stood: Pick<Look, 'values' | 'routes'>): Look {
  return {
    id: freeId(show, 'look'),
    name: freeName(show.looks, name),
    values: stood.values,
    routes: stood.routes,
    key: null,
  };
}
export const addLook =
  (look: Look): Command =>
  (d) => {
    d.looks.push(look as Draft<Look>);
  };
export const changeLook =
  (id: string, change: Partial<Omit<Look, 'id'>>): Command =>
  (d) => {
    const look = d.looks.find((l) => l.id === id);
    if (!look) return;
    Object.assign(look, change);
    // A key takes one look.
    if (change.key)
      for (const other of d.looks) if (other.id !== id && other.key === change.key) other.key = null;
  };
/** Sets one value of a look, or (undefined) leaves it out. */
export const setLookValue =
  (id: string, key: string, value: ParameterValue | undefined): Command =>
  (d) => {
    const look = d.looks.find((l) => l.id === id);
    if (!look) return;
    if (value === undefined) delete look.values[key];
    else look.values[key] = value;
  };
/** Sets how much of its amount a route has in a look; undefined: all. */
export const setLookRoute =
  (id: string, route: string, share: number | undefined): Command =>
  (d) => {
    const look = d.looks.find((l) => l.id === id);
    if (!look) return;
    if (share === undefined) delete look.routes[route];
    else look.routes[route] = share;
  };
/** Takes a look away. Cues that took it stay, and come in as everything rests until they are given another. */
export const removeLook =
  (id: string): Command =>
  (d) => {
    const at = d.looks.findIndex((l) => l.id === id);
    if (at >= 0) d.looks.splice(at, 1);
    if (d.home === id) d.home = null;
  };
export const setHome =
  (look: string | null): Command =>
  (d) => {
    d.home = look;
  };

/** How long dark and freeze take to come, in seconds; 0: at once. */
export const setEndings =
  (change: Partial<Pick<Show, 'darkOver' | 'freezeOver'>>): Command =>
  (d) => {
    Object.assign(d, change);
  };

/** A cue after another, or (null) at the end, with a number that lies there; null where no number is left. */
export function newCue(show: Show, after: string | null, name: string, look: string | null): Cue | null {
  const at = after === null ? show.cues.length - 1 : show.cues.findIndex((c) => c.id === after),
    number = numberBetween(show.cues[at]?.number ?? null, show.cues[at + 1]?.number ?? null);
  if (number === null) return null;
  return {
    id: freeId(show, 'cue'),
    number,
    name,
    note: '',
    look,
    leaveOut: [],
    fade: USUAL_FADE,
    delay: 0,
    follow: null,
    song: show.cues[at]?.song ?? null,
  };
}
const inOrder = (cues: Draft<Cue>[]): void => {
  cues.sort((a, b) => a.number - b.number);
};
export const addCue =
  (cue: Cue): Command =>
  (d) => {
    d.cues.push(cue as Draft<Cue>);
    inOrder(d.cues);
  };
/** Changes a cue. A number that another has already is not taken. */
export const changeCue =
  (id: string, change: Partial<Omit<Cue, 'id'>>): Command =>
  (d) => {
    const cue = d.cues.find((c) => c.id === id);
    if (!cue) return;
    if (change.number !== undefined && d.cues.some((c) => c.id !== id && c.number === change.number)) return;
    Object.assign(cue, change);
    inOrder(d.cues);
  };
export const removeCue =
  (id: string): Command =>
  (d) => {
    const at = d.cues.findIndex((c) => c.id === id);
    if (at >= 0) d.cues.splice(at, 1);
  };
/** Whole numbers from 1, in the order that stands. */
export const renumberCues: Command = (d) => {
  d.cues.forEach((c, i) => {
    c.number = i + 1;
  });
};
/** Moves a cue one place; the two change numbers. */
export const moveCue =
  (id: string, by: -1 | 1): Command =>
  (d) => {
    const at = d.cues.findIndex((c) => c.id === id),
      one = d.cues[at],
      other = d.cues[at + by];
    if (!one || !other) return;
    [one.number, other.number] = [other.number, one.number];
    inOrder(d.cues);
  };

export const addSong =
  (song: Song): Command =>
  (d) => {
    d.songs.push(song as Draft<Song>);
  };
export const changeSong =
  (id: string, change: Partial<Omit<Song, 'id'>>): Command =>
  (d) => {
    const song = d.songs.find((s) => s.id === id);
    if (song) Object.assign(song, change);
  };
/** Takes a song away; its cues stay. */
export const removeSong =
  (id: string): Command =>
  (d) => {
    const at = d.songs.findIndex((s) => s.id === id);
    if (at >= 0) d.songs.splice(at, 1);
    for (const c of d.cues) if (c.song === id) c.song = null;
  };

export const addGrip =
  (grip: Grip): Command =>
  (d) => {
    d.grips.push(grip as Draft<Grip>);
  };
export const changeGrip =
  (id: string, change: Partial<Omit<Grip, 'id'>>): Command =>
  (d) => {
    const grip = d.grips.find((g) => g.id === id);
    if (grip) Object.assign(grip, change);
  };
export const removeGrip =
  (id: string): Command =>
  (d) => {
    const at = d.grips.findIndex((g) => g.id === id);
    if (at >= 0) d.grips.splice(at, 1);
  };

/** Puts a thing on the phone's page. @param at - before which of those that are there; left out: at the end */
export const addToPhone =
  (thing: PhoneThing, at = Infinity): Command =>
  (d) => {
    d.phone.splice(Math.min(at, d.phone.length), 0, thing as Draft<PhoneThing>);
  };
export const changeOnPhone =
  (id: string, change: Partial<Omit<PhoneThing, 'id'>>): Command =>
  (d) => {
    const thing = d.phone.find((t) => t.id === id);
    if (thing) Object.assign(thing, change);
  };
/** @param to - its place among the others, from 0 */
export const moveOnPhone =
  (id: string, to: number): Command =>
  (d) => {
    const from = d.phone.findIndex((t) => t.id === id);
    if (from < 0) return;
    const [thing] = d.phone.splice(from, 1);
    d.phone.splice(Math.max(0, to), 0, thing!);
  };
export const removeFromPhone =
  (id: string): Command =>
  (d) => {
    d.phone = d.phone.filter((t) => t.id !== id);
  };
/** The whole page at once; nothing: the usual one. */
export const setPhone =
  (things: readonly PhoneThing[]): Command =>
  (d) => {
    d.phone = things.slice() as Draft<PhoneThing>[];
  };
