'use client';
import { Box, Button, Typography } from '@mui/material';
import { changeGroup, findParameter, findSignal, type RouteGroup, type Show } from '../../core/show';
import { Sheet } from '../controls/Sheet';
import { edit } from '../state/session';
import { look } from '../state/view';

/** A folded group: many routes as one row, at the end of one ribbon. */
export function GroupCard({ group, show }: { readonly group: RouteGroup; readonly show: Show }) {
  const routes = show.routes.filter((r) => r.group === group.id);
  const labels = new Set(routes.map((r) => findParameter(show, r.target)?.parameter.label ?? 'lost target'));
  const sources = new Set(
    routes.map(
      (r) => findSignal(show, r.signal)?.ear?.name ?? findSignal(show, r.signal)?.name ?? 'lost signal',
    ),
  );
  return (
    <Box role="listitem" data-parameter={`group:${group.id}`}>
      <Sheet name={group.id} sx={{ p: 1, px: 1.5 }}>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, minHeight: 32 }}>
          <Typography
            variant="h3"
            component="h3"
            sx={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
          >
            {group.name}
          </Typography>
          <Button
            variant="text"
            aria-pressed={group.muted}
            aria-label={`Mute ${group.name}`}
            onClick={() =>
              edit(
                group.muted ? 'unmute a group' : 'mute a group',
                changeGroup(group.id, { muted: !group.muted }),
              )
            }
            sx={{ '&[aria-pressed=true]': { textDecoration: 'underline' } }}
          >
            {group.muted ? 'unmute' : 'mute'}
          </Button>
          <Button
            variant="text"
            aria-label={`Unfold ${group.name}`}
            onClick={() => edit('unfold a group', changeGroup(group.id, { folded: false }))}
          >
            unfold
          </Button>
        </Box>
        <Box
          component="button"
          onClick={() => {
            const first = routes[0];
            if (first) look({ route: first.id, signal: first.signal.split('/')[0]! });
          }}
          sx={{
            all: 'unset',
            cursor: 'pointer',
            color: 'var(--faint)',
            fontSize: '0.9rem',
            minHeight: 32,
            width: '100%',
          }}
        >
          {routes.length} × {[...labels].join(', ')} by {[...sources].join(', ')}
        </Box>
      </Sheet>
    </Box>
  );
}
