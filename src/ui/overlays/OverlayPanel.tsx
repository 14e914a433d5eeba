'use client';
import { Box, Button, Typography } from '@mui/material';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { SURFACE_LEAST, SURFACE_MOST } from '../../core/overlays';
import { IMAGE_MOST_BYTES, overlayPage } from '../../core/protocols';
import {
  addFigure,
  changeFigure,
  changeOverlay,
  driveBy,
  drivingOf,
  freeId,
  mayDriveInstead,
  newFigure,
  type Overlay,
  removeThing,
  renameThing,
  surfaceIdOf,
  thingsOf,
} from '../../core/show';
import { db, keepMedia } from '../../data/database';
import { clockText } from '../controls/amounts';
import { Choice } from '../controls/Choice';
import { ColourField } from '../controls/ColourField';
import { CopyAddress } from '../controls/CopyAddress';
import { Folded } from '../controls/Folded';
import { IconAct } from '../controls/IconAct';
import { NumberField } from '../controls/NumberField';
import { usePageAddress } from '../controls/pageAddress';
import { QrCode } from '../controls/QrCode';
import { ThingPanel } from '../controls/ThingPanel';
import { FinishList } from '../picture/FinishList';
import { stillPicture } from '../picture/PictureStage';
import { startRecording, stopRecording, useRecording } from '../picture/recording';
import { saveBlob } from '../state/saveBlob';
import { currentShow, edit, endDrag, useSession } from '../state/session';
import { look } from '../state/view';
import { say } from '../state/notices';
import { useBehind } from './behind';
import { ManyPages } from './ManyPages';

/** Everything about an overlay as a whole: where it is looked at, by whom, the host's camera, what drives it, its size. */
export function OverlayPanel({ overlay }: { readonly overlay: Overlay }) {
  const show = useSession((s) => s.history.show),
    thing = thingsOf(show).find((t) => t.id === overlay.id);
  if (!thing) return null;
  return (
    <>
      <ThingPanel
        thing={thing}
        onRename={(name) => edit('rename an overlay', renameThing(overlay.id, name))}
        before={
          <>
            <Addresses overlay={overlay} />
            <Missing overlay={overlay} />
            <Watching overlay={overlay} />
            <CameraWays overlay={overlay} />
            <DrivenBy overlay={overlay} />
            <Measures overlay={overlay} />
            <Keep overlay={overlay} />
            <FinishList on={overlay.id} name={overlay.name} />
          </>
        }
        footer={
          <IconAct
            act="delete"
            title="The overlay, with all that is on it"
            onClick={() => {
              edit(`delete ${overlay.name}`, removeThing(overlay.id));
              look({ overlay: null, figure: null });
            }}
            sx={{ color: 'inherit', my: 1 }}
          />
        }
      />
    </>
  );
}

function Part({ title, children }: { readonly title: string; readonly children: ReactNode }) {
  return (
    <Box
      component="section"
      aria-label={title}
      sx={(t) => ({
        py: 1,
        borderTop: '2px solid var(--bed)',
        fontSize: '0.92rem',
        '& .MuiButton-contained': {
          background: t.ink.paperText,
          color: t.ink.paper,
          '&:hover': { background: t.ink.paperText },
        },
      })}
    >
      <Typography variant="h3" component="h3">
        {title}
      </Typography>
      {children}
    </Box>
  );
}

function Addresses({ overlay }: { readonly overlay: Overlay }) {
  const { at, reachable } = usePageAddress(),
    page = at(`/overlay/${overlay.id}`);
  return (
    <Part title="Address for a streaming program">
      <CopyAddress address={page} what={overlay.name} data-testid="overlay-address" />
      <Box sx={{ color: 'var(--faint)', mt: 0.5 }}>
        As a browser source of {overlay.width} × {overlay.height}. It is transparent where nothing is drawn;
        in silence and under dark it is plain.
        {!reachable &&
          ' It is reached from this computer only, until Batucada is started with BATUCADA_LISTEN=0.0.0.0.'}
      </Box>
      {page && (
        <Folded title="code to scan">
          <QrCode text={page} label={`the page of ${overlay.name}`} />
        </Folded>
      )}
    </Part>
  );
}

/** Files that it is made of and that are not here: pages show nothing in their place. */
function Missing({ overlay }: { readonly overlay: Overlay }) {
  const figures = useSession((s) => s.history.show.figures).filter(
      (f) => surfaceIdOf(f) === overlay.id && 'media' in f.form,
    ),
    key = figures.map((f) => `${f.id} ${'media' in f.form ? f.form.media : ''}`).join();
  const [gone, setGone] = useState<readonly string[]>(NONE);
  useEffect(() => {
    let over = false;
    void Promise.all(
      figures.map(async (f) => {
        const media = 'media' in f.form ? f.form.media : null;
        return media !== null && (await db().media.where('hash').equals(media).count()) > 0 ? [] : [f.name];
      }),
    ).then((all) => {
      if (!over) setGone(all.flat());
    });
    return () => {
      over = true;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the key says all that counts of them
  }, [key]);
  if (gone.length === 0) return null;
  return (
    <Part title="Without a file">
      <Box role="alert">
        {gone.join(', ')}: no file is here, so pages show nothing there. Choose{' '}
        {gone.length === 1 ? 'it' : 'one'} and its file.
      </Box>
    </Part>
  );
}

function Watching({ overlay }: { readonly overlay: Overlay }) {
  const id = overlayPage(overlay.id),
    pages = useSession((s) => s.outlets?.pages[id] ?? 0),
    watchers = useSession((s) => s.outlets?.watchers ?? NONE).filter((w) => w.page === id);
  return (
    <Part title="Who watches">
      <Box role="status">
        {pages === 0
          ? 'No page shows it now.'
          : pages === 1
            ? 'One page shows it now.'
            : `${pages} pages show it now.`}
      </Box>
      {watchers.length > 0 && (
        <Box
          component="table"
          sx={{
            width: '100%',
            borderCollapse: 'collapse',
            '& td, & th': { textAlign: 'left', py: 0.25, fontWeight: 400 },
          }}
        >
          <thead>
            <tr>
              <th>page</th>
              <th>pictures</th>
              <th>delay</th>
            </tr>
          </thead>
          <tbody>
            {watchers.map((w, i) => (
              <tr key={i}>
                <td>
                  {w.name || 'a page'}
                  {w.by && `, by ${w.by}`}
                </td>
                <td>{w.picturesPerSecond === null ? '…' : `${Math.round(w.picturesPerSecond)}/s`}</td>
                <td>{w.delayMs === null ? '…' : `${Math.round(w.delayMs)} ms`}</td>
              </tr>
            ))}
          </tbody>
        </Box>
      )}
      <ManyPages overlay={overlay.id} />
    </Part>
  );
}
const NONE: readonly never[] = [];

/** The three ways in which the host's camera and an overlay come together. */
function CameraWays({ overlay }: { readonly overlay: Overlay }) {
  const figures = useSession((s) => s.history.show.figures).filter((f) => surfaceIdOf(f) === overlay.id),
    camera = figures.find((f) => f.form.kind === 'camera'),
    // The largest last: a plate is an edge too, and nobody's frame.
    edges = figures
      .flatMap((f) => (f.form.kind === 'edge' ? [{ f, area: f.form.width * f.form.height }] : []))
      .sort((a, b) => a.area - b.area)
      .map(({ f }) => f),
    cutting = edges.filter((f) => f.form.kind === 'edge' && f.form.cuts);
  const { at } = usePageAddress(),
    matte = at(`/matte/${overlay.id}`);
  const cut = (cuts: boolean): void => {
    const edge = edges.at(-1);
    if (edge?.form.kind === 'edge')
      edit(
        cuts ? `let ${edge.name} cut` : `let ${edge.name} cut no more`,
        changeFigure(edge.id, { form: { ...edge.form, cuts } }),
      );
  };
  const bring = (): void =>
    edit('show the camera itself', (d) => {
      const edge = edges.at(-1),
        // As wide as it covers what it is cut by, or all.
        wide =
          edge?.form.kind === 'edge' ? Math.max(edge.form.width, (edge.form.height * 16) / 9) : overlay.width;
      const figure = newFigure(
        freeId(currentShow(), 'camera'),
        'Camera',
        { kind: 'camera', deviceId: '', deviceName: '', flipX: false, flipY: false },
        edge?.at ?? { x: overlay.width / 2, y: overlay.height / 2 },
        { size: Math.min(6, Math.round((wide / 480) * 100) / 100) },
        overlay.id,
      );
      addFigure(figure)(d);
      // Behind all that is on it.
      const own = d.figures.pop()!,
        first = d.figures.findIndex((f) => f.surface === overlay.id);
      d.figures.splice(first < 0 ? d.figures.length : first, 0, own);
      if (edge?.form.kind === 'edge') changeFigure(edge.id, { form: { ...edge.form, cuts: true } })(d);
    });
  return (
    <Part title="The host’s camera">
      <Box component="ol" sx={{ pl: 2.5, my: 0.5, display: 'grid', gap: 0.75 }}>
        <li>
          <b>In the streaming program</b>, under this page: nothing more to do.
        </li>
        <li>
          <b>Shown by the page itself</b>, cut by its edge, on the computer that the camera is connected to.{' '}
          {camera ? (
            <>
              It shows {camera.name}
              {cutting.length > 0 ? `, cut by ${cutting.map((e) => e.name).join(' and ')}.` : '.'}
            </>
          ) : (
            <Button variant="outlined" onClick={bring} sx={{ color: 'inherit', borderColor: 'var(--bed)' }}>
              Show the camera here
            </Button>
          )}
        </li>
        <li>
          <b>Cut by the streaming program</b>, with this matte: white where the camera is to be seen.
          {cutting.length === 0 ? (
            edges.length > 0 ? (
              <Button
                variant="outlined"
                onClick={() => cut(true)}
                sx={{ color: 'inherit', borderColor: 'var(--bed)', ml: 1 }}
              >
                Let {edges.at(-1)!.name} cut
              </Button>
            ) : (
              ' It needs an edge that cuts; there is none yet, and all of it is white.'
            )
          ) : null}
          <CopyAddress address={matte} what={`the matte of ${overlay.name}`} />
          {matte && (
            <Folded title="code to scan">
              <QrCode text={matte} label={`the matte of ${overlay.name}`} />
            </Folded>
          )}
        </li>
      </Box>
    </Part>
  );
}

/** The sound that moves it, changed in one place. */
function DrivenBy({ overlay }: { readonly overlay: Overlay }) {
  const show = useSession((s) => s.history.show),
    driving = drivingOf(show, overlay.id);
  return (
    <Part title="Driven by">
      {driving.length === 0 && 'Nothing that is heard moves it yet.'}
      {driving.map(({ input, ears }) => (
        <Box key={input.id} sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
          <Choice
            label=""
            name={`Instead of ${input.name}`}
            value={input.id}
            options={show.inputs
              .filter((i) => i.id === input.id || mayDriveInstead(input, i))
              .map((i) => [i.id, i.name])}
            onChange={(to) => {
              if (to === input.id) return;
              edit(
                `let another input drive ${overlay.name}`,
                driveBy(currentShow(), overlay.id, input.id, to),
              );
            }}
          />
          <span>{ears.length === 1 ? ears[0]!.name : `${ears.length} ears`}</span>
        </Box>
      ))}
    </Part>
  );
}

function Measures({ overlay }: { readonly overlay: Overlay }) {
  const side = (label: string, key: 'width' | 'height'): ReactNode => (
    <NumberField
      label={label}
      value={overlay[key]}
      unit="px"
      min={SURFACE_LEAST}
      max={SURFACE_MOST}
      step={1}
      onChange={(v) =>
        edit(
          `size ${overlay.name}`,
          changeOverlay(overlay.id, { [key]: Math.round(v) }),
          `size ${overlay.id}`,
        )
      }
      onEnd={endDrag}
    />
  );
  const file = useRef<HTMLInputElement>(null);
  const choose = async (f: File): Promise<void> => {
    if (!f.type.startsWith('image/')) {
      say('warning', `“${f.name}” is not an image. Choose a PNG, JPEG, WebP or SVG.`);
      return;
    }
    if (f.size > IMAGE_MOST_BYTES) {
      say('warning', `“${f.name}” is larger than ${IMAGE_MOST_BYTES >> 20} MB. Make it smaller first.`);
      return;
    }
    try {
      edit('choose a still', changeOverlay(overlay.id, { still: await keepMedia(f, f.name) }));
      useBehind.setState({ way: 'still' });
    } catch (e) {
      say('warning', e instanceof Error ? e.message : 'The image could not be kept.');
    }
  };
  return (
    <Part title="Size and ground">
      <Box sx={{ display: 'flex', alignItems: 'center', flexWrap: 'wrap', gap: 1, py: 0.5 }}>
        {side('Width of the overlay', 'width')}×{side('Height of the overlay', 'height')}
        <Choice
          label=""
          name="usual sizes"
          value=""
          options={[
            ['', 'usual …'],
            ...SIZES.map((s): readonly [string, string] => [s.join(' '), s.join(' × ')]),
          ]}
          onChange={(s) => {
            const [width, height] = s.split(' ').map(Number);
            if (width && height) edit(`size ${overlay.name}`, changeOverlay(overlay.id, { width, height }));
          }}
        />
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <Choice
          label="ground"
          value={overlay.ground === null ? 'open' : 'colour'}
          options={[
            ['open', 'open, what is behind shows'],
            ['colour', 'a colour'],
          ]}
          onChange={(g) =>
            edit(
              `ground of ${overlay.name}`,
              changeOverlay(overlay.id, { ground: g === 'open' ? null : '#12212c' }),
            )
          }
        />
        {overlay.ground !== null && (
          <ColourField
            label="Colour of the ground"
            value={overlay.ground}
            onChange={(ground) =>
              edit(`ground of ${overlay.name}`, changeOverlay(overlay.id, { ground }), `ground ${overlay.id}`)
            }
            onEnd={endDrag}
          />
        )}
      </Box>
      <Button
        variant="outlined"
        onClick={() => file.current?.click()}
        sx={{ color: 'inherit', borderColor: 'var(--bed)', mt: 0.5 }}
      >
        {overlay.still ? 'Another still to work over …' : 'A still to work over …'}
      </Button>
      <input
        ref={file}
        type="file"
        accept="image/*"
        hidden
        aria-label="Choose a still"
        onChange={(e) => {
          const f = e.currentTarget.files?.[0];
          e.currentTarget.value = '';
          if (f) void choose(f);
        }}
      />
    </Part>
  );
}
const SIZES = [
  [1280, 720],
  [1920, 1080],
  [1080, 1920],
  [640, 360],
] as const;

/** Recordings and stills in which what is open stays open. */
function Keep({ overlay }: { readonly overlay: Overlay }) {
  const now = useRecording((r) => r.now),
    own = now?.screen === overlay.id ? now : null;
  return (
    <Part title="Record and keep">
      <Box
        sx={{
          display: 'flex',
          alignItems: 'center',
          gap: 1,
          py: 0.5,
          '& button': { color: 'inherit', borderColor: 'var(--bed)' },
        }}
      >
        {own ? (
          <Button variant="outlined" disabled={own.ending} onClick={stopRecording}>
            End the recording · {own.seconds === null ? '…' : clockText(own.seconds)}
          </Button>
        ) : (
          <Button
            variant="outlined"
            disabled={now !== null}
            onClick={() => void startRecording({ ...overlay, surface: overlay.id })}
          >
            Record, transparent
          </Button>
        )}
        <Button
          variant="outlined"
          onClick={async () => {
            const blob = await stillPicture(overlay.width, overlay.height, 'overlay');
            if (blob) say('done', `${saveBlob(blob, `${overlay.name}.png`)} is saved.`);
            else say('warning', 'There is no picture of it yet.');
          }}
        >
          Keep a still
        </Button>
      </Box>
      <Box sx={{ color: 'var(--faint)' }}>WebM and PNG, with what nothing covers left open.</Box>
    </Part>
  );
}
