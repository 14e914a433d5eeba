import { timingSafeEqual } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import { isIPv6 } from 'node:net';
import os from 'node:os';

/** The one address under which the control window lives: its data belongs to this origin. */
export const CANONICAL_HOST = '127.0.0.1';

const LOOPBACK_NAMES = new Set([CANONICAL_HOST, 'localhost', '[::1]']);

export interface Asked {
  readonly name: string;
  readonly port: string;
  readonly path: string;
  readonly query: URLSearchParams;
  readonly origin: string | undefined;
  /** Whether it comes from this very machine, by the address at the other end of its connection: headers say what they like. */
  readonly local: boolean;
}

export function isLocalPeer(address: string | undefined): boolean {
  return address === '::1' || /^(::ffff:)?127\.\d+\.\d+\.\d+$/.test(address ?? '');
}

/** What a request asks for, by its Host header and its address; null when either is malformed. */
export function asked(request: IncomingMessage): Asked | null {
  const match = /^(\[[0-9a-f:]+\]|[a-z0-9.-]+)(?::(\d+))?$/i.exec(request.headers.host ?? '');
  if (!match) return null;
  try {
    const url = new URL(request.url ?? '/', 'http://x');
    return {
      name: match[1]!.toLowerCase(),
      port: match[2] ?? '80',
      path: url.pathname,
      query: url.searchParams,
      origin: request.headers.origin,
      local: isLocalPeer(request.socket.remoteAddress),
    };
  } catch {
    return null;
  }
}

export type Verdict =
  | { readonly kind: 'serve' }
  | { readonly kind: 'redirect'; readonly to: string }
  | { readonly kind: 'refuse'; readonly status: number; readonly why: string };

/** Paths that other programs and machines may load, given the key: the pages that a streaming program shows. */
const forPages = (path: string): boolean =>
  path.startsWith('/overlay/') ||
  path.startsWith('/matte/') ||
  path.startsWith('/picture/') ||
  path.startsWith('/stream/') ||
  path === '/laser' ||
  path.startsWith('/media/');
/** The page that phones act with, given its own key. */
const forPhones = (path: string): boolean => path === '/phone';
/** The application's own code and fonts: the same for everybody, and nothing of the show. */
const forAll = (path: string): boolean =>
  path.startsWith('/_next/static/') ||
  path.startsWith('/page/') ||
  path === '/favicon.ico' ||
  path === '/icon.svg';

export function keyMatches(given: string | null, key: string): boolean {
  const a = Buffer.from(given ?? ''),
    b = Buffer.from(key);
  return a.length === b.length && timingSafeEqual(a, b);
}

/**
 * Decides about an HTTP request, by where it comes from and the name it was sent to. Another machine gets the overlay pages with the
 * right key, and nothing else; so does a foreign name on this machine, which may be a page of another site made to resolve here.
 */
export function judge(
  ask: Asked | null,
  port: number,
  { pages: key, phones }: { readonly pages: string; readonly phones: string },
): Verdict {
  if (!ask) return { kind: 'refuse', status: 400, why: 'The address is malformed.' };
  if (ask.local && ask.name === CANONICAL_HOST) return { kind: 'serve' };
  if (ask.local && LOOPBACK_NAMES.has(ask.name)) {
    if (forPages(ask.path) || forPhones(ask.path) || forAll(ask.path)) return { kind: 'serve' };
    const query = ask.query.size ? `?${ask.query}` : '';
    return { kind: 'redirect', to: `http://${CANONICAL_HOST}:${port}${ask.path}${query}` };
  }
  if (forAll(ask.path)) return { kind: 'serve' };
  if (forPhones(ask.path))
    return byKey(ask, phones, 'This page needs its key. Scan its code again, in the Rig under Patch.');
  if (forPages(ask.path))
    return byKey(ask, key, 'This page needs its key. Copy its whole address from the Overlays place.');
  return {
    kind: 'refuse',
    status: 403,
    why: `Open Batucada at http://${CANONICAL_HOST}:${port} on the computer that it runs on.`,
  };
}

const byKey = ({ query }: Asked, key: string, why: string): Verdict =>
  keyMatches(query.get('key'), key) ? { kind: 'serve' } : { kind: 'refuse', status: 403, why };

/** Whether it is this machine's own control window: from here, and not from a page of another site. */
export function isOwnWindow(ask: Asked | null, port: number): boolean {
  return (
    ask !== null &&
    ask.local &&
    ask.name === CANONICAL_HOST &&
    ask.origin === `http://${CANONICAL_HOST}:${port}`
  );
}

/** Whether somebody may drive: this machine's own control window, or whoever has the key for it. */
export function mayDrive(ask: Asked | null, port: number, driveKey: string): boolean {
  return ask !== null && (isOwnWindow(ask, port) || keyMatches(ask.query.get('drive'), driveKey));
}

/** Whether a WebSocket may watch overlays: from this machine by its own names, or with the key. */
export function mayWatch(ask: Asked | null, port: number, key: string): boolean {
  if (!ask) return false;
  if (keyMatches(ask.query.get('key'), key)) return true;
  return (
    ask.local &&
    LOOPBACK_NAMES.has(ask.name) &&
    [...LOOPBACK_NAMES].some((n) => ask.origin === `http://${n}:${port}`)
  );
}

/** Addresses by which other machines reach a server that listens at `listen`; none on loopback. */
export function addressesFor(listen: string, port: number): string[] {
  if (isLocalPeer(listen)) return [];
  if (listen !== '0.0.0.0' && listen !== '::')
    return [`http://${isIPv6(listen) ? `[${listen}]` : listen}:${port}`];
  return Object.values(os.networkInterfaces()).flatMap((all) =>
    (all ?? []).filter((a) => a.family === 'IPv4' && !a.internal).map((a) => `http://${a.address}:${port}`),
  );
}
