'use client';
import { Box, ButtonBase, Divider, Menu, MenuItem, TextField } from '@mui/material';
import { useRef, useState } from 'react';
import { EXAMPLES } from '../../core/ferry';
import { renameShow, STARTING_POINTS, type StartingPoint } from '../../core/show';
import { SHOW_FILE_ENDING } from '../../data/showFile';
import {
  currentShow,
  edit,
  exportShow,
  importShow,
  playExample,
  playFerry,
  redoEdit,
  undoEdit,
  useSession,
} from '../state/session';
import { goTo, look, setMode, useView } from '../state/view';
import { beginPath } from './FirstPath';
import { KeptShows } from './KeptShows';
import { NewShow } from './NewShow';

/** Adds a starting point that listens to the input that is looked at. */
function add(point: StartingPoint): void {
  const show = currentShow(),
    input = useView.getState().input;
  const made = point.make(show, (show.inputs.find((i) => i.id === input) ?? show.inputs[0]!).id);
  edit(`add ${point.name.toLowerCase()}`, (d) => {
    Object.assign(d, made.show);
  });
  goTo('route');
  look({ route: made.route, signal: made.show.routes.find((r) => r.id === made.route)?.signal ?? null });
}

/** Everything about the show as a whole. */
export function ShowMenu() {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [listing, setListing] = useState(false),
    [making, setMaking] = useState(false);
  const show = useSession((s) => s.history.show);
  const past = useSession((s) => s.history.past.at(-1)?.label);
  const future = useSession((s) => s.history.future[0]?.label);
  const saved = useSession((s) => s.saved);
  const mode = useView((v) => v.mode);
  const file = useRef<HTMLInputElement>(null);
  const close = (): void => setAt(null);
  const then = (act: () => unknown) => () => {
    close();
    void act();
  };
  return (
    <>
      <ButtonBase
        aria-label="Show menu"
        aria-haspopup="menu"
        onClick={(e) => setAt(e.currentTarget)}
        sx={(t) => ({
          height: 56,
          width: 48,
          mb: 1,
          mt: 0.5,
          background: saved === 'full' ? t.ink.paper : t.ink.sheet,
          color: saved === 'full' ? t.ink.paperText : t.ink.sheetText,
          fontWeight: 700,
          fontSize: '0.9rem',
          clipPath: 'polygon(0 0, 100% 3px, calc(100% - 2px) 100%, 0 calc(100% - 2px))',
          '&:hover': { background: t.ink.sheetQuiet },
        })}
      >
        Show
      </ButtonBase>
      <Menu
        anchorEl={at}
        open={at !== null}
        onClose={close}
        anchorOrigin={{ vertical: 'top', horizontal: 'right' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ list: { 'aria-label': 'Show menu' }, paper: { sx: { minWidth: 300 } } }}
      >
        <Box
          sx={{ px: 2, py: 1 }}
          onKeyDown={(e) => {
            if (e.key !== 'Escape') e.stopPropagation();
          }}
        >
          <TextField
            size="small"
            fullWidth
            label="Name of the show"
            value={show.name}
            onChange={(e) => {
              if (e.target.value.trim())
                edit('rename the show', renameShow(e.target.value.slice(0, 80)), 'rename');
            }}
            slotProps={{ inputLabel: { sx: { color: 'inherit' } }, input: { sx: { color: 'inherit' } } }}
          />
          <Box sx={{ fontSize: '0.84rem', mt: 0.75 }}>
            {saved === 'full'
              ? 'Not saved: the browser’s store is full. Save to a file.'
              : saved === 'saving'
                ? 'Saving …'
                : 'Saved in this browser.'}
          </Box>
        </Box>
        <Divider />
        <MenuItem disabled={!past} onClick={then(undoEdit)}>
          Undo{past ? `: ${past}` : ''}
        </MenuItem>
        <MenuItem disabled={!future} onClick={then(redoEdit)}>
          Redo{future ? `: ${future}` : ''}
        </MenuItem>
        <Divider />
        <MenuItem onClick={then(exportShow)}>Save to a file</MenuItem>
        <MenuItem onClick={then(() => file.current?.click())}>Open a file …</MenuItem>
        <MenuItem onClick={then(() => setListing(true))}>Shows in this browser …</MenuItem>
        <MenuItem onClick={then(() => setMaking(true))}>New show …</MenuItem>
        <MenuItem onClick={then(playFerry)}>The Night Ferry, fresh</MenuItem>
        <Box component="li" role="presentation" sx={{ px: 2, pt: 1, fontSize: '0.84rem' }}>
          Small shows to look into
        </Box>
        {EXAMPLES.map((e) => (
          <MenuItem key={e.id} title={e.help} onClick={then(() => playExample(e.id))}>
            {e.name}
          </MenuItem>
        ))}
        {show.inputs.length > 0 && (
          <Box component="li" role="presentation" sx={{ px: 2, pt: 1, fontSize: '0.84rem' }}>
            Add to this show
          </Box>
        )}
        {show.inputs.length > 0 &&
          STARTING_POINTS.map((p) => (
            <MenuItem key={p.name} title={p.help} onClick={then(() => add(p))}>
              {p.name}
            </MenuItem>
          ))}
        <Divider />
        <MenuItem onClick={then(() => setMode(mode === 'night' ? 'day' : 'night'))}>
          {mode === 'night' ? 'Day theme' : 'Night theme'}
        </MenuItem>
        <MenuItem
          title="Six short steps on the running show, each done by doing it."
          onClick={then(beginPath)}
        >
          The first path
        </MenuItem>
        <MenuItem onClick={then(() => look({ keys: true }))}>Keys</MenuItem>
      </Menu>
      {making && <NewShow onClose={() => setMaking(false)} />}
      {listing && <KeptShows onClose={() => setListing(false)} />}
      <input
        ref={file}
        type="file"
        accept={SHOW_FILE_ENDING}
        hidden
        aria-label="Open a show file"
        onChange={(e) => {
          const f = e.currentTarget.files?.[0];
          e.currentTarget.value = '';
          if (f) void importShow(f);
        }}
      />
    </>
  );
}
