'use client';
import { Box, Button, Switch } from '@mui/material';
import { IconAct } from '../controls/IconAct';
import { useState } from 'react';
import {
  CLOCK_READINGS,
  LIST_ORDERS,
  type Making,
  PAIRINGS,
  USUAL_RANGES,
  WAVE_SHAPES,
  WAYS,
} from '../../core/makers';
import { changeMaker, type Maker, removeMaker } from '../../core/show';
import { Choice } from '../controls/Choice';
import { ChanceColours } from './ChanceColours';
import { EntryField } from '../controls/EntryField';
import { NthSetting } from '../controls/NthSetting';
import { ColourField } from '../controls/ColourField';
import { NumberField } from '../controls/NumberField';
import { edit, endDrag } from '../state/session';
import { say } from '../state/notices';
import { look } from '../state/view';
import { SourceSetting } from './SourceSetting';
import { TouchSetting } from './TouchSetting';

const field = { color: 'inherit', fontSize: '0.9rem' } as const;

/** Everything that a maker can be set to. */
export function MakerSettings({ maker }: { readonly maker: Maker }) {
  const { making } = maker;
  const set = (next: Making, mark: string | null = null): void =>
    edit(`change ${maker.name}`, changeMaker(maker.id, { making: next }), mark && `${maker.id} ${mark}`);
  const number = (
    label: string,
    value: number,
    unit: string,
    min: number,
    max: number,
    step: number,
    change: (v: number) => Making,
    usual?: number,
  ) => (
    <NumberField
      label={`${label} of ${maker.name}`}
      value={value}
      unit={unit}
      min={min}
      max={max}
      step={step}
      {...(usual !== undefined && { usual })}
      onChange={(v) => set(change(v), label)}
      onEnd={endDrag}
      sx={field}
    />
  );
  return (
    <Box
      role="group"
      aria-label={`Settings of ${maker.name}`}
      onPointerDown={(e) => e.stopPropagation()}
      sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center', mt: 1, fontSize: '0.9rem' }}
    >
      <SourceSetting maker={maker} />
      {'and' in making && <SourceSetting maker={maker} second />}
      {'on' in making && (
        <NthSetting
          of={maker.name}
          value={making.nth}
          onChange={(nth, mark) => set({ ...making, nth }, mark)}
          onEnd={endDrag}
        />
      )}
      {making.kind === 'oscillator' && (
        <>
          <Choice
            label="Wave"
            value={making.shape}
            options={WAVE_SHAPES.map((w) => [w, w] as const)}
            onChange={(shape) => set({ ...making, shape })}
          />
          <Choice
            label="in"
            value={making.every.unit}
            options={[
              ['beats', 'beats'],
              ['hz', 'Hz'],
            ]}
            onChange={(unit) =>
              set({ ...making, every: unit === 'hz' ? { unit, value: 0.25 } : { unit, value: 4 } })
            }
          />
          {making.every.unit === 'hz'
            ? number(
                'Rate',
                making.every.value,
                'Hz',
                0,
                50,
                0.05,
                (value) => ({ ...making, every: { unit: 'hz', value } }),
                0.25,
              )
            : number(
                'Length',
                making.every.value,
                'beats',
                0.0625,
                1024,
                1,
                (value) => ({ ...making, every: { unit: 'beats', value } }),
                4,
              )}
          {number('Phase', making.phase, '', 0, 1, 0.05, (phase) => ({ ...making, phase }), 0)}
        </>
      )}
      {making.kind === 'random' && (
        <>
          <Choice
            label="Gives"
            value={making.choices === null ? 'number' : 'choice'}
            options={[
              ['number', 'any number'],
              ['choice', 'one of so many'],
            ]}
            onChange={(g) => set({ ...making, choices: g === 'number' ? null : 4 })}
          />
          {making.choices !== null &&
            number(
              'Choices',
              making.choices,
              '',
              2,
              1000,
              1,
              (v) => ({ ...making, choices: Math.round(v) }),
              4,
            )}
        </>
      )}
      {making.kind === 'oneShot' && (
        <>
          {number('Attack', making.attackMs, 'ms', 0, 60000, 10, (attackMs) => ({ ...making, attackMs }), 40)}
          {number('Hold', making.holdMs, 'ms', 0, 60000, 10, (holdMs) => ({ ...making, holdMs }), 120)}
          {number(
            'Release',
            making.releaseMs,
            'ms',
            0,
            60000,
            10,
            (releaseMs) => ({ ...making, releaseMs }),
            500,
          )}
        </>
      )}
      {making.kind === 'glide' &&
        number('Time', making.seconds, 's', 0, 3600, 0.1, (seconds) => ({ ...making, seconds }), 2)}
      {making.kind === 'colours' && (
        <Choice
          label="from"
          value={making.chance ? 'chance' : 'palette'}
          options={[
            ['palette', 'a palette'],
            ['chance', 'chance'],
          ]}
          onChange={(from) => set({ ...making, chance: from === 'chance' ? USUAL_RANGES : null })}
        />
      )}
      {making.kind === 'colours' && making.chance && (
        <ChanceColours
          name={maker.name}
          ranges={making.chance}
          set={(chance, mark) => set({ ...making, chance }, mark)}
        />
      )}
      {(making.kind === 'list' || (making.kind === 'colours' && !making.chance)) && (
        <Choice
          label="Order"
          value={making.order}
          options={LIST_ORDERS.map((o) => [o, o] as const)}
          onChange={(order) => set({ ...making, order })}
        />
      )}
      {making.kind === 'list' && (
        <Box component="label" sx={{ display: 'inline-flex', gap: 0.75, alignItems: 'center' }}>
          values
          <EntryField
            label={`Values of ${maker.name}`}
            value={making.values.join(' ')}
            read={readNumbers}
            wrong="Numbers with spaces between them, such as 0 0.5 1."
            onChange={(values) => set({ ...making, values })}
          />
        </Box>
      )}
      {making.kind === 'colours' && !making.chance && (
        <>
          {making.palette.map((c, i) => (
            <Box key={i} sx={{ display: 'inline-flex', alignItems: 'center' }}>
              <ColourField
                label={`Colour ${i + 1} of ${maker.name}`}
                value={c}
                onChange={(v) =>
                  set({ ...making, palette: making.palette.map((x, k) => (k === i ? v : x)) }, `colour ${i}`)
                }
                onEnd={endDrag}
              />
              {making.palette.length > 1 && (
                <Button
                  variant="text"
                  aria-label={`Remove colour ${i + 1} of ${maker.name}`}
                  onClick={() => set({ ...making, palette: making.palette.filter((_, k) => k !== i) })}
                  sx={{ minWidth: 32, p: 0 }}
                >
                  ×
                </Button>
              )}
            </Box>
          ))}
          {making.palette.length < 64 && (
            <Button
              variant="text"
              onClick={() => set({ ...making, palette: [...making.palette, making.palette.at(-1)!] })}
            >
              + colour
            </Button>
          )}
        </>
      )}
      {making.kind === 'crossing' && (
        <>
          {number('Past', making.at, '', -1000, 1000, 0.01, (at) => ({ ...making, at }), 0.1)}
          {number('Must come back by', making.back, '', 0, 1000, 0.01, (back) => ({ ...making, back }), 0.02)}
          <Choice
            label="Way"
            value={making.way}
            options={WAYS.map((w) => [w, w] as const)}
            onChange={(way) => set({ ...making, way })}
          />
          <Choice
            label="Gives"
            value={making.gives}
            options={[
              ['event', 'an event'],
              ['switch', 'on and off'],
            ]}
            onChange={(gives) => set({ ...making, gives })}
          />
        </>
      )}
      {making.kind === 'gate' && (
        <>
          {number('Opens past', making.at, '', -1000, 1000, 0.01, (at) => ({ ...making, at }), 0.1)}
          {number(
            'Shuts below that by',
            making.back,
            '',
            0,
            1000,
            0.01,
            (back) => ({ ...making, back }),
            0.02,
          )}
          <Choice
            label="Shut"
            value={making.shut}
            options={[
              ['rest', 'gives nothing'],
              ['hold', 'holds the last'],
            ]}
            onChange={(shut) => set({ ...making, shut })}
          />
        </>
      )}
      {making.kind === 'pair' && (
        <Choice
          label="Makes"
          value={making.makes}
          options={PAIRINGS.map((p) => [p, p] as const)}
          onChange={(makes) => set({ ...making, makes })}
        />
      )}
      {making.kind === 'change' &&
        number('By at least', making.by, '', 0.001, 1000, 0.01, (by) => ({ ...making, by }), 0.05)}
      {making.kind === 'clock' && (
        <Choice
          label="Reads"
          value={making.reading}
          options={CLOCK_READINGS.map(
            (r) =>
              [
                r,
                {
                  position: 'seconds of the show',
                  sinceOpened: 'seconds since it was opened',
                  beats: 'beats',
                }[r],
              ] as const,
          )}
          onChange={(reading) => set({ ...making, reading })}
        />
      )}
      {making.kind === 'prompter' && (
        <Lines maker={maker} lines={making.lines} set={(lines) => set({ ...making, lines })} />
      )}
      {making.kind === 'button' && (
        <>
          <Box component="label" sx={{ display: 'inline-flex', alignItems: 'center' }}>
            <Switch
              size="small"
              checked={making.latching}
              onChange={(e) => set({ ...making, latching: e.target.checked })}
              slotProps={{ input: { 'aria-label': `${maker.name} stays pressed` } }}
            />
            stays pressed
          </Box>
          <KeySetting maker={maker} keyName={making.key} set={(key) => set({ ...making, key })} />
        </>
      )}
      {(making.kind === 'slider' || making.kind === 'button') && (
        <TouchSetting
          name={maker.name}
          notes={making.kind === 'button'}
          touch={making.touch}
          onChange={(touch) => set({ ...making, touch })}
        />
      )}
      <IconAct
        act="delete"
        onClick={() => {
          edit(`delete ${maker.name}`, removeMaker(maker.id));
          look({ signal: null });
        }}
      />
    </Box>
  );
}

/** Numbers with spaces between them, or with commas and spaces. */
function readNumbers(text: string): readonly number[] | null {
  const all = text
    .split(/[\s;]+|,(?=\s)/)
    .filter(Boolean)
    .map((x) => Number(x.replace(',', '.').replace('−', '-')));
  return all.length > 0 && all.length <= 1000 && all.every(Number.isFinite) ? all : null;
}

function Lines({
  maker,
  lines,
  set,
}: {
  readonly maker: Maker;
  readonly lines: readonly { readonly at: number; readonly text: string }[];
  readonly set: (lines: readonly { readonly at: number; readonly text: string }[]) => void;
}) {
  const change = (i: number, c: Partial<{ at: number; text: string }>): void =>
    set(lines.map((l, k) => (k === i ? { ...l, ...c } : l)).sort((a, b) => a.at - b.at));
  return (
    <Box sx={{ width: '100%', display: 'grid', gap: 0.5 }}>
      {lines.map((l, i) => (
        <Box key={i} sx={{ display: 'flex', gap: 0.5, alignItems: 'center' }}>
          <NumberField
            label={`Second of line ${i + 1} of ${maker.name}`}
            value={l.at}
            unit="s"
            min={0}
            max={86400}
            step={0.5}
            onChange={(at) => change(i, { at })}
            sx={field}
          />
          <Box
            component="input"
            aria-label={`Line ${i + 1} of ${maker.name}`}
            defaultValue={l.text}
            key={l.text}
            maxLength={200}
            onBlur={(e) => {
              if (e.currentTarget.value !== l.text) change(i, { text: e.currentTarget.value });
            }}
            onKeyDown={(e) => {
              if (e.key === 'Enter') e.currentTarget.blur();
            }}
            sx={(t) => ({
              font: 'inherit',
              flex: 1,
              minWidth: 60,
              minHeight: 34,
              px: 1,
              border: 'none',
              background: t.ink.paper,
              color: t.ink.paperText,
            })}
          />
          <Button
            variant="text"
            aria-label={`Remove line ${i + 1} of ${maker.name}`}
            onClick={() => set(lines.filter((_, k) => k !== i))}
            sx={{ minWidth: 32, p: 0 }}
          >
            ×
          </Button>
        </Box>
      ))}
      <Button
        variant="text"
        onClick={() => set([...lines, { at: (lines.at(-1)?.at ?? -5) + 5, text: '' }])}
        sx={{ justifySelf: 'start' }}
      >
        + line
      </Button>
    </Box>
  );
}

/** Keys that already mean something everywhere stay what they are. */
const TAKEN = new Set(['b', 'd', 'f', 'h', 'l', 'm', 's', 'u', 'y']);
function KeySetting({
  maker,
  keyName,
  set,
}: {
  readonly maker: Maker;
  readonly keyName: string | null;
  readonly set: (key: string | null) => void;
}) {
  const [waiting, setWaiting] = useState(false);
  return (
    <Button
      variant="text"
      aria-label={`Key of ${maker.name}`}
      onClick={() => setWaiting(true)}
      onBlur={() => setWaiting(false)}
      onKeyDown={(e) => {
        if (!waiting) return;
        e.preventDefault();
        // It is chosen, not pressed: nobody else hears of it.
        e.stopPropagation();
        setWaiting(false);
        const key = e.key.toLowerCase();
        if (key === 'escape' || key === 'backspace' || key === 'delete') set(null);
        else if (!/^[a-z]$/.test(key))
          say('warning', 'Choose a letter: digits and other keys have their meaning.');
        else if (TAKEN.has(key))
          say('warning', `${key.toUpperCase()} already has a meaning. Choose another letter.`);
        else set(key);
      }}
    >
      {waiting ? 'press a letter …' : keyName ? `key ${keyName.toUpperCase()}` : 'no key'}
    </Button>
  );
}
