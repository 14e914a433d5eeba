export { DARK_WORDS, type DarkReason, FRAME_OLD_MS, LaserGate, type LaserMoment } from './gate';
export { type LaserLimits, type LaserZone, readLimits, USUAL_LIMITS } from './limits';
export { LaserPaths } from './paths';
export { PointMaker, type PointSetting, USUAL_POINTS } from './pointMaker';
export { At, POINT, POINTS_MOST } from './points';
export { Scanner, type ScannerSetting, USUAL_SCANNER } from './scanner';
export { addFan, addGrid, addPolygon, addRing, addText, addWave, type Ray } from './shapes';
