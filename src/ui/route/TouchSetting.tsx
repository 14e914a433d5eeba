'use client';
import { Box, Button, Menu, MenuItem } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import type { Touch } from '../../core/makers';
import { listMidi, openMidi, type MidiDevice } from '../../engine/midi';
import { theEngine, useSession } from '../state/session';
import { say } from '../state/notices';
import { touchWords } from './makerWords';

/** Gives a hand control to a controller by touching it: the first thing that is moved after "learn" is it. */
export function TouchSetting({
  name,
  touch,
  notes,
  onChange,
}: {
  readonly name: string;
  /** Whether a key may be it too: a slider has no use for one. */ readonly notes: boolean;
  readonly touch: Touch | null;
  readonly onChange: (touch: Touch | null) => void;
}) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [devices, setDevices] = useState<readonly MidiDevice[]>([]);
  const [waiting, setWaiting] = useState(false);
  const osc = useSession((s) => s.outlets?.osc ?? null);
  const close = useRef<(() => void) | null>(null);
  const stop = (): void => {
    close.current?.();
    close.current = null;
    setWaiting(false);
  };
  useEffect(() => stop, []);
  const learn = async (device: MidiDevice): Promise<void> => {
    setAt(null);
    setWaiting(true);
    // The first is it; what comes in the same breath is not.
    let learned = false;
    const take = (found: Touch): void => {
      if (learned) return;
      learned = true;
      stop();
      onChange(found);
    };
    try {
      close.current = await openMidi(device.id, {
        note: (channel, key, velocity) => {
          if (notes && velocity > 0)
            take({ by: 'midi', device: device.id, message: 'note', channel: channel + 1, number: key });
        },
        control: (message, channel, number) =>
          take({ by: 'midi', device: device.id, message, channel: channel + 1, number }),
        clock: () => undefined,
        gone: stop,
      });
    } catch (e) {
      setWaiting(false);
      say('warning', e instanceof Error ? e.message : 'This MIDI device could not be opened.');
    }
  };
  const learnOsc = (): void => {
    setAt(null);
    const engine = theEngine();
    if (!engine) return;
    setWaiting(true);
    close.current = engine.hearOsc((address, value) => {
      stop();
      onChange({ by: 'osc', address, low: 0, high: Math.abs(value) > 1 ? 127 : 1 });
    });
  };
  if (waiting)
    return (
      <Box role="status" sx={{ display: 'inline-flex', alignItems: 'center', gap: 1 }}>
        Move or press it now …
        <Button variant="text" onClick={stop}>
          never mind
        </Button>
      </Box>
    );
  return (
    <>
      <Button
        variant="text"
        aria-haspopup="menu"
        aria-label={`Controller of ${name}`}
        onClick={(e) => {
          setAt(e.currentTarget);
          void listMidi().then(setDevices);
        }}
      >
        {touch ? touchWords(touch) : 'no controller'}
      </Button>
      <Menu
        anchorEl={at}
        open={at !== null}
        onClose={() => setAt(null)}
        slotProps={{ list: { 'aria-label': 'Controllers' } }}
      >
        {devices.map((d) => (
          <MenuItem key={d.id} onClick={() => void learn(d)}>
            learn from {d.name}
          </MenuItem>
        ))}
        <MenuItem onClick={learnOsc}>
          learn from the network (OSC{osc ? ` at ${osc}` : ''}, or a desk)
        </MenuItem>
        <MenuItem onClick={() => void listMidi(true).then(setDevices)}>look for MIDI devices</MenuItem>
        {touch && (
          <MenuItem
            onClick={() => {
              setAt(null);
              onChange(null);
            }}
          >
            no controller
          </MenuItem>
        )}
      </Menu>
    </>
  );
}
