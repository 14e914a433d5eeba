import { type Input, newInput, type Show, type Target } from '../../core/show';
import { putIn } from '../listen/addInputs';
import { levelOf } from '../listen/names';
import { currentShow, edit, endDrag } from '../state/session';
import { soundOfFilm } from '../state/takeIn';
import { makeRoute } from './makeRoute';

/** Something that could be listened to and is not yet: chosen as a signal, it is made on the way. */
export interface NewListening {
  readonly id: string;
  readonly name: string;
  /** The input it is on; one that is not in the show yet is put in. */
  readonly input: () => Promise<Input | null>;
}

/** The levels of all that comes in and has no ear for its level, of the film that is moved, and of the microphone. */
export function newListenings(show: Show, target: Target): readonly NewListening[] {
  const heard = (input: string): boolean =>
    show.ears.some(
      (e) => e.input === input && e.listening.kind === 'level' && e.channel === 'sum' && !e.stem,
    );
  const there = show.inputs
    .filter((i) => i.kind !== 'notes' && !heard(i.id))
    .map((input): NewListening => ({
      id: input.id,
      name: `level of ${input.name}`,
      input: () => Promise.resolve(input),
    }));
  const on = show.finishes.find((f) => f.id === target.thing)?.on ?? target.thing,
    form = show.figures.find((f) => f.id === on)?.form;
  const media = form?.kind === 'video' ? form.media : null;
  const played = show.inputs.some((i) => i.kind === 'files' && i.stems.some((s) => s.media === media));
  return [
    ...(form?.kind === 'video' && media !== null && !played
      ? [
          {
            id: 'film',
            name: 'level of the film’s own sound',
            input: () => soundOfFilm(media, form.fileName),
          },
        ]
      : []),
    ...there,
    ...(show.inputs.some((i) => i.kind === 'device')
      ? []
      : [
          {
            id: 'microphone',
            name: 'level of the microphone',
            input: (): Promise<Input> =>
              Promise.resolve({
                ...newInput('new', 'Microphone', false),
                kind: 'device',
                deviceId: '',
                deviceName: '',
              }),
          },
        ]),
  ];
}

/** Listens to something new and lets it move a parameter, in one edit. */
export async function listenAndMove(listening: NewListening, target: Target): Promise<void> {
  const input = await listening.input();
  if (!input) return;
  const known = currentShow().inputs.some((i) => i.id === input.id);
  const { ears, command } = putIn(known ? [] : [input], ([put = input]) => [levelOf(put.id)]),
    ear = ears[0]!,
    mark = `listen and move ${ear.id}`;
  edit(`listen to ${input.name}`, command, mark);
  makeRoute(ear.id, target, mark);
  endDrag();
}
