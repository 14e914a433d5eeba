import { promises as dns } from 'node:dns';
import { isIP } from 'node:net';

/** A name is looked up again after this long: it may stand for another machine by then. */
const NAME_AGAIN_MS = 30000;

export function isLoopback(host: string): boolean {
  return host === 'localhost' || host === '::1' || /^127\.\d+\.\d+\.\d+$/.test(host);
}

/** What names of machines stand for, as far as is known by now; they are looked up beside. */
export class HostNames {
  readonly #names = new Map<string, { address: string | null; at: number }>();
  readonly #found: () => void;
  /** @param found - a name was found since it was asked for */
  constructor(found: () => void) {
    this.#found = found;
  }

  /** @returns where it is, as a number, or why that is not known */
  find(host: string, now: number): { readonly address: string | null; readonly trouble: string | null } {
    const version = isIP(host === 'localhost' ? '127.0.0.1' : host);
    if (version === 6) return { address: null, trouble: 'Packets go over IPv4. Give an IPv4 address.' };
    const address = host === 'localhost' ? '127.0.0.1' : version === 4 ? host : this.#nameOf(host, now);
    return {
      address,
      trouble:
        address === null
          ? `“${host}” is not known on this network. Give its address in numbers, such as 10.0.0.5.`
          : null,
    };
  }
  #nameOf(host: string, now: number): string | null {
    const known = this.#names.get(host);
    if (!known || now - known.at > NAME_AGAIN_MS) {
      this.#names.set(host, { address: known?.address ?? null, at: now });
      void dns.lookup(host, 4).then(
        ({ address }) => {
          this.#names.set(host, { address, at: performance.now() });
          this.#found();
        },
        () => undefined,
      );
    }
    return known?.address ?? null;
  }
}
