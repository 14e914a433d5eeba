'use client';
import { ChooseWay } from '../controls/ChooseWay';
import { startEmpty, startWithDevice } from '../state/session';

const WAYS = [
  ['Empty', 'Nothing in it. Add what you listen to, and what is to move.', startEmpty],
  [
    'With something to look at',
    'The ferry on its river, two lamps and a frame, moved by the microphone.',
    () => startWithDevice(),
  ],
] as const;

/** What a new show begins with. The show that was open is kept in the browser. */
export function NewShow({ onClose }: { readonly onClose: () => void }) {
  return (
    <ChooseWay
      id="new-show"
      title="A new show"
      about="The one that is open stays under “Shows in this browser”."
      ways={WAYS.map(([name, help, start]) => ({
        name,
        help,
        choose: () => {
          onClose();
          void start();
        },
      }))}
      onClose={onClose}
    />
  );
}
