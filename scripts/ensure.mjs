// Makes sure that a fresh machine has what the commands need. Plain Node on purpose: nothing is installed yet when it runs.
import { createHash } from 'node:crypto';
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const cache = path.join(root, '.cache');
// Words go to standard error, so that commands whose output is read by programs stay clean.
export const say = (text) => process.stderr.write(`batucada: ${text}\n`);

const [major] = process.versions.node.split('.').map(Number);
if (major < 20) {
  say(`Node 20 or newer is needed; this is ${process.version}. Install Node 20 and run the command again.`);
  process.exit(1);
}

export function run(command, args, options = {}) {
  const done = spawnSync(command, args, {
    cwd: root,
    stdio: ['ignore', 2, 2],
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
    ...options,
  });
  if (done.status !== 0) {
    say(`"${command} ${args.join(' ')}" did not work (exit ${done.status ?? done.signal}).`);
    process.exit(done.status || 1);
  }
}

function stamp(name, value) {
  mkdirSync(cache, { recursive: true });
  writeFileSync(path.join(cache, name), value);
}
function stamped(name) {
  try {
    return readFileSync(path.join(cache, name), 'utf8');
  } catch {
    return '';
  }
}
export function digest(files) {
  const hash = createHash('sha256');
  for (const file of files) hash.update(path.relative(root, file)).update(readFileSync(file));
  return hash.digest('hex');
}
export function filesIn(...folders) {
  const out = [];
  const walk = (at) => {
    if (!existsSync(at)) return;
    if (statSync(at).isFile()) {
      out.push(at);
      return;
    }
    for (const name of readdirSync(at).sort())
      if (!['node_modules', '.next'].includes(name)) walk(path.join(at, name));
  };
  for (const folder of folders) walk(path.join(root, folder));
  return out;
}

/** Installs the packages when the lock file changed since the last time. */
export function ensurePackages() {
  const want = digest([path.join(root, 'package-lock.json')]);
  if (stamped('packages') === want && existsSync(path.join(root, 'node_modules', 'next'))) return;
  say('installing packages (once; about a minute) …');
  // Not `npm ci`: it stops where a registry lacks builds of optional packages for other systems, though none is wanted here.
  run('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error']);
  stamp('packages', want);
}

const runTs = (script, args = []) =>
  run(process.execPath, ['--import', 'tsx', path.join(root, script), ...args]);

/** Makes the Night Ferry sounds and pictures when what makes them changed. */
export function ensureDemoData() {
  const want = digest([
    ...filesIn('src/core/ferry', 'src/core/audio').filter((f) => !f.endsWith('.test.ts')),
    path.join(root, 'scripts/makeDemo.ts'),
  ]);
  if (stamped('demo') === want && existsSync(path.join(root, 'public/demo/manifest.json'))) return;
  say('making the demo sounds (a few seconds) …');
  runTs('scripts/makeDemo.ts');
  stamp('demo', want);
}

/** Bundles the audio worklet, then builds the application, when the sources changed. */
export function ensureBuild() {
  const want = digest([
    ...filesIn(
      'src',
      'scripts/worklet.mjs',
      'scripts/server.mjs',
      'scripts/pages.mjs',
      'next.config.ts',
      'package-lock.json',
    ).filter((f) => !f.endsWith('.test.ts')),
  ]);
  const built = ['.next/BUILD_ID', '.cache/server/main.mjs', '.cache/pages/page.html'].every((f) =>
    existsSync(path.join(root, f)),
  );
  if (stamped('build') === want && built) return;
  say('building the application (about a minute) …');
  run(process.execPath, ['scripts/worklet.mjs']);
  run(process.execPath, ['scripts/server.mjs']);
  run(process.execPath, ['scripts/pages.mjs']);
  run(process.execPath, [path.join(root, 'node_modules/next/dist/bin/next'), 'build']);
  stamp('build', want);
}

export const chromiumPath = () =>
  [process.env.CHROMIUM, '/usr/bin/chromium', '/usr/bin/chromium-browser'].find((p) => p && existsSync(p));

/** Whether Debian's packages can be installed here: by root, or by sudo without a password. */
const asRoot = () => {
  if (process.getuid?.() === 0) return 'root';
  return spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status === 0 ? 'sudo' : null;
};
function install(packages) {
  const apt = (args) =>
    run(asRoot() === 'root' ? 'apt-get' : 'sudo', asRoot() === 'root' ? args : ['apt-get', ...args], {
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    });
  apt(['update', '-qq']);
  apt(['install', '-y', '-qq', '--no-install-recommends', ...packages]);
}
const CHROMIUM = ['chromium', 'libgl1-mesa-dri', 'fonts-dejavu-core'],
  /** A second browser, on a display of its own, and a broker. */
  OTHERS = ['firefox-esr', 'xvfb', 'xauth', 'libegl1', 'mosquitto'];
const hasOthers = () =>
  ['/usr/bin/firefox-esr', '/usr/bin/Xvfb', '/usr/sbin/mosquitto'].every((f) => existsSync(f));

/** Installs Debian's Chromium, which the real-interface tests drive. Needs root, or sudo without a password. */
export function ensureChromium() {
  if (chromiumPath()) return;
  if (!asRoot()) {
    say(
      'Chromium is missing, and installing it needs root. Run this once, then again what you ran:\n    sudo apt-get update && sudo apt-get install -y chromium libgl1-mesa-dri',
    );
    process.exit(1);
  }
  say('installing Chromium from the Debian packages (once; a minute or two) …');
  install(CHROMIUM);
}
/** What only some tests need: without it they say that they are left out. */
export function ensureOthers() {
  if (hasOthers()) return;
  if (!asRoot()) {
    say(
      `Some tests are left out without these; with root they are tried as well:\n    sudo apt-get install -y ${OTHERS.join(' ')}`,
    );
    return;
  }
  say('installing a second browser and a broker from the Debian packages (once; a minute) …');
  install(OTHERS);
}

export function gitCommit() {
  try {
    return execFileSync('git', ['rev-parse', '--short', 'HEAD'], {
      cwd: root,
      stdio: ['ignore', 'pipe', 'ignore'],
    })
      .toString()
      .trim();
  } catch {
    return 'unknown';
  }
}
