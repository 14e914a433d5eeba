export {
  OVERLAY_HEIGHT,
  OVERLAY_WIDTH,
  overlayParameters,
  restingInDark,
  SURFACE_LEAST,
  SURFACE_MOST,
} from './kinds';
