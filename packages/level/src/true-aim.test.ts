/** Where a tool's own ray stops: against trying every triangle, with rays met otherwise than the level meets them. */
import {
  arrange,
  compile,
  drawList,
  explain,
  factIn,
  lookingPose,
  makeSolver,
  projectPoint,
  type Solver,
  solve,
  type Vec3,
} from '@foreshore/core';
import { type CrosshairAim, type Document, makeCrosshair, makeCrosshairAim, makeDocument } from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { fixedText } from '../../core/src/sample.ts';
import type { LevelModel } from './model.ts';
import { readLevel } from './read.ts';
import { addBox, newLevel, toBinary } from './sample.ts';

/** Whole numbers in turn that look like any others. */
function randomly(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 1103515245 + 12345) % 2147483648) / 2147483648;
}

type Triangle = [Vec3, Vec3, Vec3];
const less = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const cross = (a: Vec3, b: Vec3): Vec3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** The twelve triangles of a box, written down from its corners. */
function boxTriangles(half: number, [x, y, z]: Vec3): Triangle[] {
  const at = (i: number, j: number, k: number): Vec3 => [x + i * half, y + j * half, z + k * half];
  const sides: [Vec3, Vec3, Vec3, Vec3][] = [-1, 1].flatMap((s): [Vec3, Vec3, Vec3, Vec3][] => [
    [at(s, -1, -1), at(s, 1, -1), at(s, 1, 1), at(s, -1, 1)],
    [at(-1, s, -1), at(1, s, -1), at(1, s, 1), at(-1, s, 1)],
    [at(-1, -1, s), at(1, -1, s), at(1, 1, s), at(-1, 1, s)],
  ]);
  return sides.flatMap(([a, b, c, d]): Triangle[] => [
    [a, b, c],
    [a, c, d],
  ]);
}

/** How far along a ray a triangle is met: by the plane, and by which side of each edge the place is on. */
function meets([a, b, c]: Triangle, from: Vec3, way: Vec3): number {
  const normal = cross(less(b, a), less(c, a));
  const slope = dot(normal, way);
  if (slope === 0) return Number.POSITIVE_INFINITY;
  const t = dot(normal, less(a, from)) / slope;
  if (!(t > 0)) return Number.POSITIVE_INFINITY;
  const at: Vec3 = [from[0] + t * way[0], from[1] + t * way[1], from[2] + t * way[2]];
  const inside = [
    [a, b],
    [b, c],
    [c, a],
  ].every(([p, q]) => dot(cross(less(q as Vec3, p as Vec3), less(at, p as Vec3)), normal) >= 0);
  return inside ? t : Number.POSITIVE_INFINITY;
}

function nearest(triangles: readonly Triangle[], from: Vec3, way: Vec3): number {
  return triangles.reduce((least, triangle) => Math.min(least, meets(triangle, from, way)), Number.POSITIVE_INFINITY);
}

function scene(level: LevelModel, tool: CrosshairAim['tool'], anchors: Document['anchors'] = {}): Solver {
  const document = makeDocument('Low Water');
  document.anchors = anchors;
  document.elements.aim = { ...makeCrosshair('Aim', null, 'a0'), aim: { ...makeCrosshairAim(), reachM: 50, tool } };
  return makeSolver(arrange(compile(document, level), document.viewers.desk as never, fixedText));
}
const toolAt = (rightM: number, upM: number, aheadM: number): CrosshairAim['tool'] => ({
  from: { by: 'offset', rightM, upM, aheadM },
  mark: { sizePx: 20, colour: '#E4572E' },
});

async function boxes(all: readonly [string, number, Vec3][]): Promise<{ level: LevelModel; triangles: Triangle[] }> {
  const document = newLevel();
  for (const [name, half, at] of all) addBox(document, name, half, at);
  const level = await readLevel(await toBinary(document), { metresPerUnit: 1, upAxis: 'y' });
  return { level, triangles: all.flatMap(([, half, at]) => boxTriangles(half, at)) };
}

describe('a crosshair off the middle of the view', () => {
  it('aims through its own pixel: at what stands there, and not at what stands ahead', async () => {
    const { level } = await boxes([
      ['Wheel', 0.5, [0, 0, -8]],
      ['Buoy', 0.3, [2, 1, -8]],
    ]);
    const head = lookingPose([0, 0, 0], 0, 0);
    const document = makeDocument('Low Water');
    const aim = { ...makeCrosshairAim(), reachM: 50, of: { by: 'nodes' as const, pattern: 'Buoy', property: null } };
    document.elements.middle = { ...makeCrosshair('Middle', null, 'a0'), aim };
    const at = projectPoint(
      makeSolver(arrange(compile(document, level), document.viewers.desk as never, fixedText)).a.projection,
      head,
      [2, 1, -7.7],
    );
    const aside = makeCrosshair('Aside', null, 'a1');
    const facts = (viewer: 'desk' | 'handheld') => {
      const { widthPx, heightPx } = document.viewers[viewer] as { widthPx: number; heightPx: number };
      const solver = makeSolver(arrange(compile(document, level), document.viewers[viewer] as never, fixedText));
      const seen = projectPoint(solver.a.projection, head, [2, 1, -7.7]);
      const offsetPx: [number, number] = [(seen.x - widthPx / 2) / solver.a.fit, (seen.y - heightPx / 2) / solver.a.fit];
      document.elements.aside = { ...aside, place: { ...aside.place, offsetPx }, aim };
      const moved = makeSolver(arrange(compile(document, level), document.viewers[viewer] as never, fixedText));
      solve(moved, { timeS: 0, head, depthOrder: false, stands: true });
      return ['middle', 'aside'].map((id) => {
        const row = moved.c.ids.indexOf(id);
        return factIn(explain(moved, row).find(({ step }) => step === 'paint')?.facts ?? [], 'aims');
      });
    };
    expect(at.depthM).toBeCloseTo(7.7, 9);
    for (const viewer of ['desk', 'handheld'] as const)
      expect(facts(viewer)).toMatchObject([
        { state: 'nothing', node: 'Wheel' },
        { state: 'reachable', node: 'Buoy', distanceM: expect.closeTo(Math.hypot(2, 1, 7.7), 2) },
      ]);
  });
});

describe('a tool away from the eye', () => {
  it('is stopped where the nearest triangle on its way is, for 1,000 random poses', async () => {
    const random = randomly(11);
    const between = (from: number, to: number) => from + (to - from) * random();
    const { level, triangles } = await boxes(
      Array.from({ length: 60 }, (_, k): [string, number, Vec3] => [
        `Stone ${k}`,
        Math.fround(between(0.2, 1.6)),
        [between(-15, 15), between(-4, 4), between(-15, 15)].map(Math.fround) as Vec3,
      ]),
    );
    let [stopped, free, close] = [0, 0, 0];
    for (let k = 0; k < 1000; k++) {
      const offset = [between(-1.5, 1.5), between(-1.5, 1.5), between(-0.5, 1.5)] as const;
      const solver = scene(level, toolAt(...offset));
      const eye: Vec3 = [between(-15, 15), between(-4, 4), between(-15, 15)];
      const head = lookingPose(eye, between(-180, 180), between(-60, 60));
      solve(solver, { timeS: 0, head, depthOrder: false, stands: true });
      // Axes of the head from its quaternion, not from what the frame has.
      const [x, y, z, w] = head.rotation;
      const turned = (v: Vec3): Vec3 => {
        const t = cross([x, y, z], v).map((c) => 2 * c) as Vec3;
        const u = cross([x, y, z], t);
        return v.map((c, i) => c + w * (t[i] as number) + (u[i] as number)) as Vec3;
      };
      const ahead = turned([0, 0, -1]);
      const seenM = Math.min(1000, nearest(triangles, eye, ahead));
      const goal = eye.map((v, i) => v + seenM * (ahead[i] as number)) as Vec3;
      const start = eye.map((v, i) => v + (turned([offset[0], offset[1], -offset[2]])[i] as number)) as Vec3;
      const far = Math.hypot(...less(goal, start));
      const way = less(goal, start).map((v) => v / far) as Vec3;
      const met = nearest(triangles, start, way);
      const stops = [0, 1, 2].map((i) => solver.f.toolStops[i] as number);
      // What lies within a millimetre of the bound may be told either way: levels are of single precision.
      if (Math.abs(met - (far - 0.02)) < 1e-3) close++;
      else if (met < far - 0.02) {
        stopped++;
        const off = stops.map((v, i) => Math.abs(v - ((start[i] as number) + met * (way[i] as number))));
        expect(Math.max(...off)).toBeLessThan(2e-3);
      } else {
        free++;
        expect(stops[0]).toBeNaN();
      }
    }
    expect(stopped).toBeGreaterThan(120);
    expect(free).toBeGreaterThan(200);
    expect(close).toBeLessThan(20);
  });

  it('has its mark where that is seen; what is meant is blocked, and the chain names what stops it', async () => {
    // A post half a metre right of the way, before a wheel straight ahead; the tool is beside the eye.
    const { level } = await boxes([
      ['Wheel', 0.5, [0, 0, -8]],
      ['Post', 0.25, [0.9, 0, -2]],
    ]);
    const solver = scene(level, toolAt(1.2, 0, 0));
    const head = lookingPose([0, 0, 0], 0, 0);
    solve(solver, { timeS: 0, head, depthOrder: false, stands: true });
    // From (1.2, 0, 0) to (0, 0, −7.5): it meets the post's near face, z = −1.75, at x = 1.2 − 1.2 · 1.75 / 7.5.
    const at: Vec3 = [1.2 - (1.2 * 1.75) / 7.5, 0, -1.75];
    for (const i of [0, 1, 2]) expect(solver.f.toolStops[i]).toBeCloseTo(at[i] as number, 4);
    const seen = projectPoint(solver.a.projection, head, at);
    const lines = drawList(solver).items.filter((item) => item.kind === 'line' && item.colour === '#E4572E');
    const mark = lines.filter(
      (l) => l.kind === 'line' && Math.abs((l.x1 + l.x2) / 2 - seen.x) < 0.01 && Math.abs((l.y1 + l.y2) / 2 - seen.y) < 0.01,
    );
    expect(mark).toHaveLength(2);
    const facts = explain(solver, 0).find(({ step }) => step === 'paint')?.facts ?? [];
    expect(factIn(facts, 'aims')).toMatchObject({ state: 'blocked', stays: false });
    expect(factIn(facts, 'toolStops')).toMatchObject({ node: 'Post', distanceM: expect.closeTo(Math.hypot(...at), 4) });
    // At the eye itself nothing is in the way.
    const eye = scene(level, toolAt(0, 0, 0));
    solve(eye, { timeS: 0, head, depthOrder: false, stands: true });
    expect(eye.f.toolStops[0]).toBeNaN();
    expect(factIn(explain(eye, 0).find(({ step }) => step === 'paint')?.facts ?? [], 'aims')?.state).toBe('reachable');
  });

  it('on a node is not stopped by that node; without a level, or an anchor with a place, it has no mark', async () => {
    const { level } = await boxes([
      ['Wheel', 0.5, [0, 0, -8]],
      ['Lamp', 0.3, [1, 0, -1]],
    ]);
    const anchors = (node: string): Document['anchors'] => ({ lamp: { kind: 'node', name: 'Lamp', order: 'a0', node, offset: [0, 0, 0] } });
    const tool: CrosshairAim['tool'] = { from: { by: 'anchor', anchor: 'lamp' }, mark: { sizePx: 20, colour: '#E4572E' } };
    const head = lookingPose([0, 0, 0], 0, 0);
    for (const solver of [scene(level, tool, anchors('Lamp')), scene(level, tool, anchors('Gone'))]) {
      solve(solver, { timeS: 0, head, depthOrder: false, stands: true });
      expect(solver.f.toolStops[0]).toBeNaN();
    }
  });
});
