import { describe, expect, it } from '@jest/globals';
import { strToU8, zipSync } from 'fflate';
import { FERRY_DEFINITIONS } from '../ferry/fixtures';
import { kindOf } from '../lights/builtin';
import type { Kind } from '../lights/kind';
import { kindSchema } from '../lights/kindSchema';
import { USUAL_ROOM } from '../lights/room';
import { seeded } from '../random';
import { RigFileError } from './archive';
import { lightOf, readDescription, readGdtf } from './gdtf';
import { readMvr } from './mvr';

const gdtf = (description: string): Uint8Array => zipSync({ 'description.xml': strToU8(description) });
const HEAD = FERRY_DEFINITIONS['mast-head'];

describe('fixture definitions', () => {
  it('a head: the same channels, ways and wheels as the head that is built in', () => {
    const { kinds, notes } = readGdtf(gdtf(HEAD)),
      [head] = kinds as [Kind],
      own = kindOf({ mode: 'head' });
    expect(notes).toEqual([]);
    expect(head.channels).toEqual(own.channels);
    expect([head.pan, head.tilt, head.zoom, head.shutter, head.footprint]).toEqual([
      own.pan,
      own.tilt,
      own.zoom,
      own.shutter,
      11,
    ]);
    expect(head.beam).toBe(14);
    expect(head.gobos.map((g) => [g.name.toLowerCase(), g.at])).toEqual(own.gobos.map((g) => [g.name, g.at]));
    expect(head.colours.map((c) => c.at)).toEqual(own.colours.map((c) => c.at));
    expect(head.colours[0]!.ink).toBe('#ffffff');
    expect(head.colours[1]!.ink).toBe('#ff0000');
    expect(head.colours[6]!.ink).toBe('#0000ff');
  });
  it('a bar: a cell for each reference to its geometry, at the channels that the reference says', () => {
    const [bar] = readDescription(FERRY_DEFINITIONS['rail-bar']).kinds as [Kind];
    expect([bar.columns, bar.rows, bar.footprint, bar.channels.length]).toEqual([40, 1, 120, 120]);
    expect(bar.channels.filter((c) => c.cell === 7).map((c) => [c.use, c.at])).toEqual([
      ['red', 21],
      ['green', 22],
      ['blue', 23],
    ]);
    expect(bar.emitters!.red![0]).toBe(1);
    expect(bar.emitters!.red!.slice(1).every((x) => Math.abs(x) < 0.01)).toBe(true);
    expect(bar.pan).toBeNull();
  });
  it('haze gives no light', () => {
    const [haze] = readDescription(FERRY_DEFINITIONS['deck-haze']).kinds as [Kind];
    expect([haze.channels.map((c) => c.use), haze.beam]).toEqual([['haze', 'fan'], 0]);
  });
  it('all of them may stand in a show, under ids of their own that stay the same', () => {
    const kinds = Object.values(FERRY_DEFINITIONS).flatMap((d) => readDescription(d).kinds);
    for (const k of kinds) expect(kindSchema.validate(k).error).toBeUndefined();
    expect(new Set(kinds.map((k) => k.id)).size).toBe(3);
    expect(readDescription(HEAD).kinds[0]!.id).toBe(kinds[0]!.id);
  });
  it('measured colours are those of the standard: the primaries and the white of sRGB', () => {
    for (const [text, rgb] of [
      ['0.3127,0.3290,100', [1, 1, 1]],
      ['0.64,0.33,21', [1, 0, 0]],
      ['0.30,0.60,71', [0, 1, 0]],
      ['0.15,0.06,7', [0, 0, 1]],
    ] as const)
      lightOf(text)!.forEach((x, c) => expect(Math.abs(x - rgb[c]!)).toBeLessThan(0.01));
    expect([lightOf(undefined), lightOf('x'), lightOf('0.3,0,1')]).toEqual([null, null, null]);
  });
  it('what is not known is told, and stays at its default; what does not say how far it goes is assumed', () => {
    const odd = HEAD.replace(/Attribute="Focus1"/g, 'Attribute="Prism1"')
        .replace(
          'PhysicalFrom="0" PhysicalTo="1"/></LogicalChannel></DMXChannel></DMXChannels>',
          'PhysicalFrom="0" PhysicalTo="1"/></LogicalChannel></DMXChannel></DMXChannels>',
        )
        .replace('PhysicalFrom="-270" PhysicalTo="270"', 'PhysicalFrom="0" PhysicalTo="0"'),
      { kinds, notes } = readDescription(odd);
    expect(kinds[0]!.channels.at(-1)).toEqual({ use: 'still', at: 10, value: 128 });
    expect(kinds[0]!.pan).toEqual({ from: -270, to: 270 });
    expect(notes.join(' ')).toContain('Prism1 (channel 11) stays at 128');
    expect(notes.join(' ')).toContain('Pan does not say how far it goes');
  });
  it('each mode is a kind of its own', () => {
    const two = HEAD.replace(
      '</DMXModes>',
      `${/<DMXMode .*<\/DMXMode>/.exec(HEAD)![0].replace('Name="Deck"', 'Name="Mast"')}</DMXModes>`,
    );
    const { kinds } = readDescription(two);
    expect(kinds.map((k) => k.label)).toEqual([
      'Night Ferry Mast Head, Deck, 11 channels',
      'Night Ferry Mast Head, Mast, 11 channels',
    ]);
  });
});

describe('a file that cannot be used', () => {
  const said = (run: () => unknown): string => {
    try {
      run();
    } catch (e) {
      expect(e).toBeInstanceOf(RigFileError);
      return (e as Error).message;
    }
    throw new Error('it was read');
  };
  it('says what is wrong, and where', () => {
    expect(said(() => readGdtf(strToU8('hello')))).toContain('not a zip archive');
    expect(said(() => readGdtf(gdtf(HEAD).subarray(0, 300)))).toContain('damaged');
    expect(said(() => readGdtf(zipSync({ 'other.xml': strToU8('<a/>') })))).toContain('description.xml');
    expect(said(() => readDescription(HEAD.slice(0, 900)))).toContain('“description.xml” is damaged');
    expect(said(() => readDescription(HEAD.replace('"1.2"', '"7.0"')))).toContain('version 7.0');
    expect(said(() => readDescription('<Other/>'))).toContain('begins with <Other>');
    expect(said(() => readDescription(HEAD.replace(/<DMXModes>.*<\/DMXModes>/, '')))).toContain(
      'no DMX mode',
    );
    expect(said(() => readMvr(gdtf(HEAD), USUAL_ROOM))).toContain('not an MVR');
  });
  it('is not let to grow or to reach outside: entities, bombs', () => {
    const bomb = `<?xml version="1.0"?><!DOCTYPE GDTF [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]>${HEAD.slice(HEAD.indexOf('<GDTF'))}`;
    expect(said(() => readDescription(bomb))).toContain('document type');
    const large = zipSync({ 'description.xml': new Uint8Array(40 << 20) });
    expect(large.length).toBeLessThan(1 << 20);
    expect(said(() => readGdtf(large))).toContain('too large');
  });
  it('whatever is changed in it, nothing but a word is thrown, and what is read may stand in a show', () => {
    const random = seeded(21);
    let read = 0;
    for (let i = 0; i < 400; i++) {
      const letters = [...HEAD];
      for (let k = 0; k < 1 + random() * 4; k++) {
        const at = Math.floor(random() * letters.length);
        letters.splice(
          at,
          Math.floor(random() * 3),
          ['"', '<', '9', '-', 'x', ''][Math.floor(random() * 6)]!,
        );
      }
      try {
        for (const k of readDescription(letters.join('')).kinds) {
          expect(kindSchema.validate(k).error?.message).toBeUndefined();
          read++;
        }
      } catch (e) {
        expect(e).toBeInstanceOf(RigFileError);
      }
    }
    expect(read).toBeGreaterThan(20);
  });
});

describe('a rig', () => {
  const lamp = (name: string, address: string, at: string, mode = 'Deck', spec = 'Mast Head.gdtf'): string =>
    `<Fixture name="${name}" uuid="x"><Matrix>{1,0,0}{0,1,0}{0,0,1}{${at}}</Matrix><GDTFSpec>${spec}</GDTFSpec><GDTFMode>${mode}</GDTFMode><Addresses><Address break="0">${address}</Address></Addresses><FixtureID>1</FixtureID></Fixture>`;
  const rig = (lamps: string, version = '1'): Uint8Array =>
    zipSync({
      'GeneralSceneDescription.xml': strToU8(
        `<GeneralSceneDescription verMajor="${version}" verMinor="6"><Scene><Layers><Layer name="Mast" uuid="l"><ChildList>${lamps}</ChildList></Layer></Layers></Scene></GeneralSceneDescription>`,
      ),
      'Mast Head.gdtf': gdtf(HEAD),
    });
  it('has its lamps where they hang, patched as they are, with the definitions in it', () => {
    const { kinds, lamps, notes } = readMvr(
      rig(
        `${lamp('Left', '1', '-3000,1000,4500')}<GroupObject name="Pair"><ChildList>${lamp('Right', '524', '3000,1000,4500')}${lamp('Far', '3.100', '0,-2000,4000')}</ChildList></GroupObject>`,
      ),
      USUAL_ROOM,
    );
    expect(kinds).toHaveLength(1);
    expect(notes).toEqual([]);
    expect(lamps.map((l) => [l.name, l.universe, l.address, l.group])).toEqual([
      ['Left', 0, 1, 'Mast'],
      ['Right', 1, 12, 'Pair'],
      ['Far', 2, 100, 'Pair'],
    ]);
    expect(lamps[0]!.at).toEqual({ x: -3, y: 4.5, z: 3, turn: 0, hangs: true });
    expect(lamps[2]!.at.z).toBe(6);
  });
  it('tells which lamps it left out, or put elsewhere', () => {
    const { lamps, notes } = readMvr(
      rig(
        lamp('One', '1', '0,0,0') +
          lamp('Two', '510', '0,0,0') +
          lamp('Three', '', '0,0,0') +
          lamp('Four', '30', '0,0,0', 'Deck', 'Gone.gdtf'),
      ),
      USUAL_ROOM,
    );
    expect(lamps.map((l) => [l.name, l.address])).toEqual([
      ['One', 1],
      ['Two', 502],
      ['Three', 1],
    ]);
    const text = notes.join(' ');
    for (const words of [
      '“Two” would reach past its universe',
      '“Three” is not patched',
      '“Gone.gdtf”: it is not in the file',
      '“Four” is left out',
    ])
      expect(text).toContain(words);
  });
  it('of another version is refused', () => {
    expect(() => readMvr(rig(lamp('One', '1', '0,0,0'), '2'), USUAL_ROOM)).toThrow('version 2.6');
  });
});
