export { BY_PICTURE, TRAIL_BY_PICTURE } from './byPicture';
export {
  APPEAR_WAYS,
  type AppearWay,
  type Blend,
  BLENDS,
  FINISH_KINDS,
  FINISH_WRAP,
  type FinishForm,
  finishHelp,
  finishInks,
  type FinishKind,
  finishLabel,
  finishParameters,
  MIRROR_WAYS,
} from './kinds';
