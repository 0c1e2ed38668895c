/** One definition at every node that matches. */
import { type Document, insideOf, makeDocument, makeGauge, makeGroup, makeLabel, makeText, pipsForm } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { explain } from './explain/explain.ts';
import { placeOf } from './frame.ts';
import type { Level } from './level.ts';
import { isOfPattern, matchingNodes } from './match.ts';
import { plainText } from './sample.ts';
import { makeSolver, solve } from './solve.ts';
import type { Pose } from './spaces/pose.ts';
import { Verdict } from './steps/names.ts';
import type { TextShaper } from './text.ts';

const said: string[] = [];
const text: TextShaper = {
  ...plainText,
  shape: (request) => {
    said.push(request.text);
    return plainText.shape(request);
  },
};
const HEAD: Pose = { position: [0, 0, 0], rotation: [0, 0, 0, 1] };

/** Stakes in a row, 2 m apart and 10 m ahead; every second one is red. */
function row(count: number): Level {
  const nodeIds = [...Array.from({ length: count }, (_, k) => `Stake ${k + 1}`), 'Lamp'];
  const worldMatrices = new Float64Array(nodeIds.length * 16);
  for (let k = 0; k < nodeIds.length; k++) worldMatrices.set([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, (k - count / 2) * 2, 0, -10, 1], k * 16);
  return {
    nodeIds,
    nodeProperties: nodeIds.map((_, k) => ({ side: k % 2 ? 'green' : 'red', number: k + 1 })),
    nodeMoves: new Uint8Array(nodeIds.length),
    nodeIndex: (id) => nodeIds.indexOf(id),
    clipDurationsS: [],
    worldMatrices,
    poses: () => worldMatrices,
    parentOf: new Int32Array([-1, -1, -1, -1]),
    clipNames: [],
    surfaceOf: () => null,
    nearestShare: () => 1,
    castRay: () => false,
    sightline: () => -1,
    colourAt: (_o, _d, out) => out,
  };
}
function marked(pattern: string, property: string | null = null): Document {
  const document = makeDocument('Low Water');
  document.anchors.stakes = { kind: 'nodes', name: 'Stakes', order: 'a0', pattern, property, offset: [0, 2, 0] };
  document.elements.mark = { ...makeLabel('stakes', '{node}: {side}', 'a0') };
  return document;
}
const solved = (document: Document, level: Level) => {
  const solver = makeSolver(arrange(compile(document, level), document.viewers.desk as never, text));
  solve(solver, { timeS: 0, head: HEAD, depthOrder: true });
  return solver;
};

describe('an anchor for many nodes', () => {
  it('takes names with * and ?, whatever the case, and properties with or without a value', () => {
    const level = row(12);
    const names = (pattern: string, property: string | null = null) =>
      matchingNodes(level, { pattern, property }).map((n) => level.nodeIds[n]);
    expect(names('stake ?')).toHaveLength(9);
    expect(names('Stake *')).toHaveLength(12);
    expect(names('Stake 1*')).toEqual(['Stake 1', 'Stake 10', 'Stake 11', 'Stake 12']);
    expect(names('*', 'side = red')).toHaveLength(7);
    expect(names('Stake *', 'depth')).toEqual([]);
    expect(names('Lamp', 'number=13')).toEqual(['Lamp']);
  });

  it('takes every character of a name as itself, * and ? aside (property)', () => {
    fc.assert(
      fc.property(
        fc.string().filter((s) => !/[*?]/.test(s)),
        (name) => isOfPattern(name, name),
      ),
    );
    expect(isOfPattern('a.c', 'abc')).toBe(false);
  });

  it('gives each node a row of its own, at its own place, saying its own values', () => {
    said.length = 0;
    const { c, f } = solved(marked('Stake *'), row(4));
    expect(c.ids).toEqual(['mark@Stake 1', 'mark@Stake 2', 'mark@Stake 3', 'mark@Stake 4']);
    expect([...c.sources]).toEqual(['mark', 'mark', 'mark', 'mark']);
    expect(said).toEqual(['Stake 1: red', 'Stake 2: green', 'Stake 3: red', 'Stake 4: green']);
    const xs = c.ids.map((_, i) => placeOf(f, i).point[0]);
    // 2 m at 10 m: a fifth of the focal length of 540/tan 30°.
    for (let k = 1; k < 4; k++) expect((xs[k] as number) - (xs[k - 1] as number)).toBeCloseTo((540 / Math.tan(Math.PI / 6)) * 0.2, 6);
  });

  it('carries what is inside along, each copy in its own group', () => {
    const document = marked('Stake *', 'side=green');
    const group = makeGroup(
      { mount: { kind: 'floating', anchor: 'stakes' }, place: document.elements.mark?.place as never },
      'Tray',
      'row',
      'b0',
    );
    document.elements = {
      tray: group,
      name: makeText(insideOf('tray'), '{node}', 'b1'),
      pips: makeGauge(insideOf('tray'), 'Pips', null, pipsForm(), 'b2'),
    };
    const { c, f } = solved(document, row(4));
    expect(c.ids).toEqual(['tray@Stake 2', 'tray@Stake 4', 'name@Stake 2', 'pips@Stake 2', 'name@Stake 4', 'pips@Stake 4']);
    for (const [member, up] of [
      [2, 0],
      [3, 0],
      [4, 1],
      [5, 1],
    ] as const) {
      expect(c.parent[member]).toBe(up);
      const [x, y, w, h] = placeOf(f, member).rect;
      const [X, Y, W, H] = placeOf(f, up).rect;
      expect(x >= X && y >= Y && x + w <= X + W + 1e-9 && y + h <= Y + H + 1e-9).toBe(true);
    }
  });

  it('that matches nothing is named by the chain', () => {
    const solver = solved(marked('Buoy *'), row(3));
    expect(solver.f.failed[0]).toBe(Verdict.Attach);
    expect(explain(solver, 0)[0]).toMatchObject({ state: 'no', facts: [{ kind: 'lost', fault: { kind: 'noMatch', pattern: 'Buoy *' } }] });
  });
});
