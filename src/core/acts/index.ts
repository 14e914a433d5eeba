export { ActLog, latestOf, type Act, type Performed, type Who } from './act';
export { actsOfMidi, actsOfOsc, touchMap, type MidiTouch, type TouchMap } from './mapping';
