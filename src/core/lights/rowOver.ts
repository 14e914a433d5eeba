/** How a row of numbers lies over cells: as it comes, backwards, from both ends to the middle, or from the middle to both ends. */
export const ROW_ORDERS = ['along', 'backwards', 'mirrored', 'from the middle'] as const;
export type RowOrder = (typeof ROW_ORDERS)[number];

/** How far along a row one of several shows it, 0 to 1. @param cell - from 0 @param cells - how many there are */
export function wayOver(order: RowOrder, cell: number, cells: number): number {
  const way = cells > 1 ? cell / (cells - 1) : 0;
  switch (order) {
    case 'along':
      return way;
    case 'backwards':
      return 1 - way;
    case 'mirrored':
      return 1 - Math.abs(2 * way - 1);
    case 'from the middle':
      return Math.abs(2 * way - 1);
  }
}
/**
 * Which point of a row a cell shows: the row is stretched over the cells, whole.
 * @param cell - from 0 @param cells - how many there are @param points - of the row
 */
export function pointOver(order: RowOrder, cell: number, cells: number, points: number): number {
  return Math.min(points - 1, Math.max(0, Math.floor(wayOver(order, cell, cells) * points)));
}
