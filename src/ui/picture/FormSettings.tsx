'use client';
import { Box, Button, Checkbox } from '@mui/material';
import { useRef, useState } from 'react';
import {
  anchorOf,
  ANCHORS,
  COPIES_MOST,
  COPY_SHAPES,
  COPY_WAYS,
  COVER_ROOM_MOST,
  type FigureForm,
  EDGE_DRAWING_MOST,
  EDGE_OUTLINES,
  EDGE_WAYS,
  type EdgeForm,
  LETTERS_ALIGNED,
  type LettersForm,
  PARTICLES_MOST,
  SOLID_LOOKS,
  SOLID_SHAPES,
  TEXT_FACES,
  TEXTURE_PATTERNS,
} from '../../core/figures';
import { readDrawing } from '../../core/laser';
import { SURFACE_MOST } from '../../core/overlays';
import {
  addRoute,
  changeFigure,
  type Figure,
  findParameter,
  findSignal,
  freeId,
  newRoute,
  boundsOf,
  textOf,
} from '../../core/show';
import { Choice } from '../controls/Choice';
import { NumberField } from '../controls/NumberField';
import { currentShow, edit, endDrag, useSession } from '../state/session';
import { say } from '../state/notices';
import { type Filed, FILES, takeFile } from './figureFiles';
import { growFrom } from './growFrom';
import { useOnSurface } from './surface';

/** Room that one who lets something cover the picture begins with, in %. */
const USUAL_ROOM = 10;
const same = <T extends string>(list: readonly T[]): (readonly [T, string])[] => list.map((x) => [x, x]);
/** What is fixed about the selected figure: shape, count, file, text. Each change is an edit. */
export function FormSettings({ figure }: { readonly figure: Figure }) {
  const { form } = figure;
  const set = (change: object, tag?: string): void =>
    edit(
      `change ${figure.name}`,
      changeFigure(figure.id, { form: { ...form, ...change } as FigureForm }),
      tag && `${tag} ${figure.id}`,
    );
  const count = (label: string, key: string, value: number, min: number, max: number): React.ReactNode => (
    <Box
      component="label"
      sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.75, fontSize: '0.9rem' }}
    >
      <span>{label}</span>
      <NumberField
        label={label}
        value={value}
        unit=""
        min={min}
        max={max}
        step={1}
        onChange={(v) => set({ [key]: Math.round(v) }, key)}
        onEnd={endDrag}
      />
    </Box>
  );
  const flag = (label: string, key: string, value: boolean): React.ReactNode => (
    <Box
      component="label"
      sx={{ display: 'inline-flex', alignItems: 'center', fontSize: '0.9rem', minHeight: 32 }}
    >
      <Checkbox
        size="small"
        checked={value}
        onChange={(e) => set({ [key]: e.target.checked })}
        sx={{ p: 0.75, color: 'inherit' }}
      />
      {label}
    </Box>
  );
  const parts: React.ReactNode[] = [];
  switch (form.kind) {
    case 'solid':
    case 'model':
      parts.push(
        form.kind === 'solid' ? (
          <Choice
            key="s"
            label="shape"
            value={form.shape}
            options={same(SOLID_SHAPES)}
            onChange={(shape) => set({ shape })}
          />
        ) : (
          <FileChoice key="f" kind="model" figure={figure} fileName={form.fileName} />
        ),
      );
      parts.push(
        <Choice
          key="l"
          label="drawn"
          value={form.look}
          options={same(SOLID_LOOKS)}
          onChange={(look) => set({ look })}
        />,
      );
      break;
    case 'copies':
      parts.push(
        <Choice
          key="s"
          label="shape"
          value={form.shape}
          options={same(COPY_SHAPES)}
          onChange={(shape) => set({ shape })}
        />,
        <span key="c">{count('how many', 'count', form.count, 1, COPIES_MOST)}</span>,
        <Choice
          key="w"
          label="along"
          value={form.along}
          options={COPY_WAYS.map((w) => [w, w === 'points' ? 'a figure’s points' : `a ${w}`])}
          onChange={(along) => set({ along })}
        />,
        ...(form.along === 'points'
          ? [
              <OtherFigure
                key="o"
                label="points of"
                figure={figure}
                value={form.of}
                onChange={(of) => set({ of })}
              />,
            ]
          : []),
        <span key="m">{flag('rows from the middle', 'fromMiddle', form.fromMiddle)}</span>,
      );
      break;
    case 'emitter':
      parts.push(
        <Choice
          key="s"
          label="shape"
          value={form.shape}
          options={
            [...same(COPY_SHAPES), ['picture', 'an image']] as (readonly [typeof form.shape, string])[]
          }
          onChange={(shape) => set({ shape })}
        />,
        <span key="c">{count('at most', 'most', form.most, 1, PARTICLES_MOST)}</span>,
      );
      if (form.shape === 'picture')
        parts.push(<FileChoice key="f" kind="emitter" figure={figure} fileName={form.fileName} />);
      break;
    case 'bars':
      parts.push(
        <span key="c">{count('how many', 'count', form.count, 1, 512)}</span>,
        <span key="b">{flag('both ways', 'bothWays', form.bothWays)}</span>,
      );
      break;
    case 'waveform':
      parts.push(<span key="r">{flag('round', 'round', form.round)}</span>);
      break;
    case 'spectrogram':
      parts.push(<span key="c">{count('seconds', 'seconds', form.seconds, 1, 60)}</span>);
      break;
    case 'dial':
      parts.push(<span key="c">{count('marks', 'marks', form.marks, 2, 61)}</span>);
      break;
    case 'meter':
      parts.push(
        <span key="c">{count('segments', 'segments', form.segments, 1, 200)}</span>,
        <span key="u">{flag('upright', 'upright', form.upright)}</span>,
      );
      break;
    case 'waves':
      parts.push(<span key="c">{count('rows', 'rows', form.rows, 1, 24)}</span>);
      break;
    case 'lanterns':
    case 'stars':
      parts.push(
        <span key="c">{count('how many', 'count', form.count, 1, form.kind === 'stars' ? 500 : 200)}</span>,
      );
      break;
    case 'texture':
      parts.push(
        <Choice
          key="p"
          label="pattern"
          value={form.pattern}
          options={same(TEXTURE_PATTERNS)}
          onChange={(pattern) => set({ pattern })}
        />,
        <span key="w">{flag('over the whole picture', 'whole', form.whole)}</span>,
      );
      break;
    case 'text':
      parts.push(
        <Words key="t" figure={figure} text={form.text} />,
        <Choice
          key="f"
          label="letters"
          value={form.face}
          options={same(TEXT_FACES)}
          onChange={(face) => set({ face })}
        />,
      );
      break;
    case 'image':
    case 'video':
      parts.push(
        <FileChoice key="f" kind={form.kind} figure={figure} fileName={form.fileName} />,
        <span key="x">{flag('flip sideways', 'flipX', form.flipX)}</span>,
        <span key="y">{flag('flip upside down', 'flipY', form.flipY)}</span>,
      );
      break;
    case 'camera':
      parts.push(
        <CameraChoice
          key="d"
          value={form.deviceId}
          name={form.deviceName}
          onChange={(deviceId, deviceName) => set({ deviceId, deviceName })}
        />,
        <span key="x">{flag('flip sideways', 'flipX', form.flipX)}</span>,
        <span key="y">{flag('flip upside down', 'flipY', form.flipY)}</span>,
      );
      break;
    case 'edge':
      parts.push(
        <Choice
          key="o"
          label="outline"
          value={form.outline}
          options={EDGE_OUTLINES.map((o) => [o, o === 'drawing' ? 'a drawing' : o])}
          onChange={(outline) => set({ outline })}
        />,
        ...(form.outline === 'drawing' ? [<OutlineFile key="d" figure={figure} form={form} />] : []),
        <span key="w">{count('wide', 'width', form.width, 4, SURFACE_MOST)}</span>,
        <span key="h">{count('tall', 'height', form.height, 4, SURFACE_MOST)}</span>,
        ...(form.outline === 'rectangle'
          ? [<span key="c">{count('corners', 'corner', form.corner, 0, SURFACE_MOST)}</span>]
          : []),
        <Choice
          key="i"
          label="swells"
          value={form.way}
          options={EDGE_WAYS.map((w) => [w, w === 'both' ? 'both ways' : w])}
          onChange={(way) => set({ way })}
        />,
        <Choice
          key="b"
          label="most"
          value={form.bulge}
          options={[
            ['middle', 'in the middle of each side'],
            ['even', 'all along'],
          ]}
          onChange={(bulge) => set({ bulge })}
        />,
        <span key="u">{flag('cuts what is under it', 'cuts', form.cuts)}</span>,
        <span key="l">{flag('with a line cut into it', 'line', form.line)}</span>,
      );
      break;
    case 'letters':
      parts.push(
        <LettersOf key="o" figure={figure} form={form} />,
        ...(form.of === null ? [<Words key="t" figure={figure} text={form.text} />] : []),
        <Choice
          key="f"
          label="letters"
          value={form.face}
          options={same(TEXT_FACES)}
          onChange={(face) => set({ face })}
        />,
        <Choice
          key="a"
          label="set"
          value={form.align}
          options={LETTERS_ALIGNED.map((a) => [a, a === 'middle' ? 'to the middle' : `to the ${a}`])}
          onChange={(align) => set({ align })}
        />,
        <span key="w">{count('broken at (0: never)', 'wide', form.wide, 0, SURFACE_MOST)}</span>,
        <span key="l">{count('outline', 'outline', form.outline, 0, 20)}</span>,
      );
      break;
    case 'switch':
      parts.push(<SwitchChoice key="s" figure={figure} of={form.of} onChange={(of) => set({ of })} />);
      break;
    default:
      return null;
  }
  if (form.kind === 'image' || form.kind === 'video' || form.kind === 'camera')
    parts.push(<CoverSetting key="v" figure={figure} />);
  const anchor = anchorOf(figure);
  if (anchor && (figure.cover ?? null) === null)
    parts.push(
      <Choice
        key="a"
        label="grows from its"
        value={anchor}
        options={same(ANCHORS)}
        onChange={(to) => growFrom(figure, to)}
      />,
    );
  return (
    <Box
      role="group"
      aria-label="What it is made of"
      sx={{
        display: 'flex',
        flexWrap: 'wrap',
        alignItems: 'center',
        columnGap: 1.5,
        rowGap: 0.5,
        py: 0.75,
        borderTop: '2px solid var(--bed)',
      }}
    >
      {parts}
    </Box>
  );
}

/** Whether it covers the whole picture, and with how much room to be shifted in. */
function CoverSetting({ figure }: { readonly figure: Figure }) {
  const { cover = null } = figure;
  const set = (room: number | null): void =>
    edit(
      room === null ? `let ${figure.name} stand free` : `let ${figure.name} cover the picture`,
      changeFigure(figure.id, { cover: room }),
      room === null ? null : `cover ${figure.id}`,
    );
  return (
    <Box component="span" sx={{ display: 'inline-flex', alignItems: 'center', fontSize: '0.9rem', gap: 0.5 }}>
      <Box component="label" sx={{ display: 'inline-flex', alignItems: 'center', minHeight: 32 }}>
        <Checkbox
          size="small"
          checked={cover !== null}
          onChange={(e) => {
            endDrag();
            set(e.target.checked ? USUAL_ROOM : null);
          }}
          sx={{ p: 0.75, color: 'inherit' }}
        />
        covers the picture
      </Box>
      {cover !== null && (
        <>
          with room
          <NumberField
            label="Room to be shifted in"
            value={cover}
            unit="%"
            min={0}
            max={COVER_ROOM_MOST}
            step={1}
            usual={USUAL_ROOM}
            onChange={set}
            onEnd={endDrag}
          />
        </>
      )}
    </Box>
  );
}

function FileChoice({
  kind,
  figure,
  fileName,
}: {
  readonly kind: Filed;
  readonly figure: Figure;
  readonly fileName: string;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button
        variant="outlined"
        onClick={() => input.current?.click()}
        sx={{
          color: 'inherit',
          borderColor: 'var(--bed)',
          maxWidth: 240,
          overflow: 'hidden',
          textOverflow: 'ellipsis',
          whiteSpace: 'nowrap',
        }}
      >
        {fileName || 'Choose a file …'}
      </Button>
      <input
        ref={input}
        type="file"
        accept={FILES[kind]}
        hidden
        aria-label={`File of ${figure.name}`}
        onChange={(e) => {
          const f = e.currentTarget.files?.[0];
          e.currentTarget.value = '';
          if (f) void takeFile(kind, figure.id, f);
        }}
      />
    </>
  );
}

/** Another figure, by name. */
export function OtherFigure({
  label,
  figure,
  value,
  onChange,
}: {
  readonly label: string;
  readonly figure: Figure | null;
  readonly value: string | null;
  readonly onChange: (id: string | null) => void;
}) {
  const { figures } = useOnSurface();
  return (
    <Choice
      label={label}
      value={value ?? ''}
      options={[
        ['', 'none yet'],
        ...figures
          .filter((f) => f.id !== figure?.id && f.form.kind !== 'switch')
          .map((f): readonly [string, string] => [f.id, f.name]),
      ]}
      onChange={(id) => onChange(id || null)}
    />
  );
}

function Words({ figure, text }: { readonly figure: Figure; readonly text: string }) {
  return (
    <Box
      component="textarea"
      key={`${figure.id} ${text}`}
      aria-label="Text"
      defaultValue={text}
      rows={Math.min(6, text.split('\n').length + 1)}
      maxLength={2000}
      onKeyDown={(e) => e.stopPropagation()}
      onBlur={(e) => {
        const words = e.currentTarget.value;
        if (words !== text)
          edit(
            `write ${figure.name}`,
            changeFigure(figure.id, { form: { ...figure.form, text: words } as FigureForm }),
          );
      }}
      sx={(t) => ({
        width: '100%',
        font: 'inherit',
        background: t.ink.paper,
        color: t.ink.paperText,
        border: '2px solid var(--bed)',
        p: 0.75,
      })}
    />
  );
}

function CameraChoice({
  value,
  name,
  onChange,
}: {
  readonly value: string;
  readonly name: string;
  readonly onChange: (id: string, name: string) => void;
}) {
  const [cameras, setCameras] = useState<readonly (readonly [string, string])[]>([]);
  const find = async (): Promise<void> => {
    try {
      const asked = await navigator.mediaDevices.getUserMedia({ video: true });
      for (const t of asked.getTracks()) t.stop();
      setCameras(
        (await navigator.mediaDevices.enumerateDevices())
          .filter((d) => d.kind === 'videoinput')
          .map((d, i) => [d.deviceId, d.label || `Camera ${i + 1}`] as const),
      );
    } catch {
      say('warning', 'No camera can be used. Plug one in, and allow it for this address.');
    }
  };
  const options = [
    ['', 'the drawn stand-in'] as const,
    ...cameras,
    ...(value && !cameras.some(([id]) => id === value) ? [[value, name || 'a camera'] as const] : []),
  ];
  return (
    <>
      <Choice
        label="from"
        value={value}
        options={options}
        onChange={(id) => onChange(id, options.find(([o]) => o === id)?.[1] ?? '')}
      />
      <Button variant="text" onClick={() => void find()} sx={{ color: 'inherit' }}>
        Find cameras
      </Button>
    </>
  );
}

function SwitchChoice({
  figure,
  of,
  onChange,
}: {
  readonly figure: Figure;
  readonly of: readonly string[];
  readonly onChange: (of: string[]) => void;
}) {
  const figures = useOnSurface().figures.filter((f) => f.id !== figure.id && f.form.kind !== 'switch');
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1 }}>
      <Box sx={{ width: '100%', fontSize: '0.9rem' }}>One of these shows, in this order:</Box>
      {figures.map((f) => (
        <Box
          key={f.id}
          component="label"
          sx={{ display: 'inline-flex', alignItems: 'center', fontSize: '0.9rem', minHeight: 32 }}
        >
          <Checkbox
            size="small"
            checked={of.includes(f.id)}
            onChange={(e) => onChange(e.target.checked ? [...of, f.id] : of.filter((x) => x !== f.id))}
            sx={{ p: 0.75, color: 'inherit' }}
          />
          {of.includes(f.id) ? `${of.indexOf(f.id) + 1}. ` : ''}
          {f.name}
        </Box>
      ))}
    </Box>
  );
}

/** Words of its own, or the lines of a maker of timed text, one after the other. */
function LettersOf({ figure, form }: { readonly figure: Figure; readonly form: LettersForm }) {
  const makers = useSession((s) => s.history.show.makers).filter((m) => m.making.kind === 'prompter');
  if (makers.length === 0 && form.of === null) return null;
  const choose = (id: string): void => {
    const show = currentShow(),
      maker = makers.find((m) => m.id === id),
      text = maker ? textOf(maker.making) : null,
      target = { thing: figure.id, parameter: 'line' };
    edit(maker ? `let ${figure.name} say ${maker.name}` : `write ${figure.name} by hand`, (d) => {
      changeFigure(figure.id, {
        form: { ...form, of: maker?.id ?? null, text: text ?? form.text },
      })(d);
      const signal = maker && findSignal(show, maker.id);
      if (!signal || show.routes.some((r) => r.signal === maker.id && r.target.thing === figure.id)) return;
      const made = newRoute(
        freeId(show, 'route'),
        signal,
        target,
        findParameter(show, target)!.parameter,
        null,
        boundsOf(show, signal),
      );
      addRoute({ ...made, reach: (text ?? '').split('\n').length })(d);
    });
  };
  return (
    <Choice
      label="says"
      value={form.of ?? ''}
      options={[
        ['', 'words of its own'],
        ...makers.map((m): readonly [string, string] => [m.id, `the lines of ${m.name}`]),
        ...(form.of !== null && !makers.some((m) => m.id === form.of)
          ? [[form.of, 'lines of one gone'] as const]
          : []),
      ]}
      onChange={choose}
    />
  );
}

/** The outline of an edge from a drawing. */
function OutlineFile({ figure, form }: { readonly figure: Figure; readonly form: EdgeForm }) {
  const input = useRef<HTMLInputElement>(null);
  const take = async (file: File): Promise<void> => {
    try {
      const strokes = readDrawing(await file.text()),
        longest = strokes.reduce((a, b) => (b.length > a.length ? b : a));
      edit(`draw ${figure.name}`, changeFigure(figure.id, { form: { ...form, drawing: thinned(longest) } }));
      if (strokes.length > 1) say('done', 'The drawing has several lines; the longest is taken.');
    } catch (e) {
      say(
        'warning',
        e instanceof Error ? e.message : 'The drawing cannot be read. Use an SVG with one line.',
      );
    }
  };
  return (
    <>
      <Button
        variant="outlined"
        onClick={() => input.current?.click()}
        sx={{ color: 'inherit', borderColor: 'var(--bed)' }}
      >
        {form.drawing.length > 0 ? `${form.drawing.length / 2} places; another …` : 'Choose an SVG …'}
      </Button>
      <input
        ref={input}
        type="file"
        accept=".svg,image/svg+xml"
        hidden
        aria-label={`Outline of ${figure.name}`}
        onChange={(e) => {
          const f = e.currentTarget.files?.[0];
          e.currentTarget.value = '';
          if (f) void take(f);
        }}
      />
    </>
  );
}
/** As many places as an outline may have, evenly left out, each to a thousandth. */
function thinned(run: readonly number[]): number[] {
  const count = run.length / 2,
    step = Math.max(1, count / EDGE_DRAWING_MOST),
    out: number[] = [];
  for (let i = 0; Math.floor(i) < count && out.length < 2 * EDGE_DRAWING_MOST; i += step) {
    const at = 2 * Math.floor(i);
    out.push(...[run[at]!, run[at + 1]!].map((x) => Math.max(-1, Math.min(1, Math.round(x * 1000) / 1000))));
  }
  return out;
}
