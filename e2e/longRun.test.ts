import { describe, expect, it } from '@jest/globals';
import { measureHalfHour } from '../scripts/bench/picture';
import { startServer } from './support';

describe('a long night, run fast', () => {
  it('draws on while the graphics device is lost and regained, and holds no more than at its beginning', async () => {
    const server = await startServer();
    try {
      for (const night of await measureHalfHour(server, 3, 3)) {
        // Three pictures a second; some are lost with the device.
        expect(night.pictures).toBeGreaterThan(450);
        expect(night.hits).toBeGreaterThan(100);
        expect([night.lost, night.grownParts, night.troubles]).toEqual([3, 0, []]);
        // Machine code that the browser still makes takes some tenths of a megabyte; one picture's own memory would be more.
        expect(night.grownBytes).toBeLessThan(1_000_000);
      }
    } finally {
      await server.stop();
    }
  }, 480000);
});
