/**
 * The level as the calculation uses it: nodes placed in time, and rays through their surfaces.
 *
 * What never moves is one tree of triangles in the world; every part of a moving node has a tree in its own space, and
 * rays are brought there. So a pose costs matrices only, and pictures, rays and sight lines cannot disagree.
 */
import { clockTimes, type Hit, type Level, makeHit, type Surface, transformPoint, type Vec3 } from '@foreshore/core';
import { sampleChannel } from './animation.ts';
import { type PutTriangle, type TreeOrder, TriangleTree } from './bvh.ts';
import { type Sampler, seenColour, skyColour } from './colour.ts';
import { type Face, faceAt } from './face.ts';
import { composeInto, invertAffine, multiplyInto } from './matrix.ts';
import type { DrawnPiece, LevelChannel, LevelPart, LevelParts } from './parts.ts';
import { intoNode, pyramidInto } from './pyramid.ts';
import { NodeSurface } from './surface.ts';

/** Surfaces behind one another that are looked through; what is left of the light that is worth going on for. */
const MOST_LAYERS = 16;
const LEAST_LEFT = 0.004;
/** A ray goes on so far behind what it has met. */
const PAST_M = 1e-4;
/** A sight line ends this far before its end. */
const SHORT_OF_M = 0.02;

/** A level's trees without their triangles: of what never moves, and of each moving node in the order of its first part. */
export interface LevelTrees {
  still: TreeOrder;
  movers: TreeOrder[];
}

/** Parts whose triangles are numbered one after another: the number of the first of each, and which part it is. */
class Numbered {
  private readonly first: Int32Array;
  private readonly part: Int32Array;
  readonly count: number;

  constructor(list: readonly [LevelPart, number][]) {
    this.first = new Int32Array(list.length);
    this.part = Int32Array.from(list, ([, index]) => index);
    let count = 0;
    list.forEach(([part], k) => {
      this.first[k] = count;
      count += Math.floor(part.indices.length / 3);
    });
    this.count = count;
  }

  /** Where in the list the part of a triangle is. */
  private placeOf(source: number): number {
    const { first } = this;
    let [low, high] = [0, first.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((first[middle] as number) <= source) low = middle;
      else high = middle - 1;
    }
    return low;
  }
  /** The part that a triangle is of. */
  partOf(source: number): number {
    return this.part[this.placeOf(source)] as number;
  }
  /** The number of a triangle in its part. */
  inPart(source: number): number {
    return source - (this.first[this.placeOf(source)] as number);
  }
  /** What a part has, for each triangle. */
  spread(of: (part: number) => number): Int32Array {
    const out = new Int32Array(this.count);
    this.first.forEach((first, k) => {
      out.fill(of(this.part[k] as number), first, this.first[k + 1] ?? this.count);
    });
    return out;
  }
}

interface Mover {
  node: number;
  tree: TriangleTree;
  parts: Numbered;
  /** Of its matrix, and whether it has one; found when a ray first comes near after the node was placed. */
  inverse: Float64Array;
  usable: boolean | null;
  /** Sphere about everything, in the world; found when a ray first comes by after the node was placed. */
  isRound: boolean;
  centre: Vec3;
  radius: number;
  localCentre: Vec3;
  localRadius: number;
}

function copyHit(to: Hit, { distanceM, position, normal, node, back }: Hit): void {
  to.distanceM = distanceM;
  to.node = node;
  to.back = back;
  for (let k = 0; k < 3; k++) {
    to.position[k] = position[k] as number;
    to.normal[k] = normal[k] as number;
  }
}

export class LevelModel implements Level {
  readonly nodeIds: readonly string[];
  readonly nodeProperties: LevelParts['nodeProperties'];
  readonly nodeMoves: Uint8Array;
  readonly parentOf: Int32Array;
  readonly clipNames: readonly string[];
  readonly clipDurationsS: readonly number[];
  readonly worldMatrices: Float64Array;
  readonly parts: LevelParts;
  private readonly indexOf: Map<string, number>;
  private readonly trs: Float64Array;
  private readonly local = new Float64Array(16);
  private readonly pyramid = new Float64Array(12);
  private readonly pyramidInNode = new Float64Array(12);
  private readonly still: TriangleTree;
  /** What stands still, as the still tree's sources are numbered. */
  private readonly stillParts: Numbered;
  private readonly movers: Mover[];
  /** The nodes that move, in their order. */
  private readonly moving: Int32Array;
  /** Of each clip, the nodes that it moves, in their order; null where clips share a node, and all are placed together. */
  private readonly movedBy: readonly Int32Array[] | null;
  private readonly last: Float64Array;
  /** Of the last ray that met something: the moving node's part it met, or null; whether it came from behind the triangle. */
  private hitMover: Mover | null = null;
  private hitBack = false;
  /** Origin, direction and reach of the last ray that was asked for, while nothing has moved, and what it met: node −1 for nothing. */
  private readonly lastRay = new Float64Array(7).fill(Number.NaN);
  private readonly lastHit = makeHit();
  /** Colours of textures at a place, where somebody decoded them. */
  sampler: Sampler | null = null;
  /** The pieces it is drawn in, where they came with it. */
  drawn: DrawnPiece[] | null = null;

  /** @param trees as they were built of the same parts before; else they are built, which takes a second for 300,000 triangles. */
  constructor(parts: LevelParts, trees: LevelTrees | null = null) {
    this.parts = parts;
    this.nodeIds = parts.nodeIds;
    this.nodeProperties = parts.nodeProperties;
    this.indexOf = new Map(parts.nodeIds.map((id, i) => [id, i]));
    const count = parts.nodeIds.length;
    this.nodeMoves = new Uint8Array(count);
    for (const clip of parts.clips) for (const channel of clip.channels) this.nodeMoves[channel.node] = 1;
    for (let i = 0; i < count; i++) if (this.nodeMoves[parts.parent[i] as number]) this.nodeMoves[i] = 1;
    this.parentOf = parts.parent;
    this.clipNames = parts.clips.map((clip) => clip.name);
    this.clipDurationsS = parts.clips.map((clip) => clip.durationS);
    this.worldMatrices = new Float64Array(count * 16);
    this.trs = parts.rest.slice();
    this.last = new Float64Array(this.clipDurationsS.length).fill(Number.NaN);
    this.place(Int32Array.from({ length: count }, (_, i) => i));
    this.moving = Int32Array.from([...this.nodeMoves.keys()].filter((i) => this.nodeMoves[i] === 1));
    this.movedBy = nodesByClip(parts);

    const stillParts: [LevelPart, number][] = [];
    const moving = new Map<number, [LevelPart, number][]>();
    parts.parts.forEach((part, p) => {
      if (this.isStill(part)) stillParts.push([part, p]);
      else moving.set(part.node, [...(moving.get(part.node) ?? []), [part, p]]);
    });
    this.stillParts = new Numbered(stillParts);
    this.still = trees
      ? TriangleTree.inOrder(trees.still, this.putter(this.stillParts, true))
      : TriangleTree.build(cornersOf(stillParts, (part) => this.intoWorld(part)));
    this.still.setNodes(() => this.stillParts.spread((part) => parts.parts[part]?.node ?? -1));
    this.movers = [...moving].map(([node, list], k) => {
      const kept = trees?.movers[k];
      const numbered = new Numbered(list);
      const tree = kept ? TriangleTree.inOrder(kept, this.putter(numbered, false)) : TriangleTree.build(cornersOf(list, () => null));
      const b = tree.box ?? new Float32Array(6);
      const at = (k: number) => b[k] as number;
      const localCentre: Vec3 = [(at(0) + at(3)) / 2, (at(1) + at(4)) / 2, (at(2) + at(5)) / 2];
      const localRadius = Math.hypot(at(3) - at(0), at(4) - at(1), at(5) - at(2)) / 2;
      const placed = { inverse: new Float64Array(16), usable: null, isRound: false, centre: [0, 0, 0] as Vec3, radius: 0 };
      return { node, tree, parts: numbered, localCentre, localRadius, ...placed };
    });
    this.poses(clockTimes(this, 0));
  }

  private isStill({ inWorld, node }: LevelPart): boolean {
    return inWorld || !this.nodeMoves[node];
  }

  /** The matrix that brings a part that stands still into the world; null where it is there. */
  private intoWorld({ inWorld, node }: LevelPart): Float64Array | null {
    return inWorld ? null : this.worldMatrices.subarray(node * 16, node * 16 + 16);
  }

  /**
   * Gives a tree of which the order was kept its corners, rounded as those it was built of.
   * @param inWorld brought there; else in the node's own space.
   */
  private putter(numbered: Numbered, inWorld: boolean): PutTriangle {
    const { parts } = this.parts;
    const m = this.worldMatrices;
    return (source, corners, to) => {
      const { positions, indices, node, inWorld: isThere } = parts[numbered.partOf(source)] as LevelPart;
      const first = numbered.inPart(source) * 3;
      const at = inWorld && !isThere ? node * 16 : -1;
      for (let i = 0; i < 3; i++) {
        const v = (indices[first + i] as number) * 3;
        const [x, y, z] = [positions[v] as number, positions[v + 1] as number, positions[v + 2] as number];
        if (at < 0) {
          corners[to + i * 3] = x;
          corners[to + i * 3 + 1] = y;
          corners[to + i * 3 + 2] = z;
        } else
          for (let k = 0; k < 3; k++)
            corners[to + i * 3 + k] =
              (m[at + k] as number) * x + (m[at + 4 + k] as number) * y + (m[at + 8 + k] as number) * z + (m[at + 12 + k] as number);
      }
    };
  }

  /** Its trees, to be kept with its parts. */
  get trees(): LevelTrees {
    return { still: this.still, movers: this.movers.map(({ tree }) => tree) };
  }

  nodeIndex(id: string): number {
    return this.indexOf.get(id) ?? -1;
  }

  poses(clipTimesS: ArrayLike<number>): Float64Array {
    const { last, movedBy } = this;
    let isMoved = false;
    for (let c = 0; c < last.length; c++) {
      const t = clipTimesS[c] ?? 0;
      if (last[c] === t) continue;
      last[c] = t;
      isMoved = true;
      if (!movedBy) continue;
      this.sample(c);
      this.place(movedBy[c] as Int32Array);
    }
    if (!isMoved) return this.worldMatrices;
    if (!movedBy) {
      for (let c = 0; c < last.length; c++) this.sample(c);
      this.place(this.moving);
    }
    this.forgetPlaces();
    return this.worldMatrices;
  }

  private sample(clip: number): void {
    const channels = this.parts.clips[clip]?.channels ?? [];
    for (let k = 0; k < channels.length; k++) sampleChannel(channels[k] as LevelChannel, this.last[clip] as number, this.trs);
  }

  /** Where moving nodes stood is no longer so. */
  private forgetPlaces(): void {
    this.lastRay.fill(Number.NaN);
    for (const mover of this.movers) {
      mover.usable = null;
      mover.isRound = false;
    }
  }

  placed(): Float64Array {
    const { moving, worldMatrices } = this;
    const out = new Float64Array(moving.length * 16);
    for (let k = 0; k < moving.length; k++) {
      const at = (moving[k] as number) * 16;
      for (let i = 0; i < 16; i++) out[k * 16 + i] = worldMatrices[at + i] as number;
    }
    return out;
  }

  putBack(placed: Float64Array): void {
    const { moving, worldMatrices } = this;
    for (let k = 0; k < moving.length; k++) {
      const at = (moving[k] as number) * 16;
      for (let i = 0; i < 16; i++) worldMatrices[at + i] = placed[k * 16 + i] as number;
    }
    // The clips stand where they last stood, which is elsewhere: all of them are sampled at the next call.
    this.last.fill(Number.NaN);
    this.forgetPlaces();
  }

  /** Puts nodes where they stand in the world, parents before children. */
  private place(nodes: ArrayLike<number>): void {
    const { parent, matrices, root } = this.parts;
    for (let k = 0; k < nodes.length; k++) {
      const i = nodes[k] as number;
      const fixed = matrices.get(i);
      if (fixed) this.local.set(fixed);
      else composeInto(this.local, 0, this.trs, i * 10);
      const up = parent[i] as number;
      multiplyInto(this.worldMatrices, i * 16, up < 0 ? root : this.worldMatrices, up < 0 ? 0 : up * 16, this.local, 0);
    }
  }

  /** Finds the sphere about a moving node's surfaces. */
  private round(mover: Mover): void {
    const m = this.worldMatrices;
    const at = mover.node * 16;
    mover.isRound = true;
    const [x, y, z] = mover.localCentre;
    let greatest = 0;
    for (let k = 0; k < 3; k++) {
      mover.centre[k] =
        (m[at + k] as number) * x + (m[at + 4 + k] as number) * y + (m[at + 8 + k] as number) * z + (m[at + 12 + k] as number);
      const [a, b, c] = [m[at + k * 4] as number, m[at + k * 4 + 1] as number, m[at + k * 4 + 2] as number];
      greatest = Math.max(greatest, a * a + b * b + c * c);
    }
    // The greatest column is at most the greatest stretch; sqrt(3) covers sheared nodes.
    mover.radius = mover.localRadius * Math.sqrt(greatest) * 1.7320508075688772;
  }

  private isUsable(mover: Mover): boolean {
    mover.usable ??= invertAffine(mover.inverse, this.worldMatrices, mover.node * 16);
    return mover.usable;
  }

  castRay(origin: Vec3, direction: Vec3, maxM: number, hit: Hit): boolean {
    // Several feeds of what is aimed at ask for the same ray, one after another.
    const { lastRay, lastHit } = this;
    const isLast =
      lastRay[6] === maxM &&
      lastRay[0] === origin[0] &&
      lastRay[1] === origin[1] &&
      lastRay[2] === origin[2] &&
      lastRay[3] === direction[0] &&
      lastRay[4] === direction[1] &&
      lastRay[5] === direction[2];
    if (!isLast) {
      lastHit.node = -1;
      this.cast(origin[0], origin[1], origin[2], direction[0], direction[1], direction[2], maxM, false, lastHit);
      lastRay.set(origin);
      lastRay.set(direction, 3);
      lastRay[6] = maxM;
    }
    if (lastHit.node < 0) return false;
    copyHit(hit, lastHit);
    return true;
  }

  sightline(fromX: number, fromY: number, fromZ: number, toX: number, toY: number, toZ: number, through: Uint8Array | null = null): number {
    const [x, y, z] = [toX - fromX, toY - fromY, toZ - fromZ];
    const length = Math.sqrt(x * x + y * y + z * z);
    if (length <= SHORT_OF_M) return -1;
    return this.cast(fromX, fromY, fromZ, x / length, y / length, z / length, length - SHORT_OF_M, true, null, through);
  }

  nearestShare(eyeX: number, eyeY: number, eyeZ: number, corners: ArrayLike<number>, through: Uint8Array | null = null): number {
    const { pyramid, pyramidInNode, worldMatrices } = this;
    if (!pyramidInto(pyramid, eyeX, eyeY, eyeZ, corners)) return 1;
    let nearest = this.still.nearestIn(pyramid, 1, through);
    for (const mover of this.movers) {
      const { node, tree } = mover;
      if (through?.[node] || !this.isUsable(mover)) continue;
      intoNode(pyramidInNode, pyramid, worldMatrices, node * 16);
      nearest = tree.nearestIn(pyramidInNode, nearest);
    }
    return nearest;
  }

  /** The node met, or −1. */
  private cast(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    maxM: number,
    any: boolean,
    hit: Hit | null,
    through: Uint8Array | null = null,
  ): number {
    let nearest = maxM;
    let node = -1;
    let inMover: Mover | null = null;
    if (this.still.cast(ox, oy, oz, dx, dy, dz, nearest, any, through)) {
      node = this.parts.parts[this.stillParts.partOf(this.still.source[this.still.hitTriangle] as number)]?.node ?? -1;
      if (any) return node;
      nearest = this.still.hitT;
    }
    for (let k = 0; k < this.movers.length; k++) {
      const mover = this.movers[k] as Mover;
      if (through?.[mover.node]) continue;
      if (!mover.isRound) this.round(mover);
      if (!meetsSphere(mover, ox, oy, oz, dx, dy, dz, nearest) || !this.isUsable(mover)) continue;
      const i = mover.inverse;
      const e = (n: number) => i[n] as number;
      const lx = e(0) * ox + e(4) * oy + e(8) * oz + e(12);
      const ly = e(1) * ox + e(5) * oy + e(9) * oz + e(13);
      const lz = e(2) * ox + e(6) * oy + e(10) * oz + e(14);
      // Directions go over unnormalised, so that t stays in metres of the world.
      const mx = e(0) * dx + e(4) * dy + e(8) * dz;
      const my = e(1) * dx + e(5) * dy + e(9) * dz;
      const mz = e(2) * dx + e(6) * dy + e(10) * dz;
      if (mover.tree.cast(lx, ly, lz, mx, my, mz, nearest, any)) {
        node = mover.node;
        if (any) return node;
        nearest = mover.tree.hitT;
        inMover = mover;
      }
    }
    if (node >= 0 && hit) {
      hit.distanceM = nearest;
      hit.node = node;
      hit.position[0] = ox + dx * nearest;
      hit.position[1] = oy + dy * nearest;
      hit.position[2] = oz + dz * nearest;
      this.hitMover = inMover;
      this.normalInto(hit.normal, inMover, dx, dy, dz);
      hit.back = this.hitBack;
    }
    return node;
  }

  /** The face's normal in the world, on the side the ray came from: the cross product of its edges there. */
  private normalInto(out: Vec3, mover: Mover | null, dx: number, dy: number, dz: number): void {
    const tree = mover ? mover.tree : this.still;
    const c = tree.hitTriangle * 9;
    const k = tree.corners;
    const edge = (from: number, axis: number) => (k[c + from + axis] as number) - (k[c + axis] as number);
    const [a, b]: [Vec3, Vec3] = [
      [edge(3, 0), edge(3, 1), edge(3, 2)],
      [edge(6, 0), edge(6, 1), edge(6, 2)],
    ];
    if (mover)
      for (const v of [a, b]) {
        const m = this.worldMatrices;
        const at = mover.node * 16;
        const [x, y, z] = v;
        for (const axis of [0, 1, 2] as const)
          v[axis] = (m[at + axis] as number) * x + (m[at + 4 + axis] as number) * y + (m[at + 8 + axis] as number) * z;
      }
    const n: Vec3 = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
    const length = Math.hypot(...n) || 1;
    this.hitBack = n[0] * dx + n[1] * dy + n[2] * dz > 0;
    const side = this.hitBack ? -1 : 1;
    for (const axis of [0, 1, 2] as const) out[axis] = (side * n[axis]) / length;
  }

  /**
   * What is seen along a ray, as the picture shows it: through what is blended, past the back of one-sided surfaces and past
   * what a mask cuts out, up to the first that hides what is behind it, or the sky. Blended in sRGB, as the picture is.
   */
  colourAt(origin: Vec3, direction: Vec3, out: Vec3): Vec3 {
    const [dx, dy, dz] = direction;
    const seen: Vec3 = [0, 0, 0];
    const layer: Vec3 = [0, 0, 0];
    let left = 1;
    let from = 0;
    const add = (share: number) => {
      for (const k of [0, 1, 2] as const) seen[k] += left * share * layer[k];
      left *= 1 - share;
    };
    const hit = makeHit();
    for (let layers = 0; layers < MOST_LAYERS && left > LEAST_LEFT; layers++) {
      const node = this.cast(origin[0] + dx * from, origin[1] + dy * from, origin[2] + dz * from, dx, dy, dz, 1e5, false, hit);
      if (node < 0) break;
      from += hit.distanceM;
      const mover = this.hitMover;
      const tree = mover ? mover.tree : this.still;
      const numbered = mover ? mover.parts : this.stillParts;
      const source = tree.source[tree.hitTriangle] as number;
      const part = this.parts.parts[numbered.partOf(source)] as LevelPart;
      const material = this.parts.materials[part.material];
      const isBack = this.hitBack !== this.isMirrored(part);
      if (!isBack || material?.doubleSided) {
        hit.distanceM = from;
        const alpha = seenColour(this.parts, part, numbered.inPart(source), tree.hitU, tree.hitV, hit, this.sampler, layer);
        add(material?.alpha === 'blend' ? alpha : material?.alpha === 'mask' && alpha < material.alphaCutoff ? 0 : 1);
      }
      from += PAST_M;
    }
    if (left > LEAST_LEFT) {
      skyColour(this.parts.atmosphere, dy, layer);
      add(1);
    }
    for (const k of [0, 1, 2] as const) out[k] = seen[k];
    return out;
  }

  /** Whether a part's node turns it inside out, so that its triangles run the other way round. */
  private isMirrored({ node, inWorld }: LevelPart): boolean {
    if (inWorld) return false;
    const m = (k: number) => this.worldMatrices[node * 16 + k] as number;
    return m(0) * (m(5) * m(10) - m(6) * m(9)) - m(4) * (m(1) * m(10) - m(2) * m(9)) + m(8) * (m(1) * m(6) - m(2) * m(5)) < 0;
  }

  private readonly surfaces = new Map<number, Surface | null>();

  surfaceOf(node: number): Surface | null {
    let known = this.surfaces.get(node);
    if (known === undefined) {
      const own = this.parts.parts.flatMap((part, p): [LevelPart, number][] => (part.node === node && !part.inWorld ? [[part, p]] : []));
      known = own.length
        ? new NodeSurface(
            this,
            node,
            cornersOf(own, () => null),
          )
        : null;
      this.surfaces.set(node, known);
    }
    return known;
  }

  /** The flat part of a node's own surfaces about a point, where it is a rectangle; null where it is none. */
  faceAt(node: number, at: Vec3, normal: Vec3): Face | null {
    const own = this.parts.parts.flatMap((part, p): [LevelPart, number][] => (part.node === node ? [[part, p]] : []));
    const corners = cornersOf(own, (part) => (part.inWorld ? null : this.worldMatrices.subarray(part.node * 16, part.node * 16 + 16)));
    return faceAt(corners, at, normal);
  }

  /** Whether there is anything in it that is drawn, blocks a sight, and can be stood on. */
  get hasSurfaces(): boolean {
    return this.parts.parts.length > 0;
  }

  /** Least and greatest corner of everything at rest. */
  bounds(): { least: Vec3; greatest: Vec3 } | null {
    const least: Vec3 = [Infinity, Infinity, Infinity];
    const greatest: Vec3 = [-Infinity, -Infinity, -Infinity];
    const add = (from: ArrayLike<number>, to: ArrayLike<number>) => {
      for (const k of [0, 1, 2] as const) {
        least[k] = Math.min(least[k], from[k] as number);
        greatest[k] = Math.max(greatest[k], to[k] as number);
      }
    };
    const box = this.still.box;
    if (box) add(box.subarray(0, 3), box.subarray(3, 6));
    for (const mover of this.movers) {
      const b = mover.tree.box;
      if (!b) continue;
      for (let corner = 0; corner < 8; corner++) {
        const pick = (axis: number) => b[(corner >> axis) & 1 ? axis + 3 : axis] as number;
        const at = transformPoint(this.worldMatrices, mover.node * 16, pick(0), pick(1), pick(2));
        add(at, at);
      }
    }
    return least[0] <= greatest[0] ? { least, greatest } : null;
  }
}

/** Of each clip, the nodes that it moves with all below them; null where a node is moved by two. In one pass: a file may have many of both. */
function nodesByClip({ clips, parent }: LevelParts): Int32Array[] | null {
  const none = -1;
  const owner = new Int32Array(parent.length).fill(none);
  for (const [c, { channels }] of clips.entries())
    for (const { node } of channels) {
      if (owner[node] !== none && owner[node] !== c) return null;
      owner[node] = c;
    }
  const moved: number[][] = clips.map(() => []);
  for (let i = 0; i < parent.length; i++) {
    const up = parent[i] as number;
    const above = up < 0 ? none : (owner[up] as number);
    if (above !== none && owner[i] !== none && owner[i] !== above) return null;
    if (owner[i] === none) owner[i] = above;
    moved[owner[i] as number]?.push(i);
  }
  return moved.map((nodes) => Int32Array.from(nodes));
}

function meetsSphere(m: Mover, ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, maxM: number): boolean {
  const x = m.centre[0] - ox;
  const y = m.centre[1] - oy;
  const z = m.centre[2] - oz;
  const along = x * dx + y * dy + z * dz;
  if (along < -m.radius || along > maxM + m.radius) return false;
  return x * x + y * y + z * z - along * along <= m.radius * m.radius;
}

/** Points brought along by a matrix, rounded to single precision. */
function brought(points: Float32Array, m: Float64Array | null): Float32Array {
  if (!m) return points;
  const out = new Float32Array(points.length);
  for (let v = 0; v < points.length; v += 3) {
    const [x, y, z] = [points[v] as number, points[v + 1] as number, points[v + 2] as number];
    for (let k = 0; k < 3; k++)
      out[v + k] = (m[k] as number) * x + (m[4 + k] as number) * y + (m[8 + k] as number) * z + (m[12 + k] as number);
  }
  return out;
}

/** The corners of the triangles of some parts one after another, nine numbers each, brought along by a matrix. */
function cornersOf(list: readonly [LevelPart, number][], matrixOf: (part: LevelPart) => Float64Array | null): Float32Array {
  const corners = new Float32Array(list.reduce((sum, [part]) => sum + Math.floor(part.indices.length / 3), 0) * 9);
  let at = 0;
  for (const [part] of list) {
    const positions = brought(part.positions, matrixOf(part));
    const { indices } = part;
    const whole = indices.length - (indices.length % 3);
    for (let i = 0; i < whole; i++, at += 3) {
      const v = (indices[i] as number) * 3;
      for (let k = 0; k < 3; k++) corners[at + k] = positions[v + k] as number;
    }
  }
  return corners;
}
