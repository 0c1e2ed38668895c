/** Dragging how far zones and ranges reach. */
import { arrange, compile, makeSolver, type Pose, solve } from '@foreshore/core';
import { type Document, makeDocument, makePrompt, type Zone } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fixedText } from '../../../../packages/core/src/sample.ts';
import { reachHandles, withReach } from './reach.ts';

function scene(zone: Zone | undefined): Document {
  const d = makeDocument('Low Water');
  d.anchors.wheel = {
    kind: 'surface',
    name: 'Wheel',
    order: 'a0',
    node: null,
    position: [3, 1, -2],
    normal: [0, 1, 0],
    ...(zone && { zone }),
  };
  d.elements = makePrompt({}, 'wheel', 'Turn', 'turn').made;
  return d;
}
const HEAD: Pose = { position: [3, 1.65, 0], rotation: [0, 0, 0, 1] };
function handlesOf(d: Document, perMetre: number) {
  const solver = makeSolver(arrange(compile(d, null), d.viewers.desk as never, fixedText));
  solve(solver, { timeS: 0, head: HEAD, depthOrder: false });
  return reachHandles(solver, 'turn', perMetre);
}
const reached = (d: Document, what: string): number | undefined => handlesOf(d, 1000).find((h) => h.what === what)?.reachM;

const length = fc.double({ min: 0.1, max: 4, noNaN: true });
const zone: fc.Arbitrary<Zone> = fc.oneof(
  length.map((radiusM): Zone => ({ kind: 'sphere', radiusM })),
  fc.tuple(length, length, length).map((sizeM): Zone => ({ kind: 'box', sizeM })),
  fc.tuple(length, length).map(([radiusM, more]): Zone => ({ kind: 'capsule', radiusM, heightM: 2 * radiusM + more })),
);

describe('handles on the plan', () => {
  it('are where zone and range end, and clear of the dot where that is too near (property)', () => {
    fc.assert(
      fc.property(zone, fc.double({ min: 2, max: 200, noNaN: true }), (z, perMetre) => {
        const handles = handlesOf(scene(z), perMetre);
        expect(handles.map(({ what }) => what)).toEqual([...(z.kind === 'box' ? ['zone x', 'zone z'] : ['zone x']), 'enter', 'leave']);
        for (const { edge, grip, reachM, way } of handles) {
          expect(Math.hypot(...way)).toBeCloseTo(1, 9);
          expect(Math.hypot(edge[0] - 3, edge[2] + 2)).toBeCloseTo(reachM, 9);
          // 22 pixels off at least, and never nearer than the edge.
          expect(Math.hypot(grip[0] - 3, grip[2] + 2)).toBeCloseTo(Math.max(reachM, 22 / perMetre), 9);
        }
      }),
      { numRuns: 40 },
    );
  });
  it('dragged so far, reach so much farther; nothing else changes but what must (property)', () => {
    fc.assert(
      fc.property(
        zone,
        fc.constantFrom('zone x', 'zone z', 'enter', 'leave'),
        fc.double({ min: -0.5, max: 3, noNaN: true }),
        (z, what, byM) => {
          const d = scene(z);
          const handle = handlesOf(d, 1000).find((h) => h.what === what);
          if (!handle) return;
          const after = withReach(d, d, 'turn', handle, byM);
          const range = d.elements.turn?.range;
          if (what.startsWith('zone')) {
            expect(reached(after, what)).toBeCloseTo(Math.max(0.05, handle.reachM + byM), 2);
            expect(after.elements).toEqual(d.elements);
            const now = after.anchors.wheel?.zone;
            if (z.kind === 'box' && now?.kind === 'box') {
              const side = what === 'zone x' ? 0 : 2;
              expect(now.sizeM.filter((_, k) => k !== side)).toEqual(z.sizeM.filter((_, k) => k !== side));
            }
            // A capsule is never shorter than it is wide.
            if (now?.kind === 'capsule') expect(now.heightM).toBeGreaterThanOrEqual(2 * now.radiusM - 2e-3);
            return;
          }
          expect(after.anchors).toEqual(d.anchors);
          const now = after.elements.turn?.range;
          if (!range || !now) throw new Error('no range');
          expect(now.leaveM).toBeGreaterThanOrEqual(now.enterM);
          if (what === 'enter') {
            expect(now.enterM).toBeCloseTo(range.enterM + byM, 1);
            expect(now.leaveM - now.enterM).toBeCloseTo(range.leaveM - range.enterM, 6);
          } else {
            expect(now.enterM).toBe(range.enterM);
            expect(now.leaveM).toBeCloseTo(Math.max(range.enterM, range.leaveM + byM), 1);
          }
        },
      ),
      { numRuns: 100 },
    );
  });
  it('of a mere point are those of its range; of what has neither there are none', () => {
    expect(handlesOf(scene(undefined), 50).map(({ what }) => what)).toEqual(['enter', 'leave']);
    const d = scene(undefined);
    const {
      range: _,
      look: __,
      sightline: ___,
      claim: ____,
      press: _____,
      ...bare
    } = d.elements.turn as NonNullable<Document['elements'][string]>;
    expect(handlesOf({ ...d, elements: { ...d.elements, turn: bare as never } }, 50)).toEqual([]);
  });
});
