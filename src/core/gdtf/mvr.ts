import type { Hung } from '../lights/aim';
import type { Kind } from '../lights/kind';
import type { Room } from '../lights/room';
import { RigFileError, unpack } from './archive';
import { readGdtf } from './gdtf';
import { all, type Element, numberOf, one, readXml } from './xml';

/** A lamp of a rig file. */
export interface RigLamp {
  readonly name: string;
  /** Id of one of the kinds that came with it. */
  readonly kind: string;
  /** From 0. */
  readonly universe: number;
  readonly address: number;
  readonly at: Hung;
  readonly group: string;
}
export interface ReadRig {
  readonly kinds: readonly Kind[];
  readonly lamps: readonly RigLamp[];
  readonly notes: readonly string[];
}
const LAMPS_MOST = 4096;

/** Reads a rig: positions, patch, and the definitions in it (MVR 1.4 to 1.6). @param room - in which it is put @throws RigFileError */
export function readMvr(bytes: Uint8Array, room: Room): ReadRig {
  const files = unpack(bytes, (name) => /(^generalscenedescription\.xml|\.gdtf)$/i.test(name));
  const scene = [...files].find(([name]) => name.toLowerCase() === 'generalscenedescription.xml')?.[1];
  if (!scene)
    throw new RigFileError('There is no “GeneralSceneDescription.xml” in the file: it is not an MVR.');
  const root = readXml(new TextDecoder().decode(scene), '“GeneralSceneDescription.xml”');
  if (root.name !== 'GeneralSceneDescription')
    throw new RigFileError(`The scene begins with <${root.name.slice(0, 40)}>: it is not an MVR.`);
  const major = numberOf(root, 'verMajor', NaN);
  if (major !== 1)
    throw new RigFileError(
      `This MVR is of version ${root.attributes.verMajor ?? 'unknown'}.${root.attributes.verMinor ?? ''}; version 1 is read. Save it as such.`,
    );
  const notes: string[] = [],
    kinds = new Map<string, Kind>(),
    read = new Map<string, readonly Kind[]>();
  const kindsOf = (spec: string): readonly Kind[] => {
    const name = /\.gdtf$/i.test(spec) ? spec : `${spec}.gdtf`;
    let list = read.get(name);
    if (!list) {
      const file = [...files].find(([n]) => n.toLowerCase() === name.toLowerCase())?.[1];
      try {
        if (!file) throw new RigFileError('it is not in the file');
        const found = readGdtf(file);
        list = found.kinds;
        notes.push(...found.notes);
      } catch (e) {
        notes.push(`“${name.slice(0, 80)}”: ${(e as Error).message}`);
        list = [];
      }
      read.set(name, list);
    }
    return list;
  };
  const lamps: RigLamp[] = [];
  const walk = (of: Element, group: string): void => {
    for (const e of of.children) {
      if (e.name === 'Fixture') take(e, group);
      else if (e.name === 'GroupObject') walkAll(e, e.attributes.name ?? group);
      else if (e.name === 'Layer') walkAll(e, e.attributes.name ?? group);
    }
  };
  const walkAll = (of: Element, group: string): void => {
    for (const list of all(of, 'ChildList')) walk(list, group);
  };
  const take = (e: Element, group: string): void => {
    const name = (e.attributes.name || one(e, 'FixtureID')?.text || 'Lamp').slice(0, 80);
    if (lamps.length >= LAMPS_MOST) {
      if (lamps.length === LAMPS_MOST) notes.push(`More than ${LAMPS_MOST} lamps: the rest is left out.`);
      return;
    }
    const spec = one(e, 'GDTFSpec')?.text ?? '',
      mode = one(e, 'GDTFMode')?.text ?? '',
      found = kindsOf(spec),
      kind =
        found.find((k) => k.label.includes(`, ${mode}, `)) ?? (found.length === 1 ? found[0] : undefined);
    if (!kind) {
      notes.push(
        `“${name}” is left out: its kind (${spec.slice(0, 60) || 'none'}, ${mode.slice(0, 40) || 'no mode'}) cannot be used.`,
      );
      return;
    }
    const patch = patchOf(one(one(e, 'Addresses'), 'Address')?.text ?? '');
    if (!patch) notes.push(`“${name}” is not patched: it is put on universe 1, address 1.`);
    const address = Math.min(patch?.address ?? 1, 513 - kind.footprint);
    if (patch && address !== patch.address)
      notes.push(
        `“${name}” would reach past its universe at address ${patch.address}: it is put at ${address}.`,
      );
    kinds.set(kind.id, kind);
    lamps.push({
      name,
      kind: kind.id,
      universe: patch?.universe ?? 0,
      address,
      at: hungBy(one(e, 'Matrix')?.text, room),
      group: group.slice(0, 120),
    });
  };
  for (const layers of all(one(root, 'Scene'), 'Layers')) walk(layers, '');
  if (lamps.length === 0)
    throw new RigFileError(`There is no lamp in this rig that can be used. ${notes.slice(0, 4).join(' ')}`);
  return { kinds: [...kinds.values()], lamps, notes };
}

/** “45” counted through all universes from 1, or “2.45”. */
function patchOf(text: string): { readonly universe: number; readonly address: number } | null {
  const [, first, second] = /^\s*(\d+)(?:\.(\d+))?\s*$/.exec(text) ?? [];
  if (first === undefined) return null;
  const universe = second === undefined ? Math.floor((Number(first) - 1) / 512) : Number(first) - 1,
    address = second === undefined ? ((Number(first) - 1) % 512) + 1 : Number(second);
  return universe >= 0 && universe <= 32767 && address >= 1 && address <= 512 ? { universe, address } : null;
}

/** A matrix in millimetres, X to the right, Y away from the audience, Z up, as where a lamp hangs. */
function hungBy(text: string | undefined, room: Room): Hung {
  const rows = [...(text ?? '').matchAll(/\{([^}]*)\}/g)].map((m) => m[1]!.split(',').map(Number));
  const at = (i: number, j: number): number => {
    const x = rows[i]?.[j];
    return x !== undefined && Number.isFinite(x) ? x : i === j ? 1 : 0;
  };
  const metres = (x: number): number => Math.min(200, Math.max(-200, Math.round(x) / 1000));
  // A fixture’s own upright points down where it hangs; its front is the second axis.
  const hangs = at(2, 2) >= 0,
    turn = (Math.atan2(at(0, 1), at(1, 1)) * 180) / Math.PI;
  return {
    x: metres(at(3, 0)),
    y: Math.max(0, metres(at(3, 2))),
    z: Math.max(0, Math.round((room.depth / 2 - at(3, 1) / 1000) * 1000) / 1000),
    turn: Math.round(turn * 10) / 10 || 0,
    hangs,
  };
}
