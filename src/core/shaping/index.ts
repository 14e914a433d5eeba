export { curveAt, CURVES } from './curve';
export { type LearnedFit, learnFit, limitHolds } from './learnFit';
export { OUR_SHAPES } from './ourShapes';
export { RouteBank } from './routeBank';
export { type Likeness, showIt } from './showIt';
export {
  CURVE_POINTS_MOST,
  type CurvePoint,
  type Fit,
  FIT_MOST_DB,
  leastFitOver,
  LONGEST_MS,
  type Shaping,
  STEP_NAMES,
  type StepName,
  type Tap,
  TAP_INDEX,
  TAPS,
} from './steps';
