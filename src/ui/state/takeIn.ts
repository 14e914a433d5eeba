'use client';
import { readMidiFile } from '../../core/notes';
import { type FilesInput, type Input, newInput, type Stem } from '../../core/show';
import type { Seconds } from '../../core/units';
import { db, hashOf, keepMedia } from '../../data/database';
import { say } from './notices';
import { theEngine } from './session';

/** Sounds of the show, heard and played over and over. */
const filesInput = (
  id: string,
  name: string,
  stems: readonly Stem[],
  part: FilesInput['part'] = null,
): FilesInput => ({ ...newInput(id, name, true), kind: 'files', loop: true, part, stems });
const stemName = ({ name }: Pick<File, 'name'>, otherwise = 'Sound'): string =>
  name.replace(/\.[^.]+$/, '').slice(0, 60) || otherwise;

/**
 * Makes one input of dropped or chosen sounds, which play in lockstep. A file that cannot be played is refused before anything changes.
 * A video gives its sound; its picture is kept with it.
 */
export async function soundInput(id: string, files: readonly File[]): Promise<Input | null> {
  const read = await readSounds(files);
  if (!read) return null;
  const stems = read.map((r) => r.stem);
  const name = stems.length > 1 ? `${stems.length} stems` : stems[0]!.name;
  return filesInput(id, name, stems);
}
/** Makes an input of each sound. All turn together: the shorter ones wait in silence for the longest. */
export async function soundInputs(files: readonly File[]): Promise<Input[] | null> {
  const read = await readSounds(files);
  if (!read) return null;
  const longest = Math.max(...read.map((r) => r.seconds));
  return read.map(({ stem, seconds }) =>
    filesInput('new', stem.name, [stem], seconds < longest ? { from: 0, to: longest } : null),
  );
}
async function readSounds(
  files: readonly File[],
): Promise<{ readonly stem: Stem; readonly seconds: Seconds }[] | null> {
  try {
    const read: { stem: Stem; seconds: Seconds }[] = [];
    for (const file of files) {
      const bytes = await file.arrayBuffer();
      const blob = new Blob([bytes], { type: file.type });
      // Decoded first: only what can be played is kept.
      const hash = await hashOf(bytes);
      const seconds = (await theEngine()?.inputs.tryFile(hash, blob, file.name)) ?? 0;
      await keepMedia(blob, file.name);
      read.push({ stem: { name: stemName(file), media: hash, gainDb: 0 }, seconds });
    }
    return read;
  } catch (e) {
    say('warning', e instanceof Error ? e.message : `“${files[0]?.name}” could not be opened.`);
    return null;
  }
}

/** Makes an input of a standard MIDI file; a damaged one is refused in words. @param beside - the input whose sound it belongs to */
export async function notesInput(
  id: string,
  file: File,
  beside: string | null = null,
): Promise<Input | null> {
  try {
    const bytes = await file.arrayBuffer();
    readMidiFile(new Uint8Array(bytes));
    const media = await keepMedia(new Blob([bytes], { type: 'audio/midi' }), file.name);
    return {
      ...newInput(id, `${stemName(file)} · notes`.slice(0, 80), false),
      kind: 'notes',
      from: { kind: 'file', media, fileName: file.name.slice(0, 80), loop: true, beside },
    };
  } catch (e) {
    say(
      'warning',
      e instanceof Error ? `“${file.name}”: ${e.message}` : `“${file.name}” could not be opened.`,
    );
    return null;
  }
}

/** Keeps a stretch of a live input as a sound of the show. @param from @param to - seconds before now @returns null when nothing was heard */
export async function keepRecording(input: Input, from: number, to: number): Promise<Input | null> {
  try {
    const wav = await theEngine()?.inputs.recording(input.id, from, to);
    if (!wav) {
      say('warning', `${input.name} has heard nothing yet that could be kept.`);
      return null;
    }
    const name =
      `${input.name}, recorded ${new Date().toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' })}`.slice(
        0,
        80,
      );
    const media = await keepMedia(new Blob([wav], { type: 'audio/wav' }), `${name}.wav`);
    return filesInput('new', name, [{ name, media, gainDb: 0 }]);
  } catch (e) {
    say(
      'warning',
      e instanceof Error
        ? e.message
        : 'The recording could not be kept. Free some disk space, and try again.',
    );
    return null;
  }
}

/** An input of the sound of a film that is in the show; null, in words, where it has none. */
export async function soundOfFilm(media: string, fileName: string): Promise<Input | null> {
  try {
    const kept = await db().media.get(media);
    if (!kept) throw new Error(`“${fileName}” is not in this browser any more. Choose it again.`);
    await theEngine()?.inputs.tryFile(media, kept.blob, fileName);
    const name = stemName({ name: fileName }, 'Film');
    return filesInput('new', name, [{ name, media, gainDb: 0 }]);
  } catch (e) {
    say('warning', e instanceof Error ? e.message : `“${fileName}” has no sound that could be played.`);
    return null;
  }
}
