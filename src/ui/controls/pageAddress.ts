'use client';
import { useSession } from '../state/session';

/** Addresses of pages, as another machine reaches them, or this one where no other can. */
export function usePageAddress(): {
  /** @param path - from its first stroke on @returns null while the bridge has not told its key */
  readonly at: (path: string) => string | null;
  readonly reachable: boolean;
} {
  const key = useSession((s) => s.outlets?.key),
    address = useSession((s) => s.outlets?.address),
    elsewhere = useSession((s) => s.outlets?.elsewhere[0]);
  return {
    reachable: elsewhere !== undefined,
    at: (path) => (key && address ? `${elsewhere ?? address}${path}?key=${key}` : null),
  };
}
