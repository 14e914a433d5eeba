export { type Display, displayNames, findDisplay } from './display';
export {
  type Corner,
  FLAT_CORNERS,
  isShowable,
  newScreen,
  type Screen,
  SCREEN_DELAY_MOST,
  SCREEN_LEAST,
  SCREEN_MOST,
  SCREEN_TURNS,
  screenMap,
} from './screen';
