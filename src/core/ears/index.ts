export { BAND_SETS, type BandSet, bandsOf, settlingOf, usualCrossovers } from './bandSet';
export {
  bandOf,
  FLAT,
  type Listening,
  makeEarRunner,
  type Measure,
  measureOf,
  rangeHit,
  type SignalKind,
  signalKindOf,
  strokeHit,
  type Weighting,
} from './ear';
export { HEALTH, type Health } from './inputMeter';
