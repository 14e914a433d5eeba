import { WHOLE_PICTURE, type Show } from '../../show/types';
import { laid } from './shapings';
import { Sheet, type ExampleMedia } from './sheet';

export function pier(media: ExampleMedia): Show {
  const s = new Sheet('example-pier', 'The pier’s lamps', media);
  s.figure('dusk', 'Dusk', { kind: 'texture', pattern: 'round ramp', whole: true }, 640, 360, {
    ink: '#0d1a22',
    top: '#5a2c22',
    scale: 1500,
    contrast: 14,
    inks: 8,
    drift: 0,
  });
  s.figure('bank', 'Far bank', { kind: 'print', form: 'hills' }, 640, 286, { ink: '#0b0a0a' });
  s.figure(
    'sun',
    'Lantern boat',
    { kind: 'solid', shape: 'ball', look: 'outlined', anchor: 'foot' },
    960,
    126,
    { size: 0.62, tall: 0.8, ink: '#e8572a', lineInk: '#f0b53c', area: 70, areaAt: 100 },
  );
  s.figure('crate', 'Crate', { kind: 'solid', shape: 'box', look: 'outlined', anchor: 'foot' }, 960, 126, {
    size: 0.56,
    ink: '#b98d4e',
    lineInk: '#14110f',
  });
  s.figure('water', 'Water', { kind: 'waves', rows: 5 }, 0, 30, { ink: '#3a7c80', swell: 7, drift: 30 });
  s.figure('posts', 'Posts', { kind: 'bars', count: 25, bothWays: false }, 640, 150, {
    length: 1180,
    tall: 250,
    gap: 78,
    level: 34,
    ink: '#1a120c',
    top: '#b98d4e',
  });
  s.figure(
    'lamps',
    'Lamps',
    { kind: 'copies', shape: 'lantern', count: 25, along: 'line', of: null, fromMiddle: true },
    640,
    306,
    { length: 1132, each: 1.3, rise: -58, ink: '#6f5a38', top: '#f0b53c' },
  );
  s.figure(
    'far-lamps',
    'Lamps of the town',
    { kind: 'copies', shape: 'disc', count: 160, along: 'points', of: 'bank', fromMiddle: false },
    640,
    290,
    { each: 0.16, ink: '#b98d4e', top: '#f0b53c', length: 760 },
  );
  s.figure(
    'buoy',
    'Buoy',
    { kind: 'model', media: media.buoy, fileName: 'buoy.glb', look: 'outlined', anchor: 'foot' },
    270,
    40,
    { size: 0.82, ink: '#ffffff', lineInk: '#14110f', line: 1.5, lean: 12 },
  );
  s.figure('turns', 'Ball or crate', { kind: 'switch', of: ['sun', 'crate'] }, 60, 60);
  s.figure(
    'moths',
    'Moths',
    { kind: 'copies', shape: 'bird', count: 40, along: 'grid', of: null, fromMiddle: false },
    640,
    540,
    { length: 1000, each: 0.34, ink: '#f2e9d4', part: 60 },
  );
  for (const [i, x] of [310, 640, 970].entries())
    s.figure(`light-${i + 1}`, `Light ${i + 1}`, { kind: 'light' }, x, 330, {
      bright: 30,
      reach: 330,
      halo: 16,
    }).route(`eight/${i * 2}`, `light-${i + 1}`, 'bright', 180, {
      shaping: {
        fit: { mode: 'hand', low: 0.002, high: 0.09 },
        clamp: { low: 0, high: 1 },
        smooth: { attackMs: 3, releaseMs: 220 },
        amount: 1,
      },
    });
  s.route('spectrum', 'lamps', 'tint', 100, laid())
    .route('spectrum', 'lamps', 'each', 2, laid())
    .route('spectrum', 'posts', 'level', 62, laid())
    .route('spectrum', 'lamps', 'rise', 12, laid());
  s.route('snare-hit', 'turns', 'next')
    .route('low-band', 'sun', 'tall', 1.5)
    .route('low-band', 'sun', 'rough', 50)
    .route('low-hit', 'crate', 'size', 0.74)
    .route('deck-level', 'buoy', 'swing', 180)
    .route('low-band', 'buoy', 'turn', 9)
    .route('low-band', 'water', 'swell', 26);
  s.route('spectrum', 'moths', 'rise', 60, laid())
    .route('spectrum', 'moths', 'twist', 200, laid())
    .route('shaker-band', 'far-lamps', 'each', 0.34);
  s.finish('shove-1', 'water', { kind: 'shove', by: null }, { across: 6, scale: 90 }).route(
    'deck-level',
    'shove-1',
    'across',
    40,
  );
  s.finish('blur-1', 'moths', { kind: 'blur' }, { radius: 2 })
    .finish('glow-1', WHOLE_PICTURE, { kind: 'glow' }, { strength: 55, radius: 30, from: 50 })
    .finish('grain-1', WHOLE_PICTURE, { kind: 'grain' }, { amount: 10 });
  return s.show();
}
