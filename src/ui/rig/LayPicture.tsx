'use client';
import { Box, Button } from '@mui/material';
import { kindParameters, ROOM_MOST, type SheetPlace, sheetOf } from '../../core/lights';
import { restOf, setRest, setRoom, type Show, thingsOf } from '../../core/show';
import { NumberField } from '../controls/NumberField';
import { currentShow, edit, endDrag, useSession } from '../state/session';
import type { RoomLamp } from './roomLamps';

/** A lamp that is darker than this shows little of the picture. */
const SEEN_FROM = 40;
const canTake = (lamp: RoomLamp): boolean => kindParameters(lamp.kind).some((p) => p.id === 'picture');
const restNumber = (thing: string, parameter: string): number => {
  const t = thingsOf(currentShow()).find((x) => x.id === thing),
    p = t?.parameters.find((x) => x.id === parameter);
  return t && p ? Number(restOf(t, p)) : 0;
};

/** Lays the picture over lamps, or takes it off them: in one act, and by parameters that signals can move as well. */
export function LayPicture({ lamps }: { readonly lamps: readonly RoomLamp[] }) {
  useSession((s) => s.history.show.fixtures);
  const able = lamps.filter(canTake);
  if (able.length === 0) return null;
  const on = able.every(({ fixture }) => restNumber(fixture.id, 'picture') > 0);
  const lay = (): void =>
    edit(on ? 'take the picture off' : 'lay the picture over lamps', (d) => {
      for (const { fixture } of able) {
        setRest({ thing: fixture.id, parameter: 'picture' }, on ? 0 : 100)(d);
        if (!on && restNumber(fixture.id, 'dimmer') < SEEN_FROM)
          setRest({ thing: fixture.id, parameter: 'dimmer' }, 100)(d);
      }
    });
  return (
    <Button
      variant="outlined"
      aria-pressed={on}
      title="Each takes the picture’s colour where it hangs."
      onClick={lay}
    >
      {on ? 'Take the picture off' : 'Lay the picture over'}
    </Button>
  );
}

const EDGES: readonly (readonly [keyof SheetPlace, string])[] = [
  ['left', 'from'],
  ['right', 'to'],
  ['bottom', 'and from'],
  ['top', 'up to'],
];
/** Where the picture lies over the room; shown while any lamp takes it. */
export function PicturePlace() {
  const room = useSession((s) => s.history.show.room),
    laid = useSession((s) => s.history.show.fixtures.some((f) => takesPicture(s.history.show, f.id)));
  if (!laid) return null;
  const sheet = sheetOf(room);
  const set = (edge: keyof SheetPlace, x: number): void => {
    const next = { ...sheet, [edge]: x };
    // An edge pushes the other one before it.
    if (next.right <= next.left)
      next[edge === 'left' ? 'right' : 'left'] = edge === 'left' ? x + 0.1 : x - 0.1;
    if (next.top <= next.bottom)
      next[edge === 'bottom' ? 'top' : 'bottom'] = edge === 'bottom' ? x + 0.1 : x - 0.1;
    edit('where the picture lies', setRoom({ ...room, sheet: next }), `sheet ${edge}`);
  };
  return (
    <Box
      role="group"
      aria-label="Where the picture lies"
      sx={{ display: 'flex', alignItems: 'center', flexWrap: 'wrap', gap: 0.5, fontSize: '0.9rem' }}
    >
      <span>the picture lies</span>
      {EDGES.map(([edge, words]) => (
        <Box key={edge} component="span" sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
          <span>{words}</span>
          <NumberField
            label={`Picture ${edge}`}
            value={sheet[edge]}
            unit="m"
            min={-ROOM_MOST}
            max={ROOM_MOST}
            step={0.1}
            onChange={(x) => set(edge, x)}
            onEnd={endDrag}
          />
        </Box>
      ))}
      {room.sheet && (
        <Button
          variant="text"
          onClick={() => {
            const { width, depth, height } = room;
            edit('the picture over all of the room', setRoom({ width, depth, height }));
          }}
        >
          over all of it
        </Button>
      )}
    </Box>
  );
}
/** Whether a lamp takes its colour from the picture, at rest or by a route. */
export const takesPicture = (show: Show, lamp: string): boolean =>
  Number(show.fixtures.find((f) => f.id === lamp)?.rest.picture ?? 0) > 0 ||
  show.routes.some((r) => r.target.thing === lamp && r.target.parameter === 'picture');
