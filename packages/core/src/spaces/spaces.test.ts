import type { Lens } from '@foreshore/document';
import { makeDocument } from '@foreshore/document';
import fc from 'fast-check';
import { glMatrix, mat4, quat, vec4 } from 'gl-matrix';
import { describe, expect, it } from 'vitest';
import { lensFromMatrix, pixelsPerMetre, projectionOf } from './lens.ts';
import { headingOf, lookingPose, type Pose, poseTowards, rotate, slerp } from './pose.ts';
import { projectPoint, screenRay, unprojectPoint } from './project.ts';
import { degreesBetween, eyePoint, fitScale, pixelsPerDegree, scaleForAngle, uprightArcmin } from './screen.ts';

// Matrices in double precision, so that the comparison is not with 32 bits.
glMatrix.setMatrixArrayType(Array as never);

const perspective = (fovDeg: number, more: Partial<Extract<Lens, { kind: 'perspective' }>> = {}): Lens => ({
  kind: 'perspective',
  fovDeg,
  fovAxis: 'vertical',
  hold: 'vertical',
  designAspect: null,
  nearM: 0.1,
  ...more,
});
const coordinate = fc.double({ min: -5000, max: 5000, noNaN: true });
const place = fc.tuple(coordinate, coordinate, coordinate);
const pose = fc
  .tuple(
    place,
    fc.tuple(
      ...([0, 1, 2, 3].map(() => fc.double({ min: -1, max: 1, noNaN: true })) as [
        fc.Arbitrary<number>,
        fc.Arbitrary<number>,
        fc.Arbitrary<number>,
        fc.Arbitrary<number>,
      ]),
    ),
  )
  .filter(([, q]) => Math.hypot(...q) > 0.05)
  .map(([position, q]): Pose => ({ position, rotation: q.map((v) => v / Math.hypot(...q)) as Pose['rotation'] }));
const lens: fc.Arbitrary<Lens> = fc.oneof(
  fc.double({ min: 5, max: 150, noNaN: true }).map((fovDeg) => perspective(fovDeg)),
  fc
    .tuple(
      ...([1, 2, 3, 4].map(() => fc.double({ min: 3, max: 75, noNaN: true })) as [
        fc.Arbitrary<number>,
        fc.Arbitrary<number>,
        fc.Arbitrary<number>,
        fc.Arbitrary<number>,
      ]),
    )
    .map(([l, r, u, d]): Lens => ({ kind: 'offAxis', leftDeg: -l, rightDeg: r, upDeg: u, downDeg: -d, nearM: 0.1 })),
  fc.double({ min: 0.5, max: 500, noNaN: true }).map((halfHeightM): Lens => ({ kind: 'orthographic', halfHeightM, nearM: 0.1 })),
);
const frame = fc.constantFrom([1920, 1080], [1170, 2532], [3440, 1440], [640, 640]) as fc.Arbitrary<[number, number]>;

/** The usual composition: a projection matrix by the frustum's planes at near, times the inverse of the pose's matrix, over w, to the viewport. */
function byMatrices(one: Lens, [w, h]: [number, number], at: Pose, p: number[]): { x: number; y: number } {
  const near = 0.1;
  const far = 20000;
  const m = mat4.create();
  const tan = (deg: number) => near * Math.tan((deg * Math.PI) / 180);
  if (one.kind === 'perspective') mat4.perspective(m, (one.fovDeg * Math.PI) / 180, w / h, near, far);
  else if (one.kind === 'offAxis') mat4.frustum(m, tan(one.leftDeg), tan(one.rightDeg), tan(one.downDeg), tan(one.upDeg), near, far);
  else mat4.ortho(m, (-one.halfHeightM * w) / h, (one.halfHeightM * w) / h, -one.halfHeightM, one.halfHeightM, near, far);
  const world = mat4.fromRotationTranslation(mat4.create(), at.rotation as quat, at.position);
  const view = mat4.invert(mat4.create(), world) as mat4;
  const clip = vec4.transformMat4(vec4.create(), vec4.transformMat4(vec4.create(), [p[0] ?? 0, p[1] ?? 0, p[2] ?? 0, 1], view), m);
  return { x: ((clip[0] / clip[3] + 1) * w) / 2, y: ((1 - clip[1] / clip[3]) * h) / 2 };
}

describe('projection', () => {
  it('agrees with composed matrices within 1e-6 px, coordinates up to 5 km (property)', () => {
    let compared = 0;
    fc.assert(
      fc.property(
        lens,
        frame,
        pose,
        fc.double({ min: 0, max: 1, noNaN: true, maxExcluded: true }),
        fc.double({ min: 0, max: 1, noNaN: true, maxExcluded: true }),
        fc.double({ min: 0.5, max: 3000, noNaN: true }),
        (one, size, at, u, v, depth) => {
          const projection = projectionOf(one, ...size);
          const p = unprojectPoint(projection, at, u * size[0], v * size[1], depth);
          if (p.some((c) => Math.abs(c) > 5000)) return;
          const seen = projectPoint(projection, at, p);
          // A place of 5 km has a step of 1e-12 m in a double: what one pixel is there says how far that is seen.
          const rounding = 4e-12 * pixelsPerMetre(projection, depth);
          const expected = byMatrices(one, size, at, p);
          expect(Math.abs(seen.x - expected.x)).toBeLessThan(1e-6 + rounding * 20);
          expect(Math.abs(seen.y - expected.y)).toBeLessThan(1e-6 + rounding * 20);
          compared++;
        },
      ),
      { numRuns: 3000 },
    );
    expect(compared).toBeGreaterThan(1000);
  });

  it('and its inverse are each other within 1e-6 px (property)', () => {
    fc.assert(
      fc.property(
        lens,
        frame,
        pose,
        fc.double({ min: 0, max: 1, noNaN: true, maxExcluded: true }),
        fc.double({ min: 0, max: 1, noNaN: true, maxExcluded: true }),
        fc.double({ min: 0.5, max: 3000, noNaN: true }),
        (one, size, at, u, v, depth) => {
          const projection = projectionOf(one, ...size);
          const [x, y] = [u * size[0], v * size[1]];
          const back = projectPoint(projection, at, unprojectPoint(projection, at, x, y, depth));
          expect(back.inFront).toBe(true);
          expect(Math.hypot(back.x - x, back.y - y)).toBeLessThan(1e-6 + 4e-12 * 20 * pixelsPerMetre(projection, depth));
          const ray = screenRay(projection, at, x, y);
          expect(Math.hypot(...ray.direction)).toBeCloseTo(1, 12);
          const on = ray.origin.map((o, k) => o + (ray.direction[k] as number) * (depth + 3)) as [number, number, number];
          const again = projectPoint(projection, at, on);
          expect(Math.hypot(again.x - x, again.y - y)).toBeLessThan(1e-6 + 1e-10 * pixelsPerMetre(projection, again.depthM));
        },
      ),
      { numRuns: 2000 },
    );
  });

  it('gives nothing at or behind the near plane a place (property)', () => {
    fc.assert(
      fc.property(lens, frame, pose, place, (one, size, at, p) => {
        const seen = projectPoint(projectionOf(one, ...size), at, p);
        const forward = rotate(at.rotation, [0, 0, -1]);
        const depth = forward.reduce((sum, f, k) => sum + f * ((p[k] as number) - (at.position[k] as number)), 0);
        if (depth < 0.1 - 1e-6) expect(seen).toMatchObject({ inFront: false, inFrame: false, x: Number.NaN, y: Number.NaN });
      }),
    );
    const straight: Pose = { position: [0, 0, 0], rotation: [0, 0, 0, 1] };
    expect(projectPoint(projectionOf(perspective(60), 1920, 1080), straight, [0, 0, -0.1]).inFront).toBe(false);
    expect(projectPoint(projectionOf(perspective(60), 1920, 1080), straight, [0, 0, -0.1000001]).inFront).toBe(true);
  });

  it('has the frame half open at its right and lower edge', () => {
    const projection = projectionOf({ kind: 'orthographic', halfHeightM: 540, nearM: 0.1 }, 1920, 1080);
    const at: Pose = { position: [0, 0, 0], rotation: [0, 0, 0, 1] };
    expect(projectPoint(projection, at, [-960, 540, -1])).toMatchObject({ x: 0, y: 0, inFrame: true });
    expect(projectPoint(projection, at, [960, 0, -1]).inFrame).toBe(false);
    expect(projectPoint(projection, at, [0, -540, -1]).inFrame).toBe(false);
  });
});

describe('lenses', () => {
  it('name the same view by any axis: fovH = 2·atan(t·a), fovDiag = 2·atan(t·sqrt(1+a²))', () => {
    // 90° vertical at 16:9: t = 1, so the others are 2·atan(16/9) and 2·atan(sqrt(1 + (16/9)²)).
    const deg = 180 / Math.PI;
    const a = 16 / 9;
    const vertical = projectionOf(perspective(90), 1920, 1080);
    const others = [
      projectionOf(perspective(2 * Math.atan(a) * deg, { fovAxis: 'horizontal' }), 1920, 1080),
      projectionOf(perspective(2 * Math.atan(Math.sqrt(1 + a * a)) * deg, { fovAxis: 'diagonal' }), 1920, 1080),
    ];
    expect(vertical.focalY).toBeCloseTo(540, 9);
    for (const other of others) expect(other.focalX).toBeCloseTo(vertical.focalX, 8);
  });
  it('hold what they are told when the aspect changes', () => {
    const of = (hold: 'vertical' | 'horizontal' | 'whole', w: number, h: number) =>
      projectionOf(perspective(90, { designAspect: 16 / 9, hold }), w, h);
    // A square frame of 900 px: vertical keeps 45° up (450 px); horizontal keeps atan(16/9) to the side.
    expect(of('vertical', 900, 900).focalY).toBeCloseTo(450, 9);
    expect(of('horizontal', 900, 900).focalX).toBeCloseTo(450 / (16 / 9), 9);
    expect(of('whole', 900, 900).focalX).toBeCloseTo(450 / (16 / 9), 9);
    expect(of('whole', 3440, 1440).focalY).toBeCloseTo(720, 9);
  });
  it('come back from the matrix that WebXR gives', () => {
    const m = mat4.frustum(mat4.create(), -0.08, 0.11, -0.09, 0.07, 0.1, 100);
    const back = lensFromMatrix(m as unknown as number[], 0.1);
    if (back.kind !== 'offAxis') throw new Error(back.kind);
    const rad = Math.PI / 180;
    expect([back.leftDeg, back.rightDeg, back.upDeg, back.downDeg].map((d) => Math.tan(d * rad))).toEqual(
      [-0.8, 1.1, 0.7, -0.9].map((t) => expect.closeTo(t, 12)),
    );
  });
  it('refuse a view without width', () => {
    expect(() => projectionOf({ kind: 'offAxis', leftDeg: 10, rightDeg: 5, upDeg: 5, downDeg: -5, nearM: 1 }, 10, 10)).toThrow(
      /right must lie right of left/,
    );
  });
});

describe('screens', () => {
  const { viewers, glass } = makeDocument('x');
  it('have the pixels per degree that their size and distance give', () => {
    // 27 in at 16:9 is 0.59773 m wide: 3212.2 px/m; 2·0.6·tan(0.5°) = 0.0104722 m.
    expect(pixelsPerDegree(viewers.desk as never)).toBeCloseTo(3212.16 * 0.01047224, 2);
  });
  it('fit by height, by width, by the smaller ratio', () => {
    const handheld = viewers.handheld as never;
    expect(fitScale({ ...glass, fit: 'height' }, handheld)).toBeCloseTo(800 / 1080, 12);
    expect(fitScale({ ...glass, fit: 'width' }, handheld)).toBeCloseTo(1280 / 1920, 12);
    expect(fitScale({ ...glass, fit: 'smaller' }, handheld)).toBeCloseTo(1280 / 1920, 12);
  });
  it('fit by the angle at the eye, so that a design pixel is as large on each as on the design screen', () => {
    for (const viewer of Object.values(viewers)) {
      const scale = fitScale({ ...glass, fit: 'angle', designPixelsPerDegree: 40 }, viewer);
      expect((scale / pixelsPerDegree(viewer)) * 60).toBeCloseTo(60 / 40, 9);
    }
  });
});

describe('angles at the eye before a flat screen', () => {
  const { viewers } = makeDocument('x');
  type Screen = { widthPx: number; heightPx: number; diagonalIn: number; distanceM: number };
  /** The angle between the ways from the eye to two points of the screen, in metres and by their dot product. */
  const between = (screen: Screen, a: [number, number], b: [number, number]): number => {
    const perMetre = Math.hypot(screen.widthPx, screen.heightPx) / (screen.diagonalIn * 0.0254);
    const [p, q] = [a, b].map(([x, y]) => [
      (x - screen.widthPx / 2) / perMetre,
      (y - screen.heightPx / 2) / perMetre,
      screen.distanceM,
    ]) as [number[], number[]];
    const dot = p.reduce((sum, v, k) => sum + v * (q[k] as number), 0);
    return (Math.acos(Math.min(1, dot / (Math.hypot(...p) * Math.hypot(...q)))) * 180) / Math.PI;
  };
  const share = fc.double({ min: 0, max: 1, noNaN: true });
  it('are those of the ways from the eye, on every viewer (property)', () => {
    fc.assert(
      fc.property(fc.constantFrom(...Object.values(viewers)), share, share, share, share, (viewer, u0, v0, u1, v1) => {
        const screen = viewer as unknown as Screen;
        const [a, b]: [number, number][] = [
          [u0 * screen.widthPx, v0 * screen.heightPx],
          [u1 * screen.widthPx, v1 * screen.heightPx],
        ];
        const eye = eyePoint(viewer as never);
        const expected = between(screen, a as [number, number], b as [number, number]);
        expect(degreesBetween(eye, ...(a as [number, number]), ...(b as [number, number]))).toBeCloseTo(expected, 4);
        const top: [number, number] = [(a as [number, number])[0], v0 * screen.heightPx];
        const bottom: [number, number] = [(a as [number, number])[0], v1 * screen.heightPx];
        expect(uprightArcmin(eye, top[0], top[1], bottom[1]) / 60).toBeCloseTo(between(screen, top, bottom), 4);
      }),
    );
  });
  it('are smaller toward the corners: by a sixth in those of the safe area of a desk monitor', () => {
    const desk = viewers.desk as unknown as Screen;
    const eye = eyePoint(viewers.desk as never);
    const middle = uprightArcmin(eye, 960, 530, 550);
    const corner = uprightArcmin(eye, 1920 * 0.95, 1080 * 0.95 - 20, 1080 * 0.95);
    // By hand: 0.268 m to the side, 0.151 m down, 0.6 m away; r = 0.674 m, its level part 0.657 m: 0.6 * 0.657 / 0.674^2.
    expect(corner / middle).toBeCloseTo(0.868, 1);
    expect(between(desk, [1824, 1006], [1824, 1026]) * 60).toBeCloseTo(corner, 3);
  });
  it('are kept by a length that grows as the scale says (property)', () => {
    fc.assert(
      fc.property(fc.constantFrom(...Object.values(viewers)), share, share, (viewer, u, v) => {
        const screen = viewer as unknown as Screen;
        const eye = eyePoint(viewer as never);
        const [x, y] = [u * screen.widthPx, v * screen.heightPx];
        const half = (4 * scaleForAngle(eye, x, y)) / 2;
        const middle = uprightArcmin(eye, screen.widthPx / 2, screen.heightPx / 2 - 2, screen.heightPx / 2 + 2);
        expect(uprightArcmin(eye, x, y - half, y + half) / middle).toBeCloseTo(1, 3);
      }),
    );
  });
});

describe('poses', () => {
  it('look where they are told, upright (property)', () => {
    fc.assert(
      fc.property(fc.double({ min: -179, max: 179, noNaN: true }), fc.double({ min: -88, max: 88, noNaN: true }), (yaw, pitch) => {
        const q = lookingPose([0, 0, 0], yaw, pitch).rotation;
        const back = headingOf(q);
        expect(back.yawDeg).toBeCloseTo(yaw, 6);
        expect(back.pitchDeg).toBeCloseTo(pitch, 6);
        expect(rotate(q, [1, 0, 0])[1]).toBeCloseTo(0, 9);
        expect(rotate(q, [0, 1, 0])[1]).toBeGreaterThan(0);
      }),
    );
  });
  it('turn towards a point so that it lies in the middle of the frame', () => {
    const at = poseTowards([3, 1, 7], [-4, 2.5, -1]);
    const seen = projectPoint(projectionOf(perspective(60), 1920, 1080), at, [-4, 2.5, -1]);
    expect([seen.x, seen.y]).toEqual([expect.closeTo(960, 6), expect.closeTo(540, 6)]);
  });
  it('slerp as gl-matrix does, along the shorter way (property)', () => {
    fc.assert(
      fc.property(pose, pose, fc.double({ min: 0, max: 1, noNaN: true }), (a, b, t) => {
        const mine = slerp(a.rotation, b.rotation, t);
        const theirs = quat.slerp(quat.create(), a.rotation, b.rotation, t);
        const dot = Math.abs(mine.reduce((sum, v, k) => sum + v * (theirs[k] as number), 0));
        expect(dot).toBeGreaterThan(1 - 1e-6);
      }),
    );
  });
});
