import type { Channel } from '../hearing/hearing';
import type { Listening } from '../ears/listening';
import type { Anchor } from '../figures/anchors';
import type { Budget } from '../figures/governor';
import type { FigureForm } from '../figures/kinds';
import type { Blend, FinishForm } from '../finishes/kinds';
import type { Screen } from '../screens/screen';
import type { LampProtocol, SafeState, WireTarget } from '../outlets';
import type { DimmerCurve } from '../lights/curve';
import type { Hung, Point } from '../lights/aim';
import type { AimSetting } from '../lights/gate';
import type { Kind } from '../lights/kind';
import type { MergeWay, Parked } from '../lights/foreign';
import type { Room } from '../lights/room';
import type { RowOrder } from '../lights/rowOver';
import type { LaserForm } from '../laser/kinds';
import type { MessageForm } from '../messages';
import type { Making, Touch } from '../makers/making';
import type { ParameterValue } from '../parameters/description';
import type { PlainStop, RampStop } from '../parameters/ramp';
import type { Shaping } from '../shaping/steps';
import type { DbFs, Hz, Milliseconds, Seconds } from '../units';

/**
 * The show: the whole document, plain JSON. Edited only by commands that have inverses; live values never enter it.
 * Ids are unique across the whole show, so that a route names its ends by id alone.
 */
export interface Show {
  readonly format: typeof SHOW_FORMAT;
  readonly version: typeof SHOW_VERSION;
  readonly id: string;
  readonly name: string;
  readonly tempo: Tempo;
  readonly inputs: readonly Input[];
  readonly ears: readonly Ear[];
  readonly makers: readonly Maker[];
  readonly routes: readonly Route[];
  /** Back to front. */
  readonly figures: readonly Figure[];
  readonly figureGroups: readonly FigureGroup[];
  /** In the order in which they treat what they are on. */
  readonly finishes: readonly Finish[];
  /** What looks at the picture. */
  readonly camera: Camera;
  readonly screens: readonly Screen[];
  /** Most flashes of the whole picture in a second; null lets everything through. */
  readonly flashLimit: Hz | null;
  readonly budget: Budget;
  readonly overlays: readonly Overlay[];
  readonly fixtures: readonly Fixture[];
  /** Kinds of lamps that were read from files. */
  readonly kinds: readonly Kind[];
  readonly room: Room;
  readonly spots: readonly Spot[];
  /** What is said to other programs. */
  readonly messages: readonly Message[];
  /** What the laser draws, in this order: what comes last is given up first when it is too much. */
  readonly laserFigures: readonly LaserFigure[];
  readonly wires: readonly Wire[];
  /** What becomes of universes on which a desk sends as well; of others nothing was chosen yet, and they stay ours. */
  readonly merges: readonly Merge[];
  readonly groups: readonly RouteGroup[];
  readonly shapes: readonly SavedShape[];
  readonly ramps: readonly SavedRamp[];
  readonly looks: readonly Look[];
  /** In their order: by their numbers. */
  readonly cues: readonly Cue[];
  readonly songs: readonly Song[];
  /** The safe look, one key away; null: everything as it rests. */
  readonly home: string | null;
  /** How long dark and freeze take to come, whoever asks for them; 0: at once. */
  readonly darkOver: Seconds;
  readonly freezeOver: Seconds;
  /** What keys, controllers and messages do. */
  readonly grips: readonly Grip[];
  /** What a phone's page has on it, from above; nothing: the usual. */
  readonly phone: readonly PhoneThing[];
}

export const SHOW_FORMAT = 'batucada-show';
export const SHOW_VERSION = 12;

/** The picture as a surface; finishes on this id treat the whole of it. */
export const WHOLE_PICTURE = 'picture';
export const CAMERA_ID = 'camera';

/** Where the beat comes from, and where bar 1 begins on the show's position. */
export interface Tempo {
  /** Who owns the tempo: what is heard on an input, whoever typed or tapped it, the files' own known tempo, or MIDI clock. */
  readonly source: 'found' | 'typed' | 'tapped' | 'known' | 'midi';
  /** Beats a minute, where it is typed, tapped or known. */
  readonly bpm: number;
  readonly beatsPerBar: number;
  /** Seconds of the show's position at which a bar begins, where it is known. */
  readonly anchor: number;
  /** The input on which it is found; null for the first. */
  readonly input: string | null;
  /** Half or double: beats counted to one that is found. */
  readonly multiple: number;
}

interface InputBase {
  readonly id: string;
  readonly name: string;
  /** Changes what is analysed and what is heard. */
  readonly trimDb: DbFs;
  /** Raises or lowers what is analysed, slowly, to where levels are easy to use; the gain is shown. */
  readonly autoGain: boolean;
  /** Lets the analysis of this input come later. */
  readonly delayMs: Milliseconds;
  readonly monitor: { readonly on: boolean; /** Changes only what is heard. */ readonly db: DbFs };
}
/** One or more files played in lockstep by the show's position and summed. */
export interface FilesInput extends InputBase {
  readonly kind: 'files';
  readonly loop: boolean;
  /** The part that is played, in seconds of the files; null for all of it. */
  readonly part: { readonly from: Seconds; readonly to: Seconds } | null;
  readonly stems: readonly Stem[];
}
export interface Stem {
  readonly name: string;
  readonly media: string;
  readonly gainDb: DbFs;
}
/** A microphone or line input, chosen by device. */
export interface DeviceInput extends InputBase {
  readonly kind: 'device';
  readonly deviceId: string;
  readonly deviceName: string;
}
/** The sound of another tab or window, shared by the browser when it is asked for. */
export interface TabInput extends InputBase {
  readonly kind: 'tab';
}
/** A test tone. */
export interface ToneInput extends InputBase {
  readonly kind: 'tone';
  readonly wave: Wave;
  readonly hz: Hz;
  readonly db: DbFs;
}
export const WAVES = ['sine', 'saw', 'square', 'white', 'pink', 'clicks'] as const;
export type Wave = (typeof WAVES)[number];
/** Notes of a MIDI file, played by the show's position, or of a keyboard. They make no sound of their own. */
export interface NotesInput extends InputBase {
  readonly kind: 'notes';
  readonly from:
    | {
        readonly kind: 'file';
        readonly media: string;
        readonly fileName: string;
        readonly loop: boolean;
        /** The input whose sound it belongs to, and turns with. */ readonly beside: string | null;
      }
    | { readonly kind: 'midi'; readonly deviceId: string; readonly deviceName: string };
}
/** Several inputs summed. Not heard again: its parts are. */
export interface MixInput extends InputBase {
  readonly kind: 'mix';
  readonly parts: readonly MixPart[];
}
export interface MixPart {
  readonly input: string;
  readonly gainDb: DbFs;
  readonly channel: Channel;
}
export type Input = FilesInput | DeviceInput | TabInput | ToneInput | NotesInput | MixInput;

/** Listens to one input for one thing and gives a signal of the same id. */
export interface Ear {
  readonly id: string;
  readonly name: string;
  readonly input: string;
  /** Which of the input's channels it hears. */
  readonly channel: Channel;
  /** Media of the one stem of the input that it hears by itself; null or absent: all of the input. */
  readonly stem?: string | null;
  readonly listening: Listening;
}

/** Gives a signal of the same id that is not sound. */
export interface Maker {
  readonly id: string;
  readonly name: string;
  readonly making: Making;
}

export interface Route {
  readonly id: string;
  /** Id of the signal. */
  readonly signal: string;
  readonly target: Target;
  readonly muted: boolean;
  /** While any route or group is soloed, only those are. */
  readonly soloed: boolean;
  /** The signal goes straight from its fit to its amount; what else shapes it is passed by. */
  readonly bypassed: boolean;
  /** How it acts on what the routes before it made of its parameter. */
  readonly combine: Combine;
  readonly group: string | null;
  /** A signal that scales the amount; null for none. */
  readonly amountBy: string | null;
  /** Of a signal of the beat: it comes so much before the beat, for an output that is as late; absent: it does not. */
  readonly leadMs?: Milliseconds;
  /** Tried in the control window only, until it is sent or dropped; `of` is the route that it would replace. */
  readonly unseen: { readonly of: string | null } | null;
  readonly shaping: Shaping;
  /** The parameter's value when the shaped signal is at 1; its rest belongs to the thing. */
  readonly reach: ParameterValue;
}
/**
 * With *v* what the route alone would make of the parameter, and *x* what is there by now:
 * `add` x + (v − rest), `subtract` x − (v − rest), `multiply` x × v / rest (where rest is 0: x × how far the route is open),
 * `greatest`, `least` and `average` of x and v (the average of all routes so far), `replace` v.
 */
export const COMBINES = ['add', 'subtract', 'multiply', 'greatest', 'least', 'average', 'replace'] as const;
export type Combine = (typeof COMBINES)[number];

/** Routes that are muted, soloed and folded together. */
export interface RouteGroup {
  readonly id: string;
  readonly name: string;
  readonly muted: boolean;
  readonly soloed: boolean;
  readonly bypassed: boolean;
  readonly folded: boolean;
}
/** A shaping kept under a name, without a fit: that belongs to the signal. */
export interface SavedShape {
  readonly id: string;
  readonly name: string;
  readonly shaping: Shaping;
}

/** Colours kept under a name, for any ramp. */
export interface SavedRamp {
  readonly id: string;
  readonly name: string;
  readonly stops: readonly PlainStop[];
}

export interface Target {
  readonly thing: string;
  readonly parameter: string;
}

interface ThingBase {
  readonly id: string;
  readonly name: string;
  /** Values at rest that differ from the description's. */
  readonly rest: Readonly<Record<string, ParameterValue>>;
}
export interface Figure extends ThingBase {
  readonly form: FigureForm;
  /** Where its anchor stands in the picture, in picture pixels. */
  readonly at: { readonly x: number; readonly y: number };
  readonly hidden: boolean;
  /** The picture cannot be pressed there; it is changed on purpose only. */
  readonly locked: boolean;
  readonly group: string | null;
  /** The overlay that it is drawn on; absent: the picture. */
  readonly surface?: string;
  /** Of an image, a film, a camera or a text: the point that stays while it grows; absent: its middle. Solids have it in their form. */
  readonly anchor?: Anchor;
  /** Of an image, a film or a camera: it covers the whole picture, with so much room (%) to be shifted in; absent or null: it does not. */
  readonly cover?: number | null;
  /** How its inks run from one to the next; absent or null: evenly, and no others between. */
  readonly ramp?: readonly RampStop[] | null;
  /** How it lies upon what is behind it. */
  readonly blend: Blend;
  /** It follows that figure in everything that it does not override: rests of its own, and parameters with routes of their own. */
  readonly twin: { readonly of: string; readonly mirrored: boolean } | null;
}
/** Figures that are moved, hidden and finished together. They lie where the rearmost of them lies. */
export interface FigureGroup extends ThingBase {
  readonly hidden: boolean;
  readonly locked: boolean;
  /** As a figure's. */
  readonly surface?: string;
  /** What stays where it is while they grow or turn, in picture pixels; absent or null: the picture's middle. */
  readonly pivot?: { readonly x: number; readonly y: number } | null;
  readonly blend: Blend;
}
/** A treatment of a figure, of a group, or of the whole picture, after drawing. */
export interface Finish extends ThingBase {
  readonly form: FinishForm;
  /** Id of the figure, group or overlay, or {@link WHOLE_PICTURE}. */
  readonly on: string;
  /** Of a colour ramp: as a figure's. */
  readonly ramp?: readonly RampStop[] | null;
  readonly off: boolean;
}
export type Camera = ThingBase;
/** A page for a streaming program: a surface of its own. Its parameters are those of what looks at it. */
export interface Overlay extends ThingBase {
  /** In pixels of its own; pages scale it. */
  readonly width: number;
  readonly height: number;
  /** What lies behind its figures; null: nothing, it is open. */
  readonly ground: string | null;
  /** The still that stands for the host's camera while it is worked on: a media hash; null: the drawn one. */
  readonly still: string | null;
  /** From a packet to the light of it, as measured or known; absent: none. */
  readonly lagMs?: Milliseconds;
  /** How long it is held back; absent: not at all. */
  readonly delayMs?: Milliseconds;
}
export interface Fixture extends ThingBase {
  /** Its kind: one that is built in, or the id of one of {@link Show.kinds}. */
  readonly mode: string;
  /** Of a bar or panel: how many cells it has. */
  readonly cells?: { readonly columns: number; readonly rows: number };
  /** Universe 0–32767 and address 1–512 of its first channel. */
  readonly universe: number;
  readonly address: number;
  /** How its dimmer answers; absent: evenly. */
  readonly curve?: DimmerCurve;
  /** How a row lies over its cells; absent: along them. */
  readonly order?: RowOrder;
  /** Where it hangs; absent: where lamps of its sort usually do. */
  readonly at?: Hung;
  /** How a lamp that turns is hung, and where it may not go. */
  readonly aim?: AimSetting;
  /** Channels that stay where they are put, whatever moves the lamp. */
  readonly parked?: readonly Parked[];
  /** Lamps of one group are aimed and spread together; absent or empty: none. */
  readonly group?: string;
}
/** Something that another program is told: its parameters are moved like a lamp's. */
export interface Message extends ThingBase {
  readonly form: MessageForm;
}
/** Something that the laser draws. Where it may shine is no part of a show: that belongs to the machine. */
export interface LaserFigure extends ThingBase {
  readonly form: LaserForm;
  /** It is not drawn. */
  readonly off: boolean;
  /** As a figure's. */
  readonly twin: { readonly of: string; readonly mirrored: boolean } | null;
}
/** A spot of the room at which heads are aimed. */
export interface Spot extends Point {
  readonly id: string;
  readonly name: string;
}

/** A universe that is shared with a desk. */
export interface Merge {
  /** From 0. */
  readonly universe: number;
  readonly how: MergeWay;
}

/** A way out to lamps. */
export interface Wire {
  readonly id: string;
  readonly name: string;
  readonly protocol: LampProtocol;
  /** Universes that go over it, from first to last; null: all. */
  readonly universes: { readonly from: number; readonly to: number } | null;
  readonly target: WireTarget;
  /** sACN: of several senders the highest is heard, 0 to 200. */
  readonly priority: number;
  /** Nodes show all universes at the same moment. */
  readonly sync: boolean;
  /** From a packet to the light of it, as measured or known; absent: none. */
  readonly lagMs?: Milliseconds;
  /** How long its packets are held back; absent: not at all. */
  readonly delayMs?: Milliseconds;
  /** Latest packets a second for one universe: the standard's most is 44. */
  readonly rate: Hz;
  /** How long a packet may stay unsent when nothing changes. */
  readonly keepAlive: Milliseconds;
  /** What its lamps are sent when the show is not heard of any more. */
  readonly safe: SafeState;
}

/**
 * Stored values of chosen parameters. What it does not name is as it rests; what it names and is gone is kept, and said.
 */
export interface Look {
  readonly id: string;
  readonly name: string;
  /** By `thing/parameter`. */
  readonly values: Readonly<Record<string, ParameterValue>>;
  /** How much of its own amount a route has, 0 (it does nothing) to 2; those that are not named have all of it. */
  readonly routes: Readonly<Record<string, number>>;
  /** A key that takes it in Tonight; null: none. */
  readonly key: string | null;
}
/** What of a look can be left out: it stays as it is. */
export const LOOK_PARTS = ['picture', 'overlays', 'lamps', 'laser', 'messages'] as const;
export type LookPart = (typeof LOOK_PARTS)[number];

/** How a look comes in. */
export interface Fade {
  readonly unit: 'seconds' | 'bars';
  readonly length: number;
  /** When it begins: at once, or where the next beat or bar falls. */
  readonly from: 'now' | 'beat' | 'bar';
}
export const FADE_FROM = ['now', 'beat', 'bar'] as const;
/** What takes the next cue by itself, counted from when this one was taken. */
export type Follow =
  | { readonly kind: 'seconds' | 'bars'; readonly after: number }
  /** The next event of a signal. */
  | { readonly kind: 'event'; readonly signal: string }
  /** A time of day, `HH:MM`. */
  | { readonly kind: 'time'; readonly at: string };

/** A numbered step of the night. */
export interface Cue {
  readonly id: string;
  /** 0.01 to 9999.99; between any two there is room for others. */
  readonly number: number;
  readonly name: string;
  /** For whoever presses go. */
  readonly note: string;
  /** Null: everything as it rests. */
  readonly look: string | null;
  readonly leaveOut: readonly LookPart[];
  readonly fade: Fade;
  /** How long it waits before it begins to fade. */
  readonly delay: Seconds;
  readonly follow: Follow | null;
  readonly song: string | null;
}
/** Cues belong to songs: a stretch of the night with a note, and a tempo of its own. */
export interface Song {
  readonly id: string;
  readonly name: string;
  readonly note: string;
  /** Beats a minute, which its first cue sets; null: as it is. */
  readonly bpm: number | null;
  /** What is listened to while it is in, by ids of inputs; null: all of them. */
  readonly inputs: readonly string[] | null;
}

/** What a grip does: a press, something that lasts as long as it is held, or a value that it moves. */
export type Deed =
  | { readonly do: 'go' | 'back' | 'home' | 'dark' | 'freeze' | 'give back' | 'bar now' | 'tap' }
  | { readonly do: 'look'; readonly look: string }
  | { readonly do: 'cue'; readonly cue: string }
  | { readonly do: 'master'; readonly master: string }
  | { readonly do: 'flash' | 'alone'; readonly master: string }
  | { readonly do: 'hand'; readonly thing: string; readonly parameter: string }
  /** Controllers are turned to a page, or by one. */
  | { readonly do: 'page'; readonly page: number | 'next' | 'before' };
/** A key of the keyboard, a controller or an address, and what it does. */
export interface Grip {
  readonly id: string;
  readonly touch: Touch | { readonly by: 'key'; readonly key: string };
  readonly deed: Deed;
  /** The page of controllers on which it is there; null: on all of them. */
  readonly page: number | null;
  /** Its controller is told where it stands: a light that is on, a motor that moves. */
  readonly answers: boolean;
}
/** Pages that controllers may have. */
export const GRIP_PAGES = 8;

/** What a phone can have: nothing that lasts only as long as it is held, as a phone may go while it is. */
export type PhoneDeed = Exclude<Deed, { readonly do: 'flash' | 'alone' | 'page' }>;
export const PHONE_SIZES = ['half', 'whole', 'large'] as const;
/** One thing on a phone's page. */
export interface PhoneThing {
  readonly id: string;
  readonly deed: PhoneDeed;
  /** Half as wide as the phone, as wide, or that and tall. */
  readonly size: (typeof PHONE_SIZES)[number];
}

/** Where a performance is: what is in, how far it has come in, and what is next. Plain data, kept beside the show. */
export interface StageState {
  /** The cue that was taken last, and the one that go takes; null: none. */
  readonly cue: string | null;
  readonly next: string | null;
  /** The look that is in or comes in; null: everything as it rests. */
  readonly look: string | null;
  readonly leaveOut: readonly LookPart[];
  /** It was taken by hand since the cue: nothing follows by itself until somebody goes on. */
  readonly byHand: boolean;
  /** It waits for its delay, a beat or a bar, fades, or is in. */
  readonly phase: 'waits' | 'fades' | 'in';
  /** What is left of the delay in seconds, and of the fade in its own unit. */
  readonly delay: Seconds;
  readonly fade: Fade | null;
  /** Since the cue was taken: for what follows. */
  readonly seconds: Seconds;
  readonly bars: number;
  /** What a look makes of values now, and of routes. */
  readonly values: Readonly<Record<string, readonly number[]>>;
  readonly routes: Readonly<Record<string, number>>;
  /** Masters that are not at 1, by their ids. */
  readonly masters: Readonly<Record<string, number>>;
  /** The page of controllers, from 1. */
  readonly page: number;
}
export const EMPTY_STAGE: StageState = {
  cue: null,
  next: null,
  look: null,
  leaveOut: [],
  byHand: false,
  phase: 'in',
  delay: 0,
  fade: null,
  seconds: 0,
  bars: 0,
  values: {},
  routes: {},
  masters: {},
  page: 1,
};

/** What a show has learned or holds: saved beside it, not part of undo. */
export interface Memory {
  readonly fits: Readonly<Record<string, { readonly low: number; readonly high: number }>>;
  /** Parameters that are held by hand, by `thing/parameter`: one number, or three of a colour in linear light. */
  readonly hands: Readonly<Record<string, readonly number[]>>;
  /** Where each maker is. */
  readonly makers: Readonly<Record<string, readonly number[]>>;
  readonly stage: StageState;
  readonly dark: boolean;
  readonly freeze: boolean;
  readonly position: number;
  readonly playing: boolean;
}

export const EMPTY_MEMORY: Memory = {
  fits: {},
  hands: {},
  makers: {},
  stage: EMPTY_STAGE,
  dark: false,
  freeze: false,
  position: 0,
  playing: false,
};
