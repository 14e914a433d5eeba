'use client';
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Box, Button, Checkbox, Menu, MenuItem, Typography } from '@mui/material';
import { useState } from 'react';
import {
  FINISH_KINDS,
  finishHelp,
  finishInks,
  finishLabel,
  finishParameters,
  APPEAR_WAYS,
  MIRROR_WAYS,
} from '../../core/finishes';
import {
  addFinish,
  changeFinish,
  copyFinish,
  type Finish,
  orderFinish,
  removeThing,
  renameThing,
  surfacesOf,
  thingsOf,
} from '../../core/show';
import { Choice } from '../controls/Choice';
import { ByPicture } from './ByPicture';
import { RampEdit } from './RampEdit';
import { ThingPanel } from '../controls/ThingPanel';
import { say } from '../state/notices';
import { currentShow, edit, useSession } from '../state/session';
import { look, useView } from '../state/view';
import { OtherFigure } from './FormSettings';

/** The finishes on one thing, in the order in which they treat it; dragged into another, by pointer or keyboard. */
export function FinishList({ on, name }: { readonly on: string; readonly name: string }) {
  const show = useSession((s) => s.history.show),
    open = useView((v) => v.finish);
  const [at, setAt] = useState<HTMLElement | null>(null);
  const finishes = show.finishes.filter((f) => f.on === on);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const dropped = ({ active, over }: DragEndEvent): void => {
    if (!over || over.id === active.id) return;
    const from = finishes.findIndex((f) => f.id === active.id),
      to = finishes.findIndex((f) => f.id === over.id);
    edit('order finishes', orderFinish(String(active.id), finishes[to < from ? to : to + 1]?.id ?? null));
  };
  return (
    <Box
      component="section"
      aria-label={`Finishes on ${name}`}
      sx={{ py: 1, borderTop: '2px solid var(--bed)' }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', minHeight: 36 }}>
        <Typography variant="h3" component="h3" sx={{ flex: 1 }}>
          Finishes
        </Typography>
        <Button
          variant="contained"
          aria-haspopup="menu"
          onClick={(e) => setAt(e.currentTarget)}
          sx={(t) => ({
            background: t.ink.paperText,
            color: t.ink.paper,
            '&:hover': { background: t.ink.paperText },
          })}
        >
          + finish
        </Button>
        <Menu
          anchorEl={at}
          open={at !== null}
          onClose={() => setAt(null)}
          slotProps={{ list: { 'aria-label': 'Kinds of finish' } }}
        >
          {FINISH_KINDS.map((kind) => (
            <MenuItem
              key={kind}
              title={finishHelp(kind)}
              onClick={() => {
                setAt(null);
                const made = addFinish(currentShow(), on, kind);
                edit(`add ${finishLabel(kind)} to ${name}`, made.command);
                look({ finish: made.finish });
              }}
            >
              {finishLabel(kind)}
            </MenuItem>
          ))}
        </Menu>
      </Box>
      {finishes.length === 0 && (
        <Box sx={{ color: 'var(--faint)', fontSize: '0.9rem' }}>None: {name} shows as it is drawn.</Box>
      )}
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={dropped}>
        <SortableContext items={finishes.map((f) => f.id)} strategy={verticalListSortingStrategy}>
          <Box role="list" aria-label="Finishes, first to last">
            {finishes.map((f) => (
              <Row key={f.id} finish={f} open={f.id === open} />
            ))}
          </Box>
        </SortableContext>
      </DndContext>
    </Box>
  );
}

function Row({ finish, open }: { readonly finish: Finish; readonly open: boolean }) {
  const show = useSession((s) => s.history.show);
  const { setNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({
    id: finish.id,
  });
  const thing = open ? thingsOf(show).find((t) => t.id === finish.id) : undefined,
    { form } = finish;
  const routes = show.routes.filter((r) => r.target.thing === finish.id).length;
  const others = open
    ? [...surfacesOf(show), ...show.figureGroups, ...show.figures].filter((t) => t.id !== finish.on)
    : [];
  return (
    <Box role="listitem" sx={{ borderTop: '1px solid var(--bed)' }}>
      {/* Only its head is dragged: an open finish is as tall as the window. */}
      <Box
        ref={setNodeRef}
        style={{ transform: CSS.Translate.toString(transform), transition }}
        sx={{
          display: 'flex',
          alignItems: 'center',
          gap: 0.5,
          minHeight: 38,
          background: isDragging ? 'var(--bed)' : 'transparent',
          position: 'relative',
          zIndex: isDragging ? 5 : 'auto',
        }}
      >
        <Box
          {...attributes}
          {...listeners}
          aria-label={`Move ${finish.name}`}
          title="Drag to order; or Space, then arrow keys"
          sx={{
            cursor: 'grab',
            width: 32,
            height: 32,
            display: 'grid',
            placeItems: 'center',
            touchAction: 'none',
          }}
        >
          <Box
            aria-hidden
            sx={{
              width: 14,
              height: 12,
              background: 'repeating-linear-gradient(180deg, currentColor 0 2px, transparent 2px 5px)',
            }}
          />
        </Box>
        <Box
          component="button"
          aria-expanded={open}
          onClick={() => look({ finish: open ? null : finish.id })}
          sx={{
            all: 'unset',
            cursor: 'pointer',
            flex: 1,
            fontWeight: 700,
            minHeight: 32,
            display: 'flex',
            alignItems: 'center',
            gap: 1,
            opacity: finish.off ? 0.65 : 1,
          }}
        >
          {finish.name}
          <Box component="span" sx={{ fontWeight: 400, color: 'var(--faint)', fontSize: '0.86rem' }}>
            {finish.off ? 'off' : routes === 0 ? 'still' : routes === 1 ? '1 route' : `${routes} routes`}
          </Box>
        </Box>
        <Checkbox
          checked={!finish.off}
          slotProps={{ input: { 'aria-label': `${finish.name} on` } }}
          onChange={(e) =>
            edit(
              e.target.checked ? `put ${finish.name} on` : `take ${finish.name} off`,
              changeFinish(finish.id, { off: !e.target.checked }),
            )
          }
          sx={{ p: 0.75, color: 'inherit' }}
        />
        <Button
          variant="text"
          aria-label={`Remove ${finish.name}`}
          onClick={() => edit(`remove ${finish.name}`, removeThing(finish.id))}
          sx={{ color: 'inherit', minWidth: 32 }}
        >
          remove
        </Button>
      </Box>
      {thing && (
        <Box sx={{ pl: 1, borderLeft: '3px solid var(--bed)', mb: 1 }}>
          <Box sx={{ color: 'var(--faint)', fontSize: '0.9rem', pb: 0.5 }}>{finishHelp(form.kind)}</Box>
          {form.kind === 'appear' && (
            <Choice
              label="comes and goes by a"
              value={form.way}
              options={APPEAR_WAYS.map((w) => [w, w])}
              onChange={(way) =>
                edit(`change ${finish.name}`, changeFinish(finish.id, { form: { ...form, way } }))
              }
            />
          )}
          <Choice
            label="copy to"
            value=""
            options={[['', '…'], ...others.map((t): readonly [string, string] => [t.id, t.name])]}
            onChange={(to) => {
              const made = to && copyFinish(currentShow(), finish.id, to);
              if (!made) return;
              edit(`copy ${finish.name}`, made.command);
              say('done', `${finish.name} is on ${others.find((t) => t.id === to)?.name} as well.`);
            }}
          />
          {form.kind === 'mirror' && (
            <Choice
              label="way"
              value={form.way}
              options={MIRROR_WAYS.map((w) => [w, w])}
              onChange={(way) =>
                edit(`change ${finish.name}`, changeFinish(finish.id, { form: { ...form, way } }))
              }
            />
          )}
          {(form.kind === 'mask' || form.kind === 'shove') && (
            <OtherFigure
              label={form.kind === 'mask' ? 'shaped by' : 'moved by'}
              figure={null}
              value={form.by}
              onChange={(by) =>
                edit(`change ${finish.name}`, changeFinish(finish.id, { form: { ...form, by } }))
              }
            />
          )}
          {form.kind === 'mask' && (
            <Box component="label" sx={{ display: 'inline-flex', alignItems: 'center', fontSize: '0.9rem' }}>
              <Checkbox
                size="small"
                checked={form.inverted}
                onChange={(e) =>
                  edit(
                    `change ${finish.name}`,
                    changeFinish(finish.id, { form: { ...form, inverted: e.target.checked } }),
                  )
                }
                sx={{ color: 'inherit' }}
              />
              where it is not
            </Box>
          )}
          {form.kind === 'trails' && <ByPicture finish={finish} />}
          {finishInks(form.kind).length > 1 && (
            <RampEdit thing={finish} inks={finishInks(form.kind)} parameters={finishParameters(form.kind)} />
          )}
          <ThingPanel thing={thing} onRename={(to) => edit('rename a finish', renameThing(finish.id, to))} />
        </Box>
      )}
    </Box>
  );
}
