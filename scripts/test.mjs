// One command for everything that can be checked: types, lint, unit tests, and the real interface in Chromium.
import { spawn, spawnSync } from 'node:child_process';
import { readFileSync, mkdtempSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import {
  ensureBuild,
  ensureChromium,
  ensureDemoData,
  ensureOthers,
  ensurePackages,
  chromiumPath,
  root,
  say,
} from './ensure.mjs';

ensurePackages();
ensureDemoData();
ensureChromium();
ensureOthers();
ensureBuild();
process.env.CHROMIUM = chromiumPath();

/** So many files and long tests are named when all are through, to see where the time goes. */
const SLOWEST = 8,
  LONG_MS = 10000;
let passed = 0,
  failed = 0;
const began = performance.now();
const bin = (name) => path.join(root, 'node_modules', '.bin', name);
/** Runs what reads the code, all of it side by side, and says of each how it went with what it said. */
async function check(checks) {
  say(`${checks.map(([what]) => what).join(', ')} …`);
  const run = ([what, command, args]) =>
    new Promise((done) => {
      const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
      let said = '';
      for (const stream of [child.stdout, child.stderr])
        stream.on('data', (d) => {
          said += d;
        });
      child.on('error', (e) => {
        said += e.message;
      });
      child.on('close', (code) => {
        if (code === 0) passed++;
        else failed++;
        if (code !== 0) say(`${what} failed.`);
        if (said) process.stderr.write(said);
        done();
      });
    });
  await Promise.all(checks.map(run));
}
/** Runs one project of Jest and counts its tests by its own report; it ends by itself, also when a test left something running. */
function jest(what, args, minutes) {
  say(`${what} …`);
  const report = path.join(mkdtempSync(path.join(os.tmpdir(), 'batucada-report-')), 'report.json');
  const done = spawnSync(
    process.execPath,
    [
      path.join(root, 'node_modules/jest/bin/jest.js'),
      ...args,
      '--forceExit',
      '--json',
      `--outputFile=${report}`,
    ],
    { cwd: root, stdio: ['ignore', 2, 2], timeout: minutes * 60000, killSignal: 'SIGKILL' },
  );
  try {
    const { numPassedTests, numFailedTests, numFailedTestSuites, success, testResults } = JSON.parse(
      readFileSync(report, 'utf8'),
    );
    const took = ({ startTime, endTime }) => Math.round((endTime - startTime) / 1000),
      slowest = [...testResults].sort((a, b) => took(b) - took(a)).slice(0, SLOWEST);
    say(`the slowest: ${slowest.map((r) => `${path.basename(r.name)} ${took(r)} s`).join(', ')}.`);
    const tests = testResults.flatMap((r) => r.assertionResults).filter((t) => t.duration > LONG_MS);
    for (const t of tests.sort((a, b) => b.duration - a.duration).slice(0, SLOWEST))
      say(`  ${Math.round(t.duration / 1000)} s: ${t.fullName}`);
    passed += numPassedTests;
    failed += numFailedTests;
    // A file that could not even be loaded has no failed test, and is a failure all the same.
    if (!success && numFailedTests === 0) failed += Math.max(1, numFailedTestSuites);
  } catch {
    say(`Jest ended without a report (exit ${done.status ?? done.signal}).`);
    failed++;
  }
}

await check([
  ['format', bin('prettier'), ['--check', '--log-level=warn', '.']],
  ['types', bin('tsc'), ['--noEmit']],
  ['lint', bin('eslint'), ['.', '--max-warnings=0']],
  ['nothing dead', bin('knip'), ['--no-progress']],
]);
// Unit tests two at a time. Of the real interface one file after the other: each takes both cores for its sound and its picture.
jest('unit tests', ['--selectProjects', 'unit', '--maxWorkers=2'], 20);
jest('the real interface', ['--selectProjects', 'e2e', '--runInBand'], 80);
say(`${Math.round((performance.now() - began) / 60000)} minutes.`);
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
