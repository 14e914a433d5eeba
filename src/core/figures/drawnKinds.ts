import { BROUGHT_KINDS } from './broughtKinds';
import type { KindDescription } from './common';
import type { DrawnForm } from './drawnForms';
import { MANY_KINDS } from './manyKinds';
import { SOLID_KINDS } from './solidKinds';
import { SOUND_KINDS } from './soundKinds';

export const DRAWN_KINDS: Readonly<Record<DrawnForm['kind'], KindDescription>> = {
  ...SOLID_KINDS,
  ...MANY_KINDS,
  ...SOUND_KINDS,
  ...BROUGHT_KINDS,
};
