export { OVERLAY_HEIGHT, OVERLAY_WIDTH, overlayParameters } from './kinds';
