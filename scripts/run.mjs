// Runs one of the project's TypeScript commands: node scripts/run.mjs scripts/NAME.ts [arguments]
import { spawn } from 'node:child_process';
import { ensurePackages, ensureDemoData, ensureBuild, ensureChromium } from './ensure.mjs';

const [script, ...args] = process.argv.slice(2);
ensurePackages();
if (/(bench|screenshots|jobs|faults)\.ts$/.test(script)) {
  ensureDemoData();
  ensureBuild();
  ensureChromium();
}
const child = spawn(process.execPath, ['--import', 'tsx', script, ...args], { stdio: 'inherit' });
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
child.on('exit', (code, signal) => process.exit(signal ? 1 : (code ?? 1)));
