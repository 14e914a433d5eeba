export { type Channel, CHANNELS, InputHearing } from './hearing';
export { noteName } from './pitch';
