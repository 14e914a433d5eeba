'use client';
import { Box, Button, Menu, MenuItem, Typography } from '@mui/material';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { figureBox, figureKindLabel, PICTURE_HEIGHT, PICTURE_WIDTH, type FigureForm } from '../../core/figures/kinds';
import { addFigure, changeFigure, duplicateFigure, freeId, freeName, mirrorTwin, removeThing, renameThing, reorderFigure, twinFigure } from '../../core/show/commands';
import { thingsOf } from '../../core/show/things';
import type { Figure } from '../../core/show/types';
import { formatNumber } from '../../core/parameters/description';
import { LiveText } from '../controls/LiveText';
import { ColourNow } from '../controls/ParameterTrack';
import { Sheet } from '../controls/Sheet';
import { ThingPanel } from '../controls/ThingPanel';
import { live } from '../live/live';
import { currentShow, edit, endDrag, useSession } from '../state/session';
import { say } from '../state/notices';
import { look, useView } from '../state/view';
import { PictureStage } from './PictureStage';
import { Thumbnail } from './Thumbnail';

const NEW: readonly (readonly [string, FigureForm, { x: number; y: number }])[] = [
  ['Sail', { kind: 'print', form: 'sail' }, { x: 520, y: 200 }], ['Block', { kind: 'print', form: 'block' }, { x: 640, y: 300 }], ['Moon', { kind: 'print', form: 'moon' }, { x: 320, y: 540 }], ['Ferry', { kind: 'print', form: 'ferry' }, { x: 640, y: 150 }],
  ['Waves', { kind: 'waves', rows: 3 }, { x: 0, y: 60 }], ['Lanterns', { kind: 'lanterns', count: 8, width: 700 }, { x: 640, y: 420 }],
  ['Dial', { kind: 'dial', marks: 11 }, { x: 640, y: 360 }], ['Meter', { kind: 'meter', segments: 12, upright: true }, { x: 640, y: 180 }], ['Meter lying', { kind: 'meter', segments: 20, upright: false }, { x: 380, y: 120 }], ['Stars', { kind: 'stars', count: 24 }, { x: 0, y: 360 }],
];

/** Picture: what is drawn, directly handled; its figures; and everything about the selected one. */
export function PicturePlace() {
  const show = useSession((s) => s.history.show);
  const rate = useSession((s) => s.picture.rate);
  const chosen = useView((v) => v.figure);
  const numbers = useView((v) => v.numbers);
  const figure = show.figures.find((f) => f.id === chosen) ?? show.figures.find((f) => f.id === 'ferry') ?? show.figures[0];
  const thing = figure ? thingsOf(show).find((t) => t.id === figure.id) : undefined;
  const [at, setAt] = useState<HTMLElement | null>(null);
  const add = (name: string, form: FigureForm, place: { x: number; y: number }): void => {
    setAt(null);
    const id = freeId(currentShow(), 'figure');
    edit(`add ${name}`, addFigure({ id, name: freeName(currentShow().figures, name), form, at: place, hidden: false, twin: null, rest: {} }));
    look({ figure: id });
  };
  const screen = (): void => {
    if (!window.open('/screen', 'batucada-screen', 'popup,width=1280,height=720')) say('warning', 'The browser blocked the screen window. Allow pop-ups for this address, and try again.');
  };
  return (
    <Box sx={{ height: '100%', display: 'grid', gridTemplateColumns: { xs: 'minmax(0,1fr)', md: 'minmax(0, 1fr) minmax(330px, 372px)' }, overflow: { xs: 'auto', md: 'hidden' } }}>
      <Box sx={{ display: 'grid', gridTemplateRows: 'minmax(160px, 1fr) auto auto', minHeight: 0, px: 1.5, pt: 1, gap: 1, minWidth: 0 }}>
        {/* As large as fits, and never out of shape. */}
        <Box sx={{ minHeight: 0, minWidth: 0, display: 'grid', placeItems: 'center', overflow: 'hidden', containerType: 'size' }}>
          <PictureStage most={1280} sx={{ width: `min(100cqw, ${(100 * PICTURE_WIDTH) / PICTURE_HEIGHT}cqh)`, height: 'auto' }}>{figure && <Handles figure={figure} figures={show.figures} />}{figure && numbers && <Numbers figure={figure} />}</PictureStage>
        </Box>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5 }}>
          <Typography variant="h2">Figures, back to front</Typography>
          <Box sx={{ flex: 1 }} />
          <Box sx={(t) => ({ color: t.ink.sheetFaint, fontSize: '0.9rem', whiteSpace: 'nowrap' })}>{PICTURE_WIDTH} × {PICTURE_HEIGHT} · {Math.round(rate)} frames/s here</Box>
          <Button variant="text" aria-pressed={numbers} onClick={() => look({ numbers: !numbers })} title="Writes what moves in the selected figure on the picture, in this window only." sx={(t) => ({ '&[aria-pressed=true]': { background: t.ink.paper, color: t.ink.paperText } })}>numbers</Button>
          <Button variant="outlined" onClick={screen}>Open a screen</Button>
          <Button variant="text" aria-haspopup="menu" onClick={(e) => setAt(e.currentTarget)}>+ figure</Button>
          <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>{NEW.map(([name, form, place]) => <MenuItem key={name} onClick={() => add(name, form, place)}>{name}<Box component="span" sx={{ ml: 1.5, opacity: 0.75 }}>{figureKindLabel(form.kind)}</Box></MenuItem>)}</Menu>
        </Box>
        <Box role="list" aria-label="Figures, back to front" sx={{ display: 'flex', gap: 1, overflowX: 'auto', pb: 1.25 }}>
          {show.figures.map((f) => {
            const routes = show.routes.filter((r) => r.target.thing === f.id).length;
            const picked = f.id === figure?.id;
            return (
              <Box key={f.id} role="listitem" sx={{ flex: '0 0 118px' }}>
                <Sheet name={f.id} picked={picked} sx={{ p: 0.75, opacity: f.hidden ? 0.6 : 1 }}>
                  <Box component="button" aria-pressed={picked} title={figureKindLabel(f.form.kind)} onClick={() => look({ figure: f.id })} sx={{ all: 'unset', cursor: 'pointer', display: 'block', width: '100%' }}>
                    <Thumbnail form={f.form} />
                    <Box sx={{ fontWeight: 700, fontSize: '0.95rem', mt: 0.5, whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}>{f.name}</Box>{' '}
                    <Box sx={{ color: 'var(--faint)', fontSize: '0.86rem' }}>{f.hidden ? 'hidden' : f.twin && routes === 0 ? `twin of ${show.figures.find((x) => x.id === f.twin!.of)?.name ?? 'one gone'}` : routes === 0 ? 'still' : routes === 1 ? '1 route' : `${routes} routes`}</Box>
                  </Box>
                </Sheet>
              </Box>
            );
          })}
        </Box>
      </Box>
      <Box component="section" aria-label="Selected figure" sx={(t) => ({ background: t.ink.paper, color: t.ink.paperText, '--mark': t.ink.paperText, '--bed': t.ink.paperDeep, '--faint': t.ink.paperFaint, px: 2.25, pt: 1.5, overflowY: 'auto', minHeight: 0, clipPath: 'polygon(0 2px, 100% 0, 100% 100%, 3px 100%, 0 62%, 3px 31%)' })}>
        {thing && figure ? (
          <ThingPanel
            thing={thing} onRename={(name) => edit('rename a figure', renameThing(figure.id, name))}
            footer={(
              <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5, py: 1.5, '& button': { color: 'inherit', '&:hover': { background: 'var(--bed)' } } }}>
                <Button variant="text" onClick={() => edit(figure.hidden ? 'show a figure' : 'hide a figure', changeFigure(figure.id, { hidden: !figure.hidden }))}>{figure.hidden ? 'show' : 'hide'}</Button>
                <Button variant="text" onClick={() => edit('move a figure back', reorderFigure(figure.id, show.figures.indexOf(figure) - 1))}>to the back</Button>
                <Button variant="text" onClick={() => edit('move a figure forward', reorderFigure(figure.id, show.figures.indexOf(figure) + 1))}>to the front</Button>
                <Button variant="text" title="Once more, with routes of its own that do the same" onClick={() => { const made = duplicateFigure(currentShow(), figure.id); if (made) { edit(`duplicate ${figure.name}`, made.command); look({ figure: made.figure }); } }}>duplicate</Button>
                <Button variant="text" title="A copy that follows in everything that it does not override" onClick={() => { const made = twinFigure(currentShow(), figure.id, true); if (made) { edit(`twin of ${figure.name}`, made.command); look({ figure: made.figure }); } }}>mirrored twin</Button>
                {figure.twin && <Button variant="text" onClick={() => edit('mirror a twin, or not', mirrorTwin(figure.id, !figure.twin!.mirrored))}>{figure.twin.mirrored ? 'not mirrored' : 'mirror it'}</Button>}
                {figure.twin && Object.keys(figure.rest).length > 0 && <Button variant="text" title="Its own rests are forgotten" onClick={() => edit('follow in everything', (d) => { const f = d.figures.find((x) => x.id === figure.id); if (f) f.rest = {}; })}>follow in everything</Button>}
                <Button variant="text" onClick={() => edit(`delete ${figure.name}`, removeThing(figure.id))}>delete</Button>
              </Box>
            )}
          />
        ) : <Typography sx={{ pt: 2 }}>The picture is empty. Press “+ figure”.</Typography>}
      </Box>
    </Box>
  );
}

/** The selected figure's box on the picture: dragged to move it, stepped with the arrow keys. A press elsewhere selects. */
function Handles({ figure, figures }: { readonly figure: Figure; readonly figures: readonly Figure[] }) {
  const drag = useRef<{ x: number; y: number; from: { x: number; y: number }; moved: boolean; scale: number } | null>(null);
  const fixed = (f: Figure): boolean => f.form.kind === 'ground';
  const bounds = (f: Figure): { x: number; y: number; w: number; h: number } => {
    const b = figureBox(f.form);
    return { x: f.at.x - b.width * b.anchorX, y: f.at.y - b.height * b.anchorY, w: b.width, h: b.height };
  };
  const b = bounds(figure);
  const down = (e: PointerEvent<HTMLDivElement>): void => {
    const r = e.currentTarget.getBoundingClientRect();
    const scale = PICTURE_WIDTH / r.width;
    const x = (e.clientX - r.left) * scale, y = PICTURE_HEIGHT - (e.clientY - r.top) * scale;
    const inside = (f: Figure): boolean => { const o = bounds(f); return x >= o.x && x <= o.x + o.w && y >= o.y && y <= o.y + o.h; };
    const hit = inside(figure) && !fixed(figure) ? figure : [...figures].reverse().find((f) => !f.hidden && !fixed(f) && inside(f));
    if (!hit) return;
    look({ figure: hit.id });
    e.currentTarget.setPointerCapture(e.pointerId);
    drag.current = { x: e.clientX, y: e.clientY, from: hit.at, moved: false, scale };
  };
  const move = (e: PointerEvent): void => {
    const d = drag.current;
    if (!d || (!d.moved && Math.hypot(e.clientX - d.x, e.clientY - d.y) < 4)) return;
    d.moved = true;
    edit(`place ${figure.name}`, changeFigure(figure.id, { at: { x: Math.round(d.from.x + (e.clientX - d.x) * d.scale), y: Math.round(d.from.y - (e.clientY - d.y) * d.scale) } }), `place ${figure.id}`);
  };
  const up = (): void => { if (drag.current?.moved) endDrag(); drag.current = null; };
  const keys = (e: KeyboardEvent): void => {
    const n = e.shiftKey ? 10 : 1;
    const by = { ArrowLeft: [-n, 0], ArrowRight: [n, 0], ArrowUp: [0, n], ArrowDown: [0, -n] }[e.key];
    if (!by || fixed(figure)) return;
    e.preventDefault();
    edit(`place ${figure.name}`, changeFigure(figure.id, { at: { x: figure.at.x + by[0]!, y: figure.at.y + by[1]! } }), `place ${figure.id}`);
  };
  const pc = (n: number, of: number): string => `${(n / of) * 100}%`;
  return (
    <Box role="application" tabIndex={0} aria-label={`${figure.name} in the picture. Arrow keys move it, with Shift by ten.`} onPointerDown={down} onPointerMove={move} onPointerUp={up} onPointerCancel={up} onKeyDown={keys} sx={{ position: 'absolute', inset: 0, touchAction: 'none', cursor: 'move' }}>
      {!fixed(figure) && (
        <Box aria-hidden sx={{ position: 'absolute', left: pc(Math.max(4, b.x), PICTURE_WIDTH), top: pc(Math.max(4, PICTURE_HEIGHT - b.y - b.h), PICTURE_HEIGHT), width: pc(Math.min(PICTURE_WIDTH - 8, b.w), PICTURE_WIDTH), height: pc(Math.min(b.h, PICTURE_HEIGHT), PICTURE_HEIGHT), border: '2px dotted #f2e9d4' }}>
          {[[0, 0], [1, 0], [0, 1], [1, 1]].map(([x, y]) => <Box key={`${x}${y}`} sx={{ position: 'absolute', left: `${x! * 100}%`, top: `${y! * 100}%`, width: 11, height: 11, m: '-6px', background: '#f2e9d4', border: '1.5px solid #14110f', transform: 'rotate(45deg)' }} />)}
          <Box sx={(t) => ({ position: 'absolute', left: pc(figureBox(figure.form).anchorX, 1), bottom: pc(figureBox(figure.form).anchorY, 1), borderLeft: '8px solid transparent', borderRight: '8px solid transparent', borderBottom: `13px solid ${t.ink.selected}`, ml: '-8px', mb: '-6px' })} />
        </Box>
      )}
    </Box>
  );
}

/** The numbers of the selected figure that something moves, written on the preview: never on a screen. */
function Numbers({ figure }: { readonly figure: Figure }) {
  const show = useSession((s) => s.history.show);
  const hands = useSession((s) => s.hands);
  const parameters = thingsOf(show).find((t) => t.id === figure.id)?.parameters.filter((p) => `${figure.id}/${p.id}` in hands || show.routes.some((r) => r.target.thing === figure.id && r.target.parameter === p.id)) ?? [];
  return (
    <Box role="list" aria-label={`Numbers of ${figure.name}`} sx={{ position: 'absolute', left: 0, top: 0, pointerEvents: 'none', background: 'rgba(12, 15, 17, .82)', color: '#f2e9d4', px: 1.25, py: 0.75, display: 'grid', gridTemplateColumns: 'auto auto', columnGap: 1.5, fontSize: '0.9rem' }}>
      {parameters.length === 0 && <Box role="listitem" sx={{ gridColumn: '1 / 3' }}>Nothing moves {figure.name}.</Box>}
      {parameters.map((p) => (
        <Box key={p.id} role="listitem" sx={{ display: 'contents' }}>
          <span>{p.label}</span>
          {p.kind === 'number' ? <LiveText read={() => { const v = live.parameter(`${figure.id}/${p.id}`); return Number.isFinite(v) ? formatNumber(v, p) : '–'; }} sx={{ textAlign: 'right', fontWeight: 700 }} /> : <ColourNow at={`${figure.id}/${p.id}`} />}
        </Box>
      ))}
    </Box>
  );
}
