'use client';
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  rectSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { useState } from 'react';
import {
  addToPhone,
  changeOnPhone,
  freeId,
  moveOnPhone,
  type PhoneDeed,
  type PhoneThing,
  removeFromPhone,
  setPhone,
  type Show,
} from '../../core/show';
import { deedWords, mastersOf, phoneThings } from '../../core/stage';
import { Choice } from '../controls/Choice';
import { IconAct } from '../controls/IconAct';
import { currentShow, edit } from '../state/session';
import { FONT } from '../theme/tokens';
import { DeedChoice, deedOf } from './DeedChoice';

const ACTS = ['go', 'back', 'home', 'dark', 'freeze', 'tap', 'give back', 'bar now'] as const;
const SIZES: readonly (readonly [PhoneThing['size'], string])[] = [
  ['half', 'half'],
  ['whole', 'wide'],
  ['large', 'large'],
];
/** What is dragged from the pile, by the id of the drag. */
const PILE = 'pile:',
  PAGE = 'the page';

/** One's own page from here on: it begins as the usual one. */
function begin(): void {
  const show = currentShow();
  if (show.phone.length > 0) return;
  let all = show;
  const own = phoneThings(show).map((t) => {
    const id = freeId(all, 'phone');
    const mine = { ...t, id };
    all = { ...all, phone: [...all.phone, mine] };
    return mine;
  });
  edit('lay out the phone’s page', setPhone(own));
}
function add(deed: PhoneDeed, at?: number): void {
  begin();
  const slides = deed.do === 'master' || deed.do === 'hand';
  edit(
    'put something on the phone',
    addToPhone(
      {
        id: freeId(currentShow(), 'phone'),
        deed,
        size: deed.do === 'go' ? 'large' : slides ? 'whole' : 'half',
      },
      at,
    ),
  );
}

/** The phone's page, made here: things are dropped on it, put in another order, made wide or large, and taken off. */
export function PhoneLayout({ show }: { readonly show: Show }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button variant="outlined" onClick={() => setOpen(true)}>
        The phone’s page …
      </Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        maxWidth={false}
        aria-labelledby="layout-title"
        slotProps={{ paper: { sx: { p: 3, width: 940 } } }}
      >
        {open && <Layout show={show} onDone={() => setOpen(false)} />}
      </Dialog>
    </>
  );
}

function Layout({ show, onDone }: { readonly show: Show; readonly onDone: () => void }) {
  const things = phoneThings(show),
    own = show.phone.length > 0;
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const dropped = ({ active, over }: DragEndEvent): void => {
    if (!over) return;
    const place = things.findIndex((t) => t.id === over.id),
      deed = (active.data.current as { deed?: PhoneDeed } | undefined)?.deed;
    if (String(active.id).startsWith(PILE)) {
      if (deed) add(deed, place < 0 ? undefined : place);
    } else if (place >= 0 && active.id !== over.id) {
      const from = things.findIndex((t) => t.id === active.id);
      begin();
      // The usual things have other ids as soon as they are one’s own; their places are the same.
      const id = currentShow().phone[from]?.id;
      if (id) edit('order the phone’s page', moveOnPhone(id, place));
    }
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={dropped}>
      <Typography id="layout-title" variant="h2">
        The phone’s page
      </Typography>
      <Box sx={{ my: 1 }}>
        {own
          ? 'Drop things on the phone, drag them into another order. Phones that are connected change at once.'
          : 'This is the usual page. As soon as you drop something on it or move something, it is your own.'}
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '1fr 360px' }, gap: 3 }}>
        <Pile show={show} />
        <PageOfPhone show={show} things={things} own={own} />
      </Box>
      <Box sx={{ mt: 2, display: 'flex', gap: 1 }}>
        <Button variant="contained" onClick={onDone}>
          Done
        </Button>
        {own && (
          <Button variant="text" onClick={() => edit('back to the usual page', setPhone([]))}>
            back to the usual page
          </Button>
        )}
      </Box>
    </DndContext>
  );
}

function Pile({ show }: { readonly show: Show }) {
  const [hand, setHand] = useState<PhoneDeed | null>(() => deedOf('hand', show) as PhoneDeed | null);
  return (
    <Box sx={{ display: 'grid', gap: 1.5, alignContent: 'start', maxHeight: 520, overflowY: 'auto' }}>
      <Group label="Acts">
        {ACTS.map((what) => (
          <Tile key={what} deed={{ do: what }} show={show} />
        ))}
      </Group>
      {show.looks.length > 0 && (
        <Group label="Looks to put on the phone">
          {show.looks.map((l) => (
            <Tile key={l.id} deed={{ do: 'look', look: l.id }} show={show} />
          ))}
        </Group>
      )}
      {show.cues.length > 0 && (
        <Group label="Cues">
          {show.cues.map((c) => (
            <Tile key={c.id} deed={{ do: 'cue', cue: c.id }} show={show} />
          ))}
        </Group>
      )}
      <Group label="Masters">
        {mastersOf(show).map((m) => (
          <Tile key={m.id} deed={{ do: 'master', master: m.id }} show={show} />
        ))}
      </Group>
      {hand && (
        <Group label="Any value, by hand">
          <DeedChoice
            deed={hand}
            show={show}
            onChange={(deed) => {
              if (deed.do === 'hand') setHand(deed);
            }}
          />
          <Tile deed={hand} show={show} />
        </Group>
      )}
    </Box>
  );
}
function Group({ label, children }: { readonly label: string; readonly children: React.ReactNode }) {
  return (
    <Box role="group" aria-label={label}>
      <Box sx={{ fontWeight: 700, mb: 0.5 }}>{label}</Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75, alignItems: 'center' }}>{children}</Box>
    </Box>
  );
}
/** Dragged onto the phone; pressed, it goes to the end. */
function Tile({ deed, show }: { readonly deed: PhoneDeed; readonly show: Show }) {
  const words = deedWords(deed, show),
    drag = useDraggable({ id: `${PILE}${JSON.stringify(deed)}`, data: { deed } });
  return (
    <Button
      ref={drag.setNodeRef}
      variant="outlined"
      aria-label={`Put ${words} on the phone`}
      onClick={() => add(deed)}
      onPointerDown={drag.listeners?.onPointerDown as React.PointerEventHandler | undefined}
      sx={{
        touchAction: 'none',
        transform: CSS.Translate.toString(drag.transform),
        zIndex: drag.isDragging ? 2 : 'auto',
        cursor: 'grab',
      }}
    >
      {words}
    </Button>
  );
}

function PageOfPhone({
  show,
  things,
  own,
}: {
  readonly show: Show;
  readonly things: readonly PhoneThing[];
  readonly own: boolean;
}) {
  const { setNodeRef, isOver } = useDroppable({ id: PAGE });
  return (
    <Box
      ref={setNodeRef}
      component="ul"
      aria-label="On the phone"
      sx={(t) => ({
        listStyle: 'none',
        m: 0,
        p: 1.5,
        background: t.ink.ground,
        color: t.ink.paper,
        border: `3px solid ${isOver ? t.ink.now : t.ink.track}`,
        minHeight: 200,
        maxHeight: 520,
        overflowY: 'auto',
        display: 'grid',
        gridTemplateColumns: 'repeat(2, minmax(0, 1fr))',
        gap: 1,
        alignContent: 'start',
      })}
    >
      <SortableContext items={things.map((t) => t.id)} strategy={rectSortingStrategy}>
        {things.map((t) => (
          <OnPhone key={t.id} thing={t} show={show} own={own} />
        ))}
      </SortableContext>
    </Box>
  );
}

function OnPhone({
  thing,
  show,
  own,
}: {
  readonly thing: PhoneThing;
  readonly show: Show;
  readonly own: boolean;
}) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: thing.id }),
    words = deedWords(thing.deed, show),
    slides = thing.deed.do === 'master' || thing.deed.do === 'hand';
  return (
    <Box
      component="li"
      ref={setNodeRef}
      sx={(t) => ({
        gridColumn: thing.size === 'half' ? 'auto' : '1 / -1',
        background: t.ink.sheet,
        color: t.ink.sheetText,
        transform: CSS.Translate.toString(transform),
        transition,
        minWidth: 0,
        '--faint': t.ink.sheetFaint,
        '--bed': t.ink.track,
      })}
    >
      <Box
        {...attributes}
        {...listeners}
        aria-label={`${words}, ${slides ? 'slider' : 'press'}`}
        sx={{
          p: 1,
          minHeight: thing.size === 'large' ? 72 : 40,
          font: `700 1.1rem ${FONT.head}`,
          cursor: 'grab',
          touchAction: 'none',
          overflowWrap: 'anywhere',
        }}
      >
        {words}
        {slides && (
          <Box aria-hidden sx={{ mt: 0.5, height: 10, background: 'var(--bed)' }}>
            <Box sx={{ width: '60%', height: '100%', background: 'currentColor' }} />
          </Box>
        )}
      </Box>
      {own && (
        <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', px: 1, pb: 0.5 }}>
          <Choice
            label=""
            name={`Size of ${words}`}
            value={thing.size}
            options={SIZES}
            onChange={(size) => edit('size a thing on the phone', changeOnPhone(thing.id, { size }))}
          />
          <Box sx={{ flex: 1 }} />
          <IconAct
            act="delete"
            label={`Take ${words} off the phone`}
            onClick={() => edit('take something off the phone', removeFromPhone(thing.id))}
          />
        </Box>
      )}
    </Box>
  );
}
