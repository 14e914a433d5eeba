import { makeHop, type Hop } from '../audio/hop';
import { Loudness } from '../audio/loudness';
import { Octaves } from '../audio/octaves';
import { ShortSpectrum } from '../audio/shortSpectrum';
import { TruePeak } from '../audio/truePeak';
import type { Frames, Hz, Seconds } from '../units';
import { BandFrame } from './bandFrame';
import { BeatTracker } from './beatTracker';
import { HitListener } from './hitListener';
import { NoteListener } from './noteListener';
import { Pitch } from './pitch';
import { SpeechListener } from './speechListener';
import { StructureListener } from './structureListener';

/** Which of an input's two channels are listened to. `sum` takes both by their powers, so that antiphase is heard too. */
export const CHANNELS = ['sum', 'left', 'right', 'mid', 'side'] as const;
export type Channel = (typeof CHANNELS)[number];

/** Length of the fine spectrum: 85 ms tells low notes apart. */
const FINE: Seconds = 4096 / 48000;

export type StageName =
  | 'octaves'
  | 'frame'
  | 'hits'
  | 'beat'
  | 'speech'
  | 'structure'
  | 'pitch'
  | 'noteBegins'
  | 'loudness'
  | 'truePeak'
  | 'fine';
const NO_STAGES: ReadonlySet<StageName> = new Set();

/**
 * What is heard of one input and channel, each thing computed once a hop however many ears ask. A stage is made when the
 * first ear asks for it, at set-up; from then on every hop runs through it, until no ear is left that did.
 */
export class Hearing {
  readonly sampleRate: Hz;
  readonly hopFrames: Frames;
  #octaves: Octaves | null = null;
  #frame: BandFrame | null = null;
  #hits: HitListener | null = null;
  #beat: BeatTracker | null = null;
  #speech: SpeechListener | null = null;
  #structure: StructureListener | null = null;
  #pitch: Pitch | null = null;
  #noteBegins: NoteListener | null = null;
  #loudness: Loudness | null = null;
  #truePeak: TruePeak | null = null;
  #fine: ShortSpectrum | null = null;
  #fineTurn = 0;
  #asked: Set<StageName> | null = null;

  constructor(sampleRate: Hz, hopFrames: Frames) {
    this.sampleRate = sampleRate;
    this.hopFrames = hopFrames;
  }

  get octaves(): Octaves {
    this.#asked?.add('octaves');
    return (this.#octaves ??= new Octaves(this.sampleRate, this.hopFrames));
  }
  get frame(): BandFrame {
    this.#asked?.add('frame');
    return (this.#frame ??= new BandFrame(this.sampleRate));
  }
  get hits(): HitListener {
    this.#asked?.add('hits');
    void this.frame;
    return (this.#hits ??= new HitListener(this.sampleRate));
  }
  get beat(): BeatTracker {
    this.#asked?.add('beat');
    void this.frame;
    return (this.#beat ??= new BeatTracker(this.sampleRate, this.hopFrames));
  }
  get speech(): SpeechListener {
    this.#asked?.add('speech');
    void this.frame;
    return (this.#speech ??= new SpeechListener(this.sampleRate, this.hopFrames));
  }
  get structure(): StructureListener {
    this.#asked?.add('structure');
    void this.frame;
    return (this.#structure ??= new StructureListener(this.sampleRate, this.hopFrames));
  }
  get pitch(): Pitch {
    this.#asked?.add('pitch');
    // Asked for each time: it is needed by every ear that needs a pitch, not only by the first.
    const { octaves } = this;
    return (this.#pitch ??= new Pitch(octaves));
  }
  get noteBegins(): NoteListener {
    this.#asked?.add('noteBegins');
    void this.hits;
    void this.pitch;
    return (this.#noteBegins ??= new NoteListener(this.sampleRate));
  }
  get loudness(): Loudness {
    this.#asked?.add('loudness');
    return (this.#loudness ??= new Loudness(this.sampleRate));
  }
  get truePeak(): TruePeak {
    this.#asked?.add('truePeak');
    return (this.#truePeak ??= new TruePeak(this.sampleRate));
  }
  /** Fine spectrum through a symmetric (Hann) window, renewed every second hop. */
  get fine(): ShortSpectrum {
    this.#asked?.add('fine');
    return (this.#fine ??= new ShortSpectrum(FINE, FINE / 2, this.sampleRate));
  }

  /** Makes something that listens here, and says which stages it asked for. Set-up only. */
  asking<T>(make: (hearing: Hearing) => T): { readonly made: T; readonly stages: ReadonlySet<StageName> } {
    const stages = (this.#asked = new Set());
    try {
      return { made: make(this), stages };
    } finally {
      this.#asked = null;
    }
  }
  /** Lets go of every stage that nobody asked for. Set-up only. */
  keep(stages: ReadonlySet<StageName>): void {
    if (!stages.has('octaves')) this.#octaves = null;
    if (!stages.has('frame')) this.#frame = null;
    if (!stages.has('hits')) this.#hits = null;
    if (!stages.has('beat')) this.#beat = null;
    if (!stages.has('speech')) this.#speech = null;
    if (!stages.has('structure')) this.#structure = null;
    if (!stages.has('pitch')) this.#pitch = null;
    if (!stages.has('noteBegins')) this.#noteBegins = null;
    if (!stages.has('loudness')) this.#loudness = null;
    if (!stages.has('truePeak')) this.#truePeak = null;
    if (!stages.has('fine')) this.#fine = null;
  }
  /** The stages that are at work. */
  get stages(): readonly StageName[] {
    const all = {
      octaves: this.#octaves,
      frame: this.#frame,
      hits: this.#hits,
      beat: this.#beat,
      speech: this.#speech,
      structure: this.#structure,
      pitch: this.#pitch,
      noteBegins: this.#noteBegins,
      loudness: this.#loudness,
      truePeak: this.#truePeak,
      fine: this.#fine,
    };
    return (Object.keys(all) as StageName[]).filter((name) => all[name] !== null);
  }

  /** One hop through every stage that is there. Allocates nothing, never throws. @param onLoudnessStep - see {@link Loudness.process} */
  process(hop: Hop, onLoudnessStep?: () => void): void {
    this.#octaves?.process(hop);
    if (this.#frame) {
      this.#frame.process(hop);
      this.#hits?.process(this.#frame, hop.frames);
      this.#beat?.process(this.#frame);
      this.#speech?.process(this.#frame);
      this.#structure?.process(this.#frame);
    }
    if (this.#pitch) this.#pitch.process(this.#octaves!, hop);
    if (this.#noteBegins) this.#noteBegins.process(this.#pitch!, this.#hits!, hop.frames);
    this.#loudness?.process(hop, onLoudnessStep);
    this.#truePeak?.process(hop);
    if (this.#fine) {
      this.#fine.push(hop.left, hop.right, hop.frames);
      if ((this.#fineTurn ^= 1) === 0) this.#fine.update();
    }
  }

  /** After the ears have read what they wanted. */
  finish(hop: Hop): void {
    this.#hits?.fade(hop.frames);
  }
}

/** Takes one channel, or a mix of both, out of a hop. @param out - a mono hop of the same size */
export function takeChannel(hop: Hop, channel: Channel, out: Hop): void {
  const { left, right, frames } = hop;
  out.frames = frames;
  out.time = hop.time;
  out.mono = true;
  for (let i = 0; i < frames; i++) {
    const l = left[i]!,
      r = right[i]!;
    out.left[i] = out.right[i] =
      channel === 'left' ? l : channel === 'right' ? r : channel === 'side' ? (l - r) / 2 : (l + r) / 2;
  }
}

/** The hearings of one input, one for each channel that some ear listens to. */
export class InputHearing {
  readonly #by = new Map<Channel, { hearing: Hearing; hop: Hop | null }>();
  #list: { channel: Channel; hearing: Hearing; hop: Hop | null }[] = [];
  constructor(
    readonly sampleRate: Hz,
    readonly hopFrames: Frames,
  ) {}

  /** The hearing of a channel, made when it is first asked for. Set-up only. */
  of(channel: Channel): Hearing {
    let entry = this.#by.get(channel);
    if (!entry) {
      entry = {
        hearing: new Hearing(this.sampleRate, this.hopFrames),
        hop: channel === 'sum' ? null : makeHop(this.hopFrames),
      };
      this.#by.set(channel, entry);
      this.#list.push({ channel, ...entry });
    }
    return entry.hearing;
  }
  /** Lets go of what nobody listens to any more. @param used - for each channel that somebody hears, the stages asked for there. Set-up only. */
  keep(used: ReadonlyMap<Channel, ReadonlySet<StageName>>): void {
    for (const channel of [...this.#by.keys()]) if (!used.has(channel)) this.#by.delete(channel);
    this.#list = this.#list.filter((x) => used.has(x.channel));
    for (const { channel, hearing } of this.#list) hearing.keep(used.get(channel) ?? NO_STAGES);
  }
  /** What is at work, for each channel that somebody hears. */
  get stages(): Readonly<Partial<Record<Channel, readonly StageName[]>>> {
    return Object.fromEntries(this.#list.map(({ channel, hearing }) => [channel, hearing.stages]));
  }
  /** What an ear of this channel gets as its sound, after `process`. */
  hopOf(channel: Channel, hop: Hop): Hop {
    return this.#by.get(channel)?.hop ?? hop;
  }

  process(hop: Hop): void {
    for (let i = 0; i < this.#list.length; i++) {
      const { channel, hearing, hop: own } = this.#list[i]!;
      if (own) takeChannel(hop, channel, own);
      hearing.process(own ?? hop);
    }
  }
  finish(hop: Hop): void {
    for (let i = 0; i < this.#list.length; i++) this.#list[i]!.hearing.finish(hop);
  }
}
