/**
 * What may not be in a file of a show: addresses outside it, and drawings that would take all of a machine's time. A show is opened
 * by people who did not make it.
 */

const GLB = 0x46546c67,
  GLB_JSON = 0x4e4f534a;

/**
 * Addresses outside itself that a glTF file names.
 * @param bytes - a .glb or .gltf file, untrusted @returns the first of them; null when there is none, or when it is no glTF at all
 */
export function modelAddress(bytes: ArrayBuffer): string | null {
  const view = new DataView(bytes);
  let text: Uint8Array;
  if (view.byteLength >= 20 && view.getUint32(0, true) === GLB) {
    if (view.getUint32(16, true) !== GLB_JSON) return null;
    text = new Uint8Array(bytes, 20, Math.min(view.getUint32(12, true), view.byteLength - 20));
  } else text = new Uint8Array(bytes);
  let json: unknown;
  try {
    json = JSON.parse(new TextDecoder().decode(text));
  } catch {
    return null;
  }
  const todo: unknown[] = [json];
  while (todo.length > 0) {
    const at = todo.pop();
    if (typeof at !== 'object' || at === null) continue;
    for (const [key, value] of Object.entries(at)) {
      if (key === 'uri' && typeof value === 'string' && !value.startsWith('data:')) return value;
      todo.push(value);
    }
  }
  return null;
}

/** Most that a drawing may ask of the machine: a filter is gone over with every picture of it. */
const FILTERS_MOST = 24,
  SHAPES_MOST = 50000,
  TEXT_MOST = 8 << 20;

/** Why a drawing (SVG) cannot be used; null when it can. @param text - untrusted */
export function drawingTrouble(text: string): string | null {
  if (text.length > TEXT_MOST) return 'It is larger than 8 MB of text. Make it simpler, or save it as PNG.';
  const count = (what: RegExp): number => text.match(what)?.length ?? 0;
  if (count(/<fe[A-Z]/g) > FILTERS_MOST || count(/\bfilter\s*[=:]/g) > FILTERS_MOST)
    return `It has more than ${FILTERS_MOST} filters, which would hold up the whole show. Make it simpler, or save it as PNG.`;
  if (count(/<[a-zA-Z]/g) > SHAPES_MOST)
    return `It has more than ${SHAPES_MOST.toLocaleString('en')} parts. Make it simpler, or save it as PNG.`;
  if (count(/<use\b/g) > 2000) return 'It repeats its parts too often. Make it simpler, or save it as PNG.';
  return null;
}

/** Whether a film is nothing but a list of addresses where its parts are. @param head - its first bytes */
export function isPlaylist(head: Uint8Array, type: string): boolean {
  if (/mpegurl|m3u|dash/i.test(type)) return true;
  const text = new TextDecoder().decode(head.subarray(0, 256)).trimStart();
  return text.startsWith('#EXTM3U') || /^(<\?xml[^>]*>)?\s*<MPD\b/.test(text);
}
