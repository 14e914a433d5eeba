import type { FromPicture, ToPicture } from '../memory/messages';
import { obey } from './obey';
import { Picture } from './picture';

const post = (message: FromPicture, transfer: Transferable[] = []): void =>
  (globalThis as unknown as Worker).postMessage(message, transfer);

let picture: Picture | null = null;
/** What was said before there was a canvas. */
const waiting: ToPicture[] = [];

/** A conductor that has not turned for so long is gone, or another took its place: the window asks for it anew. */
const STALE_MS = 700;
setInterval(() => {
  if (picture && picture.age > STALE_MS) post({ type: 'stale' });
}, STALE_MS / 2);
function take(message: ToPicture): void {
  if (message.type === 'canvas') {
    picture = new Picture(
      post,
      message.canvas,
      message.width,
      message.height,
      message.preview,
      message.record ?? null,
      message.known,
      message.sheet ?? null,
      message.open ?? false,
    );
    for (const before of waiting.splice(0)) take(before);
  } else if (!picture) waiting.push(message);
  else if (message.type === 'conductor') picture.listen(message.port);
  else obey(picture, message);
}
self.onmessage = (e: MessageEvent<ToPicture>) => {
  try {
    take(e.data);
  } catch (error) {
    post({
      type: 'trouble',
      what: `The picture cannot be drawn: ${error instanceof Error ? error.message : String(error)}`,
    });
  }
};
