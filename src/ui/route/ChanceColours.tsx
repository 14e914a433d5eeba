'use client';
import { Box } from '@mui/material';
import { type ColourRanges, USUAL_RANGES } from '../../core/makers';
import { colourOf, toHex } from '../../core/parameters';
import { NumberField } from '../controls/NumberField';
import { endDrag } from '../state/session';

const SHOWN = 16;
const ROWS = [
  ['hue', '°', 1, 360],
  ['lightness', '%', 100, 100],
  ['strength', '%', 100, 100],
] as const;

/** Between which hues, lightnesses and strengths colours at chance lie, and what that looks like. */
export function ChanceColours({
  name,
  ranges,
  set,
}: {
  readonly name: string;
  readonly ranges: ColourRanges;
  readonly set: (ranges: ColourRanges, mark: string) => void;
}) {
  return (
    <Box sx={{ width: '100%', display: 'grid', gap: 0.5 }}>
      <Box role="img" aria-label={`Colours that ${name} may give`} sx={{ display: 'flex', height: 22 }}>
        {Array.from({ length: SHOWN }, (_, i) => (
          <Box key={i} sx={{ flex: 1, background: sample(ranges, i / (SHOWN - 1)) }} />
        ))}
      </Box>
      {ROWS.map(([what, unit, scale, most]) => (
        <Box key={what} sx={{ display: 'flex', gap: 0.75, alignItems: 'center' }}>
          <Box component="span" sx={{ minWidth: 74 }}>
            {what}
          </Box>
          {[0, 1].map((end) => (
            <NumberField
              key={end}
              label={`${end ? 'Greatest' : 'Least'} ${what} of ${name}`}
              value={Math.round(ranges[what][end]! * scale)}
              unit={unit}
              // A hue may go past red; of the others the least is not above the greatest.
              min={what === 'hue' || end === 0 ? 0 : Math.round(ranges[what][0] * scale)}
              max={what === 'hue' || end === 1 ? most : Math.round(ranges[what][1] * scale)}
              step={1}
              usual={USUAL_RANGES[what][end]! * scale}
              onChange={(v) => {
                const [least, greatest] = ranges[what];
                set(
                  { ...ranges, [what]: end ? [least, v / scale] : [v / scale, greatest] },
                  `${what} ${end}`,
                );
              }}
              onEnd={endDrag}
              sx={{ color: 'inherit', fontSize: '0.9rem' }}
            />
          ))}
        </Box>
      ))}
    </Box>
  );
}

const colour = [0, 0, 0];
/** One of them: along the hues, and in waves between the ends of the rest. */
function sample({ hue: [from, to], lightness, strength }: ColourRanges, x: number): string {
  const span = to >= from ? to - from : to - from + 360,
    wave = 0.5 - 0.5 * Math.cos(x * SHOWN * 2);
  const within = ([a, b]: readonly [number, number]): number => a + (b - a) * wave;
  colourOf(from + span * x, within(lightness), within(strength), colour);
  return toHex(colour[0]!, colour[1]!, colour[2]!);
}
