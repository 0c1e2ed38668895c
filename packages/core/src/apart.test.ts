/** Labels that keep apart: against brute force over all pairs of boxes, in still frames, on the way, and by hand. */
import { type Document, type Element, makeCrosshair, makeDirection, makeDocument, makeLabel, makeText, onGlass } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { explain } from './explain/explain.ts';
import { placeOf } from './frame.ts';
import { TICK_S } from './route.ts';
import { fixedText as text } from './sample.ts';
import { makeSolver, type Solver, solve } from './solve.ts';
import { lookingPose, type Pose, type Vec3 } from './spaces/pose.ts';
import { placesSeen } from './steps/apart.ts';
import { Verdict } from './steps/names.ts';

const HEAD: Pose = { position: [0, 0, 0], rotation: [0, 0, 0, 1] };
/** Labels of 24 px, 4 em wide: 96 x 30 px and their plate, each over a place of its own. */
function scene(places: readonly Vec3[], edit: (element: Element, k: number) => Element = (e) => e): Document {
  const document = makeDocument('Low Water');
  document.labels = { apart: true };
  places.forEach((position, k) => {
    const id = `e${String(k).padStart(4, '0')}`;
    document.anchors[id] = { kind: 'surface', name: id, order: 'a0', node: null, position, normal: [0, 1, 0] };
    const label = makeLabel(id, `Stake ${k}`, 'a0');
    document.elements[id] = edit({ ...label, place: { ...label.place, leader: null } }, k);
  });
  return document;
}
const solverOf = (document: Document, viewer = 'desk'): Solver =>
  makeSolver(arrange(compile(document, null), document.viewers[viewer] as never, text));
const still = (solver: Solver, head = HEAD): Solver => {
  solve(solver, { timeS: 0, head, depthOrder: false, stands: true });
  return solver;
};
const shownRows = ({ c, f }: Solver): number[] => [...Array(c.count).keys()].filter((i) => f.failed[i] === Verdict.Shown);
/** The most that two shown boxes overlap each way at once, pixels, by comparing all pairs. */
function overlap(solver: Solver): number {
  const boxes = shownRows(solver).map((i) => placeOf(solver.f, i).rect);
  let most = Number.NEGATIVE_INFINITY;
  boxes.forEach(([x, y, w, h], k) => {
    for (const [u, v, s, t] of boxes.slice(k + 1))
      most = Math.max(most, Math.min(Math.min(x + w, u + s) - Math.max(x, u), Math.min(y + h, v + t) - Math.max(y, v)));
  });
  return most;
}
const ahead = fc.array(
  fc.tuple(
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -0.6, max: 0.6, noNaN: true }),
    fc.double({ min: 3, max: 40, noNaN: true }),
  ),
  { minLength: 2, maxLength: 60 },
);
const inWorld = (all: readonly [number, number, number][]): Vec3[] => all.map(([u, v, far]) => [u * far, v * far, -far]);

describe('labels that keep apart', () => {
  it('never overlap, whatever crowds, and as many as can be are shown (property)', () => {
    fc.assert(
      fc.property(ahead, fc.boolean(), (all, lines) => {
        const leader = { widthPx: 2, colour: '#15233B' };
        const document = scene(inWorld(all), (e) => (lines ? { ...e, place: { ...e.place, leader } } : e));
        const solver = still(solverOf(document));
        if (shownRows(solver).length > 1) expect(overlap(solver)).toBeLessThanOrEqual(0);
        // Whoever is hidden for want of room is told who has its place: one that is shown, and lies over where it would be.
        solver.c.ids.forEach((_, i) => {
          const by = solver.f.apartBy[i] as number;
          if (by < 0) return;
          expect(solver.f.failed[i]).toBe(Verdict.Place);
          expect(solver.f.failed[by]).toBe(Verdict.Shown);
        });
        // The first in the order is always shown.
        const off = still(solverOf({ ...document, labels: undefined } as unknown as Document));
        const nearest = shownRows(off).sort((p, q) => placeOf(off.f, p).depthM - placeOf(off.f, q).depthM)[0];
        if (nearest !== undefined) expect(solver.f.failed[nearest]).toBe(Verdict.Shown);
      }),
      { numRuns: 120 },
    );
  });
  it('take the places about their anchors, then farther out where a line leads there, and are hidden at last: by hand', () => {
    const crowd: Vec3[] = Array.from({ length: 30 }, (_, k): Vec3 => [0, 0, -5 - k * 1e-3]);
    const counts = [null, { widthPx: 2, colour: '#15233B' }].map(
      (leader) => shownRows(still(solverOf(scene(crowd, (e) => ({ ...e, place: { ...e.place, leader } }))))).length,
    );
    // All at one point: boxes of 96 x 30 at its four corners, 16 apart. The first moves aside from its own place above, else it were two.
    expect(counts[0]).toBe(4);
    // A line leads to two rings more.
    expect(counts[1]).toBeGreaterThan(9);
  });
  it('patiently hide no more than first fit does, and never overlap; a higher rank is never hidden for a lower one (property)', () => {
    fc.assert(
      fc.property(ahead, fc.array(fc.integer({ min: 0, max: 1 }), { minLength: 60, maxLength: 60 }), (all, ranks) => {
        const document = scene(inWorld(all), (e, k) => ({ ...e, place: { ...e.place, rank: ranks[k] as number } }));
        const quick = still(solverOf(document));
        const patient = still(solverOf({ ...document, labels: { apart: true, patient: true } }));
        if (shownRows(patient).length > 1) expect(overlap(patient)).toBeLessThanOrEqual(0);
        const high = (solver: Solver) => shownRows(solver).filter((i) => ranks[Number(solver.c.ids[i]?.slice(1))] === 1).length;
        expect(high(patient)).toBeGreaterThanOrEqual(high(quick));
        if (high(patient) === high(quick)) expect(shownRows(patient).length).toBeGreaterThanOrEqual(shownRows(quick).length - 1);
      }),
      { numRuns: 60 },
    );
  });
  it('make room by rank, then for the nearer; what stays or may lie over others does so', () => {
    const two: Vec3[] = [
      [0, 0, -5],
      [0.05, 0, -8],
    ];
    const own = (solver: Solver, id: string) =>
      placeOf(still(solverOf({ ...scene(two), labels: undefined } as never)).f, solver.c.ids.indexOf(id)).rect;
    const nearFirst = still(solverOf(scene(two)));
    expect(placeOf(nearFirst.f, 0).rect).toEqual(own(nearFirst, 'e0000'));
    expect(placeOf(nearFirst.f, 1).rect).not.toEqual(own(nearFirst, 'e0001'));
    const ranked = still(solverOf(scene(two, (e, k) => ({ ...e, place: { ...e.place, rank: k } }))));
    expect(placeOf(ranked.f, 1).rect).toEqual(own(ranked, 'e0001'));
    expect(placeOf(ranked.f, 0).rect).not.toEqual(own(ranked, 'e0000'));
    const stays = still(solverOf(scene(two, (e, k) => ({ ...e, place: { ...e.place, ...(k === 1 && { apart: 'stays' as const }) } }))));
    expect(placeOf(stays.f, 1).rect).toEqual(own(stays, 'e0001'));
    const free = still(solverOf(scene(two, (e) => ({ ...e, place: { ...e.place, apart: 'free' } }))));
    expect(overlap(free)).toBeGreaterThan(0);
  });
  it('keep off the HUD, and the chain says what has the place of one that is hidden', () => {
    const crowd = Array.from({ length: 40 }, (_, k): Vec3 => [(k % 5) * 0.01, Math.floor(k / 5) * 0.01, -5 - k * 1e-3]);
    const document = scene(crowd, (e) => ({ ...e, place: { ...e.place, leader: { widthPx: 2, colour: '#15233B' } } }));
    const plate = { colour: '#15233B', padEm: [0.5, 0.25] as [number, number], radiusEm: 0 };
    const hud = makeText(onGlass([0.5, 0.5], [0, 0]), 'Tide', 'a9');
    document.elements.hud = { ...hud, size: { rule: 'screen', emPx: 24, hideBelowPx: 0, leavePx: 0 }, paint: { ...hud.paint, plate } };
    const solver = still(solverOf(document));
    expect(overlap(solver)).toBeLessThanOrEqual(0);
    const hidden = solver.c.ids.findIndex((_, i) => (solver.f.apartBy[i] as number) >= 0);
    const link = explain(solver, hidden).find(({ step }) => step === 'place');
    expect(link).toMatchObject({ state: 'no', facts: [{ kind: 'box' }, { kind: 'noRoom', by: expect.any(String) }] });
    const moved = solver.c.ids.findIndex((_, i) => solver.f.apartX[i] !== 0);
    expect(explain(solver, moved).find(({ step }) => step === 'place')?.facts).toEqual(
      expect.arrayContaining([{ kind: 'madeRoom', px: expect.any(Number) }]),
    );
    // Of one that is hidden no place is free, and the first has gone to what the chain names; of one that is shown, the one it has is.
    const none = placesSeen(solver, hidden);
    expect(none?.candidates).toHaveLength(25);
    expect(none?.candidates.filter(({ takenBy, beyond, chosen }) => (takenBy === null && !beyond) || chosen)).toEqual([]);
    expect(none?.obstacles.map(({ row }) => row)).toContain(none?.candidates[0]?.takenBy);
    const chosen = placesSeen(solver, moved)?.candidates.filter((one) => one.chosen);
    expect(chosen).toEqual([{ rect: placeOf(solver.f, moved).rect, takenBy: null, beyond: false, chosen: true }]);
    expect(placesSeen(solver, solver.c.ids.indexOf('hud'))).toBeNull();
    // Asking moves nothing.
    expect(overlap(solver)).toBeLessThanOrEqual(0);
  });
  it('make room for a crosshair in the middle, and none for a direction, which is mostly empty', () => {
    const one = scene([[0, 0, -5]]);
    const beside = (element: Element) => {
      const { c, f } = still(solverOf({ ...one, elements: { ...one.elements, hud: element } }));
      return [f.failed[0], c.ids[f.apartBy[0] as number]];
    };
    // Right about the anchor of the label: a crosshair leaves it no place.
    expect(beside({ ...makeCrosshair('Aim', null, 'a9'), sizePx: 300, armPx: 40 })).toEqual([Verdict.Place, 'hud']);
    expect(beside({ ...makeDirection('Blows', null, 'a9'), sizePx: 300 })).toEqual([Verdict.Shown, undefined]);
  });
  it('on the way: no overlap at any frame, few changes of place, none within two seconds of the last, no blink shorter than half a second', () => {
    const random = (() => {
      let seed = 7;
      return () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648;
    })();
    const places = Array.from({ length: 120 }, (): Vec3 => [(random() - 0.5) * 60, (random() - 0.5) * 6, -5 - random() * 60]);
    const solver = solverOf(scene(places));
    const seconds = 20;
    let [changes, most, shortest] = [0, 0, Number.POSITIVE_INFINITY];
    const last = new Map<number, number>();
    // When each came to where it is.
    const cameS = new Map<number, number>();
    let soonest = Number.POSITIVE_INFINITY;
    const gone = new Map<number, number>();
    for (let step = 0; step <= seconds * 60; step++) {
      const timeS = (step / 60) as number;
      // Ticks fall on whole thirtieths; a picture lies between two of them.
      const pose = lookingPose([4 * Math.sin(timeS / 5), 0.3 * Math.sin(timeS / 3), -timeS * 0.8], 12 * Math.sin(timeS / 4), 0);
      solve(solver, { timeS, head: pose, depthOrder: false });
      most = Math.max(most, overlap(solver));
      for (let i = 0; i < solver.c.count; i++) {
        const isOn = solver.f.failed[i] === Verdict.Shown;
        const at = isOn ? (solver.m.apartAt[i] as number) : -1;
        const before = last.get(i) ?? -1;
        if (isOn && before >= 0 && before !== at) {
          changes++;
          // What the first frame, which stands by itself, put anywhere came then, too.
          soonest = Math.min(soonest, timeS - (cameS.get(i) as number));
        }
        if (isOn && before !== at) cameS.set(i, timeS);
        const byRoom = !isOn && (solver.f.apartBy[i] as number) >= 0;
        if (byRoom && !gone.has(i)) gone.set(i, timeS);
        if (isOn && gone.has(i)) {
          shortest = Math.min(shortest, timeS - (gone.get(i) as number));
          gone.delete(i);
        }
        if (!isOn && !byRoom) gone.delete(i);
        last.set(i, at);
      }
    }
    expect(most).toBeLessThanOrEqual(0.75);
    expect(changes).toBeGreaterThan(5);
    expect(changes / 120 / seconds).toBeLessThan(0.2);
    expect(soonest).toBeGreaterThanOrEqual(2 - TICK_S);
    expect(shortest).toBeGreaterThanOrEqual(0.5 - TICK_S);
  });
  it('may touch for so long where that is asked: no pair longer, none that comes touches, and fewer changes of place', () => {
    const places = Array.from({ length: 60 }, (_, k): Vec3 => [((k * 37) % 23) - 11, ((k * 17) % 7) / 3 - 1, -8 - ((k * 13) % 29)]);
    const walk = (touchS?: number) => {
      const solver = solverOf({ ...scene(places), labels: { apart: true, ...(touchS !== undefined && { touchS }) } });
      const since = new Map<string, number>();
      let [longest, changes, comes] = [0, 0, 0];
      let was = new Map<number, number>();
      for (let step = 0; step <= 30 * 20; step++) {
        const timeS = step * TICK_S;
        solve(solver, {
          timeS,
          head: lookingPose([3 * Math.sin(timeS / 3), 0, -timeS * 0.3], 14 * Math.sin(timeS / 3), 0),
          depthOrder: false,
        });
        const rows = shownRows(solver);
        const now = new Map(rows.map((i) => [i, solver.m.apartAt[i] as number]));
        for (const [i, at] of now) if (was.has(i) && was.get(i) !== at) changes++;
        const touching = new Set<string>();
        for (const i of rows)
          for (const j of rows) {
            if (j <= i) continue;
            const [[x, y, w, h], [u, v, s, t]] = [placeOf(solver.f, i).rect, placeOf(solver.f, j).rect];
            if (Math.min(x + w, u + s) - Math.max(x, u) <= 0.75 || Math.min(y + h, v + t) - Math.max(y, v) <= 0.75) continue;
            touching.add(`${i} ${j}`);
            // Neither of them has only just come.
            if (step > 0 && (!was.has(i) || !was.has(j))) comes++;
          }
        for (const pair of touching) {
          if (!since.has(pair)) since.set(pair, timeS);
          longest = Math.max(longest, timeS - (since.get(pair) as number));
        }
        for (const pair of [...since.keys()]) if (!touching.has(pair)) since.delete(pair);
        was = now;
      }
      return { longest, changes, comes };
    };
    const strict = walk();
    const gentle = walk(0.8);
    expect(strict).toMatchObject({ longest: 0, comes: 0 });
    expect(gentle.longest).toBeGreaterThan(0.1);
    expect(gentle.longest).toBeLessThanOrEqual(0.8 + TICK_S);
    expect(gentle.comes).toBe(0);
    expect(gentle.changes).toBeLessThan(strict.changes);
  });
  it('decide the same at the same ticks at 30, 60 and 144 pictures a second', () => {
    const places = Array.from({ length: 40 }, (_, k): Vec3 => [((k * 37) % 23) - 11, ((k * 17) % 7) / 3 - 1, -6 - ((k * 13) % 29)]);
    const at = (rate: number): string[] => {
      const solver = solverOf(scene(places));
      const out: string[] = [];
      let tick = 0;
      for (let step = 0; step <= rate * 4; step++) {
        const until = step / rate;
        // By way of all ticks, as everything that plays goes.
        for (; tick * TICK_S <= until + 1e-9; tick++) {
          const timeS = tick * TICK_S;
          solve(solver, { timeS, head: lookingPose([0, 0, -timeS], 8 * timeS, 0), depthOrder: false });
          out.push([...solver.f.failed].join());
        }
        if (until > (tick - 1) * TICK_S + 1e-9)
          solve(solver, { timeS: until, head: lookingPose([0, 0, -until], 8 * until, 0), depthOrder: false });
      }
      return out.slice(0, 119);
    };
    const [a, b, c] = [at(30), at(60), at(144)];
    expect(b).toEqual(a);
    expect(c).toEqual(a);
  });
  it('cost nothing where they are off, and survive what is at the camera', () => {
    const solver = still(
      solverOf(
        scene([
          [0, 0, 0],
          [0, 0, -0.1],
          [0, 0, -0.100001],
          [0, 0, 5],
        ]),
      ),
    );
    expect([...solver.f.failed].every((v) => v === Verdict.Shown || v === Verdict.View || v === Verdict.Place)).toBe(true);
    const off = scene([[0, 0, -5]]);
    delete off.labels;
    expect(solverOf(off).a.anyApart).toBe(false);
  });
});
