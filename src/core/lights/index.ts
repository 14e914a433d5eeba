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
export { ByteGate } from './byteGate';
export { type DimmerCurve, DIMMER_CURVES, dimmed } from './curve';
export { writeFates } from './fate';
export { DeskMerge, MERGES, type MergeWay, type Parked, writeParked } from './foreign';
export { FlashCount, FLASHES_A_SECOND, FUSED_A_SECOND } from './flashes';
export { type AimSetting, LampGate, USUAL_SPEED } from './gate';
export {
  cellsOf,
  CELLS_MOST,
  isHead,
  type Kind,
  type LampChannel,
  shownUniverse,
  type Span,
  UNIVERSE_MAX,
  UNIVERSE_SIZE,
} from './kind';
export { type KeptColours, makeKept, writeLamp } from './mix';
export { kindParameters } from './parameters';
export { clashesOf } from './patch';
export { pointOver, type RowOrder, ROW_ORDERS } from './rowOver';
export { placesIn, type Room, ROOM_MOST, type SheetPlace, USUAL_ROOM, widthOf } from './room';
export { makeSeen, seenLamp, type SeenLamp } from './seen';
export { sheetAt, SHEET_HEIGHT, SHEET_VALUES, SHEET_WIDTH, sheetOf, spotsOnSheet } from './sheet';
export { Lit, makeValues } from './values';
