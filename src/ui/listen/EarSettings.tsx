'use client';
import { Box, Button } from '@mui/material';
import { useState } from 'react';
import {
  BAND_SETS,
  bandsOf,
  type Listening,
  settlingOf,
  usualCrossovers,
  type Weighting,
} from '../../core/ears';
import { type Channel, CHANNELS } from '../../core/hearing';
import type { Ear } from '../../core/show';
import { Choice } from '../controls/Choice';
import { NumberField } from '../controls/NumberField';
import { theEngine } from '../state/session';
import { BEAT_WORDS, CHANNEL_WORDS, LEVEL_WORDS, NOTE_WORDS, SET_WORDS, STROKE_WORDS } from './names';

type Words = Readonly<Record<string, string>>;
const options = <T extends string>(words: Readonly<Record<T, string>>): (readonly [T, string])[] =>
  Object.entries(words as Words) as [T, string][];
const MULTIPLES = [
  [0.25, 'every fourth'],
  [0.5, 'every second'],
  [1, 'each'],
  [2, 'twice a beat'],
  [4, 'four a beat'],
] as const;
const WEIGHTINGS = [
  ['flat', 'flat'],
  ['A', 'A'],
  ['C', 'C'],
  ['tilt', 'tilt'],
] as const;

export interface EarSettingsProps {
  readonly ear: Ear;
  /** @param mark - edits with the same mark belong to one drag */
  readonly onChange: (change: Partial<Pick<Ear, 'listening' | 'channel'>>, mark: string | null) => void;
  readonly onEnd?: () => void;
}

/** Everything that can be set about what an ear listens for. */
export function EarSettings({ ear, onChange, onEnd }: EarSettingsProps) {
  const l = ear.listening;
  const set = (listening: Listening, mark: string | null = null): void => onChange({ listening }, mark);
  const number = (
    label: string,
    value: number,
    unit: string,
    min: number,
    max: number,
    step: number,
    usual: number,
    f: (v: number) => Listening,
  ) => (
    <Box
      component="span"
      sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.75, fontSize: '0.9rem' }}
    >
      <Box component="span" sx={{ color: 'var(--faint)' }}>
        {label.toLowerCase()}
      </Box>
      <NumberField
        label={label}
        value={value}
        unit={unit}
        min={min}
        max={max}
        step={step}
        usual={usual}
        onChange={(v) => set(f(v), label)}
        {...(onEnd && { onEnd })}
        sx={{ color: 'inherit' }}
      />
    </Box>
  );
  const weighting = (w: Weighting, f: (w: Weighting) => Listening) => (
    <>
      <Choice
        label="weighting"
        value={w.kind}
        options={WEIGHTINGS}
        onChange={(kind) => set(f(kind === 'tilt' ? { kind, dbPerOctave: 3 } : { kind }))}
      />
      {w.kind === 'tilt' &&
        number('Tilt', w.dbPerOctave, 'dB/oct', -12, 12, 0.5, 3, (dbPerOctave) =>
          f({ kind: 'tilt', dbPerOctave }),
        )}
    </>
  );
  const channel = (
    <Choice<Channel>
      label="hears"
      value={ear.channel}
      options={CHANNELS.map((c) => [c, CHANNEL_WORDS[c]] as const)}
      onChange={(c) => onChange({ channel: c }, null)}
    />
  );
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', columnGap: 2, rowGap: 0.5 }}>
      {l.kind === 'level' && (
        <>
          <Choice
            label="reading"
            value={l.reading}
            options={options(LEVEL_WORDS)}
            onChange={(reading) => set({ ...l, reading })}
          />
          {channel}
        </>
      )}
      {l.kind === 'band' && (
        <>
          {number('Lower edge', l.low, 'Hz', 20, l.high - 10, 1, 40, (low) => ({
            ...l,
            low: Math.round(low),
          }))}
          {number('Upper edge', l.high, 'Hz', l.low + 10, 20000, 1, 160, (high) => ({
            ...l,
            high: Math.round(high),
          }))}
          <Choice
            label="reading"
            value={l.reading}
            options={
              [
                ['energy', 'energy'],
                ['strongest', 'strongest tone'],
                ['frequency', 'its frequency'],
              ] as const
            }
            onChange={(reading) => set({ ...l, reading })}
          />
          {weighting(l.weighting, (w) => ({ ...l, weighting: w }))}
          {number('Gain', l.gainDb, 'dB', -24, 24, 0.5, 0, (gainDb) => ({ ...l, gainDb }))}
          {channel}
        </>
      )}
      {l.kind === 'bands' && (
        <BandsSettings
          l={l}
          set={set}
          weighting={weighting(l.weighting, (w) => ({ ...l, weighting: w }))}
          channel={channel}
          {...(onEnd && { onEnd })}
        />
      )}
      {l.kind === 'hit' && (
        <>
          <Choice
            label="waits for"
            value={l.what}
            options={options(STROKE_WORDS)}
            onChange={(what) =>
              set({
                ...l,
                what,
                ...(what === 'range' && l.low <= 20 && l.high >= 20000
                  ? { low: 40, high: 160, holdOffMs: 85 }
                  : {}),
              })
            }
          />
          {l.what === 'range' &&
            number('Lower edge', l.low, 'Hz', 20, l.high - 10, 1, 40, (low) => ({
              ...l,
              low: Math.round(low),
            }))}
          {l.what === 'range' &&
            number('Upper edge', l.high, 'Hz', l.low + 10, 20000, 1, 160, (high) => ({
              ...l,
              high: Math.round(high),
            }))}
          {number('Sensitivity', Math.round(l.sensitivity * 100), '%', 0, 100, 1, 50, (s) => ({
            ...l,
            sensitivity: s / 100,
          }))}
          {number('Hold-off', l.holdOffMs, 'ms', 10, 2000, 1, l.what === 'range' ? 85 : 36, (holdOffMs) => ({
            ...l,
            holdOffMs,
          }))}
          {channel}
        </>
      )}
      {l.kind === 'pitch' && (
        <>
          <Choice
            label="reading"
            value={l.reading}
            options={
              [
                ['note', 'the note'],
                ['confidence', 'how sure it is'],
              ] as const
            }
            onChange={(reading) => set({ ...l, reading })}
          />
          {channel}
        </>
      )}
      {l.kind === 'brightness' && channel}
      {l.kind === 'presence' && (
        <>
          <Choice
            label="of"
            value={l.what}
            options={
              [
                ['sound', 'any sound'],
                ['speech', 'speech'],
              ] as const
            }
            onChange={(what) => set({ ...l, what })}
          />
          {channel}
        </>
      )}
      {l.kind === 'beat' && (
        <>
          <Choice
            label="reading"
            value={l.reading}
            options={options(BEAT_WORDS)}
            onChange={(reading) => set({ ...l, reading })}
          />
          {l.reading !== 'confidence' && l.reading !== 'bar' && l.reading !== 'barPhase' && (
            <Choice
              label="beats"
              value={l.multiple}
              options={MULTIPLES}
              onChange={(multiple) => set({ ...l, multiple })}
            />
          )}
        </>
      )}
      {l.kind === 'vector' && (
        <>
          <Choice
            label="of"
            value={l.of}
            options={
              [
                ['spectrum', 'spectrum'],
                ['waveform', 'waveform'],
              ] as const
            }
            onChange={(of) => set({ ...l, of })}
          />
          {l.of === 'spectrum' && (
            <Choice
              label="spread"
              value={l.scale}
              options={
                [
                  ['log', 'by octaves'],
                  ['mel', 'by hearing'],
                  ['linear', 'evenly'],
                ] as const
              }
              onChange={(scale) => set({ ...l, scale })}
            />
          )}
          {number('Points', l.points, '', 2, 2048, 1, 64, (points) => ({ ...l, points: Math.round(points) }))}
          {channel}
        </>
      )}
      {l.kind === 'notes' && (
        <>
          <Choice
            label="reading"
            value={l.reading}
            options={options(NOTE_WORDS)}
            onChange={(reading) => set({ ...l, reading })}
          />
          <Choice
            label="channel"
            value={l.channels.length === 1 ? l.channels[0]! : 0}
            options={[[0, 'all'], ...Array.from({ length: 16 }, (_, i) => [i + 1, String(i + 1)] as const)]}
            onChange={(c) => set({ ...l, channels: c === 0 ? [] : [c] })}
          />
          <Choice
            label="track"
            value={l.tracks.length === 1 ? l.tracks[0]! : 0}
            options={[
              [0, 'all'],
              ...tracksOf(ear.input).map((t) => [t.track, `${t.track}: ${t.name}`] as const),
            ]}
            onChange={(t) => set({ ...l, tracks: t === 0 ? [] : [t] })}
          />
        </>
      )}
    </Box>
  );
}

/** Tracks of the tune that an input plays, each once. */
function tracksOf(input: string): { readonly track: number; readonly name: string }[] {
  const lanes = theEngine()?.inputs.tunes.get(input)?.lanes ?? [];
  return lanes.filter((l, i) => lanes.findIndex((m) => m.track === l.track) === i);
}

/** A set of bands: which, where its bands meet, and how strong each is. */
function BandsSettings({
  l,
  set,
  weighting,
  channel,
  onEnd,
}: {
  readonly l: Extract<Listening, { kind: 'bands' }>;
  readonly set: (l: Listening, mark?: string | null) => void;
  readonly weighting: React.ReactNode;
  readonly channel: React.ReactNode;
  readonly onEnd?: () => void;
}) {
  const bands = bandsOf(l.set, l.crossovers);
  const [gains, setGains] = useState(false);
  const inner = bands.slice(1).map((b) => b.low);
  const movable = l.set === 'three' || l.set === 'five';
  const slowest = Math.round(Math.max(...bands.map(settlingOf)) * 1000),
    quickest = Math.round(Math.min(...bands.map(settlingOf)) * 1000);
  return (
    <>
      <Choice
        label="set"
        value={l.set}
        options={BAND_SETS.map((s) => [s, SET_WORDS[s]] as const)}
        onChange={(next) => set({ ...l, set: next, crossovers: [], gainsDb: [] })}
      />
      {weighting}
      {channel}
      {movable && (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75, fontSize: '0.9rem', flexWrap: 'wrap' }}>
          <Box component="span" sx={{ color: 'var(--faint)' }}>
            they meet at
          </Box>
          {inner.map((hz, i) => (
            <NumberField
              key={i}
              label={`Crossover ${i + 1}`}
              value={hz}
              unit="Hz"
              min={(inner[i - 1] ?? 30) + 10}
              max={(inner[i + 1] ?? 16000) - 10}
              step={1}
              usual={usualCrossovers(l.set)[i]!}
              sx={{ color: 'inherit' }}
              {...(onEnd && { onEnd })}
              onChange={(v) =>
                set(
                  { ...l, crossovers: inner.map((x, k) => (k === i ? Math.round(v) : x)) },
                  `Crossover ${i}`,
                )
              }
            />
          ))}
        </Box>
      )}
      {bands.length > 10 && (
        <Button
          variant="text"
          aria-expanded={gains}
          onClick={() => setGains(!gains)}
          sx={{ color: 'inherit' }}
        >
          {gains ? 'hide gains' : 'gains …'}
        </Button>
      )}
      {(bands.length <= 10 || gains) && (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75, fontSize: '0.9rem', flexWrap: 'wrap' }}>
          {bands.length <= 10 && (
            <Box component="span" sx={{ color: 'var(--faint)' }}>
              gains
            </Box>
          )}
          {bands.map((b, i) => (
            <Box key={i} component="span" sx={{ display: 'inline-flex', alignItems: 'center' }}>
              {bands.length > 10 && (
                <Box component="span" sx={{ color: 'var(--faint)', fontSize: '0.84rem' }}>
                  {b.name}
                </Box>
              )}
              <NumberField
                label={`Gain of ${b.name}`}
                value={l.gainsDb[i] ?? 0}
                unit="dB"
                min={-24}
                max={24}
                step={0.5}
                usual={0}
                sx={{ color: 'inherit' }}
                {...(onEnd && { onEnd })}
                onChange={(v) =>
                  set(
                    { ...l, gainsDb: bands.map((_, k) => (k === i ? v : (l.gainsDb[k] ?? 0))) },
                    `Gain ${i}`,
                  )
                }
              />
            </Box>
          ))}
        </Box>
      )}
      <Box
        component="span"
        title={bands.map((b) => `${b.name}: ${Math.max(1, Math.round(settlingOf(b) * 1000))} ms`).join(', ')}
        sx={{ color: 'var(--faint)', fontSize: '0.86rem' }}
      >
        settle in {quickest < 1 ? 'under 1' : quickest} ms (highest) to {slowest} ms (lowest)
      </Box>
    </>
  );
}
