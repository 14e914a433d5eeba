'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { useState } from 'react';
import { ANCHORS } from '../../core/figures';
import { APPEAR_WAYS } from '../../core/finishes';
import {
  appear,
  bump,
  BUMP_AXES,
  canBump,
  signalsOf,
  type Signal,
  USUAL_APPEAR,
  USUAL_BUMP,
} from '../../core/show';
import { heardOf } from '../bench/fitToHeard';
import { Choice } from '../controls/Choice';
import { NumberField } from '../controls/NumberField';
import { live } from '../live/live';
import { say } from '../state/notices';
import { currentShow, edit, endDrag, useSession } from '../state/session';
import { look } from '../state/view';

/** Levels, events and switches. A row moves many, and a single point of one is seldom meant. */
const usable = (s: Signal): boolean =>
  (s.kind === 'level' || s.kind === 'event') && !(s.member !== null && s.ear?.listening.kind === 'vector');
const LATELY = 94;
/** What sounds now comes first. */
function loudest(signals: readonly Signal[]): readonly Signal[] {
  const loud = (s: Signal): number => {
    const slot = live.slot(s.id);
    return slot < 0 || !live.traces ? 0 : live.traces.recent(slot, LATELY) / s.usual;
  };
  return [...signals].sort((a, b) => loud(b) - loud(a));
}

/** Movements that are made in one press, with good settings; what they leave are ordinary routes. */
export function OnePress({ thing, name }: { readonly thing: string; readonly name: string }) {
  const [open, setOpen] = useState<'bump' | 'appears' | null>(null);
  const grows = useSession((s) => canBump(s.history.show, thing, 'both'));
  return (
    <Box sx={{ display: 'flex', gap: 1, py: 0.5 }}>
      {grows && (
        <Button
          variant="outlined"
          aria-haspopup="dialog"
          onClick={() => setOpen('bump')}
          sx={{ color: 'inherit', borderColor: 'var(--bed)' }}
        >
          Bump …
        </Button>
      )}
      <Button
        variant="outlined"
        aria-haspopup="dialog"
        onClick={() => setOpen('appears')}
        sx={{ color: 'inherit', borderColor: 'var(--bed)' }}
      >
        Appears …
      </Button>
      {open === 'bump' && <BumpDialog thing={thing} name={name} onClose={() => setOpen(null)} />}
      {open === 'appears' && <AppearDialog thing={thing} name={name} onClose={() => setOpen(null)} />}
    </Box>
  );
}

const row = {
  display: 'flex',
  alignItems: 'center',
  flexWrap: 'wrap',
  gap: 1,
  py: 0.5,
  minHeight: 40,
} as const;

function SignalChoice({
  signals,
  value,
  onChange,
}: {
  readonly signals: readonly Signal[];
  readonly value: string;
  readonly onChange: (id: string) => void;
}) {
  return (
    <Choice
      label="with"
      name="signal"
      value={value}
      options={signals.map((s) => [s.id, s.name])}
      onChange={onChange}
    />
  );
}

interface DialogProps {
  readonly thing: string;
  readonly name: string;
  readonly onClose: () => void;
}

function BumpDialog({ thing, name, onClose }: DialogProps) {
  const [signals] = useState(() => loudest(signalsOf(currentShow()).filter(usable))),
    [id, setId] = useState(signals[0]?.id ?? ''),
    signal = signals.find((s) => s.id === id);
  const heard = id ? heardOf(id) : null;
  const [by, setBy] = useState({
    ...USUAL_BUMP,
    smallest: restSize(thing),
    largest: Math.round(restSize(thing) * 125) / 100,
  });
  const levels = by.levels ?? heard ?? { low: 0, high: signal?.usual ?? 1 };
  const show = currentShow(),
    axes = BUMP_AXES.filter((a) => canBump(show, thing, a)),
    anchored = show.figures.some((f) => f.id === thing);
  const number = (
    label: string,
    value: number,
    unit: string,
    step: number,
    min: number,
    max: number,
    set: (v: number) => void,
  ): React.ReactNode => (
    <NumberField
      label={label}
      value={value}
      unit={unit}
      min={min}
      max={max}
      step={step}
      onChange={set}
      onEnd={endDrag}
    />
  );
  return (
    <Dialog open onClose={onClose} aria-labelledby="bump" slotProps={{ paper: { sx: { p: 3, width: 560 } } }}>
      <Typography id="bump" variant="h2">
        Let {name} bump
      </Typography>
      <Box sx={row}>
        <SignalChoice signals={signals} value={id} onChange={setId} />
      </Box>
      <Box sx={row}>
        <span>between the levels</span>
        {number('Lower level', levels.low, '', levels.high / 100 || 0.01, 0, levels.high * 0.99, (low) =>
          setBy({ ...by, levels: { low, high: levels.high } }),
        )}
        <span>and</span>
        {number(
          'Upper level',
          levels.high,
          '',
          levels.high / 100 || 0.01,
          levels.low * 1.01 + 1e-6,
          1000,
          (high) => setBy({ ...by, levels: { low: levels.low, high } }),
        )}
        {by.levels === null && (
          <Box sx={{ color: 'var(--faint)' }}>{heard ? 'as heard' : 'until it is heard'}</Box>
        )}
      </Box>
      <Box sx={row}>
        <span>from</span>
        {number('Smallest size', by.smallest, '×', 0.01, 0, 8, (smallest) => setBy({ ...by, smallest }))}
        <span>to</span>
        {number('Largest size', by.largest, '×', 0.01, 0, 8, (largest) => setBy({ ...by, largest }))}
        <Choice
          label="on"
          value={by.axes}
          options={axes.map((a) => [
            a,
            a === 'both' ? 'both axes' : a === 'wide' ? 'its width' : 'its height',
          ])}
          onChange={(a) => setBy({ ...by, axes: a })}
        />
        <Choice
          label="it"
          name="direction"
          value={by.downwards ? 'down' : 'up'}
          options={[
            ['up', 'grows'],
            ['down', 'shrinks'],
          ]}
          onChange={(d) => setBy({ ...by, downwards: d === 'down' })}
        />
      </Box>
      <Box sx={row}>
        {anchored && (
          <Choice
            label="from its"
            name="anchor"
            value={by.anchor ?? ''}
            options={[['', 'own anchor'], ...ANCHORS.map((a): readonly [string, string] => [a, a])]}
            onChange={(a) => setBy({ ...by, anchor: ANCHORS.find((x) => x === a) ?? null })}
          />
        )}
        <span>up in</span>
        {number('Attack', by.attackMs, 'ms', 1, 0, 5000, (attackMs) => setBy({ ...by, attackMs }))}
        <span>back in</span>
        {number('Release', by.releaseMs, 'ms', 5, 0, 5000, (releaseMs) => setBy({ ...by, releaseMs }))}
      </Box>
      <Box sx={{ display: 'flex', gap: 1, mt: 2 }}>
        <Button
          variant="contained"
          disabled={!signal}
          onClick={() => {
            if (!signal) return;
            const made = bump(currentShow(), thing, signal, by, heard);
            edit(`let ${name} bump with ${signal.name}`, made.command);
            look({ route: made.route });
            onClose();
          }}
        >
          Bump
        </Button>
        <Button variant="text" onClick={onClose}>
          Cancel
        </Button>
      </Box>
      {signals.length === 0 && <Box sx={{ mt: 1 }}>Nothing is listened to yet. Add an ear in Listen.</Box>}
    </Dialog>
  );
}
function restSize(thing: string): number {
  const show = currentShow(),
    on = [...show.figures, ...show.figureGroups].find((f) => f.id === thing),
    size = on?.rest.size;
  return typeof size === 'number' ? size : 1;
}

function AppearDialog({ thing, name, onClose }: DialogProps) {
  const [signals] = useState(() => {
    const all = signalsOf(currentShow()).filter(usable),
      // What is on or off by its nature is what lets something in.
      first = (s: Signal): number => (s.ear?.listening.kind === 'presence' ? 0 : s.kind === 'event' ? 1 : 2);
    return [...all].sort((a, b) => first(a) - first(b));
  });
  const [id, setId] = useState(signals[0]?.id ?? ''),
    [by, setBy] = useState(USUAL_APPEAR),
    signal = signals.find((s) => s.id === id);
  const ms = (label: string, value: number, set: (v: number) => void): React.ReactNode => (
    <NumberField
      label={label}
      value={value}
      unit="ms"
      min={0}
      max={30000}
      step={10}
      onChange={set}
      onEnd={endDrag}
    />
  );
  return (
    <Dialog
      open
      onClose={onClose}
      aria-labelledby="appears"
      slotProps={{ paper: { sx: { p: 3, width: 560 } } }}
    >
      <Typography id="appears" variant="h2">
        {name} appears
      </Typography>
      <Box sx={row}>
        <SignalChoice signals={signals} value={id} onChange={setId} />
        <Choice
          label="by a"
          name="way"
          value={by.way}
          options={APPEAR_WAYS.map((w) => [w, w])}
          onChange={(way) => setBy({ ...by, way })}
        />
      </Box>
      <Box sx={row}>
        <span>in within</span>
        {ms('Comes in', by.inMs, (inMs) => setBy({ ...by, inMs }))}
        <span>stays</span>
        {ms('Stays', by.holdMs, (holdMs) => setBy({ ...by, holdMs }))}
        <span>out within</span>
        {ms('Goes out', by.outMs, (outMs) => setBy({ ...by, outMs }))}
      </Box>
      <Box sx={{ color: 'var(--faint)', fontSize: '0.92rem' }}>
        Until then it is not there. A key or a slider lets it in as well: make one in Route, under makers.
      </Box>
      <Box sx={{ display: 'flex', gap: 1, mt: 2 }}>
        <Button
          variant="contained"
          disabled={!signal}
          onClick={() => {
            if (!signal) return;
            const made = appear(currentShow(), thing, signal, by);
            edit(`let ${name} appear with ${signal.name}`, made.command);
            look({ finish: made.finish, route: made.route });
            say('done', `${name} is there while ${signal.name} lets it in.`);
            onClose();
          }}
        >
          Let it appear
        </Button>
        <Button variant="text" onClick={onClose}>
          Cancel
        </Button>
      </Box>
      {signals.length === 0 && <Box sx={{ mt: 1 }}>Nothing is listened to yet. Add an ear in Listen.</Box>}
    </Dialog>
  );
}
