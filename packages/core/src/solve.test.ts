import { type Document, type Label, makeDocument, makeLabel } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { drawList } from './draw-list.ts';
import { explain } from './explain/explain.ts';
import { placeOf } from './frame.ts';
import type { Level } from './level.ts';
import { fixedText as text } from './sample.ts';
import { makeSolver, type Solver, solve } from './solve.ts';
import type { Pose, Vec3 } from './spaces/pose.ts';
import { projectPoint } from './spaces/project.ts';
import { STEPS, Verdict } from './steps/names.ts';

const HEAD: Pose = { position: [0, 0, 0], rotation: [0, 0, 0, 1] };

const bare = (edit: (label: Label) => Label = (l) => l): Label => {
  const label = makeLabel('spot', 'Tide gauge', 'a0');
  return edit({ ...label, paint: { ...label.paint, plate: null } });
};
function scene(position: Vec3, edit?: (label: Label) => Label): Document {
  const document = makeDocument('Low Water');
  document.anchors.spot = { kind: 'surface', name: 'Spot', order: 'a0', node: null, position, normal: [0, 1, 0] };
  document.elements.gauge = bare(edit);
  return document;
}
function solved(document: Document, head = HEAD, viewer = 'desk', level: Level | null = null): Solver {
  const solver = makeSolver(arrange(compile(document, level), document.viewers[viewer] as never, text));
  solve(solver, { timeS: 0, head, depthOrder: true });
  return solver;
}

/** A level of one node that stands 10 m along x for every second of its only clip. */
function sliding(): Level {
  const worldMatrices = Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);
  return {
    nodeIds: ['Dinghy'],
    nodeProperties: [{}],
    nodeMoves: Uint8Array.of(1),
    nodeIndex: (id) => (id === 'Dinghy' ? 0 : -1),
    clipDurationsS: [100],
    worldMatrices,
    poses: (times) => {
      worldMatrices[12] = 10 * (times[0] ?? 0);
      return worldMatrices;
    },
    parentOf: new Int32Array([-1, -1, -1, -1]),
    clipNames: [],
    surfaceOf: () => null,
    nearestShare: () => 1,
    castRay: () => false,
    sightline: () => -1,
    colourAt: (_o, _d, out) => out,
  };
}

describe('a floating label', () => {
  it('is placed by its own point and its offset from the projected anchor', () => {
    // Straight ahead: the anchor is at 960, 540. 28 px em: 112 x 35 px; own point at the foot's middle, 28 px up.
    const { f } = solved(scene([0, 0, -10]));
    expect(f.failed[0]).toBe(Verdict.Shown);
    expect(placeOf(f, 0)).toEqual({ point: [960, 540], depthM: 10, emPx: 28, rect: [960 - 56, 540 - 28 - 35, 112, 35] });
  });

  it('has its design pixels brought to each screen by the fit', () => {
    const { f } = solved(scene([0, 0, -10]), HEAD, 'television');
    expect(placeOf(f, 0)).toMatchObject({ emPx: 56, point: [1920, 1080], rect: [1920 - 112, 1080 - 56 - 70, 224, 70] });
  });

  it('keeps a constant angle at the eye where it is told to', () => {
    const document = scene([0, 0, -10], (l) => ({ ...l, size: { rule: 'angle', emArcmin: 30, hideBelowPx: 0, leavePx: 0 } }));
    for (const viewer of ['desk', 'handheld', 'television']) {
      const { f, a } = solved(document, HEAD, viewer);
      // 30 arcmin as a length on the screen: 2·r·tan(0.25°) times pixels per metre, within the screen's small-angle rule.
      const one = document.viewers[viewer] as never as { widthPx: number; heightPx: number; diagonalIn: number; distanceM: number };
      const perMetre = Math.hypot(one.widthPx, one.heightPx) / (one.diagonalIn * 0.0254);
      expect(placeOf(f, 0).emPx).toBeCloseTo(2 * one.distanceM * Math.tan(Math.PI / 720) * perMetre, 1);
      expect(placeOf(f, 0).emPx / a.pixelsPerArcmin).toBeCloseTo(30, 9);
    }
  });

  it.each([
    // 0.5 m at d metres through 60° over 1080 px: 0.5·540/(d·tan 30°) = 467.65/d px, between 20 and 60.
    [20, 23.3827],
    [5, 60],
    [100, 20],
  ])('is as large as the world at %d m: %d px, within its limits', (distance, expected) => {
    const document = scene([0, 0, -distance], (l) => ({
      ...l,
      size: { rule: 'world', emM: 0.5, leastPx: 20, greatestPx: 60, hideBelowPx: 0, leavePx: 0 },
    }));
    expect(placeOf(solved(document).f, 0).emPx).toBeCloseTo(expected, 3);
  });

  it('stays wholly inside the safe area where it is told to', () => {
    const document = scene([5.9, 3.2, -6], (l) => ({ ...l, place: { ...l.place, stay: 'inside' } }));
    const { f, a } = solved(document);
    const [x, y, w] = placeOf(f, 0).rect;
    expect(x + w).toBeCloseTo(a.safe.right, 9);
    expect(y).toBeCloseTo(a.safe.top, 9);
  });

  it('follows a node that moves, and the midpoint of it and a fixed place', () => {
    const document = scene([0, 0, -10]);
    document.anchors.boat = { kind: 'node', name: 'Boat', order: 'a1', node: 'Dinghy', offset: [0, 1, -20] };
    document.anchors.half = { kind: 'midpoint', name: 'Half', order: 'a2', first: 'boat', second: 'spot' };
    document.elements.boat = { ...bare(), order: 'a1', mount: { kind: 'floating', anchor: 'boat' } };
    document.elements.half = { ...bare(), order: 'a2', mount: { kind: 'floating', anchor: 'half' } };
    const level = sliding();
    const solver = makeSolver(arrange(compile(document, level), document.viewers.desk as never, text));
    const projection = solver.a.projection;
    for (const timeS of [0, 0.3, 0.7]) {
      level.poses([timeS]);
      solve(solver, { timeS, head: HEAD, depthOrder: false });
      const boat = projectPoint(projection, HEAD, [10 * timeS, 1, -20]);
      const half = projectPoint(projection, HEAD, [5 * timeS, 0.5, -15]);
      expect(placeOf(solver.f, 1).point).toEqual([expect.closeTo(boat.x, 9), expect.closeTo(boat.y, 9)]);
      expect(placeOf(solver.f, 2).point).toEqual([expect.closeTo(half.x, 9), expect.closeTo(half.y, 9)]);
    }
  });

  it('is painted as line, plate and text, back to front', () => {
    const document = scene([0, 0, -10]);
    document.elements.gauge = makeLabel('spot', 'Tide gauge', 'a0');
    const { items } = drawList(solved(document));
    expect(items.map((i) => i.kind)).toEqual(['line', 'plate', 'text']);
    expect(items[0]).toMatchObject({ x1: 960, y1: 540, x2: 960, y2: 512 });
  });
});

describe('the chain names the first step that says no', () => {
  const cases: [string, Document, string, object][] = [
    [
      'attach',
      { ...scene([0, 0, -5]), anchors: { spot: { kind: 'node', name: 'Spot', order: 'a0', node: 'Nowhere', offset: [0, 0, 0] } } },
      'attach',
      { kind: 'lost', fault: { kind: 'noLevel' } },
    ],
    ['view, behind', scene([0, 0, 5]), 'view', { kind: 'behind', byM: 5 }],
    ['view, at the near plane', scene([0, 0, -0.1]), 'view', { kind: 'beforeNear', aheadM: 0.1, nearM: 0.1 }],
    // 960 + 30/5 of the focal length of 540/tan(30 deg), less the width of 1920.
    [
      'view, outside the frame',
      scene([30, 0, -5]),
      'view',
      { kind: 'outside', outPx: expect.closeTo((6 * 540) / Math.tan(Math.PI / 6) - 960, 6) },
    ],
    [
      'size',
      scene([0, 0, -200], (l) => ({ ...l, size: { rule: 'world', emM: 0.2, leastPx: 0, greatestPx: 90, hideBelowPx: 8, leavePx: 0 } })),
      'size',
      { kind: 'belowFloor', floorPx: 8 },
    ],
    ['place', scene([0, 0, -5], (l) => ({ ...l, place: { ...l.place, offsetPx: [0, -900] } })), 'place', { kind: 'offFrame' }],
  ];
  it.each(cases)('%s', (_, document, step, fact) => {
    const links = explain(solved(document), 0);
    const no = links.find((l) => l.state === 'no');
    expect(no?.step).toBe(step);
    expect(no?.facts).toContainEqual(expect.objectContaining(fact));
    expect(links.slice(0, links.indexOf(no as never)).every((l) => l.state === 'yes' || l.state === 'absent')).toBe(true);
  });

  it('and explain agrees with solve over random scenes (property)', () => {
    const near = fc.double({ min: -30, max: 30, noNaN: true });
    fc.assert(
      fc.property(
        near,
        near,
        near,
        fc.double({ min: 0, max: 40, noNaN: true }),
        fc.integer({ min: -1500, max: 1500 }),
        (x, y, z, hideBelowPx, offset) => {
          const solver = solved(
            scene([x, y, z], (l) => ({
              ...l,
              size: { rule: 'world', emM: 0.4, leastPx: 0, greatestPx: 900, hideBelowPx, leavePx: 0 },
              place: { ...l.place, offsetPx: [offset, 0] },
            })),
          );
          const no = explain(solver, 0).find((l) => l.state === 'no');
          const failed = solver.f.failed[0] as Verdict;
          expect(no?.step ?? null).toBe(failed === Verdict.Shown ? null : STEPS[failed]);
        },
      ),
    );
  });
});

describe('memory', () => {
  it('holds what came in until it is the leave value farther out', () => {
    const document = scene([0, 0, -10]);
    const solver = makeSolver(arrange(compile(document, null), document.viewers.desk as never, text));
    const perMetre = 540 / Math.tan(Math.PI / 6) / 10;
    const at = (px: number) => {
      // The head goes left, so the anchor goes right: px beyond the right edge.
      const head: Pose = { position: [-(960 + px) / perMetre, 0, 0], rotation: [0, 0, 0, 1] };
      solve(solver, { timeS: 0, head, depthOrder: false });
      return solver.m.viewIn[0] === 1;
    };
    expect([at(5), at(-5), at(5), at(23), at(25), at(5), at(-1)]).toEqual([false, true, true, true, false, false, true]);
  });
  it('of a later step is forgotten when an earlier one says no', () => {
    const document = scene([0, 0, -10], (l) => ({
      ...l,
      size: { rule: 'world', emM: 0.4, leastPx: 0, greatestPx: 900, hideBelowPx: 30, leavePx: 15 },
    }));
    const solver = makeSolver(arrange(compile(document, null), document.viewers.desk as never, text));
    const step = (z: number, yaw = false) => {
      solve(solver, { timeS: 0, head: { position: [0, 0, z], rotation: yaw ? [0, 1, 0, 0] : [0, 0, 0, 1] }, depthOrder: false });
      return solver.f.failed[0];
    };
    // 374 px/m·m: 37 px at 10 m, 23 px at 16 m, held by the leave value; looking away forgets it.
    expect([step(0), step(6), step(6, true), step(6)]).toEqual([Verdict.Shown, Verdict.Shown, Verdict.View, Verdict.Size]);
  });
});

describe('depth order', () => {
  it.each([3, 50, 65, 500])('is from the farthest to the nearest, ties by row, for %d labels', (n) => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 40 }), { minLength: n, maxLength: n }), (depths) => {
        const document = makeDocument('x');
        depths.forEach((d, i) => {
          const id = `e${String(i).padStart(4, '0')}`;
          document.anchors[id] = { kind: 'surface', name: id, order: 'a0', node: null, position: [0, 0, -d], normal: [0, 1, 0] };
          document.elements[id] = { ...bare(), mount: { kind: 'floating', anchor: id } };
        });
        const { f } = solved(document);
        const expected = depths.map((_, i) => i).sort((a, b) => (depths[b] as number) - (depths[a] as number) || a - b);
        expect([...f.order.subarray(0, f.orderCount)]).toEqual(expected);
      }),
      { numRuns: n > 100 ? 10 : 40 },
    );
  });
});
