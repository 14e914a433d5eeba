import { beforeAll, describe, expect, it } from '@jest/globals';
import { buoyModel } from '../src/core/ferry/buoy';
import { Board, BLUE, GREEN, openBoard, RED, shoot, WHITE, type Shot } from './board';
import { withFerry } from './stage';
import { until, type Visit } from './support';

let v: Visit;
withFerry(async (_, first) => {
  v = first;
});

/** Opens a board, and says what it shows at rest and with its button pressed. `ready` tells the moved picture from the resting one. */
async function restAndMoved(
  board: Board,
  ready: (moved: Shot) => boolean,
  rested: (rest: Shot) => boolean = () => true,
  hz?: number,
): Promise<{ rest: Shot; moved: Shot }> {
  await openBoard(v.page, board, hz);
  const rest = await until('the picture at rest', async () => {
    const s = await shoot(v.page);
    return s.light(20, 700) === 0 && rested(s) ? s : null;
  });
  await v.page.keyboard.press('k');
  const moved = await until('what the button moves', async () => {
    const s = await shoot(v.page);
    return ready(s) ? s : null;
  });
  return { rest, moved };
}

describe('figures, each moved by a route', () => {
  let rest: Shot, moved: Shot;
  const lamp = { x: 1000, y: 620 };
  beforeAll(async () => {
    const b = new Board();
    const svg = await b.media(
      'red.svg',
      'image/svg+xml',
      `<svg xmlns="http://www.w3.org/2000/svg" width="400" height="200"><rect width="400" height="200" fill="${RED}"/></svg>`,
    );
    const buoy = await b.media('buoy.glb', 'model/gltf-binary', buoyModel());
    // A solid 80 px high on its foot, and the same in lines.
    b.figure('solid', { kind: 'solid', shape: 'plate', look: 'filled', anchor: 'foot' }, 80, 520, {
      size: 80 / 220,
      lean: 0,
      swing: 0,
      ink: RED,
    }).move('solid', 'tall', 2);
    b.figure('wire', { kind: 'solid', shape: 'plate', look: 'wire', anchor: 'middle' }, 240, 600, {
      size: 0.8,
      lean: 0,
      swing: 0,
      lineInk: GREEN,
      line: 2,
    }).move('wire', 'shown', 0);
    b.figure(
      'model',
      { kind: 'model', media: buoy, fileName: 'buoy.glb', look: 'filled', anchor: 'foot' },
      400,
      530,
      { size: 0.5, lean: 0, swing: 0, ink: WHITE },
    ).move('model', 'height', 90);
    b.figure(
      'copies',
      { kind: 'copies', shape: 'block', count: 5, along: 'line', of: null, fromMiddle: false },
      600,
      560,
      { length: 160, ink: RED, top: GREEN },
    )
      .move('copies', 'rise', 90)
      .move('copies', 'tint', 100);
    b.figure(
      'ring',
      { kind: 'copies', shape: 'disc', count: 4, along: 'ring', of: null, fromMiddle: false },
      800,
      600,
      { length: 100, ink: RED },
    ).move('ring', 'part', 50);
    b.block('under', lamp.x, lamp.y - 40, 80, '#404040')
      .figure('light', { kind: 'light' }, lamp.x, lamp.y, { bright: 0, halo: 0, reach: 150, ink: WHITE })
      .move('light', 'bright', 400);
    b.figure(
      'emitter',
      { kind: 'emitter', shape: 'disc', media: null, fileName: '', most: 4000 },
      1180,
      540,
      {
        rate: 0,
        speed: 160,
        way: 90,
        spread: 20,
        fall: 0,
        stir: 0,
        life: 1,
        each: 0.4,
        ink: WHITE,
        top: WHITE,
      },
    ).move('emitter', 'rate', 900);
    b.figure('bars', { kind: 'bars', count: 4, bothWays: false }, 120, 300, {
      length: 160,
      tall: 120,
      gap: 50,
      level: 25,
      ink: RED,
      top: RED,
    }).move('bars', 'level', 100);
    b.figure('waveform', { kind: 'waveform', round: false }, 360, 340, {
      length: 160,
      line: 8,
      ink: GREEN,
    }).move('waveform', 'level', 60);
    b.figure('spectrogram', { kind: 'spectrogram', seconds: 2 }, 480, 290, {
      size: 0.35,
      inks: 0,
      ground: BLUE,
      ink: GREEN,
      top: RED,
    }).move('spectrogram', 'level', 100);
    b.figure(
      'image',
      { kind: 'image', media: svg, fileName: 'red.svg', flipX: false, flipY: false },
      780,
      350,
      { size: 0.3 },
    ).move('image', 'shift', 72);
    b.figure('view', { kind: 'camera', deviceId: '', deviceName: '', flipX: false, flipY: false }, 960, 350, {
      size: 0.3,
    }).move('view', 'bright', 0);
    b.figure('texture', { kind: 'texture', pattern: 'noise', whole: false }, 1140, 350, {
      size: 0.3,
      ink: RED,
      top: GREEN,
      contrast: 100,
      middle: 100,
      drift: 0,
    }).move('texture', 'middle', 0);
    b.figure('text', { kind: 'text', text: 'MMMM\nWWWW', face: 'heading' }, 120, 150, {
      size: 0.8,
      ink: WHITE,
    }).move('text', 'line', 1);
    b.block('one', 300, 100, 70, RED)
      .block('two', 300, 100, 70, GREEN)
      .figure('switch', { kind: 'switch', of: ['one', 'two'] }, 0, 0)
      .move('switch', 'which', 2);
    // Its line ends before it runs into what stands further left.
    b.figure('trace', { kind: 'trace' }, 720, 120, {
      thick: 6,
      run: 200,
      last: 1.4,
      ink: WHITE,
      top: WHITE,
    }).move('trace', 'penY', 120);
    b.block('grown', 860, 60, 60, RED).move('grown', 'grow', 2.5);
    b.figure('stars', { kind: 'stars', count: 40 }, 0, 360, { size: 0, ink: WHITE });
    b.block('behind', 1000, 60, 80, '#808080')
      .block('mixed', 1000, 60, 80, RED, { blend: 'multiply' })
      .move('mixed', 'across', 100);
    ({ rest, moved } = await restAndMoved(
      b,
      (s) => s.is(860, 170, RED) && s.is(300, 130, GREEN) && s.some(1150, 560, 1210, 700),
      (s) => s.is(780, 350, RED) && s.some(400, 540, 400, 560),
    ));
  });
  it('a solid grows from its foot upward only', () => {
    expect([rest.is(80, 560, RED, 90), rest.light(80, 640)]).toEqual([true, 0]);
    expect(moved.light(80, 660)).toBeGreaterThan(100);
    for (const s of [rest, moved]) {
      expect(s.light(80, 510)).toBe(0);
      expect(s.light(30, 560)).toBe(0);
      expect(s.light(130, 560)).toBe(0);
    }
  });
  it('a wire is lines alone, and fades', () => {
    // Sixteen cells of 11 px each way: lines between them, nothing within.
    expect(rest.is(240, 605, GREEN, 120)).toBe(true);
    expect(rest.light(245, 605)).toBeLessThan(60);
    expect(rest.some(150, 600, 156, 610)).toBe(true);
    expect(rest.some(136, 600, 146, 610)).toBe(false);
    expect(moved.some(150, 515, 330, 690)).toBe(false);
  });
  it('a model is lifted, in the colours of its own materials', () => {
    // Its foot is red, its head, 2.84 of its 2.84 units up, is yellow.
    const [r, g, bl] = rest.at(400, 545);
    expect(r).toBeGreaterThan(g + 40);
    expect(r).toBeGreaterThan(bl + 40);
    expect(rest.some(390, 500, 410, 526)).toBe(false);
    expect(moved.some(390, 534, 410, 612)).toBe(false);
    expect(moved.some(390, 624, 410, 640)).toBe(true);
  });
  it('copies stand evenly along their line, rise from it and change their ink', () => {
    for (let i = 0; i < 5; i++) {
      const x = 520 + i * 40;
      expect([rest.is(x, 560, RED), rest.light(x, 650)]).toEqual([true, 0]);
      expect([moved.is(x, 650, GREEN), moved.light(x, 560)]).toEqual([true, 0]);
      expect(rest.light(x + 20, 560)).toBe(0);
    }
  });
  it('a ring of four has them at its four quarters, and half of them is two', () => {
    const places = [
      [800, 650],
      [850, 600],
      [800, 550],
      [750, 600],
    ] as const;
    expect(places.map(([x, y]) => rest.is(x, y, RED))).toEqual([true, true, true, true]);
    expect(places.map(([x, y]) => moved.is(x, y, RED))).toEqual([true, true, false, false]);
  });
  it('a light brightens what lies beneath it, and black stays black', () => {
    expect(rest.is(lamp.x, lamp.y, '#404040', 12)).toBe(true);
    expect(moved.light(lamp.x, lamp.y)).toBeGreaterThan(150);
    expect(moved.light(lamp.x + 60, lamp.y)).toBe(0);
  });
  it('an emitter gives nothing at no rate, and then fills the way that it points', () => {
    expect(rest.some(1120, 500, 1240, 719)).toBe(false);
    expect(moved.some(1150, 560, 1210, 700)).toBe(true);
    expect(moved.some(1060, 500, 1110, 719)).toBe(false);
    expect(moved.some(1140, 470, 1220, 525)).toBe(false);
  });
  it('bars grow from their foot, with gaps between them', () => {
    for (let i = 0; i < 4; i++) {
      const x = 60 + i * 40;
      expect([
        rest.is(x, 315, RED),
        rest.light(x, 345),
        moved.is(x, 345, RED),
        moved.is(x, 412, RED),
      ]).toEqual([true, 0, true, true]);
      expect(moved.light(x + 20, 345)).toBe(0);
    }
    expect(moved.some(40, 424, 200, 440)).toBe(false);
  });
  it('a waveform is one line without gaps, and swings', () => {
    for (let x = 290; x <= 430; x += 2) {
      expect(rest.is(x, 340, GREEN)).toBe(true);
      expect(moved.is(x, 400, GREEN)).toBe(true);
    }
    expect(moved.light(360, 340)).toBe(0);
  });
  it('a spectrogram shows now at its right', () => {
    expect(rest.is(500, 330, BLUE)).toBe(true);
    expect(rest.is(640, 330, BLUE)).toBe(true);
    expect(moved.is(645, 330, RED)).toBe(true);
  });
  it('an image is shifted sideways', () => {
    // 144 px wide: half of it is shifted out of itself.
    expect([rest.is(720, 350, RED), rest.is(840, 350, RED)]).toEqual([true, true]);
    expect([moved.light(720, 350), moved.is(840, 350, RED)]).toEqual([0, true]);
  });
  it('a camera picture is darkened', () => {
    expect(rest.some(900, 320, 1020, 380)).toBe(true);
    expect(moved.some(900, 320, 1020, 380, 8)).toBe(false);
  });
  it('a texture goes from one ink to the other', () => {
    expect([rest.is(1140, 350, RED), moved.is(1140, 350, GREEN)]).toEqual([true, true]);
  });
  it('a text shows all its lines, or one in the middle', () => {
    const [upper, middle, lower] = [179, 150, 121].map((y) => (s: Shot) => s.some(70, y - 4, 170, y + 4)) as [
      (s: Shot) => boolean,
      (s: Shot) => boolean,
      (s: Shot) => boolean,
    ];
    expect([upper(rest), lower(rest)]).toEqual([true, true]);
    expect(middle(moved)).toBe(true);
    expect(moved.some(70, 196, 170, 200)).toBe(false);
    expect(moved.some(70, 98, 170, 108)).toBe(false);
  });
  it('a switch shows the figure that is chosen, and no other', () => {
    expect([rest.is(300, 130, RED), moved.is(300, 130, GREEN)]).toEqual([true, true]);
  });
  it('a trace has no gaps where its pen leaps', () => {
    // From the pen leftward each column has ink, though the pen leapt 120 px within one frame.
    for (let x = 712; x > 600; x -= 2) expect(moved.some(x, 100, x + 1, 250)).toBe(true);
    expect(moved.some(716, 236, 722, 244)).toBe(true);
  });
  it('a printed shape grows upward, its foot stays', () => {
    expect([
      rest.is(860, 100, RED),
      rest.light(860, 150),
      moved.is(860, 170, RED),
      moved.light(860, 50),
    ]).toEqual([true, 0, true, 0]);
  });
  it('blending multiplies with what is behind', () => {
    // Red times grey is dark red; over black it is nothing.
    const [r, g] = rest.at(1000, 100);
    expect(r).toBeGreaterThan(90);
    expect(r).toBeLessThan(170);
    expect(g).toBe(0);
    expect(moved.is(980, 100, '#808080')).toBe(true);
    expect(moved.light(1090, 100)).toBe(0);
  });
});

describe('rows laid over copies', () => {
  it('each bar shows its own part of the spectrum: a tone stands where its pitch is', async () => {
    const b = new Board();
    b.ear({
      id: 'spectrum',
      name: 'Spectrum',
      listening: { kind: 'vector', of: 'spectrum', scale: 'linear', points: 32 },
    });
    b.figure('bars', { kind: 'bars', count: 32, bothWays: false }, 640, 100, {
      length: 1280,
      tall: 500,
      gap: 30,
      level: 0,
      ink: RED,
      top: RED,
    }).move('bars', 'level', 100, 'spectrum');
    // 16 kHz in 32 bars: 6,250 Hz is in the middle of the thirteenth.
    const { moved } = await restAndMoved(b, (s) => s.is(500, 110, RED), undefined, 6250);
    expect(
      Array.from({ length: 32 }, (_, i) => (moved.is(20 + i * 40, 110, RED) ? i : -1)).filter((i) => i >= 0),
    ).toEqual([12]);
  });
});
