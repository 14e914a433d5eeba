import { create } from 'zustand';
import { type Ear, type Input, newInput, replaceInput, type Show } from '../../core/show';
import { currentShow, edit } from '../state/session';

/** What was swapped for the microphone, so that it can come back as it was. */
interface Swapped {
  readonly show: string;
  readonly input: Input;
  readonly ears: readonly Ear[];
}
export const useSwapped = create<{ readonly swapped: Swapped | null }>(() => ({ swapped: null }));

/** The input that plays the show's own sound: the first of files, else the first that is heard at all. */
export function playedInput({ inputs }: Pick<Show, 'inputs'>): Input | null {
  return inputs.find((i) => i.kind === 'files') ?? inputs.find((i) => i.kind !== 'notes') ?? null;
}
/** What people call it: the drum, where one is among its stems. */
export function soundName(input: Input): string {
  return input.kind === 'files' && input.stems.some((s) => /drum/i.test(s.name)) ? 'the drum' : input.name;
}

/** All that listens to an input listens to a microphone instead: one edit. */
export function swapForMicrophone(input: Input): void {
  const { id, ears } = currentShow();
  useSwapped.setState({ swapped: { show: id, input, ears: ears.filter((e) => e.input === input.id) } });
  edit(
    `swap ${soundName(input)} for my microphone`,
    replaceInput(input.id, {
      ...newInput(input.id, 'My microphone', false),
      kind: 'device',
      deviceId: '',
      deviceName: '',
    }),
  );
}
/** The input is what it was, and ears that were on a stem of it are on it again; what was edited meanwhile stays. */
export function swapBack({ input, ears }: Swapped): void {
  useSwapped.setState({ swapped: null });
  edit(`swap my microphone for ${soundName(input)}`, (d) => {
    replaceInput(input.id, input)(d);
    for (const { id, stem, name } of ears) {
      const ear = d.ears.find((e) => e.id === id && e.input === input.id);
      if (ear && stem) Object.assign(ear, { stem, name });
    }
  });
}
