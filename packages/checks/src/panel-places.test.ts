/** Panels where nobody meant to put them: each fault by a yard in which exactly that is wrong, and one in which nothing is. */
import { arrange, compile, lookingPose, makeHit, type Vec3 } from '@foreshore/core';
import { type Document, type Element, type Mount, makeDocument, makeGroup } from '@foreshore/document';
import { type LevelModel, readLevel } from '@foreshore/level';
import { beforeAll, describe, expect, it } from 'vitest';
import { fixedText as text } from '../../core/src/sample.ts';
import { addBox, newLevel, toBinary } from '../../level/src/sample.ts';
import { type PanelPlaceFault, panelPlaceFaults } from './panel-places.ts';

let yard: LevelModel;
beforeAll(async () => {
  const level = newLevel();
  // The ground's top is at 0; a block of 1 m about (6, 0.5, 0).
  addBox(level, 'Yard', 15, [0, -15, 0]);
  addBox(level, 'Block', 0.5, [6, 0.5, 0]);
  // A roof of one skin, 3 m up: of a box, the upper side alone.
  const roof = addBox(level, 'Roof', 2, [-8, 1, 0]);
  roof
    .getMesh()
    ?.listPrimitives()[0]
    ?.getIndices()
    ?.setArray(Uint16Array.of(2, 3, 7, 2, 7, 6));
  yard = await readLevel(await toBinary(level), { metresPerUnit: 1, upAxis: 'y' });
});

const standing = (edit: Partial<Extract<Mount, { kind: 'standing' }>> = {}): Mount => ({
  kind: 'standing',
  anchor: 'board',
  sizeM: [1, 0.6],
  pxPerM: 1000,
  readM: 3,
  sides: 'front',
  facing: 'fixed',
  turnDeg: 0,
  tiltDeg: 0,
  liftM: 0,
  ...edit,
});
/** A panel that looks south (+z) from a place, and a route of poses. */
function scene(position: Vec3, mount: Mount, eyes: Vec3[] = []): Document {
  const document = makeDocument('Low Water');
  document.anchors.board = { kind: 'surface', name: 'Board', order: 'a0', node: null, position, normal: [0, 0, 1] };
  const place: Element['place'] = { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null };
  document.elements.board = makeGroup({ mount, place }, 'Board', 'column', 'a0');
  if (eyes.length > 0)
    document.routes.round = {
      name: 'Round',
      order: 'a0',
      poses: eyes.map((eye, k) => ({ timeS: k, ...lookingPose(eye, 0, 0) })),
      feeds: [],
      phases: [],
    };
  return document;
}
const faults = (document: Document): PanelPlaceFault[] =>
  panelPlaceFaults(arrange(compile(document, yard), document.viewers.desk as never, text), 'board');

describe('where a panel stands', () => {
  it('is fine in the air before a route, and where there is none', () => {
    expect(
      faults(
        scene([0, 1.6, -3], standing(), [
          [-2, 1.65, 0],
          [2, 1.65, 0],
        ]),
      ),
    ).toEqual([]);
    expect(faults(scene([0, 1.6, -3], standing()))).toEqual([]);
  });
  it('is told at the origin of the level, whatever surrounds it there', () => {
    expect(faults(scene([0, 0, 0], standing({ sizeM: [0.4, 0.4], facing: 'upright' }))).map(({ kind }) => kind)).toEqual([
      'atOrigin',
      'buried',
    ]);
    expect(faults(scene([0, 1, 0], standing())).map(({ kind }) => kind)).toEqual([]);
  });
  it('is told inside of the floor and of a block, with how much of it is', () => {
    // 0.6 m high about 0.1 m: its feet at −0.2 m, of nine points three.
    expect(faults(scene([0, 0.1, -3], standing()))).toEqual([{ kind: 'buried', share: 3 / 9, node: 'Yard' }]);
    expect(faults(scene([6, 0.5, 0], standing({ sizeM: [0.5, 0.5] })))).toEqual([{ kind: 'buried', share: 1, node: 'Block' }]);
  });
  it('is not told under a roof of one skin, where one stands on a floor', () => {
    expect(yard.castRay([-8, 1.5, 0], [0, 1, 0], 10, makeHit())).toBe(true);
    expect(faults(scene([-8, 1.5, 0], standing()))).toEqual([]);
  });
  it('is told where every route passes its back, unless that can be seen', () => {
    const behind: Vec3[] = [
      [-2, 1.65, -6],
      [2, 1.65, -6],
    ];
    expect(faults(scene([0, 1.6, -3], standing(), behind))).toEqual([{ kind: 'backToRoutes' }]);
    expect(faults(scene([0, 1.6, -3], standing({ sides: 'both' }), behind))).toEqual([]);
    expect(faults(scene([0, 1.6, -3], standing({ facing: 'upright' }), behind))).toEqual([]);
    // One pose before it is enough; one that is 40 m off is none.
    expect(faults(scene([0, 1.6, -3], standing(), [...behind, [0, 1.65, 0]]))).toEqual([]);
    expect(faults(scene([0, 1.6, -3], standing(), [...behind, [0, 1.65, 37]]))).toEqual([{ kind: 'backToRoutes' }]);
  });
  it('is told where it is seen edge on at best', () => {
    // From 5 m to the side and 0.4 m before it: atan(5 / 0.4) = 85.4 degrees from square on.
    const aside = faults(
      scene([0, 1.6, -3], standing(), [
        [5, 1.6, -2.6],
        [6, 1.6, -2.6],
      ]),
    );
    expect(aside).toEqual([{ kind: 'edgeOn', deg: expect.closeTo(85.5, 0) }]);
  });
  it('is told where a block is in the way of every pose before it', () => {
    // The block hides 0.5 m above the ground behind it, seen from 0.5 m above the ground.
    expect(
      faults(
        scene([6, 0.5, -2], standing({ sizeM: [0.4, 0.4] }), [
          [6, 0.5, 3],
          [6.2, 0.5, 3],
        ]),
      ),
    ).toEqual([{ kind: 'behindWall', node: 'Block' }]);
    expect(
      faults(
        scene([6, 0.5, -2], standing({ sizeM: [0.4, 0.4] }), [
          [6, 0.5, 3],
          [9, 0.5, 3],
        ]),
      ),
    ).toEqual([]);
  });
  it('is not told of what trails, floats or has no place', () => {
    const lost = scene([0, 0, 0], standing());
    lost.anchors.board = { kind: 'node', name: 'Board', order: 'a0', node: 'Gone', offset: [0, 0, 0] };
    expect(faults(lost)).toEqual([]);
    const floating = scene([0, 0, 0], standing());
    floating.elements.board = { ...(floating.elements.board as Element), mount: { kind: 'floating', anchor: 'board' } };
    expect(faults(floating)).toEqual([]);
  });
});
