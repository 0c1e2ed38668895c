import { readFileSync } from 'node:fs';
import {
  arrange,
  type Compiled,
  compile,
  makeSolver,
  phaseAt,
  placeLevel,
  placeOf,
  readValues,
  routePose,
  solve,
  TICK_S,
  Verdict,
} from '@foreshore/core';
import { type Document, type Element, parseDocument, type Route } from '@foreshore/document';
import { type LevelModel, readLevel } from '@foreshore/level';
import { shippedShaper } from '@foreshore/text/node';
import { beforeAll, describe, expect, it } from 'vitest';
import { bandIds, bands, checkPart, Replay, type Stretch, shownShare, unrest } from './index.ts';

const text = shippedShaper();
let document: Document;
let level: LevelModel;
let compiled: Compiled;
let route: Route;
beforeAll(async () => {
  document = parseDocument(JSON.parse(readFileSync(new URL('../../../demo/low-water.json', import.meta.url), 'utf8')));
  level = await readLevel(new Uint8Array(readFileSync(new URL('../../../demo/low-water.glb', import.meta.url))), {
    metresPerUnit: 1,
    upAxis: 'y',
  });
  compiled = compile(document, level);
  route = document.routes['out-to-the-lamp'] as Route;
});

/** The definition, to the letter: from the start, tick by tick, the last step partial. */
function plainly(timeS: number) {
  const solver = makeSolver(arrange(compiled, document.viewers.handheld as never, text));
  const step = (t: number) => {
    const head = routePose(route, t);
    placeLevel(compiled, route, t, head, {});
    const values = readValues(compiled, route, t, head, {});
    solve(solver, { timeS: t, head, depthOrder: true, values, phase: phaseAt(solver.c.document, route, t) });
  };
  for (let tick = 0; tick * TICK_S < timeS; tick++) step(tick * TICK_S);
  step(timeS);
  return solver.f;
}

describe('the brass plate of Low Water', () => {
  it('turned its back to who walks home until it was given a second side', () => {
    const part = { route: 'with-the-scope', viewer: 'desk', language: 'en' };
    const oneSided = (shown: Document): string[] => {
      const arranged = arrange(compile(shown, level), shown.viewers.desk as never, text);
      return checkPart(shown, arranged, part).found.flatMap(({ kind, element }) => (kind === 'oneSide' ? [element] : []));
    };
    expect(oneSided(document)).toEqual([]);
    const plate = document.elements['brass-plate'] as Element;
    const mount = { ...plate.mount, sides: 'front' } as Element['mount'];
    expect(oneSided({ ...document, elements: { ...document.elements, 'brass-plate': { ...plate, mount } as Element } })).toEqual([
      'brass-plate',
    ]);
  });
});

describe('the state at a time on a route', () => {
  it('is the same however one comes there: forward, back, by jumps, in parts, and by way of another time that was not reached', () => {
    const replay = new Replay(arrange(compiled, document.viewers.handheld as never, text), route);
    const times = [0, 12.34, 3, 3.01, 29.999, 30, 7.5, 7.5, 8, 0.02, 40, 12.34];
    const plans: [number, number, number][] = times.map((timeS) => [timeS, timeS, 0]);
    // Towards a time, so many ticks at once, and then what is asked for.
    plans.push([0, 7, 7], [7, 7, 100], [2.2, 9, 45], [9.5, 9.5, 31], [5, 10, 1], [10.3, 10.3, 1000]);
    let inParts = new Replay(replay.solver.a, route);
    for (const [timeS, towardsS, ticks] of plans) {
      if (ticks === 7) inParts = new Replay(replay.solver.a, route);
      const one = ticks > 0 ? inParts : replay;
      if (ticks > 0) {
        const before = one.ticksTo(towardsS);
        let left = ticks;
        const arrived = one.towards(towardsS, () => --left > 0);
        expect(arrived).toBe(before <= ticks);
        expect(one.ticksTo(towardsS)).toBe(Math.max(0, before - ticks));
      }
      const frame = one.at(timeS);
      const expected = plainly(timeS);
      expect([...frame.failed]).toEqual([...expected.failed]);
      expect([...frame.order.subarray(0, frame.orderCount)]).toEqual([...expected.order.subarray(0, expected.orderCount)]);
      for (let i = 0; i < frame.count; i++) if (frame.failed[i] === Verdict.Shown) expect(placeOf(frame, i)).toEqual(placeOf(expected, i));
      expect([...frame.gaugeShare, ...frame.gaugeGhost]).toEqual([...expected.gaugeShare, ...expected.gaugeGhost]);
    }
  });
});

describe('bands', () => {
  it('tell what the frames tell, sample by sample, and fill the route without gaps', () => {
    const arranged = arrange(compiled, document.viewers.handheld as never, text);
    const all = bands(arranged, route);
    // A template that is only a pattern stands nowhere itself, nor does what is inside of it.
    const pattern = ['instrument', 'instrument-title', 'instrument-reading', 'instrument-bar', 'prompt', 'prompt-key', 'prompt-words'];
    pattern.push('prompt-verb', 'prompt-thing');
    expect(bandIds(compiled).sort()).toEqual(
      Object.keys(document.elements)
        .filter((id) => !pattern.includes(id))
        .sort(),
    );
    expect(all).toHaveLength(bandIds(compiled).length);
    for (const band of all) {
      expect(band[0]?.fromS).toBe(0);
      expect(band.at(-1)?.toS).toBe(40);
      for (let k = 1; k < band.length; k++) expect(band[k]?.fromS).toBe(band[k - 1]?.toS);
    }
    for (const timeS of [0, 6, 15, 33]) {
      const { failed } = plainly(timeS);
      all.forEach((band, i) => {
        const rows = compiled.sources.flatMap((source, row) => (source === bandIds(compiled)[i] ? [failed[row] as number] : []));
        const expected = rows.includes(Verdict.Shown) ? Verdict.Shown : Math.max(...rows);
        expect(band.findLast((b) => b.fromS <= timeS)?.verdict).toBe(expected);
      });
    }
    expect(Math.max(...all.map(shownShare))).toBeGreaterThan(0.5);
  });

  it('count changes of place: as often as a box jumps to another side of its anchor', () => {
    const arranged = arrange(compiled, document.viewers.handheld as never, text);
    const all = bands(arranged, route);
    const replay = new Replay(arranged, route);
    const jumps = new Map<string, number>();
    const before = new Map<string, [number, number]>();
    for (let s = 0; s <= 400; s++) {
      const frame = replay.at(s / 10);
      for (let row = 0; row < compiled.anchoredCount; row++) {
        const id = compiled.sources[row] as string;
        if (compiled.sources.filter((one) => one === id).length > 1) continue;
        const { rect, point } = placeOf(frame, row);
        const beside = [rect[0] - point[0], rect[1] - point[1]] as [number, number];
        const was = before.get(id);
        // Whatever it does beside, it does not go so far within a tenth of a second without changing its place.
        if (was && frame.failed[row] === Verdict.Shown && Math.hypot(beside[0] - was[0], beside[1] - was[1]) > 0.5 * rect[3])
          jumps.set(id, (jumps.get(id) ?? 0) + 1);
        if (frame.failed[row] === Verdict.Shown) before.set(id, beside);
        else before.delete(id);
      }
    }
    const counted = new Map(
      bandIds(compiled).flatMap((id, i) => {
        const moves = (all[i] as Stretch[]).reduce((sum, one) => sum + (one.moves ?? 0), 0);
        return moves > 0 && compiled.sources.filter((one) => one === id).length === 1 ? [[id, moves] as const] : [];
      }),
    );
    expect(counted.size).toBeGreaterThan(0);
    for (const [id, moves] of counted) expect([id, jumps.get(id)]).toEqual([id, moves]);
  });

  it('tell how restless something is: by hand', () => {
    const stretch = (fromS: number, toS: number, verdict: Verdict, moves?: number): Stretch => ({
      ...{ fromS, toS, verdict, short: null },
      ...(moves && { moves }),
    });
    // Shown for 30 s in all, of which 1 s by itself; three changes of place.
    const band = [
      stretch(0, 20, Verdict.Shown, 2),
      stretch(20, 30, Verdict.Range),
      stretch(30, 31, Verdict.Shown),
      stretch(31, 40, Verdict.Range),
    ];
    expect(unrest([...band, stretch(40, 49, Verdict.Shown, 1)])).toEqual({ moves: 6, blinks: 2 });
    expect(unrest([stretch(0, 9, Verdict.Range)])).toBeNull();
    expect(unrest([stretch(0, 9, Verdict.Shown)])).toEqual({ moves: 0, blinks: 0 });
  });
});
