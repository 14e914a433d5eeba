import { afterEach, beforeEach, describe, expect, it } from '@jest/globals';
import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import path from 'node:path';
import { Outlets } from './outlets';
import { stream, universe, until, wire } from './testKit';

/** Another machine: a network namespace at the other end of a cable. Only root may make one. */
const NAME = `bat${process.pid % 10000}`,
  HERE = '10.213.77.1',
  THERE = '10.213.77.2',
  PORT = 6999;
const ip = (...args: string[]): void => {
  execFileSync('ip', args, { stdio: 'ignore' });
};
let able = true;
try {
  ip('netns', 'add', NAME);
  ip('link', 'add', `${NAME}a`, 'type', 'veth', 'peer', 'name', `${NAME}b`);
  ip('link', 'set', `${NAME}b`, 'netns', NAME);
  ip('addr', 'add', `${HERE}/24`, 'dev', `${NAME}a`);
  ip('link', 'set', `${NAME}a`, 'up');
  ip('netns', 'exec', NAME, 'ip', 'addr', 'add', `${THERE}/24`, 'dev', `${NAME}b`);
  ip('netns', 'exec', NAME, 'ip', 'link', 'set', `${NAME}b`, 'up');
} catch {
  able = false;
  console.warn(
    'Network namespaces cannot be made here (root and the iproute2 package are needed): not tested.',
  );
}

/** Says each packet's first channel, one to a line. */
const RECEIVER = `const s=require('dgram').createSocket('udp4');s.on('message',m=>{if(m.readUInt16LE(8)===0x5000)console.log(m[18])});s.bind(${PORT},'${THERE}',()=>console.log('ready'));`;
let far: ChildProcess | null = null,
  said: { level: number; at: number }[] = [],
  outlets: Outlets;
beforeEach(async () => {
  outlets = new Outlets(
    { artnet: { host: '127.0.0.1', port: 1 }, sacn: { host: '127.0.0.1', port: 1 } },
    path.join(__dirname, 'outletThread.mjs'),
  );
  if (!able) return;
  let ready = false;
  said = [];
  far = spawn('ip', ['netns', 'exec', NAME, process.execPath, '-e', RECEIVER]);
  far.stdout!.on('data', (d: Buffer) => {
    for (const line of d.toString().trim().split('\n'))
      if (line === 'ready') ready = true;
      else said.push({ level: Number(line), at: performance.now() });
  });
  await until(() => ready);
});
afterEach(async () => {
  far?.kill();
  await outlets.close();
  if (able)
    try {
      ip('netns', 'del', NAME);
      ip('link', 'del', `${NAME}a`);
    } catch {
      // The cable goes with the machine at its other end.
    }
});

(able ? describe : describe.skip)('lamps on another machine', () => {
  it('hear nothing until armed; when the cable was out they are lit again with what is on now, and nothing throws', async () => {
    const declare = (armed: boolean): void =>
      outlets.declare([wire({ target: { kind: 'network', host: THERE, port: PORT } })], [stream(0)], armed);
    declare(false);
    outlets.write(0, universe(200));
    outlets.beat();
    await until(() => (outlets.state.wires[0]?.trouble ?? '').includes('Arm the outputs'));
    expect(said).toEqual([]);
    declare(true);
    const alive = setInterval(() => outlets.beat(), 50);
    try {
      outlets.write(0, universe(200));
      await until(() => said.at(-1)?.level === 200);
      ip('link', 'set', `${NAME}a`, 'down');
      await new Promise((r) => setTimeout(r, 300));
      const before = said.length;
      outlets.write(0, universe(90));
      await new Promise((r) => setTimeout(r, 700));
      expect(said.length).toBe(before);
      ip('link', 'set', `${NAME}a`, 'up');
      const up = performance.now();
      await until(() => said.length > before);
      // What is on now, at once, and nothing of before.
      expect(said[before]!.level).toBe(90);
      expect(said[before]!.at - up).toBeLessThan(5000);
      expect(outlets.restarts).toBe(0);
    } finally {
      clearInterval(alive);
    }
  });
});
