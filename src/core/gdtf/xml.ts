import { XMLParser } from 'fast-xml-parser';
import { RigFileError } from './archive';

/** One element: its name, its attributes, and the elements in it. */
export interface Element {
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: readonly Element[];
  /** The text in it, without spaces at its ends. */
  readonly text: string;
}
type Raw = Record<string, unknown>;

const DEEP_MOST = 100;
const parser = new XMLParser({
  preserveOrder: true,
  ignoreAttributes: false,
  attributeNamePrefix: '',
  parseTagValue: false,
  parseAttributeValue: false,
  // Entities of its own would let a file grow without end, or reach outside.
  processEntities: false,
});
const ENTITIES: Readonly<Record<string, string>> = { lt: '<', gt: '>', amp: '&', quot: '"', apos: "'" };
const plain = (text: string): string =>
  text.replace(/&(lt|gt|amp|quot|apos|#\d+|#x[\da-f]+);/gi, (whole, what: string) => {
    if (!what.startsWith('#')) return ENTITIES[what.toLowerCase()] ?? whole;
    const code =
      what[1] === 'x' || what[1] === 'X' ? Number.parseInt(what.slice(2), 16) : Number(what.slice(1));
    return code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : '';
  });

/**
 * Reads XML from outside. A document type, which may define entities or point outside, is refused.
 * @throws RigFileError
 */
export function readXml(text: string, what: string): Element {
  if (/<!(DOCTYPE|ENTITY)/i.test(text))
    throw new RigFileError(
      `${what} declares a document type. Such files may reach outside themselves, and are not read.`,
    );
  let raw: Raw[];
  try {
    raw = parser.parse(text, true) as Raw[];
  } catch (cause) {
    throw new RigFileError(
      `${what} is damaged: ${cause instanceof Error ? cause.message.slice(0, 160) : 'it is not XML'}.`,
      {
        cause,
      },
    );
  }
  const root = raw.map((r) => elementOf(r, 0, what)).find((e) => e !== null && !e.name.startsWith('?'));
  if (!root) throw new RigFileError(`${what} is empty.`);
  return root;
}
function elementOf(raw: Raw, deep: number, what: string): Element | null {
  if (deep > DEEP_MOST) throw new RigFileError(`${what} is nested too deep.`);
  const name = Object.keys(raw).find((k) => k !== ':@' && k !== '#text');
  if (name === undefined) return null;
  const inside = Array.isArray(raw[name]) ? (raw[name] as Raw[]) : [];
  return {
    name,
    attributes: Object.fromEntries(
      Object.entries((raw[':@'] ?? {}) as Record<string, unknown>).map(([k, v]) => [k, plain(String(v))]),
    ),
    children: inside.flatMap((c) => elementOf(c, deep + 1, what) ?? []),
    text: inside
      .map((c) => ('#text' in c ? plain(String(c['#text'])) : ''))
      .join('')
      .trim(),
  };
}

export const all = (of: Element | undefined, name: string): readonly Element[] =>
  of?.children.filter((c) => c.name === name) ?? [];
export const one = (of: Element | undefined, name: string): Element | undefined =>
  of?.children.find((c) => c.name === name);
/** An attribute as a number, or what it is otherwise. */
export function numberOf(of: Element | undefined, name: string, otherwise: number): number {
  const text = of?.attributes[name];
  const x = text === undefined || text.trim() === '' ? NaN : Number(text);
  return Number.isFinite(x) ? x : otherwise;
}
