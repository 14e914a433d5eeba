import type { RowOrder } from '../../core/lights';

/** How a row lies over many things, in words. */
export const ORDER_WORDS: Readonly<Record<RowOrder, string>> = {
  along: 'in order',
  backwards: 'backwards',
  mirrored: 'mirrored, to the middle',
  'from the middle': 'from the middle',
};
