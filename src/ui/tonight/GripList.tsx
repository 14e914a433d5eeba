'use client';
import { Box, Button, Typography } from '@mui/material';
import { clashes, deedKind } from '../../core/acts';
import {
  addGrip,
  changeGrip,
  type Deed,
  findParameter,
  freeId,
  type Grip,
  removeGrip,
  type Show,
  thingsOf,
} from '../../core/show';
import { canBeAlone, cueWords, mastersOf } from '../../core/stage';
import { Choice } from '../controls/Choice';
import { IconAct } from '../controls/IconAct';
import { PhoneAddress } from '../controls/PhoneAddress';
import { TouchSetting } from '../route/TouchSetting';
import { currentShow, edit } from '../state/session';

const DEEDS: readonly (readonly [Deed['do'], string])[] = [
  ['go', 'go'],
  ['back', 'back'],
  ['home', 'home'],
  ['cue', 'take a cue'],
  ['look', 'take a look'],
  ['master', 'move a master'],
  ['flash', 'flash a master'],
  ['alone', 'a master alone'],
  ['hand', 'hold a value by hand'],
  ['give back', 'give back all'],
  ['dark', 'dark'],
  ['freeze', 'freeze'],
  ['bar now', 'the bar begins now'],
];
/** Keys that nothing else has in any place. */
const KEYS = [...'acefgijknopqrtvwxz'];

function deedOf(what: Deed['do'], show: Show): Deed | null {
  switch (what) {
    case 'look': {
      const look = show.looks[0];
      return look ? { do: what, look: look.id } : null;
    }
    case 'cue': {
      const cue = show.cues[0];
      return cue ? { do: what, cue: cue.id } : null;
    }
    case 'master':
      return { do: what, master: 'all' };
    case 'flash':
    case 'alone':
      return { do: what, master: 'picture' };
    case 'hand': {
      const thing = thingsOf(show).find((t) => t.parameters.some((p) => p.kind === 'number')),
        parameter = thing?.parameters.find((p) => p.kind === 'number');
      return thing && parameter ? { do: what, thing: thing.id, parameter: parameter.id } : null;
    }
    default:
      return { do: what };
  }
}

/** One list of what is on what: keys, controllers and addresses, and what each of them does. */
export function GripList({ show }: { readonly show: Show }) {
  const clash = clashes(show);
  const add = (): void => {
    const taken = new Set(show.grips.map((g) => (g.touch.by === 'key' ? g.touch.key : ''))),
      key = KEYS.find((k) => !taken.has(k) && !show.looks.some((l) => l.key === k)) ?? 'x';
    edit(
      'add a grip',
      addGrip({ id: freeId(currentShow(), 'grip'), touch: { by: 'key', key }, deed: { do: 'go' } }),
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
        <Button variant="outlined" onClick={add}>
          + grip
        </Button>
      </Box>
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

function DeedChoice({
  deed,
  show,
  onChange,
}: {
  readonly deed: Deed;
  readonly show: Show;
  readonly onChange: (deed: Deed) => void;
}) {
  /** What is gone stays chosen, and says so. */
  const withGone = (
    options: readonly (readonly [string, string])[],
    id: string,
  ): readonly (readonly [string, string])[] =>
    options.some(([o]) => o === id) ? options : [...options, [id, 'one that is gone']];
  switch (deed.do) {
    case 'look':
      return (
        <Choice
          label=""
          name="Which look"
          value={deed.look}
          options={withGone(
            show.looks.map((l) => [l.id, l.name]),
            deed.look,
          )}
          onChange={(look) => onChange({ do: 'look', look })}
        />
      );
    case 'cue':
      return (
        <Choice
          label=""
          name="Which cue"
          value={deed.cue}
          options={withGone(
            show.cues.map((c) => [c.id, cueWords(c)]),
            deed.cue,
          )}
          onChange={(cue) => onChange({ do: 'cue', cue })}
        />
      );
    case 'master':
    case 'flash':
    case 'alone':
      return (
        <Choice
          label=""
          name="Which master"
          value={deed.master}
          options={withGone(
            mastersOf(show)
              .filter((m) => deed.do !== 'alone' || canBeAlone(m.id))
              .map((m) => [m.id, m.label]),
            deed.master,
          )}
          onChange={(master) => onChange({ ...deed, master })}
        />
      );
    case 'hand': {
      const things = thingsOf(show).filter((t) => t.parameters.some((p) => p.kind === 'number')),
        thing = things.find((t) => t.id === deed.thing),
        numbers = thing?.parameters.filter((p) => p.kind === 'number') ?? [];
      return (
        <>
          <Choice
            label=""
            name="Of what"
            value={deed.thing}
            options={withGone(
              things.map((t) => [t.id, t.name]),
              deed.thing,
            )}
            onChange={(id) => {
              const first = things.find((t) => t.id === id)?.parameters.find((p) => p.kind === 'number');
              const same = findParameter(show, { thing: id, parameter: deed.parameter });
              if (first)
                onChange({
                  do: 'hand',
                  thing: id,
                  parameter: same?.parameter.kind === 'number' ? deed.parameter : first.id,
                });
            }}
          />
          <Choice
            label=""
            name="Which value"
            value={deed.parameter}
            options={withGone(
              numbers.map((p) => [p.id, p.label]),
              deed.parameter,
            )}
            onChange={(parameter) => onChange({ ...deed, parameter })}
          />
        </>
      );
    }
    default:
      return null;
  }
}
