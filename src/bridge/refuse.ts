import type { Duplex } from 'node:stream';

/** Says no to an upgrade and closes, whatever the other end does: a socket that only one side ends stays open for ever. */
export function refuseUpgrade(socket: Duplex, status: string): void {
  socket.end(`HTTP/1.1 ${status}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`, () => socket.destroy());
}
