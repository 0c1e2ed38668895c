/** What a group shows of itself by how far away it is, and what becomes of many of one kind: by hand, and against plain statements. */
import {
  type Detail,
  type Document,
  type Element,
  insideOf,
  type Many,
  makeDocument,
  makeGroup,
  makeLabel,
  makeText,
  type Only,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { drawList } from './draw-list.ts';
import { explain } from './explain/explain.ts';
import { placeOf } from './frame.ts';
import { factIn } from './outcome.ts';
import { TICK_S } from './route.ts';
import { plainText as text } from './sample.ts';
import { makeSolver, type Solver, solve } from './solve.ts';
import { lookingPose, type Pose, type Vec3 } from './spaces/pose.ts';
import { detailAt } from './steps/form.ts';
import { Verdict } from './steps/names.ts';

const AT_ORIGIN: Pose = { position: [0, 0, 0], rotation: [0, 0, 0, 1] };
const over = (anchor: string) => {
  const { mount, place } = makeLabel(anchor, '', 'a0');
  return { mount, place: { ...place, leader: null } };
};
type Part = { text: string; only?: Only };

/** Groups over places of their own, with the same texts in each. */
function scene(places: readonly Vec3[], parts: readonly Part[], place: { detail?: Detail; many?: Many }): Document {
  const document = makeDocument('Low Water');
  places.forEach((position, k) => {
    const id = `stake${String(k).padStart(3, '0')}`;
    document.anchors[id] = { kind: 'surface', name: id, order: 'a0', node: null, position, normal: [0, 1, 0] };
    const group = makeGroup(over(id), id, 'column', 'a0');
    document.elements[id] = { ...group, place: { ...group.place, ...place } };
    parts.forEach(({ text: said, only }, n) => {
      const member = makeText(insideOf(id), said, `a${n}`);
      document.elements[`${id}_${n}`] = { ...member, ...(only && { only }) } as Element;
    });
  });
  return document;
}
const solverOf = (document: Document, viewer = 'desk'): Solver =>
  makeSolver(arrange(compile(document, null), document.viewers[viewer] as never, text));
const still = (solver: Solver, head = AT_ORIGIN): Solver => {
  solve(solver, { timeS: 0, head, depthOrder: false, stands: true });
  return solver;
};
/** Goes on from tick to tick, the eye on its way. */
const walk = (
  solver: Solver,
  fromS: number,
  toS: number,
  eyeAt: (timeS: number) => Vec3,
  each?: (timeS: number) => void,
  hz = 30,
): void => {
  for (let k = Math.round(fromS * hz); k <= Math.round(toS * hz); k++) {
    solve(solver, { timeS: k / hz, head: { ...AT_ORIGIN, position: eyeAt(k / hz) }, depthOrder: false });
    each?.(k / hz);
  }
};
const shown = ({ c, f }: Solver): string[] => c.ids.filter((_, i) => f.failed[i] === Verdict.Shown);
const shownRoots = (solver: Solver): string[] => shown(solver).filter((id) => !id.includes('_'));
const drawn = (solver: Solver): string[] => [
  ...new Set(drawList(solver).items.flatMap((item) => ('element' in item ? [item.element] : []))),
];
const rowOf = ({ c }: Solver, id: string): number => c.ids.indexOf(id);

const PARTS: Part[] = [
  { text: 'Stake 12', only: { detail: [0, 1] } },
  { text: 'depth 1.2 m', only: { detail: [0] } },
  { text: 'o', only: { detail: [2] } },
];
const DETAIL: Detail = { by: 'distance', at: [10, 40], leaveShare: 0.1 };

describe('less of a group where it is far away', () => {
  it('shows what belongs to its detail, and is as large as that needs: by hand', () => {
    for (const [farM, has] of [
      [5, ['stake000_0', 'stake000_1']],
      [10, ['stake000_0']],
      [39, ['stake000_0']],
      [60, ['stake000_2']],
    ] as const) {
      const solver = still(solverOf(scene([[0, 0, -farM]], PARTS, { detail: DETAIL })));
      expect(shown(solver)).toEqual(['stake000', ...has]);
      expect(drawn(solver).filter((id) => id.includes('_'))).toEqual([...has]);
      const [, , width, height] = placeOf(solver.f, 0).rect;
      // As large as a group that never had any other member.
      const alone = scene(
        [[0, 0, -farM]],
        PARTS.filter((_, n) => has.includes(`stake000_${n}` as never)).map(({ text: said }) => ({ text: said })),
        {},
      );
      const [, , wide, high] = placeOf(still(solverOf(alone)).f, 0).rect;
      expect(width).toBeCloseTo(wide, 9);
      expect(height).toBeCloseTo(high, 9);
    }
  });

  it('comes back to more of it only once it is nearer by the share: walking up and down at a bound changes nothing twice', () => {
    const solver = solverOf(scene([[0, 0, -40]], PARTS, { detail: DETAIL }));
    const seen: [number, string][] = [];
    const note = (timeS: number): void => {
      const now = shown(solver).slice(1).join(' ');
      if (seen.at(-1)?.[1] !== now) seen.push([40 + timeS, now]);
    };
    // From 40 m to 28 m in 12 s, 31 m and back several times, then away.
    const away = (timeS: number): number => (timeS <= 12 ? 40 - timeS : 28);
    walk(solver, 0, 12, (t) => [0, 0, away(t) - 40], note);
    expect(seen.map(([, what]) => what)).toEqual(['stake000_2', 'stake000_0']);
    const swayed: string[] = [];
    walk(
      solver,
      12,
      20,
      (t) => [0, 0, -3 + 2 * Math.sin(t * 5)],
      () => swayed.push(shown(solver)[1] as string),
    );
    // Between 35 and 39 m: nearer than where it left, never beyond 40 m.
    expect(new Set(swayed)).toEqual(new Set(['stake000_0']));
  });

  it('is in the detail that a plain count of passed bounds says, whichever way it came (property)', () => {
    const bounds = fc.uniqueArray(fc.double({ min: 1, max: 100, noNaN: true }), { minLength: 1, maxLength: 5 });
    fc.assert(
      fc.property(bounds, fc.double({ min: 0, max: 120, noNaN: true }), fc.constantFrom('distance', 'size'), (all, value, by) => {
        const at = all.sort((a, b) => (by === 'distance' ? a - b : b - a));
        const none: Detail = { by: by as Detail['by'], at, leaveShare: 0 };
        const beyond = at.filter((bound) => (by === 'distance' ? value >= bound : value <= bound)).length;
        for (let was = 0; was <= at.length; was++) {
          expect(detailAt(none, value, was)).toBe(beyond);
          // With a share, it is there or stays farther out, never nearer.
          const held = detailAt({ ...none, leaveShare: 0.2 }, value, was);
          expect(held >= beyond && held <= Math.max(was, beyond)).toBe(true);
        }
      }),
    );
  });

  it('by size goes with the lens: the same place in a lens of half the angle shows more', () => {
    const document = scene([[0, 0, -30]], PARTS, { detail: { by: 'size', at: [60, 20], leaveShare: 0.1 } });
    const wide = still(solverOf(document));
    const desk = document.viewers.desk as Extract<Document['viewers'][string], { kind: 'screen' }>;
    const perM = (focalY: number, fit: number) => focalY / 30 / fit;
    expect(perM(wide.a.projection.focalY, wide.a.fit)).toBeGreaterThan(20);
    expect(perM(wide.a.projection.focalY, wide.a.fit)).toBeLessThan(60);
    expect(shown(wide)[1]).toBe('stake000_0');
    const narrow = { ...document, viewers: { desk: { ...desk, lens: { ...desk.lens, fovDeg: 12 } as never } } };
    expect(shown(still(solverOf(narrow as Document))).slice(1)).toEqual(['stake000_0', 'stake000_1']);
    // Turning away from it changes its distance by nothing.
    const turned = still(solverOf(document), lookingPose([0, 0, 0], 20, 0));
    expect(shown(turned)[1]).toBe('stake000_0');
  });

  it('says in the chain why a member is not there; a member of a group that does not float is there always', () => {
    const document = scene([[0, 0, -20]], PARTS, { detail: DETAIL });
    const solver = still(solverOf(document));
    const no = explain(solver, rowOf(solver, 'stake000_1')).find(({ state }) => state === 'no');
    expect(no?.step).toBe('phase');
    expect(factIn(no?.facts ?? [], 'otherForm')).toMatchObject({ because: 'detail', detail: 1 });
    const onHud = { ...document, elements: { ...document.elements } };
    onHud.elements.stake000 = {
      ...(document.elements.stake000 as Element),
      mount: { kind: 'glass', within: 'safe', pin: [0.5, 0.5], stretch: [false, false] },
    };
    expect(shown(still(solverOf(onHud as Document)))).toEqual(['stake000', 'stake000_0', 'stake000_1', 'stake000_2']);
  });

  it('has other parts at the edge of the frame than in it', () => {
    const document = scene(
      [[0, 0, -10]],
      [
        { text: 'The dinghy', only: { edge: false } },
        { text: '>', only: { edge: true } },
      ],
      {},
    );
    const element = document.elements.stake000 as Element;
    const edge = { form: 'rectangle', insetPx: [20, 20, 20, 20], arrow: null, withinM: null } as const;
    document.elements.stake000 = { ...element, place: { ...element.place, edge: { ...edge, insetPx: [20, 20, 20, 20] } } };
    const solver = solverOf(document);
    expect(shown(still(solver))).toEqual(['stake000', 'stake000_0']);
    expect(shown(still(solver, lookingPose([0, 0, 0], 90, 0)))).toEqual(['stake000', 'stake000_1']);
  });
});

const NAME: Part[] = [
  { text: 'Stake', only: { merged: false } },
  { text: '{merged} stakes', only: { merged: true } },
];
/** Places whose anchors are seen so many pixels apart, 10 m away. */
const row = (solver: Solver, offsetsPx: readonly number[]): Vec3[] =>
  offsetsPx.map((px): Vec3 => [((px * solver.a.fit) / solver.a.projection.focalX) * 10, 0, -10]);
const DESK = solverOf(scene([[0, 0, -10]], NAME, {}));

describe('many of one kind', () => {
  it('merge where they are seen close together, into one that says how many: by hand', () => {
    // 0, 30 and 60 px: the second is within 40 px of the first, the third is not, but stands alone.
    const many: Many = { mergePx: 40, kind: 'stakes' };
    const solver = still(solverOf(scene(row(DESK, [0, 30, 60, 300]), NAME, { many })));
    expect(shownRoots(solver)).toEqual(['stake000', 'stake002', 'stake003']);
    expect(shown(solver)).toContain('stake000_1');
    expect(shown(solver)).toContain('stake003_0');
    expect([...solver.f.standsFor.filter((_, i) => (solver.c.parent[i] as number) < 0)]).toEqual([2, 1, 1, 1]);
    const said = solver.a.blocks[rowOf(solver, 'stake000_1')]?.lines[0]?.text;
    expect(said).toBe('2 stakes');
    const no = explain(solver, rowOf(solver, 'stake001')).find(({ state }) => state === 'no');
    expect(no?.step).toBe('place');
    expect(factIn(no?.facts ?? [], 'mergedInto')).toEqual({ kind: 'mergedInto', into: 'stake000', count: 2 });
    // Its box is that of what it says now.
    const [, , width] = placeOf(solver.f, 0).rect;
    const alone = still(solverOf(scene(row(DESK, [0]), [{ text: '2 stakes' }], {})));
    expect(width).toBeCloseTo(placeOf(alone.f, 0).rect[2], 9);
  });

  it('leave no two heads within reach of one another, lose none, and each is within reach of its head (property)', () => {
    const places = fc.array(fc.tuple(fc.double({ min: -1, max: 1, noNaN: true }), fc.double({ min: -0.5, max: 0.5, noNaN: true })), {
      minLength: 1,
      maxLength: 40,
    });
    fc.assert(
      fc.property(places, fc.double({ min: 5, max: 300, noNaN: true }), (all, mergePx) => {
        const document = scene(
          all.map(([x, y]): Vec3 => [x * 8, y * 8, -10]),
          NAME,
          { many: { mergePx, kind: 'stakes' } },
        );
        const plain = still(
          solverOf(
            scene(
              all.map(([x, y]): Vec3 => [x * 8, y * 8, -10]),
              NAME,
              {},
            ),
          ),
        );
        const solver = still(solverOf(document));
        const reach = mergePx * solver.a.fit;
        const roots = all.map((_, k) => k);
        const apart = (i: number, j: number) => {
          const [p, q] = [placeOf(plain.f, i).point, placeOf(plain.f, j).point];
          return Math.hypot(p[0] - q[0], p[1] - q[1]);
        };
        const there = roots.filter((i) => plain.f.failed[i] === Verdict.Shown);
        const heads = there.filter((i) => solver.f.gathered[i] === 0);
        for (const i of heads) for (const j of heads) if (i !== j) expect(apart(i, j)).toBeGreaterThan(reach);
        for (const i of there) if (solver.f.gathered[i]) expect(apart(i, solver.m.mergedInto[i] as number)).toBeLessThanOrEqual(reach);
        expect(heads.reduce((sum, i) => sum + (solver.f.standsFor[i] as number), 0)).toBe(there.length);
      }),
      { numRuns: 150 },
    );
  });

  it('part and join calmly: no state of one lasts less than half a second while they sway about the bound', () => {
    const solver = solverOf(scene(row(DESK, [0, 40]), NAME, { many: { mergePx: 40, kind: 'stakes' } }));
    const turns: number[] = [];
    let last = '';
    // Nearer and farther by a tenth, 3 times a second: the gap between the two sways about the bound.
    walk(
      solver,
      0,
      20,
      (t) => [0, 0, Math.sin(t * 19)],
      (timeS) => {
        const now = shownRoots(solver).join();
        if (now !== last) turns.push(timeS);
        last = now;
      },
    );
    for (let k = 2; k < turns.length; k++) expect((turns[k] as number) - (turns[k - 1] as number)).toBeGreaterThanOrEqual(0.5 - 1e-6);
    expect(turns.length).toBeLessThan(4);
  });

  it('that come into view together are merged from the first moment on', () => {
    const solver = solverOf(scene(row(DESK, [0, 20]), NAME, { many: { mergePx: 40, kind: 'stakes' } }));
    let most = 0;
    let seen = 0;
    // From behind one, by 6 degrees a tick.
    for (let tick = 0; tick <= 30; tick++) {
      solve(solver, { timeS: tick * TICK_S, head: lookingPose([0, 0, 0], 180 - 6 * tick, 0), depthOrder: false });
      most = Math.max(most, shownRoots(solver).length);
      if (shownRoots(solver).length > 0) seen++;
    }
    expect(most).toBe(1);
    expect(seen).toBeGreaterThan(3);
  });

  it('decide the same at 30, 60 and 144 pictures a second', () => {
    const all = row(DESK, [0, 25, 70, 95, 200]);
    const runs = [30, 60, 144].map((hz) => {
      const solver = solverOf(
        scene(all, NAME, { many: { mergePx: 60, kind: 'stakes', most: { count: 3, among: 'shown' } }, detail: DETAIL }),
      );
      const at: Record<string, string> = {};
      let tick = -1;
      walk(
        solver,
        0,
        6,
        (t) => [Math.sin(t) * 2, 0, 4 * Math.sin(t * 1.7)],
        (timeS) => {
          const now = Math.floor(timeS / TICK_S + 1e-6);
          if (now !== tick && Math.abs(timeS - now * TICK_S) < 1e-6) at[now] = shown(solver).join();
          tick = now;
        },
        hz,
      );
      return at;
    });
    const common = Object.keys(runs[0] as object).filter((tick) => runs.every((run) => tick in run));
    expect(common.length).toBeGreaterThan(20);
    for (const tick of common) for (const run of runs) expect(run[tick]).toBe(runs[0]?.[tick]);
  });

  it('shows the nearest only, of all there are or of those in view: by hand', () => {
    // Two behind the viewer are the nearest of all.
    const places: Vec3[] = [
      [0, 0, 2],
      [0, 0, 3],
      [0, 0, -4],
      [1, 0, -6],
      [-1, 0, -8],
    ];
    const kind = 'stakes';
    const ofAll = still(solverOf(scene(places, NAME, { many: { kind, most: { count: 3, among: 'all' } } })));
    expect(shownRoots(ofAll)).toEqual(['stake002']);
    const inView = still(solverOf(scene(places, NAME, { many: { kind, most: { count: 2, among: 'shown' } } })));
    expect(shownRoots(inView)).toEqual(['stake002', 'stake003']);
    const no = explain(inView, rowOf(inView, 'stake004')).find(({ state }) => state === 'no');
    expect(factIn(no?.facts ?? [], 'beyondNearest')).toMatchObject({ most: 2, nth: 3, distanceM: expect.closeTo(Math.hypot(1, 8), 9) });
  });

  it('counts no kind together with another, nor those that are set otherwise', () => {
    const document = scene(row(DESK, [0, 10, 20, 30]), NAME, { many: { mergePx: 40, kind: 'stakes' } });
    const other = (id: string, many: Many | undefined) => {
      const element = document.elements[id] as Element;
      document.elements[id] = { ...element, place: { ...element.place, many } } as Element;
    };
    other('stake001', { mergePx: 40, kind: 'buoys' });
    other('stake002', undefined);
    expect(shownRoots(still(solverOf(document)))).toEqual(['stake000', 'stake001', 'stake002']);
  });

  it('3,000 at one place, one at the camera, none with a place: a state, and no row lost', () => {
    const places: Vec3[] = Array.from({ length: 3000 }, () => [0, 0, -5]);
    places[7] = [0, 0, 0];
    const document = scene(places, [{ text: '{merged}' }], { many: { mergePx: 20, kind: 'stakes' } });
    const solver = still(solverOf(document));
    expect(shownRoots(solver)).toHaveLength(1);
    expect(solver.f.standsFor[0]).toBe(2999);
  });
});
