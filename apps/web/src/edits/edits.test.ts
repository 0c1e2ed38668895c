/** What edits do to documents and to what was recorded. */
import { routePose } from '@foreshore/core';
import { type Document, insideOf, makeDocument, makeGroup, makeText, onGlass, type Route, type RoutePose } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { insideAll, siblings, thinned, withElement } from './edits.ts';

const routeOf = (poses: RoutePose[]): Route => ({ name: 'Walk', order: 'a0', poses, feeds: [], phases: [] });
const turned = (deg: number): RoutePose['rotation'] => [0, Math.sin((deg * Math.PI) / 360), 0, Math.cos((deg * Math.PI) / 360)];

describe('a recorded route, thinned', () => {
  it('is the same route within centimetres, whatever was walked: what is left out adds up (property)', () => {
    // Pieces of straight walking, standing and turning, sampled ten times a second.
    const piece = fc.record({
      steps: fc.integer({ min: 1, max: 20 }),
      x: fc.double({ min: -2, max: 2, noNaN: true }),
      z: fc.double({ min: -2, max: 2, noNaN: true }),
      deg: fc.constantFrom(0, 0, 30, -45),
    });
    fc.assert(
      fc.property(fc.array(piece, { minLength: 1, maxLength: 6 }), (pieces) => {
        const poses: RoutePose[] = [{ timeS: 0, position: [0, 1.65, 0], rotation: turned(0) }];
        let [x, z, deg] = [0, 0, 0];
        for (const one of pieces)
          for (let k = 0; k < one.steps; k++) {
            x += one.x * 0.1;
            z += one.z * 0.1;
            deg += one.deg * 0.1;
            poses.push({ timeS: poses.length / 10, position: [x, 1.65, z], rotation: turned(deg) });
          }
        const thin = thinned(poses);
        expect(thin.length).toBeLessThanOrEqual(poses.length);
        expect([thin[0], thin.at(-1)]).toEqual([poses[0], poses.at(-1)]);
        for (const { timeS, position, rotation } of poses) {
          const there = routePose(routeOf(thin), timeS);
          expect(Math.hypot(...there.position.map((v, k) => v - (position[k] as number)))).toBeLessThan(0.05);
          expect(1 - Math.abs(there.rotation.reduce((sum, v, k) => sum + v * (rotation[k] as number), 0))).toBeLessThan(1e-4);
        }
      }),
      { numRuns: 60 },
    );
  });
  it('keeps two poses of a straight walk, and three of one that turns a corner', () => {
    const straight = Array.from({ length: 21 }, (_, k): RoutePose => ({ timeS: k / 10, position: [k / 5, 1.65, 0], rotation: turned(0) }));
    expect(thinned(straight).map((p) => p.timeS)).toEqual([0, 2]);
    const corner = straight.map((p, k): RoutePose => (k > 10 ? { ...p, position: [2, 1.65, (k - 10) / 5] } : p));
    expect(thinned(corner).map((p) => p.timeS)).toEqual([0, 1, 2]);
  });
});

describe('elements among one another', () => {
  const d: Document = {
    ...makeDocument('Low Water'),
    elements: {
      a: makeGroup(onGlass([0, 0]), 'A', 'row', 'a0'),
      b: makeGroup(insideOf('a'), 'B', 'row', 'a1'),
      c: makeText(insideOf('b'), 'C', 'a3'),
      d: makeText(insideOf('a'), 'D', 'a2'),
      e: makeText(onGlass([1, 1]), 'E', 'a4'),
    },
  };
  it('are inside of one another at any depth, in order', () => {
    expect(insideAll(d, 'a')).toEqual(['b', 'c', 'd']);
    expect(insideAll(d, 'e')).toEqual([]);
  });
  it('stand beside those of the same parent', () => {
    const beside = (id: string) => siblings(d, d.elements[id] as never).map(([other]) => other);
    expect(beside('d')).toEqual(['b', 'd']);
    expect(beside('e')).toEqual(['a', 'e']);
  });
  it('are changed one alone; one that is gone leaves the document as it is', () => {
    const after = withElement(d, 'e', (e) => ({ ...e, name: 'Ebb' }));
    expect(after.elements).toEqual({ ...d.elements, e: { ...d.elements.e, name: 'Ebb' } });
    expect(withElement(d, 'gone', (e) => ({ ...e, name: 'Ebb' }))).toBe(d);
  });
});
