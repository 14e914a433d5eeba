export { colourOf } from './oklch';
export { encode, toHex, toLinear } from './colour';
export { formatNumber, type NumberParameter, type ParameterDescription, parameterSize } from './description';
