/** Paints panels on a canvas of their own and lays them over the picture, less what the level covers. */
import type { PanelItem } from '@foreshore/core';
import type { PanelMask } from './panel-masks.ts';

type Target = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;

/** What `paintCanvas` asks for panels. */
export interface Layers {
  begin(panel: PanelItem): CanvasRenderingContext2D | null;
  end(element: string): void;
}

let shared: OffscreenCanvas | null = null;

/** @param masks of the panels that are not seen through everything, by their elements. */
export function panelLayers(target: Target, masks: ReadonlyMap<string, PanelMask>): Layers {
  const { width, height } = target.canvas;
  let layer: OffscreenCanvasRenderingContext2D | null = null;
  let mask: PanelMask | undefined;
  return {
    begin(panel) {
      mask = panel.through ? undefined : masks.get(panel.element);
      if (!mask) return null;
      if (!shared || shared.width < width || shared.height < height)
        shared = new OffscreenCanvas(Math.max(width, shared?.width ?? 0), Math.max(height, shared?.height ?? 0));
      layer = shared.getContext('2d');
      if (!layer) return null;
      layer.setTransform(1, 0, 0, 1, 0, 0);
      layer.globalAlpha = 1;
      layer.clearRect(mask.x - 1, mask.y - 1, mask.width + 2, mask.height + 2);
      // Nothing outside of the mask is kept, so nothing there is painted.
      layer.save();
      layer.beginPath();
      layer.rect(mask.x, mask.y, mask.width, mask.height);
      layer.clip();
      return layer as unknown as CanvasRenderingContext2D;
    },
    end() {
      if (!layer || !mask) return;
      const { canvas, x, y, width: w, height: h } = mask;
      layer.setTransform(1, 0, 0, 1, 0, 0);
      layer.globalAlpha = 1;
      layer.globalCompositeOperation = 'destination-in';
      layer.drawImage(canvas, x, y, w, h);
      layer.globalCompositeOperation = 'source-over';
      layer.restore();
      target.setTransform(1, 0, 0, 1, 0, 0);
      target.globalAlpha = 1;
      target.save();
      target.beginPath();
      target.rect(x, y, w, h);
      target.clip();
      target.drawImage(layer.canvas, 0, 0);
      target.restore();
      layer = null;
      mask = undefined;
    },
  };
}
