/** What is drawn of zones and ranges lies where they end. */
import { type Document, makeDocument, makeLabel, type Zone } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compile } from './compile.ts';
import { rangeRing, zoneLines } from './outlines.ts';
import { levelOf } from './sample-level.ts';
import type { Vec3 } from './spaces/pose.ts';
import { distanceToZone } from './zones.ts';

const CENTRE: Vec3 = [1, 2, -3];
function zoned(zone: Zone | undefined) {
  const d: Document = makeDocument('Low Water');
  d.anchors.spot = {
    kind: 'surface',
    name: 'Spot',
    order: 'a0',
    node: null,
    position: CENTRE,
    normal: [0, 1, 0],
    ...(zone && { zone }),
  };
  d.elements.label = makeLabel('spot', 'Crate', 'a0');
  return compile(d, null);
}
const length = fc.double({ min: 0.1, max: 2, noNaN: true });
const zone: fc.Arbitrary<Zone> = fc.oneof(
  length.map((radiusM): Zone => ({ kind: 'sphere', radiusM })),
  fc.tuple(length, length, length).map((sizeM): Zone => ({ kind: 'box', sizeM })),
  fc.tuple(length, length).map(([radiusM, more]): Zone => ({ kind: 'capsule', radiusM, heightM: 2 * radiusM + more })),
);

describe('the outline of a zone', () => {
  it('lies on its border: there the distance is 0, and a little farther out it is not (property)', () => {
    fc.assert(
      fc.property(zone, (z) => {
        const c = zoned(z);
        const lines = zoneLines(c, 0);
        expect(lines.length).toBeGreaterThan(2);
        for (const point of lines.flat()) {
          expect(distanceToZone(c, 0, ...point)).toBeLessThan(1e-9);
          const out = point.map((v, k) => v + (v - (CENTRE[k] as number)) * 0.01) as Vec3;
          expect(distanceToZone(c, 0, ...out)).toBeGreaterThan(0);
        }
      }),
    );
  });
  it('of a box has its eight corners; of a mere point there is none', () => {
    const corners = new Set(
      zoneLines(zoned({ kind: 'box', sizeM: [2, 4, 6] }), 0)
        .flat()
        .map((p) => p.map((v) => Number(v.toFixed(9))).join(' ')),
    );
    expect(corners).toEqual(new Set([0, 2].flatMap((x) => [0, 4].flatMap((y) => [-6, 0].map((w) => `${x} ${y} ${w}`)))));
    expect(zoneLines(zoned(undefined), 0)).toEqual([]);
  });
  it('of a mesh is what its node shows', () => {
    const d = makeDocument('Low Water');
    d.anchors.spot = { kind: 'node', name: 'Spot', order: 'a0', node: 'Crate', offset: [0, 0, 0], zone: { kind: 'mesh' } };
    d.elements.label = makeLabel('spot', 'Crate', 'a0');
    const level = levelOf([{ name: 'Crate', least: [0, 0, 0], greatest: [1, 1, 1] }]);
    const edge: [Vec3, Vec3] = [
      [0, 0, 0],
      [1, 0, 0],
    ];
    const surface = { distanceM: () => 0, alongM: () => 0, points: () => {}, edges: () => [edge] };
    expect(zoneLines(compile(d, { ...level, surfaceOf: () => surface }), 0)).toEqual([edge]);
  });
});

describe('the ring of a range', () => {
  it('lies level, as far from the zone as the range says (property)', () => {
    fc.assert(
      fc.property(
        zone.filter(({ kind }) => kind !== 'box'),
        fc.double({ min: 0.5, max: 20, noNaN: true }),
        (z, far) => {
          const c = zoned(z);
          // At the height of the middle, where the zone is widest.
          for (const point of rangeRing(c, 0, far, CENTRE[1])) {
            expect(point[1]).toBe(CENTRE[1]);
            expect(distanceToZone(c, 0, ...point)).toBeCloseTo(far, 9);
          }
        },
      ),
    );
  });
});
