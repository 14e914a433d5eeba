/**
 * npm run faults [-- --json] [--write]: brings each fault of a night about by real means, on the running application with lamps lit on
 * a node of its own, and says how long until it was noticed and until all was as before, and what was lost. Ends with 1 if an output
 * was ever wrong.
 */
import { spawn } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Page } from 'puppeteer-core';
import { WebSocket } from 'ws';
import {
  machineSleeps,
  Node,
  nodeGoes,
  openFaultShow,
  pageCrashes,
  pageHangs,
  serverDies,
  type LampFault,
} from '../e2e/lampFaults';
import {
  named,
  openMenu,
  openShowFile,
  press,
  startServer,
  textOf,
  threadOf,
  until,
  visit,
  type Server,
  type Visit,
} from '../e2e/support';
import { writeWav } from '../src/core/audio/wav';
import { Word } from '../src/engine/memory/control';
import type { MeasureHandle } from '../src/ui/state/session';
import { type Survived, tableOf } from './faults/survived';

const server: Server = await startServer();
const v: Visit = await visit(server.url, { autoplay: true });
const node = new Node();
await node.open();
/** The page that has the show: another one after a crash. */
let page: Page = v.page;
await press(page, 'button', 'Play the ferry');
await named(page, 'button', '1 Listen');
await openFaultShow(page, node);

const now = (): number => performance.now();
const rest = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));
const word = (w: Word): Promise<number> =>
  page.evaluate(
    // A page that is being loaded has none yet.
    (k) => (window as unknown as { batucadaMeasure?: MeasureHandle }).batucadaMeasure?.word(k as never) ?? 0,
    w as number,
  );
const body = (): Promise<string> => textOf(page, 'body');
const says = (what: string): Promise<true> =>
  until(`“${what}”`, async () => (await body()).includes(what) || null);
async function goesOn(): Promise<void> {
  const from = await word(Word.Ticks);
  await until('the show goes on', async () => (await word(Word.Ticks)) > from + 20);
}
const lit = (): boolean => node.last?.level === 255;

const all: Survived[] = [];
const tell = (s: Survived): void => {
  all.push(s);
  console.error(
    `${s.fault}: back ${Math.round(s.back)} ms, silence ${Math.round(s.silence)} ms, wrong ${s.wrong}`,
  );
};
/** What the node saw since: its longest silence, and packets that rose, or stood elsewhere, without being what was on. */
function seenSince(from: number): Pick<Survived, 'silence' | 'wrong'> {
  const seen = [{ at: from, level: 255 }, ...node.since(from)];
  let silence = now() - seen.at(-1)!.at,
    wrong = 0;
  for (let i = 1; i < seen.length; i++) {
    silence = Math.max(silence, seen[i]!.at - seen[i - 1]!.at);
    // It may only fall; once it is dark, or there is a show again, it is what was on.
    if (seen[i]!.level > seen[i - 1]!.level && seen[i]!.level !== 255) wrong++;
  }
  return { silence, wrong };
}

/** A fault of which the lamps should see nothing at all. @param cause - brings it about, and says when it was noticed, in ms, if it is told */
async function fault(
  what: string,
  means: string,
  cause: (from: number) => Promise<number | null>,
  mended: () => Promise<unknown> = goesOn,
): Promise<void> {
  await until('lamps that are lit', lit);
  const lost = await word(Word.Lost),
    from = now(),
    noticed = await cause(from),
    over = now();
  await mended();
  await until('lamps that are lit again', lit);
  const after = await word(Word.Lost).catch(() => NaN);
  tell({
    fault: what,
    means,
    noticed,
    back: now() - over,
    // A page that was loaded anew counts anew.
    lost: after >= lost ? after - lost : after || 0,
    ...seenSince(from),
  });
}
const since = async (from: number, words: string): Promise<number> => {
  await says(words);
  return now() - from;
};
/** Of those that lamps are known by anyway. */
const ofLamps = async (means: string, cause: () => Promise<LampFault>): Promise<void> => {
  const from = now(),
    { fault: what, safeMs, backMs, wrong } = await cause();
  const seen = seenSince(from);
  tell({
    fault: what,
    means,
    noticed: safeMs > 0 ? safeMs : null,
    back: backMs,
    silence: seen.silence,
    lost: 0,
    wrong: wrong + seen.wrong,
  });
};

const busy = (w: { evaluate(f: () => void): Promise<unknown> }): void =>
  void w
    .evaluate(() => {
      for (;;);
    })
    .catch(() => undefined);

try {
  await fault('main thread blocked', 'a loop in the window for two seconds', async () => {
    await page.evaluate(() => {
      const end = performance.now() + 2000;
      while (performance.now() < end);
    });
    return null;
  });
  await fault('window hidden', 'another tab before it for three seconds', async () => {
    const other = await v.browser.newPage();
    await other.bringToFront();
    await rest(3000);
    await other.close();
    await page.bringToFront();
    return null;
  });
  await fault('tab reloaded', 'the browser’s own reload', async () => {
    await page.reload({ waitUntil: 'load' });
    return null;
  });
  for (const [name, words] of [
    ['conductor', 'The show’s thread had stopped'],
    ['outlets', 'The outputs’ thread had stopped'],
  ] as const)
    await fault(
      `thread of the ${name === 'conductor' ? 'show' : 'outputs'} stopped`,
      'a loop without end in it',
      async (from) => {
        busy(await threadOf(page, name));
        return since(from, words);
      },
    );
  await fault('graphics context lost', 'taken away by the browser', async (from) => {
    await page.keyboard.press('3');
    await openWhole(page);
    await press(page, 'button', 'Lose the graphics device');
    return since(from, 'lost and regained');
  });
  await fault('processor starved', 'four busy programs for each core, five seconds', async (from) => {
    const loops = Array.from({ length: 4 * os.cpus().length }, () =>
      spawn(process.execPath, ['-e', 'for(;;);'], { stdio: 'ignore' }),
    );
    // Where the sound comes first in spite of it, there is nothing to be told.
    let told: number | null = null;
    while (now() - from < 5000) {
      if (told === null && (await body()).includes('stutters')) told = now() - from;
      await rest(100);
    }
    for (const l of loops) l.kill('SIGKILL');
    return told;
  });
  await fault(
    'network flooded',
    '40,000 packets of noise to the OSC port, and two hundred connections that say nothing right',
    async () => {
      const udp = createSocket('udp4'),
        { host, port } = server.osc();
      const noise = Buffer.from(Array.from({ length: 512 }, (_, i) => (i * 73) & 255));
      for (let i = 0; i < 40000; i++) {
        udp.send(noise.subarray(i % 300), port, host);
        if (i % 400 === 0) await rest(10);
      }
      const sockets = Array.from({ length: 200 }, () => {
        const s = new WebSocket(`ws://127.0.0.1:${server.port}/bridge?role=page&page=x&key=wrong`);
        s.on('error', () => undefined);
        s.on('open', () => s.send(noise));
        return s;
      });
      await rest(1500);
      for (const s of sockets) s.terminate();
      udp.close();
      return null;
    },
  );
  await fault('corrupt show', 'a file of noise, opened', async (from) => {
    const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'batucada-corrupt-')), 'corrupt.batucada');
    writeFileSync(file, Buffer.from(Array.from({ length: 4096 }, (_, i) => (i * 151) & 255)));
    await openShowFile(page, file);
    return since(from, 'not a Batucada show');
  });
  await fault(
    'store full',
    'the browser’s room for this address set to nothing',
    async (from) => {
      const client = await page.createCDPSession();
      await client.send('Storage.overrideQuotaForOrigin', {
        origin: new URL(server.url).origin,
        quotaSize: 1,
      });
      const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'batucada-full-')), 'large.wav');
      writeFileSync(file, largeSound());
      await until('it told', async () => {
        await page.keyboard.press('1');
        await openMenu(page, '+ input');
        const chooser = page.waitForFileChooser();
        await press(page, 'menuitem', 'A sound file …');
        await (await chooser).accept([file]);
        await until('an answer', async () => /store is full|large/.test(await body()) || null, 8000).catch(
          () => null,
        );
        return (await body()).includes('store is full') || null;
      });
      const told = now() - from;
      await client.send('Storage.overrideQuotaForOrigin', { origin: new URL(server.url).origin });
      await client.detach();
      return told;
    },
    goesOn,
  );
  await fault('two tabs', 'the same address in another one', async (from) => {
    const other = await v.browser.newPage();
    await other.goto(server.url, { waitUntil: 'load' });
    await until('it waits', async () => (await textOf(other, 'h1')).includes('in another window') || null);
    const told = now() - from;
    await other.close();
    await page.bringToFront();
    return told;
  });
  await fault('phone gone while a slider is held', 'its connection cut in the middle of a drag', async () => {
    const { phoneKey: key } = JSON.parse(readFileSync(path.join(server.folder, 'bridge.json'), 'utf8')) as {
      phoneKey: string;
    };
    const phone = new WebSocket(`ws://127.0.0.1:${server.port}/bridge?role=phone&key=${key}`);
    await new Promise((done, failed) => phone.once('open', done).once('error', failed));
    for (const value of [0.99, 1]) {
      phone.send(JSON.stringify({ type: 'act', act: { do: 'master', master: 'all', value } }));
      await rest(40);
    }
    phone.terminate();
    await rest(300);
    return null;
  });
  await ofLamps('the receiver’s socket closed for 1.5 s', () => nodeGoes(node));
  await ofLamps('the process killed', () => serverDies(server, node));
  await ofLamps('browser and server stopped for 2.5 s, and gone on', () =>
    machineSleeps(server, v.browser, node),
  );
  await ofLamps('the process of the page stopped', () => pageHangs(page, node));
  // One that crashes as soon as it is opened is left closed the next time, so as not to crash again.
  await rest(4000);
  await ofLamps('the browser’s own crash', () => pageCrashes(v.browser, page, server.url, node));
  page = (await v.browser.pages()).at(-1)!;
  await fault('permission refused', 'a browser that says no to the microphone', async () => {
    const refused = await visit(server.url, { refuseMicrophone: true });
    try {
      const asked = now();
      await press(refused.page, 'button', 'Use a microphone');
      await until(
        'words',
        async () => (await textOf(refused.page, '[role=alert]')).includes('allow the microphone') || null,
      );
      return now() - asked;
    } finally {
      await refused.close();
    }
  });
} finally {
  node.close();
  await v.close();
  await server.stop();
}

/** Two minutes of silence: more than a store without room takes. */
function largeSound(): Uint8Array<ArrayBuffer> {
  return new Uint8Array(writeWav([new Float32Array(48000 * 120)], 48000, 24));
}
async function openWhole(p: Page): Promise<void> {
  await until('the whole picture', async () => {
    await p.$$eval('button', (buttons) =>
      buttons.find((b) => (b.textContent ?? '').startsWith('Whole picture'))?.click(),
    );
    return p.$('::-p-aria([name="Lose the graphics device"][role="button"])');
  });
}

/** What cannot be brought about on a machine without the hardware for it, and is tested otherwise. */
const NOT_HERE = [
  'audio device pulled, sample rate changed: no sound card here. A graph that is closed, and a device that is gone, are in the tests of the interface.',
  'controller unplugged and back: no MIDI port here. It is tested with ports that come and go.',
  'clock leaping: the machine’s clock is everybody’s. Nothing that keeps time reads it.',
  'not-a-number in the sound: tested in every ear, and in the worklet.',
];
if (process.argv.includes('--json')) for (const s of all) console.log(JSON.stringify(s));
else console.log(tableOf(all));
if (process.argv.includes('--write'))
  writeFileSync(
    'docs/faults.md',
    `# Faults

What \`npm run faults -- --write\` brought about and saw, on one machine that others use too: the times say what is seconds and what is
moments, no more. *Noticed* is until somebody is told in words, or the lamps are safe; *back* is from the end of the fault, or from
its remedy, until everything is as before; *wrong packets* are those that were neither what was on, nor on their way to rest, nor dark.

${tableOf(all)}

Not brought about by the command:

${NOT_HERE.map((line) => `- ${line}`).join('\n')}
`,
  );
const wrong = all.reduce((n, s) => n + s.wrong, 0);
if (wrong > 0) console.error(`${wrong} packets were wrong.`);
process.exit(wrong > 0 ? 1 : 0);
