import { type BandSet, keysOf, type Listening, type Measure, nthOf } from '../../core/ears';
import { type Channel, noteName } from '../../core/hearing';
import { keyName } from '../../core/notes';
import { type Ear, freeName, type Input, type Show, stemOfEar } from '../../core/show';
import { gainToDb } from '../../core/units';

export function hz(x: number): string {
  return x >= 1000
    ? `${(x / 1000).toFixed(x >= 10000 ? 0 : 1).replace(/\.0$/, '')} k`
    : String(Math.round(x));
}

/** A range as it is read: "40–110 Hz", "3.2–12 kHz". */
export function rangeName(low: number, high: number): string {
  if (low >= 1000)
    return `${(low / 1000).toFixed(1).replace(/\.0$/, '')}–${(high / 1000).toFixed(1).replace(/\.0$/, '')} kHz`;
  return `${hz(low)}–${hz(high)}${high >= 1000 ? '' : ' '}Hz`;
}

export const SET_WORDS: Readonly<Record<BandSet, string>> = {
  three: 'three bands',
  five: 'five bands',
  mel: 'eight bands by hearing',
  octaves: 'octaves',
  thirds: 'thirds of octaves',
};
export const STROKE_WORDS = {
  any: 'any hit',
  kick: 'kick',
  snare: 'snare',
  hat: 'hat',
  range: 'hits in a range',
} as const;
export const LEVEL_WORDS = {
  peak: 'peak',
  truePeak: 'true peak',
  rms: 'RMS',
  momentary: 'loudness, momentary',
  shortTerm: 'loudness, short-term',
  integrated: 'loudness, integrated',
} as const;
export const BEAT_WORDS = {
  beat: 'each beat',
  bar: 'each bar',
  phase: 'place in the beat',
  barPhase: 'place in the bar',
  tempo: 'tempo',
  confidence: 'how sure the tempo is',
} as const;
export const STRUCTURE_WORDS = {
  build: 'a build begins',
  progress: 'how far a build has come',
  drop: 'a drop',
  break: 'a break begins',
  return: 'the low end is back',
  section: 'anything else begins',
  phrase: 'a phrase begins',
  phrasePlace: 'place in the phrase',
} as const;
export const NOTE_WORDS = {
  on: 'each note',
  chord: 'a note or chord',
  velocity: 'velocity',
  pitch: 'pitch',
  held: 'how many sound',
  keys: 'velocity by key',
} as const;
export const CHANNEL_WORDS: Readonly<Record<Channel, string>> = {
  sum: 'both',
  left: 'left',
  right: 'right',
  mid: 'mid',
  side: 'side',
};

/** Ranges in which most look first. */
export const RANGES: readonly (readonly [low: number, high: number, words: string])[] = [
  [40, 160, 'low'],
  [250, 2500, 'middle'],
  [4000, 12000, 'high'],
];
/** The keys that are waited for, by name. */
export const chordWords = (keys: readonly number[] | undefined): string =>
  keys?.length ? keys.map(keyName).join(' ') : NOTE_WORDS.chord;

const structureWords = ({ reading, bars }: Extract<Listening, { kind: 'structure' }>): string =>
  reading === 'phrase'
    ? `a phrase of ${bars} bars begins`
    : reading === 'phrasePlace'
      ? `${STRUCTURE_WORDS.phrasePlace} of ${bars} bars`
      : STRUCTURE_WORDS[reading];
/** What an ear listens for, in words. */
export function listeningWords({ listening: l, channel }: Ear): string {
  const from = channel === 'sum' ? '' : `, ${CHANNEL_WORDS[channel]}`;
  const every = nthOf(l),
    nth = every ? `, one of every ${every.every}` : '';
  switch (l.kind) {
    case 'level':
      return `${l.reading === 'peak' || l.reading === 'rms' || l.reading === 'truePeak' ? 'level, ' : ''}${LEVEL_WORDS[l.reading]}${from}`;
    case 'band':
      return `${l.reading === 'energy' ? 'level' : l.reading === 'strongest' ? 'strongest tone' : 'strongest pitch'} of ${rangeName(l.low, l.high)}${from}`;
    case 'bands':
      return `${SET_WORDS[l.set]}${from}`;
    case 'hit':
      return `${l.what === 'range' ? `hits in ${rangeName(l.low, l.high)}` : STROKE_WORDS[l.what]}${nth}${from}`;
    case 'pitch':
      return `${l.reading === 'note' ? 'pitch' : 'how sure the pitch is'}${from}`;
    case 'noteBegins':
      return `${l.reading === 'event' ? 'a note begins' : 'the note that began'}${nth}${from}`;
    case 'brightness':
      return `brightness${from}`;
    case 'presence':
      return `${l.what === 'speech' ? 'someone speaks' : 'something sounds'}${from}`;
    case 'beat':
      return `${BEAT_WORDS[l.reading]}${l.multiple === 1 ? '' : ` × ${l.multiple}`}${nth}`;
    case 'structure':
      return `${structureWords(l)}${nth}${from}`;
    case 'vector':
      return `${l.of}, ${l.points} points${from}`;
    case 'notes':
      return `${l.reading === 'chord' ? chordWords(l.keys) : l.reading === 'keys' ? `${NOTE_WORDS.keys}, ${keyName(keysOf(l).low)} to ${keyName(keysOf(l).high)}` : NOTE_WORDS[l.reading]}${nth}${l.tracks.length ? `, track ${l.tracks.join(', ')}` : ''}${l.channels.length ? `, channel ${l.channels.join(', ')}` : ''}`;
  }
}

/** What an ear is called before anybody names it: what it hears, on which channel, and for what it listens. */
export function earTitle(inputs: readonly Input[], ear: Omit<Ear, 'id' | 'name'>): string {
  const stem = stemOfEar(inputs, ear as Ear);
  return [
    inputs.find((i) => i.id === ear.input)?.name,
    stem?.name,
    ear.channel === 'sum' ? null : CHANNEL_WORDS[ear.channel],
    earName(ear.listening),
  ]
    .filter(Boolean)
    .join(' · ')
    .slice(0, 80);
}
/** What a level ear on an input is, but for its id and name. */
export const levelOf = (input: string): Omit<Ear, 'id' | 'name'> => ({
  input,
  channel: 'sum',
  listening: { kind: 'level', reading: 'rms' },
});
/** An ear with another setting. It goes on being named by what it hears, unless somebody named it. */
export function retitled(
  show: Pick<Show, 'inputs' | 'ears'>,
  ear: Ear,
  change: Partial<Omit<Ear, 'id'>>,
): Ear {
  const next = { ...ear, ...change },
    was = earTitle(show.inputs, ear);
  // A second of the same bears a number.
  const counted = ear.name.startsWith(was) && /^( \d+|, \d+)?$/.test(ear.name.slice(was.length));
  if (!counted) return next;
  const others = show.ears.filter((e) => e.id !== ear.id);
  return { ...next, name: freeName(others, earTitle(show.inputs, next)) };
}
/** What an ear listens for, as part of its name. */
function earName(l: Listening): string {
  switch (l.kind) {
    case 'level':
      return l.reading === 'rms' ? 'level' : LEVEL_WORDS[l.reading];
    case 'band':
      return rangeName(l.low, l.high);
    case 'bands':
      return SET_WORDS[l.set];
    case 'hit':
      return l.what === 'range' ? `${rangeName(l.low, l.high)} · hit` : STROKE_WORDS[l.what];
    case 'pitch':
      return 'pitch';
    case 'noteBegins':
      return l.reading === 'event' ? 'note begins' : 'note that began';
    case 'brightness':
      return 'brightness';
    case 'presence':
      return l.what === 'speech' ? 'someone speaks' : 'something sounds';
    case 'beat':
      return BEAT_WORDS[l.reading];
    case 'structure':
      return structureWords(l);
    case 'vector':
      return l.of;
    case 'notes':
      return l.reading === 'chord' ? chordWords(l.keys) : NOTE_WORDS[l.reading];
  }
}

const minus = (text: string): string => text.replace('-', '−');

/** A signal's number in its own unit. */
export function signalText(measure: Measure, value: number): string {
  if (!Number.isFinite(value)) return '–';
  switch (measure) {
    case 'amplitude':
      return value < 0.0005 ? '0.000' : value < 0.1 ? value.toFixed(3) : value.toFixed(2);
    case 'loudness':
      return value > 1e-5 ? minus(`${gainToDb(value).toFixed(1)} LUFS`) : 'silent';
    case 'hz':
      return value > 0
        ? `${value >= 1000 ? `${(value / 1000).toFixed(2)} kHz` : `${Math.round(value)} Hz`}`
        : '–';
    case 'note':
      return value > 0 ? noteName(440 * 2 ** ((value - 69) / 12)) : '–';
    case 'bpm':
      return value > 0 ? `${value.toFixed(1)} BPM` : '–';
    case 'count':
      return String(Math.round(value));
    case 'share':
    case 'strength':
      return value.toFixed(2);
  }
}
