import { clashes } from '../../core/acts';
import { isStutter } from '../../core/audio';
import { overlayPage } from '../../core/protocols';
import { findParameter, type Show, targetOf } from '../../core/show';
import type { Seconds } from '../../core/units';
import type { Session } from '../state/session';
import type { PlaceName } from '../state/view';

/** What the browser and the machine say, apart from the show. */
export interface Machine {
  /** 0 to 1, and whether it is fed; null where nobody says. */
  readonly battery: { readonly level: number; readonly charging: boolean } | null;
  /** Bytes that can still be kept; null where nobody says. */
  readonly free: number | null;
  /** Whether the browser promised to keep what it has. */
  readonly persisted: boolean;
  /** Whether the display is kept awake; null where it cannot be. */
  readonly awake: boolean | null;
  /** Loudest level of each input over the last twelve seconds, by its id; NaN where nothing was heard yet. */
  readonly levels: Readonly<Record<string, number>>;
  /** Seconds of sound that its device went without in the last ten. */
  readonly missed: Seconds;
  /** Screens whose windows are open, and those that fill a display. */
  readonly open: readonly string[];
  readonly full: readonly string[];
  readonly processor: boolean;
  /** MIDI devices that can be played, and those that can be told something, by their ids; null before they were looked for. */
  readonly controllers: readonly string[] | null;
  readonly instruments: readonly string[] | null;
  /** How sure the beat is, 0 to 1; NaN where nobody says. */
  readonly sure: number;
}
/** One thing that is looked after before the doors open. */
export interface DoorLine {
  readonly what: string;
  readonly state: 'good' | 'mind' | 'wrong';
  readonly words: string;
  /** What to do, where something is to be done. */
  readonly remedy?: string;
  readonly place?: PlaceName;
}

/** About −60 dBFS: below it nothing arrives. */
const NOTHING = 0.001,
  /** Room for an hour of one input and then some. */
  ROOM_LEAST = 500e6,
  BATTERY_LEAST = 0.5;

/** Everything that a night depends on, as it is now, worst first. */
export function doorsOf(s: Session, machine: Machine): DoorLine[] {
  const { show } = s.history;
  const lines = [
    ...soundLines(s, machine),
    ...clockLines(s, machine),
    ...deviceLines(show, machine),
    ...screenLines(s, machine),
    ...outputLines(s),
    ...nightLines(show),
    ...machineLines(s, machine),
  ];
  const order = { wrong: 0, mind: 1, good: 2 };
  return lines
    .map((l, i) => [l, i] as const)
    .sort(([a, i], [b, j]) => order[a.state] - order[b.state] || i - j)
    .map(([l]) => l);
}

function soundLines(s: Session, { levels, missed }: Machine): DoorLine[] {
  const { show } = s.history,
    lines: DoorLine[] = [];
  if (show.inputs.length === 0)
    lines.push({
      what: 'Sound',
      state: 'wrong',
      words: 'There is no input.',
      remedy: 'Add a microphone, a file or a tab.',
      place: 'listen',
    });
  if (s.audio !== 'running')
    lines.push({
      what: 'Sound',
      state: 'wrong',
      words: s.audio === 'stopped' ? 'The sound has stopped.' : 'The browser waits for a press.',
      remedy: 'Press anywhere in this window.',
    });
  if (s.audio === 'running' && isStutter(missed))
    lines.push({
      what: 'Sound',
      state: 'wrong',
      words: `It stutters: ${missed.toFixed(1)} of the last ten seconds are missing.`,
      remedy: 'Close other programs, or let the picture be drawn smaller.',
      place: 'picture',
    });
  for (const input of show.inputs) {
    const state = s.inputs[input.id];
    if (state?.kind === 'trouble')
      lines.push({
        what: input.name,
        state: 'wrong',
        words: state.why,
        remedy: 'Mend it, or choose another source for it.',
        place: 'listen',
      });
    else if (state?.kind === 'waiting')
      lines.push({ what: input.name, state: 'mind', words: state.why, place: 'listen' });
    else if (input.kind !== 'notes' && !((levels[input.id] ?? NaN) > NOTHING))
      lines.push({
        what: input.name,
        state: 'mind',
        words: 'Nothing was heard on it in the last twelve seconds.',
        remedy: 'Make some sound, or look at its source and its level.',
        place: 'listen',
      });
    else lines.push({ what: input.name, state: 'good', words: 'is heard' });
  }
  return lines;
}
/** Under this a found beat is a guess. */
const SURE = 0.5;
/** Whether there is a beat to go by. */
function clockLines(s: Session, { sure }: Machine): DoorLine[] {
  const { source } = s.history.show.tempo,
    what = 'Clock';
  if (source === 'midi')
    return [
      sure > 0
        ? { what, state: 'good', words: 'the MIDI clock arrives' }
        : {
            what,
            state: 'wrong',
            words: 'No MIDI clock arrives: the beat stands still.',
            remedy: 'Start it on its device, or let the beat be found by listening (the arrow at the roda).',
          },
    ];
  if (source === 'found')
    return [
      sure >= SURE
        ? { what, state: 'good', words: 'the beat is found' }
        : {
            what,
            state: 'mind',
            words: 'The beat is not found yet, or not sure.',
            remedy: 'Let music play, or tap it on the roda.',
          },
    ];
  return [{ what, state: 'good', words: `the tempo is ${source}` }];
}
/** Controllers that the show is played with, and instruments that it plays. */
function deviceLines(show: Show, { controllers, instruments }: Machine): DoorLine[] {
  const touched = [
    ...show.grips.map((g) => g.touch),
    ...show.makers.flatMap(({ making }) =>
      (making.kind === 'slider' || making.kind === 'button') && making.touch ? [making.touch] : [],
    ),
  ];
  const wanted = new Set(touched.flatMap((t) => (t.by === 'midi' ? [t.device] : [])));
  const gone = controllers === null ? [] : [...wanted].filter((id) => !controllers.includes(id));
  const lines: DoorLine[] = [];
  if (wanted.size > 0)
    lines.push(
      gone.length === 0
        ? { what: 'Controllers', state: 'good', words: 'are there' }
        : {
            what: 'Controllers',
            state: 'mind',
            words:
              gone.length === 1
                ? 'A controller that the show is played with is not there.'
                : `${gone.length} controllers that the show is played with are not there.`,
            remedy: 'Plug them in; they go on by themselves.',
          },
    );
  for (const { name, form } of show.messages)
    if (form.kind === 'midi' && instruments !== null)
      lines.push(
        instruments.includes(form.device)
          ? { what: name, state: 'good', words: `${form.deviceName} is there` }
          : {
              what: name,
              state: 'mind',
              words: `${form.deviceName} is not there.`,
              remedy: 'Plug it in, or choose another.',
              place: 'rig',
            },
      );
  return lines;
}
function screenLines(s: Session, { open, full, processor }: Machine): DoorLine[] {
  const lines = s.history.show.screens.map(({ id, name }): DoorLine =>
    !open.includes(id)
      ? {
          what: name,
          state: 'mind',
          words: 'Its window is not open.',
          remedy: 'Open it on its display.',
          place: 'picture',
        }
      : full.includes(id)
        ? { what: name, state: 'good', words: 'fills its display' }
        : {
            what: name,
            state: 'mind',
            words: 'Its window does not fill a display.',
            remedy: 'Press F in it.',
            place: 'picture',
          },
  );
  if (s.picture.trouble)
    lines.push({ what: 'Picture', state: 'wrong', words: s.picture.trouble, place: 'picture' });
  else if (processor)
    lines.push({
      what: 'Graphics',
      state: 'mind',
      words: 'The processor draws the picture.',
      remedy: 'Let the browser use the graphics card: its settings, under hardware acceleration.',
    });
  else
    lines.push({
      what: 'Graphics',
      state: 'good',
      words: `draws ${Math.round(s.picture.rate)} pictures a second`,
    });
  return lines;
}
function outputLines(s: Session): DoorLine[] {
  const { show } = s.history,
    lines: DoorLine[] = [],
    report = s.outlets;
  if (report?.standby)
    lines.push(
      report.standby.state === 'follows'
        ? { what: 'Second computer', state: 'good', words: 'this one follows the first' }
        : report.standby.state === 'drives'
          ? {
              what: 'Second computer',
              state: 'mind',
              words: 'The first is gone: this one drives in its place.',
              remedy: 'Start the first again and arm it; it then takes over.',
            }
          : {
              what: 'Second computer',
              state: 'wrong',
              words: report.standby.heard
                ? 'The first is there, and no window drives it.'
                : 'The first is not heard.',
              remedy: report.standby.heard
                ? 'Open the show on it.'
                : 'Look whether it runs, and whether the address is right.',
              place: 'tonight',
            },
    );
  else if (report && report.seconds > 0)
    lines.push({
      what: 'Second computer',
      state: 'good',
      words: report.seconds === 1 ? 'one stands by' : `${report.seconds} stand by`,
    });
  if (!report || report.link !== 'driving')
    return [
      ...lines,
      {
        what: 'Outputs',
        state: 'wrong',
        words: report?.why ?? 'The server does not answer.',
        remedy: 'Look whether it runs; another window may drive.',
        place: 'rig',
      },
    ];
  for (const wire of show.wires) {
    const state = report.wires.find((w) => w.id === wire.id);
    lines.push(
      state?.trouble
        ? { what: wire.name, state: 'wrong', words: state.trouble, place: 'rig' }
        : show.fixtures.length > 0 && wire.target.kind !== 'simulated' && !s.armed
          ? {
              what: wire.name,
              state: 'mind',
              words: 'It is not armed: nothing leaves this computer.',
              remedy: 'Arm outputs in the Rig, under Wires.',
              place: 'rig',
            }
          : { what: wire.name, state: 'good', words: 'sends' },
    );
  }
  for (const overlay of show.overlays) {
    const n = report.pages[overlayPage(overlay.id)] ?? 0;
    lines.push(
      n > 0
        ? { what: overlay.name, state: 'good', words: n === 1 ? 'one page shows it' : `${n} pages show it` }
        : {
            what: overlay.name,
            state: 'mind',
            words: 'No page shows it.',
            remedy: 'Load its address in the streaming program.',
            place: 'overlays',
          },
    );
  }
  if (show.laserFigures.length > 0 && report.laser?.trouble)
    lines.push({ what: 'Laser', state: 'mind', words: report.laser.trouble, place: 'rig' });
  return lines;
}
function nightLines(show: Show): DoorLine[] {
  const lines: DoorLine[] = [];
  const looks = new Set(show.looks.map((l) => l.id));
  for (const cue of show.cues)
    if (cue.look !== null && !looks.has(cue.look))
      lines.push({
        what: `Cue ${cue.number} ${cue.name}`,
        state: 'mind',
        words: 'Its look is gone: it comes in as everything rests.',
        remedy: 'Give it another look.',
        place: 'tonight',
      });
  const signals = new Set([...show.ears, ...show.makers].map((x) => x.id));
  for (const cue of show.cues)
    if (cue.follow?.kind === 'event' && !signals.has(cue.follow.signal))
      lines.push({
        what: `Cue ${cue.number} ${cue.name}`,
        state: 'mind',
        words: 'What it goes on at is gone: it waits for go.',
        remedy: 'Choose another event for it.',
        place: 'tonight',
      });
  for (const look of show.looks) {
    const gone = Object.keys(look.values).filter((key) => findParameter(show, targetOf(key)) === null).length;
    if (gone > 0)
      lines.push({
        what: look.name,
        state: 'mind',
        words:
          gone === 1
            ? 'One of its values belongs to something that is gone.'
            : `${gone} of its values belong to something that is gone.`,
        remedy: 'Look it over.',
        place: 'tonight',
      });
  }
  const inputs = new Set(show.inputs.map((i) => i.id));
  for (const song of show.songs)
    if (song.inputs?.some((id) => !inputs.has(id)))
      lines.push({
        what: song.name,
        state: 'mind',
        words: 'An input that it listens to is gone.',
        remedy: 'Choose its inputs anew.',
        place: 'tonight',
      });
  const clash = clashes(show).size;
  if (clash > 0)
    lines.push({
      what: 'Grips',
      state: 'mind',
      words:
        clash === 1
          ? 'One grip is on a key or controller that something else is on too.'
          : `${clash} grips are on a key or controller that something else is on too.`,
      remedy: 'Look them over.',
      place: 'tonight',
    });
  const torn = show.routes.filter(
    (r) => !signals.has(r.signal.split('/')[0]!) && !/^(route|input|tempo):/.test(r.signal),
  ).length;
  if (torn > 0)
    lines.push({
      what: 'Routes',
      state: 'mind',
      words: torn === 1 ? 'One route has lost its signal.' : `${torn} routes have lost their signals.`,
      remedy: 'Aim them at another, or delete them.',
      place: 'route',
    });
  return lines;
}
function machineLines(s: Session, { battery, free, persisted, awake }: Machine): DoorLine[] {
  const lines: DoorLine[] = [];
  lines.push(
    s.saved === 'full'
      ? {
          what: 'Store',
          state: 'wrong',
          words: 'The show could not be saved.',
          remedy: 'Save it to a file now, and free some disk space.',
        }
      : free !== null && free < ROOM_LEAST
        ? {
            what: 'Store',
            state: 'mind',
            words: `Only ${Math.round(free / 1e6)} MB are left to keep things in.`,
            remedy: 'Free some disk space, or remove shows that are not needed.',
          }
        : persisted
          ? { what: 'Store', state: 'good', words: 'the show is saved, and kept' }
          : {
              what: 'Store',
              state: 'mind',
              words: 'The browser may throw away what it keeps when the disk is short.',
              remedy: 'Save the show to a file as well.',
            },
  );
  if (battery)
    lines.push(
      battery.charging
        ? { what: 'Battery', state: 'good', words: 'is fed' }
        : battery.level < BATTERY_LEAST
          ? {
              what: 'Battery',
              state: 'wrong',
              words: `${Math.round(battery.level * 100)} % are left, and nothing feeds it.`,
              remedy: 'Plug it in.',
            }
          : {
              what: 'Battery',
              state: 'mind',
              words: `Nothing feeds it; ${Math.round(battery.level * 100)} % are left.`,
              remedy: 'Plug it in.',
            },
    );
  lines.push(
    awake === true
      ? { what: 'Display', state: 'good', words: 'is kept awake' }
      : {
          what: 'Display',
          state: 'mind',
          words: awake === null ? 'This browser cannot keep it awake.' : 'It is not kept awake yet.',
          remedy:
            awake === null ? 'Turn off sleep in the system’s settings.' : 'Stay in Tonight: there it is.',
        },
  );
  return lines;
}
