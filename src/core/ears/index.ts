export { BAND_SETS, type BandSet, bandsOf, settlingOf, usualCrossovers } from './bandSet';
export {
  bandOf,
  CHORD_MOST,
  FLAT,
  keysOf,
  type Listening,
  makeEarRunner,
  type Measure,
  measureOf,
  nthOf,
  PHRASES,
  rangeHit,
  type SignalKind,
  signalKindOf,
  strokeHit,
  USUAL_KEYS,
  type Weighting,
} from './ear';
export { HEALTH, type Health } from './inputMeter';
