/** The frames at whose edges something stands where its anchor is outside of them, for one viewer. */
import type { Element, Viewer } from '@foreshore/document/types';
import type { Compiled } from './compiled.ts';
import type { Projection } from './spaces/lens.ts';
import { fitScale } from './spaces/screen.ts';
import type { EyeView } from './spaces/sight.ts';

type EdgeFormName = NonNullable<Element['place']['edge']>['form'];

/** Half of an arrow's width, for its length. */
export const ARROW_HALF = 0.62;
/** So far inside of the frame an anchor comes before its element is at the edge no more, design pixels. */
const EDGE_LEAVE_PX = 12;

export enum EdgeForm {
  Rectangle = 0,
  Ellipse = 1,
  Rounded = 2,
  /** About the middle of the view; the sides only keep its boxes in the frame. */
  Ring = 3,
}
const FORMS = {
  rectangle: EdgeForm.Rectangle,
  ellipse: EdgeForm.Ellipse,
  rounded: EdgeForm.Rounded,
  ring: EdgeForm.Ring,
} as const satisfies Record<EdgeFormName, EdgeForm>;
/** Where a frame does not say it, design pixels. */
export const EDGE_RADIUS_PX = { rounded: 160, ring: 300 } as const;

/** Columns of `Arranged.edges`: the frame's sides, pixels. */
export enum EdgeAt {
  Left = 0,
  Top = 1,
  Right = 2,
  Bottom = 3,
  /** Its `EdgeForm`. */
  Form = 4,
  /** How far inside of it an anchor is inside again, pixels. */
  LeavePx = 5,
  WithinM = 6,
  /** Room for its arrow to either side, pixels. */
  ArrowPx = 7,
  /** Of rounded corners, of a ring, pixels. */
  RadiusPx = 8,
  Stride = 9,
}

export interface Edges {
  /** The frame of each row of `Compiled.edged`, `EdgeAt.Stride` numbers each. */
  readonly edges: Float64Array;
  /** Which of them a floating row has; −1: none. */
  readonly edgeOf: Int32Array;
}

/** The frames at whose edges something stands where its anchor is outside of them. */
/** The part of the head's picture that both eyes of a headset see, far away; all of it on a screen. */
function seenByAll(frame: Projection, eyes: readonly EyeView[]): { left: number; top: number; right: number; bottom: number } {
  const seen = { left: 0, top: 0, right: frame.widthPx, bottom: frame.heightPx };
  for (const { projection: eye } of eyes) {
    const x = (px: number) => frame.centreX + ((px - eye.centreX) / eye.focalX) * frame.focalX;
    const y = (px: number) => frame.centreY + ((px - eye.centreY) / eye.focalY) * frame.focalY;
    seen.left = Math.max(seen.left, x(0));
    seen.right = Math.min(seen.right, x(eye.widthPx));
    seen.top = Math.max(seen.top, y(0));
    seen.bottom = Math.min(seen.bottom, y(eye.heightPx));
  }
  return seen;
}

/** What is left of a length between two insets; insets that leave nothing leave the place between them. */
function inside(from: number, to: number, before: number, after: number): [number, number] {
  if (before + after < to - from) return [from + before, to - after];
  const at = from + ((to - from) * before) / (before + after);
  return [at, at];
}

export function edgesFor(
  { edged, elements, floatingCount, document }: Compiled,
  viewer: Viewer,
  frame: Projection,
  eyes: readonly EyeView[],
): Edges {
  const seen = seenByAll(frame, eyes);
  const edges = new Float64Array(edged.length * EdgeAt.Stride);
  const edgeOf = new Int32Array(floatingCount).fill(-1);
  edged.forEach((row, k) => {
    const { place, fit: rule } = elements[row] as Element;
    if (!place.edge) return;
    const fit = fitScale(document.glass, viewer, rule, frame);
    const [l, t, r, b] = place.edge.insetPx.map((v) => v * fit) as [number, number, number, number];
    const [left, right] = inside(seen.left, seen.right, l, r);
    const [top, bottom] = inside(seen.top, seen.bottom, t, b);
    edges.set([left, top, right, bottom], k * EdgeAt.Stride);
    const { form, radiusPx } = place.edge;
    edges[k * EdgeAt.Stride + EdgeAt.Form] = FORMS[form];
    edges[k * EdgeAt.Stride + EdgeAt.RadiusPx] = (radiusPx ?? (form === 'ring' ? EDGE_RADIUS_PX.ring : EDGE_RADIUS_PX.rounded)) * fit;
    edges[k * EdgeAt.Stride + EdgeAt.LeavePx] = EDGE_LEAVE_PX * fit;
    edges[k * EdgeAt.Stride + EdgeAt.ArrowPx] = (place.edge.arrow?.sizePx ?? 0) * ARROW_HALF * fit;
    edges[k * EdgeAt.Stride + EdgeAt.WithinM] = place.edge.withinM ?? Number.POSITIVE_INFINITY;
    edgeOf[row] = k;
  });
  return { edges, edgeOf };
}
