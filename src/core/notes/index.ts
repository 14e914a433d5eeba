export { MidiFileError, readMidiFile, type Tune } from './midiFile';
export { keyName, keyOfName } from './keys';
export { type FlatTune, NotePlayer } from './notePlayer';
export type { NoteState } from './noteState';
