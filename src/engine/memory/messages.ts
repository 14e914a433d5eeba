import type { Performed } from '../../core/acts';
import type { FlatTune } from '../../core/notes';
import type { Patch } from 'immer';
import type { DeskSeen } from '../../core/desk';
import type { Act, Moved, Who } from '../../core/acts';
import type { PlanMap, Stood } from '../../core/plan';
import type {
  ArtNode,
  BrokerSetting,
  PhoneNight,
  LaserAsk,
  LaserReport,
  MessageState,
  ReceiverState,
  Standing,
  RelaysReport,
  StreamState,
  Watcher,
  WireState,
} from '../../core/protocols';
import type { LampProtocol } from '../../core/outlets';
import type { Quality } from '../../core/figures';
import type { Screen } from '../../core/screens';
import type { MediaAnswer, MediaAsk } from '../picture/media';
import type { Ear, Memory, Show } from '../../core/show';
import type { ControlMemory } from './control';
import type { StandbyDrove, StandbyReport } from '../outlets/secondLink';
import type { Fault } from './faults';
import type { FrameMemory } from './frames';

/** What threads say to each other. Rare settings travel here; values travel through shared memory. */

/** A file's sound in shared memory, at 48 kHz. */
export interface SharedStem {
  readonly left: SharedArrayBuffer;
  readonly right: SharedArrayBuffer | null;
  readonly gain: number;
}

/** One input as the driver of time plays it. */
export interface PlayedInput {
  readonly id: string;
  /** Its place among the audio thread's inputs and rings. */
  readonly place: number;
  readonly ring: SharedArrayBuffer;
  /** Null for a device, whose sound comes through the audio graph. */
  readonly files: {
    readonly stems: readonly SharedStem[];
    readonly loop: boolean;
    /** Frames that are played: from ≤ frame < to; null for all. */
    readonly part: { readonly from: number; readonly to: number } | null;
    /** Sounds whether the show plays or not. */
    readonly always: boolean;
  } | null;
  /** Factor of trim and monitor level; 0 when it is not heard. */
  readonly heard: number;
}

/** Main → audio thread and conductor. */
export interface InputsMessage {
  readonly type: 'inputs';
  readonly inputs: readonly PlayedInput[];
}
export interface SetupMessage {
  readonly type: 'setup';
  readonly control: ControlMemory;
}

/** Where a reader finds everything; sent when any of it is another one: once an epoch. */
export interface Blocks {
  /** Which run of a conductor it belongs to: in another, nothing goes on from where it was. */
  readonly life: string;
  readonly control: ControlMemory;
  readonly frames: FrameMemory;
  readonly events: SharedArrayBuffer;
  /** Events that came to parameters which take them: the same kind of ring, by the parameter's place. */
  readonly arrivals: SharedArrayBuffer;
  readonly traces: { readonly data: SharedArrayBuffer; readonly head: SharedArrayBuffer };
  readonly field: { readonly data: SharedArrayBuffer; readonly head: SharedArrayBuffer };
}

export type ToConductor =
  | SetupMessage
  | InputsMessage
  | { readonly type: 'show'; readonly show: Show; readonly memory: Memory | null }
  | { readonly type: 'patch'; readonly patches: readonly Patch[] }
  | { readonly type: 'drafts'; readonly ears: readonly Ear[] }
  /** Everything is as another computer has it. */
  | { readonly type: 'follow'; readonly memory: Memory }
  /** A key or a controller was moved, for which the show may have a grip. */
  | { readonly type: 'moved'; readonly moved: Moved; readonly who: Who; readonly at: number }
  /** What stood so many bars ago is wanted, or (0) stands now. */
  | { readonly type: 'stood'; readonly id: number; readonly barsAgo: number }
  | { readonly type: 'tap'; readonly route: string | null }
  | { readonly type: 'watch'; readonly input: string | null }
  | ({ readonly type: 'act' } & Performed)
  | { readonly type: 'audio'; readonly running: boolean }
  /** Controllers were plugged in: they know nothing of how things stand. */
  | { readonly type: 'plugged' }
  /** A MIDI file's notes for an input; null when it has none any more. */
  | { readonly type: 'tune'; readonly input: string; readonly tune: FlatTune | null }
  /** A note as it is played, or its end (velocity 0), for an input. `at` is `performance.timeOrigin + now()` in ms. */
  | {
      readonly type: 'note';
      readonly input: string;
      readonly channel: number;
      readonly key: number;
      readonly velocity: number;
      readonly at: number;
    }
  /** MIDI clock: beats since its start, and its tempo (0: stopped). */
  | { readonly type: 'midi clock'; readonly beat: number; readonly bpm: number }
  /** The sounds that the show began with are there: readers may follow it now. */
  | { readonly type: 'ready' }
  /** A reader, by a name of its own: it is told of these parts of the show. */
  | {
      readonly type: 'subscribe';
      readonly reader: string;
      readonly port: MessagePort;
      readonly wants: readonly (keyof Show)[];
    }
  | { readonly type: 'unsubscribe'; readonly reader: string }
  | { readonly type: 'history'; readonly port: MessagePort }
  /** Where numbers from the network come from, past this window. */
  | { readonly type: 'network'; readonly port: MessagePort };

/** Outlet worker → conductor, directly: numbers that came over the network, in their order. */
export interface FromNetwork {
  readonly messages: readonly (readonly [address: string, value: number])[];
  /** What was performed with a phone. */
  readonly acts?: readonly Act[];
  /** With which of them, from 1. */
  readonly phone?: number;
  readonly at: number;
}

/** What the conductor has come to know or holds, for the memory. */
export type Learned = Pick<Memory, 'fits' | 'makers' | 'hands' | 'stage'>;

export type FromConductor =
  /** The memory, or the places in it, are other ones. */
  | { readonly type: 'plan'; readonly blocks?: Blocks; readonly map: PlanMap }
  | { readonly type: 'learned'; readonly learned: Learned }
  /** What was asked for by this number. */
  | { readonly type: 'stood'; readonly id: number; readonly stood: Stood }
  /** What was performed elsewhere than in this window, as far as it is to be known here. */
  | { readonly type: 'did'; readonly acts: readonly Performed[] }
  /** Ticks failed, and the loop went on. */
  | ({ readonly type: 'fault' } & Fault)
  /** A show could not be taken; the one before plays on. */
  | { readonly type: 'refused'; readonly what: string }
  /** The show is wanted as a whole. */
  | { readonly type: 'again' }
  /** A controller is told where what it moves stands; the window alone can tell it. */
  | { readonly type: 'answer'; readonly device: string; readonly bytes: readonly number[] }
  /** Another loop stands still. */
  | { readonly type: 'stopped'; readonly who: 'outlets' };

/** What a picture is drawn from, and what the ways out are made from. */
export const PICTURE_PARTS = [
  'figures',
  'figureGroups',
  'finishes',
  'camera',
  'screens',
  'flashLimit',
  'budget',
  'overlays',
] as const satisfies readonly (keyof Show)[];
export const OUTLET_PARTS = [
  'fixtures',
  'kinds',
  'overlays',
  'room',
  'merges',
  'wires',
  'messages',
  'laserFigures',
  // What is drawn on overlays.
  'figureGroups',
  'finishes',
  'flashLimit',
  'budget',
  // A laser may draw what a figure of the picture is cut along.
  'figures',
] as const satisfies readonly (keyof Show)[];

/** Conductor → picture and outlet workers: what changed since the last message, all of it valid from now on. */
export interface ToReader {
  readonly blocks?: Blocks;
  readonly map?: PlanMap;
  /** The reader's part of the show, whole. */
  readonly show?: Partial<Show>;
  /** How that part changed. */
  readonly patches?: readonly Patch[];
}
/** A reader needs nothing more. */
export interface FromReader {
  readonly type: 'bye';
}

/** Conductor ↔ history worker. */
export interface HistoryAsk {
  readonly id: number;
  readonly ring: SharedArrayBuffer;
  readonly stereo: boolean;
  readonly gain: number;
  /** Hops to go over: from ≤ hop < to. */
  readonly from: number;
  readonly to: number;
  readonly what: { readonly kind: 'ear'; readonly ear: Ear } | { readonly kind: 'field' };
}
export interface HistoryAnswer {
  readonly id: number;
  /** First column. */
  readonly column: number;
  /** One number per column for an ear, SPECTRUM_POINTS per column for a field. */
  readonly values: Float32Array;
  /** For a set of bands: one such row for each of its members. */
  readonly members: readonly Float32Array[];
}

/** Main → outlet worker. */
export type ToOutlets =
  | {
      readonly type: 'connect';
      readonly url: string;
      readonly lease: string;
      /** Take the lamps from whoever drives them. */ readonly take: boolean;
      readonly received: SharedArrayBuffer;
      /** The picture as lamps see it. */ readonly sheet: SharedArrayBuffer;
      /** What the laser is to draw, and what its mirrors drew. */ readonly laser: SharedArrayBuffer;
    }
  | { readonly type: 'conductor'; readonly port: MessagePort }
  /** Where numbers from the network go, past this window. */
  | { readonly type: 'network'; readonly port: MessagePort }
  | { readonly type: 'arm'; readonly armed: boolean }
  /** Quick flashes are allowed on this machine, until it is said otherwise or the window is loaded anew. */
  | { readonly type: 'quick'; readonly allowed: boolean }
  /** A lamp that is looked for; null: none. */
  | { readonly type: 'identify'; readonly lamp: string | null }
  /** The night, as phones show it. */
  | { readonly type: 'night'; readonly night: PhoneNight }
  | { readonly type: 'laser'; readonly ask: LaserAsk }
  /** Where the first computer is that this one stands by for; null: for none. */
  | { readonly type: 'second'; readonly url: string | null; readonly drove: StandbyDrove | null }
  /** How the show stands, for those that stand by for this computer. */
  | { readonly type: 'standing'; readonly standing: Standing }
  | { readonly type: 'broker'; readonly setting: BrokerSetting }
  | { readonly type: 'take' };

export interface OutletReport {
  readonly link: 'connecting' | 'driving' | 'busy' | 'lost' | 'refused';
  readonly why: string | null;
  readonly key: string | null;
  readonly address: string | null;
  /** The key of the phones' page, and the addresses by which other machines reach it. */
  readonly phoneKey: string | null;
  readonly elsewhere: readonly string[];
  /** The lamp that is looked for. */
  readonly sought: string | null;
  readonly wires: readonly WireState[];
  readonly streams: readonly StreamState[];
  /** How often the bridge had to start its sending thread again. */
  readonly restarts: number;
  readonly nodes: readonly ArtNode[];
  /** The receivers that ship with us; null while nothing was heard of them. */
  readonly receivers: Readonly<Record<LampProtocol, ReceiverState>> | null;
  /** Lamps that flash as often as can bring on a seizure. */
  readonly flashing: readonly string[];
  /** How many show each page now, by the page's id, and the first of them by name. */
  readonly pages: Readonly<Record<string, number>>;
  readonly watchers: readonly Watcher[];
  /** Brokers and relays; null while nothing was heard of them. */
  readonly relays: RelaysReport | null;
  /** From a value's frame to its packet, decoded and back here: median of the last second, in ms. */
  readonly packetMs: number | null;
  /** Where OSC is heard, or null while there is no bridge. */
  readonly osc: string | null;
  readonly messages: readonly MessageState[];
  /** What the OSC receiver heard that ships with us. */
  readonly heard: readonly (readonly [address: string, value: number, count: number])[];
  /** Desks that send to this computer, on each of their universes. */
  readonly desks: readonly DeskSeen[];
  /** Where they are heard; null while there is no bridge. */
  readonly desksAt: Readonly<Record<LampProtocol, string>> | null;
  /** Null while nothing was heard of it. */
  readonly laser: LaserReport | null;
  /** Why what was asked of it last was not done; null: it was. */
  readonly laserSays: string | null;
  /** Computers that stand by for this one. */
  readonly seconds: number;
  /** How this one stands by for another; null: it does not. */
  readonly standby: StandbyReport | null;
}
export type FromOutlets =
  | { readonly type: 'report'; readonly report: OutletReport }
  | { readonly type: 'need'; readonly media: readonly string[] }
  /** How the first stands, to be followed; and whether packets may leave this one, which was decided without the window. */
  | { readonly type: 'standing'; readonly standing: Standing }
  | { readonly type: 'armed'; readonly armed: boolean }
  | { readonly type: 'osc'; readonly messages: readonly (readonly [address: string, value: number])[] }
  /** What a device is told over MIDI, by the message's id; the window alone can tell it. */
  | {
      readonly type: 'midi';
      readonly id: string;
      readonly device: string;
      readonly bytes: readonly number[];
      /** When it is due, in ms since 1970 by this machine's steady clock; null: at once. */
      readonly at: number | null;
    }
  /** Whether any lamp takes its colour from the picture. */
  | { readonly type: 'sheet'; readonly wanted: boolean }
  | ({ readonly type: 'fault' } & Fault);

/** A size, as a picture worker names it, and what pictures of it were drawn with. */
export interface KnownQuality {
  readonly size: string;
  readonly quality: Quality;
}

/** Main → picture worker. */
export type ToPicture =
  | {
      readonly type: 'canvas';
      readonly canvas: OffscreenCanvas;
      readonly width: number;
      readonly height: number;
      /** What pictures of each size were drawn with on this machine. */
      readonly known?: readonly KnownQuality[];
      /** It is the control window's own. */ readonly preview: boolean;
      /** It is drawn at a pace of its own, and every frame handed on. */ readonly record?: {
        readonly into: WritableStream<VideoFrame>;
        readonly framesPerSecond: number;
      };
      /** What nothing covers lets through what is behind the canvas. */ readonly open?: boolean;
      /** It is for lamps: each is read back into this memory. */ readonly sheet?: SharedArrayBuffer;
    }
  | { readonly type: 'size'; readonly width: number; readonly height: number }
  | { readonly type: 'shown'; readonly shown: boolean }
  /** It is one of the show's screens; with null the picture as it is. */
  | { readonly type: 'screen'; readonly id: string | null }
  /** What of the show it draws: the picture or an overlay; of that, only what its edges cut. */
  | { readonly type: 'surface'; readonly id: string; readonly matte: boolean }
  /** A test card in place of the picture. */
  | { readonly type: 'card'; readonly on: boolean }
  /** Say what each figure and finish costs, for as long as somebody looks. */
  | { readonly type: 'costs'; readonly on: boolean }
  | {
      readonly type: 'still';
      readonly id: number;
      readonly width: number;
      readonly height: number;
      /** Numbers of it that are others than now, by their places. */ readonly as?: readonly (readonly [
        at: number,
        value: number,
      ])[];
    }
  /** Lose the graphics device and take it back, as may happen to it; for tests. */
  | { readonly type: 'lose' }
  | MediaAnswer
  | { readonly type: 'conductor'; readonly port: MessagePort }
  /** What it shows is on another machine, or comes as if it were. */
  | { readonly type: 'bridge'; readonly url: string; readonly name: string }
  /** Its window goes. */
  | { readonly type: 'leave' };
/** What one figure or finish costs: milliseconds for one frame, as measured here. */
export interface Cost {
  readonly id: string;
  readonly ms: number;
}
export type FromPicture =
  | {
      readonly type: 'rate';
      readonly framesPerSecond: number;
      readonly age: number;
      readonly size: string;
      /** Whether the processor draws, for want of a graphics card. */
      readonly processor: boolean;
      readonly quality: Quality;
      /** Geometries and textures that the graphics device holds. */ readonly onDevice: number;
      /** Events that came to what is drawn, so far. */ readonly arrived: number;
    }
  /** The conductor that it follows stands still, or there is none yet. */
  | { readonly type: 'stale' }
  | { readonly type: 'screen'; readonly screen: Screen }
  /** Over the bridge: whether somebody drives, and whether there is a show to draw. */
  | {
      readonly type: 'there';
      readonly live: boolean;
      readonly show: boolean;
      /** The show has no such page (any more). */ readonly gone: boolean;
      /** Of what is drawn. */ readonly width?: number;
      readonly height?: number;
      readonly name?: string;
    }
  /** The server is of another version than this page. */
  | { readonly type: 'otherVersion' }
  | { readonly type: 'costs'; readonly costs: readonly Cost[] }
  | { readonly type: 'still'; readonly id: number; readonly blob: Blob | null }
  | MediaAsk
  | { readonly type: 'trouble'; readonly what: string }
  | { readonly type: 'well' };
