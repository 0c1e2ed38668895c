/**
 * What was drawn, read back without waiting for it: the copy is ordered behind the drawing, and fetched once it has been made. Where
 * nothing but the processor draws, a picture takes as long as a page may be silent.
 */

/** Pixels on their way: four bytes each, row by row. */
export interface Reading {
  readonly width: number;
  readonly height: number;
  /** Whether they can be fetched without waiting. */
  ready(): boolean;
  /** Fetches them, once; waits where it must. */
  fetch(into: Uint8Array | Uint8ClampedArray): void;
}

/** So many buffers are kept; sizes that are not drawn any more go first. */
const MOST_FREE = 6;

/** What is not said to be there after so long is waited for. */
const MOST_MS = 10_000;

export class ReadBack {
  private readonly gl: WebGL2RenderingContext;
  /** Counts contexts: what was made in an earlier one is not there any more. */
  private context = 0;
  /** Buffers that hold nothing that is still to be fetched, and their size in bytes. */
  private readonly free: { buffer: WebGLBuffer; bytes: number }[] = [];
  private reduced: { frame: WebGLFramebuffer; pixels: WebGLRenderbuffer; width: number; height: number } | null = null;

  constructor(gl: WebGL2RenderingContext) {
    this.gl = gl;
  }

  /** The canvas as it is drawn so far, its lowest row first. */
  whole(width: number, height: number): Reading {
    return this.take(width, height);
  }

  /** The canvas as it is drawn so far, brought to another size, its topmost row first. */
  scaled(fromWidth: number, fromHeight: number, width: number, height: number): Reading {
    const { gl } = this;
    const { frame } = this.reducedTo(width, height);
    gl.bindFramebuffer(gl.READ_FRAMEBUFFER, null);
    gl.bindFramebuffer(gl.DRAW_FRAMEBUFFER, frame);
    gl.blitFramebuffer(0, 0, fromWidth, fromHeight, 0, height, width, 0, gl.COLOR_BUFFER_BIT, gl.LINEAR);
    gl.bindFramebuffer(gl.READ_FRAMEBUFFER, frame);
    const reading = this.take(width, height);
    gl.bindFramebuffer(gl.READ_FRAMEBUFFER, null);
    gl.bindFramebuffer(gl.DRAW_FRAMEBUFFER, null);
    return reading;
  }

  private reducedTo(width: number, height: number): NonNullable<ReadBack['reduced']> {
    const { gl } = this;
    if (this.reduced?.width === width && this.reduced.height === height) return this.reduced;
    this.forget();
    const made = { frame: gl.createFramebuffer(), pixels: gl.createRenderbuffer(), width, height };
    gl.bindRenderbuffer(gl.RENDERBUFFER, made.pixels);
    gl.renderbufferStorage(gl.RENDERBUFFER, gl.RGBA8, width, height);
    gl.bindRenderbuffer(gl.RENDERBUFFER, null);
    gl.bindFramebuffer(gl.DRAW_FRAMEBUFFER, made.frame);
    gl.framebufferRenderbuffer(gl.DRAW_FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.RENDERBUFFER, made.pixels);
    this.reduced = made;
    return made;
  }

  private forget(): void {
    this.gl.deleteFramebuffer(this.reduced?.frame ?? null);
    this.gl.deleteRenderbuffer(this.reduced?.pixels ?? null);
    this.reduced = null;
  }

  private take(width: number, height: number): Reading {
    const { gl } = this;
    const bytes = width * height * 4;
    const at = this.free.findIndex((one) => one.bytes === bytes);
    const own = at < 0 ? { buffer: gl.createBuffer(), bytes } : (this.free.splice(at, 1)[0] as (typeof this.free)[number]);
    gl.bindBuffer(gl.PIXEL_PACK_BUFFER, own.buffer);
    if (at < 0) gl.bufferData(gl.PIXEL_PACK_BUFFER, bytes, gl.STREAM_READ);
    gl.readPixels(0, 0, width, height, gl.RGBA, gl.UNSIGNED_BYTE, 0);
    gl.bindBuffer(gl.PIXEL_PACK_BUFFER, null);
    const fence = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    gl.flush();
    let there = false;
    const until = performance.now() + MOST_MS;
    const { context } = this;
    const release = (): void => {
      // What belonged to a context that was lost is gone with it.
      if (context !== this.context) return;
      gl.deleteSync(fence);
      this.free.push(own);
      for (const old of this.free.splice(0, Math.max(0, this.free.length - MOST_FREE))) gl.deleteBuffer(old.buffer);
    };
    return {
      width,
      height,
      ready: () => {
        there ||= !fence || performance.now() > until || gl.clientWaitSync(fence, 0, 0) !== gl.TIMEOUT_EXPIRED;
        return there;
      },
      fetch: (into) => {
        gl.bindBuffer(gl.PIXEL_PACK_BUFFER, own.buffer);
        gl.getBufferSubData(gl.PIXEL_PACK_BUFFER, 0, into, 0, bytes);
        gl.bindBuffer(gl.PIXEL_PACK_BUFFER, null);
        release();
      },
    };
  }

  /** The context is another one: nothing of the old one is there. */
  reset(): void {
    this.context++;
    this.free.length = 0;
    this.reduced = null;
  }
}
