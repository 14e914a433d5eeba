import { WHOLE_PICTURE, type Show } from '../../show/types';
import { laid, WAVE } from './shapings';
import { Sheet, type ExampleMedia } from './sheet';

export function lookout(media: ExampleMedia): Show {
  const s = new Sheet('example-lookout', 'The lookout’s glass', media);
  s.figure('dark', 'Dark', { kind: 'texture', pattern: 'noise', whole: true }, 640, 360, {
    ink: '#0a1117',
    top: '#152832',
    scale: 320,
    contrast: 40,
    inks: 5,
    drift: 0.12,
  });
  s.figure(
    'rail',
    'Rail',
    { kind: 'copies', shape: 'block', count: 14, along: 'line', of: null, fromMiddle: false },
    640,
    30,
    { length: 1240, each: 2, stretch: 2.6, ink: '#b98d4e', top: '#efd6a4' },
  );
  s.figure(
    'film',
    'Wake, filmed',
    { kind: 'video', media: media.film, fileName: 'wake.webm', flipX: false, flipY: false },
    196,
    540,
    { size: 0.56, turn: -5, contrast: 120 },
  );
  s.figure(
    'glass',
    'Glass',
    { kind: 'camera', deviceId: '', deviceName: '', flipX: false, flipY: false },
    700,
    380,
    { size: 1.9 },
  );
  s.figure(
    'lens',
    'Lens',
    { kind: 'solid', shape: 'disc', look: 'filled', anchor: 'middle' },
    700,
    380,
    { size: 2.3, lean: 0, swing: 0, ink: '#ffffff' },
    { hidden: true },
  );
  s.figure('hair', 'Hair line', { kind: 'waveform', round: false }, 700, 380, {
    length: 500,
    line: 2.5,
    ink: '#e8572a',
  });
  s.figure(
    'pass',
    'Pass',
    { kind: 'image', media: media.badge, fileName: 'badge.svg', flipX: false, flipY: false },
    1120,
    560,
    { size: 0.34, turn: 6 },
  );
  s.figure(
    'log',
    'Log',
    { kind: 'text', text: 'light on the far bank\nsail to starboard\nnothing to report', face: 'plain' },
    214,
    250,
    { size: 0.42, line: 1, typed: 100 },
  );
  s.finish(
    'mask-1',
    'glass',
    { kind: 'mask', by: 'lens', inverted: false },
    { soft: 4, inner: 22, outer: 10, ink: '#f0b53c' },
  );
  s.finish('key-1', 'pass', { kind: 'key' }, { colour: '#12212c', reach: 14, soft: 8 });
  s.finish(
    'ramp-1',
    'film',
    { kind: 'ramp' },
    { dark: '#12212c', half: '#b8442a', light: '#f2e9d4', inks: 5 },
  );
  s.finish('shove-1', 'rail', { kind: 'shove', by: 'glass' }, { across: 0, height: 12 });
  s.route('spectrum', 'glass', 'shift', 46, laid())
    .route('low-hit', 'mask-1', 'outer', 60)
    .route('deck-level', 'mask-1', 'inner', 60)
    .route('wave', 'hair', 'level', 60, WAVE)
    .route('snare-band', 'glass', 'bright', 118);
  s.route('low-hit', 'lens', 'size', 2.42)
    .route('low-band', 'shove-1', 'height', 60)
    .route('voice-level', 'pass', 'size', 0.46)
    .route('shaker-band', 'film', 'pace', 2);
  s.maker('log-line', 'Log line', { kind: 'list', on: 'low-hit', values: [1, 2, 3], order: 'onward' });
  s.route('log-line', 'log', 'line', 3, { shaping: { fit: { mode: 'hand', low: 1, high: 3 }, amount: 1 } });
  s.finish('flash-1', WHOLE_PICTURE, { kind: 'flash' }, { ink: '#f2e9d4' }).route(
    'low-hit',
    'flash-1',
    'level',
    12,
  );
  s.finish('grain-1', WHOLE_PICTURE, { kind: 'grain' }, { amount: 12, pace: 8 });
  return s.show();
}
