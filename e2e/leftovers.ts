import { readFileSync } from 'node:fs';

/** The processes that a process started, and theirs. */
function below(pid: number): number[] {
  try {
    const list = readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').trim().split(' ').filter(Boolean);
    return list.flatMap((p) => [Number(p), ...below(Number(p))]);
  } catch {
    return [];
  }
}
/** Ends every server and browser that a file of tests left running, also one that stands still: the next file has the machine to itself. */
export function endLeftovers(): void {
  for (const pid of below(process.pid))
    try {
      process.kill(pid, 'SIGKILL');
    } catch {
      // It is gone already.
    }
}
export default endLeftovers;
