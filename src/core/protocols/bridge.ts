import Joi from 'joi';
import { hostName } from './hostName';
import type { ArtNode } from './artnet';

/**
 * What browser and bridge say to each other over the WebSocket. Text messages are JSON, checked field by field;
 * values travel as binary frames. One file, imported by both ends.
 */
export const BRIDGE_PROTOCOL = 1;
/** Longest text message that is read. */
export const MOST_TEXT_BYTES = 1 << 20;
export const MEDIA_MOST_BYTES = 64 << 20;

export interface WireSetup {
  readonly id: string;
  readonly target:
    | { readonly kind: 'simulated' }
    | { readonly kind: 'network'; readonly host: string; readonly port: number };
  readonly rate: number;
  readonly keepAlive: number;
}
export interface OverlayPage {
  readonly id: string;
  readonly name: string;
  readonly kind: 'frame';
  readonly badge: string | null;
  /** Parameters in the order in which their numbers stand in a frame, with what they are at rest. */
  readonly parameters: readonly { readonly id: string; readonly rest: readonly number[] }[];
}

export type FromDriver =
  | { readonly type: 'hello'; readonly protocol: number; readonly lease: string; readonly take: boolean }
  | { readonly type: 'wires'; readonly wires: readonly WireSetup[]; readonly armed: boolean }
  | { readonly type: 'overlays'; readonly version: number; readonly overlays: readonly OverlayPage[] };

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
      readonly key: string;
      readonly address: string;
    }
  | { readonly type: 'busy' }
  | { readonly type: 'need'; readonly media: readonly string[] }
  | {
      readonly type: 'state';
      readonly wires: readonly WireState[];
      readonly nodes: readonly ArtNode[];
      readonly receiver: ReceiverState;
      readonly pages: Readonly<Record<string, number>>;
      /** Where OSC is heard. */ readonly osc: string;
    }
  /** A number that came over the network. */
  | { readonly type: 'osc'; readonly address: string; readonly value: number }
  | { readonly type: 'refused'; readonly why: string };

export interface ToPage {
  readonly type: 'overlay';
  readonly version: number;
  /** Null when the show has no such overlay (any more). */
  readonly overlay: OverlayPage | null;
  /** Place of its first number among a frame's numbers. */
  readonly at: number;
  /** Whether a control window drives now. */
  readonly live: boolean;
}

/** Numbers that an overlay takes in a frame. */
export function overlaySize(overlay: OverlayPage): number {
  return overlay.parameters.reduce((n, p) => n + p.rest.length, 0);
}

const id = Joi.string().max(64).required();
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
      is: 'wires',
      then: Joi.object({
        type: Joi.string(),
        armed: Joi.boolean().required(),
        wires: Joi.array()
          .max(64)
          .items(
            Joi.object({
              id,
              rate: Joi.number().min(1).max(44).required(),
              keepAlive: Joi.number().min(200).max(4000).required(),
              target: Joi.alternatives(
                Joi.object({ kind: Joi.valid('simulated').required() }),
                Joi.object({
                  kind: Joi.valid('network').required(),
                  host: hostName,
                  port: Joi.number().port().required(),
                }),
              ).required(),
            }),
          )
          .required(),
      }),
    },
    {
      is: 'overlays',
      then: Joi.object({
        type: Joi.string(),
        version: Joi.number().integer().min(0).required(),
        overlays: Joi.array()
          .max(100)
          .items(
            Joi.object({
              id,
              name: Joi.string().max(80).required(),
              kind: Joi.valid('frame').required(),
              badge: Joi.string()
                .pattern(/^[0-9a-f]{64}$/)
                .allow(null)
                .required(),
              parameters: Joi.array()
                .max(64)
                .items(Joi.object({ id, rest: Joi.array().min(1).max(3).items(Joi.number()).required() }))
                .required(),
            }),
          )
          .required(),
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
    ? { type: 'bad', why: error?.message ?? 'The message is empty.' }
    : (value as FromDriver);
}

/** Kinds of binary frames: the first byte. */
export const FRAME_DMX = 1;
export const FRAME_OVERLAY = 2;
export const FRAME_RECEIVED = 3;
export const FRAME_ARRIVALS = 4;

/** `kind, wire index, universe (u16), sent at (f64, the driver's clock in ms)`, then the channels. */
export const DMX_HEAD = 12;
export const DMX_FRAME_BYTES = DMX_HEAD + 512;
/** `kind, 1 while dark or coming back from it, overlay count (u16), version (u32), time (f64)`, then every overlay's numbers in order (f32). */
export const OVERLAY_HEAD = 16;
/** Events for parameters that take them: the head of an overlay frame with their count in place of the overlays'; then for each its time (f64), the place of the parameter's number (u32), and how much (f32). */
export const ARRIVAL_BYTES = 16;
export const ARRIVALS_MOST = 1024;
/** `kind, 0, universe (u16), packets (u32), sent at (f64: echoes the driver's clock)`, then 512 channels. */
export const RECEIVED_HEAD = 16;
export const RECEIVED_BYTES = RECEIVED_HEAD + 512;

/** Whether a binary frame from a driver has a shape that can be used. */
export function isDriverFrame(bytes: Uint8Array): boolean {
  if (bytes[0] === FRAME_DMX) return bytes.length === DMX_FRAME_BYTES;
  if (bytes[0] === FRAME_OVERLAY)
    return bytes.length >= OVERLAY_HEAD && bytes.length <= OVERLAY_HEAD + 4 * 20000 && bytes.length % 4 === 0;
  if (bytes[0] === FRAME_ARRIVALS)
    return (
      bytes.length > OVERLAY_HEAD &&
      bytes.length <= OVERLAY_HEAD + ARRIVALS_MOST * ARRIVAL_BYTES &&
      (bytes.length - OVERLAY_HEAD) % ARRIVAL_BYTES === 0
    );
  return false;
}
