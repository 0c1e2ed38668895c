/** A panel's map against projected points, finite differences and rays; cuts at the near plane. */
import fc from 'fast-check';
import * as glMatrix from 'gl-matrix';
import { mat4, type quat, vec4 } from 'gl-matrix';
import { describe, expect, it } from 'vitest';
import { mapPath } from '../draw-panel.ts';
import { PATH_CLOSE, PATH_CUBIC, PATH_LINE, PATH_MOVE } from '../text.ts';
import { type Projection, projectionOf } from './lens.ts';
import {
  beforePanelM,
  depthOn,
  localScale,
  MapAt,
  mapPanel,
  outlineOf,
  PanelAt,
  panelPoint,
  screenPoint,
  seenCorners,
  shareInFrame,
  worldPoint,
} from './panel.ts';
import { type Pose, rotate, type Vec3, worldToCamera } from './pose.ts';
import { projectPoint, screenRay } from './project.ts';

glMatrix.glMatrix.setMatrixArrayType(Array as never);

const unit = (from: fc.Arbitrary<[number, number, number, number]>): fc.Arbitrary<Pose['rotation']> =>
  from.filter((q) => Math.hypot(...q) > 0.05).map((q) => q.map((v) => v / Math.hypot(...q)) as Pose['rotation']);
const part = fc.double({ min: -1, max: 1, noNaN: true });
const rotation = unit(fc.tuple(part, part, part, part));
const place = (far: number) => {
  const one = fc.double({ min: -far, max: far, noNaN: true });
  return fc.tuple(one, one, one) as fc.Arbitrary<Vec3>;
};
const projections = fc.constantFrom(
  projectionOf({ kind: 'perspective', fovDeg: 60, fovAxis: 'vertical', hold: 'vertical', designAspect: null, nearM: 0.1 }, 1920, 1080),
  projectionOf({ kind: 'perspective', fovDeg: 95, fovAxis: 'horizontal', hold: 'whole', designAspect: 16 / 9, nearM: 0.1 }, 1170, 2532),
  projectionOf({ kind: 'offAxis', leftDeg: -52, rightDeg: 41, upDeg: 44, downDeg: -49, nearM: 0.1 }, 1832, 1920),
  projectionOf({ kind: 'orthographic', halfHeightM: 4, nearM: 0.1 }, 1280, 800),
);
const made = fc.record({
  projection: projections,
  eye: fc.record({ position: place(50), rotation }),
  /** Before the eye, in its own space. */
  ahead: fc.tuple(
    fc.double({ min: -3, max: 3, noNaN: true }),
    fc.double({ min: -3, max: 3, noNaN: true }),
    fc.double({ min: -8, max: -1, noNaN: true }),
  ),
  turned: rotation,
  widthPx: fc.double({ min: 40, max: 4000, noNaN: true }),
  heightPx: fc.double({ min: 40, max: 4000, noNaN: true }),
  pxPerM: fc.double({ min: 100, max: 3000, noNaN: true }),
});
type Made = typeof made extends fc.Arbitrary<infer T> ? T : never;

function setUp({ projection, eye, ahead, turned, widthPx, heightPx, pxPerM }: Made) {
  const panels = new Float64Array(PanelAt.Stride);
  const [right, down, front] = [rotate(turned, [1, 0, 0]), rotate(turned, [0, -1, 0]), rotate(turned, [0, 0, 1])];
  const off = rotate(eye.rotation, ahead as Vec3);
  const middle = eye.position.map((v, k) => v + (off[k] as number)) as Vec3;
  const origin = middle.map((v, k) => v - (right[k] as number) * (widthPx / pxPerM / 2) - (down[k] as number) * (heightPx / pxPerM / 2));
  panels.set(origin, PanelAt.Origin);
  panels.set(right, PanelAt.Right);
  panels.set(down, PanelAt.Down);
  panels.set(front, PanelAt.Front);
  panels.set([pxPerM, widthPx, heightPx], PanelAt.PxPerM);
  const m = new Float64Array(9);
  worldToCamera(eye.rotation, m);
  const maps = new Float64Array(MapAt.Stride);
  mapPanel(panels, 0, { rotation: m, eye: Float64Array.from(eye.position), projection }, maps, 0);
  return { panels, maps };
}
const at = (origin: ArrayLike<number>, right: ArrayLike<number>, down: ArrayLike<number>, x: number, y: number): Vec3 =>
  [0, 1, 2].map((k) => (origin[k] as number) + x * (right[k] as number) + y * (down[k] as number)) as Vec3;

/** By matrices in homogeneous coordinates, sharing nothing with the map. */
function byMatrices(p: Projection, eye: Pose, [x, y, z]: Vec3): { x: number; y: number; w: number } {
  const [near, far] = [0.1, 1000];
  const m = mat4.create();
  const [l, r] = [-p.centreX / p.focalX, (p.widthPx - p.centreX) / p.focalX];
  const [t, b] = [p.centreY / p.focalY, (p.centreY - p.heightPx) / p.focalY];
  if (p.orthographic) mat4.ortho(m, l, r, b, t, -far, far);
  else mat4.frustum(m, l * near, r * near, b * near, t * near, near, far);
  const view = mat4.invert(mat4.create(), mat4.fromRotationTranslation(mat4.create(), eye.rotation as quat, eye.position)) as mat4;
  const clip = vec4.transformMat4(vec4.create(), vec4.transformMat4(vec4.create(), [x, y, z, 1], view), m);
  return { x: ((clip[0] / clip[3] + 1) * p.widthPx) / 2, y: ((1 - clip[1] / clip[3]) * p.heightPx) / 2, w: clip[3] };
}

describe('the map of a panel', () => {
  it('puts its corners, and points between, where four-point projection puts them (property)', () => {
    let compared = 0;
    fc.assert(
      fc.property(made, fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), (one, u, v) => {
        const { panels, maps } = setUp(one);
        const k = one.pxPerM;
        for (const [px, py] of [
          [0, 0],
          [one.widthPx, 0],
          [0, one.heightPx],
          [one.widthPx, one.heightPx],
          [u * one.widthPx, v * one.heightPx],
        ] as const) {
          const world = at(panels.subarray(0, 3), panels.subarray(3, 6), panels.subarray(6, 9), px / k, py / k);
          expect(worldPoint(panels, 0, px, py).map((c, i) => Math.abs(c - (world[i] as number)) < 1e-9)).toEqual([true, true, true]);
          const seen = screenPoint(maps, 0, px, py, 0.1);
          if (depthOn(maps, 0, px, py) < 0.3) continue;
          const theirs = byMatrices(one.projection, one.eye, world);
          const rounding = 1e-6 * (1 + Math.hypot(theirs.x, theirs.y) / 1000);
          expect(Math.abs(seen[0] - theirs.x)).toBeLessThan(rounding);
          expect(Math.abs(seen[1] - theirs.y)).toBeLessThan(rounding);
          compared++;
        }
      }),
      { numRuns: 500 },
    );
    expect(compared).toBeGreaterThan(1000);
  });

  it('and the ray through a pixel are each other within 1e-6 px (property)', () => {
    let compared = 0;
    fc.assert(
      fc.property(made, fc.double({ min: 0.02, max: 0.98, noNaN: true }), fc.double({ min: 0.02, max: 0.98, noNaN: true }), (one, u, v) => {
        const { panels, maps } = setUp(one);
        const [sx, sy] = [u * one.projection.widthPx, v * one.projection.heightPx];
        const [px, py] = panelPoint(maps, 0, sx, sy, 0.1);
        if (Number.isNaN(px) || Math.hypot(px, py) > 1e6) return;
        const back = screenPoint(maps, 0, px, py, 0.1);
        expect(Math.hypot(back[0] - sx, back[1] - sy)).toBeLessThan(1e-6);
        // The ray itself meets the plane there: origin and direction from the projection, the plane by its normal.
        const ray = screenRay(one.projection, one.eye, sx, sy);
        const normal = panels.subarray(9, 12);
        const dot = (a: ArrayLike<number>, b: ArrayLike<number>) => [0, 1, 2].reduce((s, k) => s + (a[k] as number) * (b[k] as number), 0);
        const t =
          dot(
            normal,
            [0, 1, 2].map((k) => (panels[k] as number) - (ray.origin[k] as number)),
          ) / dot(normal, ray.direction);
        const hit = ray.origin.map((o, k) => o + t * (ray.direction[k] as number)) as Vec3;
        const mine = worldPoint(panels, 0, px, py);
        expect(Math.hypot(...hit.map((c, k) => c - (mine[k] as number)))).toBeLessThan(1e-6 * (1 + Math.abs(t)));
        compared++;
      }),
      { numRuns: 800 },
    );
    expect(compared).toBeGreaterThan(200);
  });

  it('stretches about a point as finite differences do (property)', () => {
    fc.assert(
      fc.property(made, fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), (one, u, v) => {
        const { maps } = setUp(one);
        const [x, y] = [u * one.widthPx, v * one.heightPx];
        if (depthOn(maps, 0, x, y) < 0.5) return;
        const d = 1e-3;
        const to = (dx: number, dy: number) => screenPoint(maps, 0, x + dx, y + dy, 0.01);
        const [a, b, p, q] = [to(d, 0), to(-d, 0), to(0, d), to(0, -d)];
        const found = localScale(maps, 0, x, y);
        const close = (mine: number, theirs: number) => expect(Math.abs(mine - theirs)).toBeLessThan(1e-5 + 1e-5 * Math.abs(theirs));
        close(found.xx, (a[0] - b[0]) / (2 * d));
        close(found.yx, (a[1] - b[1]) / (2 * d));
        close(found.xy, (p[0] - q[0]) / (2 * d));
        close(found.yy, (p[1] - q[1]) / (2 * d));
        // Singular values: their product is the determinant, the sum of their squares that of the matrix.
        close(found.best * found.worst, Math.abs(found.xx * found.yy - found.xy * found.yx));
        close(Math.hypot(found.best, found.worst), Math.hypot(found.xx, found.xy, found.yx, found.yy));
      }),
      { numRuns: 500 },
    );
  });

  it('has the share in the frame that a grid of points has (property)', () => {
    fc.assert(
      fc.property(made, (one) => {
        const { maps } = setUp(one);
        const N = 60;
        let inside = 0;
        for (let j = 0; j < N; j++)
          for (let i = 0; i < N; i++) {
            const [sx, sy] = screenPoint(maps, 0, ((i + 0.5) / N) * one.widthPx, ((j + 0.5) / N) * one.heightPx, 0.1);
            if (sx >= 0 && sx < one.projection.widthPx && sy >= 0 && sy < one.projection.heightPx) inside++;
          }
        const share = shareInFrame(maps, 0, Float64Array.of(0, 0, one.widthPx, one.heightPx), 0, one.projection);
        expect(Math.abs(share - inside / N ** 2)).toBeLessThan(0.05);
        for (const [k, c] of seenCorners(maps, 0, 0, 0, one.widthPx, one.heightPx, one.projection).entries())
          expect(c).toBeGreaterThan(-1e-6 - (k % 2 ? one.heightPx : one.widthPx) * 1e-9);
      }),
      { numRuns: 200 },
    );
  });
});

/** Where one piece ends the next begins: the nearest point may lie on either. */
const NEAREST = 4;

describe('cutting at the near plane', () => {
  const near = made.map((one) => ({ ...one, ahead: [one.ahead[0] / 3, one.ahead[1] / 3, one.ahead[2] / 20] as [number, number, number] }));
  it('never leaves the half space in front, for outlines and for curves (property)', () => {
    let cuts = 0;
    fc.assert(
      fc.property(near, (one) => {
        const { panels, maps } = setUp(one);
        // Seen edge on, a pixel says nothing of where it is on the panel: there is no way back to check by.
        const along = rotate(one.eye.rotation, [0, 0, -1]).reduce((sum, v, k) => sum + v * (panels[PanelAt.Front + k] as number), 0);
        if (one.projection.orthographic ? Math.abs(along) < 0.02 : Math.abs(beforePanelM(panels, 0, one.eye.position)) < 0.005) return;
        const [w, h] = [one.widthPx, one.heightPx];
        const isInFront = (sx: number, sy: number) => {
          // Back onto the panel, whatever its depth: the point there is at the near plane or beyond it.
          const [x, y] = panelPoint(maps, 0, sx, sy, 0);
          if (Number.isNaN(x)) return;
          expect(depthOn(maps, 0, x, y)).toBeGreaterThan(0.1 * (1 - 2e-3));
        };
        const outline = outlineOf(maps, 0, 0, 0, w, h, 0.1);
        for (let k = 0; k < outline.length; k += 2) isInFront(outline[k] as number, outline[k + 1] as number);
        const path = {
          ops: [PATH_MOVE, PATH_CUBIC, PATH_LINE, PATH_CLOSE],
          coords: [0, 0, w, 0, w, h, w / 2, h, 0, h],
        };
        const depths = [0, 2, 4, 6, 8].map((k) => depthOn(maps, 0, path.coords[k] as number, path.coords[k + 1] as number));
        const mapped = mapPath(path, maps, 0.1);
        if (Math.max(...depths) <= 0.1) expect(mapped).toBeNull();
        if (Math.min(...depths) < 0.1 && mapped) cuts++;
        for (let k = 0; k < (mapped?.coords.length ?? 0); k += 2) isInFront(mapped?.coords[k] as number, mapped?.coords[k + 1] as number);
      }),
      { numRuns: 1500 },
    );
    expect(cuts).toBeGreaterThan(12);
  });
  it('maps a curve to within a tenth of a pixel of its points (property)', () => {
    fc.assert(
      fc.property(made, (one) => {
        const { maps } = setUp(one);
        const [w, h] = [one.widthPx, one.heightPx];
        const c = [0, 0, w, 0, w, h, 0, h];
        if ([0, 2, 4, 6].some((k) => depthOn(maps, 0, c[k] as number, c[k + 1] as number) < 0.5)) return;
        const mapped = mapPath({ ops: [PATH_MOVE, PATH_CUBIC], coords: c }, maps, 0.1);
        if (!mapped) throw new Error('nothing left');
        const pieces: number[][] = [];
        let k = 2;
        for (const op of mapped.ops.slice(1)) {
          expect(op).toBe(PATH_CUBIC);
          pieces.push([...mapped.coords.slice(k - 2, k + 6)]);
          k += 6;
        }
        const bernstein = (t: number) => [(1 - t) ** 3, 3 * (1 - t) ** 2 * t, 3 * (1 - t) * t * t, t ** 3];
        const on = (q: readonly number[], t: number): [number, number] =>
          [0, 1].map((axis) => bernstein(t).reduce((sum, b, i) => sum + b * (q[i * 2 + axis] as number), 0)) as [number, number];
        /** From a point to the plain cubics: some points of each, then nearer and nearer about the best of the few nearest. */
        const off = ([px, py]: [number, number]): number => {
          const far = (q: readonly number[], t: number) => Math.hypot(on(q, t)[0] - px, on(q, t)[1] - py);
          const step = pieces.length > 8 ? 1 / 16 : 1 / 256;
          const starts = pieces.map((q) => {
            let at = 0;
            for (let t = 0; t <= 1; t += step) if (far(q, t) < far(q, at)) at = t;
            return { q, at };
          });
          starts.sort((a, b) => far(a.q, a.at) - far(b.q, b.at));
          const found = starts.slice(0, NEAREST).map(({ q, at }) => {
            for (let width = step; width > 1e-7; ) {
              const nearer = [at - width, at + width].find((t) => t >= 0 && t <= 1 && far(q, t) < far(q, at));
              if (nearer === undefined) width /= 2;
              else at = nearer;
            }
            return far(q, at);
          });
          return Math.min(...found);
        };
        for (let t = 0.05; t <= 1; t += 0.15) {
          const [x, y] = on(c, t);
          expect(off(screenPoint(maps, 0, x, y, 0.1))).toBeLessThan(0.12);
        }
      }),
      { numRuns: 60 },
    );
  });
});

it('projects as single points are projected', () => {
  // A panel of 1 x 0.5 m, 2 m straight ahead, square on: 60° at 1080 px are 935.3 px a tangent of 1, so a metre at 2 m takes 467.7 px.
  const projection = projectionOf(
    { kind: 'perspective', fovDeg: 60, fovAxis: 'vertical', hold: 'vertical', designAspect: null, nearM: 0.1 },
    1920,
    1080,
  );
  const eye: Pose = { position: [0, 0, 0], rotation: [0, 0, 0, 1] };
  const { maps } = setUp({ projection, eye, ahead: [0, 0, -2], turned: [0, 0, 0, 1], widthPx: 1000, heightPx: 500, pxPerM: 1000 });
  expect(screenPoint(maps, 0, 0, 0, 0.1)).toEqual([expect.closeTo(960 - 233.83, 1), expect.closeTo(540 - 116.91, 1)]);
  expect(screenPoint(maps, 0, 1000, 500, 0.1)).toEqual([expect.closeTo(960 + 233.83, 1), expect.closeTo(540 + 116.91, 1)]);
  expect(projectPoint(projection, eye, [0.5, -0.25, -2])).toMatchObject({ x: expect.closeTo(960 + 233.83, 1) });
  expect(localScale(maps, 0, 500, 250)).toMatchObject({ best: expect.closeTo(0.46765, 4), worst: expect.closeTo(0.46765, 4) });
});
