import type { FromPicture, ToPicture } from '../memory/messages';
import { Picture } from './picture';

const post = (message: FromPicture, transfer: Transferable[] = []): void =>
  (globalThis as unknown as Worker).postMessage(message, transfer);

let picture: Picture | null = null;
const waiting: MessagePort[] = [];
let screenId: string | null = null;

/** A conductor that has not turned for so long is gone, or another took its place: the window asks for it anew. */
const STALE_MS = 700;
setInterval(() => {
  if (picture && picture.age > STALE_MS) post({ type: 'stale' });
}, STALE_MS / 2);
self.onmessage = (e: MessageEvent<ToPicture>) => {
  const message = e.data;
  try {
    switch (message.type) {
      case 'canvas':
        picture = new Picture(
          post,
          message.canvas,
          message.width,
          message.height,
          message.preview,
          message.record ?? null,
          message.known,
          message.sheet ?? null,
        );
        picture.screen(screenId);
        for (const port of waiting.splice(0)) picture.listen(port);
        return;
      case 'size':
        picture?.size(message.width, message.height);
        return;
      case 'shown':
        picture?.show(message.shown);
        return;
      case 'screen':
        screenId = message.id;
        picture?.screen(message.id);
        return;
      case 'card':
        picture?.card(message.on);
        return;
      case 'costs':
        picture?.costs(message.on);
        return;
      case 'lose':
        picture?.lose();
        return;
      case 'still':
        void picture?.still(message.id, message.width, message.height);
        return;
      case 'media':
        picture?.media.take(message);
        return;
      case 'conductor':
        if (picture) picture.listen(message.port);
        else waiting.push(message.port);
        return;
      case 'bridge':
        picture?.listenTo(message.url);
        return;
      case 'leave':
        picture?.leave();
        return;
    }
  } catch (error) {
    post({
      type: 'trouble',
      what: `The picture cannot be drawn: ${error instanceof Error ? error.message : String(error)}`,
    });
  }
};
