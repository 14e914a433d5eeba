'use client';
import { Box } from '@mui/material';
import { useCallback, useState } from 'react';
import { useSession } from '../../state/session';
import { useView } from '../../state/view';
import { LaserPanel } from './LaserPanel';
import { LaserSays } from './LaserSays';
import { type FieldNumbers, LaserStage } from './LaserStage';
import { LaserStrip } from './LaserStrip';
import { MachinePanel, TheMachine } from './MachinePanel';

/** What stands on the left: the field, what it says, and the figures. */
export function LaserField({ zones }: { readonly zones: boolean }) {
  const [numbers, setNumbers] = useState<FieldNumbers | null>(null);
  const figure = useChosen(),
    none = useSession((s) => s.history.show.laserFigures.length === 0);
  return (
    <>
      <Box sx={{ minHeight: 0, position: 'relative' }}>
        <LaserStage zones={zones} onNumbers={setNumbers} />
        {none && (
          <Box
            sx={{
              position: 'absolute',
              inset: 0,
              display: 'grid',
              placeItems: 'center',
              color: '#f2e9d4',
              pointerEvents: 'none',
              pb: '30%',
            }}
          >
            The laser draws nothing yet. Press “+ figure”.
          </Box>
        )}
      </Box>
      <LaserSays numbers={numbers} />
      <LaserStrip chosen={figure?.id ?? null} />
    </>
  );
}
function useChosen() {
  const chosen = useView((v) => v.laser),
    figures = useSession((s) => s.history.show.laserFigures);
  return figures.find((f) => f.id === chosen) ?? figures[0] ?? null;
}

/** What stands on the right: the selected figure and the machine, or the machine's own setting. */
export function LaserSide({
  zones,
  onZones,
}: {
  readonly zones: boolean;
  readonly onZones: (open: boolean) => void;
}) {
  const figure = useChosen(),
    open = useCallback(() => onZones(true), [onZones]),
    leave = useCallback(() => onZones(false), [onZones]);
  if (zones) return <MachinePanel onLeave={leave} />;
  return (
    <>
      <TheMachine onZones={open} />
      {figure && <LaserPanel figure={figure} />}
    </>
  );
}
