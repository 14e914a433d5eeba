import {
  addEar,
  addInput,
  type Command,
  type Ear,
  freeId,
  freeName,
  type Input,
  newInput,
  removeInput,
  type Show,
  type Wave,
  WAVES,
} from '../../core/show';
import type { SoundDevice } from '../../engine/devices';
import type { MidiDevice } from '../../engine/midi';
import { currentShow, edit } from '../state/session';
import { notesInput, soundInput, soundInputs } from '../state/takeIn';
import { earTitle, levelOf } from './names';
import { look } from '../state/view';

const isMidi = (file: File): boolean =>
  /\.midi?$/i.test(file.name) || file.type === 'audio/midi' || file.type === 'audio/mid';
const base = (file: File): string => file.name.replace(/\.[^.]+$/, '').toLowerCase();

type NewEar = Omit<Ear, 'id' | 'name'>;
/** Inputs and ears as they come into a show, named and numbered, and what puts them there. @param ears - on the inputs by their ids */
export function putIn(
  inputs: readonly Input[],
  ears: (named: readonly Input[]) => readonly NewEar[],
): { readonly inputs: readonly Input[]; readonly ears: readonly Ear[]; readonly command: Command } {
  let show = currentShow();
  const named = inputs.map((input) => {
    const one = { ...input, id: freeId(show, 'input'), name: freeName(show.inputs, input.name) };
    show = { ...show, inputs: [...show.inputs, one] };
    return one;
  });
  const heard = ears(named).map((ear): Ear => {
    const name = freeName(show.ears, earTitle(show.inputs, ear));
    const one = { ...ear, id: freeId(show, 'ear'), name };
    show = { ...show, ears: [...show.ears, one] };
    return one;
  });
  const command: Command = (d) => {
    for (const input of named) addInput(input)(d);
    for (const ear of heard) addEar(ear)(d);
  };
  return { inputs: named, ears: heard, command };
}
/** Adds inputs, and ears on them, in one edit. @returns the inputs' ids */
function add(
  inputs: readonly Input[],
  ears: (named: readonly Input[]) => readonly NewEar[] = () => [],
): readonly string[] {
  const { inputs: named, command } = putIn(inputs, ears),
    [first] = named;
  if (!first) return [];
  edit(named.length > 1 ? `add ${named.length} inputs` : `add ${first.name}`, command);
  look({ input: first.id });
  return named.map((i) => i.id);
}

/** Whether sounds that come together are one input of several stems, or one input each. They play in lockstep either way. */
export type Together = 'one' | 'each';
export const soundsOf = (files: readonly File[]): readonly File[] => files.filter((f) => !isMidi(f));

/**
 * Takes in dropped or chosen files: sounds that come together play in lockstep; each MIDI file is an input of its own, and belongs
 * to the sound of the same name when that came with it.
 * @param levels - an ear for the level of each as well
 */
export async function addFiles(files: readonly File[], together: Together, levels = false): Promise<void> {
  const sounds = soundsOf(files),
    tunes = files.filter(isMidi);
  const made = !sounds.length
    ? []
    : together === 'each'
      ? await soundInputs(sounds)
      : await soundInput('new', sounds).then((input) => input && [input]);
  const ids = add(made ?? [], (named) =>
    !levels
      ? []
      : named.flatMap((input) =>
          input.kind === 'files' && input.stems.length > 1
            ? input.stems.map((s) => ({ ...levelOf(input.id), stem: s.media }))
            : [levelOf(input.id)],
        ),
  );
  for (const file of tunes) {
    const of = sounds.findIndex((s) => base(s) === base(file));
    const input = await notesInput('new', file, of < 0 ? null : (ids[of] ?? ids[0] ?? null));
    if (input) add([input]);
  }
}

export function addDevice({ id, name }: SoundDevice): void {
  add([{ ...newInput('new', 'Microphone', false), kind: 'device', deviceId: id, deviceName: name }]);
}
export function addTab(): string {
  return add([{ ...newInput('new', 'Tab', false), kind: 'tab' }])[0]!;
}
export function addMidi({ id, name }: MidiDevice): void {
  add([
    {
      ...newInput('new', name || 'Keyboard', false),
      kind: 'notes',
      from: { kind: 'midi', deviceId: id, deviceName: name },
    },
  ]);
}
export const WAVE_WORDS: Readonly<Record<Wave, string>> = {
  sine: 'Sine',
  saw: 'Saw',
  square: 'Square',
  white: 'White noise',
  pink: 'Pink noise',
  clicks: 'Clicks',
};
export function addTone(wave: Wave): void {
  add([{ ...newInput('new', WAVE_WORDS[wave], false), kind: 'tone', wave, hz: 440, db: -18 }]);
}
export { WAVES };
/** A mix of all that sounds. */
export function addMix(show: Show): void {
  add([
    {
      ...newInput('new', 'Mix', false),
      kind: 'mix',
      parts: show.inputs
        .filter((i) => i.kind !== 'notes' && i.kind !== 'mix')
        .map((i) => ({ input: i.id, gainDb: 0, channel: 'sum' as const })),
    },
  ]);
}
export function dropInput(input: Input): void {
  edit(`remove ${input.name}`, removeInput(input.id));
  look({ input: null });
}

/** What an input is, in words. */
export function aboutInput(input: Input, show: Show): string {
  switch (input.kind) {
    case 'files':
      return `${input.stems.length > 1 ? `${input.stems.length} stems in lockstep` : 'file'}${input.loop ? `, loops${input.part ? ' a part' : ''}` : ''}`;
    case 'device':
      return input.deviceName || 'the system’s microphone';
    case 'tab':
      return 'sound of a tab or window';
    case 'tone':
      return input.wave === 'white' || input.wave === 'pink' || input.wave === 'clicks'
        ? 'test tone'
        : `test tone, ${Math.round(input.hz)} Hz`;
    case 'notes':
      return input.from.kind === 'midi'
        ? `notes, ${input.from.deviceName || 'MIDI'}`
        : `notes of a file${input.from.beside ? `, with ${show.inputs.find((i) => i.id === (input.from.kind === 'file' ? input.from.beside : null))?.name ?? 'its sound'}` : ''}`;
    case 'mix':
      return `mix of ${input.parts.length}`;
  }
}
