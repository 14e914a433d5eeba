/** Long enough for a browser that asks where to put it. */
const KEPT_MS = 60000;

/** Hands a file to the browser to save. @param name - what it is called; what no file system likes is taken out of it */
export function saveBlob(blob: Blob, name: string): string {
  const url = URL.createObjectURL(blob),
    clean = name.replace(/[/\\?%*:|"<>]/g, '').trim() || 'batucada';
  Object.assign(document.createElement('a'), { href: url, download: clean }).click();
  setTimeout(() => URL.revokeObjectURL(url), KEPT_MS);
  return clean;
}
