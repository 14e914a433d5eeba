/** Sound devices by name; names are known only once a microphone was allowed. */
export interface SoundDevice {
  readonly id: string;
  readonly name: string;
}

/** A device that cannot be used; the message says what to do. */
export class DeviceError extends Error {
  override readonly name = 'DeviceError';
}

export async function listDevices(): Promise<SoundDevice[]> {
  if (!navigator.mediaDevices) return [];
  const all = await navigator.mediaDevices.enumerateDevices();
  return all
    .filter((d) => d.kind === 'audioinput')
    .map((d, i) => ({ id: d.deviceId, name: d.label || `Sound input ${i + 1}` }));
}

/**
 * Opens a device as it is: the browser's echo, noise and gain processing off, since it is made for speech and eats drums.
 * @param id - a device id, or '' for the system's own choice
 * @throws DeviceError
 */
export async function openDevice(id: string): Promise<MediaStream> {
  if (!navigator.mediaDevices)
    throw new DeviceError(
      'This browser gives no access to sound devices. Open Batucada in a current Chrome, Edge or Firefox.',
    );
  try {
    return await navigator.mediaDevices.getUserMedia({
      audio: {
        ...(id && { deviceId: { exact: id } }),
        echoCancellation: false,
        noiseSuppression: false,
        autoGainControl: false,
        channelCount: { ideal: 2 },
      },
    });
  } catch (cause) {
    const name = cause instanceof DOMException ? cause.name : '';
    if (name === 'NotAllowedError')
      throw new DeviceError(
        'The browser was not allowed to use the microphone. Click the sign beside the address, allow the microphone, and try again.',
        { cause },
      );
    if (name === 'NotFoundError' || name === 'OverconstrainedError')
      throw new DeviceError('This device is not there any more. Plug it in, or choose another.', { cause });
    if (name === 'NotReadableError')
      throw new DeviceError('Another program holds this device. Close it there, and try again.', { cause });
    throw new DeviceError('The device could not be opened. Choose another, or try again.', { cause });
  }
}

/**
 * Asks for the sound of another tab, a window or the whole system; the browser shows its own dialogue.
 * @throws DeviceError
 */
export async function openTab(): Promise<MediaStream> {
  if (!navigator.mediaDevices?.getDisplayMedia)
    throw new DeviceError('This browser cannot share the sound of a tab. Open Batucada in Chrome or Edge.');
  let stream: MediaStream;
  try {
    // The picture must be asked for, or the browser offers nothing; it is let go at once.
    stream = await navigator.mediaDevices.getDisplayMedia({
      video: true,
      audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false },
      ...{ systemAudio: 'include', selfBrowserSurface: 'include' },
    });
  } catch (cause) {
    throw new DeviceError('No tab was chosen. Press “share a tab” to choose one.', { cause });
  }
  if (stream.getAudioTracks().length === 0) {
    for (const t of stream.getTracks()) t.stop();
    throw new DeviceError('This tab or window gave no sound. Share it again, and tick “also share sound”.');
  }
  for (const t of stream.getVideoTracks()) t.stop();
  return stream;
}
