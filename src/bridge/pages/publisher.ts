import {
  type BrokerSetting,
  FRAME_HEAD,
  type HouseState,
  MEDIA_TRAVELS_BYTES,
  packMedia,
  PAGE_HEAD,
  PAGE_PROTOCOL,
  type PageDocument,
  type RelaysReport,
  SIGNALS_PAGE,
  SIGNALS_PER_SECOND,
} from '../../core/protocols';
import type { BridgeFolder } from '../folder';
import { BrokerLink } from './brokerLink';
import { MQTT_PORT, OwnBroker } from './ownBroker';

/**
 * All that leaves by brokers: the one that ships with us, for programs on this machine, and one elsewhere, for relays. What is
 * published is published to both. Nothing of it is in a packet's way, and a broker that is away is only its own trouble.
 */
export class Publisher {
  readonly #folder: BridgeFolder;
  readonly #told: () => void;
  #own: OwnBroker | null = null;
  #ownLink: BrokerLink | null = null;
  #outside: BrokerLink | null = null;
  #all: readonly string[] = [];
  #live = false;
  /** Files that were read to be published, by their hash. */
  readonly #media = new Map<string, Uint8Array>();
  readonly #lastValues = new Map<string, Buffer>();
  readonly #signals = new Map<string, string>();
  #signalsAt = -Infinity;

  /** @param told - a relay, or a broker, is another than it was */
  constructor(folder: BridgeFolder, told: () => void) {
    this.#folder = folder;
    this.#told = told;
  }
  /** Opens the broker that ships with us, and what is set. @param port - 0 for a free one */
  async open(port = MQTT_PORT): Promise<void> {
    this.#own = await OwnBroker.open(port, this.#folder.brokerKey, this.#folder.publishKey).catch(
      (e: Error) => {
        console.error(
          `batucada: the broker for other programs could not be opened (${e.message}). All else goes on.`,
        );
        return null;
      },
    );
    if (this.#own)
      this.#ownLink = this.#link(`mqtt://127.0.0.1:${this.#own.port}`, this.#folder.publishKey, 4);
    this.#connect();
  }
  #link(address: string, password: string | null, version: 4 | 5): BrokerLink {
    return new BrokerLink(
      address,
      this.#folder.house,
      password,
      version,
      (link) => void this.#again(link),
      this.#told,
    );
  }
  #connect(): void {
    const { address } = this.#folder.broker;
    void this.#outside?.close();
    this.#outside = address === null ? null : this.#link(address, null, 5);
  }
  set(setting: BrokerSetting): void {
    const before = this.#folder.broker,
      // Told back without its password, it is the same.
      address = setting.address === this.#outside?.report.address ? before.address : setting.address;
    this.#folder.setBroker({ ...setting, address });
    if (address !== before.address) this.#connect();
    this.#told();
  }

  get #links(): readonly BrokerLink[] {
    return [this.#ownLink, this.#outside].filter((l) => l !== null);
  }
  /** Those to whom numbers are worth sending: nobody may listen at our own. */
  get #heard(): readonly BrokerLink[] {
    return this.#own && this.#own.readers > 0 ? this.#links : this.#outside ? [this.#outside] : NOBODY;
  }
  get #state(): HouseState {
    return {
      protocol: PAGE_PROTOCOL,
      live: this.#live,
      all: this.#all,
      key: this.#folder.relayKey,
    };
  }
  /** Everything that is retained, to a broker that has just been reached. */
  async #again(link: BrokerLink): Promise<void> {
    link.state(this.#state);
    for (const id of this.#all) {
      const document = this.#folder.page(id);
      if (document) link.document(id, document);
      const values = this.#lastValues.get(id);
      if (values) link.values(id, values);
    }
    for (const id of this.#all)
      for (const hash of this.#folder.page(id)?.media ?? []) {
        const packed = await this.#packed(hash);
        if (packed) link.media(hash, packed);
      }
  }
  async #packed(hash: string): Promise<Uint8Array | null> {
    const known = this.#media.get(hash);
    if (known) return known;
    const file = await this.#folder.read(hash, MEDIA_TRAVELS_BYTES);
    if (!file) return null;
    const packed = packMedia(file.type, file.bytes);
    this.#media.set(hash, packed);
    return packed;
  }

  live(live: boolean): void {
    this.#live = live;
    for (const link of this.#links) link.state(this.#state);
  }
  /** @param changed - ids of pages that are others now, or gone */
  pages(all: readonly string[], changed: readonly string[]): void {
    this.#all = all.filter((id) => id !== SIGNALS_PAGE);
    const named = new Set(this.#all.flatMap((id) => this.#folder.page(id)?.media ?? []));
    for (const hash of this.#media.keys()) if (!named.has(hash)) this.#media.delete(hash);
    for (const link of this.#links) link.state(this.#state);
    for (const id of changed) {
      this.#lastValues.delete(id);
      const document = this.#folder.page(id);
      for (const link of this.#links) link.document(id, document);
      void this.#publishMedia(document);
    }
  }
  async #publishMedia(document: PageDocument | null): Promise<void> {
    for (const hash of document?.media ?? []) {
      const packed = await this.#packed(hash);
      if (packed) for (const link of this.#links) link.media(hash, packed);
    }
  }
  /** A file has come that a page is made of. */
  came(hash: string): void {
    const named = this.#all.some((id) => this.#folder.page(id)?.media.includes(hash));
    if (named)
      void this.#packed(hash).then((packed) => {
        if (packed) for (const link of this.#links) link.media(hash, packed);
      });
  }
  values(id: string, frame: Buffer): void {
    if (id === SIGNALS_PAGE) {
      this.#tellSignals(frame);
      return;
    }
    this.#lastValues.set(id, frame);
    for (const link of this.#heard) link.values(id, frame);
  }
  events(id: string, frame: Buffer): void {
    for (const link of this.#heard) link.events(id, frame);
  }
  lamps(universe: number, channels: Buffer): void {
    if (this.#folder.broker.lamps) for (const link of this.#heard) link.lamps(universe, channels);
  }
  /** Signals that changed since they were told, as text. */
  #tellSignals(frame: Buffer): void {
    const now = performance.now(),
      document = this.#folder.page(SIGNALS_PAGE);
    if (!document || now - this.#signalsAt < 1000 / SIGNALS_PER_SECOND) return;
    this.#signalsAt = now;
    const names = (document.show.names ?? {}) as Readonly<Record<string, string>>;
    for (const [id, at] of Object.entries(document.map.parameters)) {
      const text = String(Number(frame.readFloatLE(FRAME_HEAD + PAGE_HEAD + 4 * at).toPrecision(5)));
      if (this.#signals.get(id) === text) continue;
      this.#signals.set(id, text);
      for (const link of this.#heard) link.signal(names[id] ?? id, text);
    }
  }

  /** @param own - it is for this machine's own window, which may know the keys */
  report(own: boolean): RelaysReport {
    const seen = new Map(this.#links.flatMap((l) => [...l.relays]));
    return {
      setting: { ...this.#folder.broker, address: this.#outside?.report.address ?? null },
      house: this.#folder.house,
      key: own ? this.#folder.relayKey : '',
      own: this.#ownLink && { ...this.#ownLink.report, key: own ? this.#folder.brokerKey : '' },
      outside: this.#outside?.report ?? null,
      relays: [...seen.values()].map((r) => ({
        ...r,
        count: Object.values(r.pages).reduce((sum, n) => sum + n, 0),
      })),
    };
  }

  async close(): Promise<void> {
    this.live(false);
    for (const link of this.#links) await link.close();
    await this.#own?.close();
  }
}
const NOBODY: readonly BrokerLink[] = [];
