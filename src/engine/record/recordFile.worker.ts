import { RECORDINGS, type FromRecordFile, type ToRecordFile } from './recordFile';

/** Writes a recording to the browser's own disk as it comes, piece by piece, so that what was recorded survives whatever happens next. */
const post = (message: FromRecordFile): void => (globalThis as unknown as Worker).postMessage(message);
interface Handle {
  write(data: ArrayBuffer, where: { at: number }): number;
  flush(): void;
  close(): void;
  getSize(): number;
}
let handle: Handle | null = null,
  at = 0;

async function take(message: ToRecordFile): Promise<void> {
  switch (message.type) {
    case 'open': {
      const folder = await (
        await navigator.storage.getDirectory()
      ).getDirectoryHandle(RECORDINGS, { create: true });
      const file = await folder.getFileHandle(message.name, { create: true });
      handle = await (
        file as unknown as { createSyncAccessHandle(): Promise<Handle> }
      ).createSyncAccessHandle();
      at = handle.getSize();
      return;
    }
    case 'piece':
      if (!handle) return;
      at += handle.write(message.bytes, { at });
      handle.flush();
      post({ type: 'written', bytes: at });
      return;
    case 'close':
      handle?.close();
      handle = null;
      post({ type: 'closed' });
  }
}
// One after the other: a piece must not overtake the opening.
let queue: Promise<void> = Promise.resolve();
self.onmessage = (e: MessageEvent<ToRecordFile>) => {
  queue = queue
    .then(() => take(e.data))
    .catch((error: unknown) =>
      post({ type: 'trouble', why: error instanceof Error ? error.message : String(error) }),
    );
};
