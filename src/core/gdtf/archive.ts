import { unzipSync } from 'fflate';

/** A file of a rig cannot be used; the message says what is wrong, and where. */
export class RigFileError extends Error {
  override readonly name = 'RigFileError';
}

/** What an archive may be at most, before and after it is unpacked. */
export const ARCHIVE_MOST_BYTES = 256 << 20;
const UNPACKED_MOST_BYTES = 512 << 20;
const ONE_MOST_BYTES = 32 << 20;
const FILES_MOST = 5000;

/**
 * What is in a zip archive from outside, of the names that are wanted. What says that it is larger than it may be is refused before
 * anything of it is unpacked, and nothing grows past what was said.
 * @throws RigFileError
 */
export function unpack(
  bytes: Uint8Array,
  wanted: (name: string) => boolean,
): ReadonlyMap<string, Uint8Array> {
  if (bytes.length > ARCHIVE_MOST_BYTES)
    throw new RigFileError(
      `The file is too large: ${bytes.length >> 20} MB, and ${ARCHIVE_MOST_BYTES >> 20} at most.`,
    );
  let files = 0,
    size = 0;
  try {
    const all = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (++files > FILES_MOST) throw new RigFileError(`The file holds more than ${FILES_MOST} others.`);
        if (!wanted(name)) return false;
        size += originalSize;
        if (originalSize > ONE_MOST_BYTES || size > UNPACKED_MOST_BYTES)
          throw new RigFileError(`“${name}” in the file is too large when it is unpacked.`);
        return true;
      },
    });
    return new Map(Object.entries(all));
  } catch (cause) {
    if (cause instanceof RigFileError) throw cause;
    throw new RigFileError('The file is damaged: it is not a zip archive, or it was cut off.', { cause });
  }
}
