import { describe, expect, it } from '@jest/globals';
import { createSocket } from 'node:dgram';
import { called } from './called';
import { withFerry } from './stage';
import { choose, named, openMenu, press, tap, textOf, undo, until, type Visit } from './support';

let v: Visit;
withFerry(async (_, first) => {
  v = first;
  await v.page.keyboard.press('2');
  await v.page.waitForSelector('[data-parameter="ferry/height"]');
});
/** The number that a parameter's row shows, in its unit. */
const now = async (key: string): Promise<number> =>
  Number.parseFloat(
    (
      await v.page.$eval(
        `[data-parameter="${key}"]`,
        (e) => [...e.querySelectorAll('span')].at(-1)?.textContent ?? '',
      )
    ).replace('−', '-'),
  );
/** The number that a signal's row shows. */
const signal = (name: string): Promise<string> =>
  v.page.$$eval(
    '[data-signal] [role=button]',
    (all, n) => {
      const row = all.find((e) => e.querySelector('h3')?.textContent === n);
      return row?.textContent?.slice(n.length).match(/\d\.\d+/)?.[0] ?? '';
    },
    name,
  );
/** Both as one moment shows them. */
const together = (name: string, key: string): Promise<[number, number]> =>
  v.page.evaluate(
    (n, k) => {
      const row = [...document.querySelectorAll('[data-signal] [role=button]')].find(
          (e) => e.querySelector('h3')?.textContent === n,
        ),
        value = [...document.querySelectorAll(`[data-parameter="${k}"] span`)].at(-1)?.textContent ?? '';
      return [
        Number(row?.textContent?.slice(n.length).match(/\d\.\d+/)?.[0] ?? ''),
        Number.parseFloat(value.replace('−', '-')),
      ] as [number, number];
    },
    name,
    key,
  );
const bench = (): Promise<string> => textOf(v.page, '[aria-label=Bench]');
async function addMaker(kind: string, help: string): Promise<void> {
  await openMenu(v.page, '+ maker');
  await press(v.page, 'menuitem', `${kind} ${help}`);
  await named(v.page, 'group', `Settings of ${kind}`);
}
/** From a signal's row, aimed by keyboard at a parameter through “+ move this”. */
async function route(signal: string, thing: string, parameter: string): Promise<void> {
  await v.page.keyboard.press('3');
  await press(v.page, 'button', thing);
  await openMenu(v.page, `+ move this: ${thing.split(/ (?:still|\d)/)[0]} · ${parameter}`);
  await v.page.$$eval(
    '[role=menuitem]',
    (all, name) => {
      (all.find((e) => (e.textContent ?? '').startsWith(name)) as HTMLElement).click();
    },
    signal,
  );
  await until('its bench', async () => (await bench()).includes(parameter));
  await v.page.keyboard.press('2');
}

/** First number of each maker's state, as the browser's own store has it. */
function rememberedMakers(): Promise<number[]> {
  return v.page.evaluate(
    () =>
      new Promise<number[]>((done, fail) => {
        const open = indexedDB.open('batucada');
        open.onerror = () => fail(open.error);
        open.onsuccess = () => {
          const all = open.result.transaction('memories').objectStore('memories').getAll();
          all.onsuccess = () => {
            open.result.close();
            done(
              (all.result as { memory: { makers?: Record<string, number[]> } }[]).flatMap((r) =>
                Object.values(r.memory.makers ?? {}).map((s) => s[0]!),
              ),
            );
          };
        };
      }),
  );
}

/** As many as the board says that there are: of more than a dozen only some are drawn. */
const routes = async (): Promise<number> =>
  Number((await textOf(v.page, 'main')).match(/(\d+) routes: list/)?.[1] ?? NaN);

describe('makers', () => {
  it('a slider moved by hand moves what it is routed to, is undone with its route, and stays where it was through a reload', async () => {
    await addMaker('Slider', 'Moved by hand or by a controller.');
    await route('Slider', 'Ferry 3 routes', 'tilt');
    const slider = await named(v.page, 'slider', 'Slider');
    await slider.focus();
    await v.page.keyboard.press('End');
    const full = await until('the ferry tilted all the way', async () => {
      const x = await now('ferry/tilt');
      return Math.abs(x) > 1 ? x : null;
    });
    await v.page.keyboard.press('Home');
    await until('it level again', async () => (await now('ferry/tilt')) === 0);
    await slider.focus();
    // Quick presses: each counts, however late the number comes back.
    for (let i = 0; i < 50; i++) await v.page.keyboard.press('ArrowRight');
    await until(
      'it in the middle',
      async () => (await slider.evaluate((e) => e.getAttribute('aria-valuenow'))) === '0.50',
    );
    await v.page.keyboard.press('End');
    await until('it kept', async () => (await now('ferry/tilt')) === full);
    await until('the memory to hold it', async () => (await rememberedMakers()).includes(1));
    await v.page.reload({ waitUntil: 'load' });
    await v.page.waitForSelector('[data-parameter="ferry/tilt"]');
    await until('the ferry as it was left', async () => (await now('ferry/tilt')) === full);
  });
  it('a flip follows the drum, a glide the flip; a loop is refused with its way named', async () => {
    await addMaker('Flip', 'Between 0 and 1 at every event.');
    expect(await textOf(v.page, '[data-signal^=maker] [role=button][aria-pressed=true]')).toContain(
      'Low drum · hit',
    );
    const flip = (): Promise<string> =>
      v.page.$eval('[data-signal] [role=button][aria-pressed=true]', (e) => e.textContent ?? '');
    await until('it at 1', async () => (await flip()).includes('1.00'));
    await until('it at 0', async () => (await flip()).includes('0.00'));
    await addMaker('Glide', 'Takes its time to follow another signal.');
    const source = await named(v.page, 'combobox', 'Source of Glide');
    await source.focus();
    await v.page.keyboard.press('Enter');
    await press(v.page, 'option', 'Flip');
    await until('it glides from the flip', async () =>
      (await textOf(v.page, '[data-signal] [role=button][aria-pressed=true]')).includes('glide · Flip'),
    );
    // A crossing of the glide, from which the flip itself would then take its events.
    await addMaker('Crossing', 'An event, or on and off, when a level passes a value.');
    await (await named(v.page, 'combobox', 'Source of Crossing')).focus();
    await v.page.keyboard.press('Enter');
    await press(v.page, 'option', 'Glide');
    await until('it crosses from the glide', async () =>
      (await textOf(v.page, '[data-signal] [role=button][aria-pressed=true]')).includes('crossing · Glide'),
    );
    await v.page.$$eval('[data-signal] [role=button] h3', (all) => {
      (all.find((e) => e.textContent === 'Flip') as HTMLElement).click();
    });
    await named(v.page, 'group', 'Settings of Flip');
    await (await named(v.page, 'combobox', 'Source of Flip')).focus();
    await v.page.keyboard.press('Enter');
    await press(v.page, 'option', 'Crossing');
    await until('the refusal', async () =>
      (await v.page.evaluate(() => document.body.innerText)).includes('would feed itself'),
    );
    expect(await v.page.evaluate(() => document.body.innerText)).toContain('Flip ← Crossing ← Glide ← Flip');
  });
  it('one number is made of two signals, and a gate lets it through while the slider is up', async () => {
    const shown = (): Promise<string> =>
      v.page.$eval('[data-signal] [role=button][aria-pressed=true]', (e) => e.textContent ?? '');
    await addMaker('Two signals', 'Sum, difference, product, ratio, greatest or least.');
    await choose(v.page, 'Source of Two signals', 'Slider');
    await choose(v.page, 'Second source of Two signals', 'Slider');
    await (await named(v.page, 'slider', 'Slider')).focus();
    await v.page.keyboard.press('End');
    await until('twice the slider', async () => /2\.00sum · Slider · Slider/.test(await shown()));
    await choose(v.page, 'Makes', 'difference');
    await until('nothing left of it', async () => /0\.00difference · Slider · Slider/.test(await shown()));
    await undo(v.page);
    await until('the sum again', async () => /2\.00sum/.test(await shown()));
    await addMaker('Gate', 'Lets a signal through while another is there.');
    await choose(v.page, 'Source of Gate', 'Two signals');
    await choose(v.page, 'Second source of Gate', 'Slider');
    await until('it open', async () => /2\.00gate · Two signals · while Slider/.test(await shown()));
    await (await named(v.page, 'slider', 'Slider')).focus();
    await v.page.keyboard.press('Home');
    await until('it shut', async () => /0\.00gate/.test(await shown()));
    await v.page.keyboard.press('End');
    await until('it open again', async () => /2\.00gate/.test(await shown()));
    // Through the gate the sum would come to feed itself.
    await v.page.$$eval('[data-signal] [role=button] h3', (all) => {
      (all.find((e) => e.textContent === 'Two signals') as HTMLElement).click();
    });
    await choose(v.page, 'Second source of Two signals', 'Gate');
    await until('the refusal', async () =>
      (await v.page.evaluate(() => document.body.innerText)).includes('Two signals ← Gate ← Two signals'),
    );
  });
  it('a button is pressed by its letter and learns a key of a keyboard by its being touched', async () => {
    await addMaker('Button', 'Pressed by hand, by a key or by a controller.');
    await press(v.page, 'button', 'Key of Button');
    await v.page.keyboard.press('m');
    await until('the refusal of a letter that is taken', async () =>
      (await v.page.evaluate(() => document.body.innerText)).includes('M already has a meaning'),
    );
    const pressed = (): Promise<string | null> =>
      v.page.$eval('[aria-label="Button, while pressed"]', (e) => e.getAttribute('aria-pressed'));
    // A letter that is chosen presses nothing.
    await v.page.$eval('[aria-label="Button, while pressed"]', (e) => {
      const seen: (string | null)[] = [];
      Object.assign(window, { seen });
      new MutationObserver(() => seen.push(e.getAttribute('aria-pressed'))).observe(e, { attributes: true });
    });
    await press(v.page, 'button', 'Key of Button');
    await v.page.keyboard.press('k');
    await until('its letter', async () => (await textOf(v.page, '[aria-label="Key of Button"]')) === 'key K');
    const seen = (): Promise<(string | null)[]> =>
      v.page.evaluate(() => (window as unknown as { seen: (string | null)[] }).seen);
    const heard = await bench();
    await until('the show to go on', async () => (await bench()) !== heard || heard === '');
    expect(await seen()).not.toContain('true');
    await v.page.keyboard.down('k');
    await until('it pressed', async () => (await pressed()) === 'true');
    await v.page.keyboard.up('k');
    await until('it let go', async () => (await pressed()) === 'false');
    await openMenu(v.page, 'Controller of Button');
    await press(v.page, 'menuitem', 'learn from Simulated keyboard');
    await until('a note learned', async () =>
      (await textOf(v.page, '[aria-label="Controller of Button"]')).startsWith('note '),
    );
    await until('it pressed by that note', async () => (await pressed()) === 'true');
    await until('and let go', async () => (await pressed()) === 'false');
  });
});

describe('a controller over the network', () => {
  it('is learned by its being moved, and moves the slider from then on', async () => {
    await v.page.$$eval('[data-signal] [role=button] h3', (all) => {
      (all.find((e) => e.textContent === 'Slider') as HTMLElement).click();
    });
    await openMenu(v.page, 'Controller of Slider');
    const item = await until('where it is heard', async () =>
      (await v.page.$$eval('[role=menuitem]', (all) => all.map((e) => e.textContent ?? ''))).find((t) =>
        t.startsWith('learn from the network'),
      ),
    );
    const [, host, port] = /at ([\d.]+):(\d+)/.exec(item)!;
    await press(v.page, 'menuitem', item);
    await until('it to wait', async () =>
      (await v.page.evaluate(() => document.body.innerText)).includes('Move or press it now'),
    );
    const socket = createSocket('udp4');
    const send = (value: number): Promise<void> =>
      new Promise((done) => {
        const b = Buffer.concat([Buffer.from('/deck/fader\0,f\0\0', 'latin1'), Buffer.alloc(4)]);
        b.writeFloatBE(value, 16);
        socket.send(b, Number(port), host, () => done());
      });
    try {
      await send(0.1);
      await until(
        'its address',
        async () => (await textOf(v.page, '[aria-label="Controller of Slider"]')) === '/deck/fader',
      );
      const slider = (): Promise<string | null> =>
        v.page.$eval('[role=slider][aria-label=Slider]', (e) => e.getAttribute('aria-valuenow'));
      await until('it moved', async () => {
        await send(0.75);
        return (await slider()) === '0.75';
      });
    } finally {
      socket.close();
    }
  });
});

describe('timed text', () => {
  it('shows the line whose time has come, large enough to be read from the deck', async () => {
    await v.page.keyboard.press('2');
    await addMaker('Timed text', 'Short texts at their times, for whoever stands before the camera.');
    await until('a line', async () =>
      /Look up|Wave to the far bank/.test(
        await v.page.$$eval('[data-signal]', (all) => all.map((e) => e.textContent).join('|')),
      ),
    );
    await undo(v.page);
  });
});

describe('routes beside each other', () => {
  it('solo leaves only one moving, and why says so to the others; bypass passes the shaping by', async () => {
    await tap(v.page, '[data-parameter="ferry/height"]');
    await named(v.page, 'region', 'Bench');
    await v.page.keyboard.press('s');
    await until('the lanterns at rest', async () => {
      const a = await now('lanterns/glow');
      await new Promise((r) => setTimeout(r, 300));
      return a === (await now('lanterns/glow'));
    });
    await tap(v.page, '[data-parameter="lanterns/glow"]');
    await until('why', async () =>
      (await textOf(v.page, '[aria-label="Why isn’t it moving?"]')).includes('Another route is soloed'),
    );
    await press(v.page, 'button', 'end solo');
    await until('it moves again', async () =>
      (await textOf(v.page, '[aria-label="Why isn’t it moving?"]')).includes('It moves'),
    );
    await v.page.keyboard.press('y');
    await until('bypassed', async () => (await bench()).includes('bypassed'));
    await v.page.keyboard.press('y');
  });
  it('an edit is tried unseen: the window shows it, the lamp does not; then it is sent with Enter', async () => {
    await v.page.keyboard.press('Escape');
    await tap(v.page, '[data-parameter="rail-left/dimmer"]');
    await named(v.page, 'region', 'Bench');
    await v.page.keyboard.press('u');
    await until('it unseen', async () => (await bench()).includes(', unseen'));
    await tap(v.page, '[aria-label=Bench] [aria-label="rest to reach"] h3');
    const reach = await named(v.page, 'slider', 'Reach');
    await reach.focus();
    await v.page.keyboard.press('Home');
    await named(v.page, 'button', '1 unseen send all');
    const count = await routes();
    await v.page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    await v.page.keyboard.press('Enter');
    await until(
      "it sent, in its original's place",
      async () => (await routes()) === count - 1 && !(await bench()).includes(', unseen'),
    );
    expect(await textOf(v.page, '[aria-label=Bench] [aria-label="rest to reach"]')).toContain('0 %');
    await undo(v.page);
    await until('it unseen again', async () => (await routes()) === count);
    await undo(v.page);
    await undo(v.page);
    await until('it never tried', async () => (await routes()) === count - 1);
  });
  it('a parameter is taken over by hand, counted in the frame, and given back', async () => {
    const track = await named(v.page, 'slider', 'Ferry · height by hand');
    /** From where to where the box of its mark goes, in shares of the track. */
    const markBox = (): Promise<readonly number[]> =>
      track.evaluate((e) => {
        const all = e.getBoundingClientRect(),
          on = e.querySelector('[data-mark]')!.getBoundingClientRect();
        return [(on.left - all.left) / all.width, (on.right - all.left) / all.width];
      });
    /** Free, the mark is painted within a box over the whole track; held, it is a box of its own. */
    const spans = async (): Promise<boolean> => {
      const [from, to] = await markBox();
      return from! <= 0 && to! >= 1;
    };
    expect(await spans()).toBe(true);
    await track.focus();
    await v.page.keyboard.down('Shift');
    for (let i = 0; i < 6; i++) await v.page.keyboard.press('ArrowRight');
    await v.page.keyboard.up('Shift');
    await named(v.page, 'button', '1 by hand give back all');
    await until('it still', async () => {
      const a = await now('ferry/height');
      await new Promise((r) => setTimeout(r, 400));
      return a > 20 && a === (await now('ferry/height'));
    });
    await until('its mark at the far end, where it is held', async () => {
      const [from, to] = await markBox();
      return from! > 0.5 && to! - from! < 0.5;
    });
    await press(v.page, 'button', '1 by hand give back all');
    await until('it moves again', async () => (await now('ferry/height')) < 20);
    expect(await spans()).toBe(true);
    expect(await called(v.page, 'button', '1 by hand give back all')).toBeNull();
  });
});

describe('a row onto many, and many at once', () => {
  it('eight bands are fanned out onto every lamp in one act, as one ribbon, undone in one', async () => {
    // The rail has a group of its own, whose ribbon is drawn while it sounds.
    const groups = async (): Promise<number> =>
      (await v.page.$$('[data-group]:not([data-group="group:group-1"])')).length;
    await v.page.keyboard.press('2');
    const before = await until('routes', routes);
    await v.page.keyboard.press('4');
    await press(v.page, 'button', 'Select Rail lamp 2');
    await v.page.keyboard.down('Shift');
    for (let i = 3; i <= 9; i++) await press(v.page, 'button', `Select Rail lamp ${i}`);
    await v.page.keyboard.up('Shift');
    await named(v.page, 'heading', '8 lamps');
    await choose(v.page, 'Lay a row over these lamps', 'Deck · eight bands');
    await named(v.page, 'dialog', 'Deck · eight bands onto dimmer');
    await press(v.page, 'button', 'Make 8 routes');
    await v.page.keyboard.press('2');
    await until('one ribbon for all of them', async () => (await groups()) === 1);
    expect(await routes()).toBe(before + 8);
    expect(
      (await v.page.$$eval('[data-parameter^="group:"]', (all) => all.map((e) => e.textContent))).join(),
    ).toContain('8 × dimmer by Deck · eight bands');
    await press(v.page, 'button', 'Unfold Deck · eight bands');
    await until('eight ribbons', async () => (await groups()) === 0);
    await undo(v.page);
    await until('folded again', async () => (await groups()) === 1);
    await undo(v.page);
    await until('all of it undone', async () => (await groups()) === 0);
  });
  it('the list finds, chooses and changes many at once', async () => {
    await v.page.keyboard.press('Escape');
    await until('the list', async () => {
      await v.page.$$eval('button', (all) => {
        all.find((b) => /routes: list$/.test(b.textContent ?? ''))?.click();
      });
      return v.page.$('[aria-label="List of routes"]');
    });
    const search = await named(v.page, 'textbox', 'Search routes');
    await search.focus();
    await v.page.keyboard.type('voice');
    const shown = (): Promise<string> => textOf(v.page, '[aria-label="List of routes"] [role=status]');
    await until("only the voice's", async () => /^[1-9] of/.test(await shown()));
    const n = Number((await shown()).split(' ')[0]);
    await tap(v.page, '[aria-label="List of routes"] .MuiDataGrid-columnHeaderCheckbox input');
    await until('them chosen', async () => (await shown()) === `${n} chosen`);
    await press(v.page, 'button', 'mute');
    await until('them muted', async () =>
      (
        await v.page.$$eval('.MuiDataGrid-row [data-field=state]', (all) => all.map((e) => e.textContent))
      ).every((t) => t === 'muted'),
    );
    await press(v.page, 'button', 'group');
    await until('them grouped', async () => (await textOf(v.page, '[aria-label=Groups]')).includes(`(${n})`));
    await press(v.page, 'button', 'give another signal');
    await press(v.page, 'menuitem', 'Deck · level');
    await until(
      'another signal',
      async () => (await shown()).includes('chosen') && (await v.page.$$('.MuiDataGrid-row')).length === 0,
    );
    await undo(v.page);
    await undo(v.page);
    await undo(v.page);
    await until(
      'them as they were',
      async () =>
        (
          await v.page.$$eval('.MuiDataGrid-row [data-field=state]', (all) => all.map((e) => e.textContent))
        ).every((t) => t === '') && !(await textOf(v.page, '[aria-label=Groups]')).includes(`(${n})`),
    );
    await press(v.page, 'button', 'back to ribbons');
  });
});

describe('twins', () => {
  it('a mirrored twin follows its original until it rests elsewhere', async () => {
    await v.page.keyboard.press('3');
    await v.page.$$eval('[aria-label="Figures, back to front"] button', (all) => {
      (all.find((e) => (e.textContent ?? '').startsWith('Ferry')) as HTMLElement).click();
    });
    await press(v.page, 'button', 'mirrored twin');
    await until(
      'the twin',
      async () => (await textOf(v.page, '[aria-label="Selected figure"] h2')) === 'Ferry’s twin',
    );
    expect(await textOf(v.page, '[aria-label="Selected figure"] [role=group][aria-label=height]')).toContain(
      'as its original',
    );
    const height = async (): Promise<number> =>
      Number.parseFloat(
        (
          await v.page.$eval(
            '[aria-label="Selected figure"] [role=group][aria-label=height]',
            (e) => e.children[0]!.lastElementChild!.textContent ?? '',
          )
        ).replace('−', '-'),
      );
    await until('it moves', async () => (await height()) > 2);
    const rest = await named(v.page, 'slider', 'height at rest');
    await rest.focus();
    await v.page.keyboard.press('ArrowLeft');
    await until(
      'it stands by itself',
      async () =>
        (await textOf(v.page, '[aria-label="Selected figure"] [role=group][aria-label=height]')).includes(
          'its own',
        ) && (await height()) < 0,
    );
    await press(v.page, 'button', 'follow in everything');
    await until('it follows again', async () => (await height()) > 2);
  });
});

describe('what lies between known bounds', () => {
  it('a glide of what goes from 0 to 1 goes all of its way, whatever was heard of it', async () => {
    await openMenu(v.page, 'Show menu');
    await press(v.page, 'menuitem', 'New show …');
    await press(v.page, 'button', 'With something to look at');
    await until('it', async () => (await textOf(v.page, 'main')).includes('Low · 40–160 Hz'));
    await v.page.keyboard.press('2');
    await addMaker('Button', 'Pressed by hand, by a key or by a controller.');
    await press(v.page, 'switch', 'Button stays pressed');
    await addMaker('Glide', 'Takes its time to follow another signal.');
    await (await named(v.page, 'combobox', 'Source of Glide')).focus();
    await v.page.keyboard.press('Enter');
    await press(v.page, 'option', 'Button');
    await press(v.page, 'button', 'Button');
    // It has been seen in its upper half, and nowhere else, when it is routed.
    await until('half of the way', async () => Number(await signal('Glide')) > 0.5);
    await route('Glide', 'Ferry 1 route', 'tilt');
    await until('all the way', async () => Number(await signal('Glide')) === 1);
    const full = await now('ferry/tilt');
    await press(v.page, 'button', 'Button');
    // On the way back both are read at once: as far along, everywhere.
    const seen = new Set<number>();
    await until('the way back', async () => {
      const [glide, tilt] = await together('Glide', 'ferry/tilt');
      if (glide > 0.02 && glide < 0.98) {
        // Rows are written in turn, not all at once.
        expect(Math.abs(tilt / full - glide)).toBeLessThan(0.12);
        seen.add(Math.floor(glide * 4));
      }
      return glide === 0;
    });
    expect([...seen].sort()).toEqual([0, 1, 2, 3]);
  });
});
