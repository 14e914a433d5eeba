export {
  BUNDLE_AFTER_MOST,
  isOscAddress,
  MESSAGE_RATE,
  type MessageForm,
  messageParameters,
  type MessageTarget,
  messageWords,
  MIDI_SAYS,
  type MidiForm,
  OSC_TYPES,
  type OscForm,
  type OscType,
  saidOf,
} from './kinds';
export { MidiClock } from './midiClock';
export { MidiSpeaker } from './midiSpeaker';
