import { beforeAll, describe, expect, it } from '@jest/globals';
import { Board, BLUE, GREEN, openBoard, RED, shoot, stillPng, WHITE, type Shot } from './board';
import { withFerry } from './stage';
import { until, type Visit } from './support';

let v: Visit;
// By the machine's own driver: what is held back of flashes shows only where pictures come more often than they do.
withFerry(
  async (_, first) => {
    v = first;
  },
  undefined,
  { card: true },
);

async function open(board: Board): Promise<void> {
  await openBoard(v.page, board);
}
const when = (what: string, is: (s: Shot) => boolean): Promise<Shot> =>
  until(what, async () => {
    const s = await shoot(v.page);
    return is(s) ? s : null;
  });

describe('finishes on a figure, each moved by a route', () => {
  let rest: Shot, moved: Shot;
  // Squares of 60 px on their feet; the middle of each is 30 px up.
  const X = (i: number): number => 130 + (i % 4) * 340,
    Y = (i: number): number => [560, 330, 100][Math.floor(i / 4)]!;
  beforeAll(async () => {
    const b = new Board();
    const add = (i: number, id: string, ink = RED): void => {
      b.block(id, X(i), Y(i), 60, ink);
    };
    const share = (i: number): { middleX: number; middleY: number } => ({
      middleX: (X(i) / 1280) * 100,
      middleY: ((Y(i) + 30) / 720) * 100,
    });
    add(0, 'trailed');
    b.finish('trails', 'trailed', { kind: 'trails' }, { last: 30, zoom: 0 }).move('trailed', 'across', 120);
    add(1, 'bent');
    b.finish('bend', 'bent', { kind: 'bend' }, { bend: 0, reach: 14, ...share(1) }).move('bend', 'bend', 100);
    add(2, 'rippled');
    b.finish('ripple', 'rippled', { kind: 'ripple' }, { depth: 0, length: 80, speed: 0, ...share(2) }).move(
      'ripple',
      'depth',
      60,
    );
    add(3, 'shoved');
    b.block('white', X(3), Y(3) - 60, 200, WHITE, { hidden: true })
      .finish('shove', 'shoved', { kind: 'shove', by: 'white' }, { across: 0 })
      .move('shove', 'across', 70);
    add(4, 'blurred');
    b.finish('blur', 'blurred', { kind: 'blur' }, { radius: 0 }).move('blur', 'radius', 40);
    add(5, 'glowing', WHITE);
    b.finish('glow', 'glowing', { kind: 'glow' }, { strength: 0, radius: 40, from: 0 }).move(
      'glow',
      'strength',
      300,
    );
    add(6, 'grained', '#808080');
    b.finish('grain', 'grained', { kind: 'grain' }, { amount: 0, size: 4 }).move('grain', 'amount', 100);
    add(7, 'ramped', WHITE);
    b.finish(
      'ramp',
      'ramped',
      { kind: 'ramp' },
      { dark: RED, half: GREEN, light: BLUE, inks: 0, mix: 0 },
    ).move('ramp', 'mix', 100);
    add(8, 'mirrored');
    b.finish('mirror', 'mirrored', { kind: 'mirror', way: 'flip upside down' }, { mix: 0 }).move(
      'mirror',
      'mix',
      100,
    );
    add(9, 'keyed', '#c04040');
    b.finish('key', 'keyed', { kind: 'key' }, { colour: '#404040', reach: 0, soft: 2 }).move(
      'key',
      'reach',
      100,
    );
    add(10, 'flashing');
    b.finish('flash', 'flashing', { kind: 'flash' }, { level: 0, ink: GREEN }).move('flash', 'level', 100);
    add(11, 'masked');
    b.block('hole', X(11), Y(11) + 15, 30, WHITE, { hidden: true })
      .finish(
        'mask',
        'masked',
        { kind: 'mask', by: 'hole', inverted: false },
        { soft: 0, outer: 0, ink: GREEN },
      )
      .move('mask', 'outer', 60);
    await open(b);
    // What a mask is cut by may be drawn a frame after it.
    rest = await when(
      'the board at rest',
      (s) =>
        s.is(X(0), Y(0) + 30, RED) && s.is(X(11), Y(11) + 30, RED) && s.light(X(11) + 20, Y(11) + 30) === 0,
    );
    await v.page.keyboard.press('k');
    moved = await when(
      'everything moved',
      (s) =>
        s.is(X(0) + 120, Y(0) + 30, RED) &&
        s.is(X(10), Y(10) + 30, GREEN) &&
        s.light(X(2) + 20, Y(2) + 30) === 0,
    );
  });
  const mid = (s: Shot, i: number, dx = 0, dy = 0): [number, number, number] =>
    s.at(X(i) + dx, Y(i) + 30 + dy);
  it('at rest none of them changes the figure', () => {
    for (const i of [0, 1, 2, 3, 4, 10]) {
      expect(mid(rest, i)).toEqual([255, 0, 0]);
      expect(mid(rest, i, 24, 24)).toEqual([255, 0, 0]);
      expect(mid(rest, i, 40, 0)).toEqual([0, 0, 0]);
    }
  });
  it('trails keep what was there', () => {
    expect(moved.is(X(0), Y(0) + 30, RED, 60)).toBe(true);
  });
  it('a bend enlarges its middle: what was beside the figure is within it', () => {
    expect(mid(rest, 1, 38)).toEqual([0, 0, 0]);
    expect(mid(moved, 1, 38)[0]).toBeGreaterThan(150);
  });
  it('a ripple fetches from a crest away', () => {
    expect(mid(rest, 2, 20)[0]).toBe(255);
    expect(mid(moved, 2, 20)).toEqual([0, 0, 0]);
  });
  it('white shoves it sideways by what it says', () => {
    expect(mid(moved, 3, 70)[0]).toBeGreaterThan(150);
    expect(mid(moved, 3, -10)).toEqual([0, 0, 0]);
    expect(mid(rest, 3, 70)).toEqual([0, 0, 0]);
  });
  it('a blur reaches beyond the edge and thins the corner', () => {
    expect(mid(moved, 4, 36)[0]).toBeGreaterThan(15);
    expect(mid(moved, 4, 27, 27)[0]).toBeLessThan(235);
  });
  it('a glow shines beyond the edge', () => {
    expect(mid(rest, 5, 42)).toEqual([0, 0, 0]);
    expect(mid(moved, 5, 42)[0]).toBeGreaterThan(25);
    expect(mid(moved, 5)[0]).toBe(255);
  });
  it('grain is within the figure only, and uneven', () => {
    const values = new Set<number>();
    for (let dx = -24; dx <= 24; dx += 4) values.add(mid(moved, 6, dx)[0]);
    expect(values.size).toBeGreaterThan(4);
    expect(new Set([-20, -10, 0, 10, 20].map((dx) => mid(rest, 6, dx)[0])).size).toBe(1);
    expect(mid(moved, 6, 44)).toEqual([0, 0, 0]);
  });
  it('a ramp prints white with its light ink', () => {
    expect(moved.is(X(7), Y(7) + 30, BLUE)).toBe(true);
    expect(rest.is(X(7), Y(7) + 30, WHITE)).toBe(true);
  });
  it('upside down it stands as far from the upper edge', () => {
    expect(moved.is(X(8), 720 - (Y(8) + 30), RED)).toBe(true);
    expect(mid(moved, 8)).toEqual([0, 0, 0]);
  });
  it('a key takes out what is near its colour', () => {
    expect(mid(rest, 9)[0]).toBeGreaterThan(150);
    expect(mid(moved, 9)).toEqual([0, 0, 0]);
  });
  it('a flash floods the figure alone', () => {
    expect(moved.is(X(10), Y(10) + 30, GREEN)).toBe(true);
    expect(mid(moved, 10, 40)).toEqual([0, 0, 0]);
  });
  it('a mask cuts, and glows outside of its edge', () => {
    expect(mid(rest, 11, 20)).toEqual([0, 0, 0]);
    const [r, g] = mid(moved, 11, 20);
    expect(g).toBeGreaterThan(r + 20);
    expect(moved.is(X(11), Y(11) + 30, RED)).toBe(true);
  });
});

describe('a mask', () => {
  it('cuts with what is seen of the figure that shapes it, its finishes included', async () => {
    const b = new Board();
    b.block('white', 640, 200, 460, WHITE, { hidden: true })
      .block('hole', 540, 345, 40, WHITE, { hidden: true })
      // Shoved by a hundred pixels, onto the middle of what it cuts.
      .finish('shove', 'hole', { kind: 'shove', by: 'white' }, { across: 100 })
      .block('cut', 640, 300, 130, RED)
      .finish('mask', 'cut', { kind: 'mask', by: 'hole', inverted: false }, { soft: 0, outer: 0 });
    await open(b);
    const seen = await when('the cut', (s) => s.is(640, 365, RED));
    expect(seen.light(600, 365)).toBe(0);
    expect(seen.light(680, 365)).toBe(0);
    expect(seen.light(540, 365)).toBe(0);
  });
});

describe('finishes on the whole picture', () => {
  it('a mirror is exact, point for point, and on both sides of it the same', async () => {
    const b = new Board();
    b.figure('stars', { kind: 'stars', count: 60 }, 0, 300, { ink: WHITE, size: 2 })
      .block('one', 300, 100, 140, RED)
      .finish('mirror', 'picture', { kind: 'mirror', way: 'left onto right' })
      .figure('moon', { kind: 'print', form: 'moon' }, 420, 500, {});
    await open(b);
    await when('the mirrored block', (s) => s.is(980, 160, RED));
    const { width, height, bytes } = await still();
    let off = 0;
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width / 2; x++)
        for (let k = 0; k < 3; k++)
          if (bytes[(y * width + x) * 4 + k] !== bytes[(y * width + width - 1 - x) * 4 + k]) off++;
    expect([width, height, off]).toEqual([1280, 720, 0]);
  });
  it('a still keeps open what nothing covers', async () => {
    const b = new Board();
    b.block('one', 640, 300, 100, RED).group('all');
    await open(b);
    await when('the block', (s) => s.is(640, 350, RED));
    await v.page.$$eval('[aria-label="Figures, back to front"] button', (all) => {
      (all.find((e) => (e.textContent ?? '').startsWith('Ground')) as HTMLElement).click();
    });
    await until('its buttons', () =>
      v.page.$$eval('[aria-label="Selected figure"] button', (all) => {
        const hide = all.find((e) => e.getAttribute('aria-label') === 'hide');
        (hide as HTMLElement | undefined)?.click();
        return hide !== undefined;
      }),
    );
    await when('only the block', (s) => s.is(640, 350, RED) && s.light(100, 100) === 0);
    const { bytes, width } = await still(),
      at = (x: number, y: number): number[] => [
        ...bytes.subarray(((719 - y) * width + x) * 4, ((719 - y) * width + x) * 4 + 4),
      ];
    expect(at(640, 350)).toEqual([255, 0, 0, 255]);
    expect(at(100, 100)[3]).toBe(0);
  });
  it('holds flashes back: no more in a second than it is told are as bright as they would be', async () => {
    const rises = async (limit: number | null): Promise<{ count: number; held: number; seconds: number }> => {
      const b = new Board();
      b.flashLimit = limit;
      b.wave = 7;
      b.figure('sheet', { kind: 'texture', pattern: 'noise', whole: true }, 640, 360, {
        ink: '#000000',
        top: '#000000',
      })
        .finish('flash', 'picture', { kind: 'flash' }, { level: 0, ink: WHITE })
        .move('flash', 'level', 100, 'wave');
      await open(b);
      await when('a flash', (s) => s.light(640, 360) > 200);
      return v.page.evaluate(async (wantsHeld) => {
        const canvas = document.querySelector('canvas[aria-label="The picture, live"]') as HTMLCanvasElement,
          g = new OffscreenCanvas(1, 1).getContext('2d', { willReadFrequently: true })!,
          from = performance.now();
        let count = 0,
          held = 0,
          bright = true,
          now = from;
        // Where pictures come more seldom than the limit nothing is held: it is watched until they come faster.
        while ((now = performance.now()) - from < (wantsHeld && held === 0 ? 90000 : 4000)) {
          g.drawImage(canvas, 0, 0, 1, 1);
          const light = g.getImageData(0, 0, 1, 1).data[0]!;
          // A tenth of white, at which a held flash stands, is 89 on a screen.
          if (light > 70 && light < 110) held++;
          if (bright && light < 130) bright = false;
          else if (!bright && light > 190) {
            bright = true;
            count++;
          }
          await new Promise((r) => requestAnimationFrame(r));
        }
        return { count, held, seconds: (now - from) / 1000 };
      }, limit !== null);
    };
    for (const limit of [1, 3]) {
      const held = await rises(limit);
      expect(held.count).toBeLessThanOrEqual(Math.ceil(held.seconds * limit) + 1);
      expect(held.held).toBeGreaterThan(0);
    }
    const free = await rises(null);
    expect(free.held).toBe(0);
  });
});

/** A still as the program keeps it, decoded. */
async function still(): Promise<{ width: number; height: number; bytes: Uint8Array }> {
  const made = await v.page.evaluate(
    async (png) => {
      const image = await createImageBitmap(await (await fetch(`data:image/png;base64,${png}`)).blob()),
        g = new OffscreenCanvas(image.width, image.height).getContext('2d')!;
      g.drawImage(image, 0, 0);
      const bytes = g.getImageData(0, 0, image.width, image.height).data;
      let text = '';
      for (let i = 0; i < bytes.length; i += 8192)
        text += String.fromCharCode(...bytes.subarray(i, i + 8192));
      return { width: image.width, height: image.height, data: btoa(text) };
    },
    await stillPng(v.page),
  );
  return { width: made.width, height: made.height, bytes: new Uint8Array(Buffer.from(made.data, 'base64')) };
}
