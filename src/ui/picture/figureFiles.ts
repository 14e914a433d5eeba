import type { FigureForm } from '../../core/figures';
import { changeFigure } from '../../core/show';
import { keepMedia } from '../../data/database';
import { say } from '../state/notices';
import { currentShow, edit } from '../state/session';
import { aspectOf } from './aspectOf';

const MOST_BYTES = 512 << 20;
/** Figures that are of a file, and which files these may be. */
export const FILES = {
  image: 'image/*,.svg',
  emitter: 'image/*,.svg',
  video: 'video/*',
  model: '.glb,model/gltf-binary',
} as const;
const REFUSED = {
  image: 'an image. Choose PNG, JPEG, WebP, GIF or SVG',
  emitter: 'an image. Choose PNG, JPEG, WebP, GIF or SVG',
  video: 'a film. Choose MP4 or WebM',
  model: 'a model. Choose a glTF binary file (.glb)',
} as const;
export type Filed = keyof typeof FILES;

/** Which file a new figure wants first of all; null for one that is something without. */
export const wantsFile = ({ kind }: FigureForm): Filed | null =>
  kind === 'image' || kind === 'video' || kind === 'model' ? kind : null;

function fits(kind: Filed, file: File): boolean {
  return kind === 'model'
    ? /\.glb$/i.test(file.name)
    : file.type.startsWith(kind === 'video' ? 'video/' : 'image/');
}

/** Gives a figure its file. What does not fit is refused in words, and changes nothing. @param mark - joins it with an edit before */
export async function takeFile(
  kind: Filed,
  figure: string,
  file: File,
  mark: string | null = null,
): Promise<void> {
  if (!fits(kind, file)) {
    say('warning', `“${file.name}” is not ${REFUSED[kind]}.`);
    return;
  }
  if (file.size > MOST_BYTES) {
    say('warning', `“${file.name}” is larger than ${MOST_BYTES >> 20} MB. Make it smaller first.`);
    return;
  }
  try {
    const media = await keepMedia(file, file.name),
      aspect = kind === 'image' || kind === 'video' ? await aspectOf(file) : null,
      now = currentShow().figures.find((f) => f.id === figure);
    if (!now) return;
    const form = { ...now.form, media, fileName: file.name.slice(0, 200), ...(aspect && { aspect }) };
    edit(`choose a file for ${now.name}`, changeFigure(figure, { form: form as FigureForm }), mark);
  } catch (e) {
    say('warning', e instanceof Error ? e.message : 'The file could not be kept.');
  }
}
