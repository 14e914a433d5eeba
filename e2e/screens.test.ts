import { describe, expect, it } from '@jest/globals';
import type { Page } from 'puppeteer-core';
import { newScreen } from '../src/core/screens/screen';
import { Board, closeScreens, GREEN, openBoard, RED, shoot, WHITE, type Shot } from './board';
import { withFerry } from './stage';
import { named, press, textOf, undo, until, type Visit } from './support';

let v: Visit;
withFerry(async (_, first) => {
  v = first;
});

/** Opens a screen's window from the list of screens. */
async function openScreen(section: string): Promise<Page> {
  await until('its button', () =>
    v.page.$$eval(`[role=dialog] [aria-label="${section}"] button`, (all) => {
      const b = all.find((x) => x.textContent === 'Open');
      (b as HTMLElement | undefined)?.click();
      return b !== undefined;
    }),
  );
  const page = await until('its window', async () =>
    (await v.browser.pages()).find((p) => p.url().endsWith(`/screen?id=${section.toLowerCase()}`)),
  );
  await page.setViewport({ width: 640, height: 360 });
  return page;
}
async function shows(page: Page, what: string, is: (s: Shot) => boolean): Promise<Shot> {
  await page.bringToFront();
  return until(what, async () => {
    const s = await shoot(page);
    return is(s) ? s : null;
  });
}
/** A recording can be removed as soon as the browser has done with saving it. */
async function removeRecording(): Promise<void> {
  await until('it removed', async () => {
    await v.page
      .$eval('[aria-label=Recordings] button[aria-label^=Remove]', (e) => {
        (e as HTMLElement).click();
      })
      .catch(() => undefined);
    return !(await textOf(v.page, '[role=dialog]')).includes('.webm');
  });
}

describe('screens', () => {
  it('each shows its own part of the picture, turned, laid onto its corners; two of the same agree; a test card shows in one alone', async () => {
    const b = new Board();
    b.block('left', 320, 300, 200, RED).block('right', 960, 300, 200, GREEN);
    b.screens = [
      newScreen('whole', 'Whole'),
      newScreen('twin', 'Twin'),
      { ...newScreen('half', 'Half'), crop: { left: 0.5, bottom: 0, right: 1, top: 1 } },
      { ...newScreen('turned', 'Turned'), turn: 180 },
      // Its right edge is half as high: what is at the right comes nearer to the middle line.
      {
        ...newScreen('corners', 'Corners'),
        corners: [
          [0, 0],
          [1, 0.25],
          [1, 0.75],
          [0, 1],
        ],
      },
    ];
    await openBoard(v.page, b);
    await press(v.page, 'button', 'Screens …');
    const pages: Record<string, Page> = {};
    for (const name of ['Whole', 'Twin', 'Half', 'Turned', 'Corners']) {
      await v.page.bringToFront();
      pages[name] = await openScreen(name);
    }
    const whole = await shows(pages.Whole!, 'the whole', (s) => s.is(320, 400, RED) && s.is(960, 400, GREEN));
    const twin = await shows(
      pages.Twin!,
      'the same again',
      (s) => s.is(320, 400, RED) && s.is(960, 400, GREEN),
    );
    expect(Buffer.compare(Buffer.from(whole.bytes), Buffer.from(twin.bytes))).toBe(0);
    const half = await shows(pages.Half!, 'its right half', (s) => s.is(640, 400, GREEN));
    // Stretched to twice its width, red is nowhere.
    expect([half.is(460, 400, GREEN), half.is(830, 400, GREEN), half.some(0, 0, 300, 719)]).toEqual([
      true,
      true,
      false,
    ]);
    const turned = await shows(
      pages.Turned!,
      'it turned over',
      (s) => s.is(960, 320, RED) && s.is(320, 320, GREEN),
    );
    expect(turned.is(320, 440, GREEN)).toBe(false);
    const corners = await shows(pages.Corners!, 'it on its corners', (s) => s.some(1060, 355, 1100, 365));
    // At the right edge only the middle half of the height is used; outside of it there is nothing.
    expect(corners.some(1200, 0, 1279, 160, 30)).toBe(false);
    await v.page.bringToFront();
    await v.page.$$eval('[role=dialog] [aria-label="Twin"] button', (all) => {
      (all.find((x) => x.textContent === 'Test card') as HTMLElement).click();
    });
    await shows(pages.Twin!, 'the test card', (s) => s.light(640, 360) > 120 && !s.is(320, 400, RED));
    await shows(pages.Whole!, 'no card here', (s) => s.is(320, 400, RED));
    for (const p of Object.values(pages)) await p.close();
    await v.page.bringToFront();
    await closeScreens(v.page);
  });

  it('corners are moved by keyboard, undone, and those that would cross are refused', async () => {
    await press(v.page, 'button', 'Screens …');
    const corner = await named(v.page, 'slider', 'Corner upper right of Whole');
    await corner.focus();
    await v.page.keyboard.press('ArrowLeft');
    await until(
      'the corner moved',
      async () =>
        (await corner.evaluate((e) => e.getAttribute('aria-valuetext'))) === '99.8 % across, 100.0 % up',
    );
    for (let i = 0; i < 60; i++) {
      await v.page.keyboard.down('Shift');
      await v.page.keyboard.press('ArrowLeft');
      await v.page.keyboard.up('Shift');
    }
    // It stops before the quadrangle would fold.
    const at = Number.parseFloat((await corner.evaluate((e) => e.getAttribute('aria-valuetext')))!);
    expect(at).toBeGreaterThan(0);
    await press(v.page, 'button', 'corners flat again');
    await until(
      'it flat',
      async () =>
        (await corner.evaluate((e) => e.getAttribute('aria-valuetext'))) === '100.0 % across, 100.0 % up',
    );
    await closeScreens(v.page);
  });
});

describe('recording', () => {
  it('keeps a film with picture and sound, with its progress, and plays back what was drawn', async () => {
    await press(v.page, 'button', 'Screens …');
    await v.page.$$eval('[role=dialog] [aria-label="Whole"] button', (all) => {
      (all.find((x) => x.textContent === 'Record') as HTMLElement).click();
    });
    await until('some of it written', async () =>
      /Recording: 0:0[2-9], [\d.]+ [kM]B, room for/.test(
        await textOf(v.page, '[role=dialog] [aria-label="Whole"] [role=status]'),
      ),
    );
    await v.page.$$eval('[role=dialog] [aria-label="Whole"] button', (all) => {
      (all.find((x) => x.textContent === 'Stop recording') as HTMLElement).click();
    });
    await until('it kept', async () =>
      (await textOf(v.page, '[role=dialog] [aria-label=Recordings]')).includes('.webm'),
    );
    const film = await v.page.evaluate(async () => {
      const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('recordings');
      let file: File | null = null;
      for await (const entry of (
        folder as unknown as { values(): AsyncIterable<FileSystemFileHandle> }
      ).values())
        file = await entry.getFile();
      const video = document.createElement('video');
      video.src = URL.createObjectURL(file!);
      video.muted = true;
      await new Promise((r, fail) => {
        video.onloadeddata = r;
        video.onerror = () => fail(new Error(video.error?.message));
      });
      await video.play();
      await new Promise((r) => {
        const look = (): void => {
          if (video.currentTime > 0.5) r(null);
          else setTimeout(look, 30);
        };
        look();
      });
      const g = new OffscreenCanvas(1280, 720).getContext('2d')!;
      g.drawImage(video, 0, 0, 1280, 720);
      const at = (x: number, y: number): number[] => [...g.getImageData(x, 720 - y, 1, 1).data.slice(0, 3)];
      const sound = await new OfflineAudioContext(1, 1, 48000)
        .decodeAudioData(await file!.arrayBuffer())
        .then(
          (b) => {
            let top = 0;
            for (const x of b.getChannelData(0)) top = Math.max(top, Math.abs(x));
            return top;
          },
          () => 0,
        );
      const size = [video.videoWidth, video.videoHeight],
        left = at(320, 400),
        right = at(960, 400);
      URL.revokeObjectURL(video.src);
      video.removeAttribute('src');
      video.load();
      return { size, left, right, sound };
    });
    expect(film.size).toEqual([1280, 720]);
    expect(film.left[0]).toBeGreaterThan(150);
    expect(film.left[1]).toBeLessThan(90);
    expect(film.right[1]).toBeGreaterThan(150);
    // The board's tone at −12 dBFS.
    expect(film.sound).toBeGreaterThan(0.1);
    await removeRecording();
    await closeScreens(v.page);
  });
  it('goes on when its screen is undone, and can still be ended', async () => {
    const stray = '[role=dialog] [aria-label="Recording of a screen that is gone"]';
    await press(v.page, 'button', 'Screens …');
    const before = await v.page.$$eval(
      '[role=dialog] button',
      (all) => all.filter((x) => x.textContent === 'Record').length,
    );
    await press(v.page, 'button', '+ screen');
    await until('its record button, the last', () =>
      v.page.$$eval(
        '[role=dialog] button',
        (all, n) => {
          const record = all.filter((x) => x.textContent === 'Record');
          if (record.length !== n + 1) return false;
          (record.at(-1) as HTMLElement).click();
          return true;
        },
        before,
      ),
    );
    await until(
      'the recording',
      async () => /Recording: 0:\d\d, /.test(await textOf(v.page, '[role=dialog]')),
      180000,
    );
    await undo(v.page);
    await until('its screen gone, and the recording not', async () =>
      /^Its screen is no longer in the show\. Recording: 0:\d\d, .*Stop recording$/.test(
        await textOf(v.page, stray),
      ),
    );
    await press(v.page, 'button', 'Stop recording');
    await until(
      'it ended and kept',
      async () =>
        (await v.page.$(stray)) === null &&
        (await textOf(v.page, '[role=dialog] [aria-label=Recordings]')).includes('.webm'),
    );
    await removeRecording();
    await closeScreens(v.page);
  });
});

describe('a lost graphics device', () => {
  it('comes back by itself, ten times, with the show still running', async () => {
    await shows(v.page, 'the picture', (s) => s.is(320, 400, RED));
    await press(v.page, 'button', 'Whole picture no finishes');
    for (let i = 0; i < 10; i++) {
      await press(v.page, 'button', 'Lose the graphics device');
      await until('it lost and back', async () =>
        (await textOf(v.page, '[aria-label=Budget]')).includes(`lost and regained ${i + 1} `),
      );
      await until('the same picture', async () => (await shoot(v.page)).is(320, 400, RED));
    }
  });
});

describe('screens of a moving picture', () => {
  it('two are the same after a minute', async () => {
    const b = new Board();
    b.wave = 0.4;
    b.figure('river', { kind: 'waves', rows: 4 }, 0, 40, { ink: GREEN, swell: 24, drift: 90 });
    b.figure('sparks', { kind: 'emitter', shape: 'disc', media: null, fileName: '', most: 2000 }, 900, 260, {
      rate: 30,
      speed: 160,
      way: 90,
      spread: 60,
      fall: -60,
      stir: 20,
      life: 2,
      each: 1.4,
      ink: RED,
      top: RED,
    });
    b.block('square', 300, 460, 100, WHITE).move('square', 'across', 260, 'wave');
    // No trails: they keep what each window happened to draw.
    b.camera = { shiver: 30, shiverUp: 20, pace: 2 };
    b.screens = [newScreen('whole', 'Whole'), newScreen('twin', 'Twin')];
    await openBoard(v.page, b);
    await press(v.page, 'button', 'Screens …');
    const whole = await openScreen('Whole');
    await shows(whole, 'the picture', (s) => s.some(0, 40, 1279, 60));
    await v.page.bringToFront();
    const twin = await openScreen('Twin');
    await shows(twin, 'the picture here too', (s) => s.some(0, 40, 1279, 60));
    // Neither stands still meanwhile.
    const from = Date.now();
    for (let before: Shot | null = null; Date.now() - from < 60000;) {
      for (const page of [whole, twin])
        before = await shows(
          page,
          'it going on',
          (s) => before === null || Buffer.compare(Buffer.from(before.bytes), Buffer.from(s.bytes)) !== 0,
        );
    }
    await v.page.bringToFront();
    await closeScreens(v.page);
    await v.page.keyboard.press('9');
    await until('everything held', async () =>
      (await textOf(v.page, '[aria-label=Signs]')).includes('Lamps held'),
    );
    // A slow window may show an older picture for a while: it is held once nothing has changed for five seconds.
    const still = (page: Page): Promise<Shot> => {
      let before: Shot | null = null,
        since = Date.now();
      return shows(page, 'it held', (s) => {
        if (before === null || Buffer.compare(Buffer.from(before.bytes), Buffer.from(s.bytes)) !== 0)
          since = Date.now();
        before = s;
        return Date.now() - since > 5000;
      });
    };
    const one = await still(whole),
      other = await still(twin);
    expect([one.width, one.height]).toEqual([other.width, other.height]);
    let apart = 0;
    for (let i = 0; i < one.bytes.length; i++) if (Math.abs(one.bytes[i]! - other.bytes[i]!) > 24) apart++;
    // Births between two drawings are placed within a frame, and edges are smoothed: a few pixels at the rim of a particle may differ.
    expect(apart / one.bytes.length).toBeLessThan(0.002);
    expect(one.some(800, 300, 1000, 600)).toBe(true);
    for (const p of [whole, twin]) await p.close();
    await v.page.bringToFront();
    await v.page.keyboard.press('9');
  }, 480000);
});
