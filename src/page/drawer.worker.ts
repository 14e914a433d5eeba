import type { FromPicture, ToPicture } from '../engine/memory/messages';
import { obey } from '../engine/picture/obey';
import { Picture } from '../engine/picture/picture';

/** What draws a page: the picture's own code, told by a server. Worker. */
const post = (message: FromPicture, transfer: Transferable[] = []): void =>
  (globalThis as unknown as Worker).postMessage(message, transfer);

let picture: Picture | null = null;
self.onmessage = (e: MessageEvent<ToPicture>) => {
  const message = e.data;
  try {
    if (message.type === 'canvas') {
      const { canvas, width, height, known, open = false } = message;
      picture = new Picture(post, canvas, width, height, false, null, known, null, open);
    } else if (picture) obey(picture, message);
  } catch (error) {
    post({
      type: 'trouble',
      what: `It cannot be drawn: ${error instanceof Error ? error.message : String(error)}`,
    });
  }
};
