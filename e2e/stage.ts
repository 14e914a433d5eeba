import { afterAll, beforeAll, expect } from '@jest/globals';
import { playFerry, startServer, visit, type Server, type Visit, type VisitOptions } from './support';

/**
 * The running ferry for a whole file of tests. At its end no error may stand on the console, and no request have left the machine.
 * @param begin - takes it, and goes where the tests begin @param harmless - errors on the console that belong to what is tested @param options - how the browser is started
 */
export function withFerry(
  begin: (server: Server, v: Visit) => unknown,
  harmless?: RegExp,
  options: VisitOptions = {},
): void {
  let server: Server, v: Visit;
  beforeAll(async () => {
    server = await startServer();
    v = await visit(server.url, { autoplay: true, ...options });
    await playFerry(v.page);
    await begin(server, v);
  });
  afterAll(async () => {
    const { noise, strangers } = v;
    await v.close();
    await server.stop();
    expect(strangers).toEqual([]);
    expect(noise.filter((n) => !harmless?.test(n))).toEqual([]);
  });
}
