import type { Anchor } from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { readLevel } from './read.ts';
import { followAnchors, lostAnchors, namesLike } from './relink.ts';
import { addBox, newLevel, toBinary } from './sample.ts';

/** Cubes by name: half their side, and the middle, metres. */
const levelOf = async (boxes: Record<string, [half: number, at: [number, number, number]]>) => {
  const document = newLevel();
  for (const [name, [half, at]] of Object.entries(boxes)) addBox(document, name, half, at);
  return readLevel(await toBinary(document), { metresPerUnit: 1, upAxis: 'y' });
};
const more = { name: 'A', order: 'a0' };
/** On top of a cube, in its own space or in the world's. */
const onTop = (node: string | null, position: [number, number, number]): Anchor => ({
  kind: 'surface',
  ...more,
  node,
  position,
  normal: [0, 1, 0],
});

describe('anchors in another file for the level', () => {
  it('follow a node by its name, wherever it now stands', async () => {
    const from = await levelOf({ Sluice: [1, [0, 1, 0]], Board: [0.5, [4, 0.5, 0]] });
    const to = await levelOf({ Sluice: [1, [7, 3, -2]] });
    const anchors = {
      gate: onTop('Sluice', [0.2, 1, 0]),
      wheel: { kind: 'node', ...more, node: 'Sluice', offset: [0, 2, 0] },
      board: { kind: 'node', ...more, node: 'Board', offset: [0, 1, 0] },
      boards: { kind: 'nodes', ...more, pattern: 'Board*', property: null, offset: [0, 0, 0] },
    } satisfies Record<string, Anchor>;
    const { anchors: followed, lost } = followAnchors(anchors, from, to);
    expect(followed).toEqual(anchors);
    expect(lost).toEqual(['board', 'boards']);
    expect(lostAnchors(followed, from)).toEqual([]);
  });

  it('follow a surface that came nearer or went farther off, up to half a metre', async () => {
    const from = await levelOf({ Quay: [1, [0, 1, 0]] });
    const anchors = { a: onTop('Quay', [0.25, 1, -0.5]), world: onTop(null, [0.25, 2, 0.5]) };
    for (const half of [0.7, 1.3]) {
      // Its top now lies at 1 + half in the world, at half in the node.
      const { anchors: followed, lost } = followAnchors(anchors, from, await levelOf({ Quay: [half, [0, 1, 0]] }));
      expect(lost).toEqual([]);
      expect(followed.a).toMatchObject({ node: 'Quay', position: [0.25, expect.closeTo(half, 6), -0.5] });
      expect(followed.world).toMatchObject({ node: null, position: [0.25, expect.closeTo(1 + half, 6), 0.5] });
    }
    const farther = followAnchors(anchors, from, await levelOf({ Quay: [2, [0, 1, 0]] }));
    expect(farther.anchors).toEqual(anchors);
  });

  it('follow a surface whose node is called otherwise, and not one of another thing', async () => {
    const from = await levelOf({ Hut: [1, [0, 1, 0]] });
    const anchors = { a: onTop('Hut', [0, 1, 0]) };
    const renamed = followAnchors(anchors, from, await levelOf({ 'Boat shed': [1, [0, 1, 0]] }));
    expect(renamed.anchors.a).toMatchObject({ node: 'Boat shed', position: [0, expect.closeTo(1, 6), 0] });
    expect(renamed.lost).toEqual([]);
    // What lies 10 cm above is another surface: the anchor stays as it is, and is told of.
    const other = followAnchors(anchors, from, await levelOf({ Roof: [1, [0, 1.1, 0]] }));
    expect(other).toEqual({ anchors, lost: ['a'] });
  });
});

it('names like one that is gone are those that share the most letter pairs', () => {
  expect(namesLike('Sluice 2 wheel', ['Ground', 'Sluice_2_wheel', 'Sluice 1 posts', 'Wheelhouse'], 2)).toEqual([
    'Sluice_2_wheel',
    'Sluice 1 posts',
  ]);
});
