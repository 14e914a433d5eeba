'use client';
import { Box, Button } from '@mui/material';
import { useState } from 'react';
import {
  BAND_SETS,
  bandsOf,
  CHORD_MOST,
  keysOf,
  type Listening,
  nthOf,
  PHRASES,
  settlingOf,
  signalKindOf,
  usualCrossovers,
  type Weighting,
} from '../../core/ears';
import type { Ear } from '../../core/show';
import { keyName, keyOfName } from '../../core/notes';
import { Choice } from '../controls/Choice';
import { Choices } from '../controls/Choices';
import { EntryField } from '../controls/EntryField';
import { NthSetting } from '../controls/NthSetting';
import { ChannelOf, HearsOf } from './EarAim';
import { NumberField } from '../controls/NumberField';
import { theEngine } from '../state/session';
import { BEAT_WORDS, LEVEL_WORDS, NOTE_WORDS, SET_WORDS, STROKE_WORDS, STRUCTURE_WORDS } from './names';

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
  readonly onChange: (
    change: Partial<Pick<Ear, 'listening' | 'channel' | 'stem' | 'input'>>,
    mark: string | null,
  ) => void;
  readonly onEnd?: () => void;
}

/** Everything that can be set about what an ear listens for. */
export function EarSettings({ ear, onChange, onEnd }: EarSettingsProps) {
  const l = ear.listening,
    tracks = tracksOf(ear.input);
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
  /** An end of a row of keys, by its name. */
  const keyField = (label: string, end: 'low' | 'high', least: number, most: number, wrong: string) =>
    l.kind === 'notes' && (
      <EntryField
        label={label}
        width={64}
        value={keyName(keysOf(l)[end])}
        read={(text) => {
          const key = keyOfName(text);
          return key !== null && key >= least && key <= most ? key : null;
        }}
        wrong={wrong}
        onChange={(key) => set({ ...l, ...keysOf(l), [end]: key })}
      />
    );
  const channel = <ChannelOf ear={ear} onChange={(c) => onChange(c, null)} />;
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', columnGap: 2, rowGap: 0.5 }}>
      {l.kind !== 'beat' && <HearsOf ear={ear} onChange={(c) => onChange(c, null)} />}
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
      {l.kind === 'noteBegins' && (
        <>
          <Choice
            label="reading"
            value={l.reading}
            options={
              [
                ['event', 'each beginning'],
                ['note', 'the note that began'],
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
      {l.kind === 'structure' && (
        <>
          <Choice
            label="reading"
            value={l.reading}
            options={options(STRUCTURE_WORDS)}
            onChange={(reading) => set({ ...l, reading })}
          />
          {(l.reading === 'phrase' || l.reading === 'phrasePlace') && (
            <Choice
              label="bars"
              value={l.bars}
              options={PHRASES.map((n) => [n, String(n)] as const)}
              onChange={(bars) => set({ ...l, bars })}
            />
          )}
          {channel}
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
          <Choices
            label="channels"
            all="all"
            values={l.channels}
            options={Array.from({ length: 16 }, (_, i) => [i + 1, String(i + 1)] as const)}
            onChange={(channels) => set({ ...l, channels })}
          />
          {(tracks.length > 0 || l.tracks.length > 0) && (
            <Choices
              label="tracks"
              all="all"
              values={l.tracks}
              options={tracks.map((t) => [t.track, `${t.track}: ${t.name}`] as const)}
              onChange={(tracks) => set({ ...l, tracks })}
            />
          )}
          {l.reading === 'chord' && (
            <Box
              component="label"
              sx={{ display: 'inline-flex', gap: 0.75, alignItems: 'center', fontSize: '0.9rem' }}
            >
              <Box component="span" sx={{ color: 'var(--faint)' }}>
                keys
              </Box>
              <EntryField
                label="Keys that must sound together"
                value={(l.keys ?? []).map(keyName).join(' ')}
                read={readKeys}
                wrong={`1 to ${CHORD_MOST} keys with spaces between them, such as C4 E4 G4.`}
                onChange={(keys) => set({ ...l, keys })}
              />
            </Box>
          )}
          {l.reading === 'keys' && (
            <Box
              component="span"
              sx={{ display: 'inline-flex', gap: 0.75, alignItems: 'center', fontSize: '0.9rem' }}
            >
              <Box component="span" sx={{ color: 'var(--faint)' }}>
                from
              </Box>
              {keyField('Lowest key', 'low', 0, keysOf(l).high, 'A key such as C2, not above the highest.')}
              <Box component="span" sx={{ color: 'var(--faint)' }}>
                to
              </Box>
              {keyField('Highest key', 'high', keysOf(l).low, 127, 'A key such as C6, not below the lowest.')}
            </Box>
          )}
        </>
      )}
      {signalKindOf(l) === 'event' && (
        <NthSetting
          of={ear.name}
          value={nthOf(l)}
          onChange={(nth, mark) => set({ ...l, nth } as Listening, mark)}
          {...(onEnd && { onEnd })}
        />
      )}
    </Box>
  );
}

/** Keys by name, each once, in their order. */
function readKeys(text: string): readonly number[] | null {
  const keys = text
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map(keyOfName);
  if (keys.length === 0 || keys.length > CHORD_MOST || keys.includes(null)) return null;
  return [...new Set(keys as number[])].sort((a, b) => a - b);
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
