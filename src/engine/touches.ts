import type { Touch } from '../core/makers/making';
import type { Maker } from '../core/show/types';
import { listMidi, openMidi, SIMULATED_MIDI } from './midi';

interface Hand {
  readonly maker: string;
  readonly touch: Touch;
}

/** Carries what is moved on controllers, and what comes over the network, to the hand controls of a show. Main thread. */
export class Touches {
  #hands: readonly Hand[] = [];
  #open = new Map<string, () => void>();
  #wanted = '';
  #closed = false;

  /** @param touch - told of each movement, 0 to 1 @param trouble - told in words when a device cannot be opened */
  constructor(
    readonly touch: (maker: string, value: number) => void,
    readonly trouble: (what: string) => void,
  ) {}

  follow(makers: readonly Maker[]): void {
    this.#hands = makers.flatMap(({ id, making }) =>
      (making.kind === 'slider' || making.kind === 'button') && making.touch
        ? [{ maker: id, touch: making.touch }]
        : [],
    );
    const midi = this.#hands.flatMap(({ touch }) => (touch.by === 'midi' ? [touch.device] : []));
    const wanted = [
      ...(midi.includes(SIMULATED_MIDI.id) ? ['simulated'] : []),
      ...(midi.some((d) => d !== SIMULATED_MIDI.id) ? ['real'] : []),
    ].join();
    if (wanted === this.#wanted) return;
    this.#wanted = wanted;
    void this.#reopen(wanted);
  }

  async #reopen(wanted: string): Promise<void> {
    for (const close of this.#open.values()) close();
    this.#open.clear();
    const devices = (await listMidi()).filter((d) =>
      d.id === SIMULATED_MIDI.id ? wanted.includes('simulated') : wanted.includes('real'),
    );
    for (const { id } of devices) {
      try {
        const close = await openMidi(id, {
          note: (channel, key, velocity) => this.#midi(id, 'note', channel, key, velocity / 127),
          control: (message, channel, number, value) => this.#midi(id, message, channel, number, value),
          clock: () => undefined,
          gone: () => {
            this.#open.delete(id);
            this.trouble(
              'A MIDI controller is gone. What it moved stays where it is; plug it in again and load the page.',
            );
          },
        });
        if (this.#closed || this.#wanted !== wanted) {
          close();
          return;
        }
        this.#open.set(id, close);
      } catch (e) {
        this.trouble(e instanceof Error ? e.message : 'A MIDI controller could not be opened.');
      }
    }
  }

  #midi(
    device: string,
    message: Extract<Touch, { by: 'midi' }>['message'],
    channel: number,
    number: number,
    value: number,
  ): void {
    for (const { maker, touch } of this.#hands) {
      if (
        touch.by !== 'midi' ||
        touch.message !== message ||
        touch.channel !== channel + 1 ||
        ((message === 'controller' || message === 'note') && touch.number !== number)
      )
        continue;
      // A keyboard of its own never plays what was learned from the simulated one, and the other way about.
      if ((touch.device === SIMULATED_MIDI.id) !== (device === SIMULATED_MIDI.id)) continue;
      // A pressed key is pressed, however softly; its strength goes along.
      this.touch(maker, message === 'note' && value > 0 ? 0.5 + value / 2 : value);
    }
  }

  /** A message over the network: an address and its first number. */
  osc(address: string, value: number): void {
    for (const { maker, touch } of this.#hands)
      if (touch.by === 'osc' && touch.address === address)
        this.touch(maker, Math.min(1, Math.max(0, (value - touch.low) / (touch.high - touch.low))));
  }

  close(): void {
    this.#closed = true;
    for (const close of this.#open.values()) close();
  }
}
