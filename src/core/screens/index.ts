export { type Display, displayNames, findDisplay } from './display';
export {
  type Corner,
  FLAT_CORNERS,
  isShowable,
  laidOn,
  type Lie,
  LIES,
  newScreen,
  type Screen,
  SCREEN_DELAY_MOST,
  SCREEN_LEAST,
  SCREEN_MOST,
  SCREEN_TURNS,
  screenMap,
} from './screen';
