'use client';
import { Box, Button, Switch } from '@mui/material';
import { useState } from 'react';
import type { Draft } from 'immer';
import { type Channel, CHANNELS } from '../../core/hearing';
import { changeInput, type Input, type MixPart } from '../../core/show';
import { Choice } from '../controls/Choice';
import { LiveText } from '../controls/LiveText';
import { NumberField } from '../controls/NumberField';
import { inputSignal } from '../../core/plan';
import { live } from '../live/live';
import { edit, endDrag, theEngine, useSession } from '../state/session';
import { WAVE_WORDS, WAVES } from './addInputs';
import { CHANNEL_WORDS } from './names';

/** Everything that can be set about one input; what only some kinds have comes last. */
export function InputSettings({ input }: { readonly input: Input }) {
  const state = useSession((s) => s.inputs[input.id]);
  const inputs = useSession((s) => s.history.show.inputs);
  const change = (label: string, f: (i: Draft<Input>) => void, mark: string | null = null): void =>
    edit(label, changeInput(input.id, f), mark && `${mark} ${input.id}`);
  const row = (name: string, control: React.ReactNode) => (
    <>
      <Box component="span" sx={{ whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}>
        {name}
      </Box>
      <Box sx={{ justifySelf: 'end', display: 'flex', alignItems: 'center', gap: 0.5 }}>{control}</Box>
    </>
  );
  const [more, setMore] = useState(false);
  const seconds = state?.kind === 'ready' ? (state.seconds ?? 0) : 0;
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: 'auto minmax(0, 1fr)',
        alignItems: 'center',
        columnGap: 1,
        mt: 0.5,
        fontSize: '0.9rem',
      }}
    >
      {input.kind !== 'notes' &&
        row(
          'trim',
          <NumberField
            label={`Trim of ${input.name}`}
            value={input.trimDb}
            unit="dB"
            min={-60}
            max={24}
            step={0.5}
            usual={0}
            onChange={(v) =>
              change(
                `trim ${input.name}`,
                (i) => {
                  i.trimDb = v;
                },
                'trim',
              )
            }
            onEnd={endDrag}
          />,
        )}
      {input.kind !== 'notes' &&
        row(
          'automatic gain',
          <>
            {input.autoGain && (
              <LiveText
                read={() => {
                  const g = live.signal(inputSignal(input.id, 'gain'));
                  return `${g >= 0 ? '+' : '−'}${Math.abs(g).toFixed(1)} dB`;
                }}
                sx={{ fontSize: '0.9rem' }}
                label={`Automatic gain of ${input.name} now`}
              />
            )}
            <Switch
              size="small"
              checked={input.autoGain}
              onChange={(e) => {
                const on = e.target.checked;
                change(
                  on ? `automatic gain for ${input.name}` : `no automatic gain for ${input.name}`,
                  (i) => {
                    i.autoGain = on;
                  },
                );
              }}
              slotProps={{ input: { 'aria-label': `Automatic gain of ${input.name}` } }}
            />
          </>,
        )}
      {input.kind !== 'mix' &&
        input.kind !== 'notes' &&
        row(
          'monitor level',
          <NumberField
            label={`Monitor level of ${input.name}`}
            value={input.monitor.db}
            unit="dB"
            min={-60}
            max={6}
            step={0.5}
            usual={-6}
            onChange={(v) =>
              change(
                `monitor ${input.name}`,
                (i) => {
                  i.monitor.db = v;
                },
                'monitor',
              )
            }
            onEnd={endDrag}
          />,
        )}
      {input.kind !== 'notes' && (
        <Button
          variant="text"
          aria-expanded={more}
          onClick={() => setMore(!more)}
          sx={{
            gridColumn: '1 / -1',
            justifySelf: 'start',
            ml: -1,
            color: 'inherit',
            '&:hover': { background: 'var(--bed)' },
          }}
        >
          {more
            ? 'less'
            : input.kind === 'files'
              ? input.stems.length > 1
                ? 'delay, part, stems …'
                : 'delay, part …'
              : 'delay …'}
        </Button>
      )}
      {more &&
        input.kind !== 'notes' &&
        row(
          'delay',
          <NumberField
            label={`Delay of ${input.name}`}
            value={input.delayMs}
            unit="ms"
            min={0}
            max={2000}
            step={1}
            usual={0}
            onChange={(v) =>
              change(
                `delay ${input.name}`,
                (i) => {
                  i.delayMs = Math.round(v);
                },
                'delay',
              )
            }
            onEnd={endDrag}
          />,
        )}
      {more &&
        input.kind === 'files' &&
        row(
          'plays from',
          <>
            <NumberField
              label={`Start of ${input.name}`}
              value={input.part?.from ?? 0}
              unit="s"
              min={0}
              max={Math.max(0.05, (input.part?.to ?? seconds) - 0.05)}
              step={0.01}
              usual={0}
              onChange={(v) =>
                change(
                  `nudge the start of ${input.name}`,
                  (i) => {
                    if (i.kind === 'files') i.part = { from: v, to: i.part?.to ?? seconds };
                  },
                  'from',
                )
              }
              onEnd={endDrag}
            />
            to
            <NumberField
              label={`End of ${input.name}`}
              value={input.part?.to ?? seconds}
              unit="s"
              min={(input.part?.from ?? 0) + 0.05}
              max={Math.max(0.1, seconds, input.part?.to ?? 0)}
              step={0.01}
              usual={seconds}
              onChange={(v) =>
                change(
                  `move the end of ${input.name}`,
                  (i) => {
                    if (i.kind === 'files') i.part = { from: i.part?.from ?? 0, to: v };
                  },
                  'to',
                )
              }
              onEnd={endDrag}
            />
          </>,
        )}
      {more &&
        input.kind === 'files' &&
        input.stems.length > 1 &&
        input.stems.map((s, k) => (
          <Box key={s.media + String(k)} sx={{ display: 'contents' }}>
            {row(
              s.name,
              <NumberField
                label={`Gain of ${s.name}`}
                value={s.gainDb}
                unit="dB"
                min={-60}
                max={24}
                step={0.5}
                usual={0}
                onChange={(v) =>
                  change(
                    `gain of ${s.name}`,
                    (i) => {
                      if (i.kind === 'files') i.stems[k]!.gainDb = v;
                    },
                    `stem ${k}`,
                  )
                }
                onEnd={endDrag}
              />,
            )}
          </Box>
        ))}
      {input.kind === 'tone' && (
        <>
          {row(
            'wave',
            <Choice
              label=""
              value={input.wave}
              options={WAVES.map((w) => [w, WAVE_WORDS[w]] as const)}
              onChange={(wave) =>
                change('change a test tone', (i) => {
                  if (i.kind === 'tone') i.wave = wave;
                })
              }
            />,
          )}
          {(input.wave === 'sine' || input.wave === 'saw' || input.wave === 'square') &&
            row(
              'pitch',
              <NumberField
                label={`Frequency of ${input.name}`}
                value={input.hz}
                unit="Hz"
                min={20}
                max={20000}
                step={1}
                usual={440}
                onChange={(v) =>
                  change(
                    'tune a test tone',
                    (i) => {
                      if (i.kind === 'tone') i.hz = Math.round(v);
                    },
                    'hz',
                  )
                }
                onEnd={endDrag}
              />,
            )}
          {row(
            'level',
            <NumberField
              label={`Level of ${input.name}`}
              value={input.db}
              unit="dBFS"
              min={-60}
              max={0}
              step={0.5}
              usual={-18}
              onChange={(v) =>
                change(
                  'set a test tone',
                  (i) => {
                    if (i.kind === 'tone') i.db = v;
                  },
                  'level',
                )
              }
              onEnd={endDrag}
            />,
          )}
        </>
      )}
      {input.kind === 'mix' &&
        inputs
          .filter((i) => i.id !== input.id && i.kind !== 'notes')
          .map((i) => (
            <Box key={i.id} sx={{ display: 'contents' }}>
              {row(i.name, <PartOfMix mix={input} part={i} change={change} />)}
            </Box>
          ))}
      {input.kind === 'notes' && <TuneWords id={input.id} />}
    </Box>
  );
}

function PartOfMix({
  mix,
  part,
  change,
}: {
  readonly mix: Extract<Input, { kind: 'mix' }>;
  readonly part: Input;
  readonly change: (label: string, f: (i: Draft<Input>) => void, mark?: string | null) => void;
}) {
  const there = mix.parts.find((p) => p.input === part.id);
  const set = (f: (p: Draft<MixPart>) => void, mark: string): void =>
    change(
      `mix ${part.name}`,
      (i) => {
        if (i.kind === 'mix') {
          const p = i.parts.find((x) => x.input === part.id);
          if (p) f(p);
        }
      },
      mark,
    );
  return (
    <>
      {there && (
        <NumberField
          label={`Gain of ${part.name} in the mix`}
          value={there.gainDb}
          unit="dB"
          min={-60}
          max={24}
          step={0.5}
          usual={0}
          onChange={(v) =>
            set((p) => {
              p.gainDb = v;
            }, `part ${part.id}`)
          }
          onEnd={endDrag}
        />
      )}
      {there && (
        <Choice<Channel>
          label=""
          value={there.channel}
          options={CHANNELS.map((c) => [c, CHANNEL_WORDS[c]] as const)}
          onChange={(c) =>
            set((p) => {
              p.channel = c;
            }, `channel ${part.id}`)
          }
        />
      )}
      <Switch
        size="small"
        checked={there !== undefined}
        slotProps={{ input: { 'aria-label': `${part.name} in the mix` } }}
        onChange={(e) => {
          const on = e.target.checked;
          change(on ? `add ${part.name} to a mix` : `take ${part.name} out of a mix`, (i) => {
            if (i.kind !== 'mix') return;
            if (on) i.parts.push({ input: part.id, gainDb: 0, channel: 'sum' });
            else i.parts = i.parts.filter((p) => p.input !== part.id);
          });
        }}
      />
    </>
  );
}

function TuneWords({ id }: { readonly id: string }) {
  useSession((s) => s.inputs[id]);
  const tune = theEngine()?.inputs.tunes.get(id);
  if (!tune) return null;
  return (
    <Box sx={{ gridColumn: '1 / -1', color: 'var(--faint)' }}>
      {tune.lanes
        .map((c) => `track ${c.track}, channel ${c.channel}: ${c.name}, ${c.count} notes`)
        .join(' · ')}{' '}
      · {tune.seconds.toFixed(1)} s at {tune.bpm.toFixed(1)} BPM
    </Box>
  );
}
