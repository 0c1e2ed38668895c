/** Presses by rays of hands in a headset, against ray and rectangle in plain numbers. Those on screens: check.test.ts. */
import { arrange, compile, makeSolver, type Pose, type Solver, solve, type Vec3 } from '@foreshore/core';
import {
  type Document,
  type Element,
  insideOf,
  type Mount,
  makeDocument,
  makeGroup,
  makeHeadset,
  makeToggle,
  type RaySettings,
  type Toggle,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fixedText as text } from '../../core/src/sample.ts';
import { type Box, levelOf } from '../../core/src/sample-level.ts';
import { checkPart } from './check.ts';
import { pressFaults } from './presses.ts';

type Takes = 'acts' | 'blocks' | 'passes';
/** An upright board facing the player: its middle, width and height, metres. */
interface Board {
  at: Vec3;
  size: readonly [number, number];
  takes: Takes;
}
const HEAD: Pose = { position: [0, 0, 0], rotation: [0, 0, 0, 1] };
/** Where hands rest: by the table in pointing.ts. */
const RIGHT: Vec3 = [0.2, -0.35, -0.3];
const LEFT: Vec3 = [-0.2, -0.35, -0.3];
const SWITCH: Board = { at: [0, 0, -2], size: [0.2, 0.2], takes: 'acts' };

function boardOf({ size, takes }: Board, anchor: string): Element {
  const mount: Mount = {
    kind: 'standing',
    anchor,
    sizeM: [...size],
    pxPerM: 1000,
    readM: 3,
    sides: 'both',
    facing: 'fixed',
    turnDeg: 0,
    tiltDeg: 0,
    liftM: 0,
  };
  const place: Element['place'] = { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null };
  return {
    ...makeGroup({ mount, place }, anchor, 'free', anchor === 'switch' ? 'a0' : 'a1'),
    paint: { plate: { colour: '#15233B', radiusPx: 0, border: null }, opacity: 1 },
    pointer: { takes, action: takes === 'acts' ? 'go' : null, padPx: 0, pointed: {}, pressed: {} },
  };
}
function documentOf(boards: Record<string, Board>, ray?: RaySettings): Document {
  const document = makeDocument('Low Water');
  for (const [id, board] of Object.entries(boards)) {
    document.anchors[id] = { kind: 'surface', name: id, order: 'a0', node: null, position: board.at, normal: [0, 0, 1] };
    document.elements[id] = boardOf(board, id);
  }
  document.actions = { go: { name: 'Go', order: 'a0', reactions: [] } };
  document.viewers.headset = makeHeadset('Headset', 'a9');
  return { ...document, ...(ray && { ray }) };
}
function solved(document: Document, viewer = 'headset', boxes: Box[] = []): Solver {
  const compiled = compile(document, boxes.length > 0 ? levelOf(boxes) : null);
  const solver = makeSolver(arrange(compiled, document.viewers[viewer] as never, text));
  solve(solver, { timeS: 0, head: HEAD, depthOrder: true, stands: true });
  return solver;
}
const told = (document: Document, viewer = 'headset', boxes: Box[] = []) => {
  const solver = solved(document, viewer, boxes);
  return pressFaults(solver).map(({ kind, row, value, by }) => [
    kind,
    solver.c.ids[row],
    value,
    by === undefined ? null : solver.c.ids[by],
  ]);
};

/** The share of 8 by 8 points on a board that a ray from a place meets another board before. */
function shareBefore(from: Vec3, { at, size }: Board, lid: Board): number {
  let taken = 0;
  for (let j = 0; j < 8; j++)
    for (let i = 0; i < 8; i++) {
      const to: Vec3 = [at[0] + ((i + 0.5) / 8 - 0.5) * size[0], at[1] + ((j + 0.5) / 8 - 0.5) * size[1], at[2]];
      const t = (lid.at[2] - from[2]) / (to[2] - from[2]);
      const [x, y] = [from[0] + t * (to[0] - from[0]), from[1] + t * (to[1] - from[1])];
      const inside = Math.abs(x - lid.at[0]) < lid.size[0] / 2 && Math.abs(y - lid.at[1]) < lid.size[1] / 2;
      if (t > 0 && t < 1 && inside) taken++;
    }
  return taken / 64;
}
const ray = (sources: RaySettings['sources']): RaySettings => ({ reachM: 10, sources: sources ?? [] });

describe('presses in a headset', () => {
  // Halfway between the hands and the switch, below the way of the eye.
  const low: Board = { at: [0, -0.175, -1.15], size: [0.6, 0.2], takes: 'blocks' };

  it('are taken by what lies before hands, though the eye sees past it', () => {
    expect(shareBefore([0, 0, 0], SWITCH, low)).toBe(0);
    expect(told(documentOf({ switch: SWITCH, lid: low }))).toEqual([['swallowed', 'switch', 1, 'lid']]);
    // On a screen the mouse goes past it, and so does what goes through the middle of the view.
    expect(told(documentOf({ switch: SWITCH, lid: low }), 'desk')).toEqual([]);
    expect(told(documentOf({ switch: SWITCH, lid: low }, ray(['aim'])))).toEqual([]);
    expect(told(documentOf({ switch: SWITCH, lid: { ...low, takes: 'passes' } }))).toEqual([]);
    expect(told(documentOf({ switch: SWITCH }))).toEqual([]);
    // What lies behind it takes nothing.
    expect(told(documentOf({ switch: SWITCH, lid: { ...low, at: [0, 0.2, -3] } }))).toEqual([]);
  });

  it('are measured over a route, on a screen and in a headset', () => {
    const checked = (lid: Board, viewer: string) => {
      const document = documentOf({ switch: SWITCH, lid });
      const stands = (timeS: number) => ({ timeS, ...HEAD });
      document.routes = { wait: { name: 'Wait', order: 'a0', poses: [stands(0), stands(4)], feeds: [], phases: [] } };
      const arranged = arrange(compile(document, null), document.viewers[viewer] as never, text);
      const { found } = checkPart(document, arranged, { route: 'wait', viewer, language: 'en' });
      return found.flatMap(({ kind, element, by, value, forS, byRay }) =>
        kind === 'swallowed' ? [[element, by, value, forS, byRay]] : [],
      );
    };
    const before: Board = { at: [0, 0, -1], size: [0.3, 0.3], takes: 'blocks' };
    expect(checked(before, 'desk')).toEqual([['switch', 'lid', 1, 4, undefined]]);
    expect(checked({ ...before, at: [0, 0, -3] }, 'desk')).toEqual([]);
    expect(checked(low, 'headset')).toEqual([['switch', 'lid', 1, 4, true]]);
    expect(checked(low, 'desk')).toEqual([]);
  });

  it('are not in vain where one of the hands that a project has goes past', () => {
    const beside: Board = { ...low, at: [0.1, -0.175, -1.15], size: [0.15, 0.3] };
    expect(shareBefore(RIGHT, SWITCH, beside)).toBe(1);
    expect(shareBefore(LEFT, SWITCH, beside)).toBe(0);
    expect(told(documentOf({ switch: SWITCH, lid: beside }))).toEqual([]);
    expect(told(documentOf({ switch: SWITCH, lid: beside }, ray(['left', 'right'])))).toEqual([]);
    expect(told(documentOf({ switch: SWITCH, lid: beside }, ray(['right'])))).toEqual([['swallowed', 'switch', 1, 'lid']]);
    expect(told(documentOf({ switch: SWITCH, lid: beside }, ray(['right', 'head'])))).toEqual([]);
  });

  it('are told of no hand that does not reach, and of no wall', () => {
    const near: RaySettings = { reachM: 1, sources: ['right'] };
    expect(told(documentOf({ switch: SWITCH, lid: low }, near))).toEqual([]);
    // The wall stands before what would take them: what stands in the way is the level.
    const wall: Box = { name: 'Wall', least: [-1, -1, -0.9], greatest: [1, -0.09, -0.8] };
    expect(told(documentOf({ switch: SWITCH, lid: low }), 'headset', [wall])).toEqual([]);
  });

  it('go through a menu only beside its controls, not where a wall stands before them', () => {
    const document = documentOf({ menu: { at: [0, 0, -2], size: [0.5, 0.2], takes: 'passes' } });
    document.elements.switch = {
      ...makeToggle(insideOf('menu'), 'Switch', null, 'a1'),
      widthPx: 500,
      heightPx: 200,
      pointer: { takes: 'acts', action: 'go', padPx: 0, pointed: {}, pressed: {} },
    };
    const wall: Box = { name: 'Wall', least: [0, -1, -0.9], greatest: [1, 1, -0.8] };
    for (const viewer of ['desk', 'headset']) {
      expect(told(document, viewer)).toEqual([]);
      expect(told(document, viewer, [wall])).toEqual([]);
    }
    // Half as wide, it leaves half of the menu's plate to the world.
    (document.elements.switch as Toggle).widthPx = 250;
    expect(told(document)).toEqual([['leaked', 'menu', expect.closeTo(0.5, 5), null]]);
  });

  it('lose the share that lies behind another, from the hand from which least does (property)', () => {
    const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
    let some = 0;
    fc.assert(
      fc.property(
        fc.tuple(number(-0.3, 0.3), number(-0.4, 0.2), number(-1.9, -0.5)),
        fc.tuple(number(0.05, 0.8), number(0.05, 0.5)),
        fc.tuple(number(-0.3, 0.3), number(-0.3, 0.3)),
        fc.subarray(['left', 'right', 'aim'] as const, { minLength: 1 }),
        (at, size, [x, y], sources) => {
          const lid: Board = { at, size, takes: 'blocks' };
          const control: Board = { ...SWITCH, at: [x, y, -2] };
          const from = { left: LEFT, right: RIGHT, aim: [0, 0, 0] as Vec3 };
          const share = Math.min(...sources.map((source) => shareBefore(from[source], control, lid)));
          const [fault] = told(documentOf({ switch: control, lid }, ray(sources)));
          if (share > 0.25) {
            some++;
            expect(fault).toEqual(['swallowed', 'switch', share, 'lid']);
          } else expect(fault).toBeUndefined();
        },
      ),
      { numRuns: 300, seed: 1 },
    );
    expect(some).toBeGreaterThan(30);
  });
});
