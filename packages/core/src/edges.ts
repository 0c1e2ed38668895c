/** The frames at whose edges something stands where its anchor is outside of them, for one viewer. */
import type { Element, Viewer } from '@foreshore/document/types';
import type { Compiled } from './compiled.ts';
import type { Projection } from './spaces/lens.ts';
import { fitScale } from './spaces/screen.ts';

/** So far inside of the frame an anchor comes before its element is at the edge no more, design pixels. */
const EDGE_LEAVE_PX = 12;

/** Columns of `Arranged.edges`: the frame's sides, pixels. */
export enum EdgeAt {
  Left = 0,
  Top = 1,
  Right = 2,
  Bottom = 3,
  /** 1: the ellipse in it. */
  Ellipse = 4,
  /** How far inside of it an anchor is inside again, pixels. */
  LeavePx = 5,
  WithinM = 6,
  Stride = 8,
}

export interface Edges {
  /** The frame of each row of `Compiled.edged`, `EdgeAt.Stride` numbers each. */
  readonly edges: Float64Array;
  /** Which of them a floating row has; −1: none. */
  readonly edgeOf: Int32Array;
}

/** The frames at whose edges something stands where its anchor is outside of them. */
export function edgesFor({ edged, elements, floatingCount, document }: Compiled, viewer: Viewer, frame: Projection): Edges {
  const edges = new Float64Array(edged.length * EdgeAt.Stride);
  const edgeOf = new Int32Array(floatingCount).fill(-1);
  edged.forEach((row, k) => {
    const { place, fit: rule } = elements[row] as Element;
    if (!place.edge) return;
    const fit = fitScale(document.glass, viewer, rule, frame);
    const [l, t, r, b] = place.edge.insetPx.map((v) => v * fit) as [number, number, number, number];
    // Insets that leave nothing leave the middle between them.
    const { widthPx: w, heightPx: h } = frame;
    const across = l + r < w ? [l, w - r] : [(w * l) / (l + r), (w * l) / (l + r)];
    const down = t + b < h ? [t, h - b] : [(h * t) / (t + b), (h * t) / (t + b)];
    edges.set([across[0] as number, down[0] as number, across[1] as number, down[1] as number], k * EdgeAt.Stride);
    edges[k * EdgeAt.Stride + EdgeAt.Ellipse] = place.edge.form === 'ellipse' ? 1 : 0;
    edges[k * EdgeAt.Stride + EdgeAt.LeavePx] = EDGE_LEAVE_PX * fit;
    edges[k * EdgeAt.Stride + EdgeAt.WithinM] = place.edge.withinM ?? Number.POSITIVE_INFINITY;
    edgeOf[row] = k;
  });
  return { edges, edgeOf };
}
