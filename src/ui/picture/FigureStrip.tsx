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
  horizontalListSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Box } from '@mui/material';
import { useMemo } from 'react';
import { figureKindLabel } from '../../core/figures';
import { type Figure, type FigureGroup, orderFigure, type Show, together } from '../../core/show';
import { LongList } from '../controls/LongList';
import { Sheet } from '../controls/Sheet';
import { edit, useSession } from '../state/session';
import { look, useView } from '../state/view';
import { useOnSurface } from './surface';
import { Thumbnail } from './Thumbnail';

/** Figures of a surface back to front, groups in brackets, then what belongs to all of it. Dragged into another order; Shift selects several. */
export function FigureStrip({
  chosen,
  ends,
}: {
  readonly chosen: string | null;
  /** What else is chosen here: an id, its name, and what there is to it. */
  readonly ends: readonly (readonly [id: string, label: string, about: string])[];
}) {
  const show = useSession((s) => s.history.show),
    on = useOnSurface(),
    also = useView((v) => v.also);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const figures = useMemo(() => together(on.figures), [on.figures]),
    ids = useMemo(() => figures.map((f) => f.id), [figures]),
    groups = new Map(on.figureGroups.map((g) => [g.id, g])),
    // The first of each group bears its name.
    first = new Set(
      figures.filter((f, i) => f.group !== null && figures[i - 1]?.group !== f.group).map((f) => f.id),
    );
  const dropped = ({ active, over }: DragEndEvent): void => {
    if (over && over.id !== active.id) edit('order figures', orderFigure(String(active.id), String(over.id)));
  };
  const press = (id: string, several: boolean): void => {
    if (!several) {
      look({ figure: id, finish: null, also: [] });
      return;
    }
    // What is selected alone is the first of several.
    const alone = on.figures.some((f) => f.id === chosen) ? [chosen!] : [],
      before = also.length > 0 ? also : alone,
      next = before.includes(id) ? before.filter((x) => x !== id) : [...before, id];
    look(next.length === 1 ? { figure: next[0]!, finish: null, also: [] } : { also: next });
  };
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr) 132px',
        gap: 1,
        pb: 1.25,
        alignItems: 'end',
      }}
    >
      <Box sx={{ minWidth: 0 }}>
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={dropped}>
          <SortableContext items={ids} strategy={horizontalListSortingStrategy}>
            <LongList
              across
              label="Figures, back to front"
              items={figures}
              keyOf={(f) => f.id}
              estimate={118}
              gap={8}
              shown={chosen}
              render={(f) => {
                const group = first.has(f.id) ? groups.get(f.group ?? '') : undefined;
                return (
                  <Item
                    key={f.id}
                    figure={f}
                    group={group}
                    grouped={f.group !== null}
                    show={show}
                    picked={f.id === chosen || also.includes(f.id)}
                    groupPicked={group !== undefined && group.id === chosen}
                    onPress={press}
                  />
                );
              }}
            />
          </SortableContext>
        </DndContext>
      </Box>
      <Box sx={{ display: 'grid', gap: 0.75 }}>
        {ends.map(([id, label, about]) => (
          <Sheet key={id} name={id} picked={chosen === id} sx={{ p: 0.75 }}>
            <Box
              component="button"
              aria-pressed={chosen === id}
              onClick={() => look({ figure: id, finish: null, also: [] })}
              sx={{ all: 'unset', cursor: 'pointer', display: 'block', width: '100%', minHeight: 36 }}
            >
              <Box sx={{ fontWeight: 700, fontSize: '0.95rem' }}>{label}</Box>{' '}
              <Box sx={{ color: 'var(--faint)', fontSize: '0.86rem' }}>{about}</Box>
            </Box>
          </Sheet>
        ))}
      </Box>
    </Box>
  );
}

function about(f: Figure, show: Show): string {
  const routes = show.routes.filter((r) => r.target.thing === f.id).length,
    finishes = show.finishes.filter((x) => x.on === f.id).length;
  if (f.hidden) return 'hidden';
  if (f.twin && routes === 0)
    return `twin of ${show.figures.find((x) => x.id === f.twin!.of)?.name ?? 'one gone'}`;
  return `${f.locked ? 'locked, ' : ''}${routes === 0 ? 'still' : routes === 1 ? '1 route' : `${routes} routes`}${finishes > 0 ? `, ${finishes} fin.` : ''}`;
}

function Item({
  figure: f,
  group,
  grouped,
  show,
  picked,
  groupPicked,
  onPress,
}: {
  readonly figure: Figure;
  readonly group: FigureGroup | undefined;
  readonly grouped: boolean;
  readonly show: Show;
  readonly picked: boolean;
  readonly groupPicked: boolean;
  readonly onPress: (id: string, several: boolean) => void;
}) {
  const { setNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({ id: f.id });
  return (
    <Box
      ref={setNodeRef}
      role="listitem"
      style={{ transform: CSS.Translate.toString(transform), transition }}
      sx={{
        flex: '0 0 118px',
        width: 118,
        position: 'relative',
        zIndex: isDragging ? 5 : 'auto',
        display: 'grid',
        alignContent: 'end',
      }}
    >
      {group && (
        <Box
          component="button"
          aria-pressed={groupPicked}
          aria-label={`Group ${group.name}`}
          onClick={() => onPress(group.id, false)}
          sx={(t) => ({
            all: 'unset',
            cursor: 'pointer',
            boxSizing: 'border-box',
            minHeight: 32,
            px: 0.75,
            display: 'flex',
            alignItems: 'center',
            fontWeight: 700,
            fontSize: '0.88rem',
            background: groupPicked ? t.ink.paper : t.ink.sheet,
            color: groupPicked ? t.ink.paperText : t.ink.sheetText,
            whiteSpace: 'nowrap',
            overflow: 'hidden',
          })}
        >
          {group.name}
          {group.hidden ? ', hidden' : ''}
        </Box>
      )}
      <Sheet
        name={f.id}
        picked={picked}
        sx={(t) => ({ p: 0.75, borderTop: grouped ? `3px solid ${t.ink.sheetFaint}` : 'none' })}
      >
        <Box
          component="button"
          {...attributes}
          {...listeners}
          aria-pressed={picked}
          title={`${figureKindLabel(f.form.kind)}; drag to order, Shift selects several`}
          onClick={(e) => onPress(f.id, e.shiftKey || e.ctrlKey || e.metaKey)}
          sx={{ all: 'unset', cursor: 'pointer', display: 'block', width: '100%', touchAction: 'pan-x' }}
        >
          <Box sx={{ opacity: f.hidden ? 0.45 : 1 }}>
            <Thumbnail form={f.form} />
          </Box>
          <Box
            sx={{
              fontWeight: 700,
              fontSize: '0.95rem',
              mt: 0.5,
              whiteSpace: 'nowrap',
              overflow: 'hidden',
              textOverflow: 'ellipsis',
            }}
          >
            {f.name}
          </Box>{' '}
          <Box
            sx={{
              color: 'var(--faint)',
              fontSize: '0.86rem',
              whiteSpace: 'nowrap',
              overflow: 'hidden',
              textOverflow: 'ellipsis',
            }}
          >
            {about(f, show)}
          </Box>
        </Box>
      </Sheet>
    </Box>
  );
}
