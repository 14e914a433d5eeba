import { WHOLE_PICTURE, type Show } from '../../show/types';
import { laid, WAVE, straight } from './shapings';
import { Sheet, type ExampleMedia } from './sheet';

export function whirlpool(media: ExampleMedia): Show {
  const s = new Sheet('example-whirlpool', 'Whirlpool astern', media);
  s.figure('deep', 'Deep', { kind: 'ground' }, 0, 0, { ink: '#081319', lines: 0 });
  s.group('eddy', 'Eddy');
  s.figure(
    'rim',
    'Rim',
    { kind: 'copies', shape: 'drop', count: 72, along: 'ring', of: null, fromMiddle: true },
    640,
    360,
    { length: 520, each: 0.7, ink: '#6db5a9', top: '#f0b53c' },
    { group: 'eddy' },
  );
  s.figure(
    'mouth',
    'Mouth',
    { kind: 'waveform', round: true },
    640,
    360,
    { length: 250, line: 7, ink: '#f2e9d4' },
    { group: 'eddy' },
  );
  s.figure(
    'lamps',
    'Lamps in it',
    { kind: 'copies', shape: 'lantern', count: 7, along: 'ring', of: null, fromMiddle: false },
    640,
    360,
    { length: 380, each: 1.4, ink: '#e8572a', top: '#f0b53c' },
    { group: 'eddy' },
  );
  s.figure(
    'driftwood',
    'Driftwood',
    { kind: 'solid', shape: 'box', look: 'wire', anchor: 'middle' },
    640,
    360,
    { size: 0.5, line: 3, lineInk: '#b98d4e', rough: 4 },
  );
  s.finish('trails-1', 'eddy', { kind: 'trails' }, { last: 2.2, zoom: 0.5, turn: 34, mix: 100 });
  s.finish('mirror-1', 'driftwood', { kind: 'mirror', way: 'into four' });
  s.route('spectrum', 'rim', 'rise', 70, laid())
    .route('spectrum', 'rim', 'tint', 100, laid())
    .route('spectrum', 'rim', 'twist', 80, laid())
    .route('wave', 'mouth', 'level', 70, WAVE);
  s.route('deck-level', 'trails-1', 'zoom', 1.5)
    .route('beat', 'trails-1', 'turn', 190, straight(420))
    .route('beat', 'trails-1', 'clear', 1, { muted: true })
    .route('low-hit', 'lamps', 'each', 2.6)
    .route('low-band', 'lamps', 'turn', 60);
  s.route('deck-level', 'driftwood', 'spin', 160)
    .route('low-band', 'driftwood', 'rough', 70)
    .route('low-band', 'driftwood', 'size', 0.8);
  s.finish(
    'ramp-1',
    WHOLE_PICTURE,
    { kind: 'ramp' },
    { dark: '#081319', half: '#6db5a9', light: '#f2e9d4', inks: 0, mix: 0 },
  ).route('voice-level', 'ramp-1', 'mix', 80);
  s.finish('bend-1', WHOLE_PICTURE, { kind: 'bend' }, { bend: 0, reach: 95 }).route(
    'low-hit',
    'bend-1',
    'bend',
    42,
  );
  s.finish('grain-1', WHOLE_PICTURE, { kind: 'grain' }, { amount: 10 });
  return s.show();
}
