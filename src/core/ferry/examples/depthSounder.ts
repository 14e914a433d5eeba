import { WHOLE_PICTURE, type Show } from '../../show/types';
import { laid, WAVE } from './shapings';
import { Sheet, type ExampleMedia } from './sheet';

export function depthSounder(media: ExampleMedia): Show {
  const s = new Sheet('example-sounder', 'Depth sounder', media);
  s.figure('paper', 'Paper', { kind: 'ground' }, 0, 0, { ink: '#0e2530', lines: 26 });
  s.figure('echo', 'Echo', { kind: 'spectrogram', seconds: 8 }, 60, 60, {
    size: 2.02,
    ground: '#0e2530',
    ink: '#1f5560',
    top: '#6db5a9',
    inks: 5,
    shown: 92,
  });
  s.figure(
    'bed',
    'River bed',
    { kind: 'copies', shape: 'block', count: 96, along: 'line', of: null, fromMiddle: false },
    545,
    70,
    { length: 970, each: 0.32, stretch: 1, ink: '#b98d4e', top: '#93381b' },
  );
  s.figure('sounding', 'Sounding', { kind: 'trace' }, 1000, 420, {
    thick: 6,
    run: 150,
    last: 8,
    ink: '#f0b53c',
    top: '#e8572a',
    taper: 30,
  });
  s.figure('sounding-2', 'Second sounding', { kind: 'trace' }, 1000, 300, {
    thick: 2.5,
    run: 150,
    last: 8,
    ink: '#f2e9d4',
    top: '#6db5a9',
  });
  s.figure(
    'sparks',
    'Sparks',
    { kind: 'emitter', shape: 'star', media: null, fileName: '', most: 6000 },
    1000,
    420,
    {
      rate: 0,
      speed: 210,
      spread: 150,
      way: 180,
      fall: 0,
      stir: 30,
      life: 0.9,
      each: 0.5,
      end: 0.1,
      ink: '#f2e9d4',
      top: '#e8572a',
    },
  );
  s.figure('window', 'Window', { kind: 'waveform', round: true }, 1150, 540, {
    length: 150,
    line: 4,
    ink: '#6db5a9',
  });
  s.figure('fathoms', 'Fathoms', { kind: 'text', text: '0\n4\n8\n12\n16\n20', face: 'numbers' }, 1226, 262, {
    size: 0.54,
    ink: '#6db5a9',
  });
  s.figure('legend', 'Legend', { kind: 'text', text: 'KEEL  2.4 m', face: 'heading' }, 1120, 84, {
    size: 0.5,
    ink: '#f0b53c',
  });
  s.route('spectrum', 'echo', 'level', 100, laid())
    .route('spectrum', 'bed', 'stretch', 7, laid())
    .route('spectrum', 'bed', 'tint', 100, laid());
  s.route('low-band', 'sounding', 'penY', 150, {
    shaping: {
      fit: { mode: 'hand', low: 0.005, high: 0.25 },
      clamp: { low: 0, high: 1 },
      smooth: { attackMs: 0, releaseMs: 60 },
      amount: 1,
    },
  });
  s.route('shaker-band', 'sounding-2', 'penY', -120, {
    shaping: {
      fit: { mode: 'hand', low: 0.002, high: 0.05 },
      clamp: { low: 0, high: 1 },
      smooth: { attackMs: 0, releaseMs: 40 },
      amount: 1,
    },
  });
  s.route('low-band', 'sparks', 'height', 150, {
    shaping: {
      fit: { mode: 'hand', low: 0.005, high: 0.25 },
      clamp: { low: 0, high: 1 },
      smooth: { attackMs: 0, releaseMs: 60 },
      amount: 1,
    },
  });
  s.route('low-hit', 'sparks', 'burst', 90)
    .route('low-hit', 'sounding', 'thick', 14)
    .route('wave', 'window', 'level', 46, WAVE)
    .route('deck-level', 'legend', 'size', 0.58);
  s.finish('glow-1', 'sounding', { kind: 'glow' }, { strength: 120, radius: 20, from: 30 }).finish(
    'glow-2',
    'window',
    { kind: 'glow' },
    { strength: 80, radius: 14, from: 30 },
  );
  s.finish('bend-1', WHOLE_PICTURE, { kind: 'bend' }, { bend: 22, reach: 120 }).finish(
    'grain-1',
    WHOLE_PICTURE,
    { kind: 'grain' },
    { amount: 9, size: 2 },
  );
  return s.show();
}
