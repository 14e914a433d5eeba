'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import { listDevices, openDevice, type SoundDevice } from '../../engine/devices';
import { gainToDb } from '../../core/units';

/** How long each device is listened to, and how far a clap stands above what it heard before. */
const LISTEN_MS = 3000;
const CLAP_DB = 12;

interface Heard {
  readonly device: SoundDevice;
  readonly peakDb: number;
  readonly quietDb: number;
  readonly trouble: string | null;
}

/** Meters each device in turn while somebody claps, and says which one heard it. */
export function FindMicrophone({
  open,
  onClose,
  onUse,
}: {
  readonly open: boolean;
  readonly onClose: () => void;
  readonly onUse: (device: SoundDevice) => void;
}) {
  const [heard, setHeard] = useState<readonly Heard[]>([]);
  const [now, setNow] = useState<SoundDevice | null>(null);
  const [round, setRound] = useState(0);
  const bar = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!open) return;
    let stopped = false;
    const run = async (): Promise<void> => {
      setHeard([]);
      // Opening one first: until a microphone was allowed, the others have no names.
      await openDevice('').then(
        (s) => {
          for (const t of s.getTracks()) t.stop();
        },
        () => undefined,
      );
      const devices = (await listDevices()).filter((d) => d.id !== 'default' && d.id !== 'communications');
      for (const device of devices) {
        if (stopped) return;
        setNow(device);
        const found = await meter(
          device,
          (db) => {
            if (bar.current) bar.current.style.width = `${Math.max(0, Math.min(100, (db + 60) * 1.67))}%`;
          },
          () => stopped,
        );
        if (!stopped) setHeard((all) => [...all, found]);
      }
      if (!stopped) setNow(null);
    };
    void run();
    return () => {
      stopped = true;
    };
  }, [open, round]);
  const best = heard
    .filter((h) => h.peakDb - h.quietDb > CLAP_DB && h.peakDb > -50)
    .sort((a, b) => b.peakDb - a.peakDb)[0];
  return (
    <Dialog
      open={open}
      onClose={onClose}
      aria-labelledby="find-title"
      slotProps={{ paper: { sx: { p: 3, width: 520 } } }}
    >
      <Typography id="find-title" variant="h2">
        Clap: I’ll find the microphone
      </Typography>
      <Box role="status" sx={{ my: 1.5, fontSize: '1rem' }}>
        {now ? (
          <>
            Clap now, twice or three times. Listening to <b>{now.name}</b> …
          </>
        ) : best ? (
          <>
            <b>{best.device.name}</b> heard you best.
          </>
        ) : heard.length ? (
          'None of them heard a clap. Is the microphone muted, or turned down in the system’s sound settings?'
        ) : (
          'Looking for microphones …'
        )}
      </Box>
      {now && (
        <Box sx={(t) => ({ height: 18, background: t.ink.paperDeep, mb: 1.5 })}>
          <Box ref={bar} sx={(t) => ({ height: '100%', width: 0, background: t.ink.paperText })} />
        </Box>
      )}
      {heard.map((h) => (
        <Box key={h.device.id} sx={{ display: 'flex', alignItems: 'center', gap: 1, minHeight: 38 }}>
          <Box sx={{ flex: 1, fontWeight: h === best ? 700 : 400 }}>{h.device.name}</Box>
          <Box sx={{ fontSize: '0.9rem' }}>
            {h.trouble ?? `${Math.round(h.peakDb)} dBFS`.replace('-', '−')}
          </Box>
          <Button
            variant={h === best ? 'contained' : 'outlined'}
            disabled={h.trouble !== null}
            onClick={() => {
              onUse(h.device);
              onClose();
            }}
          >
            Use it
          </Button>
        </Box>
      ))}
      <Box sx={{ display: 'flex', gap: 1, mt: 2 }}>
        <Button variant="text" disabled={now !== null} onClick={() => setRound((n) => n + 1)}>
          Again
        </Button>
        <Box sx={{ flex: 1 }} />
        <Button variant="text" onClick={onClose}>
          Close
        </Button>
      </Box>
    </Dialog>
  );
}

async function meter(
  device: SoundDevice,
  show: (db: number) => void,
  stopped: () => boolean,
): Promise<Heard> {
  let stream: MediaStream;
  try {
    stream = await openDevice(device.id);
  } catch (e) {
    return {
      device,
      peakDb: -144,
      quietDb: 0,
      trouble: e instanceof Error ? e.message.split('.')[0]! : 'could not be opened',
    };
  }
  const context = new AudioContext({ sampleRate: 48000 });
  try {
    const analyser = context.createAnalyser();
    analyser.fftSize = 2048;
    context.createMediaStreamSource(stream).connect(analyser);
    const samples = new Float32Array(analyser.fftSize),
      levels: number[] = [];
    const end = performance.now() + LISTEN_MS;
    while (performance.now() < end && !stopped()) {
      await new Promise((done) => setTimeout(done, 30));
      analyser.getFloatTimeDomainData(samples);
      let top = 0;
      for (const x of samples) top = Math.max(top, Math.abs(x));
      levels.push(gainToDb(top));
      show(levels.at(-1)!);
    }
    levels.sort((a, b) => a - b);
    return {
      device,
      peakDb: levels.at(-1) ?? -144,
      quietDb: levels[Math.floor(levels.length / 3)] ?? -144,
      trouble: null,
    };
  } finally {
    for (const t of stream.getTracks()) t.stop();
    void context.close();
  }
}
