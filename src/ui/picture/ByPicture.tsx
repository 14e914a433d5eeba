'use client';
import { Box } from '@mui/material';
import { BY_PICTURE, finishParameters, TRAIL_BY_PICTURE } from '../../core/finishes';
import { type Finish, restOf, setRests } from '../../core/show';
import { clamp } from '../../core/units';
import { NumberField } from '../controls/NumberField';
import { edit, endDrag } from '../state/session';

const FIELDS = [
  ['zoom', 'zoom', '%', 0.01],
  ['turn', 'turn', '°', 0.01],
  ['last', 'left of it', '%', 0.01],
] as const;

/** The settings of trails as they come to with each picture, for those who think so; the same ones as by the second. */
export function ByPicture({ finish }: { readonly finish: Finish }) {
  return (
    <Box
      role="group"
      aria-label="Each picture"
      sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 1, fontSize: '0.9rem', pb: 0.5 }}
    >
      <Box component="span" sx={{ color: 'var(--faint)', width: '100%' }}>
        each picture, at {BY_PICTURE} a second; below the same by the second
      </Box>
      {FIELDS.map(([id, label, unit, step]) => {
        const p = finishParameters('trails').find((x) => x.id === id);
        if (p?.kind !== 'number') return null;
        const { to, from } = TRAIL_BY_PICTURE[id];
        return (
          <Box key={id} component="span" sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.5 }}>
            {label}
            <NumberField
              label={`${label} each picture`}
              value={to(restOf(finish, p) as number)}
              unit={unit}
              min={to(p.min)}
              max={to(p.max)}
              step={step}
              usual={to(p.rest)}
              onChange={(v) =>
                edit(
                  `${p.label} of ${finish.name}`,
                  setRests(finish.id, { [id]: clamp(from(v), p.min, p.max) }),
                  `${id} ${finish.id}`,
                )
              }
              onEnd={endDrag}
            />
          </Box>
        );
      })}
    </Box>
  );
}
