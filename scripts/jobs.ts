/** npm run jobs: what people do, done through the interface from an empty show; how many actions each takes, and what then moves. */
import { microphoneFile, playFerry, startServer, visit } from '../e2e/support';
import { filmFile, jobs, walkJob } from '../e2e/walks';

const server = await startServer();
const microphone = microphoneFile([
  [300, 0.5, 0.5],
  [0, 0.9, 0],
]);
const v = await visit(server.url, { autoplay: true, microphone });
const only = process.argv[2];
let failed = 0;
try {
  await playFerry(v.page);
  const reel = await filmFile(v.page);
  console.log(`${'job'.padEnd(44)} ${'actions'.padStart(9)}   least … greatest of what moves`);
  for (const job of jobs(reel)) {
    if (only && !job.name.includes(only)) continue;
    try {
      const { actions, measured, right } = await walkJob(v.page, job);
      const moved = measured.map(([a, b]) => `${+a.toFixed(2)} … ${+b.toFixed(2)}`).join(', ');
      console.log(
        `${job.name.padEnd(44)} ${`${actions} ≤ ${job.most}`.padStart(9)}   ${moved}${right ? '' : '   WRONG'}`,
      );
      if (!right) failed++;
    } catch (e) {
      failed++;
      console.log(`${job.name.padEnd(44)}   ${e instanceof Error ? e.message : String(e)}`);
      await v.page.screenshot({ path: '/tmp/shots/job.png' });
      await v.page.keyboard.press('Escape');
    }
  }
} finally {
  await v.close();
  await server.stop();
}
process.exit(failed ? 1 : 0);
