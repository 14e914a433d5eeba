export { buoyModel } from './buoy';
export { EXAMPLES } from './examples';
export { bareStage, emptyShow, FERRY_FIGURES, type FerryMedia, ferryShow, newShow } from './show';
