// One command from a fresh clone to the running Night Ferry.
import { spawn } from 'node:child_process';
import { ensurePackages, ensureDemoData, ensureBuild, root, say } from './ensure.mjs';

ensurePackages();
ensureDemoData();
ensureBuild();
say('starting …');
const child = spawn(process.execPath, ['--import', 'tsx', 'src/bridge/main.ts'], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, NODE_ENV: 'production', NEXT_TELEMETRY_DISABLED: '1', BATUCADA_DEMO: '1' },
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
child.on('exit', (code, signal) => process.exit(signal ? 0 : (code ?? 1)));
