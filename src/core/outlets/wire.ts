/** Protocols that carry universes. */
export const LAMP_PROTOCOLS = ['artnet', 'sacn'] as const;
export type LampProtocol = (typeof LAMP_PROTOCOLS)[number];
export const PROTOCOL_WORDS: Readonly<Record<LampProtocol, string>> = { artnet: 'Art-Net', sacn: 'sACN' };
/** UDP port that each protocol's receivers listen on. */
export const PROTOCOL_PORT: Readonly<Record<LampProtocol, number>> = { artnet: 6454, sacn: 5568 };

/** Where a wire's packets go. */
export type WireTarget =
  /** Receivers that ship with us, on loopback. */
  | { readonly kind: 'simulated' }
  | { readonly kind: 'network'; readonly host: string; readonly port: number }
  /** Art-Net: each node that answered the poll gets the universes that it takes. `host` is asked, a broadcast address as a rule. */
  | { readonly kind: 'nodes'; readonly host: string; readonly port: number }
  /** sACN: each universe's own group address, from the interface with this address; null: the system's choice. */
  | { readonly kind: 'multicast'; readonly from: string | null };

/** Which universes, counted from 0, a wire carries. */
export function carries(
  universes: { readonly from: number; readonly to: number } | null,
  universe: number,
): boolean {
  return universes === null || (universe >= universes.from && universe <= universes.to);
}
