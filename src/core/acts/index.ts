export { ActLog, latestOf, type Act, type Performed, type Who } from './act';
export { actsOfMidi, actsOfOsc, SIMULATED_MIDI_ID, touchMap, type MidiTouch, type TouchMap } from './mapping';
export { clashes, deedKind, GripBoard, isOnPage, type Moved, pagesOf } from './grips';
export { type Answer, AnswerBoard } from './answers';
