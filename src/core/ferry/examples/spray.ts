import { WHOLE_PICTURE, type Show } from '../../show/types';
import { laid } from './shapings';
import { Sheet, type ExampleMedia } from './sheet';

const NIGHT = { first: '#0d1a22', last: '#1d3340' } as const;

export function spray(media: ExampleMedia): Show {
  const s = new Sheet('example-spray', 'Spray at the bow', media);
  s.figure('night', 'Night', { kind: 'texture', pattern: 'ramp', whole: true }, 640, 360, {
    ink: NIGHT.first,
    top: '#2b4a55',
    scale: 1440,
    contrast: 12,
    inks: 7,
    drift: 0,
  });
  s.figure('moon', 'Moon', { kind: 'print', form: 'moon' }, 1040, 560, {
    ink: '#f2e9d4',
    size: 0.8,
    glow: 30,
  });
  s.figure(
    'gulls',
    'Gulls',
    { kind: 'copies', shape: 'bird', count: 9, along: 'line', of: null, fromMiddle: false },
    420,
    560,
    { length: 560, each: 1.1, ink: '#f2e9d4', turn: 8 },
  );
  s.figure('far', 'Far water', { kind: 'waves', rows: 3 }, 0, 196, { ink: '#2f6a70', swell: 6, drift: -40 });
  s.figure('bow', 'Bow', { kind: 'print', form: 'ferry' }, 380, 120, { size: 1.42, tilt: 2 });
  s.figure(
    'spray',
    'Spray',
    { kind: 'emitter', shape: 'drop', media: null, fileName: '', most: 30000 },
    850,
    168,
    {
      rate: 420,
      speed: 430,
      way: 72,
      spread: 56,
      mouth: 120,
      fall: -720,
      wind: -60,
      stir: 26,
      life: 1.5,
      each: 0.5,
      end: 0.3,
      ink: '#f2e9d4',
      top: '#6db5a9',
    },
  );
  s.figure(
    'foam',
    'Foam',
    { kind: 'emitter', shape: 'disc', media: null, fileName: '', most: 12000 },
    870,
    96,
    {
      rate: 160,
      speed: 130,
      way: 180,
      spread: 26,
      mouth: 160,
      fall: -20,
      stir: 60,
      life: 3.4,
      each: 0.5,
      end: 1.6,
      ink: '#f2e9d4',
      top: '#2f6a70',
      shown: 70,
    },
  );
  s.figure('near', 'Near water', { kind: 'waves', rows: 4 }, 0, 14, {
    ink: '#6db5a9',
    swell: 14,
    drift: -120,
  });
  s.figure(
    'badges',
    'Pennants',
    { kind: 'emitter', shape: 'picture', media: media.badge, fileName: 'badge.svg', most: 400 },
    760,
    250,
    {
      rate: 0,
      burst: 0,
      speed: 420,
      way: 80,
      spread: 70,
      fall: -520,
      life: 2.2,
      each: 0.9,
      end: 0.6,
      tumble: 300,
    },
  );
  s.figure('bow-light', 'Bow light', { kind: 'light' }, 690, 330, { bright: 60, reach: 360, halo: 26 });
  s.route('low-hit', 'spray', 'burst', 900)
    .route('deck-level', 'spray', 'rate', 2600)
    .route('low-band', 'spray', 'speed', 760)
    .route('low-hit', 'foam', 'burst', 120);
  s.route('low-band', 'bow', 'tilt', 6)
    .route('low-band', 'bow', 'height', 26)
    .route('low-band', 'near', 'swell', 48)
    .route('shaker-band', 'near', 'chop')
    .route('shaker-band', 'far', 'chop', 6);
  s.route('spectrum', 'gulls', 'rise', 60, laid())
    .route('spectrum', 'gulls', 'stretch', 1.7, laid())
    .route('bell-note', 'badges', 'burst', 3)
    .route('snare-band', 'bow-light', 'bright', 320)
    .route('voice-level', 'bow', 'glow');
  s.finish('ripple-1', 'moon', { kind: 'ripple' }, { length: 46, middleX: 81, middleY: 78, speed: 90 }).route(
    'deck-level',
    'ripple-1',
    'depth',
    10,
  );
  s.finish('blur-1', 'far', { kind: 'blur' }, { radius: 3 }).finish(
    'grain-1',
    WHOLE_PICTURE,
    { kind: 'grain' },
    { amount: 11 },
  );
  s.route('low-hit', 'camera', 'shiverUp', 9).route('low-hit', 'camera', 'turn', 0.8);
  return s.show();
}
