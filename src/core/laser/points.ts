/**
 * Points of a laser, as they go from the maker through the gate: five numbers each in one flat array. x and y from −1 to 1 across the
 * projector's field (right and up), red, green and blue from 0 to 1 in linear light; 0, 0, 0 is dark. A point's colour shines while
 * the mirrors go from the point before to it.
 */
export const POINT = 5;
export const enum At {
  X,
  Y,
  Red,
  Green,
  Blue,
}
/** Points of one frame at most. */
export const POINTS_MOST = 4096;
/** Points a second that a scanner may be set to. */
export const RATE_LEAST = 5000,
  RATE_MOST = 60000;
