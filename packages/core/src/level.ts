import type { Document, FeedValue } from '@foreshore/document/types';
import type { Vec3 } from './spaces/pose.ts';

/** What a ray met. Reused by the caller, so that casting allocates nothing. */
export interface Hit {
  distanceM: number;
  position: Vec3;
  /** Of length 1, on the side the ray came from. */
  normal: Vec3;
  node: number;
  /** It was met on its back, by the winding of its corners: the ray came from inside of a solid. */
  back: boolean;
}

/**
 * The level as the calculation sees it: named nodes that move, and surfaces that rays meet.
 * Matrices are column-major 4x4, node after node, in metres, +Y up.
 */
export interface Level {
  /** Unique ids of the nodes. */
  readonly nodeIds: readonly string[];
  /** 1 where an animation moves the node or one above it. */
  readonly nodeMoves: Uint8Array;
  /** What a node carries besides (glTF extras): numbers, texts and flags by name. */
  readonly nodeProperties: readonly Readonly<Record<string, FeedValue>>[];
  /** −1 where there is none of that id. */
  nodeIndex(id: string): number;
  /** The node above each, or −1. */
  readonly parentOf: Int32Array;
  readonly clipNames: readonly string[];
  /** Length of each animation clip in seconds. */
  readonly clipDurationsS: readonly number[];
  /** Places all nodes for one local time for each clip, seconds; returns the matrices, which are the level's own and change at the next call. */
  poses(clipTimesS: ArrayLike<number>): Float64Array;
  /** Where the nodes that move stand now, to be put back there by `putBack`, which is quicker than placing them again. A level that a game moves has none. */
  placed?(): Float64Array;
  putBack?(placed: Float64Array): void;
  /** The matrices as last placed. */
  readonly worldMatrices: Float64Array;
  /** The first surface along the ray within `maxM`, at the last poses. `direction` has length 1. */
  castRay(origin: Vec3, direction: Vec3, maxM: number, hit: Hit): boolean;
  /** The node that blocks the line, or −1. A sight line ends 2 cm before its end. @param through nodes that block nothing, 1 a node. */
  sightline(fromX: number, fromY: number, fromZ: number, toX: number, toY: number, toZ: number, through?: Uint8Array | null): number;
  /**
   * How near to the eye anything comes in the pyramid from there to a parallelogram: the share of the way, 0..1; 1 where nothing is.
   * @param corners its top left, top right and bottom left, nine numbers. @param through nodes that do not count.
   */
  nearestShare(eyeX: number, eyeY: number, eyeZ: number, corners: ArrayLike<number>, through?: Uint8Array | null): number;
  /** A node's own surfaces, without those of the nodes below it; null where it has none. */
  surfaceOf(node: number): Surface | null;
  /** Colour seen along a ray, sRGB 0..255: base colour by baked shade, haze and sky. */
  colourAt(origin: Vec3, direction: Vec3, out: Vec3): Vec3;
}

/** The surfaces of one node, at the last poses. */
export interface Surface {
  /** From a point to the nearest of them, metres. */
  distanceM(x: number, y: number, z: number): number;
  /** Along a ray to the first of them, metres; `maxM` or more: none. `direction` has length 1. */
  alongM(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, maxM: number): number;
  /** Points spread evenly over them, three numbers each, in the world; the same ones every time. */
  points(count: number, out: Float64Array): void;
  /** The edges that show their shape, in the world: borders, and where two of them meet at an angle. */
  edges(): [Vec3, Vec3][];
}

export const makeHit = (): Hit => ({ distanceM: 0, position: [0, 0, 0], normal: [0, 1, 0], node: -1, back: false });

/** Local clip times: those that a feed moves stand where its value says, the clock runs all others in a loop. @param clips as the document has them; @param feedAt of a feed, by id. */
export function clipTimes(
  level: Level,
  timeS: number,
  clips: NonNullable<Document['level']>['clips'],
  feedAt: (feed: string) => FeedValue | undefined,
  out: Float64Array = new Float64Array(level.clipDurationsS.length),
): Float64Array {
  clockTimes(level, timeS, out);
  if (!clips) return out;
  for (let i = 0; i < out.length; i++) {
    const drive = clips[level.clipNames[i] as string];
    if (!drive) continue;
    const value = Number(feedAt(drive.feed) ?? drive.from);
    const share = drive.to === drive.from ? 0 : (value - drive.from) / (drive.to - drive.from);
    out[i] = (level.clipDurationsS[i] as number) * (share > 0 ? Math.min(1, share) : 0);
  }
  return out;
}

/** Local clip times when the clock runs every clip in a loop. */
export function clockTimes(level: Level, timeS: number, out: Float64Array = new Float64Array(level.clipDurationsS.length)): Float64Array {
  for (let i = 0; i < out.length; i++) {
    const duration = level.clipDurationsS[i] ?? 0;
    out[i] = duration > 0 ? timeS % duration : 0;
  }
  return out;
}
