/**
 * How a place divides itself: what is seen beside the panel of what is selected. Where there is no room beside, one below the other,
 * each as long as it is, and the place scrolls as a whole.
 * @param columns - the columns where there is room
 */
export function placeGrid(columns: string): object {
  return {
    height: '100%',
    display: 'grid',
    gridTemplateColumns: { xs: 'minmax(0,1fr)', md: columns },
    gridAutoRows: { xs: 'max-content', md: 'minmax(0, 1fr)' },
    overflow: { xs: 'auto', md: 'hidden' },
  };
}
/** What is seen, and the panel of what is selected. */
export const WITH_PANEL = 'minmax(0, 1fr) minmax(330px, 372px)';
