'use client';
import { Box, Button } from '@mui/material';
import { useState } from 'react';
import { blinkCode, DELAY_MOST, levelled, PROTOCOL_WORDS } from '../../core/outlets';
import { SCREEN_DELAY_MOST } from '../../core/screens';
import { changeOverlay, changeScreen, changeWire, type Command } from '../../core/show';
import { HOP, SAMPLE_RATE } from '../../core/units';
import { LiveText } from '../controls/LiveText';
import { NumberField } from '../controls/NumberField';
import { edit, endDrag, theEngine, useSession } from '../state/session';
import { MeasureLag } from './MeasureLag';
import { RIG_TABLE } from './table';

/** A level is all there after two ticks. */
const HEARD_MS = (2 * HOP * 1000) / SAMPLE_RATE;
const LAG_MOST = 5000;

interface Output {
  readonly id: string;
  readonly name: string;
  readonly what: string;
  readonly lagMs: number;
  readonly delayMs: number;
  readonly delayMost: number;
  /** By which a frame says that it blinks. */
  readonly blinks: number;
  readonly set: (change: { readonly lagMs?: number; readonly delayMs?: number }) => Command;
}
function useOutputs(): readonly Output[] {
  const wires = useSession((s) => s.history.show.wires),
    screens = useSession((s) => s.history.show.screens),
    overlays = useSession((s) => s.history.show.overlays);
  return [
    ...wires.map((w, i): Output => ({
      blinks: blinkCode('wire', i),
      id: w.id,
      name: w.name,
      what: `lamps on ${PROTOCOL_WORDS[w.protocol]}`,
      lagMs: w.lagMs ?? 0,
      delayMs: w.delayMs ?? 0,
      delayMost: DELAY_MOST,
      set: (change) => changeWire(w.id, change),
    })),
    ...screens.map((s, i): Output => ({
      blinks: blinkCode('screen', i),
      id: s.id,
      name: s.name,
      what: 'screen',
      lagMs: s.lagMs ?? 0,
      delayMs: s.delayMs,
      delayMost: SCREEN_DELAY_MOST,
      set: (change) => changeScreen(s.id, change),
    })),
    ...overlays.map((o, i): Output => ({
      blinks: blinkCode('overlay', i),
      id: o.id,
      name: o.name,
      what: 'overlay',
      lagMs: o.lagMs ?? 0,
      delayMs: o.delayMs ?? 0,
      delayMost: DELAY_MOST,
      set: (change) => changeOverlay(o.id, change),
    })),
  ];
}

/** The browser's own word for how late the sound leaves it. */
function speakerWords(): string {
  const late = theEngine()?.outputLatency ?? null;
  return late === null
    ? 'no sound yet: press Play, or use a microphone'
    : `${(late * 1000).toFixed(0)} ms after the sound is computed, as the browser tells`;
}
/** An output that cannot be held back as long as it would have to be says so. */
function landsNot({ delayMs, delayMost }: Output): string | null {
  return delayMs >= delayMost ? `, held back as long as it can be (${delayMost} ms)` : null;
}

/** Every output's own lag, how long it is held back, and where it lands against what is heard. */
export function LineUpDrawer() {
  const outputs = useOutputs();
  const [measured, setMeasured] = useState<Output | null>(null);
  const lands = (o: Output): string => {
    const late = theEngine()?.outputLatency ?? null,
      all = HEARD_MS + o.lagMs + o.delayMs;
    if (late === null) return `${all.toFixed(0)} ms after the sound`;
    const against = all - late * 1000;
    return `${Math.abs(against).toFixed(0)} ms ${against >= 0 ? 'after' : 'before'} it is heard`;
  };
  const level = (): void => {
    const delays = levelled(outputs, DELAY_MOST);
    edit('line up all outputs', (d) =>
      outputs.forEach((o, i) => o.set({ delayMs: Math.min(o.delayMost, delays[i]!) })(d)),
    );
  };
  return (
    <>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap' }}>
        <Box sx={{ flex: 1, minWidth: 260 }}>
          Say how late each output is of itself; then all are held back to land with the slowest.
        </Box>
        <Button variant="outlined" onClick={level}>
          Line all up
        </Button>
      </Box>
      <Box component="table" aria-label="Outputs" sx={RIG_TABLE}>
        <thead>
          <tr>
            <th scope="col">output</th>
            <th scope="col">its own lag</th>
            <th scope="col">held back</th>
            <th scope="col">lands</th>
            <th scope="col">
              <span style={{ position: 'absolute', clipPath: 'inset(50%)' }}>measure</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {outputs.map((o) => (
            <tr key={o.id}>
              <td>
                <b>{o.name}</b>, {o.what}
              </td>
              <td>
                <NumberField
                  label={`Lag of ${o.name}`}
                  value={o.lagMs}
                  unit="ms"
                  min={0}
                  max={LAG_MOST}
                  step={1}
                  usual={0}
                  onChange={(lagMs) => edit(`lag of ${o.name}`, o.set({ lagMs }), `lag ${o.id}`)}
                  onEnd={endDrag}
                />
              </td>
              <td>
                <NumberField
                  label={`Delay of ${o.name}`}
                  value={o.delayMs}
                  unit="ms"
                  min={0}
                  max={o.delayMost}
                  step={1}
                  usual={0}
                  onChange={(delayMs) => edit(`delay of ${o.name}`, o.set({ delayMs }), `delay ${o.id}`)}
                  onEnd={endDrag}
                />
              </td>
              <td>
                <LiveText read={() => lands(o)} />
                {landsNot(o)}
              </td>
              <td>
                <Button variant="text" aria-label={`Measure ${o.name}`} onClick={() => setMeasured(o)}>
                  measure …
                </Button>
              </td>
            </tr>
          ))}
          <tr>
            <td>
              <b>Loudspeakers</b>, what is heard here
            </td>
            <td colSpan={4}>
              <LiveText read={speakerWords} />
            </td>
          </tr>
        </tbody>
      </Box>
      {measured && (
        <MeasureLag
          name={measured.name}
          blinks={measured.blinks}
          onKeep={(lagMs) => edit(`measure ${measured.name}`, measured.set({ lagMs }))}
          onClose={() => setMeasured(null)}
        />
      )}
    </>
  );
}
