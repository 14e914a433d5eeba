// Keeps the server running: one that ended by a fault is started again at once, with what it had kept on disk.
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
/** One that ends again and again within this time is left: something that it is given ends it. */
const AGAIN_MOST = 5,
  AGAIN_WITHIN_MS = 20000;
const server = path.join(root, '.cache/server/main.mjs');
if (!existsSync(server)) {
  process.stderr.write('batucada: it is not built yet. Run: npm run build\n');
  process.exit(1);
}
let child = null,
  stopping = false,
  ends = [];

function start() {
  let ready = false;
  child = spawn(process.execPath, ['--enable-source-maps', server], {
    cwd: root,
    stdio: ['inherit', 'inherit', 'inherit', 'ipc'],
    env: { ...process.env, NODE_ENV: 'production', NEXT_TELEMETRY_DISABLED: '1' },
  });
  child.on('message', () => {
    ready = true;
  });
  child.on('exit', (code, signal) => {
    const now = performance.now();
    ends = [...ends.filter((at) => now - at < AGAIN_WITHIN_MS), now];
    // What could not even start says why, and what it says would be the same again.
    if (stopping || code === 0 || !ready || ends.length > AGAIN_MOST) process.exit(signal ? 1 : (code ?? 1));
    process.stderr.write(
      `batucada: the server ended (${signal ?? `exit ${code}`}) and is started again. Lamps held meanwhile.\n`,
    );
    start();
  });
}
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => {
    stopping = true;
    child?.kill(signal);
  });
start();
