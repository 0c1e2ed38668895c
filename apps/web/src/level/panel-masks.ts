/**
 * What of panels the level leaves free, pixel by pixel: their quads are drawn against the depth that the level's picture has left,
 * each adding a bit of its own, and the bits are read back. A mask is a little larger than its panel, so that the edges that one
 * sees are those of the painter.
 */
import {
  AddEquation,
  BufferAttribute,
  BufferGeometry,
  type Camera,
  Color,
  CustomBlending,
  DoubleSide,
  Mesh,
  OneFactor,
  Scene,
  ShaderMaterial,
  type WebGLRenderer,
} from 'three';
import type { ReadBack, Reading } from './read-back.ts';

/** A panel to be masked. */
export interface PanelQuad {
  element: string;
  /** Top left, top right and bottom left in the world, metres. */
  corners: readonly number[];
  /** As it is seen, x and y in turn, in the pixels of the viewer. */
  outline: readonly number[];
}

/** A mask: opaque where the panel is free. */
export interface PanelMask {
  canvas: OffscreenCanvas;
  /** Where it lies in the picture, pixels of the canvas that is painted on. */
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Bits of red, green and blue. */
const AT_ONCE = 24;
/** So much larger on each side than the panel is a mask, of its size; what is painted beyond that is cut. */
const MARGIN = 0.15;

const VERTEX = 'void main() { gl_Position = projectionMatrix * viewMatrix * vec4(position, 1.0); }';
const FRAGMENT = 'uniform vec3 bit; void main() { gl_FragColor = vec4(bit, 0.0); }';

/** Masks on their way. */
export interface ComingMasks {
  ready(): boolean;
  /** Waits where it must. */
  make(): ReadonlyMap<string, PanelMask>;
}

export class PanelMasks {
  private readonly scene = new Scene();
  private readonly quads: Mesh<BufferGeometry, ShaderMaterial>[] = [];
  private pixels = new Uint8Array(0);

  constructor() {
    this.scene.matrixWorldAutoUpdate = false;
  }

  /**
   * Orders the masks of panels. @param camera as the level was just drawn with, into the renderer's own canvas, whose depth is still
   * there. @param viewerWidth the width that outlines are given for; @param width of the canvas that is painted on.
   */
  begin(
    renderer: WebGLRenderer,
    back: ReadBack,
    camera: Camera,
    panels: readonly PanelQuad[],
    viewerWidth: number,
    width: number,
    height: number,
  ): ComingMasks {
    const readings: Reading[] = [];
    for (let from = 0; from < panels.length; from += AT_ONCE) {
      this.draw(renderer, camera, panels.slice(from, from + AT_ONCE));
      readings.push(back.whole(renderer.domElement.width, renderer.domElement.height));
    }
    return {
      ready: () => readings.at(-1)?.ready() ?? true,
      make: () => {
        const out = new Map<string, PanelMask>();
        for (const [batch, reading] of readings.entries()) {
          const { width: w, height: h } = reading;
          if (this.pixels.length < w * h * 4) this.pixels = new Uint8Array(w * h * 4);
          reading.fetch(this.pixels);
          panels.slice(batch * AT_ONCE, (batch + 1) * AT_ONCE).forEach((panel, k) => {
            const mask = this.maskOf(panel, k, w, h, width / viewerWidth, width, height);
            if (mask) out.set(panel.element, mask);
          });
        }
        return out;
      },
    };
  }

  /** Each panel in its own bit. */
  private draw(renderer: WebGLRenderer, camera: Camera, panels: readonly PanelQuad[]): void {
    panels.forEach(({ corners }, k) => {
      this.quad(k).geometry.setAttribute('position', new BufferAttribute(grown(corners), 3));
    });
    this.quads.forEach((quad, k) => {
      quad.visible = k < panels.length;
    });
    const before = renderer.getClearColor(new Color());
    renderer.autoClear = false;
    renderer.setClearColor(0x000000);
    renderer.clear(true, false, false);
    renderer.render(this.scene, camera);
    renderer.autoClear = true;
    renderer.setClearColor(before);
  }

  private quad(k: number): Mesh<BufferGeometry, ShaderMaterial> {
    const known = this.quads[k];
    if (known) return known;
    const bit = [0, 0, 0];
    bit[k >> 3] = 2 ** (k & 7) / 255;
    const material = new ShaderMaterial({
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      uniforms: { bit: { value: bit } },
      depthWrite: false,
      side: DoubleSide,
      blending: CustomBlending,
      blendEquation: AddEquation,
      blendSrc: OneFactor,
      blendDst: OneFactor,
      toneMapped: false,
      // What lies on a wall lies before it.
      polygonOffset: true,
      polygonOffsetFactor: -1,
      polygonOffsetUnits: -8,
    });
    const geometry = new BufferGeometry();
    geometry.setIndex([0, 2, 1, 1, 2, 3]);
    const made = new Mesh(geometry, material);
    made.frustumCulled = false;
    made.matrixAutoUpdate = false;
    this.scene.add(made);
    this.quads.push(made);
    return made;
  }

  /** The part of the picture about a panel, with what is free opaque. */
  private maskOf({ outline }: PanelQuad, k: number, w: number, h: number, scale: number, width: number, height: number): PanelMask | null {
    const [xs, ys] = [outline.filter((_, i) => i % 2 === 0), outline.filter((_, i) => i % 2 === 1)];
    const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)].map((v) => v * scale) as [
      number,
      number,
      number,
      number,
    ];
    const [padX, padY] = [(right - left) * MARGIN + 4, (bottom - top) * MARGIN + 4];
    // Whole pixels of the renderer's canvas.
    const [kx, ky] = [w / width, h / height];
    const x0 = Math.max(0, Math.floor((left - padX) * kx));
    const x1 = Math.min(w, Math.ceil((right + padX) * kx));
    const y0 = Math.max(0, Math.floor((top - padY) * ky));
    const y1 = Math.min(h, Math.ceil((bottom + padY) * ky));
    if (x1 <= x0 || y1 <= y0) return null;
    const canvas = new OffscreenCanvas(x1 - x0, y1 - y0);
    const context = canvas.getContext('2d');
    if (!context) return null;
    const image = context.createImageData(canvas.width, canvas.height);
    const words = new Uint32Array(image.data.buffer);
    const bit = 1 << (k & 7);
    const channel = k >> 3;
    for (let y = y0; y < y1; y++) {
      // The renderer's rows go up.
      let from = ((h - 1 - y) * w + x0) * 4 + channel;
      let to = (y - y0) * canvas.width;
      for (let x = x0; x < x1; x++, from += 4) words[to++] = (this.pixels[from] as number) & bit ? 0xffffffff : 0;
    }
    context.putImageData(image, 0, 0);
    return { canvas, x: x0 / kx, y: y0 / ky, width: canvas.width / kx, height: canvas.height / ky };
  }

  dispose(): void {
    for (const { geometry, material } of this.quads) {
      geometry.dispose();
      material.dispose();
    }
  }
}

/** A panel's four corners in the world, grown by the margin on each side. */
function grown(corners: readonly number[]): Float32Array {
  const out = new Float32Array(12);
  for (let axis = 0; axis < 3; axis++) {
    const o = corners[axis] as number;
    const [r, d] = [(corners[3 + axis] as number) - o, (corners[6 + axis] as number) - o];
    for (const [k, u, v] of [
      [0, -MARGIN, -MARGIN],
      [1, 1 + MARGIN, -MARGIN],
      [2, -MARGIN, 1 + MARGIN],
      [3, 1 + MARGIN, 1 + MARGIN],
    ] as const)
      out[k * 3 + axis] = o + u * r + v * d;
  }
  return out;
}
