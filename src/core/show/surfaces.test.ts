import { describe, expect, it } from '@jest/globals';
import { ferryShow } from '../ferry/show';
import { EXAMPLES } from '../ferry/examples';
import { changeMaker, firstReach, removeThing } from './commands';
import { driveBy, drivingOf } from './driving';
import { apply, newHistory, undo, type Command } from './history';
import { appear, bump, canBump, USUAL_APPEAR, USUAL_BUMP } from './moves';
import { OVERLAY_STARTS } from './overlayStarts';
import { addFinish, joinGroup, orderFigure, shiftFigure } from './pictureCommands';
import { parseShow } from './schema';
import { findSignal } from './signals';
import { addOverlay, copyFinish, copyGroup, duplicateFigure, twinFigure } from './surfaceCommands';
import { newOverlay } from './overlayStarts';
import { onSurface, sameOnSurface, surfaceOfThing, surfacesOf } from './surfaces';
import { thingsOf } from './things';
import { WHOLE_PICTURE, type Show } from './types';

const hash = 'a'.repeat(64);
const media = {
  stems: { lowDrum: hash, snareDrum: hash, shaker: hash, bell: hash, voice: hash },
  badge: hash,
  tune: hash,
  buoy: hash,
  film: hash,
};
const ferry = ferryShow(media);
const run = (show: Show, command: Command): Show => apply(newHistory(show), '', command).show;
const ids = (show: Show, surface: string): string[] => onSurface(show, surface).figures.map((f) => f.id);

describe('surfaces', () => {
  it('are the picture and each overlay, with what is drawn on them, and every thing is on one of them', () => {
    expect(surfacesOf(ferry).map((s) => s.id)).toEqual([WHOLE_PICTURE, 'frame']);
    const picture = onSurface(ferry, WHOLE_PICTURE),
      overlay = onSurface(ferry, 'frame');
    expect(picture.figures.length + overlay.figures.length).toBe(ferry.figures.length);
    expect(overlay.finishes.map((f) => f.id)).toEqual(['third-appears']);
    expect(picture.finishes.map((f) => f.id)).toEqual(['grain-1']);
    expect(surfaceOfThing(ferry, 'third-appears')!.id).toBe('frame');
    expect(surfaceOfThing(ferry, 'host-name')!.id).toBe('frame');
    expect(surfaceOfThing(ferry, 'frame')!.camera).toBe('frame');
    expect(surfaceOfThing(ferry, 'grain-1')!.id).toBe(WHOLE_PICTURE);
    expect(surfaceOfThing(ferry, 'rail-left')).toBeNull();
    expect(sameOnSurface(overlay, onSurface(run(ferry, orderFigure('moon', 'stars')), 'frame'))).toBe(true);
  });
  it('are ordered each by itself', () => {
    const other = ids(ferry, 'frame');
    const lifted = run(ferry, shiftFigure('river', 1));
    expect(ids(lifted, WHOLE_PICTURE)).toEqual(ids(ferry, WHOLE_PICTURE)); // the frontmost of its own
    const moved = run(ferry, shiftFigure('night', 1));
    expect(ids(moved, WHOLE_PICTURE)[1]).toBe('night');
    expect(ids(moved, 'frame')).toEqual(other);
    const ordered = run(ferry, orderFigure('caption', 'frame-edge'));
    expect(ids(ordered, 'frame')[0]).toBe('caption');
    expect(ids(ordered, WHOLE_PICTURE)).toEqual(ids(ferry, WHOLE_PICTURE));
    // Nothing joins a group that is on another surface.
    expect(
      run(ferry, joinGroup(['moon'], 'host-third')).figures.find((f) => f.id === 'moon')!.group,
    ).toBeNull();
  });
  it('take copies of figures and finishes from each other, moved as theirs were', () => {
    const made = duplicateFigure(ferry, 'lanterns', 'frame')!,
      show = run(ferry, made.command),
      copy = show.figures.find((f) => f.id === made.figure)!;
    expect(copy).toMatchObject({
      surface: 'frame',
      form: ferry.figures.find((f) => f.id === 'lanterns')!.form,
    });
    const aims = (s: Show, thing: string): string[] =>
      s.routes.filter((r) => r.target.thing === thing).map((r) => `${r.signal} ${r.target.parameter}`);
    expect(aims(show, copy.id)).toEqual(aims(ferry, 'lanterns'));
    const back = duplicateFigure(show, 'caption', WHOLE_PICTURE)!,
      both = run(show, back.command);
    expect(both.figures.find((f) => f.id === back.figure)).not.toHaveProperty('surface');
    const finish = copyFinish(both, 'third-appears', copy.id)!,
      all = run(both, finish.command);
    expect(all.finishes.find((f) => f.id === finish.finish)).toMatchObject({
      on: copy.id,
      form: { kind: 'appear' },
    });
    expect(aims(all, finish.finish)).toEqual(['speaks in']);
    expect(parseShow(JSON.parse(JSON.stringify(all)))).toEqual(all);
    // A group goes over whole: its figures, what it is finished with, and what moves that.
    const group = copyGroup(ferry, 'host-third', WHOLE_PICTURE)!,
      third = run(ferry, group.command),
      members = third.figures.filter((f) => f.group === group.group);
    expect(members.map((f) => [f.form.kind, f.surface])).toEqual([
      ['edge', undefined],
      ['letters', undefined],
      ['letters', undefined],
    ]);
    const own = third.finishes.find((f) => f.on === group.group)!;
    expect([own.form.kind, aims(third, own.id)]).toEqual(['appear', ['speaks in']]);
    expect(parseShow(JSON.parse(JSON.stringify(third)))).toEqual(third);
    // A twin stays with its original; its mirror is the overlay's own.
    const twin = twinFigure(ferry, 'frame-badge', true)!;
    expect(run(ferry, twin.command).figures.find((f) => f.id === twin.figure)).toMatchObject({
      surface: 'frame',
      at: { x: 1280 - 118 },
    });
  });
  it('go with all that is on them, and come back', () => {
    const h = apply(newHistory(ferry), '', removeThing('frame')),
      { show } = h;
    expect(show.figures.every((f) => f.surface === undefined)).toBe(true);
    expect([show.figureGroups, show.finishes.map((f) => f.id)]).toEqual([[], ['grain-1']]);
    const left = new Set(thingsOf(show).map((t) => t.id));
    expect(show.routes.every((r) => left.has(r.target.thing))).toBe(true);
    expect(undo(h).show).toEqual(ferry);
  });
  it('are refused where what is drawn names an overlay that is not there', () => {
    expect(() => parseShow({ ...ferry, overlays: [] })).toThrow(
      'the overlay that "Edge" is drawn on is not in it',
    );
  });
  it('rest in the dark, thing by thing, and never black', () => {
    const on = new Set(ids(ferry, 'frame'));
    for (const t of thingsOf(ferry))
      if (on.has(t.id) || t.id === 'frame' || t.id === 'host-third' || t.id === 'third-appears')
        expect(t.parameters.every((p) => p.dark === 'rest')).toBe(true);
    expect(
      thingsOf(ferry)
        .find((t) => t.id === 'moon')!
        .parameters.some((p) => p.dark),
    ).toBe(false);
  });
});

describe('what is made in one press', () => {
  const voice = findSignal(ferry, 'voice-level')!;
  it('a bump: from the smallest at the lower level to the largest at the upper, by an ordinary route', () => {
    const made = bump(ferry, 'moon', voice, {
      ...USUAL_BUMP,
      levels: { low: 0.01, high: 0.2 },
      smallest: 0.8,
      largest: 1.4,
      attackMs: 5,
      releaseMs: 300,
    });
    const show = run(ferry, made.command),
      route = show.routes.find((r) => r.id === made.route)!;
    expect(show.figures.find((f) => f.id === 'moon')!.rest.size).toBe(0.8);
    expect(route).toMatchObject({
      signal: 'voice-level',
      target: { thing: 'moon', parameter: 'size' },
      reach: 1.4,
      shaping: { fit: { mode: 'hand', low: 0.01, high: 0.2 }, smooth: { attackMs: 5, releaseMs: 300 } },
    });
    // What moved that axis before is taken away; nothing else is.
    expect(show.routes.filter((r) => r.target.thing === 'moon' && r.target.parameter === 'size')).toEqual([
      route,
    ]);
    expect(show.routes.length).toBe(ferry.routes.length);
  });
  it('a bump downwards, on one axis, from an anchor; of groups too', () => {
    const made = bump(ferry, 'frame-badge', voice, {
      ...USUAL_BUMP,
      axes: 'tall',
      anchor: 'foot',
      downwards: true,
      smallest: 0.5,
      largest: 1,
    });
    const badge = run(ferry, made.command).figures.find((f) => f.id === 'frame-badge')!;
    expect([badge.anchor, badge.rest.tall, badge.rest.size]).toEqual(['foot', 1, 0.3125]);
    // It stays where it was seen: its foot is half of its height further down.
    expect(badge.at.y).toBeLessThan(118);
    expect(canBump(ferry, 'host-third', 'both')).toBe(true);
    expect(canBump(ferry, 'moon', 'wide')).toBe(false);
    expect(() => bump(ferry, 'moon', voice, { ...USUAL_BUMP, axes: 'wide' })).toThrow();
  });
  it('what appears is not there until it is let in, and is used again when it is asked once more', () => {
    const speaks = findSignal(ferry, 'speaks')!,
      hit = findSignal(ferry, 'low-hit')!;
    const first = appear(ferry, 'caption', speaks, {
        ...USUAL_APPEAR,
        way: 'wipe',
        inMs: 90,
        outMs: 500,
        holdMs: 300,
      }),
      show = run(ferry, first.command);
    expect(show.finishes.find((f) => f.id === first.finish)).toMatchObject({
      on: 'caption',
      form: { kind: 'appear', way: 'wipe' },
      rest: { middleX: 50, middleY: 88 },
    });
    expect(show.routes.find((r) => r.id === first.route)!.shaping).toMatchObject({
      hold: { ms: 300 },
      smooth: { attackMs: 90, releaseMs: 500 },
    });
    const again = appear(show, 'caption', hit, { ...USUAL_APPEAR, way: 'rise' }),
      after = run(show, again.command);
    expect([again.finish, after.finishes.length]).toEqual([first.finish, show.finishes.length]);
    expect(after.routes.filter((r) => r.target.thing === first.finish).map((r) => r.signal)).toEqual([
      'low-hit',
    ]);
    expect(after.routes.at(-1)!.shaping.strike).toMatchObject({ holdMs: 400, fallMs: 700 });
  });
  it.each(OVERLAY_STARTS.map((s) => [s.name, s] as const))(
    '%s: a whole show still, twice over, with nothing moved elsewhere',
    (_, start) => {
      const overlaid = run(ferry, addOverlay(newOverlay('fresh', 'Fresh')));
      const once = start.make(overlaid, 'host', 'fresh'),
        twice = start.make(once.show, 'host', 'fresh');
      expect(parseShow(JSON.parse(JSON.stringify(twice.show)))).toEqual(twice.show);
      expect(ids(once.show, WHOLE_PICTURE)).toEqual(ids(ferry, WHOLE_PICTURE));
      expect(ids(once.show, 'fresh').length).toBeGreaterThan(0);
      expect(ids(twice.show, 'fresh').length).toBe(2 * ids(once.show, 'fresh').length);
      const targets = new Set(
        [...onSurface(once.show, 'fresh').figures, ...onSurface(once.show, 'fresh').finishes].map(
          (x) => x.id,
        ),
      );
      const fresh = once.show.routes.slice(overlaid.routes.length);
      expect(fresh.length).toBeGreaterThan(0);
      expect(fresh.every((r) => targets.has(r.target.thing))).toBe(true);
      expect(surfaceOfThing(once.show, once.figure)!.id).toBe('fresh');
    },
  );
});

describe('what drives an overlay', () => {
  it('is told by its inputs, and changed in one place; ears that move something else are copied', () => {
    expect(drivingOf(ferry, 'frame').map((d) => [d.input.id, d.ears.map((e) => e.id)])).toEqual([
      ['deck', ['low-hit']],
      ['host', ['voice-level', 'speaks']],
      ['tune', ['bell-strike']],
    ]);
    const h = apply(newHistory(ferry), '', driveBy(ferry, 'frame', 'host', 'deck')),
      { show } = h;
    // The voice also lights the ferry: that ear stays. Nobody else waits for speech: that one is changed.
    expect(show.ears.find((e) => e.id === 'voice-level')!.input).toBe('host');
    expect(show.ears.find((e) => e.id === 'speaks')!.input).toBe('deck');
    const own = show.routes.find((r) => r.target.thing === 'frame-edge' && r.target.parameter === 'swell')!,
      was = ferry.routes.find((r) => r.id === own.id)!;
    expect(show.ears.find((e) => e.id === own.signal)).toMatchObject({
      input: 'deck',
      listening: { kind: 'level' },
    });
    expect(own.shaping).toEqual(was.shaping);
    expect(show.routes.find((r) => r.target.thing === 'ferry' && r.target.parameter === 'glow')!.signal).toBe(
      'voice-level',
    );
    expect(drivingOf(show, 'frame').map((d) => d.input.id)).toEqual(['deck', 'tune']);
    expect(undo(h).show).toEqual(ferry);
  });
});

describe('letters that say what somebody is told', () => {
  it('have the lines of their maker, and change with them', () => {
    const show = EXAMPLES.find((e) => e.id === 'example-pilot')!.make(media),
      text = (s: Show): string => {
        const { form } = s.figures.find((f) => f.id === 'orders')!;
        return form.kind === 'letters' ? form.text : '';
      };
    expect(text(show).split('\n')).toHaveLength(3);
    const changed = run(
      show,
      changeMaker('says', {
        making: {
          kind: 'prompter',
          lines: [
            { at: 0, text: 'Now' },
            { at: 4, text: 'one\ntwo' },
          ],
        },
      }),
    );
    expect(text(changed)).toBe('Now\none two');
    expect(firstReach(changed, { thing: 'orders', parameter: 'line' })).toBe(1);
  });
  it('a finish of the overlay itself treats all of it', () => {
    const made = addFinish(ferry, 'frame', 'glow');
    expect(onSurface(run(ferry, made.command), 'frame').finishes.map((f) => f.on)).toEqual([
      'host-third',
      'frame',
    ]);
  });
});
