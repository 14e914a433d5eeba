import { expect, it } from '@jest/globals';
import { createServer } from 'node:http';
import { tellStarting } from './starting';

it('who asks before the pages are there is told in words to come again', async () => {
  const server = createServer(tellStarting);
  const port = await new Promise<number>((done) =>
    server.listen(0, '127.0.0.1', () => done((server.address() as { port: number }).port)),
  );
  const answer = await fetch(`http://127.0.0.1:${port}/`);
  expect([answer.status, answer.headers.get('retry-after')]).toEqual([503, '1']);
  expect(await answer.text()).toContain('Load again in a moment');
  server.close();
});
