/** What lies under a point of the picture: of the level, of the elements, and in the middle of the view. */
import { type Arranged, aimedAt, isSeen, makeHit, type Pose, paintedRows, type Solver, screenRay, within } from '@foreshore/core';
import { type Element, KINDS } from '@foreshore/document';
import type { LevelModel } from '@foreshore/level';
import { type Hover, useBench } from '../state/bench.ts';
import { outsideProjection } from './outside.ts';
import { nodeOfRow } from './rows.ts';

const REACH_M = 4000;
/** How far it is looked for what is aimed at, as far as a feed of it may reach. */
const AIM_M = 1000;

/** An element under a point. */
export interface Found {
  id: string;
  node: string | null;
}

/** What is looked at. */
export interface UnderHost {
  readonly model: LevelModel;
  readonly main: HTMLCanvasElement | null;
  arrangedFor(viewer: string): Arranged | null;
  frameOf(viewer: string): Solver | null;
  placeLevel(timeS: number): void;
  pose(): Pose;
  /** Where the view from outside is from. */
  outside(): Pose;
  /** Whether several pictures are shown, in which nothing can be pointed at. */
  showsWhole(): boolean;
}

export class UnderPoint {
  private readonly host: UnderHost;

  constructor(host: UnderHost) {
    this.host = host;
  }

  private arrangedNow(): Arranged | null {
    return this.host.arrangedFor(useBench.getState().viewer);
  }

  /** What lies under a point of the picture, given as shares of its width and height. */
  pick(u: number, v: number): Hover | null {
    const { outside } = useBench.getState();
    const arranged = this.arrangedNow();
    if (!arranged || !this.host.main || this.host.showsWhole()) return null;
    const projection = outside ? outsideProjection(this.host.main.width, this.host.main.height) : arranged.projection;
    const from = outside ? this.host.outside() : this.host.pose();
    const ray = screenRay(projection, from, u * projection.widthPx, v * projection.heightPx);
    this.host.placeLevel(useBench.getState().timeS);
    const hit = makeHit();
    if (!this.host.model.castRay(ray.origin, ray.direction, REACH_M, hit)) return null;
    return {
      x: u,
      y: v,
      position: hit.position,
      normal: hit.normal,
      node: this.host.model.nodeIds[hit.node] ?? '',
      moves: this.host.model.nodeMoves[hit.node] === 1,
      distanceM: hit.distanceM,
    };
  }

  /** What the middle of the view rests on, and where in the picture that is, as shares; null where no picture is there. */
  aimed(): { node: string | null; distanceM: number; u: number; v: number } | null {
    const arranged = this.arrangedNow();
    if (!arranged || this.host.showsWhole()) return null;
    const { centreX, centreY, widthPx, heightPx } = arranged.projection;
    this.host.placeLevel(useBench.getState().timeS);
    const met = aimedAt(this.host.model, this.host.pose(), AIM_M);
    return {
      node: met ? (this.host.model.nodeIds[met.node] ?? '') : null,
      distanceM: met?.distanceM ?? AIM_M,
      u: centreX / widthPx,
      v: centreY / heightPx,
    };
  }

  /** The front-most element under a point of the picture that is of a wanted sort; with its node, where it stands at many. */
  elementAt(u: number, v: number, wanted: (element: Element) => boolean = () => true): Found | null {
    const solver = this.host.frameOf(useBench.getState().viewer);
    if (!solver || useBench.getState().outside || this.host.showsWhole()) return null;
    const { c, a } = solver;
    const [x, y] = [u * a.projection.widthPx, v * a.projection.heightPx];
    let found = -1;
    // Back to front, as it is painted; the last one that is hit lies in front.
    for (const row of paintedRows(solver)) {
      const element = c.elements[row];
      if (!element || !KINDS[element.kind].hasBox || !isSeen(solver, row) || !wanted(element)) continue;
      if (within(solver, row, x, y)) found = row;
    }
    return found < 0 ? null : { id: c.sources[found] as string, node: nodeOfRow(c, found) };
  }
}
