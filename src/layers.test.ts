import { describe, expect, it } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';

/** Lints a text as if it stood in a file. */
function lint(file: string, text: string): string[] {
  const bin = path.join(__dirname, '../node_modules/eslint/bin/eslint.js');
  const done = spawnSync(
    process.execPath,
    [bin, '--stdin', '--stdin-filename', path.join(__dirname, file), '--format', 'json'],
    { input: text, cwd: path.join(__dirname, '..'), encoding: 'utf8' },
  );
  const [result] = JSON.parse(done.stdout) as { messages: { ruleId: string | null }[] }[];
  return result!.messages.map((m) => m.ruleId ?? 'parse');
}

describe('layers', () => {
  it('an import against them fails the lint; one with them does not', () => {
    expect(
      lint('core/show/things.ts', "import { live } from '../../ui/live/live';\nexport const x = live;\n"),
    ).toContain('import/no-restricted-paths');
    expect(
      lint('ui/live/live.ts', "import { HOP } from '../../core/units';\nexport const x = HOP;\n"),
    ).toEqual([]);
  });
  it('a folder of the core is used by its face from outside, and freely from inside', () => {
    const deep = (from: string): string =>
      `import { thingsOf } from '${from}';\nexport const x = thingsOf;\n`;
    expect(lint('ui/live/live.ts', deep('../../core/show/things'))).toContain('no-restricted-imports');
    expect(lint('ui/live/live.ts', deep('../../core/show'))).toEqual([]);
    expect(lint('core/plan/x.ts', deep('../show/things'))).toEqual([]);
  });
  it('the core may use no clock, no randomness, no Node and no interface', () => {
    expect(lint('core/x.ts', 'export const x = Date.now() + Math.random();\n')).toEqual(
      expect.arrayContaining(['no-restricted-globals', 'no-restricted-properties']),
    );
    expect(
      lint('core/x.ts', "import { readFileSync } from 'node:fs';\nexport const x = readFileSync;\n"),
    ).toContain('no-restricted-imports');
  });
});

/** Every circle of imports among files, those of types included. @returns its files, for each */
function circles(folder: string): string[][] {
  const files = readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((f) => /\.tsx?$/.test(f) && !f.includes('.test.') && !f.includes('assembly'))
    .map((f) => path.join(folder, f));
  const imports = new Map(
    files.map((file) => [
      file,
      [...readFileSync(file, 'utf8').matchAll(/(?:import|export)\b[^;'"]*?from\s+'(\.[^']+)'/g)].flatMap(
        ([, to]) => {
          const at = path.join(path.dirname(file), to!);
          return [`${at}.ts`, `${at}.tsx`, path.join(at, 'index.ts')].filter((f) => existsSync(f));
        },
      ),
    ]),
  );
  const reach = (from: string): Set<string> => {
    const seen = new Set<string>(),
      todo = [...(imports.get(from) ?? [])];
    for (let at = todo.pop(); at !== undefined; at = todo.pop()) {
      if (seen.has(at)) continue;
      seen.add(at);
      todo.push(...(imports.get(at) ?? []));
    }
    return seen;
  };
  const round = files.filter((f) => reach(f).has(f));
  return round.length === 0 ? [] : [round.map((f) => path.relative(folder, f))];
}
it('no file imports itself by way of others, for types either', () => {
  expect(circles(__dirname)).toEqual([]);
});
