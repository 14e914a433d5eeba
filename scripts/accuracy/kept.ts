/** Figures of a group that was measured through, kept until what they depend on changes: a whole report takes long, and may be made in parts. */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { MusicShown } from './music';
import type { Figure } from './report';

export interface Kept {
  readonly figures: readonly Figure[];
  /** What was not there to be measured. */
  readonly absent: readonly string[];
  readonly shown: MusicShown | null;
}

const fileOf = (folder: string, group: string): string => path.join(folder, `${group}.json`);

/** @param state - what it was measured of: when that is another, it counts no more */
export function keep(folder: string, group: string, state: string, kept: Kept): void {
  mkdirSync(folder, { recursive: true });
  writeFileSync(fileOf(folder, group), JSON.stringify({ state, ...kept }));
}

/** @returns what was kept of a group in this state, or null */
export function keptOf(folder: string, group: string, state: string): Kept | null {
  try {
    const { state: of, ...kept } = JSON.parse(readFileSync(fileOf(folder, group), 'utf8')) as Kept & {
      state: string;
    };
    return of === state ? kept : null;
  } catch {
    return null;
  }
}
