import { toHex } from '../parameters/colour';
import {
  CELLS_MOST,
  type ChannelUse,
  type Emitter,
  EMITTERS,
  type Kind,
  type LampChannel,
  type Light,
  type Shutter,
  type Span,
  UNIVERSE_SIZE,
  type WheelSlot,
} from '../lights/kind';
import { RigFileError, unpack } from './archive';
import { all, type Element, numberOf, one, readXml } from './xml';

/**
 * Fixture definitions by DIN SPEC 15800 (GDTF 1.0 to 1.2): what is read of one is what a lamp of ours can do. What a file does not
 * say, or what is not known here, is told.
 */
export interface ReadKinds {
  /** A kind for each mode. */
  readonly kinds: readonly Kind[];
  /** What was left out or assumed, in words. */
  readonly notes: readonly string[];
}

/** Reads a GDTF file. @throws RigFileError */
export function readGdtf(bytes: Uint8Array): ReadKinds {
  const text = unpack(bytes, (name) => name.toLowerCase() === 'description.xml')
    .values()
    .next().value;
  if (!text) throw new RigFileError('There is no “description.xml” in the file: it is not a GDTF.');
  return readDescription(new TextDecoder().decode(text));
}

/** Attributes that a channel of ours carries. Numbered ones (“Gobo1”) by their first. */
const USES: Readonly<Record<string, ChannelUse>> = {
  Dimmer: 'dimmer',
  Pan: 'pan',
  Tilt: 'tilt',
  Zoom: 'zoom',
  Focus1: 'focus',
  Color1: 'colours',
  Gobo1: 'gobos',
  Shutter1: 'shutter',
  ColorAdd_R: 'red',
  ColorAdd_G: 'green',
  ColorAdd_B: 'blue',
  ColorAdd_W: 'white',
  ColorAdd_RY: 'amber',
  ColorAdd_A: 'amber',
  ColorAdd_WW: 'warm',
  ColorAdd_CW: 'cold',
  ColorAdd_UV: 'uv',
  ColorSub_C: 'cyan',
  ColorSub_M: 'magenta',
  ColorSub_Y: 'yellow',
  Haze1: 'haze',
  Fog1: 'haze',
  Fans: 'fan',
  Fan1: 'fan',
};
const STROBES = /^(Shutter1Strobe|StrobeFrequency|Shutter1StrobePulse)/;

/** `value/bytes` as eight bits, or null. */
function byteOf(text: string | undefined): number | null {
  const [, value, bytes] = /^\s*(\d+)\s*(?:\/\s*(\d+)s?)?\s*$/.exec(text ?? '') ?? [];
  if (value === undefined) return null;
  return Math.min(255, Math.floor(Number(value) / 256 ** (Math.min(4, Number(bytes ?? 1)) - 1)));
}

/** CIE xyY (or “x,y,Y” in text) as linear red, green and blue, the brightest of them 1; null for what is no colour. */
export function lightOf(text: string | undefined): Light | null {
  const [x, y] = (text ?? '').split(',').map(Number);
  if (x === undefined || y === undefined || !(x >= 0) || !(y > 0.001)) return null;
  const X = x / y,
    Z = (1 - x - y) / y,
    // IEC 61966-2-1: from CIE XYZ, D65.
    rgb = [
      3.2406 * X - 1.5372 - 0.4986 * Z,
      -0.9689 * X + 1.8758 + 0.0415 * Z,
      0.0557 * X - 0.204 + 1.057 * Z,
    ],
    most = Math.max(...rgb);
  if (!(most > 0)) return null;
  return rgb.map((c) => Math.round(Math.max(-1, c / most) * 10000) / 10000 || 0) as unknown as Light;
}

interface Geometry {
  readonly element: Element;
  /** Angle of the first beam in it, in degrees. */
  readonly beam: number | null;
}
/** Places at which a geometry stands: its own, or those of the references to it. */
interface Reference {
  /** Channels that are added to those of the template. */
  readonly offset: number;
  readonly x: number;
  readonly z: number;
}

/** Translation of a `{…}{…}{…}{…}` matrix, in metres: the last number of the first three rows. */
function translationOf(text: string | undefined): readonly [number, number, number] {
  const rows = [...(text ?? '').matchAll(/\{([^}]*)\}/g)].map((m) => m[1]!.split(',').map(Number));
  const at = (i: number): number => {
    const x = rows[i]?.[3];
    return x !== undefined && Number.isFinite(x) ? x : 0;
  };
  return [at(0), at(1), at(2)];
}
function beamOf(of: Element): number | null {
  if (of.name === 'Beam') return numberOf(of, 'BeamAngle', 25);
  for (const child of of.children) {
    const beam = beamOf(child);
    if (beam !== null) return beam;
  }
  return null;
}

class Reader {
  readonly notes: string[] = [];
  readonly #fixture: Element;
  readonly #name: string;
  readonly #geometries = new Map<string, Geometry>();
  readonly #references = new Map<string, Reference[]>();
  /** The name of each geometry's outermost one. */
  readonly #tops = new Map<string, string>();

  constructor(root: Element) {
    if (root.name !== 'GDTF')
      throw new RigFileError(
        `“description.xml” is not a fixture definition: it begins with <${root.name.slice(0, 40)}>.`,
      );
    const version = root.attributes.DataVersion ?? '';
    if (!/^1\.[0-2]$/.test(version))
      throw new RigFileError(
        `This GDTF is of version ${version.slice(0, 10) || 'unknown'}; versions 1.0 to 1.2 are read. Ask its maker for one of these.`,
      );
    const fixture = one(root, 'FixtureType');
    if (!fixture) throw new RigFileError('The definition has no FixtureType.');
    this.#fixture = fixture;
    this.#name =
      `${fixture.attributes.Manufacturer ?? ''} ${fixture.attributes.LongName || fixture.attributes.Name || 'Fixture'}`
        .trim()
        .slice(0, 120);
    for (const top of one(fixture, 'Geometries')?.children ?? []) this.#walk(top, top.attributes.Name ?? '');
  }
  #walk(e: Element, top: string): void {
    const name = e.attributes.Name ?? '';
    if (e.name === 'GeometryReference') {
      const [x, , z] = translationOf(e.attributes.Position),
        to = e.attributes.Geometry ?? '',
        first = all(e, 'Break').find((b) => numberOf(b, 'DMXBreak', 1) === 1);
      const list = this.#references.get(to) ?? [];
      list.push({ offset: numberOf(first, 'DMXOffset', 1) - 1, x, z });
      this.#references.set(to, list);
      return;
    }
    this.#geometries.set(name, { element: e, beam: beamOf(e) });
    this.#tops.set(name, top);
    for (const child of e.children) if (child.attributes.Name !== undefined) this.#walk(child, top);
  }

  kinds(): Kind[] {
    const modes = all(one(this.#fixture, 'DMXModes'), 'DMXMode');
    if (modes.length === 0) throw new RigFileError(`“${this.#name}” has no DMX mode.`);
    return modes.flatMap((m) => this.#kind(m, modes.length > 1) ?? []);
  }

  #kind(mode: Element, several: boolean): Kind | null {
    const modeName = mode.attributes.Name ?? 'Mode',
      where = `“${this.#name}”, ${modeName}`;
    const channels: LampChannel[] = [],
      unknown: string[] = [];
    let pan: Span | null = null,
      tilt: Span | null = null,
      zoom: Span | null = null,
      shutter: Shutter | null = null,
      colours: WheelSlot[] = [],
      gobos: WheelSlot[] = [],
      cells: readonly Reference[] = [];
    const emitters: Partial<Record<Emitter, Light>> = {};
    const rest = this.#referenced(mode);
    for (const channel of all(one(mode, 'DMXChannels'), 'DMXChannel')) {
      const text = channel.attributes.Offset ?? '';
      if (text === '' || text === 'None') continue; // a channel of no address
      if ((channel.attributes.DMXBreak ?? '1') !== '1' && channel.attributes.DMXBreak !== 'Overwrite') {
        unknown.push(`channels of a second address (break ${channel.attributes.DMXBreak})`);
        continue;
      }
      const offsets = text.split(',').map(Number);
      if (offsets.some((o) => !Number.isInteger(o) || o < 1 || o > UNIVERSE_SIZE)) {
        unknown.push(`a channel at “${text.slice(0, 20)}”`);
        continue;
      }
      const logical = one(channel, 'LogicalChannel'),
        functions = all(logical, 'ChannelFunction'),
        attribute = logical?.attributes.Attribute ?? functions[0]?.attributes.Attribute ?? '';
      const use = USES[attribute] ?? (STROBES.test(attribute) ? 'shutter' : undefined);
      const first = functions.find((f) => f.attributes.Attribute === attribute) ?? functions[0],
        still = byteOf(first?.attributes.Default ?? channel.attributes.Default) ?? 0;
      const span: Span = { from: numberOf(first, 'PhysicalFrom', 0), to: numberOf(first, 'PhysicalTo', 1) };
      const turned = Math.abs(span.to - span.from) > 1e-6;
      let carries: ChannelUse = use ?? 'still';
      if (use === undefined)
        unknown.push(`${attribute || 'a channel without a name'} (channel ${offsets[0]}) stays at ${still}`);
      else if (use === 'pan' || use === 'tilt' || use === 'zoom') {
        if (!turned) {
          this.notes.push(
            `${where}: ${attribute} does not say how far it goes; ${use === 'zoom' ? '5 to 45°' : use === 'pan' ? '±270°' : '±135°'} is assumed.`,
          );
        }
        const usual: Span =
          use === 'zoom'
            ? { from: 5, to: 45 }
            : use === 'pan'
              ? { from: -270, to: 270 }
              : { from: -135, to: 135 };
        const said = turned ? span : usual;
        if (use === 'pan') pan ??= said;
        else if (use === 'tilt') tilt ??= said;
        else zoom ??= said;
      } else if (use === 'colours' || use === 'gobos') {
        const slots = this.#slots(functions, where);
        if (slots.length === 0) {
          unknown.push(`${attribute} (channel ${offsets[0]}) has no slots, and stays at ${still}`);
          carries = 'still';
        } else if (use === 'colours') colours = slots;
        else gobos = slots;
      } else if (use === 'shutter') shutter ??= shutterOf(functions);
      if (use && (EMITTERS as readonly string[]).includes(use)) {
        const named = first?.attributes.Emitter,
          light = named ? this.#emitter(named) : null;
        if (light) emitters[use as Emitter] ??= light;
      }
      if (offsets.length > 2)
        this.notes.push(`${where}: ${attribute} has ${offsets.length} bytes; two of them are used.`);
      // A second of the same sort for all of the lamp is one too many for us.
      const own = this.#placesOf(channel.attributes.Geometry ?? '', rest);
      if (own && own.length > 1 && own.length <= CELLS_MOST && own.length >= cells.length) cells = own;
      if (!own && carries !== 'still' && channels.some((c) => c.use === carries && c.cell === undefined)) {
        unknown.push(`a second ${attribute} (channel ${offsets[0]}) stays at ${still}`);
        carries = 'still';
      }
      const place = (offset: number, cell?: number): void => {
        channels.push({
          use: carries,
          at: offset + offsets[0]! - 1,
          ...(offsets[1] !== undefined && { fine: offset + offsets[1] - 1 }),
          ...(cell !== undefined && { cell }),
          ...(carries === 'still' && { value: still }),
        });
      };
      if (own && own.length > 1) own.forEach((r, i) => place(r.offset, i));
      else place(own?.[0]?.offset ?? 0);
    }
    if (unknown.length > 0)
      this.notes.push(
        `${where}: ${unknown.slice(0, 12).join('; ')}${unknown.length > 12 ? `; and ${unknown.length - 12} more` : ''}.`,
      );
    if (channels.length === 0) {
      this.notes.push(`${where}: it has no channels, and is left out.`);
      return null;
    }
    const footprint = Math.max(...channels.map((c) => Math.max(c.at, c.fine ?? 0))) + 1;
    if (footprint > UNIVERSE_SIZE) {
      this.notes.push(`${where}: it takes ${footprint} channels, more than a universe has, and is left out.`);
      return null;
    }
    const { columns, rows } = gridOf(cells);
    return {
      id: idOf(this.#name, modeName, this.#fixture.attributes.FixtureTypeID ?? ''),
      label: `${this.#name}${several ? `, ${modeName}` : ''}, ${footprint} channels`,
      channels,
      footprint,
      columns,
      rows,
      pan,
      tilt,
      zoom,
      beam: channels.every((c) => c.use === 'haze' || c.use === 'fan' || c.use === 'still')
        ? 0
        : Math.min(180, Math.max(1, this.#beam(mode))),
      colours,
      gobos,
      shutter,
      emitters: Object.keys(emitters).length > 0 ? emitters : null,
      flashes:
        pan === null &&
        tilt === null &&
        shutter?.strobe != null &&
        cells.length < 2 &&
        !channels.some((c) => c.use === 'red'),
    };
  }

  #beam(mode: Element): number {
    const top = this.#geometries.get(mode.attributes.Geometry ?? '');
    return top?.beam ?? [...this.#geometries.values()].find((g) => g.beam !== null)?.beam ?? 25;
  }
  /** Geometries that stand in this mode's tree by reference alone. */
  #referenced(mode: Element): ReadonlySet<string> {
    const own = mode.attributes.Geometry ?? '';
    return new Set([...this.#references.keys()].filter((name) => this.#tops.get(name) !== own));
  }
  /** Where a channel of this geometry stands once for each reference to it; null when it is not referred to. */
  #placesOf(geometry: string, referenced: ReadonlySet<string>): readonly Reference[] | null {
    const top = this.#tops.get(geometry) ?? geometry;
    return referenced.has(top) ? this.#references.get(top)! : null;
  }
  #emitter(name: string): Light | null {
    const list = all(one(one(this.#fixture, 'PhysicalDescriptions'), 'Emitters'), 'Emitter');
    return lightOf(list.find((e) => e.attributes.Name === name)?.attributes.Color);
  }
  #slots(functions: readonly Element[], where: string): WheelSlot[] {
    const out: WheelSlot[] = [];
    for (const f of functions) {
      const wheel = all(one(this.#fixture, 'Wheels'), 'Wheel').find(
        (w) => w.attributes.Name === f.attributes.Wheel,
      );
      if (!wheel) continue;
      const slots = all(wheel, 'Slot');
      // Only places of the wheel at rest: what turns it is another function.
      if (!/^(Color|Gobo)\d+$/.test(f.attributes.Attribute ?? '')) continue;
      for (const set of all(f, 'ChannelSet')) {
        const index = numberOf(set, 'WheelSlotIndex', 0),
          slot = slots[index - 1],
          at = byteOf(set.attributes.DMXFrom);
        if (!slot || at === null || out.some((s) => s.at === at)) continue;
        const light = lightOf(slot.attributes.Color);
        out.push({
          name: (slot.attributes.Name || set.attributes.Name || `${index}`).slice(0, 120),
          ...(light && { ink: toHex(light[0], light[1], light[2]) }),
          at,
        });
      }
    }
    if (out.length > 64) this.notes.push(`${where}: a wheel has ${out.length} places; 64 of them are used.`);
    return out.sort((p, q) => p.at - q.at).slice(0, 64);
  }
}

function shutterOf(functions: readonly Element[]): Shutter | null {
  const ordered = functions
    .map((f) => ({ f, from: byteOf(f.attributes.DMXFrom) ?? 0 }))
    .sort((p, q) => p.from - q.from);
  let open: number | null = null,
    closed: number | null = null,
    strobe: Shutter['strobe'] = null;
  ordered.forEach(({ f, from }, i) => {
    const to = (ordered[i + 1]?.from ?? 256) - 1;
    if (STROBES.test(f.attributes.Attribute ?? '')) {
      const slow = numberOf(f, 'PhysicalFrom', 1),
        quick = numberOf(f, 'PhysicalTo', 10);
      // One that runs from quick to slow is left alone: it would be asked for the wrong end.
      if (!strobe && quick > slow && to > from)
        strobe = { from, to, slow: Math.max(0, slow), quick: Math.min(100, quick) };
      return;
    }
    for (const set of all(f, 'ChannelSet')) {
      const at = byteOf(set.attributes.DMXFrom) ?? from,
        name = set.attributes.Name ?? '';
      if (/clos/i.test(name)) closed ??= at;
      else if (/open/i.test(name)) open ??= at;
    }
    if (all(f, 'ChannelSet').length === 0) {
      closed ??= numberOf(f, 'PhysicalFrom', 0) < numberOf(f, 'PhysicalTo', 1) ? from : to;
      open ??= closed === from ? to : from;
    }
  });
  return { open: open ?? (strobe ? 0 : 255), closed, strobe };
}

/** Cells in rows, from where they stand; one row when they make no grid. */
function gridOf(cells: readonly Reference[]): { readonly columns: number; readonly rows: number } {
  if (cells.length < 2) return { columns: 1, rows: 1 };
  const rows = new Set(cells.map((c) => Math.round(c.z * 1000))).size;
  return rows > 1 && cells.length % rows === 0
    ? { columns: cells.length / rows, rows }
    : { columns: cells.length, rows: 1 };
}

/** An id that stays the same for the same file, at most 64 letters long. */
function idOf(name: string, mode: string, type: string): string {
  const plain = (text: string): string =>
    text
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '');
  let hash = 2166136261;
  for (const c of `${type} ${name} ${mode}`) hash = Math.imul(hash ^ c.codePointAt(0)!, 16777619);
  return `${plain(name).slice(0, 34)}-${plain(mode).slice(0, 16)}-${(hash >>> 0).toString(36)}`;
}

/** Reads the definition alone. @throws RigFileError */
export function readDescription(text: string): ReadKinds {
  const reader = new Reader(readXml(text, '“description.xml”')),
    kinds = reader.kinds();
  if (kinds.length === 0)
    throw new RigFileError(`No mode of this fixture can be used. ${reader.notes.join(' ')}`);
  return { kinds, notes: reader.notes };
}
