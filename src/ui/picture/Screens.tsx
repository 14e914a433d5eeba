'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { PICTURE_PAGE } from '../../core/protocols';
import {
  type Corner,
  displayNames,
  findDisplay,
  FLAT_CORNERS,
  isShowable,
  type Lie,
  LIES,
  newScreen,
  type Screen,
  SCREEN_DELAY_MOST,
  SCREEN_LEAST,
  SCREEN_MOST,
  SCREEN_TURNS,
} from '../../core/screens';
import { addScreen, changeScreen, freeId, freeName, removeScreen } from '../../core/show';
import { Choice } from '../controls/Choice';
import { usePageAddress } from '../controls/pageAddress';
import { Folded } from '../controls/Folded';
import { QrCode } from '../controls/QrCode';
import { CopyAddress } from '../controls/CopyAddress';
import { NameField } from '../controls/NameField';
import { NumberField } from '../controls/NumberField';
import { saveBlob } from '../state/saveBlob';
import { currentShow, edit, endDrag, useSession } from '../state/session';
import { say } from '../state/notices';
import { askDisplays, chooseDisplay, recallDisplays, useDisplays } from './displays';
import { fillScreen, openScreen, showCard, useScreens } from './screenWindows';
import { stillPicture } from './PictureStage';
import { clockText, sizeText } from '../controls/amounts';
import {
  findRecordings,
  removeRecording,
  saveRecording,
  startRecording,
  stopRecording,
  useRecording,
  type Recording,
} from './recording';

const LIE_WORDS: Readonly<Record<Lie, string>> = {
  fit: 'fits, with bars',
  fill: 'fills it, cut off',
  stretch: 'is stretched',
};

/** The output windows of the show: how large each is, what of the picture it shows, and how it is laid onto its surface. */
export function Screens({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  const screens = useSession((s) => s.history.show.screens);
  useEffect(() => {
    if (open) void recallDisplays();
  }, [open]);
  const [size, setSize] = useState('1280x720');
  const still = async (): Promise<void> => {
    const [w, h] = size.split('x').map(Number),
      blob = await stillPicture(w!, h!);
    if (!blob) {
      say('warning', 'The picture is not there yet. Wait for it to show, and try again.');
      return;
    }
    saveBlob(blob, `${currentShow().name}.png`);
    say('done', 'The picture is kept as a PNG. What nothing covers is open.');
  };
  return (
    <Dialog
      open={open}
      onClose={onClose}
      maxWidth={false}
      aria-labelledby="screens-title"
      slotProps={{ paper: { sx: { p: 2.5, width: 'min(980px, 94vw)' } } }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, flexWrap: 'wrap' }}>
        <Typography id="screens-title" variant="h2" sx={{ flex: 1 }}>
          Screens
        </Typography>
        <Choice
          label="still of"
          value={size}
          options={[
            ['1280x720', '1280 × 720'],
            ['1920x1080', '1920 × 1080'],
            ['3840x2160', '3840 × 2160'],
          ]}
          onChange={setSize}
        />
        <Button variant="outlined" onClick={() => void still()}>
          Keep a still
        </Button>
        <Button
          variant="contained"
          onClick={() =>
            edit(
              'add a screen',
              addScreen(
                newScreen(freeId(currentShow(), 'screen'), freeName(currentShow().screens, 'Screen')),
              ),
            )
          }
        >
          + screen
        </Button>
      </Box>
      <Box sx={(t) => ({ color: t.ink.paperFaint, fontSize: '0.92rem', my: 0.75 })}>
        Each opens as a window of its own, which goes on while this one is hidden. In it, F fills the display,
        T shows a test card.
      </Box>
      {screens.length === 0 && <Box>No screen. The picture shows in this window only.</Box>}
      <Box sx={{ display: 'grid', gap: 1.25 }}>
        {screens.map((s) => (
          <OneScreen key={s.id} screen={s} />
        ))}
      </Box>
      <StrayRecording screens={screens} />
      <Recordings />
    </Dialog>
  );
}

function OneScreen({ screen: s }: { readonly screen: Screen }) {
  const opened = useScreens((x) => x.open).includes(s.id),
    full = useScreens((x) => x.full).includes(s.id),
    card = useScreens((x) => x.cards).includes(s.id);
  const recording = useRecording((x) => x.now);
  const set = (change: Partial<Omit<Screen, 'id'>>, tag?: string): void =>
    edit(`change ${s.name}`, changeScreen(s.id, change), tag && `${tag} ${s.id}`);
  const number = (
    label: string,
    value: number,
    unit: string,
    min: number,
    max: number,
    usual: number,
    put: (v: number) => void,
  ): React.ReactNode => (
    <NumberField
      label={`${label} of ${s.name}`}
      value={value}
      unit={unit}
      min={min}
      max={max}
      step={1}
      usual={usual}
      onChange={put}
      onEnd={endDrag}
    />
  );
  const crop = (
    label: string,
    key: keyof Screen['crop'],
    min: number,
    max: number,
    usual: number,
  ): React.ReactNode =>
    number(label, Math.round(s.crop[key] * 100), '%', min, max, usual, (v) =>
      set({ crop: { ...s.crop, [key]: v / 100 } }, `crop ${key}`),
    );
  return (
    <Box
      sx={(t) => ({
        py: 1.5,
        borderTop: `2px solid ${t.ink.paperDeep}`,
        '--bed': t.ink.paperDeep,
        '--faint': t.ink.paperFaint,
      })}
    >
      <Box
        component="section"
        aria-label={s.name}
        sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: 'minmax(0, 1fr) 220px' }, gap: 2 }}
      >
        <Box sx={{ display: 'grid', gap: 0.75, alignContent: 'start', fontSize: '0.92rem' }}>
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap' }}>
            <NameField
              label="Name of the screen"
              name={s.name}
              onRename={(name) => set({ name })}
              sx={{
                font: 'inherit',
                fontWeight: 700,
                fontSize: '1.05rem',
                background: 'transparent',
                color: 'inherit',
                border: 0,
                borderBottom: '2px dotted var(--bed)',
                width: 170,
                minHeight: 32,
              }}
            />
            <Button
              variant="contained"
              onClick={() => {
                if (!openScreen(s))
                  say(
                    'warning',
                    'The browser blocked the screen window. Allow pop-ups for this address, and try again.',
                  );
              }}
            >
              {opened ? 'Bring it to the front' : 'Open'}
            </Button>
            <Button
              variant="outlined"
              aria-pressed={card}
              disabled={!opened}
              onClick={() => showCard(s.id, !card)}
            >
              Test card
            </Button>
            <Button variant="outlined" disabled={!opened} onClick={() => fillScreen(s, !full)}>
              {full ? 'Leave full screen' : 'Fill the display'}
            </Button>
            <Button
              variant="outlined"
              disabled={recording !== null && (recording.screen !== s.id || recording.ending)}
              onClick={() => {
                if (recording) stopRecording();
                else void startRecording(s);
              }}
            >
              {recording?.screen === s.id ? 'Stop recording' : 'Record'}
            </Button>
          </Box>
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap' }}>
            drawn with{' '}
            {number('Width', s.width, 'px', SCREEN_LEAST, SCREEN_MOST, 1280, (v) =>
              set({ width: Math.round(v) }, 'width'),
            )}{' '}
            ×{' '}
            {number('Height', s.height, 'px', SCREEN_LEAST, SCREEN_MOST, 720, (v) =>
              set({ height: Math.round(v) }, 'height'),
            )}
            <Choice
              label="turned"
              value={s.turn}
              options={SCREEN_TURNS.map((t) => [t, `${t}°`])}
              onChange={(turn) => set({ turn })}
            />
            <Choice<Lie>
              label="on a display of another shape"
              name="Shape on its display"
              value={s.lies ?? 'fit'}
              options={LIES.map((l) => [l, LIE_WORDS[l]])}
              onChange={(lies) => set({ lies })}
            />
            later by{' '}
            {number('Delay', s.delayMs, 'ms', 0, SCREEN_DELAY_MOST, 0, (v) => set({ delayMs: v }, 'delay'))}
          </Box>
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap' }}>
            shows from {crop('Left edge', 'left', 0, Math.round(s.crop.right * 100) - 1, 0)} to{' '}
            {crop('Right edge', 'right', Math.round(s.crop.left * 100) + 1, 100, 100)} across, from{' '}
            {crop('Lower edge', 'bottom', 0, Math.round(s.crop.top * 100) - 1, 0)} to{' '}
            {crop('Upper edge', 'top', Math.round(s.crop.bottom * 100) + 1, 100, 100)} up
          </Box>
          <DisplayChoice screen={s} />
          <Elsewhere screen={s} />
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
            <Box role="status" sx={{ flex: 1, color: 'var(--faint)' }}>
              {full
                ? 'Its window fills a display.'
                : opened
                  ? 'Its window is open.'
                  : 'Its window is closed.'}
              {recording?.screen === s.id ? ` ${recordingText(recording)}` : ''}
            </Box>
            <Button
              variant="text"
              disabled={recording?.screen === s.id}
              onClick={() => edit(`remove ${s.name}`, removeScreen(s.id))}
              sx={{ color: 'inherit' }}
            >
              remove
            </Button>
          </Box>
        </Box>
        <Corners
          screen={s}
          onChange={(corners) => set({ corners }, 'corners')}
          onFlat={() => set({ corners: FLAT_CORNERS })}
        />
      </Box>
    </Box>
  );
}

/** The address under which another machine, or another program, draws this screen by itself. */
function Elsewhere({ screen: s }: { readonly screen: Screen }) {
  const report = useSession((x) => x.outlets),
    [open, setOpen] = useState(false);
  const pages = report?.pages[PICTURE_PAGE] ?? 0;
  const { at, reachable } = usePageAddress(),
    address = at(`/picture/${encodeURIComponent(s.id)}`);
  return (
    <Box>
      <Button
        variant="text"
        aria-expanded={open}
        aria-label={`${s.name} on another machine`}
        onClick={() => setOpen(!open)}
        sx={{ color: 'inherit', ml: -1 }}
      >
        on another machine …
      </Button>
      {open && (
        <>
          <CopyAddress address={address} what={s.name} />
          <Box role="status" sx={{ color: 'var(--faint)', mt: 0.5 }}>
            {pages === 0
              ? 'No page draws the picture now.'
              : pages === 1
                ? 'One page draws the picture now.'
                : `${pages} pages draw the picture now.`}{' '}
            {reachable
              ? 'Open it in a browser there.'
              : 'Other machines reach it once Batucada is started with BATUCADA_LISTEN=0.0.0.0.'}{' '}
            Cameras are seen here only; their drawn stand-in shows there.
          </Box>
          {address && (
            <Folded title="code to scan">
              <QrCode text={address} label={s.name} />
            </Folded>
          )}
        </>
      )}
    </Box>
  );
}

/** Which display a screen fills; kept on this machine, not in the show. */
function DisplayChoice({ screen: s }: { readonly screen: Screen }) {
  const { state, connected, chosen } = useDisplays(),
    wanted = chosen[s.id];
  if (state === 'no') return null;
  if (state === 'unasked')
    return (
      <Box>
        <Button variant="text" onClick={() => void askDisplays()} sx={{ color: 'inherit', ml: -1 }}>
          choose its display …
        </Button>
      </Box>
    );
  if (state === 'refused')
    return (
      <Box sx={{ color: 'var(--faint)' }}>
        The browser does not tell its displays. Allow window management for this address, or put the window on
        its display and press F in it.
      </Box>
    );
  const names = displayNames(connected),
    at = wanted ? findDisplay(wanted, connected) : -1,
    gone = wanted !== undefined && at < 0;
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap' }}>
      <Choice
        label="on display"
        value={gone ? 'gone' : at < 0 ? '' : String(at)}
        options={[
          ['', 'where its window is'],
          ...(gone ? [['gone', `${wanted.label || 'A display'} · not connected`] as const] : []),
          ...names.map((n, i) => [String(i), n] as const),
        ]}
        onChange={(v) => {
          if (v !== 'gone') void chooseDisplay(s.id, v === '' ? null : connected[Number(v)]!);
        }}
      />
      {gone && (
        <Box sx={{ color: 'var(--faint)' }}>
          Until it is there, it fills the display that its window is on.
        </Box>
      )}
    </Box>
  );
}

export function recordingText({ seconds, bytes, left, ending }: Recording): string {
  if (ending) return 'The recording is being finished …';
  if (seconds === null) return 'The recording is about to begin …';
  return `Recording: ${clockText(seconds)}, ${sizeText(bytes)}${left === null ? '' : `, room for ${left > 36000 ? 'more than 10 h' : clockText(left)} more`}.`;
}

/** A recording whose screen was taken away by undo: it goes on, and can still be ended. */
function StrayRecording({ screens }: { readonly screens: readonly Screen[] }) {
  const recording = useRecording((x) => x.now);
  if (!recording || screens.some((s) => s.id === recording.screen)) return null;
  return (
    <Box
      component="section"
      aria-label="Recording of a screen that is gone"
      sx={{ display: 'flex', alignItems: 'center', gap: 1, mt: 1.5, fontSize: '0.92rem' }}
    >
      <Box role="status" sx={{ flex: 1 }}>
        Its screen is no longer in the show. {recordingText(recording)}
      </Box>
      <Button variant="outlined" disabled={recording.ending} onClick={stopRecording}>
        Stop recording
      </Button>
    </Box>
  );
}

/** What was recorded and is still on the browser's disk, also when it was cut short. */
function Recordings() {
  const kept = useRecording((x) => x.kept);
  useEffect(() => {
    void findRecordings();
  }, []);
  if (kept.length === 0) return null;
  return (
    <Box component="section" aria-label="Recordings" sx={{ mt: 2 }}>
      <Typography variant="h3">Recordings in this browser</Typography>
      {kept.map((name) => (
        <Box key={name} sx={{ display: 'flex', alignItems: 'center', gap: 1, fontSize: '0.92rem' }}>
          <Box
            sx={{ flex: 1, minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
          >
            {name}
          </Box>
          <Button
            variant="text"
            aria-label={`Save ${name}`}
            onClick={() => void saveRecording(name)}
            sx={{ color: 'inherit' }}
          >
            save to a file
          </Button>
          <Button
            variant="text"
            aria-label={`Remove ${name}`}
            onClick={() => void removeRecording(name)}
            sx={{ color: 'inherit' }}
          >
            remove
          </Button>
        </Box>
      ))}
    </Box>
  );
}

const NAMES = ['lower left', 'lower right', 'upper right', 'upper left'] as const;
/** The four corners, dragged to where the surface has them; by keyboard with the arrows. */
function Corners({
  screen,
  onChange,
  onFlat,
}: {
  readonly screen: Screen;
  readonly onChange: (corners: Screen['corners']) => void;
  readonly onFlat: () => void;
}) {
  const held = useRef<number | null>(null);
  const put = (i: number, [x, y]: Corner): void => {
    const round = (n: number): number => Math.round(Math.min(1.2, Math.max(-0.2, n)) * 1000) / 1000;
    const corners = screen.corners.map((c, k): Corner =>
      k === i ? [round(x), round(y)] : c,
    ) as unknown as Screen['corners'];
    // Corners that cross cannot be shown.
    if (isShowable(corners)) onChange(corners);
  };
  const move = (e: PointerEvent<HTMLElement>): void => {
    if (held.current === null) return;
    const r = e.currentTarget.getBoundingClientRect();
    put(held.current, [
      ((e.clientX - r.left) / r.width - 0.1) / 0.8,
      (1 - (e.clientY - r.top) / r.height - 0.1) / 0.8,
    ]);
  };
  const keys =
    (i: number) =>
    (e: KeyboardEvent): void => {
      const n = e.shiftKey ? 0.02 : 0.002,
        by = { ArrowLeft: [-n, 0], ArrowRight: [n, 0], ArrowUp: [0, n], ArrowDown: [0, -n] }[e.key],
        at = screen.corners[i]!;
      if (!by) return;
      e.preventDefault();
      put(i, [at[0] + by[0]!, at[1] + by[1]!]);
    };
  const place = ([x, y]: Corner): [number, number] => [10 + 80 * x, 90 - 80 * y];
  return (
    <Box>
      <Box
        onPointerMove={move}
        onPointerUp={() => {
          held.current = null;
          endDrag();
        }}
        onPointerCancel={() => {
          held.current = null;
          endDrag();
        }}
        sx={{
          position: 'relative',
          width: 220,
          aspectRatio: `${screen.width} / ${screen.height}`,
          maxHeight: 200,
          background: '#0b0a0a',
          touchAction: 'none',
        }}
      >
        <Box
          component="svg"
          aria-hidden
          viewBox="0 0 100 100"
          preserveAspectRatio="none"
          sx={{ position: 'absolute', inset: 0, width: '100%', height: '100%' }}
        >
          <rect
            x="10"
            y="10"
            width="80"
            height="80"
            fill="none"
            stroke="#345063"
            strokeDasharray="2 2"
            vectorEffect="non-scaling-stroke"
          />
          <polygon
            points={screen.corners.map((c) => place(c).join(',')).join(' ')}
            fill="#1d3340"
            stroke="#f2e9d4"
            strokeWidth="2"
            vectorEffect="non-scaling-stroke"
          />
        </Box>
        {screen.corners.map((c, i) => {
          const [x, y] = place(c);
          return (
            <Box
              key={NAMES[i]}
              role="slider"
              tabIndex={0}
              aria-label={`Corner ${NAMES[i]} of ${screen.name}`}
              aria-valuenow={Math.round(c[0] * 1000) / 10}
              aria-valuetext={`${(c[0] * 100).toFixed(1)} % across, ${(c[1] * 100).toFixed(1)} % up`}
              onKeyDown={keys(i)}
              onPointerDown={(e) => {
                held.current = i;
                (e.currentTarget.parentElement as HTMLElement).setPointerCapture(e.pointerId);
              }}
              sx={{
                position: 'absolute',
                left: `${x}%`,
                top: `${y}%`,
                width: 32,
                height: 32,
                m: '-16px',
                cursor: 'grab',
                display: 'grid',
                placeItems: 'center',
                '&::after': {
                  content: '""',
                  width: 13,
                  height: 13,
                  background: '#f2e9d4',
                  border: '1.5px solid #14110f',
                  transform: 'rotate(45deg)',
                },
              }}
            />
          );
        })}
      </Box>
      <Button
        variant="text"
        onClick={onFlat}
        sx={{
          color: 'inherit',
          visibility: screen.corners.every(
            (c, i) => c[0] === FLAT_CORNERS[i]![0] && c[1] === FLAT_CORNERS[i]![1],
          )
            ? 'hidden'
            : 'visible',
        }}
      >
        corners flat again
      </Button>
    </Box>
  );
}
