/** The surfaces of one node, kept in its own space: distances and rays are brought there. */
import type { Level, Surface, Vec3 } from '@foreshore/core';
import { TriangleTree } from './bvh.ts';
import { invertAffine } from './matrix.ts';

/** The golden ratio's part after the point: its multiples fill 0..1 evenly, however many are taken. */
const GOLDEN = 0.6180339887498949;

/** Two triangles that meet at less than this are one surface to the eye. */
const SHARP = Math.cos((30 * Math.PI) / 180);
/** More edges than this show no shape any more; the sharpest are kept. */
const MOST_EDGES = 600;

/** The edges of a mesh that belong to one triangle, or to two that meet at an angle: six numbers each. Corners in one place are one. */
export function sharpEdges(corners: Float32Array): Float64Array {
  const names = new Map<string, number>();
  const named = (k: number): number => {
    // To a hundredth of a millimetre; zero added, so that there is no minus zero.
    const name = [0, 1, 2].map((i) => Math.round((corners[k + i] as number) * 1e5) + 0).join(' ');
    const known = names.get(name);
    if (known === undefined) names.set(name, k);
    return known ?? k;
  };
  const found = new Map<string, { a: number; b: number; normal: Vec3; cosine: number }>();
  for (let t = 0; t < corners.length; t += 9) {
    const d = (i: number, j: number) => (corners[t + i] as number) - (corners[t + j] as number);
    const [ux, uy, uz, vx, vy, vz] = [d(3, 0), d(4, 1), d(5, 2), d(6, 0), d(7, 1), d(8, 2)];
    const n: Vec3 = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const length = Math.hypot(...n);
    if (length === 0) continue;
    const normal = n.map((v) => v / length) as Vec3;
    const ends = [named(t), named(t + 3), named(t + 6)] as const;
    for (let e = 0; e < 3; e++) {
      const [a, b] = [ends[e] as number, ends[(e + 1) % 3] as number];
      const key = a < b ? `${a} ${b}` : `${b} ${a}`;
      const other = found.get(key);
      // An edge of one triangle alone counts as the sharpest.
      if (!other) found.set(key, { a, b, normal, cosine: -2 });
      else {
        const cosine = other.normal[0] * normal[0] + other.normal[1] * normal[1] + other.normal[2] * normal[2];
        other.cosine = other.cosine === -2 ? cosine : Math.min(other.cosine, cosine);
      }
    }
  }
  const sharp = [...found.values()]
    .filter(({ cosine }) => cosine < SHARP)
    .sort((p, q) => p.cosine - q.cosine)
    .slice(0, MOST_EDGES);
  return Float64Array.from(sharp.flatMap(({ a, b }) => [...corners.subarray(a, a + 3), ...corners.subarray(b, b + 3)]));
}

export class NodeSurface implements Surface {
  private readonly level: Pick<Level, 'worldMatrices'>;
  private readonly at: number;
  private readonly tree: TriangleTree;
  /** Areas of the triangles, summed up. */
  private readonly areas: Float64Array;
  private readonly inverse = new Float64Array(16);

  constructor(level: Pick<Level, 'worldMatrices'>, node: number, corners: Float32Array) {
    this.level = level;
    this.at = node * 16;
    this.tree = TriangleTree.build(corners);
    const { corners: k } = this.tree;
    this.areas = new Float64Array(k.length / 9);
    let sum = 0;
    for (let t = 0; t < this.areas.length; t++) {
      const e = (i: number) => (k[t * 9 + i] as number) - (k[t * 9 + (i % 3)] as number);
      const [x, y, z] = [e(4) * e(8) - e(5) * e(7), e(5) * e(6) - e(3) * e(8), e(3) * e(7) - e(4) * e(6)];
      sum += Math.hypot(x, y, z) / 2;
      this.areas[t] = sum;
    }
  }

  /** How much longer the node makes things; the same along all axes where it is not stretched. */
  private get scale(): number {
    const m = this.level.worldMatrices;
    const { at } = this;
    const column = (k: number) => Math.hypot(m[at + k] as number, m[at + k + 1] as number, m[at + k + 2] as number);
    return Math.cbrt(column(0) * column(4) * column(8));
  }

  distanceM(x: number, y: number, z: number): number {
    if (!invertAffine(this.inverse, this.level.worldMatrices, this.at)) return Number.POSITIVE_INFINITY;
    const e = (n: number) => this.inverse[n] as number;
    const local = this.tree.distance(
      e(0) * x + e(4) * y + e(8) * z + e(12),
      e(1) * x + e(5) * y + e(9) * z + e(13),
      e(2) * x + e(6) * y + e(10) * z + e(14),
    );
    return local * this.scale;
  }

  alongM(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, maxM: number): number {
    if (!invertAffine(this.inverse, this.level.worldMatrices, this.at)) return maxM;
    const e = (n: number) => this.inverse[n] as number;
    const found = this.tree.cast(
      e(0) * ox + e(4) * oy + e(8) * oz + e(12),
      e(1) * ox + e(5) * oy + e(9) * oz + e(13),
      e(2) * ox + e(6) * oy + e(10) * oz + e(14),
      e(0) * dx + e(4) * dy + e(8) * dz,
      e(1) * dx + e(5) * dy + e(9) * dz,
      e(2) * dx + e(6) * dy + e(10) * dz,
      maxM,
      false,
    );
    return found ? this.tree.hitT : maxM;
  }

  private sharp: Float64Array | null = null;

  edges(): [Vec3, Vec3][] {
    const sharp = (this.sharp ??= sharpEdges(this.tree.corners));
    const m = this.level.worldMatrices;
    const world = (k: number): Vec3 => {
      const [x, y, z] = sharp.subarray(k, k + 3) as unknown as Vec3;
      const { at } = this;
      return [0, 1, 2].map(
        (i) => (m[at + i] as number) * x + (m[at + 4 + i] as number) * y + (m[at + 8 + i] as number) * z + (m[at + 12 + i] as number),
      ) as Vec3;
    };
    return Array.from({ length: sharp.length / 6 }, (_, k) => [world(k * 6), world(k * 6 + 3)]);
  }

  points(count: number, out: Float64Array): void {
    const { corners: k } = this.tree;
    const m = this.level.worldMatrices;
    const { at, areas } = this;
    const total = areas[areas.length - 1] as number;
    let t = 0;
    for (let p = 0; p < count; p++) {
      while (t < areas.length - 1 && (areas[t] as number) < ((p + 0.5) / count) * total) t++;
      // Folded over the diagonal, so that both halves of the square fall into the triangle.
      let [u, v] = [(p * GOLDEN) % 1, (p * GOLDEN * GOLDEN + 0.5) % 1];
      if (u + v > 1) [u, v] = [1 - u, 1 - v];
      for (let axis = 0; axis < 3; axis++) {
        const local = (i: number) => {
          const a = k[t * 9 + i] as number;
          return a + u * ((k[t * 9 + 3 + i] as number) - a) + v * ((k[t * 9 + 6 + i] as number) - a);
        };
        out[p * 3 + axis] =
          (m[at + axis] as number) * local(0) +
          (m[at + 4 + axis] as number) * local(1) +
          (m[at + 8 + axis] as number) * local(2) +
          (m[at + 12 + axis] as number);
      }
    }
  }
}
