/** What a crosshair is aimed with, where that is not at the eye: where its own ray stops short. */
import type { CrosshairAim } from '@foreshore/document/types';
import { aimThrough, BEYOND_M, MOST_M, MOST_PASSED } from './aim-ray.ts';
import { ON_NODE } from './compiled.ts';
import { type Level, makeHit } from './level.ts';
import type { SolveContext } from './solve-context.ts';
import type { Vec3 } from './spaces/pose.ts';

const hit = makeHit();
const from: Vec3 = [0, 0, 0];
const way: Vec3 = [0, 0, 0];
const tool: Vec3 = [0, 0, 0];

/** What a tool's ray ends at so much before is what the crosshair is on, metres. */
const SAME_M = 0.02;

/**
 * Where the ray of a crosshair's tool stops short of what the view's ray meets, into `f.toolStops` and `f.toolNode`. The tool's own node,
 * where it stands on one, stops nothing. Allocates nothing.
 */
export function findTool(ctx: Pick<SolveContext, 'a' | 'c' | 'f'>, k: number, aim: CrosshairAim): void {
  const { c, f } = ctx;
  const { level } = c;
  f.toolStops[k * 3] = Number.NaN;
  f.toolNode[k] = -1;
  if (!aim.tool || !level) return;
  const start = aim.tool.from;
  let ownNode = -1;
  if (start.by === 'offset') {
    const { rotation } = f;
    for (let i = 0; i < 3; i++)
      tool[i] =
        (f.eye[i] as number) +
        start.rightM * (rotation[i] as number) +
        start.upM * (rotation[3 + i] as number) -
        start.aheadM * (rotation[6 + i] as number);
  } else {
    const row = c.anchorIds.indexOf(start.anchor);
    if (row < 0 || c.anchorFault[row]) return;
    for (let i = 0; i < 3; i++) tool[i] = c.anchorWorld[row * 3 + i] as number;
    if (c.anchorKind[row] === ON_NODE) ownNode = c.anchorFirst[row] as number;
  }
  aimThrough(ctx, c.aims[k] as number, from, way);
  const seenM = level.castRay(from, way, MOST_M, hit) ? hit.distanceM : MOST_M;
  for (let i = 0; i < 3; i++) {
    way[i] = from[i as 0] + seenM * way[i as 0] - tool[i as 0];
    from[i] = tool[i as 0];
  }
  const farM = Math.hypot(way[0], way[1], way[2]);
  if (!(farM > SAME_M)) return;
  for (let i = 0; i < 3; i++) way[i as 0] /= farM;
  let goneM = 0;
  for (let passed = 0; passed < MOST_PASSED; passed++) {
    if (!level.castRay(from, way, farM - SAME_M - goneM, hit)) return;
    if (ownNode < 0 || !isBelow(level, hit.node, ownNode)) {
      f.toolNode[k] = hit.node;
      for (let i = 0; i < 3; i++) f.toolStops[k * 3 + i] = from[i as 0] + hit.distanceM * way[i as 0];
      return;
    }
    const by = hit.distanceM + BEYOND_M;
    goneM += by;
    if (farM - SAME_M - goneM <= 0) return;
    for (let i = 0; i < 3; i++) from[i as 0] += by * way[i as 0];
  }
}

/** Whether a node is another, or hangs on it. */
function isBelow({ parentOf }: Level, node: number, top: number): boolean {
  for (let at = node; at >= 0; at = parentOf[at] as number) if (at === top) return true;
  return false;
}
