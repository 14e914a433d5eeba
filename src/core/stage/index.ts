export { cueAfter, cueBefore, numberBetween, numberText } from './cueList';
export {
  canBeAlone,
  lampGroupMaster,
  type Master,
  MASTERS,
  type MasterName,
  Masters,
  mastersOf,
  partOf,
  routeGroupMaster,
} from './masters';
export { lampsOfLook, type PrintedLamp } from './lampsOfLook';
export { deedWords, phoneThings, usualPhone } from './deeds';
export { type Beats, Pulse } from './pulse';
export { cueWords, fadeWords, followWords, placeInNight } from './words';
