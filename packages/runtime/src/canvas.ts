/** Paints a runtime's frame on a 2D canvas. */
import { drawList } from '@foreshore/core';
import { type CanvasPictures, paintCanvas } from '@foreshore/paint';
import type { Runtime } from './runtime.ts';

/**
 * @param context of a canvas as large as the runtime's picture, cleared. @param pictures decoded pictures by the hash of their bytes.
 * @param moving texts are copied from pictures of them, on whole pixels, which is faster where there is no graphics card.
 */
export function paint(
  runtime: Runtime,
  context: CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D,
  pictures: CanvasPictures = () => undefined,
  moving = false,
): void {
  paintCanvas(context as CanvasRenderingContext2D, drawList(runtime.solver), 1, pictures, null, moving);
}
