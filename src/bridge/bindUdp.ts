import { createSocket, type Socket } from 'node:dgram';
import { isIPv6 } from 'node:net';

/** A UDP socket that listens at `port`, or at a free one when that is taken or 0. */
export async function bindUdp(port: number, host: string): Promise<Socket> {
  const bind = (at: number): Promise<Socket> =>
    new Promise((resolve, reject) => {
      const socket = createSocket(isIPv6(host) ? 'udp6' : 'udp4');
      socket.once('error', reject);
      socket.bind({ port: at, address: host, exclusive: true }, () => {
        socket.removeAllListeners('error');
        resolve(socket);
      });
    });
  return bind(port).catch(() => bind(0));
}
