// A relay on this machine: it needs the packages and the pages, and nothing of the show.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { ensureBuild, ensurePackages, root } from './ensure.mjs';

ensurePackages();
ensureBuild();
const child = spawn(
  process.execPath,
  [path.join(root, '.cache/server/relay.mjs'), ...process.argv.slice(2)],
  {
    cwd: root,
    stdio: 'inherit',
  },
);
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
child.on('exit', (code) => process.exit(code ?? 0));
