import { describe, expect, it } from '@jest/globals';
import { spawnSync } from 'node:child_process';
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
  it('the core may use no clock, no randomness, no Node and no interface', () => {
    expect(lint('core/x.ts', 'export const x = Date.now() + Math.random();\n')).toEqual(
      expect.arrayContaining(['no-restricted-globals', 'no-restricted-properties']),
    );
    expect(
      lint('core/x.ts', "import { readFileSync } from 'node:fs';\nexport const x = readFileSync;\n"),
    ).toContain('no-restricted-imports');
  });
});
