'use client';
import { Box, Button } from '@mui/material';
import {
  changeLook,
  findParameter,
  type Look,
  removeLook,
  setHome,
  setLookRoute,
  setLookValue,
  type Show,
  targetOf,
} from '../../core/show';
import { Choice } from '../controls/Choice';
import { ColourField } from '../controls/ColourField';
import { Folded } from '../controls/Folded';
import { IconAct } from '../controls/IconAct';
import { NameField } from '../controls/NameField';
import { NumberField } from '../controls/NumberField';
import { edit, endDrag, perform, stood } from '../state/session';
import { look as view } from '../state/view';

/** Letters that mean nothing else in Tonight. */
const KEYS = [...'qwertuiopasfgjkzxcvn'];

/** A look's values, one by one, and how much routes move in it. */
export function LookPanel({ look, show }: { readonly look: Look; readonly show: Show }) {
  const known = Object.entries(look.values).map(([key, value]) => {
    return { key, value, end: findParameter(show, targetOf(key)) };
  });
  const there = known.filter((k) => k.end !== null),
    gone = known.filter((k) => k.end === null);
  const byThing = new Map<string, typeof there>();
  for (const k of there) byThing.set(k.end!.thing.id, [...(byThing.get(k.end!.thing.id) ?? []), k]);
  const routeName = (id: string): string => {
    const route = show.routes.find((r) => r.id === id),
      end = route && findParameter(show, route.target);
    return end ? `${end.thing.name} · ${end.parameter.label}` : 'a route that is gone';
  };
  const set = (key: string, value: number | string | undefined, mark: string | null = null): void =>
    edit('change a look', setLookValue(look.id, key, value), mark);
  const takeNow = async (): Promise<void> => {
    const now = await stood(0);
    edit('keep what is on in this look', changeLook(look.id, now));
  };
  return (
    <Box
      component="section"
      aria-label={`The look ${look.name}`}
      sx={(t) => ({
        background: t.ink.paper,
        color: t.ink.paperText,
        p: 2,
        display: 'grid',
        gap: 1,
        '& .MuiButton-outlined': { color: 'inherit', borderColor: 'currentColor' },
        '--faint': t.ink.paperFaint,
        '--mark': t.ink.paperText,
        '--bed': t.ink.paperDeep,
      })}
    >
      <NameField
        name={look.name}
        label="Name of the look"
        onRename={(name) => edit('name a look', changeLook(look.id, { name }))}
        sx={{
          font: 'inherit',
          fontSize: '1.5rem',
          fontWeight: 800,
          border: 'none',
          borderBottom: '2px dotted',
          background: 'transparent',
          color: 'inherit',
          minWidth: 0,
        }}
      />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center' }}>
        <Button variant="contained" onClick={() => perform({ do: 'look', look: look.id })}>
          Take it
        </Button>
        <Button
          variant="outlined"
          onClick={() => void takeNow()}
          title="Its values become what is on now: by hand, and by the look that is in."
        >
          Keep what is on in it
        </Button>
        <Choice
          label="key"
          value={look.key ?? ''}
          options={[['', 'none'], ...KEYS.map((k) => [k, k.toUpperCase()] as const)]}
          onChange={(key) =>
            edit('put a look on a key', changeLook(look.id, { key: key === '' ? null : key }))
          }
        />
        <Button
          variant={show.home === look.id ? 'contained' : 'outlined'}
          aria-pressed={show.home === look.id}
          onClick={() => edit('choose the safe look', setHome(show.home === look.id ? null : look.id))}
        >
          home
        </Button>
        <IconAct
          act="delete"
          label={`Delete the look ${look.name}`}
          onClick={() => {
            edit('delete a look', removeLook(look.id));
            view({ openLook: null });
          }}
        />
      </Box>
      {gone.length > 0 && (
        <Box sx={{ borderLeft: '6px solid', pl: 1 }}>
          {gone.length === 1 ? 'One of its values belongs' : `${gone.length} of its values belong`} to
          something that is not in the show any more. They are kept, and come in again if it comes back.{' '}
          <Button
            variant="text"
            sx={{ color: 'inherit' }}
            onClick={() =>
              edit('forget what is gone', (d) => {
                for (const g of gone) setLookValue(look.id, g.key, undefined)(d);
              })
            }
          >
            Forget them
          </Button>
        </Box>
      )}
      {there.length === 0 && <Box>It names no values: everything is as it rests.</Box>}
      {[...byThing.values()].map((values) => (
        <Box key={values[0]!.end!.thing.id} sx={{ borderTop: '2px solid var(--bed)', pt: 0.75 }}>
          <Box sx={{ fontWeight: 700 }}>{values[0]!.end!.thing.name}</Box>
          {values.map(({ key, value, end }) => {
            const p = end!.parameter;
            return (
              <Box
                key={key}
                sx={{
                  display: 'grid',
                  gridTemplateColumns: 'minmax(0, 1fr) auto auto',
                  gap: 1,
                  alignItems: 'center',
                  minHeight: 36,
                }}
              >
                <Box component="span" title={p.help}>
                  {p.label}
                </Box>
                {p.kind === 'colour' ? (
                  <ColourField
                    label={`${end!.thing.name} · ${p.label}`}
                    value={String(value)}
                    onChange={(v) => set(key, v, `look-${key}`)}
                    onEnd={endDrag}
                  />
                ) : (
                  <NumberField
                    label={`${end!.thing.name} · ${p.label}`}
                    value={Number(value)}
                    unit={p.unit}
                    min={p.min}
                    max={p.max}
                    step={p.step}
                    usual={p.rest}
                    onChange={(v, dragging) => set(key, v, dragging ? `look-${key}` : null)}
                    onEnd={endDrag}
                  />
                )}
                <IconAct
                  act="delete"
                  label={`Leave out ${end!.thing.name} · ${p.label}`}
                  onClick={() => set(key, undefined)}
                />
              </Box>
            );
          })}
        </Box>
      ))}
      {Object.keys(look.routes).length > 0 && (
        <Folded title={`${Object.keys(look.routes).length} routes move more or less in it`}>
          {Object.entries(look.routes).map(([id, x]) => (
            <Box
              key={id}
              sx={{
                display: 'grid',
                gridTemplateColumns: 'minmax(0, 1fr) auto auto',
                gap: 1,
                alignItems: 'center',
                minHeight: 36,
              }}
            >
              <Box component="span">{routeName(id)}</Box>
              <NumberField
                label={`How much ${routeName(id)} moves`}
                value={Math.round(x * 100)}
                unit="%"
                min={0}
                max={200}
                step={5}
                usual={100}
                onChange={(v, dragging) =>
                  edit('change a look', setLookRoute(look.id, id, v / 100), dragging ? `look-${id}` : null)
                }
                onEnd={endDrag}
              />
              <IconAct
                act="delete"
                label={`Leave out the route to ${routeName(id)}`}
                onClick={() => edit('change a look', setLookRoute(look.id, id, undefined))}
              />
            </Box>
          ))}
        </Folded>
      )}
    </Box>
  );
}
