import { ensurePackages, ensureDemoData, ensureBuild } from './ensure.mjs';
ensurePackages();
ensureDemoData();
ensureBuild();
