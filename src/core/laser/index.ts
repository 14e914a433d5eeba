export { Arming, LASER_ACTS, type LaserAct, READY_MS } from './arming';
export { addFigure, type FigureRows, NO_ROWS, pathsOfForm } from './draw';
export { FieldMap, type LaserField, WHOLE_FIELD } from './field';
export { FrameBlend } from './frameBlend';
export { FRAME_POINTS_MOST, FramesError, type PackedFrames, packFrames, pathsOfFrames } from './frames';
export { DARK_WORDS, type DarkReason, FRAME_OLD_MS, LaserGate, type LaserMoment } from './gate';
export {
  Do,
  LASER_COUNTS,
  LASER_LABELS,
  LASER_ROWS,
  LASER_TEXT_MOST,
  LASER_VALUES,
  type LaserForm,
  laserParameters,
} from './kinds';
export { type LaserLimits, type LaserZone, readLimits, USUAL_LIMITS } from './limits';
export { LaserPaths } from './paths';
export { PointMaker, type PointSetting, USUAL_POINTS } from './pointMaker';
export { At, POINT, POINTS_MOST } from './points';
export { Scanner, type ScannerSetting, USUAL_SCANNER } from './scanner';
export { addDots, addGrid, addPolygon, addRing, addText, addWave, type Ray } from './shapes';
export { DrawingError, readDrawing } from './svg';
export {
  laserSetting,
  type LaserSetting,
  onlyWhere,
  pointsFor,
  readLaserSetting,
  scannerFor,
  USUAL_LASER,
} from './setting';
export { type Polygon } from './zones';
export { LASER_LETTERS, textStrokes } from './letters';
export { nearest } from './nearness';
export { Rehearsal } from './rehearsal';
export { darkTravel, PathOrder } from './pathOrder';
