'use client';
import { Box, Button, Typography } from '@mui/material';
import { clashes, deedKind, pagesOf } from '../../core/acts';
import { addGrip, changeGrip, freeId, type Grip, GRIP_PAGES, removeGrip, type Show } from '../../core/show';
import { ANSWERS } from '../../engine/midiOut';
import { Choice } from '../controls/Choice';
import { IconAct } from '../controls/IconAct';
import { PhoneAddress } from '../controls/PhoneAddress';
import { TouchSetting } from '../route/TouchSetting';
import { currentShow, edit, perform, useSession } from '../state/session';
import { DeedChoice, deedOf, DEEDS } from './DeedChoice';
import { PhoneLayout } from './PhoneLayout';

/** Keys that nothing else has in any place. */
const KEYS = [...'acefgijknopqrtvwxz'];

/** One list of what is on what: keys, controllers and addresses, and what each of them does. */
export function GripList({ show }: { readonly show: Show }) {
  const clash = clashes(show);
  const add = (): void => {
    const taken = new Set(show.grips.map((g) => (g.touch.by === 'key' ? g.touch.key : ''))),
      key = KEYS.find((k) => !taken.has(k) && !show.looks.some((l) => l.key === k)) ?? 'x';
    edit(
      'add a grip',
      addGrip({
        id: freeId(currentShow(), 'grip'),
        touch: { by: 'key', key },
        deed: { do: 'go' },
        page: null,
        answers: false,
      }),
    );
  };
  return (
    <Box>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1 }}>
        <Typography variant="h3" sx={{ flex: 1 }}>
          By hand
        </Typography>
        <PhoneAddress
          label="A phone …"
          title="Perform with a phone"
          text="Scan this: the phone has go, looks, dark and the masters. Several may be in at once."
          variant="outlined"
        />
        <PhoneLayout show={show} />
        <Button variant="outlined" onClick={add}>
          + grip
        </Button>
      </Box>
      <Pages show={show} />
      <Box
        component="ul"
        aria-label="Grips"
        sx={{ listStyle: 'none', p: 0, m: 0, mt: 1, display: 'grid', gap: 0.75 }}
      >
        {show.grips.length === 0 && (
          <Box component="li" sx={{ maxWidth: 560 }}>
            A grip is a key, a controller or a message, and what it does: go, a look, a master, any value.
          </Box>
        )}
        {show.grips.map((g) => (
          <GripRow key={g.id} grip={g} show={show} shared={clash.get(g.id) ?? 1} />
        ))}
      </Box>
    </Box>
  );
}

function GripRow({
  grip,
  show,
  shared,
}: {
  readonly grip: Grip;
  readonly show: Show;
  readonly shared: number;
}) {
  const { touch, deed } = grip,
    set = (label: string, change: Partial<Omit<Grip, 'id'>>): void =>
      edit(label, changeGrip(grip.id, change));
  const kind = deedKind(deed);
  return (
    <Box
      component="li"
      sx={(t) => ({
        background: t.ink.sheet,
        color: t.ink.sheetText,
        p: 1,
        display: 'flex',
        flexWrap: 'wrap',
        gap: 1.5,
        alignItems: 'center',
        '--faint': t.ink.sheetFaint,
        '--mark': t.ink.sheetText,
        '--bed': t.ink.track,
      })}
    >
      <Choice
        label="key"
        name="Key of the grip"
        value={touch.by === 'key' ? touch.key : ''}
        options={[['', 'none'], ...KEYS.map((k) => [k, k.toUpperCase()] as const)]}
        onChange={(key) => {
          if (key !== '') set('put a grip on a key', { touch: { by: 'key', key } });
        }}
      />
      <TouchSetting
        name="the grip"
        notes={kind !== 'value'}
        touch={touch.by === 'key' ? null : touch}
        onChange={(learned) =>
          set('give a grip to a controller', { touch: learned ?? { by: 'key', key: 'x' } })
        }
      />
      <Choice
        label="does"
        name="What the grip does"
        value={deed.do}
        options={DEEDS.filter(([what]) => deedOf(what, show) !== null || what === deed.do)}
        onChange={(what) => {
          const next = deedOf(what, show);
          if (next) set('let a grip do something else', { deed: next });
        }}
      />
      <DeedChoice
        deed={deed}
        show={show}
        onChange={(next) => set('let a grip do something else', { deed: next })}
      />
      {touch.by !== 'key' && (
        <Choice
          label="on"
          name="Page of the grip"
          value={grip.page ?? 0}
          options={ON_PAGES}
          onChange={(page) => set('put a grip on a page', { page: page === 0 ? null : page })}
        />
      )}
      {touch.by === 'midi' && touch.message !== 'pressure' && (
        <Button
          variant="text"
          role="switch"
          aria-checked={grip.answers}
          title="The controller is told where this stands: its light is on while it is on, its motor goes where the value went"
          onClick={() => set('tell a controller', { answers: !grip.answers })}
        >
          light or motor: {grip.answers ? 'told' : 'not told'}
        </Button>
      )}
      {kind === 'value' && touch.by === 'key' && (
        <Box>A key cannot move a value: give it to a controller.</Box>
      )}
      {shared > 1 && (
        <Box sx={{ borderLeft: '6px solid', pl: 1 }}>
          {shared} things are on this: grips, looks, hand controls.
        </Box>
      )}
      <Box sx={{ flex: 1 }} />
      <IconAct
        act="delete"
        label="Delete the grip"
        onClick={() => edit('delete a grip', removeGrip(grip.id))}
      />
    </Box>
  );
}

const ON_PAGES: readonly (readonly [number, string])[] = [
  [0, 'every page'],
  ...Array.from({ length: GRIP_PAGES }, (_, i) => [i + 1, `page ${i + 1}`] as const),
];

/** Which page controllers are on, where there is more than one, and how what they are told comes to them. */
function Pages({ show }: { readonly show: Show }) {
  const page = useSession((s) => s.stage.page),
    told = useSession((s) => s.midiSaid[ANSWERS]),
    most = pagesOf(show.grips),
    answers = show.grips.some((g) => g.answers);
  if (most === 1 && !answers) return null;
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 1, mt: 1 }}>
      {most > 1 && (
        <Box role="group" aria-label="Page of the controllers" sx={{ display: 'flex', gap: 0.5 }}>
          {Array.from({ length: most }, (_, i) => (
            <Button
              key={i}
              variant={page === i + 1 ? 'contained' : 'outlined'}
              aria-pressed={page === i + 1}
              onClick={() => perform({ do: 'page', page: i + 1 })}
            >
              page {i + 1}
            </Button>
          ))}
        </Box>
      )}
      {answers && (
        <Box role="status">
          {told?.trouble ??
            (told
              ? `Controllers were told ${told.sent} times where things stand.`
              : 'Controllers are told where things stand as soon as something moves.')}
        </Box>
      )}
    </Box>
  );
}
