/** npm run receiver [-- PORT]: simulated lamps in a terminal of their own, printing what arrives. */
import { ARTNET_PORT } from '../src/core/protocols/artnet';
import { SimulatedReceiver } from '../src/bridge/simulated/artnetReceiver';

const receiver = await SimulatedReceiver.open(Number(process.argv[2] ?? ARTNET_PORT), '0.0.0.0');
console.log(`Listening for Art-Net on UDP port ${receiver.port}. Stop with Ctrl-C.`);
const bar = (x: number): string => '█'.repeat(Math.round(x / 32)).padEnd(8, '·');
setInterval(() => {
  for (const [universe, { channels, packets }] of receiver.universes) {
    console.log(
      `universe ${universe} · ${packets} packets · ${[...channels.subarray(0, 12)].map((x) => `${bar(x)} ${String(x).padStart(3)}`).join('  ')}`,
    );
  }
}, 500);
