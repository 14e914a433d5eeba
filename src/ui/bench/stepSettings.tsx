'use client';
import { Box, Button } from '@mui/material';
import type { ReactNode } from 'react';
import { CURVES, type Fit, FIT_MOST_DB, LONGEST_MS, type Shaping, type StepName } from '../../core/shaping';
import { Choice } from '../controls/Choice';
import { NumberField } from '../controls/NumberField';
import { endDrag } from '../state/session';

/** What a step is when its seam is opened. */
export const FRESH: { readonly [K in StepName]: NonNullable<Shaping[K]> } = {
  strike: { holdMs: 0, fallMs: 240 },
  floor: { at: 0.01 },
  fit: { mode: 'coming', forgetS: 30 },
  clamp: { low: 0, high: 1 },
  flip: true,
  curve: { points: CURVES['soft ends']! },
  hold: { ms: 120 },
  smooth: { attackMs: 8, releaseMs: 140 },
  steady: { restMs: 200, quick: 1 },
  average: { ms: 250 },
  steps: { by: 'count', count: 4 },
  delay: { ms: 100 },
};
const field = { color: 'inherit', fontSize: '0.88rem' } as const;
export type SetShaping = (
  change: Partial<{ [K in keyof Shaping]: Shaping[K] | undefined }>,
  what: string,
  mark?: string | null,
) => void;

/** Settings of a step as numbers. The fit has more, see {@link FitWays}. */
export function stepSettings(
  step: Exclude<StepName, 'fit'>,
  shaping: Shaping,
  set: SetShaping,
  range: { readonly floorMost: number; readonly usual: number },
): ReactNode {
  const ms = (
    label: string,
    value: number,
    max: number,
    by: number,
    usual: number,
    change: (v: number) => void,
  ): ReactNode => (
    <NumberField
      label={label}
      value={value}
      unit="ms"
      min={0}
      max={max}
      step={by}
      usual={usual}
      onChange={change}
      onEnd={endDrag}
      sx={field}
    />
  );
  switch (step) {
    case 'strike': {
      const s = shaping.strike!;
      return (
        <>
          {!s.onOff &&
            ms('Hold', s.holdMs, 5000, 5, 0, (holdMs) =>
              set({ strike: { ...s, holdMs } }, 'set a hold', 'hold'),
            )}
          {!s.onOff &&
            ms('Fall', s.fallMs, 10000, 10, 240, (fallMs) =>
              set({ strike: { ...s, fallMs } }, 'set a fall', 'fall'),
            )}
          <Button
            variant="text"
            aria-pressed={s.onOff === true}
            title="Each hit goes from nothing to all, or back, and it stays so until the next."
            onClick={() => {
              const { onOff, ...falls } = s;
              set(
                { strike: onOff ? falls : { ...falls, onOff: true } },
                onOff ? 'let it fall' : 'strike on or off',
              );
            }}
            sx={{
              color: 'inherit',
              fontSize: '0.88rem',
              px: 0.75,
              '&[aria-pressed=true]': { background: 'var(--mark)', color: 'var(--on-mark)' },
            }}
          >
            on or off
          </Button>
        </>
      );
    }
    case 'floor':
      return (
        <NumberField
          label="Floor"
          value={shaping.floor!.at}
          unit=""
          min={0}
          max={range.floorMost}
          step={range.usual / 200}
          usual={0}
          onChange={(at) => set({ floor: { at } }, 'set a floor', 'floor')}
          onEnd={endDrag}
          sx={field}
        />
      );
    case 'clamp': {
      const c = shaping.clamp!;
      return (
        <>
          <NumberField
            label="Lowest"
            value={c.low}
            unit=""
            min={-4}
            max={c.high - 0.01}
            step={0.01}
            usual={0}
            onChange={(low) => set({ clamp: { ...c, low } }, 'set a clamp', 'clamp')}
            onEnd={endDrag}
            sx={field}
          />
          <NumberField
            label="Highest"
            value={c.high}
            unit=""
            min={c.low + 0.01}
            max={4}
            step={0.01}
            usual={1}
            onChange={(high) => set({ clamp: { ...c, high } }, 'set a clamp', 'clamp')}
            onEnd={endDrag}
            sx={field}
          />
        </>
      );
    }
    case 'flip':
      return <Box component="span">1 becomes 0, 0 becomes 1</Box>;
    case 'curve': {
      const { points } = shaping.curve!;
      const now =
        Object.keys(CURVES).find((n) => JSON.stringify(CURVES[n]) === JSON.stringify(points)) ?? 'drawn';
      return (
        <Choice
          label="Curve"
          value={now}
          options={[...Object.keys(CURVES), ...(now === 'drawn' ? ['drawn'] : [])].map(
            (n) => [n, n] as const,
          )}
          onChange={(n) => {
            const c = CURVES[n];
            if (c) set({ curve: { points: c } }, 'choose a curve');
          }}
        />
      );
    }
    case 'hold':
      return ms('Hold the greatest', shaping.hold!.ms, 10000, 10, 120, (v) =>
        set({ hold: { ms: v } }, 'set a hold', 'keep'),
      );
    case 'smooth': {
      const s = shaping.smooth!;
      return (
        <>
          {ms('Attack', s.attackMs, 20000, 1, 8, (attackMs) =>
            set({ smooth: { ...s, attackMs } }, 'set an attack', 'attack'),
          )}
          {ms('Release', s.releaseMs, 20000, 5, 140, (releaseMs) =>
            set({ smooth: { ...s, releaseMs } }, 'set a release', 'release'),
          )}
        </>
      );
    }
    case 'steady': {
      const s = shaping.steady!;
      return (
        <>
          {ms('Calm at rest', s.restMs, 10000, 10, 200, (restMs) =>
            set({ steady: { ...s, restMs } }, 'set a calm', 'calm'),
          )}
          <NumberField
            label="Quicker when it moves"
            value={s.quick}
            unit="Hz"
            min={0}
            max={100}
            step={0.1}
            usual={1}
            onChange={(quick) => set({ steady: { ...s, quick } }, 'set a quickness', 'quick')}
            onEnd={endDrag}
            sx={field}
          />
        </>
      );
    }
    case 'average':
      return ms('Average over', shaping.average!.ms, LONGEST_MS, 10, 250, (v) =>
        set({ average: { ms: v } }, 'set an average', 'average'),
      );
    case 'steps': {
      const s = shaping.steps!;
      return (
        <>
          <Choice
            label="Steps by"
            value={s.by}
            options={[
              ['count', 'so many'],
              ['size', 'so large'],
            ]}
            onChange={(by) =>
              set(
                {
                  steps:
                    by === 'count'
                      ? {
                          by: 'count',
                          count: s.by === 'size' ? Math.max(1, Math.round(1 / s.size)) : s.count,
                        }
                      : { by: 'size', size: s.by === 'count' ? Number((1 / s.count).toFixed(3)) : s.size },
                },
                'set steps',
              )
            }
          />
          {s.by === 'count' ? (
            <NumberField
              label="How many"
              value={s.count}
              unit=""
              min={1}
              max={1000}
              step={1}
              usual={4}
              onChange={(count) =>
                set({ steps: { by: 'count', count: Math.max(1, Math.round(count)) } }, 'set steps', 'steps')
              }
              onEnd={endDrag}
              sx={field}
            />
          ) : (
            <NumberField
              label="How large"
              value={s.size}
              unit=""
              min={0.001}
              max={1}
              step={0.01}
              usual={0.25}
              onChange={(size) => set({ steps: { by: 'size', size } }, 'set steps', 'steps')}
              onEnd={endDrag}
              sx={field}
            />
          )}
        </>
      );
    }
    case 'delay':
      return ms('Delay', shaping.delay!.ms, LONGEST_MS, 5, 100, (v) =>
        set({ delay: { ms: v } }, 'set a delay', 'delay'),
      );
  }
}

/** What a step is set to, in a few words. */
export function stepWords(step: StepName, shaping: Shaping, plain: (x: number) => string): string {
  switch (step) {
    case 'strike':
      return shaping.strike?.onOff ? 'on or off' : `falls in ${Math.round(shaping.strike?.fallMs ?? 0)} ms`;
    case 'floor':
      return `above ${plain(shaping.floor?.at ?? 0)}`;
    case 'fit':
      return fitWords(shaping.fit, plain);
    case 'clamp':
      return `${shaping.clamp?.low} to ${shaping.clamp?.high}`;
    case 'flip':
      return 'upside down';
    case 'curve':
      return `${shaping.curve?.points.length} points`;
    case 'hold':
      return `for ${Math.round(shaping.hold?.ms ?? 0)} ms`;
    case 'smooth':
      return `${Math.round(shaping.smooth?.attackMs ?? 0)} ms · ${Math.round(shaping.smooth?.releaseMs ?? 0)} ms`;
    case 'steady':
      return `calm ${Math.round(shaping.steady?.restMs ?? 0)} ms`;
    case 'average':
      return `over ${Math.round(shaping.average?.ms ?? 0)} ms`;
    case 'steps':
      return shaping.steps?.by === 'size' ? `of ${shaping.steps.size}` : `${shaping.steps?.count} steps`;
    case 'delay':
      return `${Math.round(shaping.delay?.ms ?? 0)} ms later`;
  }
}
function fitWords(fit: Fit | undefined, plain: (x: number) => string): string {
  return !fit ? '' : fit.mode === 'coming' ? 'to what comes' : `${plain(fit.low)} to ${plain(fit.high)}`;
}

interface FitProps {
  readonly fit: Fit;
  readonly usual: number;
  readonly set: (fit: Fit, mark: string | null) => void;
}

/** The three ways to fit. */
export function FitWays({ fit, usual, set, onHeard }: FitProps & { readonly onHeard: () => void }) {
  const low = fit.mode === 'coming' ? 0 : fit.low,
    high = fit.mode === 'coming' ? usual : fit.high;
  const choice = {
    minHeight: 30,
    px: 0.75,
    whiteSpace: 'nowrap',
    fontSize: '0.86rem',
    color: 'inherit',
    borderBottom: '3px solid transparent',
    '&[aria-pressed=true]': { borderBottomColor: 'currentColor' },
  } as const;
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.25 }}>
      <Button variant="text" aria-pressed={fit.mode === 'heard'} onClick={onHeard} sx={choice}>
        to heard
      </Button>
      <Button
        variant="text"
        aria-pressed={fit.mode === 'coming'}
        onClick={() => set({ mode: 'coming', forgetS: 30 }, null)}
        sx={choice}
      >
        to what comes
      </Button>
      <Button
        variant="text"
        aria-pressed={fit.mode === 'hand'}
        onClick={() => set({ mode: 'hand', low, high }, null)}
        sx={choice}
      >
        by hand
      </Button>
    </Box>
  );
}

/** The fit's edges as numbers; of one that learns, how it does. */
export function FitEdges({ fit, usual, most, set }: FitProps & { readonly most: number }) {
  const step = Math.max(0.0001, usual / 400);
  if (fit.mode === 'coming') {
    return (
      <>
        <NumberField
          label="Raise at most"
          value={fit.mostDb ?? FIT_MOST_DB}
          unit="dB"
          min={0}
          max={96}
          step={1}
          usual={FIT_MOST_DB}
          onChange={(mostDb) => set({ ...fit, mostDb }, 'most')}
          onEnd={endDrag}
          sx={field}
        />
        <NumberField
          label="Forget"
          value={fit.forgetS}
          unit="s"
          min={0.5}
          max={600}
          step={0.5}
          usual={30}
          onChange={(forgetS) => set({ ...fit, forgetS }, 'forget')}
          onEnd={endDrag}
          sx={field}
        />
      </>
    );
  }
  const { low, high } = fit;
  return (
    <>
      <NumberField
        label="Fit from"
        value={low}
        unit=""
        min={Math.min(0, low)}
        max={high - step}
        step={step}
        onChange={(v) => set({ mode: 'hand', low: v, high }, 'fit')}
        onEnd={endDrag}
        sx={field}
      />
      <NumberField
        label="Fit to"
        value={high}
        unit=""
        min={low + step}
        max={most}
        step={step}
        onChange={(v) => set({ mode: 'hand', low, high: v }, 'fit')}
        onEnd={endDrag}
        sx={field}
      />
    </>
  );
}
