export { BeatWatch } from './beatWatch';
export { Pace } from './pace';
export {
  liveShare,
  STREAMS_MOST,
  towardsSafe,
  type SafeState,
  type StreamDeclaration,
  type StreamEnd,
} from './stream';
export { makeStreamMemory, OutletWord, StreamReader, StreamWriter, type StreamMemory } from './streamMemory';
