export { MidiFileError, readMidiFile, type Tune } from './midiFile';
export { type FlatTune, NotePlayer } from './notePlayer';
export type { NoteState } from './noteState';
