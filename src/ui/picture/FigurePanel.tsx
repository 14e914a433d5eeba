'use client';
import { Box, Button, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import { ANCHORS, figureParameters, rampInks } from '../../core/figures';
import { BLENDS } from '../../core/finishes';
import {
  CAMERA_ID,
  changeFigure,
  changeFigureGroup,
  type Command,
  copyGroup,
  duplicateFigure,
  type Figure,
  type FigureGroup,
  groupFigures,
  joinGroup,
  mirrorTwin,
  removeThing,
  renameThing,
  shiftFigure,
  surfacesOf,
  thingsOf,
  twinFigure,
  WHOLE_PICTURE,
} from '../../core/show';
import { Choice } from '../controls/Choice';
import { IconAct } from '../controls/IconAct';
import { NumberField } from '../controls/NumberField';
import { ThingPanel } from '../controls/ThingPanel';
import { say } from '../state/notices';
import { currentShow, edit, endDrag, useSession } from '../state/session';
import { look, useView } from '../state/view';
import { FinishList } from './FinishList';
import { Follows } from './Follows';
import { boxAround, groupAnchor, groupGrowsFrom, restBounds } from './groupAnchor';
import { FormSettings } from './FormSettings';
import { RampEdit } from './RampEdit';
import { OnePress } from './OnePress';
import { useOnSurface, useSurface } from './surface';

const acts = {
  display: 'flex',
  flexWrap: 'wrap',
  alignItems: 'center',
  gap: 0.5,
  py: 0.75,
  '& button': {
    color: 'inherit',
    minWidth: 40,
    px: 1,
    '&:hover': { background: 'var(--bed)' },
    '&[aria-pressed=true]': { background: 'var(--bed)' },
  },
} as const;

/** Everything about what is selected on a surface. @param whole - what is said of all of it */
export function FigurePanel({
  chosen,
  whole,
}: {
  readonly chosen: string | null;
  readonly whole: ReactNode;
}) {
  const show = useSession((s) => s.history.show),
    selected = useView((v) => v.also),
    also = selected.filter((id) => show.figures.some((f) => f.id === id));
  const surface = useSurface();
  if (chosen === surface.id) return whole;
  if (also.length > 1) return <Several ids={also} />;
  const thing = thingsOf(show).find((t) => t.id === chosen);
  if (chosen === CAMERA_ID && thing)
    return (
      <ThingPanel
        thing={thing}
        onRename={(name) => edit('rename the camera', renameThing(CAMERA_ID, name))}
      />
    );
  const figure = show.figures.find((f) => f.id === chosen),
    group = show.figureGroups.find((g) => g.id === chosen);
  if (thing && group)
    return (
      <>
        <ThingPanel
          thing={thing}
          onRename={(name) => edit('rename a group', renameThing(group.id, name))}
          before={<OnePress thing={group.id} name={group.name} />}
          footer={<GroupActs group={group} />}
        />
        <FinishList on={group.id} name={group.name} />
      </>
    );
  if (!thing || !figure)
    return (
      <Typography sx={{ pt: 2 }}>
        {surface.id === WHOLE_PICTURE ? 'The picture' : surface.name} is empty. Press “+ figure”.
      </Typography>
    );
  return (
    <>
      <ThingPanel
        thing={thing}
        onRename={(name) => edit('rename a figure', renameThing(figure.id, name))}
        before={
          <>
            <FigureActs figure={figure} />
            <OnePress thing={figure.id} name={figure.name} />
            <Follows thing={figure.id} name={figure.name} />
            <FormSettings figure={figure} />
            {rampInks(figure.form.kind).length > 1 && (
              <RampEdit
                thing={figure}
                inks={rampInks(figure.form.kind)}
                parameters={figureParameters(figure.form.kind)}
              />
            )}
          </>
        }
      />
      <FinishList on={figure.id} name={figure.name} />
    </>
  );
}

function FigureActs({ figure }: { readonly figure: Figure }) {
  const { figureGroups: groups } = useOnSurface();
  const place = (label: string, axis: 'x' | 'y'): React.ReactNode => (
    <NumberField
      label={label}
      value={figure.at[axis]}
      unit="px"
      min={-4000}
      max={4000}
      step={1}
      disabled={figure.locked}
      onChange={(v) =>
        edit(
          `place ${figure.name}`,
          changeFigure(figure.id, { at: { ...figure.at, [axis]: Math.round(v) } }),
          `place ${figure.id}`,
        )
      }
      onEnd={endDrag}
    />
  );
  return (
    <>
      <Box sx={acts}>
        <IconAct
          act={figure.hidden ? 'show' : 'hide'}
          onClick={() =>
            edit(
              figure.hidden ? 'show a figure' : 'hide a figure',
              changeFigure(figure.id, { hidden: !figure.hidden }),
            )
          }
        />
        <IconAct
          act={figure.locked ? 'unlock' : 'lock'}
          title="The picture cannot be pressed there"
          onClick={() =>
            edit(
              figure.locked ? 'unlock a figure' : 'lock a figure',
              changeFigure(figure.id, { locked: !figure.locked }),
            )
          }
        />
        <IconAct
          act="duplicate"
          title="Once more, with routes of its own that do the same"
          onClick={() => {
            const made = duplicateFigure(currentShow(), figure.id);
            if (made) {
              edit(`duplicate ${figure.name}`, made.command);
              look({ figure: made.figure, copied: made.figure });
            }
          }}
        />
        <IconAct act="delete" onClick={() => edit(`delete ${figure.name}`, removeThing(figure.id))} />
        <Button variant="text" onClick={() => edit('move a figure back', shiftFigure(figure.id, -1))}>
          back
        </Button>
        <Button variant="text" onClick={() => edit('move a figure forward', shiftFigure(figure.id, 1))}>
          forward
        </Button>
        <Button
          variant="text"
          title="A copy that follows in everything that it does not override"
          onClick={() => {
            const made = twinFigure(currentShow(), figure.id, true);
            if (made) {
              edit(`twin of ${figure.name}`, made.command);
              look({ figure: made.figure });
            }
          }}
        >
          mirrored twin
        </Button>
        {figure.twin && (
          <Button
            variant="text"
            onClick={() => edit('mirror a twin, or not', mirrorTwin(figure.id, !figure.twin!.mirrored))}
          >
            {figure.twin.mirrored ? 'not mirrored' : 'mirror it'}
          </Button>
        )}
        {figure.twin && Object.keys(figure.rest).length > 0 && (
          <Button
            variant="text"
            title="Its own rests are forgotten"
            onClick={() =>
              edit('follow in everything', (d) => {
                const f = d.figures.find((x) => x.id === figure.id);
                if (f) f.rest = {};
              })
            }
          >
            follow in everything
          </Button>
        )}
      </Box>
      <Box
        sx={{ display: 'flex', alignItems: 'center', flexWrap: 'wrap', gap: 1, pb: 0.75, fontSize: '0.9rem' }}
      >
        <span>stands at</span>
        {place('Place across', 'x')}
        {place('Place up', 'y')}
        <Choice
          label="lies"
          value={figure.blend}
          options={BLENDS.map((b) => [b, b])}
          onChange={(blend) => edit(`blend ${figure.name}`, changeFigure(figure.id, { blend }))}
        />
        <CopyTo name={figure.name} make={(to) => duplicateFigure(currentShow(), figure.id, to)} />
        {groups.length > 0 && (
          <Choice
            label="in"
            value={figure.group ?? ''}
            options={[['', 'no group'], ...groups.map((g): readonly [string, string] => [g.id, g.name])]}
            onChange={(g) =>
              edit(g ? 'put into a group' : 'take out of its group', joinGroup([figure.id], g || null))
            }
          />
        )}
      </Box>
    </>
  );
}

/** Another surface that something is copied to, moved there as it is here. */
function CopyTo({
  name,
  make,
}: {
  readonly name: string;
  readonly make: (surface: string) => { readonly command: Command } | null;
}) {
  const here = useSurface(),
    overlays = useSession((s) => s.history.show.overlays),
    elsewhere = surfacesOf({ overlays }).filter((s) => s.id !== here.id);
  if (elsewhere.length === 0) return null;
  return (
    <Choice
      label="copy to"
      value=""
      options={[['', '…'], ...elsewhere.map((s): readonly [string, string] => [s.id, s.name])]}
      onChange={(to) => {
        const made = to ? make(to) : null;
        if (!made) return;
        edit(`copy ${name} to another surface`, made.command);
        say(
          'done',
          `${name} is on ${elsewhere.find((s) => s.id === to)?.name} as well, moved by routes of its own.`,
        );
      }}
    />
  );
}

function GroupActs({ group }: { readonly group: FigureGroup }) {
  const surface = useSurface(),
    members = useSession((s) => s.history.show.figures).filter((f) => f.group === group.id),
    box = boxAround(members.map((f) => restBounds(f, surface)));
  return (
    <>
      <Box sx={{ py: 0.75, borderTop: '2px solid var(--bed)', fontSize: '0.92rem' }}>
        {members.map((f) => f.name).join(', ')}
      </Box>
      {members.length > 0 && (
        <Choice
          label="grows from"
          value={group.pivot ? (groupAnchor(group, box) ?? 'other') : 'picture'}
          options={[
            ['picture', 'the middle of all'],
            ...(group.pivot && groupAnchor(group, box) === null ? [['other', 'another place'] as const] : []),
            ...ANCHORS.map((a): readonly [string, string] => [a, `its ${a}`]),
          ]}
          onChange={(to) => {
            const anchor = ANCHORS.find((a) => a === to);
            if (anchor || to === 'picture') groupGrowsFrom(group, box, anchor ?? null);
          }}
        />
      )}
      <Box sx={acts}>
        <IconAct
          act={group.hidden ? 'show' : 'hide'}
          onClick={() =>
            edit(
              group.hidden ? 'show a group' : 'hide a group',
              changeFigureGroup(group.id, { hidden: !group.hidden }),
            )
          }
        />
        <IconAct
          act={group.locked ? 'unlock' : 'lock'}
          title="The picture cannot be pressed there"
          onClick={() =>
            edit(
              group.locked ? 'unlock a group' : 'lock a group',
              changeFigureGroup(group.id, { locked: !group.locked }),
            )
          }
        />
        <Button variant="text" onClick={() => edit('dissolve a group', removeThing(group.id))}>
          dissolve
        </Button>
        <CopyTo name={group.name} make={(to) => copyGroup(currentShow(), group.id, to)} />
        <Choice
          label="lies"
          value={group.blend}
          options={BLENDS.map((b) => [b, b])}
          onChange={(blend) => edit(`blend ${group.name}`, changeFigureGroup(group.id, { blend }))}
        />
      </Box>
    </>
  );
}

function Several({ ids }: { readonly ids: readonly string[] }) {
  const figures = useSession((s) => s.history.show.figures).filter((f) => ids.includes(f.id));
  const all = (label: string, change: Partial<Pick<Figure, 'hidden' | 'locked'>>): void =>
    edit(label, (d) => {
      for (const f of figures) changeFigure(f.id, change)(d);
    });
  return (
    <Box sx={{ pt: 1 }}>
      <Typography variant="h2" component="h2">
        {figures.length} figures
      </Typography>
      <Box sx={{ py: 1 }}>{figures.map((f) => f.name).join(', ')}</Box>
      <Box sx={acts}>
        <Button
          variant="contained"
          onClick={() => {
            const made = groupFigures(currentShow(), ids);
            edit('group figures', made.command);
            look({ figure: made.group, also: [] });
          }}
          sx={(t) => ({ '&&': { background: t.ink.paperText, color: t.ink.paper } })}
        >
          group them
        </Button>
        <Button variant="text" onClick={() => all('hide figures', { hidden: true })}>
          hide
        </Button>
        <Button variant="text" onClick={() => all('show figures', { hidden: false })}>
          show
        </Button>
        <Button variant="text" onClick={() => all('lock figures', { locked: true })}>
          lock
        </Button>
        <IconAct
          act="delete"
          onClick={() => {
            edit('delete figures', (d) => {
              for (const f of figures) removeThing(f.id)(d);
            });
            look({ also: [] });
          }}
        />
      </Box>
    </Box>
  );
}
