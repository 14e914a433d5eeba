'use client';
import { Box, Button, Menu, MenuItem, TextField } from '@mui/material';
import { IconAct } from '../controls/IconAct';
import { DataGrid, type GridColDef, type GridRowSelectionModel } from '@mui/x-data-grid';
import { useMemo, useRef, useState } from 'react';
import { heardOf } from '../bench/fitToHeard';
import { routeSignal, tempoSignal } from '../../core/plan';
import {
  addGroup,
  aimRoutes,
  applyShape,
  changeGroup,
  changeRoutes,
  changeShaping,
  type Command,
  endSolo,
  findParameter,
  findSignal,
  followSignal,
  freeId,
  freeName,
  isRoutable,
  parameterKey,
  removeGroup,
  removeRoutes,
  type Route,
  type Show,
  signalsOf,
  thingsOf,
} from '../../core/show';
import { OUR_SHAPES } from '../../core/shaping';
import { LiveText } from '../controls/LiveText';
import { live, useFrame } from '../live/live';
import { currentShow, edit, useSession } from '../state/session';
import { look, useView } from '../state/view';

interface Row {
  readonly id: string;
  readonly signal: string;
  readonly target: string;
  readonly combine: string;
  readonly amount: number;
  readonly group: string;
  readonly state: string;
}

function rowOf(show: Show, r: Route): Row {
  const end = findParameter(show, r.target),
    group = show.groups.find((g) => g.id === r.group);
  const signal = findSignal(show, r.signal)?.name;
  const words = [
    !signal || !end ? 'torn' : '',
    r.muted || group?.muted ? 'muted' : '',
    r.soloed || group?.soloed ? 'solo' : '',
    r.bypassed || group?.bypassed ? 'bypassed' : '',
  ];
  return {
    id: r.id,
    signal: signal ?? 'lost signal',
    target: end ? `${end.thing.name} · ${end.parameter.label}` : 'lost target',
    combine: r.combine,
    amount: Math.round(r.shaping.amount * 100),
    group: group?.name ?? '',
    state: words.filter(Boolean).join(', '),
  };
}

const COLUMNS: readonly GridColDef<Row>[] = [
  { field: 'signal', headerName: 'Signal', flex: 1.3, minWidth: 130 },
  { field: 'target', headerName: 'Moves', flex: 1.3, minWidth: 130 },
  {
    field: 'now',
    headerName: 'Now',
    width: 84,
    sortable: false,
    renderCell: ({ row }) => (
      <LiveText
        read={() => {
          const x = live.signal(routeSignal(row.id));
          return Number.isFinite(x) ? x.toFixed(2).replace('-', '−') : '–';
        }}
      />
    ),
  },
  { field: 'amount', headerName: 'Amount %', width: 100, type: 'number', editable: true },
  { field: 'combine', headerName: 'Combines', width: 104 },
  { field: 'group', headerName: 'Group', width: 110 },
  { field: 'state', headerName: 'State', width: 120 },
];

/** One route a row: found by name or by what moved, chosen and changed many at once, by mouse or by keyboard alone. */
export function RouteList() {
  const show = useSession((s) => s.history.show);
  const selected = useView((v) => v.route);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [search, setSearch] = useState('');
  const [moved, setMoved] = useState<ReadonlySet<string> | null>(null);
  const lately = useLately();
  const rows = useMemo(() => show.routes.map((r) => rowOf(show, r)), [show]);
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = rows.filter(
    (r) =>
      (moved === null || moved.has(r.id)) &&
      words.every((w) =>
        `${r.signal} ${r.target} ${r.group} ${r.state} ${r.combine}`.toLowerCase().includes(w),
      ),
  );
  const ids = show.routes.filter((r) => chosen.has(r.id)).map((r) => r.id);
  const act = (what: string, command: Command): void =>
    edit(`${what} (${ids.length === 1 ? 'one route' : `${ids.length} routes`})`, command);
  return (
    <Box
      component="section"
      aria-label="List of routes"
      sx={{ height: '100%', display: 'flex', flexDirection: 'column', gap: 1, minHeight: 0, pb: 1 }}
    >
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', flexWrap: 'wrap' }}>
        <TextField
          size="small"
          placeholder="Search"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
          slotProps={{ htmlInput: { 'aria-label': 'Search routes' } }}
          sx={{ width: 170 }}
        />
        <Button
          variant="text"
          aria-pressed={moved !== null}
          onClick={() => setMoved(moved === null ? lately() : null)}
          title="Only the routes that moved something within the last bar"
        >
          moved lately
        </Button>
        {(show.routes.some((r) => r.soloed) || show.groups.some((g) => g.soloed)) && (
          <Button variant="contained" onClick={() => edit('end solo', endSolo)}>
            end solo
          </Button>
        )}
        <Box sx={{ flex: 1 }} />
        <Box role="status" sx={{ fontSize: '0.9rem' }}>
          {ids.length ? `${ids.length} chosen` : `${shown.length} of ${rows.length}`}
        </Box>
      </Box>
      {ids.length > 0 && <Batch show={show} ids={ids} act={act} done={() => setChosen(new Set())} />}
      <Groups
        show={show}
        choose={(group) => setChosen(new Set(show.routes.filter((r) => r.group === group).map((r) => r.id)))}
      />
      <Box
        sx={(t) => ({
          flex: 1,
          minHeight: 0,
          '& .MuiDataGrid-root': {
            border: 'none',
            background: t.ink.sheet,
            color: t.ink.sheetText,
            fontFamily: 'inherit',
            borderRadius: 0,
            '--DataGrid-rowBorderColor': t.ink.ground,
          },
          '& .MuiDataGrid-columnHeader, & .MuiDataGrid-filler, & .MuiDataGrid-scrollbarFiller': {
            background: t.ink.groundLine,
            color: t.ink.sheetText,
          },
          '& .MuiDataGrid-row.Mui-selected': { background: `${t.ink.sheetQuiet} !important` },
          '& .is-open': { boxShadow: `inset 5px 0 0 ${t.ink.selected}` },
        })}
      >
        <DataGrid
          rows={shown}
          columns={COLUMNS}
          density="compact"
          checkboxSelection
          hideFooter
          disableColumnMenu
          disableRowSelectionExcludeModel
          rowSelectionModel={{ type: 'include', ids: new Set(chosen) }}
          onRowSelectionModelChange={(m: GridRowSelectionModel) => setChosen(new Set([...m.ids].map(String)))}
          disableRowSelectionOnClick
          keepNonExistentRowsSelected
          onRowClick={({ id }) =>
            look({ route: String(id), signal: currentShow().routes.find((r) => r.id === id)?.signal ?? null })
          }
          onCellKeyDown={({ id, field }, e) => {
            if (e.key === 'Enter' && field !== 'amount') {
              e.preventDefault();
              look({ route: String(id) });
            }
            e.stopPropagation();
          }}
          processRowUpdate={(next: Row, old: Row) => {
            const amount = Number(next.amount);
            if (!(amount >= 0 && amount <= 200)) return old;
            if (amount !== old.amount)
              edit('set an amount', changeShaping(next.id, { amount: amount / 100 }));
            return { ...next, amount };
          }}
          getRowClassName={({ id }) => (id === selected ? 'is-open' : '')}
          localeText={{
            noRowsLabel: rows.length
              ? 'No route is called so, or none moved.'
              : 'No routes yet. Drag a signal onto what it shall move.',
          }}
          aria-label="Routes"
        />
      </Box>
    </Box>
  );
}

/** Which routes changed their number within the last bar; watched while the list is open. */
function useLately(): () => ReadonlySet<string> {
  const seen = useRef(new Map<string, { value: number; at: number }>()),
    last = useRef(0);
  useFrame((now) => {
    if (now - last.current < 100) return;
    last.current = now;
    for (const { id } of currentShow().routes) {
      const x = live.signal(routeSignal(id)),
        was = seen.current.get(id);
      if (!was) seen.current.set(id, { value: x, at: -Infinity });
      else if (Math.abs(x - was.value) > 0.02) {
        was.value = x;
        was.at = now;
      }
    }
  });
  return () => {
    const bpm = live.signal(tempoSignal('bpm')) || 120,
      bar = (60000 / bpm) * (live.signal(tempoSignal('perBar')) || 4);
    return new Set([...seen.current].filter(([, { at }]) => performance.now() - at < bar).map(([id]) => id));
  };
}

/** What can be done to many routes at once. */
function Batch({
  show,
  ids,
  act,
  done,
}: {
  readonly show: Show;
  readonly ids: readonly string[];
  readonly act: (what: string, command: Command) => void;
  readonly done: () => void;
}) {
  const [menu, setMenu] = useState<{
    at: HTMLElement;
    what: 'signal' | 'target' | 'shape' | 'combine';
  } | null>(null);
  const chosen = show.routes.filter((r) => ids.includes(r.id));
  const all = (of: (r: Route) => boolean): boolean => chosen.every(of);
  const open =
    (what: NonNullable<typeof menu>['what']) =>
    (e: { currentTarget: HTMLElement }): void =>
      setMenu({ at: e.currentTarget, what });
  const pick = (what: string, command: Command): void => {
    setMenu(null);
    act(what, command);
  };
  const amounts = new Set(chosen.map((r) => Math.round(r.shaping.amount * 100)));
  const group = (): void => {
    const id = freeId(show, 'group');
    act(
      'group',
      addGroup(
        {
          id,
          name: freeName(show.groups, 'Group'),
          muted: false,
          soloed: false,
          bypassed: false,
          folded: false,
        },
        ids,
      ),
    );
  };
  return (
    <Box
      role="toolbar"
      aria-label="With the chosen routes"
      sx={(t) => ({
        display: 'flex',
        flexWrap: 'wrap',
        gap: 0.25,
        alignItems: 'center',
        background: t.ink.paper,
        color: t.ink.paperText,
        p: 0.5,
        '& button': { color: 'inherit' },
      })}
    >
      <Button variant="text" onClick={() => act('mute', changeRoutes(ids, { muted: !all((r) => r.muted) }))}>
        {all((r) => r.muted) ? 'unmute' : 'mute'}
      </Button>
      <Button
        variant="text"
        onClick={() => act('solo', changeRoutes(ids, { soloed: !all((r) => r.soloed) }))}
      >
        {all((r) => r.soloed) ? 'no solo' : 'solo'}
      </Button>
      <Button
        variant="text"
        onClick={() => act('bypass', changeRoutes(ids, { bypassed: !all((r) => r.bypassed) }))}
      >
        {all((r) => r.bypassed) ? 'no bypass' : 'bypass'}
      </Button>
      <Button
        variant="text"
        onClick={() =>
          act('half the amount', (d) => {
            for (const r of d.routes)
              if (ids.includes(r.id)) r.shaping.amount = Number((r.shaping.amount / 2).toFixed(3));
          })
        }
      >
        half the amount{amounts.size > 1 ? ' (mixed)' : ` (${[...amounts][0]} %)`}
      </Button>
      <Button
        variant="text"
        onClick={() =>
          act('full amount', (d) => {
            for (const r of d.routes) if (ids.includes(r.id)) r.shaping.amount = 1;
          })
        }
      >
        full amount
      </Button>
      <Button variant="text" aria-haspopup="menu" onClick={open('combine')}>
        combine
      </Button>
      <Button variant="text" aria-haspopup="menu" onClick={open('shape')}>
        shape
      </Button>
      <Button variant="text" aria-haspopup="menu" onClick={open('signal')}>
        give another signal
      </Button>
      <Button variant="text" aria-haspopup="menu" onClick={open('target')}>
        aim elsewhere
      </Button>
      <Button variant="text" onClick={group}>
        group
      </Button>
      <IconAct
        act="delete"
        onClick={() => {
          act('delete', removeRoutes(ids));
          done();
          look({ route: null });
        }}
      />
      <Menu
        anchorEl={menu?.at ?? null}
        open={menu !== null}
        onClose={() => setMenu(null)}
        slotProps={{ list: { 'aria-label': 'Choose' } }}
      >
        {menu?.what === 'signal' &&
          signalsOf(show)
            .filter((s) => isRoutable(s))
            .map((s) => (
              <MenuItem
                key={s.id}
                onClick={() => pick('give another signal', followSignal(show, ids, s, heardOf))}
              >
                {s.name}
              </MenuItem>
            ))}
        {menu?.what === 'target' &&
          thingsOf(show).flatMap((t) =>
            t.parameters.map((p) => (
              <MenuItem
                key={`${t.id}/${p.id}`}
                onClick={() => pick('aim elsewhere', aimRoutes(ids, { thing: t.id, parameter: p.id }))}
              >
                {t.name} · {p.label}
              </MenuItem>
            )),
          )}
        {menu?.what === 'shape' &&
          [
            ...OUR_SHAPES.map(([name, shaping]) => ({ id: name, name, shaping })),
            // Those that were kept on the bench.
            ...show.shapes,
          ].map((s) => (
            <MenuItem key={s.id} onClick={() => pick(`use the shape ${s.name}`, applyShape(ids, s.shaping))}>
              {s.name}
            </MenuItem>
          ))}
        {menu?.what === 'combine' &&
          (['add', 'subtract', 'multiply', 'greatest', 'least', 'average', 'replace'] as const).map((c) => (
            <MenuItem key={c} onClick={() => pick('how routes combine', changeRoutes(ids, { combine: c }))}>
              {c}
            </MenuItem>
          ))}
      </Menu>
    </Box>
  );
}

/** Groups, each muted, soloed and bypassed as a whole. */
function Groups({ show, choose }: { readonly show: Show; readonly choose: (group: string) => void }) {
  if (show.groups.length === 0) return null;
  return (
    <Box
      role="list"
      aria-label="Groups"
      sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, maxHeight: 120, overflowY: 'auto' }}
    >
      {show.groups.map((g) => {
        const n = show.routes.filter((r) => r.group === g.id).length,
          targets = new Set(show.routes.filter((r) => r.group === g.id).map((r) => parameterKey(r.target)))
            .size;
        return (
          <Box
            key={g.id}
            role="listitem"
            sx={(t) => ({
              display: 'flex',
              alignItems: 'center',
              background: t.ink.sheet,
              pl: 1,
              '& button': { minHeight: 34, px: 0.75 },
              '& button[aria-pressed=true]': { background: t.ink.paper, color: t.ink.paperText },
            })}
          >
            <Button
              variant="text"
              title={`${n} routes to ${targets} parameters. Press to choose them.`}
              onClick={() => choose(g.id)}
              sx={{ fontWeight: 700 }}
            >
              {g.name} ({n})
            </Button>
            <Button
              variant="text"
              aria-pressed={g.muted}
              aria-label={`Mute the group ${g.name}`}
              onClick={() =>
                edit(g.muted ? 'unmute a group' : 'mute a group', changeGroup(g.id, { muted: !g.muted }))
              }
            >
              mute
            </Button>
            <Button
              variant="text"
              aria-pressed={g.soloed}
              aria-label={`Solo the group ${g.name}`}
              onClick={() =>
                edit(
                  g.soloed ? 'end the solo of a group' : 'solo a group',
                  changeGroup(g.id, { soloed: !g.soloed }),
                )
              }
            >
              solo
            </Button>
            <Button
              variant="text"
              aria-pressed={g.bypassed}
              aria-label={`Bypass the group ${g.name}`}
              onClick={() => edit('bypass a group', changeGroup(g.id, { bypassed: !g.bypassed }))}
            >
              bypass
            </Button>
            <Button
              variant="text"
              aria-pressed={g.folded}
              aria-label={`Fold the group ${g.name}`}
              onClick={() =>
                edit(g.folded ? 'unfold a group' : 'fold a group', changeGroup(g.id, { folded: !g.folded }))
              }
            >
              {g.folded ? 'unfold' : 'fold'}
            </Button>
            <Button
              variant="text"
              aria-label={`Dissolve the group ${g.name}`}
              onClick={() => edit('dissolve a group', removeGroup(g.id))}
            >
              dissolve
            </Button>
          </Box>
        );
      })}
    </Box>
  );
}
