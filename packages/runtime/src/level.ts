/** The level as a game has it: nodes that it moves, and rays that it casts. */
import type { Hit, Level, Vec3 } from '@foreshore/core';
import type { FeedValue } from '@foreshore/document/types';
import type { BundleLevel } from './bundle.ts';

/**
 * The first surface along a ray within `maxM` metres: how far, and the name of the node; null where there is none. The direction has
 * length 1. The arrays are the runtime's own.
 */
export type CastRay = (origin: Readonly<Vec3>, direction: Readonly<Vec3>, maxM: number) => { distanceM: number; node?: string } | null;

/** Surfaces of the thing itself, that a sight line passes one after another. */
const MOST_PASSED = 8;
/** A sight line ends so far before its end, metres, and goes on so far behind what it passes. */
const SHORT_M = 0.02;
const BEYOND_M = 1e-3;
const NOTHING: Readonly<Record<string, FeedValue>> = {};

export class GameLevel implements Level {
  readonly nodeIds: readonly string[];
  readonly nodeMoves: Uint8Array;
  readonly nodeProperties: readonly Readonly<Record<string, FeedValue>>[];
  readonly parentOf: Int32Array;
  readonly clipNames: readonly string[] = [];
  readonly clipDurationsS: readonly number[] = [];
  readonly worldMatrices: Float64Array;
  private readonly indices: ReadonlyMap<string, number>;
  private readonly from: Vec3 = [0, 0, 0];
  private readonly way: Vec3 = [0, 0, 0];

  constructor(
    level: BundleLevel,
    private readonly cast: CastRay | null,
  ) {
    this.nodeIds = level.nodeIds;
    this.nodeMoves = Uint8Array.from(level.moves);
    this.parentOf = Int32Array.from(level.parentOf);
    this.nodeProperties = level.nodeIds.map((_, node) => level.properties[node] ?? NOTHING);
    this.indices = new Map(level.nodeIds.map((id, node) => [id, node]));
    this.worldMatrices = new Float64Array(level.nodeIds.length * 16);
    for (const [node, matrix] of Object.entries(level.matrices)) this.worldMatrices.set(matrix, Number(node) * 16);
  }

  nodeIndex(id: string): number {
    return this.indices.get(id) ?? -1;
  }
  poses(): Float64Array {
    return this.worldMatrices;
  }
  castRay(origin: Vec3, direction: Vec3, maxM: number, hit: Hit): boolean {
    const met = this.cast?.(origin, direction, maxM);
    if (!met || !(met.distanceM <= maxM)) return false;
    hit.distanceM = met.distanceM;
    hit.node = met.node === undefined ? -1 : this.nodeIndex(met.node);
    for (let k = 0; k < 3; k++) hit.position[k] = (origin[k] as number) + met.distanceM * (direction[k] as number);
    return true;
  }
  sightline(fromX: number, fromY: number, fromZ: number, toX: number, toY: number, toZ: number, through?: Uint8Array | null): number {
    const { from, way, cast } = this;
    if (!cast) return -1;
    way[0] = toX - fromX;
    way[1] = toY - fromY;
    way[2] = toZ - fromZ;
    const length = Math.hypot(way[0], way[1], way[2]);
    let left = length - SHORT_M;
    if (!(left > 0)) return -1;
    for (let k = 0; k < 3; k++) (way[k] as number) /= length;
    from[0] = fromX;
    from[1] = fromY;
    from[2] = fromZ;
    for (let passed = 0; passed < MOST_PASSED; passed++) {
      const met = cast(from, way, left);
      if (!met || met.distanceM >= left) return -1;
      const node = met.node === undefined ? -1 : this.nodeIndex(met.node);
      // What the game names otherwise than the level blocks as well; it has no row to be told by.
      if (node < 0 || !through?.[node]) return Math.max(node, 0);
      const by = met.distanceM + BEYOND_M;
      for (let k = 0; k < 3; k++) (from[k] as number) += by * (way[k] as number);
      left -= by;
    }
    return -1;
  }
  /** By nine rays: the corners, the middles of the edges and the middle of the parallelogram. */
  nearestShare(eyeX: number, eyeY: number, eyeZ: number, corners: ArrayLike<number>): number {
    if (!this.cast) return 1;
    let least = 1;
    const c = (k: number) => corners[k] as number;
    for (let u = 0; u <= 1; u += 0.5)
      for (let v = 0; v <= 1; v += 0.5) {
        for (let k = 0; k < 3; k++)
          this.way[k] = c(k) + u * (c(3 + k) - c(k)) + v * (c(6 + k) - c(k)) - (k === 0 ? eyeX : k === 1 ? eyeY : eyeZ);
        const length = Math.hypot(...this.way);
        for (let k = 0; k < 3; k++) (this.way[k] as number) /= length;
        this.from[0] = eyeX;
        this.from[1] = eyeY;
        this.from[2] = eyeZ;
        const met = this.cast(this.from, this.way, length);
        if (met && met.distanceM < least * length) least = met.distanceM / length;
      }
    return least;
  }
  surfaceOf(): null {
    return null;
  }
  colourAt(_origin: Vec3, _direction: Vec3, out: Vec3): Vec3 {
    return out;
  }
}
