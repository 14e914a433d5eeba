// A thread does not take over its process's way to read TypeScript: it is given one here.
import { register } from 'tsx/esm/api';

register();
await import('./outletThread.ts');
