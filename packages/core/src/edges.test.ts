/** What stands at the edge of the frame, against the way to its anchor made from angles, all the way round; and turning without a jump. */
import { type Document, EDGE, type Element, makeDocument, makeHeadset, makeLabel, type Viewer } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { drawList } from './draw-list.ts';
import { EdgeForm, edgesFor } from './edges.ts';
import { explain } from './explain/explain.ts';
import { placeOf } from './frame.ts';
import { isUnsettled } from './motions.ts';
import { fixedText as text } from './sample.ts';
import { makeSolver, type Solver, solve } from './solve.ts';
import { lookingPose, type Pose, type Vec3 } from './spaces/pose.ts';
import { edgeDistance, MOST_TURN_DEG_PER_S } from './steps/edge.ts';
import { Verdict } from './steps/names.ts';

type Edge = NonNullable<Element['place']['edge']>;
const EYE: Vec3 = [0, 1.65, 0];
const RAD = Math.PI / 180;
const marked = (position: Vec3, edit: Partial<Edge> = {}, viewer?: Viewer): Solver => {
  const d: Document = makeDocument('Low Water');
  d.anchors.mast = { kind: 'surface', name: 'Mast', order: 'a0', node: null, position, normal: [0, 1, 0] };
  const label = makeLabel('mast', 'Mast', 'a0');
  d.elements.mast = {
    ...label,
    place: { ...label.place, ownPoint: [0.5, 0.5], offsetPx: [0, 0], leader: null, edge: { ...EDGE, ...edit } },
  };
  return makeSolver(arrange(compile(d, null), (viewer ?? d.viewers.desk) as never, text));
};
/** A place so many degrees to the right of ahead and up, and so far away. */
const at = (rightDeg: number, upDeg: number, m: number): Vec3 => [
  m * Math.sin(rightDeg * RAD) * Math.cos(upDeg * RAD),
  EYE[1] + m * Math.sin(upDeg * RAD),
  -m * Math.cos(rightDeg * RAD) * Math.cos(upDeg * RAD),
];
const look = (yawDeg = 0, pitchDeg = 0): Pose => lookingPose(EYE, yawDeg, pitchDeg);
const solved = (solver: Solver, pose: Pose, timeS = 0): Solver => {
  solve(solver, { timeS, head: pose, depthOrder: true });
  return solver;
};
const point = (solver: Solver): [number, number] => [...placeOf(solver.f, 0).point] as [number, number];
/** The way in the picture, degrees clockwise from the right. */
const wayDeg = (solver: Solver): number => {
  const [x, y] = point(solver);
  return Math.atan2(y - solver.a.projection.centreY, x - solver.a.projection.centreX) / RAD;
};
const apartDeg = (a: number, b: number): number => Math.abs(((((a - b) % 360) + 540) % 360) - 180);

describe('what stands at the edge', () => {
  it('lies on the frame, the way to its anchor, for the full circle, above and below, in front and behind (property)', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -180, max: 180, noNaN: true }),
        fc.double({ min: -85, max: 85, noNaN: true }),
        fc.double({ min: 0.3, max: 300, noNaN: true }),
        fc.constantFrom('rectangle' as const, 'ellipse' as const),
        (right, up, m, form) => {
          const solver = solved(marked(at(right, up, m), { form }), look());
          const { projection } = solver.a;
          const { widthPx: w, heightPx: h } = projection;
          expect(solver.f.failed[0]).toBe(Verdict.Shown);
          const [x, y] = point(solver);
          const inset = 56 * solver.a.fit;
          // Made from the angles alone: where a point on the sphere about the eye lies, its third axis bent away behind.
          const [sx, sy, sz] = [
            Math.sin(right * RAD) * Math.cos(up * RAD),
            Math.sin(up * RAD),
            -Math.cos(right * RAD) * Math.cos(up * RAD),
          ];
          const [wayX, wayY] = [sx * projection.focalX, -(sy - Math.max(sz, 0)) * projection.focalY];
          // Not near the one way at which it is singular.
          fc.pre(Math.hypot(wayX, wayY) > 0.035 * projection.focalX);
          const ahead = -sz * m > projection.nearM;
          const seen = ahead ? Math.hypot(wayX, wayY) / -sz : Number.POSITIVE_INFINITY;
          const [cx, cy] = [x - w / 2, y - h / 2];
          const onEdge =
            form === 'ellipse'
              ? Math.abs((cx / (w / 2 - inset)) ** 2 + (cy / (h / 2 - inset)) ** 2 - 1) < 1e-6
              : Math.abs(Math.max(Math.abs(cx) - (w / 2 - inset), Math.abs(cy) - (h / 2 - inset))) < 1e-6;
          if (!onEdge) {
            // It is in view: there it is where it is seen.
            expect(ahead).toBe(true);
            expect(Math.hypot(cx, cy)).toBeCloseTo(seen, 6);
          }
          expect(apartDeg(wayDeg(solver), Math.atan2(wayY, wayX) / RAD)).toBeLessThan(1e-6);
          // All of its box lies in the frame.
          const [left, top, width, height] = placeOf(solver.f, 0).rect;
          expect(Math.min(left - inset, top - inset, w - inset - left - width, h - inset - top - height)).toBeGreaterThan(-1e-6);
        },
      ),
      { numRuns: 400 },
    );
  });

  it('turns with the viewer without a jump, once round in both axes, and becomes the label where it comes into view', () => {
    for (const turn of ['yaw', 'pitch'] as const)
      for (const form of ['rectangle', 'rounded', 'ellipse', 'ring'] as const) {
        const solver = marked(at(20, 7, 12), { form });
        let before: [number, number] | null = null;
        let states = 0;
        let was = false;
        // 60 frames a second, 20 degrees a second.
        for (let k = 0; k <= (turn === 'yaw' ? 1080 : 420); k++) {
          const deg = turn === 'yaw' ? k / 3 : k / 3 - 70;
          solved(solver, turn === 'yaw' ? look(deg, 0) : look(150, deg), k / 60);
          const now = point(solver);
          const [cx, cy] = [solver.a.projection.centreX, solver.a.projection.centreY];
          const isAt = !Number.isNaN(solver.f.edgeRad[0]);
          if (isAt !== was) states++;
          was = isAt;
          // Up and over, it passes near the singular way, where the picture's way turns quickly; elsewhere less than 2 degrees a frame.
          if (before && isAt) {
            const [a, b] = [Math.atan2(before[1] - cy, before[0] - cx), Math.atan2(now[1] - cy, now[0] - cx)];
            expect(apartDeg(a / RAD, b / RAD), `${turn} ${deg}`).toBeLessThan(turn === 'yaw' ? 2 : MOST_TURN_DEG_PER_S / 60 + 1e-6);
          }
          // Nothing jumps, at the edge's corners and at coming into view: a label in view moves as far.
          if (before && turn === 'yaw') expect(Math.hypot(now[0] - before[0], now[1] - before[1]), `${deg}`).toBeLessThan(40);
          before = now;
        }
        if (turn === 'yaw') expect(states).toBeGreaterThan(1);
      }
  });

  it('never turns faster than 720 degrees a second, the same at any rate of frames, and comes to rest', () => {
    for (const hz of [30, 60, 144]) {
      const solver = marked(at(90, 0, 10));
      solved(solver, look(0), 0);
      expect(wayDeg(solver)).toBeCloseTo(0, 6);
      // Looking the other way: it is to the left now.
      let turned = 0;
      let last = 0;
      for (let k = 1; k <= hz; k++) {
        solved(solver, look(180), k / hz);
        const now = wayDeg(solver);
        expect(apartDeg(now, last)).toBeLessThan(MOST_TURN_DEG_PER_S / hz + 1e-6);
        turned = apartDeg(now, 0);
        last = now;
        if (k / hz < 0.24) expect(isUnsettled(solver), `${hz} ${k}`).toBe(true);
        // A tenth of a second are 72 degrees.
        if (Math.abs(k / hz - 0.1) < 1e-9) expect(turned).toBeCloseTo(72, 5);
      }
      expect(turned).toBeCloseTo(180, 6);
      expect(isUnsettled(solver)).toBe(false);
    }
  });

  it('says which way and how far, draws its arrow outward, and is out of view where it is not marked', () => {
    const solver = solved(marked(at(112, 0, 14)), look());
    expect(explain(solver, 0).find(({ step }) => step === 'view')?.facts).toEqual([
      { kind: 'atEdge', rightDeg: expect.closeTo(112, 9), upDeg: expect.closeTo(0, 9), distanceM: expect.closeTo(14, 9) },
    ]);
    const arrow = drawList(solver).items.filter((item) => item.kind === 'shape');
    expect(arrow).toHaveLength(2);
    const [x, y] = point(solver);
    const [tipX, tipY] = arrow[1]?.kind === 'shape' ? [arrow[1].coords[0] as number, arrow[1].coords[1] as number] : [0, 0];
    expect(Math.hypot(tipX - x, tipY - y)).toBeCloseTo(26 * solver.a.fit, 6);
    expect(tipX).toBeGreaterThan(x);
    // In view there is none.
    const inView = solved(marked(at(3, 0, 14)), look());
    expect(drawList(inView).items.filter((item) => item.kind === 'shape')).toEqual([]);
    expect(explain(inView, 0).find(({ step }) => step === 'view')?.facts[0]?.kind).toBe('ahead');
    for (const [within, verdict] of [
      [13.9, Verdict.View],
      [14.1, Verdict.Shown],
    ] as const)
      expect(solved(marked(at(112, 0, 14), { withinM: within }), look()).f.failed[0]).toBe(verdict);
  });

  it('is seen by both eyes of a headset in one place at its depth', () => {
    const solver = solved(marked(at(150, 0, 5), {}, makeHeadset('Headset', 'a9')), look());
    const { eyes, projection } = solver.a;
    const [headX, headY] = point(solver);
    for (const [k, eye] of eyes.entries()) {
      const [x, y] = placeOf(solver.f, 0, k + 1).point;
      // From an eye beside the head's middle, what is 5 m away is seen that much to the other side.
      const tangent = (headX - projection.centreX) / projection.focalX;
      expect((x - eye.projection.centreX) / eye.projection.focalX).toBeCloseTo(tangent - eye.rightM / 5, 9);
      expect((y - eye.projection.centreY) / eye.projection.focalY).toBeCloseTo((headY - projection.centreY) / projection.focalY, 9);
    }
    expect(eyes).toHaveLength(2);
    // In what both see: neither eye has it cut off.
    for (const [k, { projection: own }] of eyes.entries()) {
      const [left, , width] = placeOf(solver.f, 0, k + 1).rect;
      expect(left).toBeGreaterThan(0);
      expect(left + width).toBeLessThan(own.widthPx);
    }
  });

  it('stays a state where nothing is left of the frame, and where the anchor is in the eye', () => {
    const none = solved(marked(at(90, 0, 5), { insetPx: [4000, 4000, 4000, 4000] }), look());
    expect(point(none)).toEqual([none.a.projection.centreX, none.a.projection.centreY]);
    const inEye = solved(marked([...EYE]), look());
    expect(point(inEye).every(Number.isFinite)).toBe(true);
    expect(edgesFor(none.c, none.a.viewer, none.a.projection, []).edgeOf[0]).toBe(0);
  });
});

describe('how far it is to the edge', () => {
  it('is where a ray from inside leaves it (property)', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(EdgeForm.Rectangle, EdgeForm.Ellipse, EdgeForm.Rounded, EdgeForm.Ring),
        fc.double({ min: 0.05, max: 0.95, noNaN: true }),
        fc.double({ min: 0.05, max: 0.95, noNaN: true }),
        fc.double({ min: -Math.PI, max: Math.PI, noNaN: true }),
        (form, u, v, rad) => {
          const r = 160;
          const edges = Float64Array.of(100, 50, 900, 650, form, 0, 1e9, 0, r);
          const isBox = form === EdgeForm.Rectangle;
          const [x, y] = [100 + 800 * (isBox ? u : 0.25 + u / 2), 50 + 600 * (isBox ? v : 0.25 + v / 2)];
          const t = edgeDistance(edges, 0, x, y, Math.cos(rad), Math.sin(rad));
          // By halving: inside until there, outside after it.
          const inside = (far: number): boolean => {
            const [px, py] = [x + far * Math.cos(rad), y + far * Math.sin(rad)];
            if (form === EdgeForm.Ring) return far <= r;
            if (form === EdgeForm.Ellipse) return ((px - 500) / 400) ** 2 + ((py - 350) / 300) ** 2 <= 1;
            // A rounded box is all that lies within its radius of a smaller box.
            const round = form === EdgeForm.Rounded ? r : 0;
            return Math.hypot(Math.max(0, Math.abs(px - 500) - (400 - round)), Math.max(0, Math.abs(py - 350) - (300 - round))) <= round;
          };
          let [low, high] = [0, 2000];
          for (let k = 0; k < 60; k++) {
            const middle = (low + high) / 2;
            if (inside(middle)) low = middle;
            else high = middle;
          }
          expect(t).toBeCloseTo(low, 6);
        },
      ),
    );
  });
});
