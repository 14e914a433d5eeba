import Papa from 'papaparse';
import { BUILT_IN, footprintOf, isCelled, type Kinded } from '../lights/builtin';
import { shownUniverse, UNIVERSE_MAX, UNIVERSE_SIZE } from '../lights/kind';
import { freeIds } from './commands';
import { freeAddress, patchFixture } from './lampCommands';
import type { Command } from './history';
import type { Fixture, Show } from './types';

/** The patch as a table, out and in: as CSV, or as a spreadsheet puts it on the clipboard. */

const COLUMNS = [
  'name',
  'kind',
  'columns',
  'rows',
  'universe',
  'address',
  'group',
  'across',
  'height',
  'depth',
] as const;
type Column = (typeof COLUMNS)[number];
/** Other words under which a column is known. */
const ALSO: Readonly<Record<string, Column>> = {
  lamp: 'name',
  fixture: 'name',
  label: 'name',
  type: 'kind',
  mode: 'kind',
  cells: 'columns',
  uni: 'universe',
  channel: 'address',
  addr: 'address',
  dmx: 'address',
  x: 'across',
  y: 'height',
  z: 'depth',
};

type Rig = Pick<Show, 'fixtures' | 'kinds'>;
const kindNames = (show: Rig): readonly (readonly [id: string, label: string])[] => [
  ...BUILT_IN,
  ...show.kinds.map((k) => [k.id, k.label] as const),
];
/** A text that a spreadsheet would take for a formula is put in quotes. */
const safe = (text: string): string => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text);

/** The patch as CSV, one lamp a row, universes from 1. */
export function patchToCsv(show: Rig): string {
  const names = new Map(kindNames(show));
  return Papa.unparse(
    {
      fields: [...COLUMNS],
      data: show.fixtures.map((f) => [
        safe(f.name),
        names.get(f.mode) ?? f.mode,
        isCelled(f.mode) ? (f.cells?.columns ?? '') : '',
        isCelled(f.mode) ? (f.cells?.rows ?? '') : '',
        shownUniverse(f.universe),
        f.address,
        safe(f.group ?? ''),
        f.at?.x ?? '',
        f.at?.y ?? '',
        f.at?.z ?? '',
      ]),
    },
    { newline: '\n' },
  );
}

/** What a table would make of the patch. */
export interface PatchRead {
  readonly command: Command;
  /** How many lamps it changes, by their name, and how many it adds. */
  readonly changed: number;
  readonly added: number;
  /** Rows that cannot be used, and why. */
  readonly problems: readonly string[];
}

/**
 * Reads a table: a first row that names its columns, or none of them and then name, kind, universe, address in this order. A lamp
 * whose name is known is changed, any other is added. What cannot be used is said, row by row, and leaves the rest as it is.
 */
export function patchFromTable(text: string, show: Show): PatchRead {
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: 'greedy' });
  const problems: string[] = [],
    freshId = freeIds(show, 'lamp');
  const columnOf = (cell: string): Column | null => {
    const word = cell.trim().toLowerCase();
    return (COLUMNS as readonly string[]).includes(word) ? (word as Column) : (ALSO[word] ?? null);
  };
  const head = data[0]?.map(columnOf) ?? [],
    headed = head.includes('name'),
    places: readonly (Column | null)[] = headed ? head : ['name', 'kind', 'universe', 'address'];
  const kinds = kindNames(show),
    known = new Map(show.fixtures.map((f) => [f.name.toLowerCase(), f]));
  const changes: { readonly lamp: string; readonly change: Partial<Fixture> }[] = [],
    added: Fixture[] = [];
  data.slice(headed ? 1 : 0).forEach((cells, i) => {
    const row = i + (headed ? 2 : 1),
      of = (column: Column): string =>
        (cells[places.indexOf(column)] ?? '').trim().replace(/^'(?=[=+\-@])/, '');
    const name = of('name').slice(0, 80);
    const wrong = (what: string): void => {
      problems.push(`Row ${row}${name ? ` (${name})` : ''}: ${what}`);
    };
    if (!name) return wrong('it has no name.');
    const whole = (column: Column, low: number, high: number): number | null | undefined => {
      const cell = of(column);
      if (cell === '') return undefined;
      const x = Number(cell);
      if (Number.isInteger(x) && x >= low && x <= high) return x;
      wrong(`${column} is “${cell.slice(0, 20)}”; it must be a whole number from ${low} to ${high}.`);
      return null;
    };
    const there =
      known.get(name.toLowerCase()) ?? added.find((f) => f.name.toLowerCase() === name.toLowerCase());
    const word = of('kind').toLowerCase(),
      kind = word
        ? kinds.find(
            ([k, label]) =>
              k.toLowerCase() === word ||
              label.toLowerCase() === word ||
              label.toLowerCase().startsWith(`${word},`),
          )
        : undefined;
    if (word && !kind)
      return wrong(
        `the kind “${of('kind').slice(0, 40)}” is not known. Read its file first, or choose one of those that are offered.`,
      );
    const universe = whole('universe', 1, UNIVERSE_MAX + 1),
      address = whole('address', 1, UNIVERSE_SIZE),
      columns = whole('columns', 1, UNIVERSE_SIZE),
      rows = whole('rows', 1, UNIVERSE_SIZE);
    if (universe === null || address === null || columns === null || rows === null) return;
    const mode = kind?.[0] ?? there?.mode ?? 'rgb';
    const cellsOf = isCelled(mode) && (columns !== undefined || there?.cells);
    const like: Kinded = {
      mode,
      ...(cellsOf && {
        cells: { columns: columns ?? there!.cells!.columns, rows: rows ?? there?.cells?.rows ?? 1 },
      }),
    };
    const at = address ?? there?.address;
    if (at !== undefined && at + footprintOf(like, show.kinds) - 1 > UNIVERSE_SIZE)
      return wrong(`at address ${at} it would reach past its universe.`);
    const metres = (column: Column, otherwise: number): number => {
      const x = Number(of(column));
      return of(column) !== '' && Number.isFinite(x) ? Math.min(200, Math.max(-200, x)) : otherwise;
    };
    const placed = of('across') !== '' || of('height') !== '' || of('depth') !== '';
    const change: Partial<Fixture> = {
      ...(kind && { mode }),
      ...(like.cells && { cells: like.cells }),
      ...(universe !== undefined && { universe: universe - 1 }),
      ...(address !== undefined && { address }),
      ...(of('group') !== '' && { group: of('group').slice(0, 120) }),
      ...(placed && {
        at: {
          turn: 0,
          hangs: true,
          ...there?.at,
          x: metres('across', there?.at?.x ?? 0),
          y: metres('height', there?.at?.y ?? 1.5),
          z: metres('depth', there?.at?.z ?? 4),
        },
      }),
    };
    if (there && !added.includes(there)) changes.push({ lamp: there.id, change });
    else if (there) wrong('this name stands in the table twice.');
    else {
      const to = change.universe ?? 0,
        free =
          address ??
          freeAddress({ ...show, fixtures: [...show.fixtures, ...added] }, to, footprintOf(like, show.kinds));
      if (free === null) return wrong(`universe ${to + 1} is full.`);
      added.push({ id: freshId(), name, rest: {}, ...like, universe: to, address: free, ...change });
    }
  });
  return {
    changed: changes.length,
    added: added.length,
    problems,
    command: (d) => {
      for (const { lamp, change } of changes) patchFixture(lamp, change)(d);
      d.fixtures.push(...(added as typeof d.fixtures));
    },
  };
}
