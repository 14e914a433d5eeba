export { type DimmerCurve, DIMMER_CURVES, dimmed } from './curve';
export {
  channelCount,
  type ChannelUse,
  FIXTURE_MODES,
  type FixtureMode,
  fixtureParameters,
  shownUniverse,
  UNIVERSE_MAX,
  writeLamp,
} from './fixtures';
export { clashesOf } from './patch';
export { seenLight } from './seen';
