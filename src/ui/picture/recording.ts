'use client';
import { create } from 'zustand';
import type { Recorded } from '../../engine/pictures';
import { RECORDINGS, type FromRecordFile, type ToRecordFile } from '../../engine/record/recordFile';
import { saveBlob } from '../state/saveBlob';
import { currentShow, theEngine } from '../state/session';
import { say } from '../state/notices';
import { sizeText } from '../controls/amounts';
import { MediaDesk } from '../../engine/picture/mediaDesk';
import { OWN_FILES } from './ownFiles';

const FRAMES = 30;
/** Below this room a recording ends by itself, so that the show can still be saved. */
const LEAST_ROOM = 100 << 20;
/** A piece is written so often; after so long without any, somebody should know. */
const PIECE_MS = 1000,
  LATE_MS = 10000;
/** A recorder that never had a picture may never say that it has ended: after so long its file is closed all the same. */
const END_MS = 10000;
const TYPES = ['video/webm;codecs=vp9,opus', 'video/webm;codecs=vp8,opus', 'video/webm'] as const;

export interface Recording {
  readonly screen: string;
  readonly name: string;
  /** Since the first of it was written; null before. */ readonly seconds: number | null;
  readonly bytes: number;
  /** Seconds for which there is room at this rate; null while that is not known. */ readonly left:
    number | null;
  /** It was told to end, and its last pieces are being written. */ readonly ending: boolean;
}
export const useRecording = create<{ readonly now: Recording | null; readonly kept: readonly string[] }>(
  () => ({ now: null, kept: [] }),
);

interface Generator extends MediaStreamTrack {
  readonly writable: WritableStream<VideoFrame>;
}
let end: (() => void) | null = null;

const folder = async (): Promise<FileSystemDirectoryHandle> =>
  (await navigator.storage.getDirectory()).getDirectoryHandle(RECORDINGS, { create: true });
/** Looks for recordings that are still on the browser's disk: finished ones, and those that were cut short. */
export async function findRecordings(): Promise<void> {
  const names: string[] = [];
  try {
    for await (const name of ((await folder()) as unknown as { keys(): AsyncIterable<string> }).keys())
      names.push(name);
  } catch {
    return;
  }
  const busy = useRecording.getState().now?.name;
  useRecording.setState({ kept: names.filter((n) => n !== busy).sort() });
}
export async function saveRecording(name: string): Promise<void> {
  saveBlob(await (await (await folder()).getFileHandle(name)).getFile(), name);
}
export async function removeRecording(name: string): Promise<void> {
  try {
    await (await folder()).removeEntry(name);
  } catch {
    say('warning', 'The recording is still being read. Wait until it is saved, and try again.');
  }
  await findRecordings();
}
export function stopRecording(): void {
  end?.();
}

/** Records one screen, or an overlay with what is open left open, with the sound that is heard, to the browser's disk. It goes on while this window is hidden. */
export async function startRecording(screen: Recorded): Promise<void> {
  const engine = theEngine(),
    Made = (
      globalThis as unknown as { MediaStreamTrackGenerator?: new (what: { kind: 'video' }) => Generator }
    ).MediaStreamTrackGenerator;
  if (!engine || useRecording.getState().now) return;
  // Where something is left open only these two keep it so.
  const type = TYPES.find((t) => typeof MediaRecorder !== 'undefined' && MediaRecorder.isTypeSupported(t));
  if (!Made || !type) {
    say('warning', 'This browser cannot record. Use a current Chromium.');
    return;
  }
  const video = new Made({ kind: 'video' }),
    sound = engine.soundTrack();
  if (!sound) say('done', 'There is no sound yet: the recording has none.');
  let desk: MediaDesk | null = null;
  const picture = engine.pictures.recordOn(screen, video.writable, FRAMES, (message, worker) =>
    (desk ??= new MediaDesk(worker, OWN_FILES)).take(message),
  );
  const file = new Worker(new URL('../../engine/record/recordFile.worker.ts', import.meta.url), {
    type: 'module',
    name: 'record file',
  });
  const tell = (message: ToRecordFile, transfer: Transferable[] = []): void =>
    file.postMessage(message, transfer);
  const stamp = new Date().toISOString().slice(0, 19).replace(/[T:]/g, '-'),
    name = `${currentShow().name} ${screen.name} ${stamp}.webm`.replace(/[^\w .-]+/g, '_');
  const recorder = new MediaRecorder(new MediaStream([video, ...(sound ? [sound.track] : [])]), {
    mimeType: type,
    videoBitsPerSecond: Math.max(2e6, screen.width * screen.height * 6),
  });
  const asked = performance.now();
  let from = NaN,
    bytes = 0,
    over = false,
    warned = false;
  const finish = (why: string | null): void => {
    if (over) return;
    over = true;
    useRecording.setState(({ now }) => ({ now: now && { ...now, ending: true } }));
    if (recorder.state !== 'inactive') recorder.stop();
    setTimeout(() => {
      if (bytes === 0) tell({ type: 'close' });
    }, END_MS);
    video.stop();
    sound?.end();
    picture.end();
    desk?.close();
    if (why) say('warning', why);
  };
  end = () => finish(null);
  const look = async (): Promise<void> => {
    const { quota, usage } = await navigator.storage.estimate(),
      room = (quota ?? 0) - (usage ?? 0),
      seconds = bytes > 0 ? (performance.now() - from) / 1000 : null;
    if (over) return;
    if (seconds === null && !warned && performance.now() - asked > LATE_MS) {
      warned = true;
      say(
        'warning',
        'Nothing of the recording is written yet: this machine is too busy to draw and to keep the picture as well. A smaller screen needs less.',
      );
    }
    useRecording.setState({
      now: {
        screen: screen.id,
        name,
        seconds,
        bytes,
        left: seconds !== null && quota ? Math.max(0, room - LEAST_ROOM) / (bytes / seconds) : null,
        ending: false,
      },
    });
    if (quota && room < LEAST_ROOM) finish('The disk is nearly full: the recording was ended, and is kept.');
  };
  const timer = setInterval(() => void look(), 500);
  file.onmessage = (e: MessageEvent<FromRecordFile>) => {
    if (e.data.type === 'written') {
      if (bytes === 0) from = performance.now() - PIECE_MS;
      bytes = e.data.bytes;
    } else if (e.data.type === 'trouble')
      finish(`The recording cannot be written: ${e.data.why}. What was written is kept.`);
    else {
      file.terminate();
      clearInterval(timer);
      end = null;
      useRecording.setState({ now: null });
      void (bytes > 0 ? findRecordings().then(() => saveRecording(name)) : removeRecording(name)).then(
        () =>
          say(
            bytes > 0 ? 'done' : 'warning',
            bytes > 0
              ? `The recording is kept: ${sizeText(bytes)}.`
              : 'Nothing was recorded: it was ended before the first picture was kept.',
          ),
        () => undefined,
      );
    }
  };
  let pieces: Promise<void> = Promise.resolve();
  recorder.ondataavailable = (e) => {
    pieces = pieces.then(async () => {
      const piece = await e.data.arrayBuffer();
      if (piece.byteLength > 0) tell({ type: 'piece', bytes: piece }, [piece]);
    });
  };
  recorder.onstop = () => {
    void pieces.then(() => tell({ type: 'close' }));
  };
  recorder.onerror = () => finish('The recording broke off. What was recorded is kept.');
  tell({ type: 'open', name });
  recorder.start(PIECE_MS);
  useRecording.setState({
    now: { screen: screen.id, name, seconds: null, bytes: 0, left: null, ending: false },
  });
}
