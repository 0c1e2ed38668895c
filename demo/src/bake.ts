/** Shade baked into vertex colours: a low sun with its shadows, sky light by how much sky is seen, light from the ground. */
import { TriangleTree } from '@foreshore/level';
import { seeded } from './noise.ts';
import { cross, type P3, type Solid, unit } from './solid.ts';

export interface Placed {
  solid: Solid;
  /** From the solid's own axes into the world at rest. */
  toWorld: (p: P3) => P3;
  turn: (v: P3) => P3;
  /** Drawn, but throws no shade: water, and what moves far. */
  ghostly?: boolean;
}

export const SUN_DIRECTION: P3 = unit([0.62, 0.52, 0.38]);
const SUN: P3 = [1.42, 1.22, 0.9];
const SKY: P3 = [0.4, 0.5, 0.62];
const GROUND: P3 = [0.24, 0.19, 0.13];
const RAYS = 20;

/** Directions over the hemisphere about +Y, weighted by the cosine. */
function hemisphere(): P3[] {
  const chance = seeded(7);
  return Array.from({ length: RAYS }, (_, i) => {
    const r = Math.sqrt((i + chance()) / RAYS);
    const angle = i * 2.399963 + chance() * 0.3;
    return [Math.cos(angle) * r, Math.sqrt(1 - r * r), Math.sin(angle) * r];
  });
}

const faceNormal = (a: P3, b: P3, c: P3): P3 =>
  unit(cross([b[0] - a[0], b[1] - a[1], b[2] - a[2]], [c[0] - a[0], c[1] - a[1], c[2] - a[2]]));

/** Multiplies light into every corner's colour. */
export function bake(placed: readonly Placed[]): void {
  const corners = placed.filter((p) => !p.ghostly).flatMap((p) => p.solid.triangles.flatMap((t) => t.corners.flatMap((c) => p.toWorld(c))));
  const tree = TriangleTree.build(Float32Array.from(corners));
  const rays = hemisphere();
  for (const { solid, toWorld, turn } of placed) {
    const known = new Map<string, P3>();
    for (const t of solid.triangles) {
      const flat = faceNormal(...t.corners);
      t.colours = t.colours.map((colour, k) => {
        const n = turn(t.normals ? (t.normals[k] as P3) : flat);
        const p = toWorld(t.corners[k] as P3);
        // A little towards the face's middle, so that corners in a joint see something.
        const m = toWorld(t.corners.reduce((s, c) => [s[0] + c[0] / 3, s[1] + c[1] / 3, s[2] + c[2] / 3], [0, 0, 0]));
        const from: P3 = [0, 1, 2].map(
          (i) => (p[i] as number) + ((m[i] as number) - (p[i] as number)) * (t.normals ? 0 : 0.04) + (n[i] as number) * 0.025,
        ) as P3;
        const key = [...from, ...n].map((v) => v.toFixed(3)).join();
        let light = known.get(key);
        if (!light) known.set(key, (light = lightAt(tree, rays, from, n)));
        return [colour[0] * light[0], colour[1] * light[1], colour[2] * light[2]] as P3;
      }) as [P3, P3, P3];
    }
  }
}

function lightAt(tree: TriangleTree, rays: P3[], p: P3, n: P3): P3 {
  const facing = n[0] * SUN_DIRECTION[0] + n[1] * SUN_DIRECTION[1] + n[2] * SUN_DIRECTION[2];
  let sun = 0;
  if (facing > 0)
    for (const [dx, dz] of [
      [0, 0],
      [0.02, 0.01],
      [-0.015, 0.02],
      [0.01, -0.02],
    ] as const)
      if (!tree.cast(p[0], p[1], p[2], SUN_DIRECTION[0] + dx, SUN_DIRECTION[1], SUN_DIRECTION[2] + dz, 80, true)) sun += facing / 4;
  const u = unit(cross(Math.abs(n[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0], n));
  const v = cross(n, u);
  let [sky, ground] = [0, 0];
  for (const [x, y, z] of rays) {
    const d: P3 = [u[0] * x + n[0] * y + v[0] * z, u[1] * x + n[1] * y + v[1] * z, u[2] * x + n[2] * y + v[2] * z];
    if (tree.cast(p[0], p[1], p[2], d[0], d[1], d[2], 7, true)) continue;
    if (d[1] > 0) sky += 1 / RAYS;
    else ground += 1 / RAYS;
  }
  return [0, 1, 2].map((k) => 0.045 + (SUN[k] as number) * sun + (SKY[k] as number) * sky + (GROUND[k] as number) * ground) as P3;
}
