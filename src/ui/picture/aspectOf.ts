/** Width to height of an image or a film; null where the browser cannot tell. */
export async function aspectOf(file: Blob): Promise<number | null> {
  const address = URL.createObjectURL(file),
    film = file.type.startsWith('video/');
  const shown = film ? document.createElement('video') : new Image();
  try {
    const [width, height] = await new Promise<readonly [number, number]>((tell, fail) => {
      shown.addEventListener('error', () => fail(new Error('It cannot be shown.')));
      if (shown instanceof HTMLVideoElement)
        shown.addEventListener('loadedmetadata', () => tell([shown.videoWidth, shown.videoHeight]));
      else shown.addEventListener('load', () => tell([shown.naturalWidth, shown.naturalHeight]));
      shown.src = address;
    });
    return width > 0 && height > 0 ? Math.min(100, Math.max(0.01, width / height)) : null;
  } catch {
    return null;
  } finally {
    URL.revokeObjectURL(address);
  }
}
