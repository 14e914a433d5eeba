/** What a window and the worker that writes its recording say to each other. */
export type ToRecordFile =
  | { readonly type: 'open'; readonly name: string }
  | { readonly type: 'piece'; readonly bytes: ArrayBuffer }
  | { readonly type: 'close' };
export type FromRecordFile =
  | { readonly type: 'written'; readonly bytes: number }
  | { readonly type: 'closed' }
  | { readonly type: 'trouble'; readonly why: string };

/** Folder of the browser's private disk in which recordings are. */
export const RECORDINGS = 'recordings';
