'use client';
import { Box, Button, Switch, Typography } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import { HEALTH, type Health } from '../../core/ears';
import { inputSignal } from '../../core/plan';
import { changeInput, type Input, newInput, replaceInput } from '../../core/show';
import { dbfsText } from '../controls/dbText';
import { LiveText } from '../controls/LiveText';
import { Sheet } from '../controls/Sheet';
import { live, useFrame } from '../live/live';
import { currentShow, edit, theEngine, useSession } from '../state/session';
import { soundInput } from '../state/takeIn';
import { look } from '../state/view';
import { aboutInput, dropInput } from './addInputs';
import { floorsFromRoom, ROOM_SECONDS } from './emptyRoom';
import { FindMicrophone } from './FindMicrophone';
import { InputSettings } from './InputSettings';
import { KeepRecording } from './KeepRecording';
import { LoudnessHistory } from './LoudnessHistory';
import { HeldPeak, Meter } from './Meter';
import { SourceMenu } from './SourceMenu';

const WORDS: Record<Health, string> = {
  off: 'no sound',
  silent: 'silent',
  quiet: 'very quiet',
  good: 'good',
  clipping: 'clipping',
};

interface Advice {
  readonly words: string;
  readonly gain: boolean;
}
function remedy(health: Health, input: Input): Advice | null {
  const live = input.kind === 'device' || input.kind === 'tab';
  if (health === 'clipping')
    return {
      words: live
        ? 'Too loud: its peaks are cut off. Turn it down in your system’s sound settings, or at the mixer.'
        : 'This sound is cut off at full scale. Use a version that is less loud.',
      gain: false,
    };
  if (health === 'quiet' && !input.autoGain)
    return {
      words:
        input.kind === 'device'
          ? 'This microphone is very quiet. Raise it in your system’s sound settings, or turn on'
          : 'Very quiet. Raise the trim, or turn on',
      gain: true,
    };
  if (health === 'silent' && input.kind === 'device')
    return {
      words: 'Nothing arrives. Is it muted, or the wrong device? Choose another under “change”.',
      gain: false,
    };
  if (health === 'silent' && input.kind === 'tab')
    return { words: 'Nothing arrives. Does the tab play, and was its sound shared?', gain: false };
  return null;
}

/** One input: what, how loud, healthy or not, heard or not; and when it is picked, all that can be set about it. */
export function InputStrip({ input, picked }: { readonly input: Input; readonly picked: boolean }) {
  const state = useSession((s) => s.inputs[input.id]);
  const show = useSession((s) => s.history.show);
  const playing = useSession((s) => s.playing);
  const [health, setHealth] = useState<Health>('off');
  const [sheet, setSheet] = useState<'find' | 'loudness' | 'recording' | null>(null);
  const shown = useRef<Health>('off');
  const [held] = useState(() => new HeldPeak());
  // Health changes a few times a minute: the one live value that may go through React.
  useFrame((at) => {
    held.take(live.signal(inputSignal(input.id, 'peak')), at);
    const now = HEALTH[live.signal(inputSignal(input.id, 'health'))] ?? 'off';
    if (now !== shown.current) {
      shown.current = now;
      setHealth(now);
    }
  });
  const notes = input.kind === 'notes';
  const paused = (input.kind === 'files' || (notes && input.from.kind === 'file')) && !playing;
  const trouble = state?.kind === 'trouble' || state?.kind === 'waiting' ? state.why : null;
  const advice = trouble ? { words: trouble, gain: false } : paused || notes ? null : remedy(health, input);
  const heard = input.kind !== 'mix' && !notes;
  const aside = { color: 'var(--faint)', fontSize: '0.88rem' } as const;
  const change = (label: string, f: Parameters<typeof changeInput>[1]): void =>
    edit(label, changeInput(input.id, f));
  // Another source keeps the input's name, trim and all that listens to it.
  const swap = (next: Input | null): void => {
    if (next)
      edit(
        `change ${input.name}`,
        replaceInput(input.id, {
          ...next,
          trimDb: input.trimDb,
          autoGain: input.autoGain,
          delayMs: input.delayMs,
        }),
      );
  };
  const word =
    state?.kind === 'loading'
      ? 'loading …'
      : state?.kind === 'waiting'
        ? 'waiting'
        : state?.kind === 'trouble'
          ? 'trouble'
          : paused
            ? 'paused'
            : notes
              ? 'notes'
              : WORDS[health];
  return (
    <Sheet
      name={input.id}
      picked={picked}
      warned={advice !== null}
      role="group"
      aria-label={input.name}
      sx={{ p: 1.5, pt: 1, flex: 'none' }}
      onPointerDown={() => look({ input: input.id })}
    >
      <Box sx={{ display: 'flex', alignItems: 'baseline', justifyContent: 'space-between', gap: 1 }}>
        <Typography
          variant="h3"
          component="h3"
          sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
        >
          <Box
            component="button"
            aria-pressed={picked}
            onClick={() => look({ input: input.id })}
            sx={(t) => ({
              all: 'unset',
              cursor: 'pointer',
              maxWidth: '100%',
              overflow: 'hidden',
              textOverflow: 'ellipsis',
              minHeight: 32,
              display: 'inline-flex',
              alignItems: 'center',
              '&:focus-visible': { outline: `3px solid ${t.ink.now}` },
            })}
          >
            {input.name}
          </Box>
        </Typography>
        {!notes && (
          <LiveText read={() => dbfsText(held.db)} sx={{ fontSize: '0.94rem', pr: advice ? 2 : 0 }} />
        )}
      </Box>
      <Box sx={aside}>{aboutInput(input, show)}</Box>
      {!notes && <Meter input={input.id} held={held} />}
      <Box sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center' }}>
        <Box role="status" sx={{ fontWeight: 700, fontSize: '0.92rem' }}>
          {word}
        </Box>
        {heard ? (
          <Box component="label" sx={{ ...aside, display: 'flex', alignItems: 'center' }}>
            {input.monitor.on ? 'heard' : 'drives, not heard'}
            <Switch
              size="small"
              checked={input.monitor.on}
              onChange={(e) => {
                const on = e.target.checked;
                change(on ? `hear ${input.name}` : `silence ${input.name}`, (i) => {
                  i.monitor.on = on;
                });
              }}
              slotProps={{ input: { 'aria-label': `Hear ${input.name}` } }}
            />
          </Box>
        ) : (
          <Box sx={aside}>{notes ? 'drives' : 'drives; its parts are heard'}</Box>
        )}
      </Box>
      {advice && (
        <Box role="alert" sx={{ fontSize: '0.9rem', my: 0.5 }}>
          {advice.words}
          {advice.gain && ' '}
          {advice.gain && (
            <Button
              variant="text"
              onClick={() =>
                change(`automatic gain for ${input.name}`, (i) => {
                  i.autoGain = true;
                })
              }
              sx={{ color: 'inherit', textDecoration: 'underline', p: 0.25, minWidth: 0 }}
            >
              automatic gain
            </Button>
          )}
          {state?.kind === 'trouble' && (
            <Button
              variant="text"
              onClick={() => theEngine()?.inputs.retry(input.id)}
              sx={{ color: 'inherit', textDecoration: 'underline', p: 0.5 }}
            >
              Try again
            </Button>
          )}
        </Box>
      )}
      {input.kind === 'tab' && state?.kind !== 'ready' && (
        <Button variant="contained" onClick={() => void theEngine()?.inputs.shareTab(input.id)}>
          Share a tab
        </Button>
      )}
      {picked && (
        <>
          <InputSettings input={input} />
          <Box
            sx={{
              display: 'flex',
              flexWrap: 'wrap',
              ml: -1,
              mt: 0.25,
              '& button': { color: 'inherit', minWidth: 0, px: 1, '&:hover': { background: 'var(--bed)' } },
            }}
          >
            <SourceMenu
              label="change"
              onFiles={(files) => void soundInput(input.id, files).then(swap)}
              onDevice={(d) =>
                swap({
                  ...newInput(input.id, input.name, false),
                  kind: 'device',
                  deviceId: d.id,
                  deviceName: d.name,
                })
              }
              onTab={() => {
                swap({ ...newInput(input.id, input.name, false), kind: 'tab' });
                void theEngine()?.inputs.shareTab(input.id);
              }}
              onTone={(wave) =>
                swap({ ...newInput(input.id, input.name, false), kind: 'tone', wave, hz: 440, db: -18 })
              }
              onFind={() => setSheet('find')}
            />
            {input.kind === 'files' && (
              <Button
                variant="text"
                aria-pressed={input.loop}
                onClick={() =>
                  change(input.loop ? `play ${input.name} once` : `loop ${input.name}`, (i) => {
                    if (i.kind === 'files') i.loop = !i.loop;
                  })
                }
              >
                {input.loop ? 'loops' : 'once'}
              </Button>
            )}
            {input.kind === 'files' && input.part && (
              <Button
                variant="text"
                onClick={() =>
                  change(`play all of ${input.name}`, (i) => {
                    if (i.kind === 'files') i.part = null;
                  })
                }
              >
                all of it
              </Button>
            )}
            {!notes && (
              <Button variant="text" onClick={() => setSheet('loudness')}>
                loudness
              </Button>
            )}
            {!notes && <EmptyRoom input={input} />}
            {(input.kind === 'device' || input.kind === 'tab') && (
              <Button variant="text" onClick={() => setSheet('recording')}>
                recordings
              </Button>
            )}
            <Button variant="text" onClick={() => dropInput(input)}>
              remove
            </Button>
          </Box>
        </>
      )}
      {sheet === 'loudness' && <LoudnessHistory input={input} onClose={() => setSheet(null)} />}
      {sheet === 'recording' && <KeepRecording input={input} onClose={() => setSheet(null)} />}
      {sheet === 'find' && (
        <FindMicrophone
          open
          onClose={() => setSheet(null)}
          onUse={(d) => {
            const now = currentShow().inputs.find((i) => i.id === input.id);
            if (now)
              swap({
                ...newInput(input.id, input.name, false),
                kind: 'device',
                deviceId: d.id,
                deviceName: d.name,
              });
          }}
        />
      )}
    </Sheet>
  );
}

/** Listens to the room for five seconds, and sets the floors above it. */
function EmptyRoom({ input }: { readonly input: Input }) {
  const [left, setLeft] = useState<number | null>(null);
  useEffect(() => {
    if (left === null) return;
    const timer = setTimeout(() => {
      if (left > 1) setLeft(left - 1);
      else {
        setLeft(null);
        floorsFromRoom(input.id);
      }
    }, 1000);
    return () => clearTimeout(timer);
  }, [left, input.id]);
  return (
    <Button
      variant="text"
      title="Be quiet for five seconds: the floors are set just above what the room gives."
      onClick={() => setLeft(left === null ? ROOM_SECONDS : null)}
    >
      {left === null ? 'empty room' : `hush … ${left}`}
    </Button>
  );
}
