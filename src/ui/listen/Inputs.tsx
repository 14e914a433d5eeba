'use client';
import { Box, Button, Menu, MenuItem, Switch, Typography } from '@mui/material';
import { useRef, useState, type DragEvent } from 'react';
import { HEALTH, type Health } from '../../core/ears/inputMeter';
import { inputSignal } from '../../core/plan/conductor';
import { addInput, changeInput, freeId, freeName, removeInput, replaceInput } from '../../core/show/commands';
import type { Input } from '../../core/show/types';
import { gainToDb } from '../../core/units';
import { listDevices, type SoundDevice } from '../../engine/devices';
import { useCanvas } from '../controls/canvas';
import { LiveText } from '../controls/LiveText';
import { NumberField } from '../controls/NumberField';
import { Sheet } from '../controls/Sheet';
import { live, useFrame } from '../live/live';
import { currentShow, edit, endDrag, fileInput, theEngine, useSession } from '../state/session';
import { look } from '../state/view';
import { Transport } from './Transport';

/** All that comes in: one strip an input, and what is playing. */
export function Inputs({ current }: { readonly current: string | null }) {
  const inputs = useSession((s) => s.history.show.inputs);
  const [over, setOver] = useState(false);
  const drop = (e: DragEvent): void => {
    e.preventDefault();
    setOver(false);
    for (const file of e.dataTransfer.files) void addFile(file);
  };
  return (
    <Box
      component="section" aria-label="Inputs" onDragOver={(e) => { e.preventDefault(); setOver(true); }} onDragLeave={() => setOver(false)} onDrop={drop}
      sx={(t) => ({ display: 'flex', flexDirection: 'column', minHeight: 0, outline: over ? `3px dashed ${t.ink.now}` : 'none' })}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between' }}>
        <Typography variant="h2">Inputs</Typography>
        <SourceMenu label="+ input" onFile={(f) => void addFile(f)} onDevice={addDevice} />
      </Box>
      <Box sx={{ overflowY: 'auto', display: 'flex', flexDirection: 'column', gap: 1.25, py: 0.5, minHeight: 0 }}>
        {inputs.map((input) => <InputStrip key={input.id} input={input} picked={input.id === current} />)}
        {inputs.length === 0 && <Sheet name="none" sx={{ p: 2 }}>Nothing comes in yet. Drop a sound here, or press <b>+ input</b>.</Sheet>}
        <Transport />
      </Box>
    </Box>
  );
}

async function addFile(file: File): Promise<void> {
  const input = await fileInput(freeId(currentShow(), 'input'), file);
  if (!input) return;
  edit(`add ${input.name}`, addInput({ ...input, name: freeName(currentShow().inputs, input.name) }));
  look({ input: input.id });
}
function addDevice(device: SoundDevice): void {
  const id = freeId(currentShow(), 'input');
  edit('add a microphone', addInput({ kind: 'device', id, name: freeName(currentShow().inputs, 'Microphone'), deviceId: device.id, deviceName: device.name, trimDb: 0, monitor: { on: false, db: -12 } }));
  look({ input: id });
}

/** Chooses where sound comes from: a file, or a device by name. */
function SourceMenu({ label, onFile, onDevice, children }: { readonly label: string; readonly onFile: (f: File) => void; readonly onDevice: (d: SoundDevice) => void; readonly children?: React.ReactNode }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [devices, setDevices] = useState<SoundDevice[]>([]);
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button variant="text" aria-haspopup="menu" onClick={(e) => { setAt(e.currentTarget); void listDevices().then(setDevices); }}>{label}</Button>
      <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
        <MenuItem onClick={() => { setAt(null); file.current?.click(); }}>A sound file …</MenuItem>
        <MenuItem onClick={() => { setAt(null); onDevice({ id: '', name: '' }); }}>The system’s microphone</MenuItem>
        {devices.filter((d) => d.id && d.id !== 'default').map((d) => <MenuItem key={d.id} onClick={() => { setAt(null); onDevice(d); }}>{d.name}</MenuItem>)}
        {children && <Box onClick={() => setAt(null)}>{children}</Box>}
      </Menu>
      <input ref={file} type="file" accept="audio/*,video/*,.wav,.mp3,.ogg,.flac,.m4a" hidden aria-label={`${label}: choose a sound file`} onChange={(e) => { const f = e.currentTarget.files?.[0]; e.currentTarget.value = ''; if (f) onFile(f); }} />
    </>
  );
}

const WORDS: Record<Health, string> = { off: 'no sound', silent: 'silent', quiet: 'very quiet', good: 'good', clipping: 'clipping' };

function remedy(health: Health, input: Input): string | null {
  if (health === 'clipping') return input.kind === 'device' ? 'Too loud: its peaks are cut off. Turn it down in your system’s sound settings, or at the mixer.' : 'This file is cut off at full scale. Use a version that is less loud.';
  if (health === 'quiet') return input.kind === 'device' ? 'This microphone is very quiet. Raise it in your system’s sound settings, or raise the trim.' : 'Very quiet. Raise the trim.';
  if (health === 'silent' && input.kind === 'device') return 'Nothing arrives. Is it muted, or the wrong device? Choose another under “change”.';
  return null;
}

function InputStrip({ input, picked }: { readonly input: Input; readonly picked: boolean }) {
  const state = useSession((s) => s.inputs[input.id]);
  const [health, setHealth] = useState<Health>('off');
  const shown = useRef<Health>('off');
  // Health changes a few times a minute: the one live value that may go through React.
  useFrame(() => {
    const now = HEALTH[live.signal(inputSignal(input.id, 'health'))] ?? 'off';
    if (now !== shown.current) { shown.current = now; setHealth(now); }
  });
  const playing = useSession((s) => s.playing);
  const paused = input.kind === 'files' && !playing;
  const trouble = state?.kind === 'trouble' || state?.kind === 'waiting' ? state.why : null;
  const advice = trouble ?? (paused ? null : remedy(health, input));
  const about = input.kind === 'files' ? (input.stems.length > 1 ? `${input.stems.length} stems in lockstep${input.loop ? ', loops' : ''}` : input.loop ? 'file, loops' : 'file') : input.deviceName || 'the system’s microphone';
  const change = (label: string, f: (i: { trimDb: number; monitor: { on: boolean; db: number } }) => void, mark: string | null = null): void => edit(label, changeInput(input.id, f), mark);
  const aside = { color: 'var(--faint)', fontSize: '0.88rem' } as const;
  return (
    <Sheet name={input.id} picked={picked} warned={advice !== null} sx={{ p: 1.5, pt: 1 }} onPointerDown={() => look({ input: input.id })}>
      <Box sx={{ display: 'flex', alignItems: 'baseline', justifyContent: 'space-between', gap: 1 }}>
        <Typography variant="h3" component="h3" sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>{input.name}</Typography>
        <LiveText read={() => dbfs(live.signal(inputSignal(input.id, 'peak')))} sx={{ fontSize: '0.94rem', pr: advice ? 2 : 0 }} />
      </Box>
      <Box sx={aside}>{about}</Box>
      <Meter input={input.id} />
      <Box sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center' }}>
        <Box role="status" sx={{ fontWeight: 700, fontSize: '0.92rem' }}>{state?.kind === 'loading' ? 'loading …' : state?.kind === 'waiting' ? 'waiting' : state?.kind === 'trouble' ? 'trouble' : paused ? 'paused' : WORDS[health]}</Box>
        <Box component="label" sx={{ ...aside, display: 'flex', alignItems: 'center' }}>
          {input.monitor.on ? 'heard' : 'drives, not heard'}
          <Switch size="small" checked={input.monitor.on} onChange={(e) => { const on = e.target.checked; change(on ? `hear ${input.name}` : `silence ${input.name}`, (i) => { i.monitor.on = on; }); }} slotProps={{ input: { 'aria-label': `Hear ${input.name}` } }} />
        </Box>
      </Box>
      {advice && (
        <Box role="alert" sx={{ fontSize: '0.9rem', my: 0.5 }}>
          {advice}
          {state?.kind === 'trouble' && <Button variant="text" onClick={() => theEngine()?.retry(input.id)} sx={{ color: 'inherit', textDecoration: 'underline', p: 0.5 }}>Try again</Button>}
        </Box>
      )}
      {picked && (
        <Box sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', alignItems: 'center', columnGap: 1, mt: 0.5, fontSize: '0.9rem' }}>
          <span>trim</span>
          <NumberField label={`Trim of ${input.name}`} value={input.trimDb} unit="dB" min={-60} max={24} step={0.5} usual={0} onChange={(v) => change(`trim ${input.name}`, (i) => { i.trimDb = v; }, `trim ${input.id}`)} onEnd={endDrag} sx={{ justifySelf: 'end' }} />
          <span>monitor level</span>
          <NumberField label={`Monitor level of ${input.name}`} value={input.monitor.db} unit="dB" min={-60} max={6} step={0.5} usual={-6} onChange={(v) => change(`monitor ${input.name}`, (i) => { i.monitor.db = v; }, `monitor ${input.id}`)} onEnd={endDrag} sx={{ justifySelf: 'end' }} />
          <Box sx={{ gridColumn: '1 / -1', display: 'flex', ml: -1, mt: 0.25, '& button': { color: 'inherit', '&:hover': { background: 'var(--bed)' } } }}>
            <SourceMenu
              label="change"
              onFile={(f) => void fileInput(input.id, f).then((next) => { if (next) edit(`change ${input.name}`, replaceInput(input.id, { ...next, trimDb: input.trimDb, monitor: input.monitor })); })}
              onDevice={(d) => edit(`change ${input.name}`, replaceInput(input.id, { kind: 'device', id: input.id, name: input.name, deviceId: d.id, deviceName: d.name, trimDb: input.trimDb, monitor: { on: false, db: -12 } }))}
            />
            {input.kind === 'files' && <Button variant="text" aria-pressed={input.loop} onClick={() => edit(input.loop ? `play ${input.name} once` : `loop ${input.name}`, changeInput(input.id, (i) => { if (i.kind === 'files') i.loop = !i.loop; }))}>{input.loop ? 'loops' : 'once'}</Button>}
            <Button variant="text" onClick={() => { edit(`remove ${input.name}`, removeInput(input.id)); look({ input: null }); }}>remove</Button>
          </Box>
        </Box>
      )}
    </Sheet>
  );
}

function dbfs(x: number): string {
  return x > 0 ? `${gainToDb(x).toFixed(1).replace('-', '−')} dBFS` : '−∞ dBFS';
}

const SEGMENTS = 36;
const LOWEST_DB = -54;

/** Segments from −54 to 0 dBFS: RMS filled, the held peak as a mark. */
function Meter({ input }: { readonly input: string }) {
  const held = useRef({ db: -200, at: 0 });
  const ref = useCanvas(({ g, width, height, styles }, now) => {
    const rms = gainToDb(Math.max(0, live.signal(inputSignal(input, 'rms')) || 0) * Math.SQRT2);
    const peak = gainToDb(Math.max(0, live.signal(inputSignal(input, 'peak')) || 0));
    if (peak >= held.current.db) held.current = { db: peak, at: now };
    else if (now - held.current.at > 1500) held.current.db -= 0.4;
    const place = (db: number): number => (db - LOWEST_DB) / -LOWEST_DB;
    const w = width / SEGMENTS;
    for (let i = 0; i < SEGMENTS; i++) {
      g.fillStyle = (i + 0.5) / SEGMENTS < place(rms) ? styles.color : styles.getPropertyValue('--off');
      g.fillRect(i * w, 2, w - 2, height - 4);
    }
    const p = place(held.current.db);
    if (p > 0) { g.fillStyle = styles.getPropertyValue('--now'); g.fillRect(Math.min(1, p) * (width - 4), 0, 4, height); }
  });
  return <Box component="canvas" ref={ref} role="img" aria-label="Level from −54 to 0 dBFS, with its peak held" sx={(t) => ({ display: 'block', width: '100%', height: 18, my: 0.75, color: 'var(--mark)', '--now': t.ink.now, '--off': 'var(--bed)' })} />;
}
