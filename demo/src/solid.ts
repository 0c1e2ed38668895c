/** Triangles with a colour each, built from simple bodies; own axes, metres, +Y up. */
export type P3 = [number, number, number];

const rgb = (hex: string): P3 => [1, 3, 5].map((i) => (Number.parseInt(hex.slice(i, i + 2), 16) / 255) ** 2.2) as P3;
const mid = (a: P3, b: P3): P3 => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2];
const gap = (a: P3, b: P3): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

export interface Triangle {
  corners: [P3, P3, P3];
  /** Linear colour of each corner. */
  colours: [P3, P3, P3];
  /** Given where the surface is smooth; otherwise the face's own. */
  normals?: [P3, P3, P3];
}

export class Solid {
  readonly triangles: Triangle[] = [];

  triangle(a: P3, b: P3, c: P3, colour: string | P3): this {
    const k = typeof colour === 'string' ? rgb(colour) : colour;
    this.triangles.push({ corners: [a, b, c], colours: [k, k, k] });
    return this;
  }

  /** Corners counter-clockwise seen from outside. */
  quad(a: P3, b: P3, c: P3, d: P3, colour: string | P3): this {
    return this.triangle(a, b, c, colour).triangle(a, c, d, colour);
  }

  /** A box about a centre; `turn` about the vertical in radians, `taper` shrinks its top. */
  box(
    centre: P3,
    size: P3,
    colour: string | P3,
    { turn = 0, taper = 1, bottom = false }: { turn?: number; taper?: number; bottom?: boolean } = {},
  ): this {
    const [s, c] = [Math.sin(turn), Math.cos(turn)];
    const at = (x: number, y: number, z: number): P3 => {
      const shrink = y > 0 ? taper : 1;
      const [px, pz] = [(x * size[0] * shrink) / 2, (z * size[2] * shrink) / 2];
      return [centre[0] + px * c + pz * s, centre[1] + (y * size[1]) / 2, centre[2] - px * s + pz * c];
    };
    const [a, b, d, e] = [at(-1, -1, 1), at(1, -1, 1), at(1, -1, -1), at(-1, -1, -1)];
    const [f, g, h, i] = [at(-1, 1, 1), at(1, 1, 1), at(1, 1, -1), at(-1, 1, -1)];
    this.quad(f, g, h, i, colour).quad(a, b, g, f, colour).quad(b, d, h, g, colour).quad(d, e, i, h, colour).quad(e, a, f, i, colour);
    return bottom ? this.quad(e, d, b, a, colour) : this;
  }

  /** A tube between two points, with caps. */
  tube(from: P3, to: P3, radiusFrom: number, radiusTo: number, colour: string | P3, sides = 8): this {
    const axis: P3 = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
    const length = Math.hypot(...axis) || 1;
    const w = axis.map((v) => v / length) as P3;
    const helper: P3 = Math.abs(w[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0];
    const u = unit(cross(helper, w));
    const v = cross(w, u);
    const ring = (centre: P3, radius: number, k: number): P3 => {
      const angle = (k / sides) * 2 * Math.PI;
      const [x, y] = [Math.cos(angle) * radius, Math.sin(angle) * radius];
      return [centre[0] + u[0] * x + v[0] * y, centre[1] + u[1] * x + v[1] * y, centre[2] + u[2] * x + v[2] * y];
    };
    for (let k = 0; k < sides; k++) {
      this.quad(ring(from, radiusFrom, k), ring(from, radiusFrom, k + 1), ring(to, radiusTo, k + 1), ring(to, radiusTo, k), colour);
      if (radiusTo > 0) this.triangle(to, ring(to, radiusTo, k), ring(to, radiusTo, k + 1), colour);
    }
    return this;
  }

  /** A hand wheel about the z axis. */
  wheel(centre: P3, radius: number, colour: string, spokes = 6): this {
    const sides = 18;
    const at = (k: number, r: number): P3 => [
      centre[0] + Math.cos((k / sides) * 2 * Math.PI) * r,
      centre[1] + Math.sin((k / sides) * 2 * Math.PI) * r,
      centre[2],
    ];
    for (let k = 0; k < sides; k++) this.tube(at(k, radius), at(k + 1, radius), 0.035, 0.035, colour, 6);
    for (let k = 0; k < spokes; k++) this.tube(centre, at((k / spokes) * sides, radius), 0.022, 0.022, colour, 5);
    return this.tube([centre[0], centre[1], centre[2] - 0.06], [centre[0], centre[1], centre[2] + 0.06], 0.07, 0.07, colour, 8);
  }

  /** Halves the longest edges until none is longer than `mostM`, so that baked shade has places to stand. */
  refine(mostM: number): this {
    const open = this.triangles.splice(0);
    for (let t = open.pop(); t; t = open.pop()) {
      const [a, b, c] = t.corners;
      const edges = [gap(a, b), gap(b, c), gap(c, a)];
      const longest = edges.indexOf(Math.max(...edges));
      if ((edges[longest] as number) <= mostM) {
        this.triangles.push(t);
        continue;
      }
      const turned = (list: [P3, P3, P3]): [P3, P3, P3] => [
        list[longest] as P3,
        list[(longest + 1) % 3] as P3,
        list[(longest + 2) % 3] as P3,
      ];
      const [p, q, r] = turned(t.corners);
      const [cp, cq, cr] = turned(t.colours);
      const [m, cm] = [mid(p, q), mid(cp, cq)];
      open.push({ corners: [p, m, r], colours: [cp, cm, cr] }, { corners: [m, q, r], colours: [cm, cq, cr] });
    }
    return this;
  }
}

export const cross = (a: P3, b: P3): P3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
export const unit = (a: P3): P3 => {
  const length = Math.hypot(...a) || 1;
  return [a[0] / length, a[1] / length, a[2] / length];
};
export const linear = rgb;
export const blend = (a: P3, b: P3, t: number): P3 => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];
