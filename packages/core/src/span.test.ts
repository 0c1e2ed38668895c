/** Measure lines: what of them is seen, against points along them; where the text lies; how far the ends are, by hand. */
import { type Document, type Feed, findFaults, makeDocument, makeLabel, SPAN, type Viewer } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { drawList } from './draw-list.ts';
import { explain } from './explain/explain.ts';
import { placeOf, SPAN_STRIDE } from './frame.ts';
import { measureReadable } from './readable.ts';
import { fixedText as text } from './sample.ts';
import { makeSolver, type Solver, solve } from './solve.ts';
import { lookingPose, type Pose, type Vec3 } from './spaces/pose.ts';
import { projectPoint as project } from './spaces/project.ts';
import { Verdict } from './steps/names.ts';
import { readValues } from './values.ts';

function scene(first: Vec3, second: Vec3, textAt: 'middle' | 'seen' = 'middle', dashPx: number | null = null): Document {
  const document = makeDocument('Low Water');
  for (const [id, position] of [
    ['mooring', first],
    ['dinghy', second],
  ] as const)
    document.anchors[id] = { kind: 'surface', name: id, order: 'a0', node: null, position, normal: [0, 1, 0] };
  const label = makeLabel('mooring', '{away, number, ::.0} m', 'a0');
  document.elements.line = {
    ...label,
    place: { ...label.place, ownPoint: [0.5, 0.5], offsetPx: [0, 0], leader: null, span: { ...SPAN, to: 'dinghy', textAt, dashPx } },
  };
  document.feeds.away = {
    name: 'Away',
    order: 'a0',
    kind: 'number',
    unit: 'm',
    initial: 0,
    source: { kind: 'between', first: 'mooring', second: 'dinghy', along: 'space' },
  };
  return document;
}
const HEAD: Pose = lookingPose([0, 0, 0], 0, 0);
function still(document: Document, head = HEAD, viewer = 'desk'): Solver {
  const solver = makeSolver(arrange(compile(document, null), document.viewers[viewer] as never, text));
  solve(solver, { timeS: 0, head, depthOrder: false, stands: true });
  return solver;
}
const along = (a: Vec3, b: Vec3, t: number): Vec3 => a.map((v, k) => v + t * ((b[k] as number) - v)) as Vec3;
const place = fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -20, max: 20, noNaN: true }))) as fc.Arbitrary<Vec3>;

describe('a measure line', () => {
  it('is what is seen of the straight line between its ends, and nothing mirrors (property, against points along it)', () => {
    fc.assert(
      fc.property(place, place, fc.double({ min: -180, max: 180, noNaN: true }), (a, b, yaw) => {
        const head = lookingPose([0, 0, 0], yaw, 0);
        const solver = still(scene(a, b, 'seen'), head);
        const { widthPx, heightPx } = solver.a.projection;
        const [x1, y1, x2, y2] = solver.f.spanEnds.slice(0, 4) as unknown as [number, number, number, number];
        const inFrame = Array.from({ length: 401 }, (_, k) => project(solver.a.projection, head, along(a, b, k / 400))).filter(
          ({ depthM, x, y }) => depthM > solver.a.projection.nearM + 1e-3 && x >= 0 && y >= 0 && x <= widthPx && y <= heightPx,
        );
        if (Number.isNaN(x1)) {
          // A corner of the frame may be cut between two of the points.
          expect(inFrame.length).toBeLessThan(3);
          return;
        }
        // Each of the points in the frame lies on the line, between what is seen of it.
        const [dx, dy] = [x2 - x1, y2 - y1];
        const long = Math.hypot(dx, dy);
        if (long < 1) return;
        for (const { x, y } of inFrame) {
          expect(Math.abs((x - x1) * dy - (y - y1) * dx) / long).toBeLessThan(0.01);
          const t = ((x - x1) * dx + (y - y1) * dy) / (long * long);
          expect(t).toBeGreaterThan(-1e-6 - 0.01 / long);
          expect(t).toBeLessThan(1 + 1e-6 + 0.01 / long);
        }
        for (const v of [x1, x2]) expect(v >= -1e-6 && v <= widthPx + 1e-6).toBe(true);
        for (const v of [y1, y2]) expect(v >= -1e-6 && v <= heightPx + 1e-6).toBe(true);
        // The text is at the middle of what is seen.
        const [px, py] = placeOf(solver.f, 0).point;
        expect(px).toBeCloseTo((x1 + x2) / 2, 6);
        expect(py).toBeCloseTo((y1 + y2) / 2, 6);
      }),
      { numRuns: 300 },
    );
  });

  it('has its text at the middle of the whole where that is asked, whatever is seen; its depth is that of its place', () => {
    const [a, b]: [Vec3, Vec3] = [
      [-1, 0, -4],
      [3, 1, -10],
    ];
    const solver = still(scene(a, b));
    const seen = project(solver.a.projection, HEAD, [1, 0.5, -7]);
    expect(placeOf(solver.f, 0)).toMatchObject({
      point: [expect.closeTo(seen.x, 6), expect.closeTo(seen.y, 6)],
      depthM: expect.closeTo(7, 9),
    });
    // One end behind: the middle is behind, too; what is seen of it is not.
    const behind = scene(a, [3, 1, 10]);
    expect(still(behind).f.failed[0]).toBe(Verdict.View);
    const cut = still(scene(a, [3, 1, 10], 'seen'));
    expect(cut.f.failed[0]).toBe(Verdict.Shown);
    expect([...cut.f.spanEnds.slice(4, 6)]).toEqual([1, 0]);
  });

  it('both ends behind, at one place, or at the camera: a state, and no line', () => {
    for (const [a, b] of [
      [
        [0, 0, 4],
        [1, 0, 9],
      ],
      [
        [0, 0, 0],
        [0, 0, 0],
      ],
      [
        [0, 0, -5],
        [0, 0, -5],
      ],
      [
        [30, 0, -5],
        [40, 0, -5],
      ],
    ] as [Vec3, Vec3][])
      for (const at of ['middle', 'seen'] as const) {
        const solver = still(scene(a, b, at));
        expect(drawList(solver).items.filter(({ kind }) => kind === 'line')).toEqual([]);
        expect(explain(solver, 0).length).toBeGreaterThan(3);
      }
  });

  it('moves at the eye as the place on it does that its text is at: walking past it, by hand', () => {
    const document = scene([-4, 0, -10], [4, 0, -10]);
    const solver = makeSolver(arrange(compile(document, null), document.viewers.desk as never, text));
    const at = (timeS: number) => ({ timeS, head: lookingPose([timeS * 2, 0, 0], 0, 0), depthOrder: false });
    solve(solver, at(0));
    solve(solver, at(0.1));
    // 0.2 m aside in 0.1 s, 10 m away: 1.146 degrees, but for where the player's eye is before the screen.
    const { degPerS } = measureReadable(solver, 0, { contrast: false });
    const turned = project(solver.a.projection, at(0.1).head, [0, 0, -10]).x - project(solver.a.projection, at(0).head, [0, 0, -10]).x;
    expect(Math.abs(turned)).toBeGreaterThan(5);
    expect(degPerS).toBeGreaterThan(1);
    expect(degPerS).toBeLessThan(15);
  });

  it('is dashed by constant lengths in the world where that is asked, whatever is cut of it (property, against points along it)', () => {
    fc.assert(
      fc.property(place, place, fc.double({ min: 0.3, max: 3, noNaN: true }), (a, b, dashM) => {
        const long = Math.hypot(...a.map((v, k) => v - (b[k] as number)));
        if (long < 1) return;
        const document = scene(a, b);
        const line = document.elements.line as Extract<Document['elements'][string], { kind: 'label' }>;
        // Out of the way, so that no dash is cut by its text; without outline, and without strokes across its ends.
        line.place = { ...line.place, offsetPx: [4000, 0], span: { ...SPAN, to: 'dinghy', dashM, outline: null, capPx: 0 } };
        line.view = { outsidePx: 1e6, leavePx: 0 };
        const solver = still(document);
        const { projection } = solver.a;
        const dashes = drawList(solver).items.flatMap((item) => (item.kind === 'line' ? [item] : []));
        if (dashes.length === 0) return;
        // Each middle of a dash or a gap that is well in the frame lies on a stroke, or on none.
        for (let k = 0; k * dashM + dashM / 2 < long; k++) {
          const seen = project(projection, HEAD, along(a, b, (k * dashM + dashM / 2) / long));
          const isIn =
            seen.depthM > projection.nearM + 0.01 &&
            seen.x > 2 &&
            seen.y > 2 &&
            seen.x < projection.widthPx - 2 &&
            seen.y < projection.heightPx - 2;
          if (!isIn) continue;
          const onOne = dashes.some(({ x1, y1, x2, y2 }) => {
            const [dx, dy] = [x2 - x1, y2 - y1];
            const t = ((seen.x - x1) * dx + (seen.y - y1) * dy) / (dx * dx + dy * dy);
            return t > -1e-6 && t < 1 + 1e-6 && Math.abs((seen.x - x1) * dy - (seen.y - y1) * dx) / Math.hypot(dx, dy) < 0.05;
          });
          // What is seen shorter than a hundredth of a pixel may be told either way.
          const next = project(projection, HEAD, along(a, b, (k * dashM + dashM / 2 + 0.02) / long));
          if (Math.hypot(next.x - seen.x, next.y - seen.y) > 0.01) expect(onOne).toBe(k % 2 === 0);
        }
      }),
      { numRuns: 200 },
    );
  });

  it('is dashed by constant lengths on the screen, and open where its text lies', () => {
    const solver = still(scene([-2, 0, -5], [2, 0, -5], 'middle', 12));
    const [, y1, , y2] = solver.f.spanEnds as unknown as [number, number, number, number];
    expect(y1).toBeCloseTo(y2, 6);
    const [left, , width] = placeOf(solver.f, 0).rect;
    const colour = SPAN.colour;
    const dashes = drawList(solver).items.flatMap((item) =>
      item.kind === 'line' && item.colour === colour && item.y1 === item.y2 ? [item] : [],
    );
    const fit = solver.a.fits[0] as number;
    expect(dashes.length).toBeGreaterThan(6);
    for (const { x1, x2 } of dashes) {
      expect(x2 - x1).toBeLessThanOrEqual(12 * fit + 1e-6);
      expect(x2 <= left + 1e-6 || x1 >= left + width - 1e-6).toBe(true);
    }
    // Without dashes: two strokes beside the text, and two across the ends.
    const whole = drawList(still(scene([-2, 0, -5], [2, 0, -5]))).items.filter((item) => item.kind === 'line' && item.colour === colour);
    expect(whole).toHaveLength(4);
  });

  it('the feed between two anchors: straight, over the ground, in height, by hand', () => {
    const document = scene([1, 2, 3], [4, 6, 15]);
    const value = (how: 'space' | 'ground' | 'height') => {
      const source = { kind: 'between' as const, first: 'mooring', second: 'dinghy', along: how };
      const feeds = { away: { ...document.feeds.away, source } } as Document['feeds'];
      return readValues(compile({ ...document, feeds }, null), null, 0, HEAD, {})[0];
    };
    // 3, 4 and 12: 13 straight, the square root of 153 over the ground, 4 up.
    expect([value('space'), value('height')]).toEqual([13, 4]);
    expect(value('ground')).toBeCloseTo(Math.sqrt(153), 12);
  });
  it('goes along a path by way of other anchors, and measures the angle at one: by hand', () => {
    const document = scene([0, 0, 0], [3, 4, 0]);
    document.anchors.post = { kind: 'surface', name: 'post', order: 'a0', node: null, position: [3, 0, 0], normal: [0, 1, 0] };
    const value = (along: 'space' | 'ground' | 'angle', via: string[]) => {
      document.feeds.away = {
        ...(document.feeds.away as Feed),
        source: { kind: 'between', first: 'mooring', second: 'dinghy', along, via },
      };
      return readValues(compile(document, null), null, 0, HEAD, {})[0];
    };
    // 3 along, 4 up: 7 by way of the post, 5 straight; there is a right angle at the post.
    expect(value('space', [])).toBeCloseTo(5, 12);
    expect(value('space', ['post'])).toBeCloseTo(7, 12);
    expect(value('ground', ['post'])).toBeCloseTo(3, 12);
    expect(value('angle', ['post'])).toBeCloseTo(90, 9);
    expect(value('space', ['post', 'mooring', 'post'])).toBeCloseTo(13, 12);
    // An end on the anchor between the two has no angle; one that is not there, nothing.
    expect(value('angle', ['mooring'])).toBeUndefined();
    expect(
      findFaults({
        ...document,
        feeds: { away: { ...document.feeds.away, source: { kind: 'between', first: 'mooring', second: 'dinghy', along: 'angle' } } },
      }),
    ).toMatchObject([{ pointer: '/feeds/away/source/via', message: expect.stringContaining('one anchor between') }]);
    expect(
      findFaults({
        ...document,
        feeds: {
          away: { ...document.feeds.away, source: { kind: 'between', first: 'mooring', second: 'dinghy', along: 'space', via: ['gone'] } },
        },
      }),
    ).toMatchObject([{ pointer: '/feeds/away/source/via/0' }]);
  });

  it('the feed between two anchors on the screen: each viewer has its own, by hand; none while one is behind', () => {
    // 10 m away and 2 m apart across: 2 / 10 of the focal length, which is half of the height by tan 30°.
    const document = scene([-1, 0, -10], [1, 0, -10]);
    const away = document.feeds.away as Feed;
    document.feeds.away = { ...away, unit: 'px', source: { kind: 'between', first: 'mooring', second: 'dinghy', along: 'screen' } };
    expect(findFaults(document)).toEqual([]);
    for (const viewer of ['desk', 'phone', 'television']) {
      const solver = still(document, HEAD, viewer);
      const { focalX } = solver.a.projection;
      expect(solver.f.values[0]).toBeCloseTo(focalX / 5, 9);
    }
    expect(still(document).a.projection.focalX).toBeCloseTo(540 / Math.tan(Math.PI / 6), 9);
    expect(still(document, lookingPose([0, 0, 0], 180, 0)).f.values[0]).toBeUndefined();
    // What reads it is made anew when the camera moves: nearer by half, twice as far apart.
    const solver = still(document);
    const before = solver.f.values[0] as number;
    solve(solver, { timeS: 0.1, head: lookingPose([0, 0, -5], 0, 0), depthOrder: false });
    expect(solver.f.values[0]).toBeCloseTo(2 * before, 9);
    // By way of a third, all legs: 1 m up and as far down again beside the straight line.
    document.anchors.post = { kind: 'surface', name: 'Post', order: 'a0', node: null, position: [0, 1, -10], normal: [0, 1, 0] };
    Object.assign(document.feeds.away.source as object, { via: ['post'] });
    expect(still(document).f.values[0]).toBeCloseTo((2 * Math.SQRT2 * (540 / Math.tan(Math.PI / 6))) / 10, 9);
  });
  it('in a headset each eye sees the line between the ends as it sees them', () => {
    const document = scene([-1, 0, -3], [1, 0.4, -6]);
    const viewer = document.viewers.desk as Viewer;
    document.viewers.headset = {
      ...{ kind: 'headset', name: 'Headset', order: 'a9', widthPx: 1000, heightPx: 1000, eyeDistanceM: 0.064, safeArea: viewer.safeArea },
      lens: { kind: 'offAxis', leftDeg: -50, rightDeg: 45, upDeg: 45, downDeg: -45, nearM: 0.1 },
    } as never;
    const solver = still(document, HEAD, 'headset');
    for (const v of [1, 2]) {
      const eye = solver.a.eyes[v - 1];
      if (!eye) throw new Error('no eye');
      const pose: Pose = { ...HEAD, position: [eye.rightM, 0, 0] };
      const ends = solver.f.spanEnds.slice(v * SPAN_STRIDE, v * SPAN_STRIDE + 4);
      for (const [k, at] of [
        [0, [-1, 0, -3]],
        [2, [1, 0.4, -6]],
      ] as [number, Vec3][]) {
        const { x, y } = project(eye.projection, pose, at);
        expect(ends[k]).toBeCloseTo(x, 6);
        expect(ends[k + 1]).toBeCloseTo(y, 6);
      }
    }
  });
});
