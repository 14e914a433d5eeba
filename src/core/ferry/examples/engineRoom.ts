import { WHOLE_PICTURE, type Show } from '../../show/types';
import { WAVE } from './shapings';
import { Sheet, type ExampleMedia } from './sheet';

export function engineRoom(media: ExampleMedia): Show {
  const s = new Sheet('example-engine', 'Engine room', media);
  s.figure('plates', 'Plates', { kind: 'texture', pattern: 'noise', whole: true }, 640, 360, {
    ink: '#16130f',
    top: '#2a2119',
    scale: 260,
    contrast: 82,
    inks: 4,
    drift: 0.05,
  });
  s.figure('pipes', 'Pipes', { kind: 'texture', pattern: 'ramp', whole: false }, 640, 672, {
    ink: '#0b0a0a',
    top: '#4a3a26',
    scale: 60,
    contrast: 90,
    size: 2.7,
  });
  s.figure(
    'steam',
    'Steam',
    { kind: 'emitter', shape: 'disc', media: null, fileName: '', most: 4000 },
    640,
    230,
    {
      rate: 20,
      speed: 150,
      spread: 40,
      mouth: 170,
      fall: 60,
      stir: 90,
      life: 2.6,
      each: 0.7,
      end: 3.2,
      ink: '#8c7d63',
      top: '#2a2119',
      shown: 26,
    },
  );
  // Behind the pistons a wheel of eight spokes, which turns on by one in every two beats.
  s.group('wheel', 'Flywheel');
  s.figure(
    'spokes',
    'Spokes',
    { kind: 'copies', shape: 'block', count: 8, along: 'ring', of: null, fromMiddle: false },
    640,
    178,
    { length: 44, each: 0.4, stretch: 9.6, ink: '#93381b', top: '#e8572a' },
    { group: 'wheel' },
  );
  s.figure(
    'teeth',
    'Teeth',
    { kind: 'copies', shape: 'block', count: 32, along: 'ring', of: null, fromMiddle: false },
    640,
    178,
    { length: 306, each: 0.5, stretch: 1.3, ink: '#b98d4e', top: '#efd6a4' },
    { group: 'wheel' },
  );
  s.figure(
    'rim',
    'Rim',
    { kind: 'waveform', round: true },
    640,
    178,
    { length: 296, line: 20, ink: '#b98d4e' },
    { group: 'wheel' },
  );
  s.figure(
    'hub',
    'Hub',
    { kind: 'solid', shape: 'disc', look: 'outlined', anchor: 'middle' },
    640,
    178,
    { size: 0.3, lean: 0, swing: 0, ink: '#b98d4e', lineInk: '#efd6a4', line: 1.5 },
    { group: 'wheel' },
  );
  for (const [i, x] of [212, 388, 892, 1068].entries()) {
    s.figure(
      `piston-${i + 1}`,
      `Piston ${i + 1}`,
      { kind: 'solid', shape: 'tube', look: 'outlined', anchor: 'foot' },
      x,
      70,
      {
        wide: 0.5,
        tall: 0.66,
        deep: 0.5,
        lean: 10,
        ink: i % 2 ? '#b98d4e' : '#93381b',
        lineInk: '#efd6a4',
        line: 2,
      },
    );
    s.route(i % 2 ? 'snare-band' : 'low-band', `piston-${i + 1}`, 'tall', 1.5);
  }
  for (const [i, x] of [212, 388, 892, 1068].entries()) {
    s.figure(`casing-${i + 1}`, `Casing ${i + 1}`, { kind: 'print', form: 'block' }, x, -10, {
      size: 1.06,
      grow: 1.32,
      ink: '#3f2d1c',
    });
    s.figure(`lip-${i + 1}`, `Lip ${i + 1}`, { kind: 'print', form: 'block' }, x, 148, {
      size: 1.26,
      grow: 0.11,
      ink: '#6f5a38',
    });
  }
  s.figure('glim', 'Glim', { kind: 'light' }, 640, 520, { bright: 50, reach: 560, halo: 6 });
  for (const [i, x] of [300, 640, 980].entries())
    s.figure(
      `dial-${i + 1}`,
      ['Revolutions', 'Steam', 'Water'][i]!,
      { kind: 'dial', marks: 11 },
      x,
      i === 1 ? 520 : 496,
      { size: i === 1 ? 1.28 : 1, glow: 55, ink: '#0b0a0a' },
    );
  for (let i = 0; i < 4; i++)
    s.figure(
      `meter-${i + 1}`,
      `Cylinder ${i + 1}`,
      { kind: 'meter', segments: 12, upright: true },
      70 + (i > 1 ? 1074 : 0) + (i % 2) * 64,
      372,
      { size: 0.72, ink: '#6db5a9', top: '#e8572a' },
    );
  s.figure(
    'label',
    'Order',
    { kind: 'text', text: 'FULL AHEAD\nHALF AHEAD\nSTAND BY', face: 'heading' },
    640,
    372,
    { size: 0.6, line: 1, ink: '#efd6a4' },
  );
  s.route('low-band', 'dial-1', 'reading')
    .route('deck-level', 'dial-2', 'reading')
    .route('shaker-band', 'dial-3', 'reading');
  for (let i = 0; i < 4; i++)
    s.route(`eight/${i * 2}`, `meter-${i + 1}`, 'level', undefined, {
      shaping: {
        fit: { mode: 'hand', low: 0.002, high: 0.08 },
        clamp: { low: 0, high: 1 },
        smooth: { attackMs: 4, releaseMs: 240 },
        amount: 1,
      },
    });
  s.route('low-hit', 'glim', 'bright', 150)
    .route('low-hit', 'steam', 'burst', 26)
    .route('voice-level', 'label', 'size', 0.8);
  s.maker('order', 'Order', { kind: 'list', on: 'beat', values: [1, 1, 1, 1, 2, 2, 2, 2], order: 'onward' });
  s.maker('shaft', 'Shaft', {
    kind: 'oscillator',
    shape: 'ramp',
    every: { unit: 'beats', value: 2 },
    phase: 0,
  });
  for (const part of ['spokes', 'teeth']) s.route('shaft', part, 'turn', -45, { shaping: { amount: 1 } });
  s.route('low-band', 'spokes', 'tint', 100).route('wave', 'rim', 'level', 9, WAVE);
  s.route('order', 'label', 'line', 2, { shaping: { fit: { mode: 'hand', low: 1, high: 2 }, amount: 1 } });
  s.finish('grain-1', WHOLE_PICTURE, { kind: 'grain' }, { amount: 16, size: 2 }).finish(
    'glow-1',
    WHOLE_PICTURE,
    { kind: 'glow' },
    { strength: 26, radius: 26, from: 62 },
  );
  s.camera({ pace: 13 }).route('low-hit', 'camera', 'shiver', 5);
  return s.show();
}
