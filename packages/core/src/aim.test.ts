/** What lies in the middle of the view, how crosshairs look by it, and patterns of names. */
import {
  type Crosshair,
  type CrosshairAim,
  type Document,
  type FeedSource,
  findFaults,
  makeCrosshair,
  makeDocument,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { aimedAt, aimedValue, facing } from './aim.ts';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { AimState } from './crosshair-aim.ts';
import { drawList } from './draw-list.ts';
import { explain } from './explain/explain.ts';
import type { Level } from './level.ts';
import { isOfPattern } from './match.ts';
import { fixedText } from './sample.ts';
import { levelOf } from './sample-level.ts';
import { makeSolver, type Solver, solve } from './solve.ts';
import { lookingPose } from './spaces/pose.ts';

/** Walls across the view at x = 0: each a node of its own, at its z; `Board` hangs below `Sluice 1`. */
const WALLS = [
  { id: 'Sluice 1', parent: -1, z: null, properties: {} },
  { id: 'Board', parent: 0, z: -4, properties: { of: 'pump' } },
  { id: 'Mast', parent: -1, z: -9, properties: {} },
] as const;
const made: Partial<Level> = {
  nodeIds: WALLS.map(({ id }) => id),
  parentOf: Int32Array.from(WALLS, ({ parent }) => parent),
  nodeProperties: WALLS.map(({ properties }) => properties),
  castRay: (origin, direction, mostM, hit) => {
    let nearest: number = mostM;
    let node = -1;
    WALLS.forEach(({ z }, k) => {
      const t = z === null ? Number.NaN : (z - origin[2]) / direction[2];
      if (t > 0 && t < nearest) [nearest, node] = [t, k];
    });
    if (node < 0) return false;
    Object.assign(hit, { node, distanceM: nearest, position: origin.map((v, k) => v + nearest * (direction[k] as number)) });
    return true;
  },
};
const level = made as Level;
const source = (part: Partial<Extract<FeedSource, { kind: 'aimed' }>> = {}) =>
  ({ kind: 'aimed', mostM: 50, pattern: '*', property: null, gives: 'distance', ...part }) as const;

describe('what is aimed at', () => {
  it('lies along the way that the pose was made to look (property)', () => {
    fc.assert(
      fc.property(fc.double({ min: -180, max: 180, noNaN: true }), fc.double({ min: -89, max: 89, noNaN: true }), (yawDeg, pitchDeg) => {
        const [yaw, pitch] = [(yawDeg * Math.PI) / 180, (pitchDeg * Math.PI) / 180];
        // To the north is −z; a positive yaw turns to the left, a positive pitch up.
        const [x, y, z] = facing(lookingPose([0, 0, 0], yawDeg, pitchDeg));
        expect(x).toBeCloseTo(-Math.sin(yaw) * Math.cos(pitch), 9);
        expect(y).toBeCloseTo(Math.sin(pitch), 9);
        expect(z).toBeCloseTo(-Math.cos(yaw) * Math.cos(pitch), 9);
      }),
    );
  });

  it('is the nearest within reach: as a flag, a text, a distance and a place', () => {
    // 60 degrees to the left: twice as far as straight ahead.
    const head = lookingPose([1, 1.6, 0], 60, 0);
    const met = aimedAt(level, head, 50);
    expect(met?.node).toBe(1);
    expect(met?.distanceM).toBeCloseTo(8, 9);
    expect(aimedValue(level, head, source(), false)).toBe(true);
    expect(aimedValue(level, head, source(), '')).toBe('Board');
    expect(aimedValue(level, head, source(), 0)).toBeCloseTo(8, 9);
    expect(aimedValue(level, head, source({ gives: 'x' }), 0)).toBeCloseTo(1 - 8 * Math.sin(Math.PI / 3), 9);
    expect(aimedValue(level, head, source({ gives: 'y' }), 0)).toBeCloseTo(1.6, 9);
    expect(aimedValue(null, head, source(), false)).toBeUndefined();
    // Too far, and away from everything: nothing.
    for (const [at, of, mostM] of [
      [head, level, 7.9],
      [lookingPose([0, 1.6, 0], 180, 0), level, 50],
    ] as const) {
      expect(aimedValue(of, at, source({ mostM }), false)).toBe(false);
      expect(aimedValue(of, at, source({ mostM }), '')).toBe('');
      expect(aimedValue(of, at, source({ mostM }), 0)).toBe(mostM);
    }
  });

  it('counts where it is of a node that is meant, or of one below it; what stands before it hides it', () => {
    const head = lookingPose([0, 1.6, 0], 0, 0);
    expect(aimedValue(level, head, source({ pattern: 'sluice*' }), '')).toBe('Sluice 1');
    expect(aimedValue(level, head, source({ property: 'of=pump' }), '')).toBe('Board');
    expect(aimedValue(level, head, source({ property: 'of=lamp' }), false)).toBe(false);
    // The board stands before the mast.
    expect(aimedValue(level, head, source({ pattern: 'Mast' }), 0)).toBe(50);
    expect(aimedValue(level, lookingPose([0, 1.6, -5], 0, 0), source({ pattern: 'Mast' }), 0)).toBeCloseTo(4, 9);
  });
});

describe('a pattern', () => {
  it('is matched as trying everything does (property)', () => {
    /** By the definition, for short ones. */
    const slowly = (p: string, n: string): boolean =>
      p === ''
        ? n === ''
        : p[0] === '*'
          ? slowly(p.slice(1), n) || (n !== '' && slowly(p, n.slice(1)))
          : n !== '' && (p[0] === '?' || p[0] === n[0]) && slowly(p.slice(1), n.slice(1));
    const of = (letters: string, maxLength: number) => fc.array(fc.constantFrom(...letters), { maxLength }).map((l) => l.join(''));
    fc.assert(
      fc.property(of('ab*?', 8), of('ab', 10), (pattern, name) => {
        expect(isOfPattern(pattern, name)).toBe(slowly(pattern, name));
      }),
      { numRuns: 2000 },
    );
  });
  it('of a hundred stars, over a long name, is settled at once', () => {
    expect(isOfPattern(`${'*a'.repeat(100)}b`, 'a'.repeat(255))).toBe(false);
    expect(isOfPattern(`${'*a'.repeat(100)}`, 'a'.repeat(255))).toBe(true);
  });
});

describe('the look of a crosshair', () => {
  const walls = Object.assign(levelOf([]), made, { nodeMoves: new Uint8Array(3), worldMatrices: new Float64Array(48) }) as Level;
  const LOOKS = { reachable: { colour: '#00AA00' }, far: { form: 'ring' }, blocked: { colour: '#AA0000', form: 'brackets' } } as const;
  const aiming = (of: CrosshairAim['of'], reachM: number, leaveS = 0.2): CrosshairAim => ({ of, reachM, leaveS, looks: LOOKS });
  const nodes = (pattern: string) => ({ by: 'nodes', pattern, property: null }) as const;
  const solverFor = (aim: CrosshairAim, of: Level | null, edit: (d: Document) => void = () => undefined) => {
    const d = makeDocument('Low Water');
    d.elements.aim = { ...makeCrosshair('Aim', null, 'a0'), aim };
    edit(d);
    expect(findFaults(d)).toEqual([]);
    return makeSolver(arrange(compile(d, of), d.viewers.desk as never, fixedText));
  };
  const ahead = lookingPose([0, 1.6, 0], 0, 0);
  const away = lookingPose([0, 1.6, 0], 180, 0);
  const at = (solver: Solver, timeS: number, head = ahead) => solve(solver, { timeS, head, depthOrder: false }).aimState[0];
  const once = (aim: CrosshairAim, head = ahead, of: Level | null = walls) => at(solverFor(aim, of), 0, head);

  it('is by what the ray meets first, how far that is, and what would be within reach behind it', () => {
    expect(once(aiming(nodes('sluice*'), 5))).toBe(AimState.Reachable);
    expect(once(aiming(nodes('sluice*'), 3.9))).toBe(AimState.Far);
    expect(once(aiming(nodes('Mast'), 10))).toBe(AimState.Blocked);
    // The mast is 9 m away: behind the board and out of reach.
    expect(once(aiming(nodes('Mast'), 8.9))).toBe(AimState.Nothing);
    expect(once(aiming(nodes('Mast'), 8.9), lookingPose([0, 1.6, -5], 0, 0))).toBe(AimState.Reachable);
    expect(once(aiming(nodes('sluice*'), 5), away)).toBe(AimState.Nothing);
    expect(once(aiming(nodes('*'), 5), ahead, null)).toBe(AimState.Nothing);
  });

  it('is by the zone of an anchor, which the thing itself does not stand before', () => {
    const boxes = levelOf([
      { name: 'Wheel', least: [-0.5, 1, -6.5], greatest: [0.5, 2, -5.5] },
      { name: 'Pier', least: [2, 0, -3.2], greatest: [3, 4, -3] },
    ]);
    const withWheel = (d: Document) => {
      const zone = { kind: 'sphere', radiusM: 0.4 } as const;
      d.anchors.wheel = { kind: 'node', name: 'Wheel', order: 'a0', node: 'Wheel', offset: [0, 0, 0], zone };
    };
    const aim = (reachM: number) => aiming({ by: 'anchor', anchor: 'wheel' }, reachM);
    const found = (reachM: number, head: typeof ahead) => at(solverFor(aim(reachM), boxes, withWheel), 0, head);
    const straight = lookingPose([0, 1.5, 0], 0, 0);
    expect(found(6, straight)).toBe(AimState.Reachable);
    // The zone begins 0.4 m before its middle at 6 m.
    expect(found(5.5, straight)).toBe(AimState.Far);
    // From (5, 1.5, 0) the way to the wheel passes (2.5, 1.5, −3), where the pier is.
    const aside = lookingPose([5, 1.5, 0], (Math.atan2(5, 6) * 180) / Math.PI, 0);
    expect(found(9, aside)).toBe(AimState.Blocked);
    expect(found(5, aside)).toBe(AimState.Nothing);
    const fault = makeDocument('Low Water');
    fault.elements.aim = { ...makeCrosshair('Aim', null, 'a0'), aim: aiming({ by: 'anchor', anchor: 'gone' }, 2) };
    expect(findFaults(fault).map(({ pointer }) => pointer)).toEqual(['/elements/aim/aim/of/anchor']);
  });

  it('comes at once, and stays its time after its reason has gone, at every rate of frames', () => {
    const gone = [30, 60, 144].map((hz) => {
      const solver = solverFor(aiming(nodes('sluice*'), 5, 0.5), walls);
      expect(at(solver, 0, away)).toBe(AimState.Nothing);
      for (let k = 1; k <= hz; k++) at(solver, k / hz);
      expect(solver.f.aimState[0]).toBe(AimState.Reachable);
      // Away from 1 s on; a glance back at 1.3 s begins its time anew.
      for (let k = hz + 1; ; k++) {
        const timeS = k / hz;
        expect(timeS).toBeLessThan(3);
        const back = timeS > 1.3 && timeS < 1.37;
        if (at(solver, timeS, back ? ahead : away) === AimState.Nothing) return timeS;
      }
    });
    // Half a second after the first tick on which it was away again, 1.4 s.
    for (const timeS of gone) expect(timeS).toBeCloseTo(1.9, 1);
  });

  it('is none while its phase hides it, and casts no ray', () => {
    const solver = solverFor(aiming(nodes('sluice*'), 5, 0.5), walls, (d) => {
      d.phases = { roaming: { name: 'Roaming', order: 'a0' }, scope: { name: 'Scope', order: 'a1' } };
      const aim = d.elements.aim as Crosshair;
      d.elements.aim = { ...aim, show: { phases: { roaming: 'hidden' }, need: 'all', conditions: [], lingerS: 0 } };
    });
    const inPhase = (timeS: number, phase: string) => solve(solver, { timeS, head: ahead, depthOrder: false, phase }).aimState[0];
    expect(inPhase(0, 'scope')).toBe(AimState.Reachable);
    expect(inPhase(1, 'roaming')).toBe(AimState.Nothing);
    expect(inPhase(2, 'scope')).toBe(AimState.Reachable);
  });

  it('is painted in its colour and its form', () => {
    const solver = solverFor(aiming(nodes('Mast'), 10, 0), walls);
    at(solver, 0);
    const painted = () => drawList(solver).items.filter((item) => item.kind === 'line' && item.colour === '#AA0000');
    // Brackets are eight strokes.
    expect(painted()).toHaveLength(8);
    at(solver, 1, away);
    expect(painted()).toHaveLength(0);
    expect(drawList(solver).items.filter((item) => item.kind === 'line' && item.colour === '#FBF8F0')).toHaveLength(4);
  });

  it('says in Paint what it is aimed at', () => {
    const solver = solverFor(aiming(nodes('Mast'), 10, 0.5), walls);
    at(solver, 0);
    const fact = () =>
      explain(solver, 0)
        .find(({ step }) => step === 'paint')
        ?.facts.at(-1);
    expect(fact()).toEqual({ kind: 'aims', state: 'blocked', node: 'Board', distanceM: expect.closeTo(9, 6), reachM: 10, stays: false });
    at(solver, 0.1, away);
    expect(fact()).toEqual({ kind: 'aims', state: 'blocked', node: null, distanceM: null, reachM: 10, stays: true });
  });
});
