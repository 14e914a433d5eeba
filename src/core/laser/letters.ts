/**
 * Letters of single strokes, of our own drawing, on a grid of 4 across and 6 up: two digits are a place (across, up), and a bar begins
 * another stroke.
 */
const STROKES: Readonly<Record<string, string>> = {
  A: '00 04 26 44 40|02 42',
  B: '00 06 36 45 44 33 03|33 42 41 30 00',
  C: '45 36 16 05 01 10 30 41',
  D: '00 06 26 44 42 20 00',
  E: '40 00 06 46|03 33',
  F: '00 06 46|03 33',
  G: '45 36 16 05 01 10 30 41 43 23',
  H: '00 06|40 46|03 43',
  I: '20 26',
  J: '46 41 30 10 01',
  K: '00 06|46 03 40',
  L: '06 00 40',
  M: '00 06 23 46 40',
  N: '00 06 40 46',
  O: '10 01 05 16 36 45 41 30 10',
  P: '00 06 36 45 44 33 03',
  Q: '10 01 05 16 36 45 41 30 10|22 40',
  R: '00 06 36 45 44 33 03|23 40',
  S: '45 36 16 05 04 13 33 42 41 30 10 01',
  T: '20 26|06 46',
  U: '06 01 10 30 41 46',
  V: '06 20 46',
  W: '06 10 24 30 46',
  X: '00 46|06 40',
  Y: '06 23 46|23 20',
  Z: '06 46 00 40',
  '0': '10 01 05 16 36 45 41 30 10|01 45',
  '1': '15 26 20|10 30',
  '2': '05 16 36 45 44 00 40',
  '3': '06 46 23 33 42 41 30 10 01',
  '4': '30 36 02 42',
  '5': '46 06 03 33 42 41 30 10 01',
  '6': '45 36 16 05 01 10 30 41 42 33 03',
  '7': '06 46 10',
  '8': '13 04 05 16 36 45 44 33 13 02 01 10 30 41 42 33',
  '9': '01 10 30 41 45 36 16 05 04 13 43',
  '-': '13 33',
  '.': '20 21',
  '!': '20 21|23 26',
  '?': '05 16 36 45 44 23 22|20 21',
};
const WIDE = 4,
  HIGH = 6,
  APART = 1.6;

/** Strokes of one letter: runs of places across (0 to 4) and up (0 to 6). Letters that are not known are a blank. */
function strokesOf(letter: string): readonly (readonly (readonly [number, number])[])[] {
  const text = STROKES[letter.toUpperCase()];
  return text === undefined
    ? []
    : text
        .split('|')
        .map((run) => run.split(' ').map((place) => [Number(place[0]), Number(place[1])] as const));
}

/**
 * A text's strokes, in its middle: across from −1 to 1 for the whole of it, and as high as its letters are for that width.
 * @returns runs of x and y
 */
export function textStrokes(text: string): readonly (readonly number[])[] {
  const letters = [...text].slice(0, 40),
    whole = Math.max(1, letters.length * (WIDE + APART) - APART),
    scale = 2 / whole;
  return letters.flatMap((letter, i) =>
    strokesOf(letter).map((run) =>
      run.flatMap(([x, y]) => [(i * (WIDE + APART) + x) * scale - 1, (y - HIGH / 2) * scale]),
    ),
  );
}
/** Letters that can be drawn. */
export const LASER_LETTERS = Object.keys(STROKES).join('');
