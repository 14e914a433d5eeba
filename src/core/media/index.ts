export { drawingTrouble, isPlaylist, modelAddress } from './selfContained';
