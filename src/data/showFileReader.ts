import { ShowError } from '../core/show';
import type { ShowFile } from './showFile';
import type { ShowFileAnswer } from './showFile.worker';

/** The largest shows are read in a few seconds; what takes longer than this never ends. */
const MOST_MS = 120000;

/**
 * Reads and checks a show file on a thread of its own.
 * @throws ShowError with what is wrong and what to do
 */
export function readShowFileApart(file: Blob): Promise<ShowFile> {
  const worker = new Worker(new URL('./showFile.worker.ts', import.meta.url), {
    type: 'module',
    name: 'show file',
  });
  return new Promise<ShowFile>((resolve, reject) => {
    const timer = setTimeout(
      () => reject(new ShowError('This file takes too long to read. Try another copy of it.')),
      MOST_MS,
    );
    worker.onerror = () =>
      reject(new ShowError('This file cannot be read: it takes more memory than there is.'));
    worker.onmessage = (e: MessageEvent<ShowFileAnswer>) => {
      clearTimeout(timer);
      if ('file' in e.data) resolve(e.data.file);
      else reject(new ShowError(e.data.why || 'This file could not be opened.'));
    };
    worker.postMessage(file);
  }).finally(() => worker.terminate());
}
