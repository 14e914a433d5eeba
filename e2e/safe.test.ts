import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import {
  machineSleeps,
  Node,
  nodeGoes,
  openFaultShow,
  pageCrashes,
  pageHangs,
  serverDies,
} from './lampFaults';
import { ownProjector, pageCrashed, pointsStop, serverKilled, serverSleeps } from './laserFaults';
import { openBeams, openLaser } from './laserStage';
import type { Projector } from '../src/bridge/simulated/projector';
import { playFerry, startServer, visit, type Server, type Visit } from './support';

// By real means: processes that are killed and stopped, sockets that are closed. Times are bounded by what a shared machine may take;
// the bench tells what they are.
describe('lamps, when something fails', () => {
  let server: Server, at: Visit;
  const node = new Node();
  beforeAll(async () => {
    server = await startServer();
    await node.open();
    at = await visit(server.url);
    await playFerry(at.page);
    await openFaultShow(at.page, node);
  });
  afterAll(async () => {
    await at?.close();
    await server?.stop();
    node.close();
  });
  it('come back with what was on when the server is killed outright', async () => {
    const { wrong, backMs } = await serverDies(server, node);
    expect(wrong).toBe(0);
    expect(backMs).toBeLessThan(10000);
  });
  it('are lit again by the first packet when their node was gone and is back', async () => {
    const { wrong, backMs } = await nodeGoes(node);
    expect(wrong).toBe(0);
    expect(backMs).toBeLessThan(5000);
  });
  it('go on where they were when the machine was asleep', async () => {
    const { wrong } = await machineSleeps(server, at.browser, node);
    expect(wrong).toBe(0);
  });
  it('do not flash unattended when the page stands still, fade as their wire says, and are back with it', async () => {
    const { safeMs } = await pageHangs(at.page, node);
    expect(safeMs).toBeLessThan(5000);
  });
  it('fade out and never rise by themselves when the page crashes, and are back with the next page', async () => {
    const { wrong, safeMs } = await pageCrashes(at.browser, at.page, server.url, node);
    expect(wrong).toBe(0);
    expect(safeMs).toBeGreaterThan(600);
    expect(safeMs).toBeLessThan(8000);
  });
});

describe('a laser, when something fails', () => {
  let own: Server, v: Visit, projector: Projector;
  beforeAll(async () => {
    own = await startServer();
    v = await visit(own.url);
    await playFerry(v.page);
    projector = await ownProjector(own);
    await openLaser(v.page);
    await openBeams(v.page);
  });
  afterAll(async () => {
    await v?.close();
    await own?.stop();
    await projector?.close();
  });
  it.each([
    ['its points are made no more', () => pointsStop(v.page, projector)],
    ['the server stands still and goes on', () => serverSleeps(v.page, own, projector)],
    ['the server is killed', () => serverKilled(v.page, own, projector)],
    ['the page crashes', () => pageCrashed(v.browser, v.page, own.url, projector)],
  ] as const)('is dark at once when %s, and not lit again by itself', async (_, fault) => {
    const { darkMs, litLater } = await fault();
    // 58 ms by construction; the bench tells what they are.
    expect(darkMs).toBeLessThan(150);
    expect(litLater).toBe(0);
  });
});
