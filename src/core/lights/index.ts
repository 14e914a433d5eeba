export {
  channelCount,
  type ChannelUse,
  FIXTURE_MODES,
  type FixtureMode,
  fixtureParameters,
  UNIVERSE_MAX,
  writeLamp,
} from './fixtures';
