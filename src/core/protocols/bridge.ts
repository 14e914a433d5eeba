import Joi from 'joi';
import {
  LAMP_PROTOCOLS,
  type LampProtocol,
  STREAMS_MOST,
  type StreamDeclaration,
  type WireTarget,
} from '../outlets';
import type { DeskSeen } from '../desk';
import { POINTS_MOST } from '../laser';
import { type PhoneAct, type PhoneNight, phoneNight, type SoughtLamp, soughtLamp } from './phone';
import { messageTarget, wireTarget } from './wireFields';
import type { ArtNode } from './artnet';
import {
  FRAME_BEAT,
  FRAME_EVENTS,
  FRAME_HEAD,
  FRAME_LASER,
  FRAME_PACKET,
  FRAME_VALUE,
  FRAME_VALUES,
  LASER_POINT_BYTES,
  VALUES_HEAD,
} from './frameKinds';
import { type LaserAsk, laserAsks, type LaserReport } from './laser';
import { EVENT_BYTES, EVENTS_HEAD, PAGE_ID_MOST, PAGES_MOST, type PageDocument, type Watcher } from './pages';
import { pageDocument } from './pagesCheck';
import { type Standing, standing } from './second';
import { type BrokerSetting, brokerSetting, type RelaysReport } from './topics';

/**
 * What browser and bridge say to each other over the WebSocket. Text messages are JSON, checked field by field;
 * values travel as binary frames. One file, imported by both ends.
 */
export const BRIDGE_PROTOCOL = 7;
/** Longest value of a stream. */
export const MOST_STREAM_BYTES = 1 << 20;
/** Longest text message that is read. */
export const MOST_TEXT_BYTES = 8 << 20;
/** An image that an overlay shows. */
export const IMAGE_MOST_BYTES = 64 << 20;
/** A file that a page elsewhere is made of. */
export const MEDIA_MOST_BYTES = 1 << 30;

export interface WireSetup {
  readonly id: string;
  readonly protocol: LampProtocol;
  readonly target: WireTarget;
  readonly priority: number;
  readonly sync: boolean;
}
export type FromDriver =
  | { readonly type: 'hello'; readonly protocol: number; readonly lease: string; readonly take: boolean }
  /** All that goes out from now on. A frame names its stream by its place in this list, and the list by its version. */
  | {
      readonly type: 'outlets';
      readonly version: number;
      /** Packets may leave this computer. */
      readonly armed: boolean;
      readonly wires: readonly WireSetup[];
      readonly streams: readonly StreamDeclaration[];
    }
  /** All pages that there are, and those of their documents that are new. */
  | {
      readonly type: 'pages';
      readonly all: readonly string[];
      readonly documents: readonly PageDocument[];
    }
  /** The lamp that is looked for, for the phones that look. */
  | { readonly type: 'sought'; readonly lamp: SoughtLamp | null }
  /** The night, as phones show it. */
  | { readonly type: 'night'; readonly night: PhoneNight }
  /** How the show stands, for a computer that stands by. */
  | Standing
  /** Where pages and more are published; only this machine's own window may say so. */
  | { readonly type: 'broker'; readonly setting: BrokerSetting }
  | LaserAsk;

/** How one stream is. */
export interface StreamState {
  readonly id: string;
  /** Values that went out. */
  readonly sent: number;
  /** Of late, a second. */
  readonly rate: number;
  readonly errors: number;
  /** How late the latest of late was sent, in ms after it was due. */
  readonly late: number;
  /** 1 while live values go out; less on the way to its safe state. */
  readonly live: number;
}

/** How what is said to another program is. */
export interface MessageState {
  /** Of its stream. */
  readonly id: string;
  readonly sent: number;
  readonly errors: number;
  /** Why nothing goes out, or null. */
  readonly trouble: string | null;
}

export interface WireState {
  readonly id: string;
  readonly packets: number;
  readonly errors: number;
  /** Why nothing goes out, or null. */
  readonly trouble: string | null;
  readonly address: string;
}
export interface ReceiverState {
  readonly address: string;
  readonly packets: number;
  readonly bad: number;
  readonly polls: number;
  readonly pulled: boolean;
  readonly largestGapMs: number;
}

export type ToDriver =
  | {
      readonly type: 'welcome';
      readonly protocol: number;
      readonly driving: boolean;
      /** The word in the addresses of pages; only this machine's own window is told it. */
      readonly key: string | null;
      readonly address: string;
      /** The word in the address of the phones' page; only this machine's own window is told it. */
      readonly phoneKey: string | null;
      /** Addresses by which other machines reach the server; none while it listens on this machine only. */
      readonly elsewhere: readonly string[];
    }
  | { readonly type: 'busy' }
  | { readonly type: 'need'; readonly media: readonly string[] }
  | {
      readonly type: 'state';
      readonly wires: readonly WireState[];
      readonly streams: readonly StreamState[];
      /** How often the sending thread had to be started again. */
      readonly restarts: number;
      readonly nodes: readonly ArtNode[];
      readonly receivers: Readonly<Record<LampProtocol, ReceiverState>>;
      /** How many show each page, and the first of them by name. */
      readonly pages: Readonly<Record<string, number>>;
      readonly watchers: readonly Watcher[];
      readonly relays: RelaysReport;
      /** Where OSC is heard. */ readonly osc: string;
      readonly messages: readonly MessageState[];
      /** What the OSC receiver heard that ships with us: the last number of each address, and how many came. */
      readonly heard: readonly (readonly [address: string, value: number, count: number])[];
      /** Desks that send to this computer, on each of their universes. */
      readonly desks: readonly DeskSeen[];
      /** Where they are heard, by protocol. */
      readonly desksAt: Readonly<Record<LampProtocol, string>>;
      readonly laser: LaserReport;
      /** Computers that stand by for this one. */
      readonly seconds: number;
    }
  /** Why something that was asked of the laser was not done; null: it was. */
  | { readonly type: 'laserSays'; readonly why: string | null }
  /** Numbers that came over the network, in their order. */
  | { readonly type: 'osc'; readonly messages: readonly (readonly [address: string, value: number])[] }
  /** Somebody pressed something on a phone, or the last phone is gone. */
  | {
      readonly type: 'phone';
      readonly act: PhoneAct;
      /** Which of the phones, from 1. */ readonly phone: number;
    }
  | { readonly type: 'refused'; readonly why: string };

const id = Joi.string().max(64).required();
const page = Joi.string().max(PAGE_ID_MOST).required();
const ms = Joi.number().min(0).max(3600000).required();
const base64 = Joi.string().base64().max(1000).allow(null).required();
const stream = Joi.object({
  id: Joi.string().max(200).required(),
  to: Joi.alternatives(
    Joi.object({
      kind: Joi.valid('wire').required(),
      wire: id,
      universe: Joi.number().integer().min(0).max(32767).required(),
    }),
    Joi.object({ kind: Joi.valid('page').required(), page }),
    Joi.object({ kind: Joi.valid('osc').required(), target: messageTarget }),
  ).required(),
  size: Joi.number().integer().min(1).max(MOST_STREAM_BYTES).required(),
  mostPerSecond: Joi.number().min(1).max(1000).required(),
  mode: Joi.valid('latest', 'ordered').required(),
  keepAlive: Joi.number().min(100).max(60000).allow(null).required(),
  safe: Joi.alternatives(
    Joi.object({ then: Joi.valid('hold').required() }),
    Joi.object({ then: Joi.valid('rest', 'dark').required(), afterMs: ms, overMs: ms }),
  ).required(),
  rest: base64,
  fates: base64,
  calm: base64,
});
const wires = Joi.array()
  .max(64)
  .items(
    Joi.object({
      id,
      protocol: Joi.valid(...LAMP_PROTOCOLS).required(),
      target: wireTarget,
      priority: Joi.number().integer().min(0).max(200).required(),
      sync: Joi.boolean().required(),
    }),
  )
  .required();
const fromDriver = Joi.alternatives().conditional('.type', {
  switch: [
    {
      is: 'hello',
      then: Joi.object({
        type: Joi.string(),
        protocol: Joi.number().integer().required(),
        lease: Joi.string().min(8).max(64).required(),
        take: Joi.boolean().required(),
      }),
    },
    {
      is: 'outlets',
      then: Joi.object({
        type: Joi.string(),
        version: Joi.number().integer().min(0).required(),
        armed: Joi.boolean().required(),
        wires,
        streams: Joi.array().max(STREAMS_MOST).items(stream).required(),
      }),
    },
    ...laserAsks,
    { is: 'broker', then: Joi.object({ type: Joi.string(), setting: brokerSetting }) },
    standing,
    { is: 'night', then: Joi.object({ type: Joi.string(), night: phoneNight.required() }) },
    { is: 'sought', then: Joi.object({ type: Joi.string(), lamp: soughtLamp.allow(null).required() }) },
    {
      is: 'pages',
      then: Joi.object({
        type: Joi.string(),
        all: Joi.array().max(PAGES_MOST).items(page).required(),
        documents: Joi.array().max(PAGES_MOST).items(pageDocument).required(),
      }),
    },
  ],
  otherwise: Joi.forbidden(),
});

/** Checks a text message from a driver; returns what is wrong instead of throwing: it came over a wire. */
export function parseFromDriver(text: string): FromDriver | { readonly type: 'bad'; readonly why: string } {
  if (text.length > MOST_TEXT_BYTES) return { type: 'bad', why: 'The message is too long.' };
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch {
    return { type: 'bad', why: 'The message is not JSON.' };
  }
  if (typeof raw !== 'object' || raw === null) return { type: 'bad', why: 'The message is not an object.' };
  const { error, value } = fromDriver.validate(raw, { convert: false });
  return error || value === undefined
    ? { type: 'bad', why: (error?.message ?? 'The message is empty.').slice(0, 200) }
    : (value as FromDriver);
}

/** Whether a binary frame from a driver has a shape that can be used, by the streams that it declared. */
export function isDriverFrame(
  bytes: Uint8Array,
  streams: readonly Pick<StreamDeclaration, 'size' | 'mode' | 'to'>[],
): boolean {
  if (bytes[0] === FRAME_BEAT) return bytes.length === 1;
  if (bytes.length < FRAME_HEAD) return false;
  if (bytes[0] === FRAME_LASER) {
    const size = bytes.length - FRAME_HEAD;
    return size % LASER_POINT_BYTES === 0 && size <= LASER_POINT_BYTES * POINTS_MOST;
  }
  if (bytes[0] === FRAME_VALUES) return isValues(bytes, streams);
  const declared = streams[bytes[2]! | (bytes[3]! << 8)],
    size = bytes.length - FRAME_HEAD;
  if (!declared) return false;
  if (bytes[0] === FRAME_VALUE) return declared.mode === 'latest' && size === declared.size;
  if (bytes[0] === FRAME_PACKET) return declared.to.kind === 'osc' && size === declared.size;
  return (
    bytes[0] === FRAME_EVENTS &&
    declared.mode === 'ordered' &&
    size > EVENTS_HEAD &&
    size <= declared.size &&
    (size - EVENTS_HEAD) % EVENT_BYTES === 0
  );
}

function isValues(
  bytes: Uint8Array,
  streams: readonly Pick<StreamDeclaration, 'size' | 'mode' | 'to'>[],
): boolean {
  const count = bytes[2]! | (bytes[3]! << 8);
  let at = FRAME_HEAD;
  for (let k = 0; k < count; k++) {
    if (at + VALUES_HEAD > bytes.length) return false;
    const declared = streams[bytes[at]! | (bytes[at + 1]! << 8)];
    if (declared?.mode !== 'latest' || declared.to.kind !== 'wire') return false;
    at += VALUES_HEAD + declared.size;
  }
  return at === bytes.length;
}
