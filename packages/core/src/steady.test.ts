/** Steadied anchors and boxes at rest: against a filter written down otherwise, and by hand. */
import { type Anchor, type Document, makeDocument, makeLabel } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { placeOf } from './frame.ts';
import { TICK_S } from './route.ts';
import { fixedText as text } from './sample.ts';
import { levelOf } from './sample-level.ts';
import { makeSolver, type Solver, solve, solveTo } from './solve.ts';
import { lookingPose, type Vec3 } from './spaces/pose.ts';
import { lagMs, shareIn } from './steady.ts';

const HEAD = lookingPose([0, 0, 0], 0, 0);
type Steady = NonNullable<Anchor['steady']>;

/** A label on a gull that flies where it is told to, and one between it and the wall. */
function scene(steady: Steady | undefined, at: (timeS: number) => Vec3) {
  const document = makeDocument('Low Water');
  const offset: Vec3 = [0, 0, 0];
  document.anchors.gull = { kind: 'node', name: 'Gull', order: 'a0', node: 'Gull', offset, ...(steady && { steady }) };
  document.anchors.wall = { kind: 'surface', name: 'Wall', order: 'a1', node: null, position: [0, 0, -20], normal: [0, 0, 1] };
  document.anchors.middle = { kind: 'midpoint', name: 'Middle', order: 'a2', first: 'gull', second: 'wall' };
  document.elements.gull = makeLabel('gull', 'Gull', 'a0');
  document.elements.middle = makeLabel('middle', 'Middle', 'a1');
  const level = levelOf([{ name: 'Gull', least: [-1, -1, -11], greatest: [1, 1, -9] }]);
  level.nodeMoves[0] = 1;
  const solver = makeSolver(arrange(compile(document, level), document.viewers.desk as never, text));
  const row = (id: string) => solver.c.anchorIds.indexOf(id) * 3;
  const place = (id: string): Vec3 => [...solver.c.anchorWorld.subarray(row(id), row(id) + 3)] as Vec3;
  const inputs = (timeS: number) => {
    level.worldMatrices.set(at(timeS), 12);
    return { timeS, head: HEAD, depthOrder: false };
  };
  return { solver, place, inputs };
}

/** The same filter written down with lists, one tick after the other. */
function filtered({ cutoffHz, perMps }: Steady, raw: readonly Vec3[]): Vec3[] {
  const out: Vec3[] = [];
  let speed: Vec3 = [0, 0, 0];
  raw.forEach((place, k) => {
    const before = raw[k - 1];
    const last = out[k - 1];
    if (!before || !last) {
      out.push(place);
      return;
    }
    const part = (hz: number) => 1 - Math.E ** (-2 * Math.PI * hz * TICK_S);
    speed = speed.map((v, i) => v + part(1) * (((place[i] as number) - (before[i] as number)) / TICK_S - v)) as Vec3;
    const share = part(cutoffHz + perMps * Math.hypot(...speed));
    out.push(last.map((v, i) => v + share * ((place[i] as number) - v)) as Vec3);
  });
  return out;
}

describe('a steadied anchor', () => {
  it('goes as the filter goes that is written down otherwise (property), and takes the midpoints with it', () => {
    const way = fc.array(fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -0.4, max: 0.4, noNaN: true }))), {
      minLength: 2,
      maxLength: 40,
    });
    fc.assert(
      fc.property(
        way,
        fc.double({ min: 0.1, max: 10, noNaN: true }),
        fc.double({ min: 0, max: 20, noNaN: true }),
        (steps, cutoffHz, perMps) => {
          let now: Vec3 = [0, 0, -10];
          const raw = steps.map((step) => (now = now.map((v, k) => v + (step[k] as number)) as Vec3));
          const steady = { cutoffHz, perMps };
          const { solver, place, inputs } = scene(steady, (timeS) => raw[Math.round(timeS / TICK_S)] as Vec3);
          filtered(steady, raw).forEach((wanted, k) => {
            solve(solver, inputs(k * TICK_S));
            const is = place('gull');
            for (const i of [0, 1, 2]) expect(is[i]).toBeCloseTo(wanted[i] as number, 9);
            const middle = place('middle');
            const wall: Vec3 = [0, 0, -20];
            for (const i of [0, 1, 2]) expect(middle[i]).toBeCloseTo(((wanted[i] as number) + (wall[i] as number)) / 2, 9);
          });
        },
      ),
      { numRuns: 60 },
    );
  });

  it('is calm where it jitters, and hardly behind where it flies: by hand', () => {
    const jitter = (timeS: number): Vec3 => [Math.sin(timeS * 90) * 0.05, Math.cos(timeS * 77) * 0.05, -10];
    const widest = (steady: Steady | undefined): number => {
      const { solver, place, inputs } = scene(steady, jitter);
      let most = 0;
      for (let k = 0; k < 150; k++) {
        solve(solver, inputs(k * TICK_S));
        if (k > 60) most = Math.max(most, Math.abs(place('gull')[0]));
      }
      return most;
    };
    const steady = { cutoffHz: 1, perMps: 0.5 };
    expect(widest(undefined)).toBeGreaterThan(0.045);
    expect(widest(steady)).toBeLessThan(widest(undefined) / 2);
    // At 5 m/s: 1 + 0.5 · 5 = 3.5 Hz, 45.5 ms, 0.23 m. A filter that steps does somewhat better than its time constant.
    expect(lagMs(steady, 5)).toBeCloseTo(45.47, 2);
    const { solver, place, inputs } = scene(steady, (timeS) => [5 * timeS - 10, 0, -10]);
    for (let k = 0; k < 120; k++) solve(solver, inputs(k * TICK_S));
    const behind = 5 * 119 * TICK_S - 10 - place('gull')[0];
    expect(behind).toBeGreaterThan(0.1);
    expect(behind).toBeLessThan((5 * lagMs(steady, 5)) / 1000 + 0.01);
  });

  it('remembers the same at the same ticks at 30, 60 and 144 pictures a second; and begins anew after a pause, or while time stands', () => {
    const at = (timeS: number): Vec3 => [3 * Math.sin(timeS * 3), Math.sin(timeS * 50) * 0.1, -10];
    const runs = [30, 60, 144].map((hz) => {
      const { solver, place, inputs } = scene({ cutoffHz: 0.8, perMps: 2 }, at);
      const out: string[] = [];
      for (let k = 0; k <= hz * 3; k++) {
        solveTo(solver, k / hz, inputs);
        if (k % (hz / 6) === 0)
          out.push(
            place('gull')
              .map((v) => v.toFixed(9))
              .join(),
          );
      }
      return out;
    });
    expect(runs[1]).toEqual(runs[0]);
    expect(runs[2]).toEqual(runs[0]);
    const { solver, place, inputs } = scene({ cutoffHz: 0.1, perMps: 0 }, at);
    solve(solver, inputs(0));
    solve(solver, inputs(5));
    expect(place('gull')).toEqual(at(5));
    solve(solver, inputs(5 + TICK_S));
    expect(place('gull')).not.toEqual(at(5 + TICK_S));
    solve(solver, { ...inputs(9.3), stands: true });
    expect(place('gull')).toEqual(at(9.3));
    expect(shareIn(1, 0)).toBe(0);
  });
});

describe('boxes at rest', () => {
  const rect = (solver: Solver) => placeOf(solver.f, 0).rect;
  const withSnap = (snap: boolean): Document => {
    const document = makeDocument('Low Water');
    document.anchors.a = { kind: 'surface', name: 'a', order: 'a0', node: null, position: [0.3137, 0.1771, -7.77], normal: [0, 1, 0] };
    document.elements.a = makeLabel('a', 'Stake', 'a0');
    if (snap) document.labels = { apart: false, snap: true };
    return document;
  };
  const solverOf = (document: Document, viewer = 'desk') =>
    makeSolver(arrange(compile(document, null), document.viewers[viewer] as never, text));

  it('lie on whole pixels, less than one from where they would, and do not shimmer as one breathes', () => {
    const plain = solverOf(withSnap(false));
    const solver = solverOf(withSnap(true));
    const xs = new Set<number>();
    for (let k = 0; k < 200; k++) {
      // A breath that moves the picture by a hundredth of a pixel a tick, over half a pixel in all.
      const inputs = { timeS: k * TICK_S, head: lookingPose([0.0022 * Math.sin(k * 0.02), 0, 0], 0, 0), depthOrder: false };
      solve(plain, inputs);
      solve(solver, inputs);
      if (k < 2) continue;
      const [[x, y], [u, v]] = [rect(solver), rect(plain)];
      expect([x % 1, y % 1]).toEqual([0, 0]);
      expect(Math.max(Math.abs(x - u), Math.abs(y - v))).toBeLessThan(0.76);
      xs.add(x);
    }
    expect(xs.size).toBe(1);
  });

  it('stand where they are while they move, and lie on whole pixels at once in a frame that stands by itself', () => {
    const plain = solverOf(withSnap(false));
    const solver = solverOf(withSnap(true));
    for (let k = 0; k < 20; k++) {
      const inputs = { timeS: k * TICK_S, head: lookingPose([0.05 * k, 0, 0], 0, 0), depthOrder: false };
      solve(plain, inputs);
      solve(solver, inputs);
      if (k > 1) expect(rect(solver)).toEqual(rect(plain));
    }
    solve(solver, { timeS: 3, head: HEAD, depthOrder: false, stands: true });
    expect(rect(solver)[0] % 1).toBe(0);
  });
});
