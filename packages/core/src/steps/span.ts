/**
 * Lines between two anchors: what of them is seen, and where the box on them lies. Between Range and View: the steps after it take the
 * place on the line for the anchor's.
 *
 * A line is cut at the near plane in the world, then at the frame (Liang and Barsky 1984), so that nothing of it mirrors. On the screen
 * 1/d runs straight along a straight line, which gives the depth of any place on it.
 */
import { At, SPAN_STRIDE } from '../frame.ts';
import type { SolveContext } from '../solve-context.ts';
import type { Camera } from './attach.ts';
import { Verdict } from './names.ts';

/** An end behind is cut so far in front of the near plane, metres. */
const BEFORE_M = 1e-4;
/** Both ends in the camera's space: right, up, and depth ahead. */
const ends = new Float64Array(6);
/** Both on the screen, and how much of the way between them is in the frame. */
const screen = new Float64Array(4);
const share = new Float64Array(2);

function endIn(camera: Camera, world: Float64Array, anchor: number, to: number): void {
  const { eye, rotation } = camera;
  const x = (world[anchor * 3] as number) - (eye[0] as number);
  const y = (world[anchor * 3 + 1] as number) - (eye[1] as number);
  const z = (world[anchor * 3 + 2] as number) - (eye[2] as number);
  for (let k = 0; k < 3; k++)
    ends[to + k] =
      ((rotation[k * 3] as number) * x + (rotation[k * 3 + 1] as number) * y + (rotation[k * 3 + 2] as number) * z) * (k === 2 ? -1 : 1);
}

/** Cuts the way from one end to the other at one side of the frame; false where nothing is left. */
function cut(start: number, by: number, least: number, most: number): boolean {
  if (by === 0) return start >= least && start <= most;
  const a = (least - start) / by;
  const b = (most - start) / by;
  share[0] = Math.max(share[0] as number, Math.min(a, b));
  share[1] = Math.min(share[1] as number, Math.max(a, b));
  return (share[0] as number) < (share[1] as number);
}

/** The share of the way between the two ends in the world that is seen at a share of the way on the screen. */
function alongWorld(u: number, orthographic: boolean): number {
  const first = ends[2] as number;
  const last = ends[5] as number;
  return orthographic ? u : (u * first) / (last - u * (last - first));
}

/** What of a line one camera sees, into `spanEnds`; false where it sees none. */
function seeLine({ c, f }: SolveContext, camera: Camera, k: number, view: number): boolean {
  const out = (view * c.spans.length + k) * SPAN_STRIDE;
  f.spanEnds[out] = Number.NaN;
  const { centreX, centreY, focalX, focalY, nearM, orthographic, widthPx, heightPx } = camera.projection;
  endIn(camera, c.anchorWorld, c.elementAnchor[c.spans[k] as number] as number, 0);
  endIn(camera, c.anchorWorld, c.spanTo[k] as number, 3);
  const least = nearM + BEFORE_M;
  const metres = Math.hypot(
    (ends[3] as number) - (ends[0] as number),
    (ends[4] as number) - (ends[1] as number),
    (ends[5] as number) - (ends[2] as number),
  );
  let from = 0;
  let to = 1;
  let ownFirst = 1;
  let ownLast = 1;
  if ((ends[2] as number) < least && (ends[5] as number) < least) return false;
  const t = (least - (ends[2] as number)) / ((ends[5] as number) - (ends[2] as number));
  if ((ends[2] as number) < least) {
    for (let i = 0; i < 3; i++) ends[i] = (ends[i] as number) + t * ((ends[3 + i] as number) - (ends[i] as number));
    ownFirst = 0;
    from = t;
  } else if ((ends[5] as number) < least) {
    for (let i = 0; i < 3; i++) ends[3 + i] = (ends[i] as number) + t * ((ends[3 + i] as number) - (ends[i] as number));
    ownLast = 0;
    to = t;
  }
  for (let end = 0; end < 2; end++) {
    const d = orthographic ? 1 : (ends[end * 3 + 2] as number);
    screen[end * 2] = centreX + (focalX * (ends[end * 3] as number)) / d;
    screen[end * 2 + 1] = centreY - (focalY * (ends[end * 3 + 1] as number)) / d;
  }
  share[0] = 0;
  share[1] = 1;
  const x = screen[0] as number;
  const y = screen[1] as number;
  const byX = (screen[2] as number) - x;
  const byY = (screen[3] as number) - y;
  if (!cut(x, byX, 0, widthPx) || !cut(y, byY, 0, heightPx)) return false;
  f.spanEnds[out] = x + (share[0] as number) * byX;
  f.spanEnds[out + 1] = y + (share[0] as number) * byY;
  f.spanEnds[out + 2] = x + (share[1] as number) * byX;
  f.spanEnds[out + 3] = y + (share[1] as number) * byY;
  f.spanEnds[out + 4] = share[0] === 0 ? ownFirst : 0;
  f.spanEnds[out + 5] = share[1] === 1 ? ownLast : 0;
  for (let end = 0; end < 2; end++) {
    const t = alongWorld(share[end] as number, orthographic);
    f.spanEnds[out + 6 + end] = metres * (from + t * (to - from));
    f.spanEnds[out + 8 + end] = (ends[2] as number) + t * ((ends[5] as number) - (ends[2] as number));
  }
  return true;
}

/** For rows from `from` to before `to`. */
export function runSpans(ctx: SolveContext, cameras: readonly Camera[], from: number, to: number): void {
  const { a, c, f } = ctx;
  const { spans } = c;
  for (let k = 0; k < spans.length; k++) {
    const i = spans[k] as number;
    if (i < from || i >= to) continue;
    for (let v = 0; v < cameras.length; v++) f.spanEnds[(v * spans.length + k) * SPAN_STRIDE] = Number.NaN;
    if (f.failed[i] !== Verdict.Shown) continue;
    const atMiddle = c.elements[i]?.place.span?.textAt === 'middle';
    for (let v = 0; v < cameras.length; v++) {
      const camera = cameras[v] as Camera;
      const { centreX, centreY, focalX, focalY, nearM, orthographic } = v === 0 ? a.projection : camera.projection;
      const at = (v * f.count + i) * At.Stride;
      const sees = seeLine(ctx, camera, k, v);
      if (atMiddle) {
        f.places[at + At.PointX] = Number.NaN;
        endIn(camera, c.anchorWorld, c.elementAnchor[i] as number, 0);
        endIn(camera, c.anchorWorld, c.spanTo[k] as number, 3);
        const depth = ((ends[2] as number) + (ends[5] as number)) / 2;
        f.places[at + At.DepthM] = depth;
        if (!(depth > nearM)) continue;
        const d = orthographic ? 1 : depth;
        f.places[at + At.PointX] = centreX + (focalX * ((ends[0] as number) + (ends[3] as number))) / 2 / d;
        f.places[at + At.PointY] = centreY - (focalY * ((ends[1] as number) + (ends[4] as number))) / 2 / d;
        f.places[at + At.UnitPx] = orthographic ? focalY : focalY / depth;
        continue;
      }
      // Its own end says then where it is: beside the frame, or behind.
      if (!sees) continue;
      const out = (v * spans.length + k) * SPAN_STRIDE;
      const half = ((share[0] as number) + (share[1] as number)) / 2;
      const depth = orthographic
        ? (ends[2] as number) + half * ((ends[5] as number) - (ends[2] as number))
        : 1 / (1 / (ends[2] as number) + half * (1 / (ends[5] as number) - 1 / (ends[2] as number)));
      f.places[at + At.PointX] = ((f.spanEnds[out] as number) + (f.spanEnds[out + 2] as number)) / 2;
      f.places[at + At.PointY] = ((f.spanEnds[out + 1] as number) + (f.spanEnds[out + 3] as number)) / 2;
      f.places[at + At.DepthM] = depth;
      f.places[at + At.UnitPx] = orthographic ? focalY : focalY / depth;
    }
  }
}
