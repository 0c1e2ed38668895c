/** From which way something happened: against angles worked out otherwise, and what is kept, joined and forgotten by hand. */
import { type Direction, type Document, type FeedValue, makeConfirmation, makeDirection, makeDocument } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { bearingOf, freshness, shownDirections } from './directions.ts';
import { sideDistance } from './draw-direction.ts';
import type { ArcItem, ShapeItem } from './draw-items.ts';
import { drawList } from './draw-list.ts';
import { explain } from './explain/explain.ts';
import { factIn } from './outcome.ts';
import { TICK_S } from './route.ts';
import { plainText as text } from './sample.ts';
import { makeSolver, type Solver, solve, solveTo } from './solve.ts';
import { lookingPose, type Pose, type Vec3 } from './spaces/pose.ts';
import { Verdict } from './steps/names.ts';

const AHEAD: Pose = lookingPose([0, 0, 0], 0, 0);
function scene(change: Partial<Direction> = {}, calls?: Vec3): Document {
  const document = makeDocument('Low Water');
  document.feeds.surge = { name: 'Surge', order: 'a0', kind: 'event', unit: '', initial: { number: 0, place: null } };
  if (calls) document.anchors.call = { kind: 'surface', name: 'Call', order: 'a0', node: null, position: calls, normal: [0, 1, 0] };
  document.elements.from = { ...makeDirection('Surge', 'surge', 'a0'), ...change };
  return document;
}
const solverOf = (document: Document): Solver => makeSolver(arrange(compile(document, null), document.viewers.desk as never, text));
/** Solves tick by tick; what happens is told by the number of the tick. */
function play(
  solver: Solver,
  ticks: number,
  happens: Record<number, Vec3 | null>,
  head: (tick: number) => Pose = () => AHEAD,
  each?: (tick: number) => void,
): void {
  let value: FeedValue = { number: 0, place: null };
  for (let tick = 0; tick <= ticks; tick++) {
    if (tick in happens) value = { number: (value as { number: number }).number + 1, place: happens[tick] ?? null };
    solve(solver, { timeS: tick * TICK_S, head: head(tick), depthOrder: false, values: [value] });
    each?.(tick);
  }
}
const arcs = (solver: Solver, colour = '#E4572E') =>
  drawList(solver).items.filter((item): item is ArcItem => item.kind === 'arc' && item.colour === colour);

describe('the bearing of what happened', () => {
  it('is the angle about the vertical from where the head looks (property, against angles of headings)', () => {
    const solver = solverOf(scene());
    fc.assert(
      fc.property(
        fc.double({ min: -180, max: 180, noNaN: true }),
        fc.double({ min: -80, max: 80, noNaN: true }),
        fc.double({ min: -180, max: 180, noNaN: true }),
        fc.double({ min: -70, max: 70, noNaN: true }),
        fc.double({ min: 1, max: 100, noNaN: true }),
        (yaw, pitch, around, up, away) => {
          const eye: Vec3 = [3, 1.7, -8];
          solve(solver, { timeS: 0, head: lookingPose(eye, yaw, pitch), depthOrder: false, stands: true });
          // A heading is to the left; a bearing to the right.
          const way = lookingPose([0, 0, 0], yaw - around, up);
          const [x, y, z, w] = way.rotation;
          // The camera's own −z, turned by the quaternion.
          const forward: Vec3 = [-2 * (x * z + w * y), -2 * (y * z - w * x), -(1 - 2 * (x * x + y * y))];
          const { aroundDeg, upDeg } = bearingOf(solver, ...(eye.map((v, k) => v + away * (forward[k] as number)) as Vec3));
          expect(Math.abs(((((aroundDeg - around) % 360) + 540) % 360) - 180)).toBeLessThan(1e-6);
          expect(upDeg).toBeCloseTo(up, 6);
        },
      ),
    );
  });
  it('is all around for what has no place, is at the eye, or is straight above; and there is an ahead where one looks straight down', () => {
    const solver = solverOf(scene());
    solve(solver, { timeS: 0, head: AHEAD, depthOrder: false, stands: true });
    for (const place of [
      [0, 0, 0],
      [0, 9, 0],
      [0.1, 0, 0.1],
      [0.3, -5, 0],
    ] as Vec3[])
      expect(bearingOf(solver, ...place).aroundDeg).toBeNaN();
    solve(solver, { timeS: 0, head: lookingPose([0, 0, 0], 0, -90), depthOrder: false, stands: true });
    expect(bearingOf(solver, 0, 0, -5).aroundDeg).toBeCloseTo(0, 4);
    expect(bearingOf(solver, 5, 0, 0).aroundDeg).toBeCloseTo(90, 4);
    solve(solver, { timeS: 0, head: lookingPose([0, 0, 0], 0, 90), depthOrder: false, stands: true });
    expect(bearingOf(solver, 0, 0, -5).aroundDeg).toBeCloseTo(0, 4);
  });
});

describe('a direction', () => {
  it('is an arc about the middle, at the top for ahead, at the right for right; turned with the viewer: by hand', () => {
    const solver = solverOf(scene());
    const middles: number[] = [];
    play(
      solver,
      20,
      { 3: [10, 0, 0] },
      (tick) => lookingPose([0, 0, 0], tick < 10 ? 0 : -90, 0),
      (tick) => {
        const [arc] = arcs(solver);
        if (tick < 3) expect(arc).toBeUndefined();
        else if (arc) middles.push((((arc.fromRad + arc.toRad) / 2) * 180) / Math.PI);
        if (!arc) return;
        const { widthPx, heightPx } = solver.a.projection;
        expect([arc.x, arc.y]).toEqual([expect.closeTo(widthPx / 2, 6), expect.closeTo(heightPx / 2, 6)]);
        expect(arc.toRad - arc.fromRad).toBeCloseTo((36 * Math.PI) / 180, 9);
        // The outer side is half of 420 design pixels away.
        expect(arc.radius + arc.widthPx / 2).toBeCloseTo(210 * solver.a.fit, 6);
      },
    );
    // To the right of where one looks at first; straight ahead once one has turned 90 degrees to the right.
    expect(middles[0]).toBeCloseTo(90, 6);
    expect(middles.at(-1)).toBeCloseTo(0, 6);
  });

  it('is held, fades, and is gone; then Paint says that nothing has happened', () => {
    const solver = solverOf(scene({ holdS: 1, fadeS: 0.5 }));
    const shares: number[] = [];
    play(solver, 90, { 6: [0, 0, -5] }, undefined, (tick) => {
      const [arc] = arcs(solver);
      shares[tick] = arc?.opacity ?? 0;
      expect(solver.f.failed[0]).toBe(arc ? Verdict.Shown : Verdict.Paint);
    });
    expect([shares[5], shares[6], shares[36], shares[44], shares[51]]).toEqual([0, 1, 1, expect.closeTo(1 - 8 / 15, 6), 0]);
    const no = explain(solver, 0).find(({ state }) => state === 'no');
    expect([no?.step, factIn(no?.facts ?? [], 'nothingHappened')]).toEqual(['paint', { kind: 'nothingHappened', withinS: 1.5 }]);
    expect(freshness({ holdS: 1, fadeS: 0 }, 1.01)).toBe(0);
    expect(freshness({ holdS: 1, fadeS: 1 }, Number.NaN)).toBe(0);
  });

  it('adds up what comes from one side, and no more than so many at once: by hand', () => {
    const solver = solverOf(scene({ joinDeg: 20, growShare: 0.5, most: 2, holdS: 5 }));
    // Ahead, 10 degrees beside that, to the right, behind: the last takes the place of the oldest.
    const near: Vec3 = [Math.sin(Math.PI / 18) * 8, 0, -Math.cos(Math.PI / 18) * 8];
    const seen: number[] = [];
    play(solver, 40, { 2: [0, 0, -5], 8: near, 14: [7, 0, 0], 20: [0, 0, 7] }, undefined, (tick) => {
      if ([2, 8, 14, 20].includes(tick)) seen.push(shownDirections(solver, 0).length);
      if (tick === 8) expect(shownDirections(solver, 0)).toMatchObject([{ growth: 1.5, aroundDeg: expect.closeTo(10, 6) }]);
    });
    expect(seen).toEqual([1, 1, 2, 2]);
    expect(shownDirections(solver, 0).map(({ aroundDeg }) => Math.round(Math.abs(aroundDeg)))).toEqual([90, 180]);
    // 10,000 at once: one, at its thickest; and no frame is any longer for it.
    const many = solverOf(scene());
    solve(many, { timeS: 0, head: AHEAD, depthOrder: false, values: [{ number: 0, place: null }] });
    solve(many, { timeS: TICK_S, head: AHEAD, depthOrder: false, values: [{ number: 10_000, place: [0, 0, -3] }] });
    expect(shownDirections(many, 0)).toMatchObject([{ growth: 3 }]);
  });

  it('points at an anchor that moves where it is told to, else at the place; without a place it goes all around', () => {
    const solver = solverOf(scene({ follows: 'call' }, [-6, 0, 0]));
    play(solver, 4, { 2: [0, 0, -5] });
    expect(shownDirections(solver, 0)).toMatchObject([{ aroundDeg: expect.closeTo(-90, 6) }]);
    const nowhere = solverOf(scene());
    play(nowhere, 4, { 2: null });
    const [ring] = arcs(nowhere);
    expect((ring?.toRad ?? 0) - (ring?.fromRad ?? 0)).toBeCloseTo(2 * Math.PI, 9);
  });

  it('marks what is above and below, and only that', () => {
    const marks = (place: Vec3): number[] => {
      const solver = solverOf(scene({ paint: { ...makeDirection('', null, 'a0').paint, outline: null } }));
      play(solver, 3, { 2: place });
      return drawList(solver).items.flatMap((item) => (item.kind === 'line' ? [Math.sign(item.y2 - item.y1)] : []));
    };
    expect(marks([0, 1, -5])).toEqual([]);
    // Chevrons: their tips are at the second end.
    expect(marks([0, 5, -5])).toEqual([-1, -1]);
    expect(marks([0, -5, -5])).toEqual([1, 1]);
  });

  it('as fringes lies at the sides of its box, and nowhere outside of it (property)', () => {
    fc.assert(
      fc.property(fc.double({ min: -180, max: 180, noNaN: true }), fc.double({ min: 2, max: 180, noNaN: true }), (around, spanDeg) => {
        const stretch: [boolean, boolean] = [true, true];
        const mount = { kind: 'glass' as const, within: 'screen' as const, pin: [0.5, 0.5] as [number, number], stretch };
        const solver = solverOf(scene({ form: 'fringes', thickPx: 120, spanDeg, mount }));
        const rad = (around * Math.PI) / 180;
        play(solver, 2, { 1: [Math.sin(rad) * 9, 0, -Math.cos(rad) * 9] });
        const { widthPx, heightPx } = solver.a.projection;
        const shapes = drawList(solver).items.filter((item): item is ShapeItem => item.kind === 'shape');
        expect(shapes).toHaveLength(12);
        for (const { coords } of shapes)
          for (let k = 0; k < coords.length; k += 2) {
            expect(coords[k] as number).toBeGreaterThan(-1e-6);
            expect(coords[k] as number).toBeLessThan(widthPx + 1e-6);
            expect(coords[k + 1] as number).toBeGreaterThan(-1e-6);
            expect(coords[k + 1] as number).toBeLessThan(heightPx + 1e-6);
          }
        // On its bearing it reaches inwards from the side by its depth.
        const far = sideDistance(widthPx, heightPx, rad);
        const { coords } = shapes.at(-1) as ShapeItem;
        let nearest = Number.POSITIVE_INFINITY;
        for (let k = 0; k < coords.length; k += 2)
          nearest = Math.min(nearest, Math.hypot((coords[k] as number) - widthPx / 2, (coords[k + 1] as number) - heightPx / 2));
        expect(nearest).toBeLessThanOrEqual(far - 120 * solver.a.fit * 0.9);
      }),
      { numRuns: 60 },
    );
  });

  it('shows nothing where a frame stands by itself; and decides the same at 30, 60 and 144 pictures a second', () => {
    const still = solverOf(scene());
    solve(still, { timeS: 7, head: AHEAD, depthOrder: false, stands: true, values: [{ number: 4, place: [5, 0, 0] }] });
    expect(shownDirections(still, 0)).toEqual([]);
    const happens = (timeS: number): FeedValue => ({
      number: Math.floor(timeS / 0.7),
      place: [Math.sin(timeS) * 9, 0, Math.cos(timeS) * 9],
    });
    const runs = [30, 60, 144].map((hz) => {
      const solver = solverOf(scene({ joinDeg: 0 }));
      const at: Record<number, string> = {};
      for (let k = 0; k <= hz * 5; k++) {
        solveTo(solver, k / hz, (timeS) => ({
          timeS,
          head: AHEAD,
          depthOrder: false,
          // The place is that of the last one that happened.
          values: [
            { ...(happens(timeS) as object), place: (happens(Math.floor(timeS / 0.7) * 0.7) as { place: Vec3 }).place } as FeedValue,
          ],
        }));
        if (k % hz === 0) at[k / hz] = JSON.stringify(shownDirections(solver, 0));
      }
      return at;
    });
    for (const run of runs) expect(run).toEqual(runs[0]);
  });
});

describe('a mark that confirms', () => {
  const marked = (change: Partial<Direction> = {}): Document => {
    const document = scene();
    document.elements.from = { ...makeConfirmation('Answered', 'surge', 'a0'), sizePx: 104, thickPx: 4, holdS: 0.2, fadeS: 0.4, ...change };
    return document;
  };
  const strokes = (solver: Solver) =>
    drawList(solver).items.flatMap((item) => ((item.kind === 'line' || item.kind === 'arc') && item.colour === '#FBF8F0' ? [item] : []));
  it('is a cross about the middle at once, whichever way it was, held, faded, and begun anew by the next', () => {
    const solver = solverOf(marked());
    const opacities: number[] = [];
    play(solver, 60, { 6: [0, 0, 9], 21: null }, undefined, (tick) => {
      const drawn = strokes(solver);
      expect([0, 4]).toContain(drawn.length);
      opacities[tick] = drawn[0]?.opacity ?? 0;
    });
    expect(opacities[5]).toBe(0);
    const ago = (tick: number, at: number) => (tick - at) * TICK_S;
    const by = (agoS: number) => (agoS <= 0.2 ? 1 : Math.max(0, 1 - (agoS - 0.2) / 0.4));
    for (const tick of [6, 10, 15, 20]) expect(opacities[tick]).toBeCloseTo(by(ago(tick, 6)), 9);
    for (const tick of [21, 25, 40, 56]) expect(opacities[tick]).toBeCloseTo(by(ago(tick, 21)), 9);
    expect(opacities[58]).toBe(0);
  });
  it('has the size it says, on the slant; as a ring it goes all round', () => {
    const solver = solverOf(marked());
    play(solver, 4, { 2: [0, 0, 9] });
    // The desk's own pixels are the design's: half of 104 less half of a stroke, 50 px, on the diagonal.
    const { centreX, centreY } = solver.a.projection;
    for (const line of strokes(solver)) {
      if (line.kind !== 'line') throw new Error('no stroke');
      expect(Math.hypot(line.x2 - centreX, line.y2 - centreY)).toBeCloseTo(50, 9);
      expect(Math.abs(line.x2 - centreX)).toBeCloseTo(Math.abs(line.y2 - centreY), 9);
      expect(line.widthPx).toBe(4);
    }
    const ring = solverOf(marked({ form: 'ring' }));
    play(ring, 4, { 2: null });
    expect(strokes(ring)).toMatchObject([{ kind: 'arc', radius: 50, fromRad: 0, toRad: 2 * Math.PI }]);
  });
  it('says in its chain how long ago that was, and not from where', () => {
    const solver = solverOf(marked());
    play(solver, 9, { 3: [0, 0, 9] });
    const facts = explain(solver, 0).find(({ step }) => step === 'paint')?.facts ?? [];
    expect(factIn(facts, 'confirmed')?.agoS).toBeCloseTo(6 * TICK_S, 9);
    expect(facts.some(({ kind }) => kind === 'pointsTo')).toBe(false);
  });
});
