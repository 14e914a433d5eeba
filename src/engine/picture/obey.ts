import type { ToPicture } from '../memory/messages';
import type { Picture } from './picture';

/** What a picture does by itself when it is told, wherever it is drawn. @returns whether it was that */
export function obey(picture: Picture, message: ToPicture): boolean {
  switch (message.type) {
    case 'size':
      picture.size(message.width, message.height);
      return true;
    case 'shown':
      picture.show(message.shown);
      return true;
    case 'card':
      picture.card(message.on);
      return true;
    case 'costs':
      picture.costs(message.on);
      return true;
    case 'lose':
      picture.lose();
      return true;
    case 'still':
      void picture.still(message.id, message.width, message.height, message.as);
      return true;
    case 'media':
      picture.media.take(message);
      return true;
    case 'surface':
      picture.surface(message.id, message.matte);
      return true;
    case 'screen':
      picture.screen(message.id);
      return true;
    case 'bridge':
      picture.listenTo(message.url, message.name);
      return true;
    case 'leave':
      picture.leave();
      return true;
    default:
      return false;
  }
}
