'use client';
import { Box, type SxProps, type Theme } from '@mui/material';
import { changeRoutes, LEAD_MOST, type Route } from '../../core/show';
import { NumberField } from '../controls/NumberField';
import { edit, endDrag } from '../state/session';

/** How much before the beat a route's signal comes, for an output that is as late. */
export function LeadField({ route, sx }: { readonly route: Route; readonly sx?: SxProps<Theme> }) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
      <span>leads by</span>
      <NumberField
        label="Lead"
        value={route.leadMs ?? 0}
        unit="ms"
        min={0}
        max={LEAD_MOST}
        step={1}
        usual={0}
        onChange={(ms) =>
          edit('lead the beat', changeRoutes([route.id], { leadMs: Math.round(ms) }), `lead ${route.id}`)
        }
        onEnd={endDrag}
        sx={sx}
      />
    </Box>
  );
}
