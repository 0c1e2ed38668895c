/** Paints a runtime's frame on 2D canvases: all of it on one, or each panel on a texture of its own. */
import { drawList, drawPanelsApart, PanelAt } from '@foreshore/core';
import { type CanvasPictures, paintCanvas } from '@foreshore/paint';
import type { Runtime } from './runtime.ts';

type Context = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;
const NO_PICTURES: CanvasPictures = () => undefined;

/**
 * Paints the whole frame, panels as outlines seen aslant: the level does not cover them.
 * @param context of a canvas as large as the runtime's picture, cleared. @param pictures decoded pictures by the hash of their bytes.
 * @param moving texts are copied from pictures of them, on whole pixels, which is faster where there is no graphics card.
 */
export function paint(runtime: Runtime, context: Context, pictures: CanvasPictures = NO_PICTURES, moving = false): void {
  paintCanvas(context as CanvasRenderingContext2D, drawList(runtime.solver), 1, pictures, null, moving ? 'moving' : 'filled');
}

/** A panel as a quad of the world: what it is called, its four corners, and a texture with what lies on it. */
export interface PanelQuad {
  id: string;
  /** Top left, top right, bottom left and bottom right, in the world, metres; the front is the side from which these run clockwise. */
  corners: Float64Array;
  canvas: OffscreenCanvas;
  /** Counts the times that its picture changed. */
  version: number;
}

/** Panels as textured quads, so that the game's own depth covers them; all else on a canvas over the picture. */
export class Panels {
  private readonly known = new Map<string, PanelQuad & { painted: string }>();
  /** @param density texels for a design pixel. */
  constructor(
    private readonly runtime: Runtime,
    private readonly density = 2,
  ) {}

  /** Paints all but the panels on the canvas, and brings the textures of the panels up to date. Gives the panels that are shown. */
  paint(context: Context, pictures: CanvasPictures = NO_PICTURES, moving = false): PanelQuad[] {
    const { solver } = this.runtime;
    const { rest, panels } = drawPanelsApart(solver);
    paintCanvas(context as CanvasRenderingContext2D, rest, 1, pictures, null, moving ? 'moving' : 'filled');
    return panels.map(({ row, panel, items }) => {
      const at = panel * PanelAt.Stride;
      const p = (k: number) => solver.f.panels[at + k] as number;
      const [width, height] = [p(PanelAt.WidthPx), p(PanelAt.HeightPx)];
      const id = solver.c.ids[row] as string;
      let quad = this.known.get(id);
      if (!quad) {
        const canvas = new OffscreenCanvas(Math.max(1, Math.round(width * this.density)), Math.max(1, Math.round(height * this.density)));
        this.known.set(id, (quad = { id, corners: new Float64Array(12), canvas, version: 0, painted: '' }));
      }
      for (let corner = 0; corner < 4; corner++)
        for (let k = 0; k < 3; k++)
          quad.corners[corner * 3 + k] =
            p(PanelAt.Origin + k) +
            ((corner & 1 ? p(PanelAt.Right + k) * width : 0) + (corner & 2 ? p(PanelAt.Down + k) * height : 0)) / p(PanelAt.PxPerM);
      const now = JSON.stringify(items, (_, value: unknown) => (ArrayBuffer.isView(value) ? undefined : value));
      if (now === quad.painted) return quad;
      quad.painted = now;
      quad.version++;
      const texture = quad.canvas.getContext('2d') as OffscreenCanvasRenderingContext2D;
      texture.clearRect(0, 0, quad.canvas.width, quad.canvas.height);
      paintCanvas(
        texture as unknown as CanvasRenderingContext2D,
        { space: 'screen', widthPx: width, heightPx: height, items },
        this.density,
        pictures,
      );
      return quad;
    });
  }
}
