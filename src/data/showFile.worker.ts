import { readShowFile, type ShowFile } from './showFile';

/** Reads show files on a thread of their own: a bad one may take long, and a window has better things to do. */
export type ShowFileAnswer = { readonly file: ShowFile } | { readonly why: string };

self.onmessage = (e: MessageEvent<Blob>) => {
  const answer = (message: ShowFileAnswer): void => (globalThis as unknown as Worker).postMessage(message);
  readShowFile(e.data).then(
    (file) => answer({ file }),
    (error: unknown) => answer({ why: error instanceof Error ? error.message : '' }),
  );
};
