import { PICTURE_HEIGHT, PICTURE_WIDTH } from '../core/figures';
import { overlayPage, PICTURE_PAGE } from '../core/protocols';
import { laidOn, type Screen } from '../core/screens';
import { PICTURE_SURFACE } from '../core/show';
import { pageAddress } from '../engine/memory/pageAddress';
import type { FromPicture, ToPicture } from '../engine/memory/messages';
import { keepQuality, knownQualities } from '../engine/picture/knownQualities';
import { FILES_ELSEWHERE, FILES_HERE, MediaDesk } from '../engine/picture/mediaDesk';

/**
 * A page for another program or machine: `/overlay/ID`, `/matte/ID`, `/picture/SCREEN`. Plain http, no isolation, no press needed; it
 * draws in a worker, connects again by itself, and says in words what is wrong as long as it has nothing to show. Window.
 */

/** More pixels across are not drawn, however large the page is. */
const WIDEST = 3840;
/** A page of another version loads itself anew so often at most, in ms. */
const ANEW_MS = 30000;

const [, kind = '', id = ''] = location.pathname.split('/').map(decodeURIComponent),
  asked = new URLSearchParams(location.search),
  picture = kind === 'picture',
  matte = kind === 'matte';

const main = document.querySelector('main')!,
  words = document.querySelector<HTMLElement>('[role=status]')!,
  canvas = document.createElement('canvas');
canvas.setAttribute('role', 'img');
canvas.setAttribute('aria-label', picture ? 'The picture, live' : matte ? 'Matte, live' : 'Overlay, live');
main.prepend(canvas);
document.documentElement.dataset.kind = kind;

/** What the surface is in its own pixels, and how a screen lies on its display. */
let surface = { width: PICTURE_WIDTH, height: PICTURE_HEIGHT },
  screen: Screen | null = null,
  drawn = false,
  strange = false;

const say = (text: string | null): void => {
  words.textContent = text ?? '';
  words.hidden = text === null;
};

/** By what the streaming program's operator knows it: a name of its own in the address, else the browser. */
function nameOfPage(): string {
  const given = asked.get('name');
  if (given) return given;
  const agent = navigator.userAgent,
    browser = /Firefox\/\d+/.exec(agent)?.[0] ?? /(?:Chrome|Version)\/\d+/.exec(agent)?.[0] ?? 'a browser',
    system = /Windows|Mac OS X|Android|Linux|iPhone|iPad/.exec(agent)?.[0] ?? '';
  return `${browser.replace('Version/', 'Safari ').replace('/', ' ')}${system && `, ${system}`}`;
}

function pixels(): [number, number] {
  if (picture) return [screen?.width ?? surface.width, screen?.height ?? surface.height];
  const room = { width: innerWidth * devicePixelRatio, height: innerHeight * devicePixelRatio },
    scale = Math.min(room.width / surface.width, room.height / surface.height, WIDEST / surface.width),
    even = (x: number): number => Math.max(2, Math.round(x / 2) * 2);
  return [even(surface.width * scale), even(surface.height * scale)];
}

function start(): void {
  if (typeof canvas.transferControlToOffscreen !== 'function') {
    say('This browser is too old to draw here. Use one of the last three years.');
    return;
  }
  const worker = new Worker(new URL(document.documentElement.dataset.drawer!, location.href), {
      type: 'module',
      name: 'page',
    }),
    tell = (message: ToPicture, transfer: Transferable[] = []): void => worker.postMessage(message, transfer);
  const desk = new MediaDesk(worker, isSecureContext ? FILES_HERE : FILES_ELSEWHERE);
  worker.onerror = () => say('This browser cannot draw here: it needs WebGL 2 in workers.');
  const offscreen = canvas.transferControlToOffscreen(),
    [width, height] = pixels();
  tell(
    {
      type: 'canvas',
      canvas: offscreen,
      width,
      height,
      preview: false,
      open: !picture,
      known: knownQualities(),
    },
    [offscreen],
  );
  tell(picture ? { type: 'screen', id } : { type: 'surface', id, matte });
  if (picture) tell({ type: 'surface', id: PICTURE_SURFACE.id, matte: false });
  tell({
    type: 'bridge',
    url: pageAddress(picture ? PICTURE_PAGE : overlayPage(id)),
    name: nameOfPage(),
  });

  const lie = (): void => {
    const [w, h] = pixels();
    const laid = laidOn(
      { width: w, height: h, ...(screen?.lies && { lies: screen.lies }) },
      { width: innerWidth, height: innerHeight },
    );
    canvas.style.width = `${laid.width}px`;
    canvas.style.height = `${laid.height}px`;
    tell({ type: 'size', width: w, height: h });
  };
  worker.onmessage = (e: MessageEvent<FromPicture>) => {
    const told = e.data;
    if (desk.take(told)) return;
    switch (told.type) {
      case 'rate':
        keepQuality(told);
        drawn = true;
        canvas.dataset.pictures = String(Math.round(told.framesPerSecond));
        canvas.dataset.arrived = String(told.arrived);
        return;
      case 'screen':
        screen = told.screen;
        document.title = `${screen.name} · Batucada`;
        lie();
        return;
      case 'there':
        if (strange) return;
        canvas.dataset.live = String(told.live);
        if (told.width && told.height) {
          surface = { width: told.width, height: told.height };
          if (!picture) document.title = `${told.name ?? 'Overlay'} · Batucada`;
          lie();
        }
        canvas.hidden = told.gone;
        say(wordsFor(told));
        return;
      case 'otherVersion':
        // What it is told is not for it: what it has stays, and so do the words.
        tell({ type: 'leave' });
        strange = true;
        anew();
        return;
      case 'trouble':
        if (!drawn) say(told.what);
        return;
    }
  };
  addEventListener('resize', lie);
  addEventListener('pagehide', () => tell({ type: 'leave' }));
  lie();
  if (picture) asScreen((on) => tell({ type: 'card', on }));
}

/** A page that has its picture says nothing, also when nobody drives it any more: it holds, and comes to rest. */
function wordsFor(there: Extract<FromPicture, { type: 'there' }>): string | null {
  if (there.gone)
    return picture
      ? 'There is no picture in the show that plays there.'
      : 'This overlay is not in the show any more. Copy the address of another in Overlays.';
  if (there.show) return null;
  return there.live
    ? 'The picture is on its way …'
    : 'Nobody plays a show there now. The picture comes by itself once somebody does.';
}

/** The server is of another version: what it serves is loaded, once. */
function anew(): void {
  const before = Number(sessionStorage.getItem('batucada-anew') ?? 0);
  if (Date.now() - before < ANEW_MS) {
    say(
      'This page is of another version than the server that it looks at. Load it again once that is up to date.',
    );
    return;
  }
  sessionStorage.setItem('batucada-anew', String(Date.now()));
  location.reload();
}

/** F or a double click fills the display, T shows a test card; the display stays awake where the browser lets it. */
function asScreen(card: (on: boolean) => void): void {
  let shown = false;
  const fill = (): void =>
    void (
      document.fullscreenElement ? document.exitFullscreen() : document.documentElement.requestFullscreen()
    ).catch(() => undefined);
  addEventListener('dblclick', fill);
  addEventListener('keydown', (e) => {
    if (e.key === 'f' || e.key === 'F') fill();
    else if (e.key === 't' || e.key === 'T') {
      shown = !shown;
      document.documentElement.dataset.card = String(shown);
      card(shown);
    }
  });
  const wake = (): void => {
    if (document.visibilityState !== 'visible') return;
    // Browsers grant it on safe addresses only; elsewhere the machine's own settings keep it awake.
    navigator.wakeLock?.request('screen').then(
      () => (document.documentElement.dataset.awake = 'true'),
      () => undefined,
    );
  };
  document.addEventListener('visibilitychange', wake);
  wake();
}

start();
