export { AgeClock } from './ageClock';
export { BeatWatch } from './beatWatch';
export { ShowClock } from './showClock';
export { DelayedBytes } from './delayedBytes';
export { DELAY_MOST, levelled } from './lineUp';
export { Pace } from './pace';
export {
  type Ends,
  Fate,
  liveShare,
  SILENT_MS,
  STREAMS_MOST,
  towardsSafe,
  type SafeState,
  type StreamDeclaration,
  type StreamEnd,
} from './stream';
export {
  carries,
  LAMP_PROTOCOLS,
  type LampProtocol,
  PROTOCOL_PORT,
  PROTOCOL_WORDS,
  type WireTarget,
} from './wire';
export { makeStreamMemory, OutletWord, StreamReader, StreamWriter, type StreamMemory } from './streamMemory';
export { Blink, BLINK_EVERY, BLINK_LONG, blinkCode, blinkOf, type Blinker } from './blink';
export { type Lag, lagOfLight, lagOfPresses } from './blinkLag';
