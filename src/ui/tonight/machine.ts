'use client';
import { useEffect, useState } from 'react';
import { create } from 'zustand';
import { tempoSignal } from '../../core/plan';
import { listMidi, type MidiDevice } from '../../engine/midi';
import { Real } from '../../engine/memory/control';
import { listInstruments } from '../../engine/midiOut';
import { live } from '../live/live';
import { loudestOfLate } from '../live/loudest';
import { useScreens } from '../picture/screenWindows';
import { currentShow, theEngine } from '../state/session';
import type { Machine } from './doors';

/** Whether the display is kept awake; null where it cannot be. */
export const useAwake = create<{ readonly awake: boolean | null }>(() => ({ awake: false }));

/** Keeps the display awake for as long as somebody performs; browsers let go of it whenever the window is hidden. */
export function useKeptAwake(wanted: boolean): void {
  useEffect(() => {
    if (!wanted) return;
    if (!('wakeLock' in navigator)) {
      useAwake.setState({ awake: null });
      return;
    }
    let lock: WakeLockSentinel | null = null,
      over = false;
    const take = (): void => {
      if (document.hidden || over) return;
      navigator.wakeLock.request('screen').then(
        (taken) => {
          if (over) {
            void taken.release();
            return;
          }
          lock = taken;
          useAwake.setState({ awake: true });
          taken.addEventListener('release', () => useAwake.setState({ awake: false }));
        },
        () => useAwake.setState({ awake: false }),
      );
    };
    take();
    document.addEventListener('visibilitychange', take);
    return () => {
      over = true;
      document.removeEventListener('visibilitychange', take);
      void lock?.release();
    };
  }, [wanted]);
}

interface Battery {
  readonly level: number;
  readonly charging: boolean;
}
const EVERY_MS = 1000;
const ids = (devices: readonly MidiDevice[]): readonly string[] => devices.map((d) => d.id);

/** What browser and machine say, anew every second for as long as somebody looks. */
export function useMachine(): Machine {
  const { open, full } = useScreens(),
    awake = useAwake((a) => a.awake);
  const [now, setNow] = useState<Omit<Machine, 'open' | 'full' | 'awake'>>({
    battery: null,
    free: null,
    persisted: true,
    levels: {},
    missed: 0,
    processor: false,
    controllers: null,
    instruments: null,
    sure: NaN,
  });
  useEffect(() => {
    let over = false;
    const ask = async (): Promise<void> => {
      const batteryOf = (navigator as { getBattery?: () => Promise<Battery> }).getBattery,
        [battery, room, persisted, inputs, outputs] = await Promise.all([
          batteryOf?.call(navigator).catch(() => null) ?? null,
          navigator.storage.estimate().catch(() => null),
          navigator.storage.persisted().catch(() => false),
          listMidi(),
          listInstruments(),
        ]);
      if (over) return;
      setNow({
        // A machine without one says that it is full and fed.
        battery: battery && { level: battery.level, charging: battery.charging },
        free: room?.quota === undefined ? null : room.quota - (room.usage ?? 0),
        persisted,
        levels: loudestOfLate(currentShow().inputs),
        missed: theEngine()?.control.reals[Real.MissedOfLate] ?? 0,
        // Where the processor draws, the interface leaves it time.
        processor: live.everyMs > 0,
        controllers: ids(inputs),
        instruments: ids(outputs),
        sure: live.signal(tempoSignal('confidence')),
      });
    };
    void ask();
    const every = setInterval(() => void ask(), EVERY_MS);
    return () => {
      over = true;
      clearInterval(every);
    };
  }, []);
  return { ...now, open, full, awake };
}
