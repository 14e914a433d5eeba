import { colourParameter, numberParameter, type ParameterDescription } from '../parameters/description';
import { cellsOf, has, type Kind } from './kind';

const DIMMER = numberParameter({
  id: 'dimmer',
  label: 'dimmer',
  help: 'How bright the lamp is.',
  unit: '%',
  min: 0,
  max: 100,
  step: 1,
  rest: 6,
  reach: 100,
  attackMs: 4,
  releaseMs: 240,
  dark: 0,
  light: true,
});
const COLOUR = colourParameter({
  id: 'colour',
  label: 'colour',
  help: 'The colour of its light.',
  rest: '#f0b53c',
  reach: '#e8572a',
});
const PICTURE = numberParameter({
  id: 'picture',
  label: 'picture',
  help: 'How much of its colour is the picture’s, as it lies over the room where this lamp hangs.',
  unit: '%',
  min: 0,
  max: 100,
  step: 1,
  rest: 0,
  reach: 100,
  attackMs: 40,
  releaseMs: 240,
});
const FAR_COLOUR = colourParameter({
  id: 'far',
  label: 'far colour',
  help: 'The colour at its other end; the cells between run from one to the other.',
  rest: '#e8572a',
  reach: '#f0b53c',
});
const CELLS = numberParameter({
  id: 'cells',
  label: 'cells',
  help: 'How bright each cell is. A row of bands or a waveform laid on it gives each its own.',
  unit: '%',
  min: 0,
  max: 100,
  step: 1,
  rest: 100,
  reach: 100,
  attackMs: 4,
  releaseMs: 180,
  takesRow: true,
});
const UV = numberParameter({
  id: 'uv',
  label: 'ultraviolet',
  help: 'How strongly it shines in ultraviolet, which no colour stands for.',
  unit: '%',
  min: 0,
  max: 100,
  step: 1,
  rest: 0,
  reach: 100,
  attackMs: 4,
  releaseMs: 240,
  dark: 0,
  light: true,
});
const FOCUS = numberParameter({
  id: 'focus',
  label: 'focus',
  help: 'How sharp the edge of its beam is.',
  unit: '%',
  min: 0,
  max: 100,
  step: 1,
  rest: 50,
  reach: 100,
  attackMs: 60,
  releaseMs: 400,
});
const HAZE = numberParameter({
  id: 'haze',
  label: 'haze',
  help: 'How much haze it gives. In the dark, and when the show is not heard of any more, none.',
  unit: '%',
  min: 0,
  max: 100,
  step: 1,
  rest: 0,
  reach: 40,
  attackMs: 400,
  releaseMs: 2000,
  dark: 0,
});
const FAN = numberParameter({
  id: 'fan',
  label: 'fan',
  help: 'How strongly the haze is blown.',
  unit: '%',
  min: 0,
  max: 100,
  step: 1,
  rest: 30,
  reach: 100,
  attackMs: 400,
  releaseMs: 2000,
});

/** A slow follower: a head is heavy. */
const MOVING = { attackMs: 250, releaseMs: 700 } as const;
function turning(id: 'pan' | 'tilt', { from, to }: { from: number; to: number }): ParameterDescription {
  const min = Math.min(from, to),
    max = Math.max(from, to);
  return numberParameter({
    id,
    label: id,
    help: id === 'pan' ? 'How far it is turned about its foot.' : 'How far it is tipped from straight.',
    unit: '°',
    min,
    max,
    step: 1,
    rest: Math.min(max, Math.max(min, id === 'tilt' ? 30 : 0)),
    reach: Math.min(max, Math.max(min, id === 'tilt' ? 60 : 45)),
    ...MOVING,
  });
}

/**
 * What of a lamp of this kind can be moved. Nothing that turns has a value for the dark: a head that swings when its light goes out
 * may still be lit.
 */
export function kindParameters(kind: Kind): readonly ParameterDescription[] {
  let known = made.get(kind);
  if (!known) made.set(kind, (known = describe(kind)));
  return known;
}
const made = new WeakMap<Kind, readonly ParameterDescription[]>();

function describe(kind: Kind): ParameterDescription[] {
  const out: ParameterDescription[] = [];
  const lights = ['dimmer', 'red', 'white', 'warm', 'cyan', 'colours'] as const;
  if (lights.some((use) => has(kind, use))) out.push(DIMMER);
  if (['red', 'warm', 'cyan', 'colours'].some((use) => has(kind, use as 'red'))) out.push(COLOUR);
  if (cellsOf(kind) > 1) out.push(FAR_COLOUR, CELLS);
  if (out.includes(COLOUR)) out.push(PICTURE);
  if (has(kind, 'uv')) out.push(UV);
  if (has(kind, 'pan') && kind.pan) out.push(turning('pan', kind.pan));
  if (has(kind, 'tilt') && kind.tilt) out.push(turning('tilt', kind.tilt));
  if (has(kind, 'zoom') && kind.zoom) {
    const min = Math.min(kind.zoom.from, kind.zoom.to),
      max = Math.max(kind.zoom.from, kind.zoom.to);
    out.push(
      numberParameter({
        id: 'zoom',
        label: 'zoom',
        help: 'How wide its beam is.',
        unit: '°',
        min,
        max,
        step: 0.5,
        rest: min + (max - min) * 0.25,
        reach: max,
        ...MOVING,
      }),
    );
  }
  if (has(kind, 'focus')) out.push(FOCUS);
  if (has(kind, 'gobos') && kind.gobos.length > 1)
    out.push(
      numberParameter({
        id: 'gobo',
        label: 'gobo',
        help: `Which pattern is in the beam: ${kind.gobos.map((g, i) => `${i} ${g.name}`).join(', ')}.`,
        unit: '',
        min: 0,
        max: kind.gobos.length - 1,
        step: 1,
        rest: 0,
        reach: 1,
      }),
    );
  if (has(kind, 'shutter') && kind.shutter?.strobe)
    out.push(
      numberParameter({
        id: 'strobe',
        label: 'strobe',
        help: 'Flashes a second; 0 is steady. More than three only where quick flashes are allowed on this machine.',
        unit: 'Hz',
        min: 0,
        max: kind.shutter.strobe.quick,
        step: 0.5,
        rest: 0,
        reach: Math.min(2, kind.shutter.strobe.quick),
        dark: 0,
      }),
    );
  if (has(kind, 'haze')) out.push(HAZE);
  if (has(kind, 'fan')) out.push(FAN);
  return out;
}
