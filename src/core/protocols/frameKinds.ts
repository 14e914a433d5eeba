import { POINT } from '../laser/points';

/** Binary frames between browser and bridge, apart from how messages are checked: pages need these alone. */

/** Kinds of binary frames: the first byte. */
export const FRAME_VALUE = 1;
export const FRAME_EVENTS = 2;
export const FRAME_RECEIVED = 3;
export const FRAME_BEAT = 4;
/** One packet to another program. */
export const FRAME_PACKET = 5;
/** What desks send on a universe, for the driver. */
export const FRAME_DESK = 6;
/** Values of several streams to wires at once: a message costs more than what is in it. */
export const FRAME_VALUES = 7;

/** A frame of the laser: marks where others have their stream's place, and then of each point x, y, red, green, blue in 32 bits. */
export const FRAME_LASER = 8;
export const LASER_POINT_BYTES = 4 * POINT;
/** What the mirrors of the projector that ships with us drew. */
export const FRAME_SEEN = 9;

/** `kind, 0, the stream's place (u16), version of the list (u32), sent at (f64, the driver's clock in ms)`, then the value. */
export const FRAME_HEAD = 16;
/** `kind, protocol, universe (u16), packets (u32), sent at (f64: echoes the driver's clock)`, then 512 channels; several in one message. */
export const RECEIVED_HEAD = 16;
export const RECEIVED_BYTES = RECEIVED_HEAD + 512;

/** Before each value of {@link FRAME_VALUES}: `its stream's place (u16), 0 (u16)`. Their number stands where a frame has its stream's place. */
export const VALUES_HEAD = 4;
/** `kind, 1 while a desk is heard there, universe (u16)`, then 512 channels. */
export const DESK_HEAD = 4;
export const DESK_BYTES = DESK_HEAD + 512;
/** The name under which a desk's channel moves a control by hand. @param universe @param channel - from 0 */
export const deskAddress = (universe: number, channel: number): string =>
  `/desk/${universe + 1}/${channel + 1}`;

/** Writes the head of a frame. Allocates nothing. */
export function writeHead(view: DataView, kind: number, place: number, version: number, at: number): void {
  view.setUint8(0, kind);
  view.setUint8(1, 0);
  view.setUint16(2, place, true);
  view.setUint32(4, version, true);
  view.setFloat64(8, at, true);
}
