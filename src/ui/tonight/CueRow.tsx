'use client';
import { Box, Button } from '@mui/material';
import {
  changeCue,
  type Cue,
  FADE_FROM,
  type Follow,
  LOOK_PARTS,
  moveCue,
  removeCue,
  type Show,
} from '../../core/show';
import { numberText } from '../../core/stage';
import { Choice } from '../controls/Choice';
import { EntryField } from '../controls/EntryField';
import { Folded } from '../controls/Folded';
import { IconAct } from '../controls/IconAct';
import { NameField } from '../controls/NameField';
import { NumberField } from '../controls/NumberField';
import { currentShow, edit, endDrag, perform } from '../state/session';

const FIELD = {
  font: 'inherit',
  fontWeight: 700,
  minHeight: 34,
  px: 1,
  border: 'none',
  borderBottom: '2px dotted',
  background: 'transparent',
  color: 'inherit',
  minWidth: 0,
  width: 1,
} as const;
const FROM_WORDS = { now: 'at once', beat: 'on the next beat', bar: 'on the next bar' } as const;
const PART_WORDS = {
  picture: 'the picture',
  overlays: 'overlays',
  lamps: 'lamps',
  laser: 'the laser',
  messages: 'messages',
} as const;

/** A number that no other cue has. */
function readNumber(text: string, id: string): number | null {
  const n = Number(text.replace(',', '.'));
  if (!(n >= 0.01 && n <= 9999.99)) return null;
  const number = Math.round(n * 100) / 100;
  return currentShow().cues.some((c) => c.id !== id && c.number === number) ? null : number;
}
function followOf(kind: string, show: Show): Follow | null {
  switch (kind) {
    case 'seconds':
      return { kind, after: 10 };
    case 'bars':
      return { kind, after: 4 };
    case 'event': {
      const signal =
        show.ears.find((e) => e.listening.kind === 'hit') ??
        show.makers.find((m) => m.making.kind === 'button');
      return { kind, signal: signal?.id ?? '' };
    }
    case 'time':
      return { kind, at: '21:00' };
    default:
      return null;
  }
}

/** A cue as it is prepared: number, name, look, fade, what follows, note. */
export function CueRow({
  cue,
  show,
  first,
  last,
}: {
  readonly cue: Cue;
  readonly show: Show;
  readonly first: boolean;
  readonly last: boolean;
}) {
  const change = (label: string, what: Partial<Omit<Cue, 'id'>>, mark: string | null = null): void =>
    edit(label, changeCue(cue.id, what), mark);
  const { fade, follow } = cue;
  const gone = cue.look !== null && !show.looks.some((l) => l.id === cue.look);
  const events = [
    ...show.ears.filter((e) => e.listening.kind === 'hit').map((e) => [e.id, e.name] as const),
    ...show.makers
      .filter((m) => m.making.kind === 'button' || m.making.kind === 'crossing')
      .map((m) => [m.id, m.name] as const),
  ];
  return (
    <Box
      component="li"
      sx={(t) => ({
        background: t.ink.sheet,
        color: t.ink.sheetText,
        p: 1,
        '--faint': t.ink.sheetFaint,
        '--mark': t.ink.sheetText,
        '--bed': t.ink.track,
      })}
    >
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: '74px minmax(0, 1.2fr) minmax(0, 1fr) auto',
          gap: 1,
          alignItems: 'center',
        }}
      >
        <EntryField
          label={`Number of ${cue.name}`}
          value={numberText(cue.number)}
          width={72}
          read={(text) => readNumber(text, cue.id)}
          wrong="A number from 0.01 to 9999.99 that no other cue has."
          onChange={(number) => change('number a cue', { number })}
        />
        <NameField
          name={cue.name}
          label="Name of the cue"
          onRename={(name) => change('name a cue', { name })}
          sx={FIELD}
        />
        <Choice
          label=""
          name={`Look of ${cue.name}`}
          value={cue.look ?? ''}
          options={[
            ['', 'everything as it rests'],
            ...show.looks.map((l) => [l.id, l.name] as const),
            ...(gone ? [[cue.look!, 'a look that is gone'] as const] : []),
          ]}
          onChange={(look) => change('give a cue another look', { look: look === '' ? null : look })}
        />
        <Box sx={{ display: 'flex', gap: 0.5 }}>
          <Button
            variant="text"
            sx={{ minWidth: 0, color: 'inherit' }}
            disabled={first}
            aria-label={`${cue.name} earlier`}
            onClick={() => edit('move a cue', moveCue(cue.id, -1))}
          >
            ↑
          </Button>
          <Button
            variant="text"
            sx={{ minWidth: 0, color: 'inherit' }}
            disabled={last}
            aria-label={`${cue.name} later`}
            onClick={() => edit('move a cue', moveCue(cue.id, 1))}
          >
            ↓
          </Button>
          <IconAct
            act="play"
            label={`Take ${cue.name} now`}
            onClick={() => perform({ do: 'cue', cue: cue.id })}
          />
          <IconAct
            act="delete"
            label={`Take ${cue.name} off the cord`}
            onClick={() => edit('take a cue off the cord', removeCue(cue.id))}
          />
        </Box>
      </Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', mt: 0.75 }}>
        <Box sx={{ display: 'inline-flex', gap: 0.75, alignItems: 'center' }}>
          <Box component="span" sx={{ color: 'var(--faint)' }}>
            fades over
          </Box>
          <NumberField
            label={`Fade of ${cue.name}`}
            value={fade.length}
            unit=""
            min={0}
            max={600}
            step={0.5}
            usual={2}
            onChange={(length, dragging) =>
              change('set a fade', { fade: { ...fade, length } }, dragging ? `fade-${cue.id}` : null)
            }
            onEnd={endDrag}
          />
          <Choice
            label=""
            name={`Unit of the fade of ${cue.name}`}
            value={fade.unit}
            options={[
              ['seconds', 'seconds'],
              ['bars', 'bars'],
            ]}
            onChange={(unit) => change('set a fade', { fade: { ...fade, unit } })}
          />
          <Choice
            label=""
            name={`When ${cue.name} begins`}
            value={fade.from}
            options={FADE_FROM.map((f) => [f, FROM_WORDS[f]] as const)}
            onChange={(from) => change('set when a cue begins', { fade: { ...fade, from } })}
          />
        </Box>
        <Box sx={{ display: 'inline-flex', gap: 0.75, alignItems: 'center' }}>
          <Choice
            label="then"
            name={`What follows ${cue.name}`}
            value={follow?.kind ?? ''}
            options={[
              ['', 'it waits for go'],
              ['seconds', 'on after seconds'],
              ['bars', 'on after bars'],
              ['event', 'on at an event'],
              ['time', 'on at a time of day'],
            ]}
            onChange={(kind) => change('set what follows a cue', { follow: followOf(kind, show) })}
          />
          {(follow?.kind === 'seconds' || follow?.kind === 'bars') && (
            <NumberField
              label={`After how many ${follow.kind}`}
              value={follow.after}
              unit={follow.kind === 'bars' ? 'bars' : 's'}
              min={0}
              max={3600}
              step={follow.kind === 'bars' ? 0.5 : 1}
              onChange={(after, dragging) =>
                change(
                  'set what follows a cue',
                  { follow: { ...follow, after } },
                  dragging ? `follow-${cue.id}` : null,
                )
              }
              onEnd={endDrag}
            />
          )}
          {follow?.kind === 'event' && (
            <Choice
              label=""
              name={`Which event takes the cue after ${cue.name}`}
              value={follow.signal}
              options={[
                ...(events.some(([id]) => id === follow.signal)
                  ? []
                  : [[follow.signal, 'choose one'] as const]),
                ...events,
              ]}
              onChange={(signal) => change('set what follows a cue', { follow: { kind: 'event', signal } })}
            />
          )}
          {follow?.kind === 'time' && (
            <EntryField
              label={`Time after ${cue.name}`}
              value={follow.at}
              width={72}
              read={(text) => (/^([01]\d|2[0-3]):[0-5]\d$/.test(text.trim()) ? text.trim() : null)}
              wrong="Hours and minutes, as 21:30."
              onChange={(at) => change('set what follows a cue', { follow: { kind: 'time', at } })}
            />
          )}
        </Box>
      </Box>
      <Folded title={cue.note ? `note: ${cue.note}` : 'note, delay, song, what it leaves out'}>
        <Box sx={{ display: 'grid', gap: 1 }}>
          <EntryField
            label={`Note of ${cue.name}`}
            value={cue.note}
            width={420}
            read={(text) => (text.length <= 400 ? text : null)}
            wrong="At most 400 letters."
            onChange={(note) => change('write a note', { note })}
          />
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
            <Box sx={{ display: 'inline-flex', gap: 0.75, alignItems: 'center' }}>
              <Box component="span" sx={{ color: 'var(--faint)' }}>
                waits
              </Box>
              <NumberField
                label={`Delay of ${cue.name}`}
                value={cue.delay}
                unit="s"
                min={0}
                max={600}
                step={0.5}
                usual={0}
                onChange={(delay, dragging) =>
                  change('delay a cue', { delay }, dragging ? `delay-${cue.id}` : null)
                }
                onEnd={endDrag}
              />
            </Box>
            <Choice
              label="song"
              name={`Song of ${cue.name}`}
              value={cue.song ?? ''}
              options={[['', 'none'], ...show.songs.map((s) => [s.id, s.name] as const)]}
              onChange={(song) => change('give a cue to a song', { song: song === '' ? null : song })}
            />
          </Box>
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center' }}>
            <Box component="span" sx={{ color: 'var(--faint)' }}>
              leaves as they are
            </Box>
            {LOOK_PARTS.map((part) => {
              const on = cue.leaveOut.includes(part);
              return (
                <Button
                  key={part}
                  variant={on ? 'contained' : 'outlined'}
                  aria-pressed={on}
                  onClick={() =>
                    change('set what a cue leaves out', {
                      leaveOut: on ? cue.leaveOut.filter((p) => p !== part) : [...cue.leaveOut, part],
                    })
                  }
                >
                  {PART_WORDS[part]}
                </Button>
              );
            })}
          </Box>
        </Box>
      </Folded>
    </Box>
  );
}
