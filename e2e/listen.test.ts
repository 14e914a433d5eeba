import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { writeWav } from '../src/core/audio/wav';
import { named, playFerry, press, startServer, textOf, until, visit, type Server, type Visit } from './support';

let server: Server;
let v: Visit;
const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-sounds-'));
beforeAll(async () => {
  server = await startServer();
  v = await visit(server.url, { autoplay: true });
  await playFerry(v.page);
  await press(v.page, 'button', '1 Listen');
});
afterAll(async () => {
  const { noise, strangers } = v;
  await v.close();
  await server.stop();
  expect(strangers).toEqual([]);
  expect(noise).toEqual([]);
});
const position = async (): Promise<number> => Number(/([\d.]+) \//.exec(await textOf(v.page, '[aria-label=Playing]'))?.[1] ?? NaN);
const tone = (hz: number, amplitude: number): Buffer => Buffer.from(writeWav([Float32Array.from({ length: 48000 * 2 }, (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / 48000))], 48000, 16));
async function addSound(name: string, bytes: Buffer): Promise<void> {
  writeFileSync(path.join(folder, name), bytes);
  await press(v.page, 'button', '+ input');
  const chooser = v.page.waitForFileChooser();
  await press(v.page, 'menuitem', 'A sound file …');
  await (await chooser).accept([path.join(folder, name)]);
}
/** The strip of an input, as it reads. */
const strip = (name: string): Promise<string> => v.page.$$eval('[aria-label=Inputs] h3', (all, n) => all.find((e) => e.textContent === n)?.parentElement?.parentElement?.textContent ?? '', name);
const loudness = async (name: string): Promise<number> => Number(/−?([\d.]+) dBFS/.exec(await strip(name))?.[0]?.replace('−', '-').replace(' dBFS', '') ?? NaN);

describe('playing', () => {
  it('pauses and goes on with the space bar, and stands where it was', async () => {
    await until('the ferry to be under way', async () => (await position()) > 1);
    await v.page.keyboard.press('Space');
    await named(v.page, 'button', 'Play');
    let at = -1;
    await until('it to stand', async () => { const before = at; at = await position(); await new Promise((r) => setTimeout(r, 200)); return at === before; });
    expect(await strip('Deck stems')).toContain('paused');
    await v.page.keyboard.press('Space');
    await until('it to go on from there', async () => { const p = await position(); return p > at && p < at + 5; });
  });
  it('is sought by keyboard, and Home goes to the start', async () => {
    const slider = await named(v.page, 'slider', 'Position');
    await slider.focus();
    const before = await position();
    for (let i = 0; i < 6; i++) await v.page.keyboard.press('ArrowRight');
    await until('it to be further on', async () => (await position()) > before + 5);
    await v.page.keyboard.press('Home');
    await until('it to begin anew', async () => (await position()) < 3);
  });
});

describe('inputs', () => {
  it('a chosen file plays, reads its own level, and says how it is', async () => {
    await addSound('steady.wav', tone(440, 0.5));
    await until('it to be read', async () => Math.abs((await loudness('steady')) + 6) < 0.3);
    expect(await strip('steady')).toContain('good');
  });
  it('trim changes what is analysed; the monitor level and whether it is heard do not', async () => {
    const monitor = await named(v.page, 'slider', 'Monitor level of steady');
    await monitor.focus();
    await v.page.keyboard.press('Home');
    await v.page.click('input[aria-label="Hear steady"]');
    await until('it not to be heard', async () => (await strip('steady')).includes('drives, not heard'));
    expect(Math.abs((await loudness('steady')) + 6)).toBeLessThan(0.3);
    const trim = await named(v.page, 'slider', 'Trim of steady');
    await trim.focus();
    await v.page.keyboard.press('Enter');
    await v.page.keyboard.type('-12');
    await v.page.keyboard.press('Enter');
    await until('it to be read 12 dB lower', async () => Math.abs((await loudness('steady')) + 18) < 0.3);
  });
  it('a number out of range is refused in words and leaves the old one', async () => {
    const trim = await named(v.page, 'slider', 'Trim of steady');
    await trim.focus();
    await v.page.keyboard.press('Enter');
    await v.page.keyboard.type('900');
    await until('words', async () => (await textOf(v.page, '[role=alert]')).includes('A number from −60.0 dB to 24.0 dB'));
    await v.page.keyboard.press('Enter');
    expect(await textOf(v.page, '[aria-label="Trim of steady"]')).toBe('−12.0 dB');
  });
  it.each([['whisper.wav', 0.002, 'very quiet', 'Raise the trim'], ['loud.wav', 4, 'clipping', 'cut off at full scale']])('names the health of %s and its remedy', async (name, amplitude, word, remedy) => {
    await addSound(name, tone(300, amplitude));
    const title = name.replace('.wav', '');
    await until(`it to be called ${word}`, async () => (await strip(title)).includes(word));
    expect(await strip(title)).toContain(remedy);
    await press(v.page, 'button', 'remove');
    await until('it gone', async () => (await strip(title)) === '');
  });
  it('changing an input\'s source keeps what listens to it', async () => {
    await v.page.$$eval('[aria-label=Inputs] h3', (all) => { const e = all.find((x) => x.textContent === 'Deck stems'); e!.parentElement!.parentElement!.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true })); });
    const ears = await v.page.$$eval('[aria-label=Ears] h3', (all) => all.length);
    await press(v.page, 'button', 'change');
    const chooser = v.page.waitForFileChooser();
    await press(v.page, 'menuitem', 'A sound file …');
    writeFileSync(path.join(folder, 'low.wav'), tone(70, 0.4));
    await (await chooser).accept([path.join(folder, 'low.wav')]);
    await until('the new source', async () => (await strip('low')).includes('file, loops'));
    expect(await v.page.$$eval('[aria-label=Ears] h3', (all) => all.length)).toBe(ears);
    await v.page.keyboard.press('2');
    await until('the ferry to follow it', async () => Number.parseFloat((await textOf(v.page, '[data-parameter="ferry/height"]')).replace('height', '')) > 15);
    await v.page.keyboard.press('1');
  });
});

describe('ears', () => {
  it('are added from the menu, renamed, and removed; each is one undo', async () => {
    await press(v.page, 'button', '+ ear');
    await press(v.page, 'menuitem', 'Level, peak');
    await press(v.page, 'button', 'rename');
    await v.page.keyboard.down('Control'); await v.page.keyboard.press('a'); await v.page.keyboard.up('Control');
    await v.page.keyboard.type('Everything');
    await v.page.keyboard.press('Enter');
    await named(v.page, 'group', 'Everything');
    await press(v.page, 'button', 'Remove Everything');
    await until('it gone', async () => (await v.page.$('[aria-label=Ears] [aria-label=Everything]')) === null);
    await v.page.keyboard.down('Control'); await v.page.keyboard.press('z'); await v.page.keyboard.up('Control');
    await named(v.page, 'group', 'Everything');
  });
  it('a new ear knows the last twelve seconds at once', async () => {
    await press(v.page, 'button', '+ ear');
    await press(v.page, 'menuitem', 'High range, 4–12 kHz');
    // Its trace reaches back to the left edge although it is only now there.
    await until('ink at the far left of its trace', () => v.page.$$eval('[aria-label=Ears] canvas', (all) => {
      const c = all.at(-1) as HTMLCanvasElement;
      const px = c.getContext('2d')!.getImageData(2, 0, 4, c.height).data;
      let ink = 0;
      for (let i = 3; i < px.length; i += 4) if (px[i]! > 0) ink++;
      return ink > 0;
    }));
  });
});
