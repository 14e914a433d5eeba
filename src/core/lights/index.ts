export { type Aim, aimAt, answered, asked, beamOf, type Hung, type Point, reachOf } from './aim';
export {
  BUILT_IN,
  columnsMost,
  isCelled,
  type Kinded,
  kindOf,
  footprintOf,
  USUAL_CELLS,
  USUAL_PANEL,
} from './builtin';
export { type DimmerCurve, DIMMER_CURVES, dimmed } from './curve';
export { writeFates } from './fate';
export { FlashCount, FLASHES_A_SECOND, FUSED_A_SECOND } from './flashes';
export { type AimSetting, LampGate, USUAL_SPEED } from './gate';
export {
  cellsOf,
  CELLS_MOST,
  isHead,
  type Kind,
  shownUniverse,
  type Span,
  UNIVERSE_MAX,
  UNIVERSE_SIZE,
} from './kind';
export { writeLamp } from './mix';
export { kindParameters } from './parameters';
export { clashesOf } from './patch';
export { pointOver, type RowOrder, ROW_ORDERS } from './rowOver';
export { placesIn, type Room, ROOM_MOST, USUAL_ROOM, widthOf } from './room';
export { makeSeen, seenLamp, type SeenLamp } from './seen';
export { Lit, makeValues } from './values';
