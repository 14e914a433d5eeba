/**
 * What lamps cost: colours mixed for a thousand of them, and 64 universes of moving values sent by the real thread over real UDP. The
 * receiver is a process of its own, so that nothing this one does counts as a gap of its.
 */
import { execFileSync, fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { Outlets } from '../../src/bridge/outlets/outlets';
import { SimulatedReceiver } from '../../src/bridge/simulated/artnetReceiver';
import type { StreamDeclaration } from '../../src/core/outlets';

const UNIVERSES = 64;
const RATE = 44;
const SECONDS = 60;

/** Median milliseconds in which a thousand lamps of many kinds are gated, mixed and written: bundled, as it ships. */
export const measureMixing = (): Promise<number> => measureIn('mixing');
/** Median milliseconds in which the picture is sampled for 512 cells, and these are written. */
export const measureSampling = (): Promise<number> => measureIn('sampling');
async function measureIn(what: 'mixing' | 'sampling'): Promise<number> {
  const { outputFiles } = await build({
    entryPoints: [fileURLToPath(new URL('./mixing.ts', import.meta.url))],
    bundle: true,
    platform: 'node',
    format: 'esm',
    write: false,
  });
  const said = execFileSync(process.execPath, ['--input-type=module'], {
    input: `${outputFiles[0]!.text}\nconsole.log(${what}());`,
    encoding: 'utf8',
  });
  return Number(said);
}

export interface WireBench {
  readonly sent: number;
  readonly received: number;
  /** Between two packets of one universe, in ms. */
  readonly p50: number;
  readonly p99: number;
  /** Share of one core that the sending process took, in per cent. */
  readonly cost: number;
}
interface Heard {
  readonly received: number;
  readonly gaps: readonly number[];
}

/** 64 universes of moving values at 44 a second for a minute. */
export async function measureWires(): Promise<WireBench> {
  const child = fork(fileURLToPath(import.meta.url), ['receiver'], { execArgv: ['--import', 'tsx'] });
  const next = <T>(): Promise<T> => new Promise((done) => child.once('message', (m) => done(m as T)));
  const port = await next<number>();
  const nowhere = { host: '127.0.0.1', port: 1 };
  const outlets = new Outlets({ artnet: { host: '127.0.0.1', port }, sacn: nowhere });
  const streams = Array.from({ length: UNIVERSES }, (_, universe): StreamDeclaration => ({
    id: `lamps w ${universe}`,
    to: { kind: 'wire', wire: 'w', universe },
    size: 512,
    mostPerSecond: RATE,
    mode: 'latest',
    // Nothing is sent after the last value: what was sent and what came can be compared.
    keepAlive: 60000,
    safe: { then: 'hold' },
    rest: null,
    fates: null,
    calm: null,
  }));
  outlets.declare(
    [{ id: 'w', protocol: 'artnet', target: { kind: 'simulated' }, priority: 100, sync: false }],
    streams,
    false,
  );
  const value = new Uint8Array(512);
  const before = process.cpuUsage(),
    start = performance.now();
  for (let tick = 0; performance.now() - start < SECONDS * 1000; tick++) {
    value.fill(1 + (tick % 254));
    for (let u = 0; u < UNIVERSES; u++) outlets.write(u, value);
    outlets.beat();
    await new Promise((r) => setTimeout(r, 10));
  }
  const took = process.cpuUsage(before),
    seconds = (performance.now() - start) / 1000;
  await new Promise((r) => setTimeout(r, 1000));
  const sent = outlets.state.streams.reduce((n, s) => n + s.sent, 0);
  child.send('state');
  const { received, gaps } = await next<Heard>();
  child.kill();
  await outlets.close();
  const sorted = [...gaps].sort((a, b) => a - b),
    at = (q: number): number => sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))] ?? NaN;
  return {
    sent,
    received,
    p50: at(0.5),
    p99: at(0.99),
    cost: (100 * (took.user + took.system)) / 1e6 / seconds,
  };
}

if (process.argv[2] === 'receiver' && process.send) {
  const receiver = await SimulatedReceiver.open(0),
    last = new Map<number, number>(),
    gaps: number[] = [];
  receiver.onPacket = (universe) => {
    const now = performance.now(),
      was = last.get(universe);
    if (was !== undefined) gaps.push(now - was);
    last.set(universe, now);
  };
  process.on('message', () => process.send!({ received: receiver.packets, gaps } satisfies Heard));
  process.send(receiver.port);
}
