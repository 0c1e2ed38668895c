/** Zones against what can be said about them by other means: sampling, marching, formulas by hand. */
import { type Document, makeDocument, makeLabel, type Zone } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compile } from './compile.ts';
import { alongToZone, distanceToZone, pointsOfZone } from './zones.ts';

const CENTRE = [1, 2, -3] as const;
function zoned(zone: Zone) {
  const d: Document = makeDocument('Low Water');
  d.anchors.spot = { kind: 'surface', name: 'Spot', order: 'a0', node: null, position: [...CENTRE], normal: [0, 1, 0], zone };
  d.elements.label = makeLabel('spot', 'Crate', 'a0');
  return compile(d, null);
}
const length = fc.double({ min: 0.1, max: 2, noNaN: true });
const zone: fc.Arbitrary<Zone> = fc.oneof(
  length.map((radiusM): Zone => ({ kind: 'sphere', radiusM })),
  fc.tuple(length, length, length).map((sizeM): Zone => ({ kind: 'box', sizeM })),
  fc.tuple(length, length).map(([radiusM, more]): Zone => ({ kind: 'capsule', radiusM, heightM: 2 * radiusM + more })),
);
const coordinate = fc.double({ min: -5, max: 5, noNaN: true });
const point = fc.tuple(coordinate, coordinate, coordinate);

/** Whether a point, given from the centre, lies inside; said for each kind in its own words. */
function isInside(z: Zone, [x, y, w]: readonly [number, number, number]): boolean {
  if (z.kind === 'sphere') return x * x + y * y + w * w <= z.radiusM ** 2;
  if (z.kind === 'box') return Math.abs(x) <= z.sizeM[0] / 2 && Math.abs(y) <= z.sizeM[1] / 2 && Math.abs(w) <= z.sizeM[2] / 2;
  if (z.kind !== 'capsule') return false;
  const reach = z.heightM / 2 - z.radiusM;
  const nearest = Math.max(-reach, Math.min(reach, y));
  return x * x + (y - nearest) ** 2 + w * w <= z.radiusM ** 2;
}

describe('a zone', () => {
  it('is 0 m away from inside; from outside, no point of it is nearer than the distance, and one is about there (property)', () => {
    fc.assert(
      fc.property(zone, point, (z, p) => {
        const c = zoned(z);
        const from = p.map((v, k) => v + (CENTRE[k] as number)) as [number, number, number];
        const distance = distanceToZone(c, 0, ...from);
        expect(distance === 0).toBe(isInside(z, p));
        if (distance === 0) return;
        // Straight from outside to every point of a fine lattice inside: the least way is the distance, within the lattice.
        let least = Number.POSITIVE_INFINITY;
        const step = 0.08;
        for (let x = -3; x <= 3; x += step) {
          const off = Math.abs(p[0] - x);
          if (off > distance + 2 * step || Math.abs(x) > 3) continue;
          for (let y = -3; y <= 3; y += step)
            for (let w = -3; w <= 3; w += step) {
              const way = Math.hypot(p[0] - x, p[1] - y, p[2] - w);
              if (way < least && isInside(z, [x, y, w])) least = way;
            }
        }
        expect(least).toBeGreaterThanOrEqual(distance - 1e-9);
        // A thin zone may fall between the lattice.
        if (Number.isFinite(least)) expect(least - distance).toBeLessThan(0.3);
      }),
      { numRuns: 40 },
    );
  });
  it('is met by a ray where marching along it first finds the inside (property)', () => {
    fc.assert(
      fc.property(zone, point, point, (z, p, q) => {
        const way = Math.hypot(...q.map((v, k) => v * 0.3 - (p[k] as number)));
        fc.pre(way > 0.5);
        // Aimed somewhere near the middle, so that many meet it.
        const d = q.map((v, k) => (v * 0.3 - (p[k] as number)) / way) as [number, number, number];
        const c = zoned(z);
        const from = p.map((v, k) => v + (CENTRE[k] as number)) as [number, number, number];
        const found = alongToZone(c, 0, ...from, ...d, 20);
        let marched = 20;
        for (let t = 0; t < 20; t += 0.002)
          if (isInside(z, p.map((v, k) => v + t * (d[k] as number)) as [number, number, number])) {
            marched = t;
            break;
          }
        // A ray that grazes may slip between two steps of the march.
        if (marched === 20 && found < 20) {
          const inside = p.map((v, k) => v + (found + 1e-7) * (d[k] as number)) as [number, number, number];
          expect(isInside(z, inside) || isInside(z, inside.map((v) => v * (1 - 1e-6)) as [number, number, number])).toBe(true);
        } else expect(Math.abs(found - marched)).toBeLessThan(0.003);
      }),
      { numRuns: 200 },
    );
  });
  it('gives points inside of it, the same ones every time, leaning to no side (property)', () => {
    fc.assert(
      fc.property(zone, point, fc.integer({ min: 4, max: 64 }), (z, p, count) => {
        fc.pre(Math.hypot(...p) > 0.1);
        const c = zoned(z);
        const [one, two] = [new Float64Array(count * 3), new Float64Array(count * 3)];
        const from = p.map((v, k) => v + (CENTRE[k] as number)) as [number, number, number];
        pointsOfZone(c, 0, ...from, count, one);
        pointsOfZone(c, 0, ...from, count, two);
        expect([...one]).toEqual([...two]);
        const mean = [0, 0, 0];
        for (let k = 0; k < count; k++) {
          const q = [0, 1, 2].map((i) => (one[k * 3 + i] as number) - (CENTRE[i] as number)) as [number, number, number];
          expect(isInside(z, q)).toBe(true);
          q.forEach((v, i) => {
            mean[i] = (mean[i] as number) + v / count;
          });
        }
        // They lean to no side.
        const reach =
          z.kind === 'sphere' ? z.radiusM : z.kind === 'box' ? Math.hypot(...z.sizeM) / 2 : z.kind === 'capsule' ? z.heightM / 2 : 1;
        expect(Math.hypot(...mean)).toBeLessThan(0.4 * reach);
      }),
    );
  });
});
