/** The ground of Low Water: mudflats cut by three creeks, land in the north (−z), the sea in the south (+z). */
import { layered, noise, smooth } from './noise.ts';
import { blend, linear, type P3, Solid, unit } from './solid.ts';

export const WIDTH_M = 120;
export const DEPTH_M = 90;
/** Height of the water at rest (low tide). */
export const LOW_WATER_M = -0.2;
export const CAUSEWAY_TOP_M = 0.95;

/** The causeway's middle line, from the land to the lamp mast. */
export const causewayAt = (t: number): { x: number; z: number; heading: number } => {
  const place = (s: number) => ({ x: -40 + 84 * s, z: -23 + 46 * s + 7 * Math.sin(s * Math.PI * 1.6) });
  const [a, b] = [place(t - 0.005), place(t + 0.005)];
  return { ...place(t), heading: Math.atan2(-(b.z - a.z), b.x - a.x) };
};
export const SLUICES = [0.22, 0.5, 0.78] as const;
const causewayLine = Array.from({ length: 161 }, (_, i) => causewayAt(i / 160));

/** Creeks run across the causeway at the sluices and wind out to the sea. */
const creeks: [number, number][][] = SLUICES.map((t, k) => {
  const { x, z, heading } = causewayAt(t);
  const [nx, nz] = [Math.sin(heading), Math.cos(heading)];
  return Array.from({ length: 141 }, (_, i): [number, number] => {
    const s = (i - 50) * 0.8;
    const wind = Math.sin(s / (6 + k)) * (Math.abs(s) < 4 ? 0 : Math.min(4, (Math.abs(s) - 4) / 2));
    return [x + nx * s + nz * wind, z + nz * s - nx * wind];
  });
});

const nearest = (line: readonly (readonly [number, number])[], x: number, z: number): number => {
  let best = Infinity;
  for (const [px, pz] of line) best = Math.min(best, (px - x) ** 2 + (pz - z) ** 2);
  return Math.sqrt(best);
};
const causewayPoints = causewayLine.map((p): [number, number] => [p.x, p.z]);
export const creekDistance = (x: number, z: number): number => Math.min(...creeks.map((c) => nearest(c, x, z)));
export const causewayDistance = (x: number, z: number): number => nearest(causewayPoints, x, z);
export const creekPoint = (creek: number, i: number): [number, number] => creeks[creek]?.[i] ?? [0, 0];

export function groundHeight(x: number, z: number): number {
  let h = 0.3 + 0.3 * layered(x / 17, z / 17) + 0.045 * noise(x / 1.9, z / 2.6);
  h -= smooth(10, 44, z + 0.22 * x) * 1.5;
  h += smooth(-20, -33, z - 0.05 * x) * (2.1 + 0.7 * layered(x / 12, z / 9));
  const creek = creekDistance(x, z);
  const cut = 1 - smooth(1.4, 5.2, creek);
  h -= cut * (0.95 + 0.35 * smooth(-10, 30, z)) * (1 - smooth(-24, -32, z));
  // A firm bank carries the causeway, except where the creeks pass.
  const bank = (1 - smooth(2, 4.2, causewayDistance(x, z))) * smooth(2.4, 4.4, creek);
  h = h * (1 - bank) + Math.max(h, 0.5) * bank;
  // The slipway's cut in the shore.
  const slip = (1 - smooth(2.2, 4, Math.abs(x + 12))) * smooth(-34, -30, z) * (1 - smooth(-12, -8, z));
  return h * (1 - slip) + (Math.min(h, 2.3 - (z + 34) * 0.135) - 0.12) * slip;
}

const MUD = linear('#9C8468');
const WET = linear('#5F5346');
const SILT = linear('#B7A283');
const WEED = linear('#6F7A4A');
const GRASS = linear('#8A9455');
const STRAW = linear('#BDAE72');
const SHINGLE = linear('#B9B1A0');

export function groundColour(x: number, z: number, h: number): P3 {
  const patch = layered(x / 7 + 20, z / 7);
  const wet = 1 - smooth(-0.25, 0.3, h + 0.1 * patch);
  let colour = blend(blend(MUD, SILT, smooth(-0.1, 0.7, patch)), WET, wet);
  const edge = (1 - smooth(0.1, 0.5, Math.abs(h - 0.12))) * smooth(0, 0.5, layered(x / 3.3, z / 3.3 + 9));
  colour = blend(colour, WEED, edge * 0.75);
  const shore = smooth(0.75, 1.15, h + 0.15 * patch);
  colour = blend(colour, SHINGLE, shore * (1 - smooth(1.3, 1.8, h)));
  const green = smooth(1.25, 1.8, h + 0.3 * patch);
  colour = blend(colour, blend(GRASS, STRAW, smooth(-0.4, 0.6, layered(x / 5, z / 5 - 40))), green);
  const ripple = 1 + 0.07 * Math.sin(x * 2.4 + z * 1.1 + 3 * noise(x / 6, z / 6)) * (1 - green);
  return colour.map((v) => v * ripple * (1 + 0.06 * noise(x * 1.7, z * 1.7))) as P3;
}

/** A grid whose cells grow outside the level, so that the flats run out into the haze. */
function lines(half: number, cell: number, far: readonly number[]): number[] {
  const inner = Array.from({ length: Math.round((2 * half) / cell) + 1 }, (_, i) => -half + i * cell);
  return [...far.map((d) => -half - d).reverse(), ...inner, ...far.map((d) => half + d)];
}
const FAR = [3, 8, 16, 30, 55, 100, 180, 320, 560];

export function terrainSolid(): Solid {
  const xs = lines(WIDTH_M / 2, 1, FAR);
  const zs = lines(DEPTH_M / 2, 1, FAR);
  const heightAt = (x: number, z: number): number => {
    const out = Math.max(Math.abs(x) - WIDTH_M / 2, Math.abs(z) - DEPTH_M / 2, 0);
    const h = groundHeight(Math.max(-75, Math.min(75, x)), Math.max(-60, Math.min(60, z)));
    const rolling =
      z < -40 ? 1.5 + 4 * Math.abs(layered(x / 120, z / 90)) + smooth(150, 600, out) * (18 + 16 * layered(x / 260 + 4, 2)) : -2.2;
    return h + (rolling - h) * smooth(4, 70, out);
  };
  const at = (i: number, j: number): P3 => [xs[i] as number, heightAt(xs[i] as number, zs[j] as number), zs[j] as number];
  const normalAt = ([x, , z]: P3): P3 =>
    unit([heightAt(x - 0.5, z) - heightAt(x + 0.5, z), 1, heightAt(x, z - 0.5) - heightAt(x, z + 0.5)]);
  const solid = new Solid();
  const points = xs.map((_, i) => zs.map((_, j) => at(i, j)));
  const colours = points.map((row) => row.map((p) => groundColour(p[0], p[2], p[1])));
  const normals = points.map((row) => row.map(normalAt));
  const get = <T>(grid: T[][], i: number, j: number): T => (grid[i] as T[])[j] as T;
  for (let i = 0; i + 1 < xs.length; i++)
    for (let j = 0; j + 1 < zs.length; j++) {
      const face = (list: [number, number][]) => {
        const triple = <T>(grid: T[][]) => list.map(([a, b]) => get(grid, a, b)) as [T, T, T];
        solid.triangles.push({ corners: triple(points), colours: triple(colours), normals: triple(normals) });
      };
      face([
        [i, j],
        [i, j + 1],
        [i + 1, j + 1],
      ]);
      face([
        [i, j],
        [i + 1, j + 1],
        [i + 1, j],
      ]);
    }
  return solid;
}

const SHALLOW = linear('#8FA79C');
const DEEP = linear('#3F6672');
const FOAM = linear('#DCE3DA');

/** The water's surface in its own space: y is 0 where the node stands. `alpha` by depth below the low-water mark. */
export function waterSolid(): { solid: Solid; alphaOf: (p: P3) => number } {
  const xs = lines(WIDTH_M / 2, 1.5, FAR);
  const zs = lines(DEPTH_M / 2, 1.5, FAR);
  const depthAt = (x: number, z: number): number =>
    Math.abs(x) > 66 || Math.abs(z) > 52 ? (z < -44 ? -2 : 1.8) : LOW_WATER_M - groundHeight(x, z);
  const solid = new Solid();
  const colourAt = (x: number, z: number): P3 => {
    const d = depthAt(x, z);
    const ripple = 1 + 0.1 * noise(x / 2.2, z / 5) + 0.06 * noise(x * 1.3, z / 1.4);
    const rim = (1 - smooth(0.02, 0.16, Math.abs(d - 0.03))) * (0.5 + 0.5 * noise(x * 1.1, z * 1.1));
    return blend(blend(SHALLOW, DEEP, smooth(0.05, 1.3, d)), FOAM, Math.max(0, rim) * 0.7).map((v) => v * ripple) as P3;
  };
  for (let i = 0; i + 1 < xs.length; i++)
    for (let j = 0; j + 1 < zs.length; j++) {
      const [x0, x1, z0, z1] = [xs[i] as number, xs[i + 1] as number, zs[j] as number, zs[j + 1] as number];
      // Water that no tide reaches is left out.
      if ([depthAt(x0, z0), depthAt(x1, z0), depthAt(x0, z1), depthAt(x1, z1)].every((d) => d < -0.9)) continue;
      const p = (x: number, z: number): P3 => [x, 0, z];
      const quad: [number, number][] = [
        [x0, z0],
        [x0, z1],
        [x1, z1],
        [x1, z0],
      ];
      const [a, b, c, d] = quad as [[number, number], [number, number], [number, number], [number, number]];
      for (const three of [
        [a, b, c],
        [a, c, d],
      ] as const)
        solid.triangles.push({
          corners: three.map(([x, z]) => p(x, z)) as [P3, P3, P3],
          colours: three.map(([x, z]) => colourAt(x, z)) as [P3, P3, P3],
          normals: [
            [0, 1, 0],
            [0, 1, 0],
            [0, 1, 0],
          ],
        });
    }
  return { solid, alphaOf: ([x, , z]) => 0.5 + 0.42 * smooth(-0.1, 0.8, depthAt(x, z)) };
}
