import { newEdgeForm } from '../../show/overlayStarts';
import type { Show } from '../../show/types';
import { laid } from './shapings';
import { Sheet, type ExampleMedia } from './sheet';

const LETTERS = { kind: 'letters', of: null, wide: 0, align: 'middle', outline: 4 } as const;

/** An overlay that shows the camera itself, in a ring whose border is the sound's own wave, with short instructions under it. */
export function pilotHouse(media: ExampleMedia): Show {
  const s = new Sheet('example-pilot', 'Pilot house', media);
  s.figure('night', 'Ground', { kind: 'ground' }, 0, 0).figure(
    'far-stars',
    'Stars',
    { kind: 'stars', count: 24 },
    0,
    360,
  );
  s.route('shaker-band', 'far-stars', 'glow');
  const says = s.maker('says', 'What to do', {
    kind: 'prompter',
    lines: [
      { at: 0, text: 'Say who you are' },
      { at: 12, text: 'Wave to the bank' },
      { at: 24, text: 'And now be still' },
    ],
  });
  s.overlay('wheel', 'Wheel')
    .figure(
      'pilot-camera',
      'Camera',
      { kind: 'camera', deviceId: '', deviceName: '', flipX: true, flipY: false },
      640,
      392,
      { size: 1.5 },
    )
    .figure(
      'ring',
      'Ring',
      {
        ...newEdgeForm({ width: 500, height: 500 }),
        outline: 'round',
        bulge: 'even',
        way: 'both',
        cuts: true,
        line: false,
      },
      640,
      400,
      { thick: 16, ink: '#f0b53c', reach: 60 },
    )
    .figure(
      'orders',
      'Orders',
      {
        ...LETTERS,
        text: 'Say who you are\nWave to the bank\nAnd now be still',
        of: 'says',
        face: 'heading',
        wide: 900,
      },
      640,
      74,
      { size: 0.8 },
    );
  s.route('wave', 'ring', 'swell', 40, laid())
    .route('deck-level', 'ring', 'glow')
    .route('deck-level', 'ring', 'glowOut')
    .route(says, 'orders', 'line', 3);
  return s.show();
}

/** An overlay for somebody who only talks: a lantern that bumps, a name whose letters each follow a band, a meter. */
export function lampRoom(media: ExampleMedia): Show {
  const s = new Sheet('example-lamproom', 'Lamp room', media);
  s.figure('night', 'Ground', { kind: 'ground' }, 0, 0).figure(
    'lamps',
    'Lanterns',
    { kind: 'lanterns', count: 8, width: 700 },
    640,
    460,
  );
  s.route('voice-level', 'lamps', 'glow');
  s.overlay('talk', 'Talk')
    .figure(
      'lantern',
      'Lantern',
      { kind: 'image', media: media.badge, fileName: 'lantern.svg', flipX: false, flipY: false },
      200,
      190,
      { size: 0.5 },
    )
    .figure(
      'halo',
      'Halo',
      {
        ...newEdgeForm({ width: 270, height: 270 }),
        outline: 'round',
        bulge: 'even',
        way: 'outward',
        line: false,
      },
      200,
      190,
      { thick: 10, ink: '#e8572a', reach: 70 },
    )
    .figure('title', 'Title', { ...LETTERS, text: 'LAMPROOM', face: 'heading' }, 660, 120, { size: 1.1 })
    .figure('loud', 'Meter', { kind: 'meter', segments: 14, upright: true }, 1200, 90, { size: 0.6 });
  s.route('voice-level', 'lantern', 'size', 0.6)
    .route('voice-level', 'halo', 'swell', 26)
    .route('voice-level', 'halo', 'glowOut')
    .route('spectrum', 'title', 'rise', 44, laid())
    .route('spectrum', 'title', 'tint', 100, laid())
    .route('voice-level', 'loud', 'level');
  return s.show();
}
