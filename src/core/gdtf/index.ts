export { ARCHIVE_MOST_BYTES, RigFileError } from './archive';
export { readDescription, readGdtf, type ReadKinds } from './gdtf';
export { type ReadRig, readMvr } from './mvr';
