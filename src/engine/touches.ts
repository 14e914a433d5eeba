import { actsOfMidi, touchMap, type Act, type MidiTouch, type Moved, type TouchMap } from '../core/acts';
import type { Grip, Maker } from '../core/show';
import { listMidi, midiAccess, openMidi, SIMULATED_MIDI } from './midi';

/**
 * Carries what is moved on MIDI controllers to a show. Main thread: browsers let nobody else open them. What comes over the network goes
 * to the conductor without it.
 */
export class Touches {
  #map: TouchMap = touchMap([]);
  #open = new Map<string, () => void>();
  #wanted = '';
  #closed = false;
  #watched: MIDIAccess | null = null;
  readonly #state = (e: Event): void => this.#plugged((e as MIDIConnectionEvent).port);

  /**
   * @param perform - told of what each movement does @param moved - told of each movement itself
   * @param trouble - told in words when a device cannot be opened, or is gone @param opened - told when controllers were opened: they know nothing yet
   */
  constructor(
    readonly perform: (act: Act) => void,
    readonly moved: (moved: Moved) => void,
    readonly trouble: (what: string) => void,
    readonly opened: () => void,
  ) {}

  follow(makers: readonly Maker[], grips: readonly Grip[]): void {
    this.#map = touchMap(makers);
    const midi = [
      ...this.#map.midi.map(({ touch }) => touch.device),
      ...grips.flatMap(({ touch }) => (touch.by === 'midi' ? [touch.device] : [])),
    ];
    const wanted = [
      ...(midi.includes(SIMULATED_MIDI.id) ? ['simulated'] : []),
      ...(midi.some((d) => d !== SIMULATED_MIDI.id) ? ['real'] : []),
    ].join();
    if (wanted === this.#wanted) return;
    this.#wanted = wanted;
    void this.#reopen(wanted);
  }

  /** A real one that comes is opened, and one that comes back goes on. */
  #plugged(port: MIDIPort | null): void {
    if (this.#closed || port?.type !== 'input' || port.state !== 'connected') return;
    if (this.#wanted.includes('real') && !this.#open.has(port.id)) void this.#reopen(this.#wanted);
  }
  async #watch(wanted: string): Promise<void> {
    if (!wanted.includes('real') || this.#watched) return;
    const all = await midiAccess(false).catch(() => null);
    if (this.#closed || this.#watched || !all) return;
    this.#watched = all;
    all.addEventListener('statechange', this.#state);
  }

  async #reopen(wanted: string): Promise<void> {
    void this.#watch(wanted);
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
              'A MIDI controller is gone. What it moved stays where it is; plug it in again, and it goes on.',
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
    if (this.#open.size > 0) this.opened();
  }

  #midi(device: string, message: MidiTouch['message'], channel: number, number: number, value: number): void {
    const simulated = device === SIMULATED_MIDI.id;
    const midi = { message, channel, number, value, simulated };
    for (const act of actsOfMidi(this.#map, midi, SIMULATED_MIDI.id)) this.perform(act);
    this.moved({ by: 'midi', ...midi });
  }

  close(): void {
    this.#closed = true;
    this.#watched?.removeEventListener('statechange', this.#state);
    for (const close of this.#open.values()) close();
  }
}
