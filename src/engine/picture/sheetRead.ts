import { SHEET_HEIGHT, SHEET_WIDTH } from '../../core/lights';
import { SheetWriter } from '../memory/sheet';

/**
 * Reads small pictures back from the device without waiting for it: what was drawn is copied into a buffer there, and fetched once
 * the device says that it is done. Picture worker.
 */
export class SheetRead {
  readonly #writer: SheetWriter;
  readonly #pixels = new Uint8Array(4 * SHEET_WIDTH * SHEET_HEIGHT);
  #buffer: WebGLBuffer | null = null;
  #fence: WebGLSync | null = null;
  #of: WebGL2RenderingContext | null = null;

  constructor(memory: SharedArrayBuffer) {
    this.#writer = new SheetWriter(memory);
  }

  /** After a picture of {@link SHEET_WIDTH} × {@link SHEET_HEIGHT} was drawn. While the one before is on its way, this one is left out. */
  take(gl: WebGL2RenderingContext): void {
    if (this.#of !== gl || (this.#buffer && !gl.isBuffer(this.#buffer))) {
      // Another device, or the same one after it was lost.
      this.#of = gl;
      this.#fence = null;
      this.#buffer = gl.createBuffer();
      gl.bindBuffer(gl.PIXEL_PACK_BUFFER, this.#buffer);
      gl.bufferData(gl.PIXEL_PACK_BUFFER, this.#pixels.length, gl.STREAM_READ);
      gl.bindBuffer(gl.PIXEL_PACK_BUFFER, null);
    }
    if (this.#fence) return;
    gl.bindFramebuffer(gl.READ_FRAMEBUFFER, null);
    gl.bindBuffer(gl.PIXEL_PACK_BUFFER, this.#buffer);
    gl.readPixels(0, 0, SHEET_WIDTH, SHEET_HEIGHT, gl.RGBA, gl.UNSIGNED_BYTE, 0);
    gl.bindBuffer(gl.PIXEL_PACK_BUFFER, null);
    this.#fence = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    gl.flush();
  }
  /** Hands on what has arrived meanwhile. @returns whether anything had */
  fetch(gl: WebGL2RenderingContext): boolean {
    if (!this.#fence || this.#of !== gl) return false;
    const state = gl.clientWaitSync(this.#fence, 0, 0);
    if (state === gl.TIMEOUT_EXPIRED) return false;
    gl.deleteSync(this.#fence);
    this.#fence = null;
    if (state === gl.WAIT_FAILED) return false;
    gl.bindBuffer(gl.PIXEL_PACK_BUFFER, this.#buffer);
    gl.getBufferSubData(gl.PIXEL_PACK_BUFFER, 0, this.#pixels);
    gl.bindBuffer(gl.PIXEL_PACK_BUFFER, null);
    this.#writer.write(this.#pixels);
    return true;
  }
}
