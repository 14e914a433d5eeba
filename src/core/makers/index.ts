export {
  CLOCK_READINGS,
  LIST_ORDERS,
  loopThrough,
  type Making,
  MAKING_HELP,
  MAKING_LABELS,
  type MakingKind,
  newMaking,
  sourceOf,
  type Touch,
  WAVE_SHAPES,
  WAYS,
} from './making';
