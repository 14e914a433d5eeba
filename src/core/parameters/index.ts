export { colourOf } from './oklch';
export {
  colourAt,
  layRamp,
  plainRamp,
  type PlainStop,
  RAMP_MOST,
  rampColour,
  type RampStop,
  wholeRamp,
} from './ramp';
export { decode, encode, toHex, toLinear } from './colour';
export { formatNumber, type NumberParameter, type ParameterDescription, parameterSize } from './description';
