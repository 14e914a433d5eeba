// One command from a fresh clone to the running Night Ferry.
import { ensurePackages, ensureDemoData, ensureBuild, say } from './ensure.mjs';

ensurePackages();
ensureDemoData();
ensureBuild();
say('starting …');
process.env.BATUCADA_DEMO = '1';
await import('./keep.mjs');
