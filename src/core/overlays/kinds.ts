import { shown } from '../figures/common';
import { cameraParameters } from '../finishes/groupsAndCamera';
import type { ParameterDescription } from '../parameters/description';

/** Size of a new overlay in its own pixels; the page scales to what loads it. */
export const OVERLAY_WIDTH = 1280;
export const OVERLAY_HEIGHT = 720;
/** Least and most pixels of a surface, either way. */
export const SURFACE_LEAST = 64;
export const SURFACE_MOST = 4096;

const PARAMETERS: readonly ParameterDescription[] = [
  { ...shown(), help: 'How much of the whole overlay shows.' },
  ...cameraParameters(),
].map((p) => ({ ...p, dark: 'rest' }));

/** What moves an overlay as a whole: how much of it shows, and what looks at it. */
export function overlayParameters(): readonly ParameterDescription[] {
  return PARAMETERS;
}

const known = new WeakMap<readonly ParameterDescription[], readonly ParameterDescription[]>();
/** The same parameters on an overlay: in the dark each is at its rest, for an overlay goes plain and never black over the host. */
export function restingInDark(parameters: readonly ParameterDescription[]): readonly ParameterDescription[] {
  let all = known.get(parameters);
  if (!all) known.set(parameters, (all = parameters.map((p) => ({ ...p, dark: 'rest' as const }))));
  return all;
}
