import { describe, expect, it } from '@jest/globals';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { hzToField } from '../src/core/audio/spectrum';
import { writeWav } from '../src/core/audio/wav';
import { withFerry } from './stage';
import {
  behind,
  choose,
  microphoneFile,
  named,
  openMenu,
  playFerry,
  press,
  tap,
  textOf,
  undo,
  until,
  visit,
  type Server,
  type Visit,
} from './support';

let server: Server;
let v: Visit;
const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-sounds-'));
withFerry(async (s, first) => {
  server = s;
  v = first;
  await press(v.page, 'button', '1 Listen');
});
const position = async (): Promise<number> =>
  Number(/([\d.]+) \//.exec(await textOf(v.page, '[aria-label=Playing]'))?.[1] ?? NaN);
const tone = (hz: number, amplitude: number): Buffer =>
  Buffer.from(
    writeWav(
      [
        Float32Array.from(
          { length: 48000 * 2 },
          (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / 48000),
        ),
      ],
      48000,
      16,
    ),
  );
async function addSound(name: string, bytes: Buffer): Promise<void> {
  writeFileSync(path.join(folder, name), bytes);
  await openMenu(v.page, '+ input');
  const chooser = v.page.waitForFileChooser();
  await press(v.page, 'menuitem', 'A sound file …');
  await (await chooser).accept([path.join(folder, name)]);
}
/** The strip of an input, as it reads. */
const strip = (name: string): Promise<string> =>
  v.page.$$eval(
    '[aria-label=Inputs] h3',
    (all, n) => all.find((e) => e.textContent === n)?.parentElement?.parentElement?.textContent ?? '',
    name,
  );
const loudness = async (name: string): Promise<number> =>
  Number(
    /−?([\d.]+) dBFS/
      .exec(await strip(name))?.[0]
      ?.replace('−', '-')
      .replace(' dBFS', '') ?? NaN,
  );

describe('playing', () => {
  it('pauses and goes on with the space bar, and stands where it was', async () => {
    await until('the ferry to be under way', async () => (await position()) > 1);
    await v.page.keyboard.press('Space');
    await named(v.page, 'button', 'Play');
    let at = -1;
    await until('it to stand', async () => {
      const before = at;
      at = await position();
      await new Promise((r) => setTimeout(r, 200));
      return at === before;
    });
    expect(await strip('Deck stems')).toContain('paused');
    await v.page.keyboard.press('Space');
    await until('it to go on from there', async () => {
      const p = await position();
      return p > at && p < at + 5;
    });
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
  it('the field shows in its past what is in focus, and nothing of what was before', async () => {
    /** Which share of the rows of the past has ink at a frequency, or so near that a dash stands for it. */
    const inked = (hz: number): Promise<number> =>
      v.page.$eval(
        '[role=application] canvas',
        (c, at) => {
          const { width, height } = c as HTMLCanvasElement,
            past = Math.floor(height / 2),
            near = 8,
            px = (c as HTMLCanvasElement)
              .getContext('2d')!
              .getImageData(Math.round(at * width - near / 2), 0, near, past).data;
          let rows = 0;
          for (let y = 0; y < past; y++) {
            let ink = false;
            for (let x = 0; x < near; x++) ink ||= px[(y * near + x) * 4]! > 60;
            rows += Number(ink);
          }
          return rows / past;
        },
        hzToField(hz),
      );
    await (await (await named(v.page, 'group', 'steady')).$('h3'))!.click();
    await until('steady in focus', async () =>
      (await textOf(v.page, '[aria-label="The field"]')).includes('steady'),
    );
    // Of a tone of 440 Hz rows are full there, and empty two octaves and more above.
    await until('its tone, and nothing else', async () => {
      const [tone, above, far] = [await inked(440), await inked(2000), await inked(6000)];
      return tone > 0.6 && above < 0.1 && far < 0.1;
    });
  });
  it('trim changes what is analysed; the monitor level and whether it is heard do not', async () => {
    const monitor = await named(v.page, 'slider', 'Monitor level of steady');
    await monitor.focus();
    await v.page.keyboard.press('Home');
    await tap(v.page, 'input[aria-label="Hear steady"]');
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
    await until('words', async () =>
      (await textOf(v.page, '[role=alert]')).includes('A number from −60.0 dB to 24.0 dB'),
    );
    await v.page.keyboard.press('Enter');
    expect(await textOf(v.page, '[aria-label="Trim of steady"]')).toBe('−12.0 dB');
  });
  it.each([
    ['whisper.wav', 0.002, 'very quiet', 'Raise the trim'],
    ['loud.wav', 4, 'clipping', 'cut off at full scale'],
  ])('names the health of %s and its remedy', async (name, amplitude, word, remedy) => {
    await addSound(name, tone(300, amplitude));
    const title = name.replace('.wav', '');
    await until(`it to be called ${word}`, async () => (await strip(title)).includes(word));
    expect(await strip(title)).toContain(remedy);
    await press(v.page, 'button', 'remove');
    await until('it gone', async () => (await strip(title)) === '');
  });
  it("changing an input's source keeps what listens to it", async () => {
    await v.page.$$eval('[aria-label=Inputs] h3', (all) => {
      const e = all.find((x) => x.textContent === 'Deck stems');
      e!.parentElement!.parentElement!.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true }));
    });
    const ears = await v.page.$$eval('[aria-label=Ears] h3', (all) => all.length);
    await openMenu(v.page, 'change');
    const chooser = v.page.waitForFileChooser();
    await press(v.page, 'menuitem', 'A sound file …');
    writeFileSync(path.join(folder, 'low.wav'), tone(70, 0.4));
    await (await chooser).accept([path.join(folder, 'low.wav')]);
    await until('the new source', async () => (await strip('low')).includes('file, loops'));
    expect(await v.page.$$eval('[aria-label=Ears] h3', (all) => all.length)).toBe(ears);
    await v.page.keyboard.press('2');
    await until(
      'the ferry to follow it',
      async () =>
        Number.parseFloat((await textOf(v.page, '[data-parameter="ferry/height"]')).replace('height', '')) >
        15,
    );
    await v.page.keyboard.press('1');
  });
});

/** The ear that is being tried. */
const trying = (): Promise<string> => textOf(v.page, '[aria-label^="New ear"]');
async function tryEar(group: string, name: string): Promise<void> {
  await until('no menu in the way', async () => (await v.page.$('[role=menu]')) === null);
  await press(v.page, 'button', '+ ear');
  await named(v.page, 'region', group);
  await press(v.page, 'button', name);
  await until('it to be tried', async () => (await trying()).includes('tried on the sound'));
}
/** Picks an input by its title. */
const pick = (name: string): Promise<void> =>
  v.page.$$eval(
    '[aria-label=Inputs] h3 button',
    (all, n) => {
      (all.find((e) => e.textContent === n) as HTMLElement).click();
    },
    name,
  );

describe('ears', () => {
  it('are tried, kept, renamed, and removed; each is one undo', async () => {
    await tryEar('How loud', 'Peak');
    await press(v.page, 'button', 'Keep only');
    await press(v.page, 'button', 'rename');
    await v.page.keyboard.down('Control');
    await v.page.keyboard.press('a');
    await v.page.keyboard.up('Control');
    await v.page.keyboard.type('Everything');
    await v.page.keyboard.press('Enter');
    await named(v.page, 'group', 'Everything');
    await press(v.page, 'button', 'Remove Everything');
    await until(
      'it gone',
      async () => (await v.page.$('[aria-label=Ears] [aria-label=Everything]')) === null,
    );
    await undo(v.page);
    await named(v.page, 'group', 'Everything');
  });
  it('one that is tried knows the last twelve seconds at once, and Esc drops it', async () => {
    const ears = await v.page.$$eval('[aria-label=Ears] h3', (all) => all.length);
    await tryEar('A range', 'High, 4–12 kHz');
    // Its trace reaches back to the left edge although it is only now there.
    await until('ink at the far left of its trace', () =>
      v.page.$$eval('[aria-label^="New ear"] canvas', (all) => {
        const c = all[0] as HTMLCanvasElement;
        const px = c.getContext('2d')!.getImageData(2, 0, 4, c.height).data;
        let ink = 0;
        for (let i = 3; i < px.length; i += 4) if (px[i]! > 0) ink++;
        return ink > 0;
      }),
    );
    await v.page.keyboard.press('Escape');
    await until('it dropped', async () => (await trying()) === '');
    expect(await v.page.$$eval('[aria-label=Ears] h3', (all) => all.length)).toBe(ears);
  });
  it('one waits for notes to begin, and is named so', async () => {
    await tryEar('What it is like', 'Note begins');
    await press(v.page, 'button', 'Keep only');
    await until('its name', async () =>
      (await v.page.$$eval('[aria-label=Ears] h3', (all) => all.map((e) => e.textContent))).some((n) =>
        n?.endsWith('note begins'),
      ),
    );
    await undo(v.page);
  });
  it('one counts phrases of the show’s bars, as long as is chosen, and is named so', async () => {
    await tryEar('How it goes on', 'Place in the phrase');
    await choose(v.page, 'bars', '4');
    await press(v.page, 'button', 'Keep only');
    const name = 'place in the phrase of 4 bars';
    const number = (): Promise<string | undefined> =>
      v.page.$$eval(
        '[aria-label=Ears] [role=group]',
        (all, n) => all.find((e) => e.getAttribute('aria-label')?.endsWith(n))?.textContent,
        name,
      );
    const seen = new Set<string>();
    // It goes round, and is never beyond its ends.
    await until('it to go through its quarters', async () => {
      const x = Number((await number())?.split(name)[1]?.match(/\d\.\d\d/)?.[0] ?? NaN);
      if (x >= 0) {
        expect(x).toBeLessThanOrEqual(1);
        seen.add(String(Math.min(3, Math.floor(x * 4))));
      }
      return seen.size === 4;
    });
    await undo(v.page);
  });
  it('a set of five gives a row and five signals; its crossovers are moved on the field', async () => {
    await tryEar('Sets of bands', 'Five');
    const edge = await named(v.page, 'slider', 'Crossover 2 on the field');
    await edge.focus();
    const before = Number(await edge.evaluate((e) => e.getAttribute('aria-valuenow')));
    for (let i = 0; i < 5; i++) await v.page.keyboard.press('ArrowRight');
    await until(
      'it further up',
      async () => Number(await edge.evaluate((e) => e.getAttribute('aria-valuenow'))) > before * 1.08,
    );
    await press(v.page, 'button', 'Keep and move something');
    await until(
      'its five bands among the signals',
      async () => (await v.page.$$('[data-column=signals] [data-signal*="/"]')).length === 5,
    );
    await v.page.keyboard.press('1');
  });
});

describe('other sounds', () => {
  it('a test tone is read at its level and its pitch, and sounds while the show is paused', async () => {
    await openMenu(v.page, '+ input');
    await press(v.page, 'menuitem', 'Sine');
    await named(v.page, 'group', 'Sine');
    await until('its level', async () => Math.abs((await loudness('Sine')) + 18) < 0.3);
    await tryEar('What it is like', 'Pitch');
    await until('A4', async () => (await trying()).includes('A4'));
    await press(v.page, 'button', 'Keep only');
    await until('an ear that says so', async () =>
      (await textOf(v.page, '[aria-label="Sine · pitch"]')).includes('A4'),
    );
  });
  it('a mix is the sum of its parts', async () => {
    await openMenu(v.page, '+ input');
    await press(v.page, 'menuitem', 'A mix of inputs');
    await named(v.page, 'group', 'Mix');
    for (const part of ['low', 'Host’s voice', 'steady']) {
      const e = await v.page.$(`input[aria-label="${part} in the mix"]`);
      if (e) await e.evaluate((x) => (x as HTMLInputElement).click());
    }
    await until('only the tone', async () => Math.abs((await loudness('Mix')) + 18) < 0.3);
    const gain = await named(v.page, 'slider', 'Gain of Sine in the mix');
    await gain.focus();
    await v.page.keyboard.press('Enter');
    await v.page.keyboard.type('-6');
    await v.page.keyboard.press('Enter');
    await until('6 dB less', async () => Math.abs((await loudness('Mix')) + 24) < 0.3);
  });
  it('automatic gain raises what is quiet, and shows by how much', async () => {
    await pick('Sine');
    const level = await named(v.page, 'slider', 'Level of Sine');
    await level.focus();
    await v.page.keyboard.press('Enter');
    await v.page.keyboard.type('-40');
    await v.page.keyboard.press('Enter');
    await until('it quiet', async () => Math.abs((await loudness('Sine')) + 40) < 0.3);
    await tap(v.page, 'input[aria-label="Automatic gain of Sine"]');
    // To an RMS of −20 dBFS, 23 dB above −43; it rises by 3 dB a second.
    await until('it raised', async () => (await loudness('Sine')) > -30, 20000);
    expect(
      Number.parseFloat((await textOf(v.page, '[aria-label="Automatic gain of Sine now"]')).replace('+', '')),
    ).toBeGreaterThan(8);
  });
  it('a keyboard gives notes: each an event, to everything that follows it', async () => {
    await openMenu(v.page, '+ input');
    await press(v.page, 'menuitem', 'Simulated keyboard');
    await named(v.page, 'group', 'Simulated keyboard');
    await tryEar('Notes', 'Pitch');
    await until('a note by name', async () => /(D5|G4)/.test(await trying()));
    await press(v.page, 'button', 'Keep only');
  });
  it('a sound and its MIDI file come in together, and the notes belong to the sound', async () => {
    const midi = Buffer.from(readFileSync(path.join(process.cwd(), 'public/demo/bell.mid')));
    writeFileSync(path.join(folder, 'bells.wav'), tone(880, 0.2));
    writeFileSync(path.join(folder, 'bells.mid'), midi);
    await openMenu(v.page, '+ input');
    const chooser = v.page.waitForFileChooser();
    await press(v.page, 'menuitem', 'A sound file …');
    await (await chooser).accept([path.join(folder, 'bells.wav'), path.join(folder, 'bells.mid')]);
    await named(v.page, 'group', 'bells');
    await until('its notes', async () =>
      (await strip('bells · notes')).includes('notes of a file, with bells'),
    );
  });
  it('the sound of a tab or window comes in, once the browser has shared it', async () => {
    await openMenu(v.page, '+ input');
    await press(v.page, 'menuitem', 'The sound of a tab or window');
    // The browser of these tests shares a beep twice a second.
    await until('its sound', async () => (await loudness('Tab')) > -30).catch(async (e: Error) => {
      throw new Error(`${e.message}; its strip says: ${await strip('Tab')}`);
    });
    expect(await strip('Tab')).toContain('sound of a tab or window');
  });
  it('an empty room sets the floors of what follows an input, and one undo takes them back', async () => {
    await pick('low');
    await press(v.page, 'button', 'empty room');
    await until(
      'words about it',
      async () => (await textOf(v.page, 'body')).includes('set just above the room'),
      20000,
    );
    await undo(v.page);
  });
  it('a file that is no MIDI is refused in words, and nothing is added', async () => {
    const inputs = await v.page.$$eval('[aria-label=Inputs] h3', (all) => all.length);
    writeFileSync(path.join(folder, 'wrong.mid'), Buffer.from('not a tune'));
    await openMenu(v.page, '+ input');
    const chooser = v.page.waitForFileChooser();
    await press(v.page, 'menuitem', 'A sound file …');
    await (await chooser).accept([path.join(folder, 'wrong.mid')]);
    await until('words', async () => (await textOf(v.page, 'body')).includes('not a standard MIDI file'));
    expect(await v.page.$$eval('[aria-label=Inputs] h3', (all) => all.length)).toBe(inputs);
  });
});

describe('the tempo', () => {
  it('is found by listening: that of the drums, while they play', () =>
    behind(v, async () => {
      const other = await visit(server.url, { autoplay: true });
      try {
        await playFerry(other.page);
        await press(other.page, 'button', 'Tempo: who owns it');
        await until('who owns it', () =>
          other.page.$$eval('[role=combobox]', (all) => {
            const e = all.find((x) => x.getAttribute('aria-label') === 'owned by');
            e?.dispatchEvent(new MouseEvent('mousedown', { bubbles: true }));
            return e !== undefined;
          }),
        );
        await press(other.page, 'option', 'found by listening');
        await until('that the tempo is found', async () =>
          (await textOf(other.page, 'header')).includes('found'),
        );
        // The demo's own: 112.5, or half or twice as much.
        const bpm = async (): Promise<number> => Number.parseFloat(await textOf(other.page, 'header'));
        await until(
          'the tempo of the demo',
          async () => {
            const x = await bpm();
            return [1, 0.5, 2].some((f) => Math.abs(x / (112.5 * f) - 1) < 0.015);
          },
          40000,
        );
        expect(other.noise).toEqual([]);
      } finally {
        await other.close();
      }
    }));
  it("is owned by one: typed, halved and doubled by a key, or the files' own again", async () => {
    await press(v.page, 'button', 'Tempo: who owns it');
    const choose = async (name: string): Promise<void> => {
      await v.page.$$eval('[role=combobox]', (all) => {
        const e = all.find((x) => x.getAttribute('aria-label') === 'owned by');
        e!.dispatchEvent(new MouseEvent('mousedown', { bubbles: true }));
      });
      await press(v.page, 'option', name);
    };
    await choose('typed');
    const bpm = await named(v.page, 'slider', 'Tempo');
    await bpm.focus();
    await v.page.keyboard.press('Enter');
    await v.page.keyboard.type('90');
    await v.page.keyboard.press('Enter');
    await until(
      '90 in the roda',
      async () =>
        (await textOf(v.page, 'header')).includes('90') && (await textOf(v.page, 'header')).includes('typed'),
    );
    // What was typed in is gone, and the focus with it: it goes back into the menu.
    await (await named(v.page, 'slider', 'Tempo')).focus();
    await v.page.keyboard.press('Escape');
    await until('the menu gone', async () => (await v.page.$('[aria-label="Beats to a bar"]')) === null);
    await v.page.keyboard.press('h');
    await until('180', async () => (await textOf(v.page, 'header')).includes('180'));
  });
});

describe('a live input', () => {
  it('is found by a clap, and a stretch of what it heard plays as if live', () =>
    behind(v, async () => {
      const mic = await visit(server.url, {
        autoplay: true,
        microphone: microphoneFile([
          [0, 0.7, 0],
          [900, 0.05, 0.8],
        ]),
      });
      try {
        await press(mic.page, 'button', 'Use a microphone');
        await named(mic.page, 'button', '+ input');
        await openMenu(mic.page, '+ input');
        await press(mic.page, 'menuitem', 'Clap: find the microphone …');
        await until('one that heard it', async () =>
          (await textOf(mic.page, '[role=dialog] [role=status]')).includes('heard you best'),
        );
        await press(mic.page, 'button', 'Close');
        await until('the dialogue gone', async () => (await mic.page.$('[role=dialog]')) === null);
        await press(mic.page, 'button', 'recordings');
        await press(mic.page, 'button', 'Keep beside it');
        await until('the recording', async () =>
          (await textOf(mic.page, '[aria-label=Inputs]')).includes('Microphone, recorded'),
        );
        expect(mic.noise).toEqual([]);
      } finally {
        await mic.close();
      }
    }));
});
