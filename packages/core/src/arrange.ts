/**
 * What depends on the viewer and the language but not on the frame: the lens in pixels, the fit, the text of every
 * element as outlines, and all settings that steps need as one flat table in the viewer's own pixels.
 *
 * `rows` has `Row.Stride` numbers an element, so that a step finds an element's settings in two cache lines.
 */
import type { Element, Viewer } from '@foreshore/document';
import type { Compiled } from './compile.ts';
import { type Projection, projectionOf } from './spaces/lens.ts';
import { type Box, fitScale, pixelsPerDegree, safeBox } from './spaces/screen.ts';
import type { TextBlock, TextShaper } from './text.ts';

/** Columns of `rows`. An enum, because bundlers write its numbers into the loops that use it; exported constants would be looked up there each time. */
export enum Row {
  /** View: how far outside the frame the anchor may be to come in, and to stay in, pixels. */
  EnterPx = 0,
  StayPx = 1,
  /** Size: the natural em is `EmPx + EmM · (pixels per metre)`; one of the two is 0. */
  EmPx = 2,
  EmM = 3,
  LeastPx = 4,
  GreatestPx = 5,
  /** Size: the natural em below which the element does not come in, and does not stay in, pixels. */
  FloorPx = 6,
  FloorHeldPx = 7,
  /** Place: the offset in pixels, the own point and the whole box (plate included) in em, and 1 where it stays in the safe area. */
  OffsetX = 8,
  OffsetY = 9,
  OwnXEm = 10,
  OwnYEm = 11,
  BoxWEm = 12,
  BoxHEm = 13,
  Inside = 14,
  Stride = 16,
}

export interface Arranged {
  readonly compiled: Compiled;
  readonly viewer: Viewer;
  readonly projection: Projection;
  /** Pixels of the viewer for one design pixel. */
  readonly fit: number;
  readonly pixelsPerArcmin: number;
  readonly safe: Box;
  readonly blocks: readonly TextBlock[];
  readonly rows: Float64Array;
}

// Text is shaped in em, so one block serves every viewer and every later frame; an edited element is a new object.
const shaped = new WeakMap<TextShaper, WeakMap<Element, TextBlock>>();

function blockOf(element: Element, text: TextShaper): TextBlock {
  let blocks = shaped.get(text);
  if (!blocks) {
    blocks = new WeakMap();
    shaped.set(text, blocks);
  }
  let block = blocks.get(element);
  if (!block) {
    const { weight, align, lineHeight, wrapEm } = element.paint;
    block = text.shape({ text: element.text, weight, align, lineHeight, wrapEm });
    blocks.set(element, block);
  }
  return block;
}

/** @param projection stands in for the viewer's own lens, for instance while the bench looks from outside. */
export function arrange(
  compiled: Compiled,
  viewer: Viewer,
  text: TextShaper,
  projection: Projection = projectionOf(viewer.lens, viewer.widthPx, viewer.heightPx),
): Arranged {
  const blocks = compiled.elements.map((element) => blockOf(element, text));
  const fit = fitScale(compiled.document.glass, viewer.widthPx, viewer.heightPx);
  const pixelsPerArcmin = pixelsPerDegree(viewer) / 60;
  const rows = new Float64Array(compiled.count * Row.Stride);
  compiled.elements.forEach((element, i) => {
    writeRow(rows.subarray(i * Row.Stride, (i + 1) * Row.Stride), element, blocks[i] as TextBlock, fit, pixelsPerArcmin);
  });
  return { compiled, viewer, projection, fit, pixelsPerArcmin, safe: safeBox(viewer), blocks, rows };
}

function writeRow(row: Float64Array, { view, size, place, paint }: Element, block: TextBlock, fit: number, pixelsPerArcmin: number): void {
  row[Row.EnterPx] = view.outsidePx * fit;
  row[Row.StayPx] = (view.outsidePx + view.leavePx) * fit;
  row[Row.EmPx] = size.rule === 'screen' ? size.emPx * fit : size.rule === 'angle' ? size.emArcmin * pixelsPerArcmin : 0;
  row[Row.EmM] = size.rule === 'world' ? size.emM : 0;
  row[Row.LeastPx] = size.rule === 'world' ? size.leastPx * fit : 0;
  row[Row.GreatestPx] = size.rule === 'world' ? size.greatestPx * fit : Number.POSITIVE_INFINITY;
  row[Row.FloorPx] = size.hideBelowPx * fit;
  row[Row.FloorHeldPx] = (size.hideBelowPx - size.leavePx) * fit;
  const [padX, padY] = paint.plate?.padEm ?? [0, 0];
  const boxW = block.widthEm + 2 * padX;
  const boxH = block.heightEm + 2 * padY;
  row[Row.OffsetX] = place.offsetPx[0] * fit;
  row[Row.OffsetY] = place.offsetPx[1] * fit;
  row[Row.OwnXEm] = place.ownPoint[0] * boxW;
  row[Row.OwnYEm] = place.ownPoint[1] * boxH;
  row[Row.BoxWEm] = boxW;
  row[Row.BoxHEm] = boxH;
  row[Row.Inside] = place.stay === 'inside' ? 1 : 0;
}
