import { db } from '../../data/database';
import type { Files } from '../../engine/picture/mediaDesk';

/** Files of a show that is this browser's own. */
export const OWN_FILES: Files = {
  get: async (hash) => (await db().media.get(hash))?.blob ?? null,
  missing:
    'A file of the picture is not on this machine. Open the show file that has it, or choose the file again.',
  cameras: true,
};
