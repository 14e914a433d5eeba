import {
  DrawingError,
  FramesError,
  LASER_LABELS,
  type LaserForm,
  packFrames,
  readDrawing,
} from '../../../core/laser';
import { IldaError, readIlda } from '../../../core/protocols';
import { addLaserFigure, freeId, freeName, type LaserFigure } from '../../../core/show';
import { say } from '../../state/notices';
import { currentShow, edit } from '../../state/session';
import { look } from '../../state/view';

/** What each kind begins with; drawings and frames come from a file. */
export const NEW_FORMS: Readonly<Record<Exclude<LaserForm['kind'], 'drawing' | 'frames'>, LaserForm>> = {
  ring: { kind: 'ring' },
  polygon: { kind: 'polygon', corners: 5, star: true },
  wave: { kind: 'wave', points: 64 },
  fan: { kind: 'fan', beams: 7 },
  grid: { kind: 'grid', across: 4, up: 4 },
  tunnel: { kind: 'tunnel', rings: 4 },
  text: { kind: 'text', text: 'FERRY' },
  points: { kind: 'points', count: 8 },
  figure: { kind: 'figure', of: '' },
};
const FILE_MOST = 16 << 20;

const named = (form: LaserForm): string => {
  const label = 'fileName' in form ? form.fileName.replace(/\.[^.]*$/, '') : LASER_LABELS[form.kind];
  return (label.charAt(0).toUpperCase() + label.slice(1)).slice(0, 60) || 'Laser';
};
/** Adds a figure of the laser, and selects it. */
export function addLaser(form: LaserForm): void {
  const show = currentShow(),
    id = freeId(show, `laser-${form.kind}`),
    name = freeName(show.laserFigures, named(form));
  // A file's frames have colours of their own, and a figure of the picture a place and a size.
  const rest: LaserFigure['rest'] =
    form.kind === 'frames'
      ? { colour: '#ffffff', far: '#ffffff', speed: 12 }
      : form.kind === 'figure'
        ? { size: 100, height: 0 }
        : {};
  edit(`add ${name}`, addLaserFigure({ id, name, form, off: false, rest, twin: null }));
  look({ laser: id });
}

/** What a file holds for a laser: strokes of an SVG, or frames of an ILDA file. @throws Error whose message is for people */
export async function formOfFile(file: File): Promise<LaserForm> {
  if (file.size > FILE_MOST) throw new Error('It is larger than 16 MB.');
  const bytes = new Uint8Array(await file.arrayBuffer()),
    fileName = file.name.slice(0, 200);
  const isIlda = bytes.length >= 4 && String.fromCharCode(...bytes.subarray(0, 4)) === 'ILDA';
  if (!isIlda && /\.ild[a]?$/i.test(file.name)) readIlda(bytes);
  if (isIlda) return { kind: 'frames', frames: packFrames(readIlda(bytes).map((f) => f.points)), fileName };
  const strokes = readDrawing(new TextDecoder().decode(bytes)).map((run) =>
    run.map((x) => Math.round(x * 10000) / 10000),
  );
  return { kind: 'drawing', strokes, fileName };
}
/** Takes a file in as a new figure; what cannot be read is said, and changes nothing. */
export async function takeLaserFile(file: File): Promise<void> {
  try {
    addLaser(await formOfFile(file));
  } catch (e) {
    const known = e instanceof DrawingError || e instanceof IldaError || e instanceof FramesError;
    say(
      'warning',
      `“${file.name}” was not read; nothing is changed. ${known || e instanceof Error ? e.message : ''}`,
    );
  }
}
