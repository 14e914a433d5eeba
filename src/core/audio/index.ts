export { bandDelay } from './bandFilter';
export { type Hop, makeHop } from './hop';
export { fieldToHz, hzToField, Spectrum, SPECTRUM_POINTS } from './spectrum';
export { isStutter, Stutter } from './stutter';
export { lapFrames, mixStems, type StemSound } from './stems';
export { renderTone } from './tone';
export { readWav, takeSamples, wavSeconds, writeWav } from './wav';
