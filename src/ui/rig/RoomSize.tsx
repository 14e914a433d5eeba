'use client';
import { Box } from '@mui/material';
import { ROOM_MOST } from '../../core/lights';
import { setRoom } from '../../core/show';
import { NumberField } from '../controls/NumberField';
import { edit, endDrag, useSession } from '../state/session';

/** How large the room is: across, deep and high. */
export function RoomSize() {
  const room = useSession((s) => s.history.show.room);
  return (
    <Box
      role="group"
      aria-label="Size of the room"
      sx={{ display: 'flex', alignItems: 'center', gap: 0.5, fontSize: '0.9rem' }}
    >
      <span>room</span>
      {(['width', 'depth', 'height'] as const).map((side, i) => (
        <Box key={side} component="span" sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
          {i > 0 && <span>×</span>}
          <NumberField
            label={`Room ${side}`}
            value={room[side]}
            unit="m"
            min={1}
            max={ROOM_MOST}
            step={0.5}
            onChange={(x) => edit('size of the room', setRoom({ ...room, [side]: x }), `room ${side}`)}
            onEnd={endDrag}
          />
        </Box>
      ))}
    </Box>
  );
}
