/** The server, as `npm start` keeps it running. PORT, BATUCADA_LISTEN, BATUCADA_DATA, BATUCADA_ARTNET_PORT, BATUCADA_SACN_PORT, BATUCADA_IDN_PORT and BATUCADA_MQTT_PORT set it up. */
import os from 'node:os';
import path from 'node:path';
import { ARTNET_PORT, IDN_PORT, SACN_PORT } from '../core/protocols';
import { isLocalPeer } from './hosts';
import { NextFront } from './nextFront';
import { OSC_PORT } from './oscListener';
import { MQTT_PORT } from './pages/ownBroker';
import { CANONICAL_HOST, startServer } from './server';

async function main(): Promise<void> {
  // Packets before whatever else the machine does. Only root may ask for that; anyone else goes on without.
  try {
    os.setPriority(os.constants.priority.PRIORITY_ABOVE_NORMAL);
  } catch {
    /* then they share */
  }
  const port = whole('PORT', 4800);
  const front = new NextFront(port);
  const listen = process.env.BATUCADA_LISTEN ?? CANONICAL_HOST;
  // First the port: where that is taken, nothing else is started.
  const server = await startServer({
    port,
    listen,
    artnetPort: whole('BATUCADA_ARTNET_PORT', ARTNET_PORT),
    sacnPort: whole('BATUCADA_SACN_PORT', SACN_PORT),
    idnPort: whole('BATUCADA_IDN_PORT', IDN_PORT),
    oscPort: whole('BATUCADA_OSC_PORT', OSC_PORT),
    mqttPort: whole('BATUCADA_MQTT_PORT', MQTT_PORT),
    folder: process.env.BATUCADA_DATA ?? path.join(process.cwd(), '.data'),
    pages: front,
  });
  // Whoever keeps it running knows that it can.
  process.send?.('ready');
  await front.start();
  let leaving = false;
  const leave = async (): Promise<void> => {
    if (leaving) return;
    leaving = true;
    front.close();
    await server.close();
    process.exit(0);
  };
  process.on('SIGINT', () => void leave());
  process.on('SIGTERM', () => void leave());
  console.log(`Batucada is ready: http://${CANONICAL_HOST}:${server.port}`);
  console.log(
    `The simulated lamps listen for Art-Net at ${place(server.bridge.receivers.artnet)} and for sACN at ${place(server.bridge.receivers.sacn)}, the simulated projector at ${place(server.bridge.projector)}. OSC is heard at ${server.bridge.osc.host}:${server.bridge.osc.port}. Stop with Ctrl-C.`,
  );
  if (!isLocalPeer(listen))
    console.log(
      `Driving from another machine needs this key in its address: drive=${server.folder.driveKey}`,
    );
}

const place = ({ host, port }: { readonly host: string; readonly port: number }): string => `${host}:${port}`;

function whole(name: string, otherwise: number): number {
  const text = process.env[name];
  if (text === undefined || text === '') return otherwise;
  const n = Number(text);
  if (!Number.isInteger(n) || n < 0 || n > 65535)
    throw new Error(`${name} must be a whole number from 0 to 65535; it is "${text}".`);
  return n;
}

main().catch((e: NodeJS.ErrnoException) => {
  console.error(
    e.code === 'EADDRINUSE'
      ? `batucada: port ${process.env.PORT ?? 4800} is taken by another program. Choose another: PORT=4801 npm run demo`
      : `batucada: ${e.message}`,
  );
  process.exit(1);
});
