import { describe, expect, it } from '@jest/globals';
import type { IncomingMessage } from 'node:http';
import {
  addressesFor,
  asked,
  isLocalPeer,
  isOwnWindow,
  judge,
  keyMatches,
  mayDrive,
  mayWatch,
} from './hosts';

const PORT = 4800,
  KEY = 'abcdef0123456789',
  PHONE_KEY = '0011223344556677',
  DRIVE = '9876543210fedcba';
const ask = (host: string | undefined, url = '/', origin?: string, from = '127.0.0.1') =>
  asked({ headers: { host, origin }, url, socket: { remoteAddress: from } } as unknown as IncomingMessage);
const decide = (host: string, url = '/', from = '127.0.0.1'): string => {
  const v = judge(ask(host, url, undefined, from), PORT, { pages: KEY, phones: PHONE_KEY });
  return v.kind === 'refuse' ? String(v.status) : v.kind === 'redirect' ? v.to : v.kind;
};

describe('asked', () => {
  it('reads names, ports and brackets', () => {
    expect(ask('127.0.0.1:4800', '/a?b=1')).toMatchObject({ name: '127.0.0.1', port: '4800', path: '/a' });
    expect(ask('[::1]:4800')).toMatchObject({ name: '[::1]' });
    expect(ask('LOCALHOST')).toMatchObject({ name: 'localhost', port: '80' });
  });
  it.each([undefined, '', 'a b', 'x:y', 'a/b', '127.0.0.1:4800@evil.test'])(
    'is null for the host %j',
    (host) => {
      expect(ask(host)).toBeNull();
    },
  );
});

describe('judge', () => {
  it.each([
    ['127.0.0.1:4800', '/', 'serve'],
    ['localhost:4800', '/', 'http://127.0.0.1:4800/'],
    ['[::1]:4800', '/screen?x=2', 'http://127.0.0.1:4800/screen?x=2'],
    ['localhost:4800', '/overlay/frame', 'serve'],
    ['evil.test:4800', '/', '403'],
    ['evil.test:4800', '/overlay/frame', '403'],
    ['evil.test:4800', '/overlay/frame?key=nope', '403'],
    ['evil.test:4800', `/overlay/frame?key=${KEY}`, 'serve'],
    ['evil.test:4800', `/media/${'a'.repeat(64)}?key=${KEY}`, 'serve'],
    ['evil.test:4800', `/?key=${KEY}`, '403'],
    ['evil.test:4800', '/_next/static/chunk.js', 'serve'],
    ['evil.test:4800', '/_next/static/../../demo/truth.json', '403'],
    ['10.0.0.9:4800', '/demo/manifest.json', '403'],
  ])('%s%s → %s', (host, url, verdict) => {
    expect(decide(host, url)).toBe(verdict);
  });
});

describe('from another machine', () => {
  const far = '192.168.1.77';
  it.each([
    ['127.0.0.1:4800', '/', '403'],
    ['localhost:4800', '/', '403'],
    ['127.0.0.1:4800', '/overlay/frame', '403'],
    ['10.0.0.9:4800', `/overlay/frame?key=${KEY}`, 'serve'],
    ['127.0.0.1:4800', '/demo/manifest.json', '403'],
    ['127.0.0.1:4800', '/_next/static/chunk.js', 'serve'],
  ])('%s%s → %s, whatever name it says', (host, url, verdict) => {
    expect(decide(host, url, far)).toBe(verdict);
  });
  it('nobody drives or watches by the names that it sends', () => {
    const pretends = (url: string): ReturnType<typeof ask> =>
      ask('127.0.0.1:4800', url, 'http://127.0.0.1:4800', far);
    expect(mayDrive(pretends('/bridge'), PORT, DRIVE)).toBe(false);
    expect(mayDrive(pretends(`/bridge?drive=${KEY}`), PORT, DRIVE)).toBe(false);
    expect(isOwnWindow(pretends(`/bridge?drive=${DRIVE}`), PORT)).toBe(false);
    expect(mayWatch(pretends('/bridge'), PORT, KEY)).toBe(false);
  });
  it('one drives with the key for it, and watches with the other', () => {
    expect(mayDrive(ask('10.0.0.9:4800', `/bridge?drive=${DRIVE}`, undefined, far), PORT, DRIVE)).toBe(true);
    expect(mayWatch(ask('10.0.0.9:4800', `/bridge?key=${KEY}`, undefined, far), PORT, KEY)).toBe(true);
  });
  it.each([
    ['127.0.0.1', true],
    ['127.8.9.1', true],
    ['::1', true],
    ['::ffff:127.0.0.1', true],
    ['192.168.1.77', false],
    ['::ffff:10.0.0.1', false],
    ['127.0.0.1.evil', false],
    [undefined, false],
  ])('%s is this machine: %s', (address, local) => {
    expect(isLocalPeer(address)).toBe(local);
  });
});

describe('sockets', () => {
  it('drive only from the canonical page itself', () => {
    expect(mayDrive(ask('127.0.0.1:4800', '/', 'http://127.0.0.1:4800'), PORT, DRIVE)).toBe(true);
    for (const origin of [
      undefined,
      'http://localhost:4800',
      'http://127.0.0.1:4801',
      'https://127.0.0.1:4800',
      'null',
    ])
      expect(mayDrive(ask('127.0.0.1:4800', '/', origin), PORT, DRIVE)).toBe(false);
    expect(mayDrive(ask('localhost:4800', '/', 'http://127.0.0.1:4800'), PORT, DRIVE)).toBe(false);
    expect(mayDrive(null, PORT, DRIVE)).toBe(false);
  });
  it('watch from this machine, or with the key', () => {
    expect(mayWatch(ask('localhost:4800', '/bridge', 'http://localhost:4800'), PORT, KEY)).toBe(true);
    expect(mayWatch(ask('localhost:4800', '/bridge', 'http://evil.test'), PORT, KEY)).toBe(false);
    expect(mayWatch(ask('evil.test:4800', `/bridge?key=${KEY}`, 'http://evil.test:4800'), PORT, KEY)).toBe(
      true,
    );
    expect(mayWatch(null, PORT, KEY)).toBe(false);
  });
  it('compares keys of any length', () => {
    expect([
      keyMatches(KEY, KEY),
      keyMatches('', KEY),
      keyMatches(null, KEY),
      keyMatches(`${KEY}x`, KEY),
    ]).toEqual([true, false, false, false]);
  });
});

describe('the phones’ page', () => {
  it('is served to other machines with its own key, and with no other', () => {
    const from = '10.0.0.7';
    expect(decide('10.0.0.2:4800', `/phone?key=${PHONE_KEY}`, from)).toBe('serve');
    expect(decide('10.0.0.2:4800', `/phone?key=${KEY}`, from)).toBe('403');
    expect(decide('10.0.0.2:4800', '/phone', from)).toBe('403');
    expect(decide('10.0.0.2:4800', `/overlay/a?key=${PHONE_KEY}`, from)).toBe('403');
  });
  it('has an address for other machines only where the server listens further', () => {
    expect(addressesFor('127.0.0.1', 4800)).toEqual([]);
    expect(addressesFor('10.0.0.2', 4800)).toEqual(['http://10.0.0.2:4800']);
    expect(addressesFor('fe80::2', 4800)).toEqual(['http://[fe80::2]:4800']);
    expect(addressesFor('0.0.0.0', 4800).every((a) => !a.includes('127.0.0.1'))).toBe(true);
  });
});
