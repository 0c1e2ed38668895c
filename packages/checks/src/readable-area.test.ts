/** The readable area against solving at random places, one by one, with everything else in the document. */
import { readFileSync } from 'node:fs';
import {
  arrange,
  compile,
  type Inputs,
  makeSolver,
  measureReadable,
  placeLevel,
  poseTowards,
  readValues,
  solve,
  type Vec3,
  Verdict,
} from '@foreshore/core';
import { type Document, parseDocument } from '@foreshore/document';
import { type LevelModel, readLevel } from '@foreshore/level';
import { shippedShaper } from '@foreshore/text/node';
import { beforeAll, describe, expect, it } from 'vitest';
import { areaShare, contour, readableArea, standingHeight } from './readable-area.ts';

const text = shippedShaper();
let document: Document;
let level: LevelModel;
beforeAll(async () => {
  document = parseDocument(JSON.parse(readFileSync(new URL('../../../demo/low-water.json', import.meta.url), 'utf8')));
  level = await readLevel(new Uint8Array(readFileSync(new URL('../../../demo/low-water.glb', import.meta.url))), {
    metresPerUnit: 1,
    upAxis: 'y',
  });
});

/** Random, but the same ones every time. */
function* randoms(seed: number): Generator<number> {
  for (let h = seed; ; ) {
    h = (Math.imul(h ^ (h >>> 15), 0x2c1b3c6d) + 0x297a2d39) | 0;
    yield (h >>> 0) / 4294967296;
  }
}

describe('the readable area of the tide board', () => {
  it('agrees at 99 of 100 random places with solving there, contours lie within half a cell, and its share is a number of the ground', () => {
    const id = 'tide-board';
    const compiled = compile(document, level);
    const start = { position: [0, 3, 0] as Vec3, rotation: [0, 0, 0, 1] as [number, number, number, number] };
    placeLevel(compiled, null, 8, start, {});
    const inputs: Inputs = {
      timeS: 8,
      head: start,
      depthOrder: false,
      values: readValues(compiled, null, 8, start, {}),
      phase: 'roaming',
    };
    // Its size grows with nearness, so that there is something to draw.
    const grows = {
      ...document,
      elements: {
        ...document.elements,
        [id]: { ...document.elements[id], size: { rule: 'world', emM: 0.3, leastPx: 0, greatestPx: 200, hideBelowPx: 0, leavePx: 0 } },
      },
    } as Document;
    const large = compile(grows, level);
    const area = readableArea({ arranged: [arrange(large, document.viewers.desk as never, text)], inputs, row: id, count: 160 });
    if (!area) throw new Error('no area');
    const solver = makeSolver(arrange(large, document.viewers.desk as never, text));
    const row = large.ids.indexOf(id);
    const anchor = (large.elementAnchor[row] as number) * 3;
    solve(solver, inputs);
    const target = [...large.anchorWorld.subarray(anchor, anchor + 3)] as Vec3;
    const random = randoms(7);
    const next = () => random.next().value as number;
    let [agreed, asked] = [0, 0];
    while (asked < 500) {
      const [x, z] = [area.x + next() * area.count * area.cellM, area.z + next() * area.count * area.cellM];
      const y = standingHeight(level, x, z, target[1] - 1, 1.65);
      if (Number.isNaN(y)) continue;
      const [i, j] = [Math.floor((x - area.x) / area.cellM), Math.floor((z - area.z) / area.cellM)];
      const cell = area.arcmin[j * area.count + i] as number;
      if (Number.isNaN(cell)) continue;
      asked++;
      const one = makeSolver(solver.a);
      solve(one, { ...inputs, head: poseTowards([x, y + 1.65, z], target) });
      const reads = one.f.failed[row] === Verdict.Shown && measureReadable(one, row).capArcmin >= 16;
      if (reads === cell >= 16) agreed++;
    }
    expect(agreed / asked).toBeGreaterThanOrEqual(0.99);

    // By hand: capitals of h metres at r metres are h / r of the screen's focal length in pixels. The contour is a circle.
    const lines = contour(area, 22);
    expect(lines.length).toBeGreaterThan(20);
    const capEm = solver.a.blocks[row]?.capHeightEm ?? 0;
    const reachM = (0.3 * capEm * solver.a.projection.focalY) / (22 * solver.a.pixelsPerArcmin);
    const off = lines
      .map(([p]) => Math.abs(Math.hypot(p[0] - target[0], p[1] + 1.65 - target[1], p[2] - target[2]) - reachM))
      .sort((a, b) => a - b);
    // At a drop of the ground, or behind what hides it, the line follows that instead.
    expect(off[Math.floor(off.length * 0.9)]).toBeLessThan(area.cellM / 2);
    const { share, squareM } = areaShare(area, 16);
    expect(share).toBeGreaterThan(0.01);
    expect(share).toBeLessThan(0.9);
    expect(squareM).toBeGreaterThan(50);
  });
});
