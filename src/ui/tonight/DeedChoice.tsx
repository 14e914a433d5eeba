'use client';
import { type Deed, findParameter, GRIP_PAGES, type Show, thingsOf } from '../../core/show';
import { canBeAlone, cueWords, mastersOf } from '../../core/stage';
import { Choice } from '../controls/Choice';

const PAGES: readonly (readonly [string, string])[] = [
  ['next', 'the next one'],
  ['before', 'the one before'],
  ...Array.from({ length: GRIP_PAGES }, (_, i) => [String(i + 1), `page ${i + 1}`] as const),
];
/** What can be done, in words. */
export const DEEDS: readonly (readonly [Deed['do'], string])[] = [
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
  ['tap', 'tap the tempo'],
  ['page', 'turn controllers to a page'],
];

/** A deed of its kind to begin with: the first that the show has; null where it has none. */
export function deedOf(what: Deed['do'], show: Show): Deed | null {
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
    case 'page':
      return { do: what, page: 'next' };
    default:
      return { do: what };
  }
}

/** Which look, cue, master or value a deed is of. */
export function DeedChoice({
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
    case 'page':
      return (
        <Choice
          label=""
          name="Which page"
          value={String(deed.page)}
          options={PAGES}
          onChange={(page) =>
            onChange({ do: 'page', page: page === 'next' || page === 'before' ? page : Number(page) })
          }
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
