'use client';
import { Box, Button, ListSubheader, Menu, MenuItem } from '@mui/material';
import { useRef, useState } from 'react';
import { LASER_LABELS, pathsOfForm, POINT, POINTS_MOST } from '../../../core/laser';
import { ILDA_WRITTEN, type IldaFormat, writeIlda } from '../../../core/protocols';
import type { LaserFigure } from '../../../core/show';
import { LaserViewReader } from '../../../engine/memory/laserView';
import { Sheet } from '../../controls/Sheet';
import { say } from '../../state/notices';
import { saveBlob } from '../../state/saveBlob';
import { theEngine, useSession } from '../../state/session';
import { look } from '../../state/view';
import { addLaser, NEW_FORMS, takeLaserFile } from './newLaser';

/** What the laser draws, in its order: what comes last is given up first where it is too much. */
export function LaserStrip({ chosen }: { readonly chosen: string | null }) {
  const figures = useSession((s) => s.history.show.laserFigures),
    routes = useSession((s) => s.history.show.routes);
  const [at, setAt] = useState<HTMLElement | null>(null),
    [saving, setSaving] = useState<HTMLElement | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const about = (f: LaserFigure): string => {
    const n = routes.filter((r) => r.target.thing === f.id).length;
    return f.off ? 'off' : n === 0 ? 'still' : n === 1 ? '1 route' : `${n} routes`;
  };
  return (
    <Box
      role="group"
      aria-label="Figures of the laser"
      sx={{ display: 'flex', gap: 1, alignItems: 'stretch', overflowX: 'auto', minHeight: 74, pb: 0.5 }}
    >
      {figures.map((f) => (
        <Sheet key={f.id} name={f.id} picked={f.id === chosen} sx={{ flex: 'none', width: 138 }}>
          <Box
            component="button"
            aria-pressed={f.id === chosen}
            onClick={() => look({ laser: f.id })}
            sx={(t) => ({
              all: 'unset',
              cursor: 'pointer',
              boxSizing: 'border-box',
              width: '100%',
              height: '100%',
              p: 0.75,
              display: 'grid',
              gridTemplateColumns: '42px minmax(0, 1fr)',
              gap: 0.75,
              alignItems: 'center',
              '&:focus-visible': { outline: `3px solid ${t.ink.now}`, outlineOffset: -3 },
            })}
          >
            <Glyph figure={f} />
            <Box sx={{ minWidth: 0 }}>
              <Box
                sx={{ fontWeight: 700, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
              >
                {f.name}
              </Box>{' '}
              <Box sx={{ color: 'var(--faint)', fontSize: '0.86rem' }}>{about(f)}</Box>
            </Box>
          </Box>
        </Sheet>
      ))}
      <Box
        sx={{ display: 'flex', flexDirection: 'column', justifyContent: 'center', flex: 'none', gap: 0.25 }}
      >
        <Button variant="text" onClick={(e) => setAt(e.currentTarget)}>
          + figure
        </Button>
        {figures.length > 0 && (
          <Button
            variant="text"
            title="One frame in the ILDA format: what the laser is to draw at this moment"
            aria-haspopup="menu"
            onClick={(e) => setSaving(e.currentTarget)}
          >
            save a frame
          </Button>
        )}
      </Box>
      <Menu open={saving !== null} anchorEl={saving} onClose={() => setSaving(null)}>
        {ILDA_WRITTEN.map((format) => (
          <MenuItem
            key={format}
            onClick={() => {
              setSaving(null);
              saveFrame(format);
            }}
          >
            {FORMAT_WORDS[format]}
          </MenuItem>
        ))}
      </Menu>
      <Menu open={at !== null} anchorEl={at} onClose={() => setAt(null)}>
        {Object.entries(NEW_FORMS).map(([kind, form]) => (
          <MenuItem
            key={kind}
            onClick={() => {
              setAt(null);
              addLaser(form);
            }}
          >
            {LASER_LABELS[form.kind]}
          </MenuItem>
        ))}
        <ListSubheader sx={{ background: 'transparent', color: 'inherit', lineHeight: '30px' }}>
          from a file
        </ListSubheader>
        <MenuItem
          onClick={() => {
            setAt(null);
            input.current?.click();
          }}
        >
          drawing (SVG) or frames (ILDA) …
        </MenuItem>
      </Menu>
      <input
        ref={input}
        hidden
        type="file"
        aria-label="Drawing or frames"
        accept=".svg,.ild,.ilda,image/svg+xml"
        onChange={(e) => {
          const file = e.currentTarget.files?.[0];
          e.currentTarget.value = '';
          if (file) void takeLaserFile(file);
        }}
      />
    </Box>
  );
}

const FORMAT_WORDS: Readonly<Record<IldaFormat, string>> = {
  5: 'ILDA, true colour (format 5)',
  4: 'ILDA, true colour, three dimensions (format 4)',
  1: 'ILDA, with a palette (format 1)',
  0: 'ILDA, with a palette, three dimensions (format 0)',
};
/** What is wanted now, as a file that other programs read. */
function saveFrame(format: IldaFormat): void {
  const memory = theEngine()?.laserMemory;
  if (!memory) return;
  const reader = new LaserViewReader(memory);
  reader.read();
  if (reader.count === 0) {
    say('warning', 'There is nothing to save: nothing is drawn at this moment.');
    return;
  }
  const points = reader.wanted.slice(0, POINT * Math.min(reader.count, POINTS_MOST)),
    bytes = writeIlda([{ name: 'batucada', points }], format);
  say('done', `Saved as ${saveBlob(new Blob([bytes]), 'laser-frame.ild')}.`);
}

/** A figure's own shape, small. */
function Glyph({ figure: { form } }: { readonly figure: LaserFigure }) {
  const paths = pathsOfForm(form);
  let d = '';
  for (let p = 0; p < paths.paths; p++)
    for (let i = paths.starts[p]!; i < paths.starts[p + 1]!; i++)
      d += `${i === paths.starts[p] ? 'M' : 'L'}${paths.corners[i * POINT]!.toFixed(2)} ${(-paths.corners[i * POINT + 1]!).toFixed(2)}`;
  return (
    <Box component="svg" viewBox="-1.2 -1.2 2.4 2.4" aria-hidden sx={{ width: 42, height: 42 }}>
      <path
        d={d || 'M-1 -0.6H1V0.6H-1Z'}
        fill="none"
        stroke="currentColor"
        strokeWidth={paths.length > 0 || !d ? 0.09 : 0.3}
        strokeLinecap="round"
        strokeDasharray={d ? undefined : '0.2 0.16'}
      />
    </Box>
  );
}
