import { spawn } from 'node:child_process';
import { ensurePackages, ensureDemoData, root, run } from './ensure.mjs';
ensurePackages();
ensureDemoData();
run(process.execPath, ['scripts/worklet.mjs']);
run(process.execPath, ['scripts/pages.mjs']);
spawn(process.execPath, ['--import', 'tsx', 'src/bridge/main.ts'], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, NODE_ENV: 'development', NEXT_TELEMETRY_DISABLED: '1' },
}).on('exit', (c) => process.exit(c ?? 0));
