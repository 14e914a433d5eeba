'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { useCallback, useEffect, useRef, useState } from 'react';
import { BLINK_EVERY, BLINK_LONG, type Lag, lagOfLight, lagOfPresses } from '../../core/outlets';
import { live } from '../live/live';
import { perform, theEngine } from '../state/session';

type Way = 'press' | 'camera';
/** Presses that are asked for, and pictures of a camera that are looked at. */
const PRESSES = 10,
  CAMERA_MS = 8000;
/** Presses before one has found the beat. */
const PRESSES_FIRST = 2;
/** Clicks come so much after they were asked for. */
const CLICKS_IN_MS = 500;

/** When the first flash falls, by this window's clock, in ms; null while none is seen in the frames. */
function useBlinkStart(on: boolean): () => number | null {
  const offset = useRef(Infinity),
    from = useRef<number | null>(null);
  useEffect(() => {
    offset.current = Infinity;
    from.current = null;
    if (!on) return;
    let frame = 0;
    const look = (): void => {
      frame = requestAnimationFrame(look);
      const f = live.frame;
      if (!f || f.blink === 0) return;
      // A frame is at hand a little after its time, sometimes more: the least is the truest.
      offset.current = Math.min(offset.current, performance.now() - f.time * 1000);
      from.current = f.blinkFrom * 1000;
    };
    look();
    return () => cancelAnimationFrame(frame);
  }, [on]);
  return useCallback(() => (from.current === null ? null : from.current + offset.current), []);
}

/**
 * How late one output is, by one's own presses in time with its flashes or by a camera. What a person foresees is the same for flashes
 * as for clicks: where there is sound, clicks are pressed to first and taken off.
 */
export function MeasureLag({
  name,
  blinks,
  onKeep,
  onClose,
}: {
  readonly name: string;
  readonly blinks: number;
  readonly onKeep: (lagMs: number) => void;
  readonly onClose: () => void;
}) {
  const [way, setWay] = useState<Way | null>(null),
    [step, setStep] = useState<'sound' | 'light' | 'done'>('light'),
    [count, setCount] = useState(0),
    [result, setResult] = useState<Lag | null>(null),
    [why, setWhy] = useState<string | null>(null);
  const presses = useRef<number[]>([]),
    clicksFrom = useRef(0),
    habit = useRef(0);
  const blinking = way !== null && step === 'light';
  const start = useBlinkStart(blinking);
  useEffect(() => {
    if (!blinking) return;
    perform({ do: 'blink', output: blinks });
    return () => perform({ do: 'blink', output: 0 });
  }, [blinking, blinks]);
  const late = theEngine()?.outputLatency ?? null;
  // Whoever leaves in between is not clicked after.
  useEffect(() => () => theEngine()?.stopClicks(), []);

  const begin = (by: Way): void => {
    presses.current = [];
    setCount(0);
    setResult(null);
    setWhy(null);
    habit.current = 0;
    const first =
      by === 'press' && late !== null
        ? (theEngine()?.click(CLICKS_IN_MS, BLINK_EVERY, PRESSES + PRESSES_FIRST + 4) ?? null)
        : null;
    clicksFrom.current = first ?? 0;
    setStep(first === null ? 'light' : 'sound');
    setWay(by);
  };
  const finish = (lag: Lag | null, missed: string): void => {
    setStep('done');
    setResult(lag && { ...lag, lagMs: Math.max(0, lag.lagMs - habit.current) });
    setWhy(lag ? null : missed);
  };
  const press = (): void => {
    presses.current.push(performance.now());
    setCount(presses.current.length);
    if (presses.current.length < PRESSES + PRESSES_FIRST) return;
    const all = presses.current.slice(PRESSES_FIRST);
    presses.current = [];
    setCount(0);
    const missed = 'These presses agree on nothing. Press each time you see a flash, and try again.';
    if (step === 'sound') {
      theEngine()?.stopClicks();
      const heard = lagOfPresses(all, clicksFrom.current, BLINK_EVERY);
      if (!heard) {
        finish(null, missed.replace('see a flash', 'hear a click'));
        return;
      }
      // Of what was pressed late, the loudspeakers’ own lag is not the person's.
      habit.current = heard.lagMs - (late ?? 0) * 1000;
      setStep('light');
      return;
    }
    const from = start();
    finish(from === null ? null : lagOfPresses(all, from, BLINK_EVERY), missed);
  };

  useEffect(() => {
    if (way !== 'camera' || step !== 'light') return;
    let over = false;
    const end = watchLight((samples, trouble) => {
      if (over) return;
      const from = start();
      finish(
        trouble === null && from !== null ? lagOfLight(samples, from, BLINK_EVERY, BLINK_LONG) : null,
        trouble ?? 'The camera sees nothing blink. Point it at the output, so that this fills its picture.',
      );
    });
    return () => {
      over = true;
      end();
    };
  }, [way, step, start]);

  return (
    <Dialog
      open
      onClose={onClose}
      aria-labelledby="lag-title"
      slotProps={{ paper: { sx: { p: 3, width: 560 } } }}
    >
      <Typography id="lag-title" variant="h2">
        How late is {name}?
      </Typography>
      {way === null && (
        <>
          <Box sx={{ my: 1 }}>
            It flashes once a second. Press in time with it, or let a camera of this computer see it.
            Everything else stays as it is.
          </Box>
          <Box sx={{ display: 'flex', gap: 1 }}>
            <Button variant="contained" onClick={() => begin('press')}>
              I press when I see it
            </Button>
            <Button variant="outlined" onClick={() => begin('camera')}>
              A camera sees it
            </Button>
          </Box>
        </>
      )}
      {way === 'press' && step !== 'done' && (
        <>
          <Box role="status" sx={{ my: 1 }}>
            {step === 'sound'
              ? 'First the sound: press with each click that you hear.'
              : 'Now the light: press with each flash.'}{' '}
            {count} of {PRESSES + PRESSES_FIRST}
          </Box>
          <Button
            variant="contained"
            autoFocus
            onPointerDown={press}
            onKeyDown={(e) => {
              if ((e.key !== ' ' && e.key !== 'Enter') || e.repeat) return;
              e.preventDefault();
              press();
            }}
            sx={{ minHeight: 120, width: '100%', fontSize: '1.4rem' }}
          >
            Now
          </Button>
        </>
      )}
      {way === 'camera' && step !== 'done' && (
        <Box role="status" sx={{ my: 1 }}>
          The camera looks for eight seconds. Point it at the output, and keep it still.
        </Box>
      )}
      {step === 'done' && (
        <Box role="status" sx={{ my: 1 }}>
          {result
            ? `${name} is ${result.lagMs.toFixed(0)} ms late, give or take ${(result.spreadMs / Math.sqrt(result.count)).toFixed(0)} ms.${way === 'camera' ? ' The camera’s own lag is in it: measure all outputs with the same one.' : ''}`
            : why}
        </Box>
      )}
      <Box sx={{ display: 'flex', gap: 1, mt: 2 }}>
        {result && (
          <Button
            variant="contained"
            onClick={() => {
              onKeep(Math.round(result.lagMs));
              onClose();
            }}
          >
            Keep it
          </Button>
        )}
        {step === 'done' && way && (
          <Button variant="outlined" onClick={() => begin(way)}>
            Once more
          </Button>
        )}
        <Button variant="text" onClick={onClose}>
          Never mind
        </Button>
      </Box>
    </Dialog>
  );
}

/** Looks through a camera for a while. @param done - how bright it was, and when; or why nothing was seen @returns how it is ended */
function watchLight(
  done: (samples: readonly (readonly [number, number])[], trouble: string | null) => void,
): () => void {
  let over = false,
    stream: MediaStream | null = null;
  const end = (): void => {
    over = true;
    for (const track of stream?.getTracks() ?? []) track.stop();
  };
  const look = async (): Promise<void> => {
    stream = await navigator.mediaDevices.getUserMedia({ video: { width: 320, height: 180, frameRate: 30 } });
    if (over) {
      end();
      return;
    }
    const video = document.createElement('video'),
      g = new OffscreenCanvas(32, 18).getContext('2d', { willReadFrequently: true })!,
      samples: (readonly [number, number])[] = [];
    video.srcObject = stream;
    video.muted = true;
    await video.play();
    const until = performance.now() + CAMERA_MS;
    const next = (now: number, frame: VideoFrameCallbackMetadata): void => {
      if (over) return;
      g.drawImage(video, 0, 0, 32, 18);
      const { data } = g.getImageData(0, 0, 32, 18);
      let sum = 0;
      for (let i = 0; i < data.length; i += 4) sum += data[i]! + data[i + 1]! + data[i + 2]!;
      samples.push([frame.captureTime ?? now, sum]);
      if (now < until) video.requestVideoFrameCallback(next);
      else {
        end();
        done(samples, null);
      }
    };
    video.requestVideoFrameCallback(next);
  };
  void look().catch(() => {
    if (!over) done([], 'No camera could be opened. Connect one, or allow this page to use it.');
    end();
  });
  return end;
}
