/**
 * Triangles in a bounding volume hierarchy, for rays and sight lines.
 *
 * The tree lies in flat arrays, of single precision as the drawn level is: half the memory, and a place of a level of a kilometre is
 * still right to 0.03 mm. Node k has its bounds at `bounds[6k..6k+5]` (least x y z, greatest x y z) and
 * `link[2k], link[2k+1]`: for an inner node its two children (the second is negative for none), for a leaf
 * `−1 − start` and a count. Built by binned surface area heuristic (Wald 2007, "On fast construction of SAH-based
 * bounding volume hierarchies"). Queries use a stack allocated once and allocate nothing.
 */
import { type Functionals, leastOf, mayHold } from './pyramid.ts';

const BINS = 12;
/** The most triangles of a leaf; of a large level the boxes would be as much as its triangles, and half of them cost a fifth of a query. */
const LEAF = 4;
const LARGE_LEAF = 8;
/** So few are cut in the middle: bins for them take longer than they save. */
const FEW = 8;
/** So many triangles are a large level. */
const LARGE = 500_000;

/** A tree as plain tables, to be kept and handed on. */
export interface TreeTables {
  /** Nine numbers a triangle, in the order of the tree's leaves. */
  corners: Float32Array;
  /** The triangle's number as it was given. */
  source: Uint32Array;
  bounds: Float32Array;
  link: Int32Array;
}

/** A tree without the triangles it was built of. */
export type TreeOrder = Omit<TreeTables, 'corners'>;

/** Writes the nine numbers of a triangle. @param source its number as it was given. @param at where in the corners. */
export type PutTriangle = (source: number, corners: Float32Array, at: number) => void;

export class TriangleTree implements TreeTables {
  readonly corners: Float32Array;
  readonly source: Uint32Array;
  readonly bounds: Float32Array;
  readonly link: Int32Array;
  private readonly stack = new Int32Array(128);
  /** Where the tree was built before: gives the corners of a leaf when a query first comes to it. */
  private readonly put: PutTriangle | null;
  /** The leaves, by their nodes, of which the corners are there. */
  private readonly come: Uint8Array;
  /** Of the last hit: the triangle in leaf order, its distance and its barycentric coordinates of the second and third corner. */
  hitTriangle = -1;
  hitT = 0;
  private nodesBySource: (() => Int32Array) | null = null;
  /** Worked out when they are first asked for. */
  private nodes: Int32Array | null = null;
  hitU = 0;
  hitV = 0;
  /** The triangle that was nearest to the last point; the next point is mostly near it, too. */
  private nearestBefore = -1;

  private constructor({ corners, source, bounds, link }: TreeTables, put: PutTriangle | null) {
    this.corners = corners;
    this.source = source;
    this.bounds = bounds;
    this.link = link;
    this.put = put;
    this.come = new Uint8Array(put ? link.length / 2 : 0);
  }

  /** @param corners nine numbers a triangle; copied. */
  static build(corners: Float32Array): TriangleTree {
    const { order, bounds, link } = new Builder(corners);
    const sorted = new Float32Array(corners.length);
    for (let t = 0; t < order.length; t++)
      for (let k = 0, from = (order[t] as number) * 9; k < 9; k++) sorted[t * 9 + k] = corners[from + k] as number;
    return new TriangleTree({ corners: sorted, source: order, bounds, link }, null);
  }

  /**
   * A tree that was built before. Its corners come leaf by leaf, when a query first gets there: a picture's rays see a small part of
   * a large level.
   */
  static inOrder({ source, link, bounds }: TreeOrder, put: PutTriangle): TriangleTree {
    return new TriangleTree({ source, link, bounds, corners: new Float32Array(source.length * 9) }, put);
  }

  private bring(node: number, start: number, count: number): void {
    if (!this.put) return;
    this.come[node] = 1;
    for (let t = start; t < start + count; t++) this.put(this.source[t] as number, this.corners, t * 9);
  }

  /** @param nodesBySource gives the node of each triangle, by the number it was given as. */
  setNodes(nodesBySource: () => Int32Array): void {
    this.nodesBySource = nodesBySource;
    this.nodes = null;
  }

  /** The node of each triangle, in the order of the tree's leaves, where the tree has several. */
  private nodesOf(): Int32Array | null {
    if (this.nodesBySource && !this.nodes) {
      const by = this.nodesBySource();
      this.nodes = Int32Array.from(this.source, (source) => by[source] as number);
    }
    return this.nodes;
  }

  /** Least and greatest corner of everything, or null where there is nothing. */
  get box(): Float32Array | null {
    return this.bounds.length ? this.bounds.subarray(0, 6) : null;
  }

  /**
   * The nearest triangle with `0 < t < maxT` along origin + t·direction, from either side (Möller, Trumbore 1997).
   * With `any`, the first found. The direction need not have length 1; t is in its lengths.
   * @param through nodes whose triangles are passed by.
   */
  cast(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    maxT: number,
    any: boolean,
    through: Uint8Array | null = null,
  ): boolean {
    const nodes = through && this.nodesOf();
    this.hitTriangle = -1;
    const { bounds, link, stack, corners, come } = this;
    if (link.length === 0) return false;
    let nearest = maxT;
    const ix = 1 / dx;
    const iy = 1 / dy;
    const iz = 1 / dz;
    let top = 0;
    stack[top++] = 0;
    while (top > 0) {
      const node = stack[--top] as number;
      const b = node * 6;
      // Slab test; a division by zero gives an infinity of the right sign, NaN (0·∞) falls out of the comparisons.
      let near = 0;
      let far = nearest;
      let t1 = ((bounds[b] as number) - ox) * ix;
      let t2 = ((bounds[b + 3] as number) - ox) * ix;
      if (t1 > t2) [t1, t2] = [t2, t1];
      if (t1 > near) near = t1;
      if (t2 < far) far = t2;
      t1 = ((bounds[b + 1] as number) - oy) * iy;
      t2 = ((bounds[b + 4] as number) - oy) * iy;
      if (t1 > t2) [t1, t2] = [t2, t1];
      if (t1 > near) near = t1;
      if (t2 < far) far = t2;
      t1 = ((bounds[b + 2] as number) - oz) * iz;
      t2 = ((bounds[b + 5] as number) - oz) * iz;
      if (t1 > t2) [t1, t2] = [t2, t1];
      if (t1 > near) near = t1;
      if (t2 < far) far = t2;
      if (near > far) continue;
      const first = link[node * 2] as number;
      const second = link[node * 2 + 1] as number;
      if (first >= 0) {
        stack[top++] = first;
        stack[top++] = second;
        continue;
      }
      const start = -1 - first;
      if (come.length > 0 && come[node] === 0) this.bring(node, start, second);
      for (let t = start; t < start + second; t++) {
        if (through && nodes && through[nodes[t] as number]) continue;
        const c = t * 9;
        const ax = corners[c] as number;
        const ay = corners[c + 1] as number;
        const az = corners[c + 2] as number;
        const e1x = (corners[c + 3] as number) - ax;
        const e1y = (corners[c + 4] as number) - ay;
        const e1z = (corners[c + 5] as number) - az;
        const e2x = (corners[c + 6] as number) - ax;
        const e2y = (corners[c + 7] as number) - ay;
        const e2z = (corners[c + 8] as number) - az;
        const px = dy * e2z - dz * e2y;
        const py = dz * e2x - dx * e2z;
        const pz = dx * e2y - dy * e2x;
        const det = e1x * px + e1y * py + e1z * pz;
        if (det === 0) continue;
        const inv = 1 / det;
        const sx = ox - ax;
        const sy = oy - ay;
        const sz = oz - az;
        const u = (sx * px + sy * py + sz * pz) * inv;
        if (!(u >= 0 && u <= 1)) continue;
        const qx = sy * e1z - sz * e1y;
        const qy = sz * e1x - sx * e1z;
        const qz = sx * e1y - sy * e1x;
        const v = (dx * qx + dy * qy + dz * qz) * inv;
        if (!(v >= 0 && u + v <= 1)) continue;
        const hit = (e2x * qx + e2y * qy + e2z * qz) * inv;
        if (hit > 0 && hit < nearest) {
          nearest = hit;
          this.hitTriangle = t;
          this.hitT = hit;
          this.hitU = u;
          this.hitV = v;
          if (any) return true;
        }
      }
    }
    return this.hitTriangle >= 0;
  }

  /** The least share of the way to a pyramid's base at which anything lies in it, below `best`; else `best`. See `pyramid.ts`. */
  nearestIn(functionals: Functionals, best: number, through: Uint8Array | null = null): number {
    const { bounds, link, stack, corners, come } = this;
    const nodes = through && this.nodesOf();
    if (link.length === 0) return best;
    let nearest = best;
    let top = 0;
    stack[top++] = 0;
    while (top > 0) {
      const node = stack[--top] as number;
      if (!mayHold(functionals, bounds, node * 6, nearest)) continue;
      const first = link[node * 2] as number;
      const second = link[node * 2 + 1] as number;
      if (first >= 0) {
        stack[top++] = first;
        stack[top++] = second;
        continue;
      }
      const start = -1 - first;
      if (come.length > 0 && come[node] === 0) this.bring(node, start, second);
      for (let t = start; t < start + second; t++)
        if (!(through && nodes && through[nodes[t] as number])) nearest = Math.min(nearest, leastOf(functionals, corners, t * 9));
    }
    return nearest;
  }

  /** From a point to the nearest triangle, or `atMost` where none is nearer than that. */
  distance(px: number, py: number, pz: number, atMost = Number.POSITIVE_INFINITY): number {
    const { link, stack, corners, come } = this;
    if (link.length === 0) return atMost;
    let nearest = atMost * atMost;
    if (this.nearestBefore >= 0) nearest = Math.min(nearest, distanceToTriangle2(px, py, pz, corners, this.nearestBefore * 9));
    let top = 0;
    stack[top++] = 0;
    while (top > 0) {
      const node = stack[--top] as number;
      if (this.boxDistance2(node, px, py, pz) >= nearest) continue;
      const first = link[node * 2] as number;
      const second = link[node * 2 + 1] as number;
      if (first >= 0) {
        // The nearer one is looked through before the other.
        const isFirst = this.boxDistance2(first, px, py, pz) <= this.boxDistance2(second, px, py, pz);
        stack[top++] = isFirst ? second : first;
        stack[top++] = isFirst ? first : second;
        continue;
      }
      const start = -1 - first;
      if (come.length > 0 && come[node] === 0) this.bring(node, start, second);
      for (let t = start; t < start + second; t++) {
        const here = distanceToTriangle2(px, py, pz, corners, t * 9);
        if (here >= nearest) continue;
        nearest = here;
        this.nearestBefore = t;
      }
    }
    return Math.sqrt(nearest);
  }

  /** The square of the distance from a point to a node's box. */
  private boxDistance2(node: number, px: number, py: number, pz: number): number {
    const { bounds } = this;
    const b = node * 6;
    const x = Math.max((bounds[b] as number) - px, px - (bounds[b + 3] as number), 0);
    const y = Math.max((bounds[b + 1] as number) - py, py - (bounds[b + 4] as number), 0);
    const z = Math.max((bounds[b + 2] as number) - pz, pz - (bounds[b + 5] as number), 0);
    return x * x + y * y + z * z;
  }
}

/** The square of the distance from a point to a triangle (Ericson 2005, "Real-Time Collision Detection", 5.1.5). */
function distanceToTriangle2(px: number, py: number, pz: number, k: Float32Array, c: number): number {
  const at = (i: number) => k[c + i] as number;
  const [ax, ay, az] = [at(0), at(1), at(2)];
  const [abx, aby, abz] = [at(3) - ax, at(4) - ay, at(5) - az];
  const [acx, acy, acz] = [at(6) - ax, at(7) - ay, at(8) - az];
  const [apx, apy, apz] = [px - ax, py - ay, pz - az];
  const to = (u: number, v: number) => (apx - u * abx - v * acx) ** 2 + (apy - u * aby - v * acy) ** 2 + (apz - u * abz - v * acz) ** 2;
  const d1 = abx * apx + aby * apy + abz * apz;
  const d2 = acx * apx + acy * apy + acz * apz;
  if (d1 <= 0 && d2 <= 0) return to(0, 0);
  const [bpx, bpy, bpz] = [px - at(3), py - at(4), pz - at(5)];
  const d3 = abx * bpx + aby * bpy + abz * bpz;
  const d4 = acx * bpx + acy * bpy + acz * bpz;
  if (d3 >= 0 && d4 <= d3) return to(1, 0);
  const vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return to(d1 / (d1 - d3), 0);
  const [cpx, cpy, cpz] = [px - at(6), py - at(7), pz - at(8)];
  const d5 = abx * cpx + aby * cpy + abz * cpz;
  const d6 = acx * cpx + acy * cpy + acz * cpz;
  if (d6 >= 0 && d5 <= d6) return to(0, 1);
  const vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return to(0, d2 / (d2 - d6));
  const va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    const w = (d4 - d3) / (d4 - d3 + (d5 - d6));
    return to(1 - w, w);
  }
  const sum = 1 / (va + vb + vc);
  return to(vb * sum, vc * sum);
}

/** Half the surface of the box at an index. */
function halfSurface(b: Float32Array, at: number): number {
  const x = (b[at + 3] as number) - (b[at] as number);
  const y = (b[at + 4] as number) - (b[at + 1] as number);
  const z = (b[at + 5] as number) - (b[at + 2] as number);
  return x * y + y * z + z * x;
}

/** Widens the box at `to` by the one at `from`. */
function widen(a: Float32Array, to: number, b: Float32Array, from: number): void {
  for (let k = 0; k < 3; k++) {
    if ((b[from + k] as number) < (a[to + k] as number)) a[to + k] = b[from + k] as number;
    if ((b[from + 3 + k] as number) > (a[to + 3 + k] as number)) a[to + 3 + k] = b[from + 3 + k] as number;
  }
}

/** No box at all: widened by any, it becomes that. */
function clear(box: Float32Array, at: number): void {
  for (let k = 0; k < 3; k++) {
    box[at + k] = Infinity;
    box[at + 3 + k] = -Infinity;
  }
}

const binOf = (v: number, start: number, scale: number): number => Math.min(BINS - 1, Math.floor((v - start) * scale));

/** Builds the tree on flat tables: a level is read while somebody waits for it. */
class Builder {
  /** The triangles in the order of the leaves. */
  readonly order: Uint32Array;
  bounds: Float32Array;
  link: Int32Array;
  private nodes = 0;
  private readonly leaf: number;
  /** Of each triangle: its box, and twice the middle of it. */
  private readonly boxes: Float32Array;
  private readonly centres: Float32Array;
  private readonly bins = new Float32Array(BINS * 6);
  private readonly counts = new Int32Array(BINS);
  private readonly costs = new Float64Array(BINS);
  private readonly box = new Float32Array(6);

  constructor(corners: Float32Array) {
    const count = corners.length / 9;
    this.leaf = count < LARGE ? LEAF : LARGE_LEAF;
    this.order = new Uint32Array(count);
    this.boxes = new Float32Array(count * 6);
    this.centres = new Float32Array(count * 3);
    this.bound(corners, count);
    // A tree of leaves with one triangle each has no more nodes than that.
    this.bounds = new Float32Array(Math.max(0, 2 * count - 1) * 6);
    this.link = new Int32Array(Math.max(0, 2 * count - 1) * 2);
    if (count > 0) this.build(0, count, 0);
    this.bounds = this.bounds.slice(0, this.nodes * 6);
    this.link = this.link.slice(0, this.nodes * 2);
  }

  /** Writes the box and the middle of each triangle. */
  private bound(corners: Float32Array, count: number): void {
    const { order, boxes, centres } = this;
    for (let t = 0; t < count; t++) {
      order[t] = t;
      for (let k = 0; k < 3; k++) {
        const a = corners[t * 9 + k] as number;
        const b = corners[t * 9 + 3 + k] as number;
        const c = corners[t * 9 + 6 + k] as number;
        boxes[t * 6 + k] = Math.min(a, b, c);
        boxes[t * 6 + 3 + k] = Math.max(a, b, c);
        centres[t * 3 + k] = (a + b + c) / 3;
      }
    }
  }

  private build(from: number, to: number, depth: number): number {
    const node = this.nodes++;
    this.cover(node, from, to);
    const middle = to - from <= this.leaf || depth > 56 ? -1 : this.split(from, to);
    if (middle < 0) {
      this.link[node * 2] = -1 - from;
      this.link[node * 2 + 1] = to - from;
    } else {
      this.link[node * 2] = this.build(from, middle, depth + 1);
      this.link[node * 2 + 1] = this.build(middle, to, depth + 1);
    }
    return node;
  }

  // Loops over triangles are functions of their own: where an engine optimizes a function inside of its first loop, it does not know the
  // rest of it yet, and falls out of the fast code at every node (in Low Water 3,300 times, a quarter of the time of building).

  /** Writes the box about `order[from..to)`. */
  private cover(node: number, from: number, to: number): void {
    const { bounds, boxes, order } = this;
    clear(bounds, node * 6);
    for (let i = from; i < to; i++) widen(bounds, node * 6, boxes, (order[i] as number) * 6);
  }

  /** The box about the middles of `order[from..to)`, into `box`. */
  private coverCentres(from: number, to: number): void {
    const { order, centres, box } = this;
    clear(box, 0);
    for (let i = from; i < to; i++) {
      const c = (order[i] as number) * 3;
      for (let k = 0; k < 3; k++) {
        const v = centres[c + k] as number;
        if (v < (box[k] as number)) box[k] = v;
        if (v > (box[3 + k] as number)) box[3 + k] = v;
      }
    }
  }

  /** Puts `order[from..to)` into bins along an axis. */
  private fillBins(from: number, to: number, axis: number, start: number, scale: number): void {
    const { order, centres, boxes, bins, counts } = this;
    counts.fill(0);
    for (let b = 0; b < BINS; b++) clear(bins, b * 6);
    for (let i = from; i < to; i++) {
      const t = order[i] as number;
      const bin = binOf(centres[t * 3 + axis] as number, start, scale);
      counts[bin] = (counts[bin] as number) + 1;
      widen(bins, bin * 6, boxes, t * 6);
    }
  }

  /** Those in bins before `cut` come first; where the others begin. */
  private part(from: number, to: number, axis: number, start: number, scale: number, cut: number): number {
    const { order, centres } = this;
    let [low, high] = [from, to - 1];
    while (low <= high) {
      const t = order[low] as number;
      if (binOf(centres[t * 3 + axis] as number, start, scale) < cut) low++;
      else {
        order[low] = order[high] as number;
        order[high] = t;
        high--;
      }
    }
    return low;
  }

  /** Reorders `order[from..to)` about the best plane and returns where the second half starts; −1 where no plane helps. */
  private split(from: number, to: number): number {
    const { box } = this;
    this.coverCentres(from, to);
    let axis = 0;
    let span = 0;
    for (let k = 0; k < 3; k++) {
      const along = (box[3 + k] as number) - (box[k] as number);
      if (along > span) {
        span = along;
        axis = k;
      }
    }
    if (!(span > 0)) return -1;
    const start = box[axis] as number;
    const scale = BINS / span;
    const cut = to - from <= FEW ? BINS / 2 : this.bestCut(from, to, axis, start, scale);
    if (cut < 0) return -1;
    const low = this.part(from, to, axis, start, scale, cut);
    return low > from && low < to ? low : -1;
  }

  /** Before which bin a plane is cheapest; −1 where none helps. */
  private bestCut(from: number, to: number, axis: number, start: number, scale: number): number {
    const { bins, counts, costs, box } = this;
    this.fillBins(from, to, axis, start, scale);
    // From the right: what lies beyond each plane costs; then from the left, the sum.
    clear(box, 0);
    for (let b = BINS - 1, beyond = 0; b > 0; b--) {
      widen(box, 0, bins, b * 6);
      beyond += counts[b] as number;
      costs[b] = beyond === 0 ? Infinity : halfSurface(box, 0) * beyond;
    }
    clear(box, 0);
    let best = Infinity;
    let cut = -1;
    for (let b = 1, before = 0; b < BINS; b++) {
      widen(box, 0, bins, (b - 1) * 6);
      before += counts[b - 1] as number;
      const cost = before === 0 ? Infinity : halfSurface(box, 0) * before + (costs[b] as number);
      if (cost < best) {
        best = cost;
        cut = b;
      }
    }
    return cut;
  }
}
