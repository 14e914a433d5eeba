import { afterEach, describe, expect, it } from '@jest/globals';
import type { StreamDeclaration } from '../../core/outlets';
import { encodeOsc, oscBytes } from '../../core/protocols';
import { OscReceiver } from '../simulated/oscReceiver';
import { OscOut } from './oscOut';
import { stream, until } from './testKit';

const open: { close(): unknown }[] = [];
afterEach(async () => {
  for (const x of open.splice(0)) await x.close();
});
const message = (
  id: string,
  target: Extract<StreamDeclaration['to'], { kind: 'osc' }>['target'] = { kind: 'simulated' },
): StreamDeclaration =>
  stream(0, { id, to: { kind: 'osc', target }, size: 64, mode: 'ordered', keepAlive: null });
function packet(address: string, type: 'f' | 'i', value: number): Uint8Array {
  const out = new Uint8Array(oscBytes(address.length));
  encodeOsc(out, new DataView(out.buffer), address, type, value);
  return out;
}

describe('what is said to other programs, over real UDP', () => {
  it('arrives whole, in its order, decoded by the other end’s own code', async () => {
    const receiver = await OscReceiver.open(),
      out = new OscOut(receiver);
    open.push(out, receiver);
    out.declare([message('a'), message('b')], false);
    for (let i = 0; i <= 100; i++) out.send(0, packet('/deck/level', 'f', i / 100));
    out.send(1, packet('/deck/hits', 'i', -7));
    await until(() => receiver.packets === 102);
    expect(receiver.heard.get('/deck/level')).toEqual({ value: 1, count: 101 });
    expect(receiver.heard.get('/deck/hits')).toEqual({ value: -7, count: 1 });
    await until(() => out.state[0]!.sent === 101);
    expect([receiver.bad, out.state.map((s) => s.trouble)]).toEqual([0, [null, null]]);
  });
  it('beyond this computer it waits until the outputs are armed, and says what it does not know', async () => {
    const receiver = await OscReceiver.open(),
      out = new OscOut(receiver);
    open.push(out, receiver);
    const streams = [
      message('far', { kind: 'network', host: '192.0.2.1', port: 8000 }),
      message('name', { kind: 'network', host: 'no-such-node.invalid', port: 8000 }),
      message('here', { kind: 'network', host: '127.0.0.1', port: receiver.port }),
    ];
    out.declare(streams, false);
    for (const place of [0, 1, 2]) out.send(place, packet('/x', 'f', 1));
    await until(() => receiver.packets === 1);
    expect(out.state.map((s) => s.trouble)).toEqual([
      expect.stringContaining('Arm'),
      expect.stringContaining('no-such-node.invalid'),
      null,
    ]);
    expect(out.state[0]!.sent).toBe(0);
    out.declare(streams, true);
    expect(out.state[0]!.trouble).toBeNull();
  });
  it('what is no OSC is not sent, and counted', async () => {
    const receiver = await OscReceiver.open(),
      out = new OscOut(receiver);
    open.push(out, receiver);
    out.declare([message('a')], false);
    out.send(0, new Uint8Array(16).fill(1));
    out.send(7, packet('/x', 'f', 1));
    out.send(0, packet('/x', 'f', 1));
    await until(() => receiver.packets === 1);
    expect([receiver.bad, out.state[0]!.errors]).toEqual([0, 1]);
  });
});
