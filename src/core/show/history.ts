import { applyPatches, enablePatches, produceWithPatches, type Draft, type Patch } from 'immer';
import type { Show } from './types';

enablePatches();

/** One edit and its inverse. Plain data: it is saved with the show and sent to the conductor. */
export interface Edit {
  /** What was done, in words for the undo button: "move Ferry · height". */
  readonly label: string;
  /** Edits with the same mark one after the other are one: a whole drag is undone at once. */
  readonly mark: string | null;
  readonly patches: readonly Patch[];
  readonly inverse: readonly Patch[];
}

export interface History {
  readonly show: Show;
  readonly past: readonly Edit[];
  readonly future: readonly Edit[];
  /** How this show came from the one before, for those who follow it edit by edit. Not kept. */
  readonly patches?: readonly Patch[];
}

export type Command = (draft: Draft<Show>) => void;

/** More edits than a night has; older ones can no longer be undone. */
const MOST = 300;

export function newHistory(show: Show): History {
  return { show, past: [], future: [] };
}

/**
 * Applies a command. A command that changes nothing leaves the history as it is.
 * @param mark - joins this edit with the one before when that bears the same mark
 */
export function apply(
  history: History,
  label: string,
  command: Command,
  mark: string | null = null,
): History {
  const [show, patches, inverse] = produceWithPatches(history.show, command);
  return patches.length === 0 ? history : add(history, show, { label, mark, patches, inverse });
}
/** Puts an edit on top, joined with the one before where both bear one mark. */
function add(history: History, show: Show, edit: Edit): History {
  const last = history.past.at(-1),
    { label, mark, patches, inverse } = edit;
  const joined = mark !== null && last?.mark === mark && history.future.length === 0;
  return {
    show,
    past: [
      ...(joined ? history.past.slice(0, -1) : history.past),
      joined
        ? { label, mark, patches: [...last.patches, ...patches], inverse: [...inverse, ...last.inverse] }
        : edit,
    ].slice(-MOST),
    future: [],
    patches,
  };
}

/** One step of a history, as plain data: what was done since it was last kept. */
export type HistoryStep = ({ readonly step: 'edit' } & Edit) | { readonly step: 'undo' | 'redo' | 'seal' };

/** Takes a step again. @throws Error when it does not belong to this history */
export function again(history: History, step: HistoryStep): History {
  switch (step.step) {
    case 'edit': {
      const { label, mark, patches, inverse } = step;
      return add(history, applyPatches(history.show, patches as Patch[]), { label, mark, patches, inverse });
    }
    case 'undo':
      return undo(history);
    case 'redo':
      return redo(history);
    case 'seal':
      return seal(history);
  }
}
/** What {@link apply} did to the history before, as a step; null when it did nothing. */
export function lastStep(before: History, after: History): HistoryStep | null {
  const edit = after.past.at(-1);
  if (before === after || !edit || !after.patches) return null;
  const old = before.past.at(-1),
    joined =
      old !== undefined &&
      after.past.length === before.past.length &&
      after.past.at(-2) === before.past.at(-2);
  // Of a drag only what is new in it.
  const inverse =
    joined && edit.mark !== null && old.mark === edit.mark
      ? edit.inverse.slice(0, edit.inverse.length - old.inverse.length)
      : edit.inverse;
  return { step: 'edit', label: edit.label, mark: edit.mark, patches: after.patches, inverse };
}

/** Ends the joining of marked edits: what comes next is an edit of its own. */
export function seal(history: History): History {
  const last = history.past.at(-1);
  return last?.mark ? { ...history, past: [...history.past.slice(0, -1), { ...last, mark: null }] } : history;
}

export function undo(history: History): History {
  const edit = history.past.at(-1);
  if (!edit) return history;
  return {
    show: applyPatches(history.show, edit.inverse as Patch[]),
    past: history.past.slice(0, -1),
    future: [edit, ...history.future],
    patches: edit.inverse,
  };
}

export function redo(history: History): History {
  const edit = history.future[0];
  if (!edit) return history;
  return {
    show: applyPatches(history.show, edit.patches as Patch[]),
    past: [...history.past, edit],
    future: history.future.slice(1),
    patches: edit.patches,
  };
}
