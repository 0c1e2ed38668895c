/** Panels in whole frames: worked out by hand on a screen of the design's own size, and by plain stepping for what trails. */
import {
  type Document,
  type Element,
  type Group,
  insideOf,
  type Mount,
  makeDocument,
  makeGauge,
  makeGroup,
  makeSlider,
  makeText,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import type { ShapeItem, WrittenText } from './draw-items.ts';
import { drawList } from './draw-list.ts';
import { explain } from './explain/explain.ts';
import { placeOf } from './frame.ts';
import { isUnsettled, playMotion } from './motions.ts';
import { Play, type PlayHost } from './play.ts';
import { rowUnder, valueSet } from './pointer.ts';
import { measureReadable } from './readable.ts';
import { fixedText as text } from './sample.ts';
import { type Box, levelOf } from './sample-level.ts';
import { screenBox, screenMiddle } from './screen-box.ts';
import { type Inputs, makeSolver, type Solver, solve } from './solve.ts';
import { PanelAt, worldPoint } from './spaces/panel.ts';
import { lookingPose, type Pose, type Vec3 } from './spaces/pose.ts';
import { projectPoint } from './spaces/project.ts';
import { Verdict } from './steps/names.ts';
import { followed } from './steps/trail.ts';
import { PATH_CLOSE, PATH_LINE, PATH_MOVE, PATH_QUADRATIC, type TextShaper } from './text.ts';

type Standing = Extract<Mount, { kind: 'standing' }>;
type Trailing = Extract<Mount, { kind: 'trailing' }>;

/** 1 x 0.5 m at 1000 px a metre, on a wall 4 m ahead of the origin that looks back (south, +z). */
const standing = (edit: Partial<Standing> = {}): Standing => ({
  kind: 'standing',
  anchor: 'wall',
  sizeM: [1, 0.5],
  pxPerM: 1000,
  readM: 4,
  sides: 'front',
  facing: 'fixed',
  turnDeg: 0,
  tiltDeg: 0,
  liftM: 0,
  ...edit,
});
const trailing = (edit: Partial<Trailing> = {}): Trailing => ({
  kind: 'trailing',
  sizeM: [0.8, 0.4],
  pxPerM: 1000,
  readM: 2,
  sides: 'front',
  distanceM: 2,
  rightDeg: 0,
  upDeg: 0,
  followS: 0,
  deadDeg: 0,
  keeps: 'upright',
  blocked: 'nearer',
  leastM: 0.3,
  ...edit,
});
const panelOf = (mount: Mount): Element => {
  const group = makeGroup({ mount, place: { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null } }, 'Panel', 'free', 'a0');
  return { ...group, paint: { plate: { colour: '#15233B', radiusPx: 0, border: null }, opacity: 1 } };
};
const documentOf = (mount: Mount, members: Record<string, Element> = {}): Document => ({
  ...makeDocument('Low Water'),
  anchors: { wall: { kind: 'surface', name: 'Wall', order: 'a0', node: null, position: [0, 0, -4], normal: [0, 0, 1] } },
  feeds: { wind: { name: 'Wind', order: 'a0', kind: 'number', unit: '', initial: 40 } },
  elements: { panel: panelOf(mount), ...members },
});
const ahead: Pose = { position: [0, 0, 0], rotation: [0, 0, 0, 1] };
function solverOf(document: Document, boxes: Box[] = []): Solver {
  return makeSolver(arrange(compile(document, boxes.length ? levelOf(boxes) : null), document.viewers.desk as never, text));
}
const run = (solver: Solver, head: Pose = ahead, inputs: Partial<Inputs> = {}) =>
  solve(solver, { timeS: 0, head, depthOrder: true, stands: true, ...inputs });
const rowOf = (solver: Solver, id: string) => solver.c.ids.indexOf(id);
const corner = (solver: Solver, panel: number, u: number, v: number): Vec3 => {
  const at = panel * PanelAt.Stride;
  return worldPoint(
    solver.f.panels,
    at,
    u * (solver.f.panels[at + PanelAt.WidthPx] as number),
    v * (solver.f.panels[at + PanelAt.HeightPx] as number),
  );
};
const near = (v: readonly number[], digits = 6) => v.map((x) => expect.closeTo(x, digits));

describe('a panel that stands', () => {
  it('has its metres about its own point, on the surface that carries it', () => {
    const solver = solverOf(documentOf(standing()));
    run(solver);
    expect(corner(solver, 0, 0, 0)).toEqual(near([-0.5, 0.25, -4]));
    expect(corner(solver, 0, 1, 1)).toEqual(near([0.5, -0.25, -4]));
    // 1080 px for 60°: a metre at 4 m takes 935.307 / 4 = 233.83 px of the desk's 1920 x 1080.
    const { focalY } = solver.a.projection;
    const [x, y, w, h] = screenBox(solver, 0);
    expect([x, y, w, h]).toEqual(near([960 - focalY / 8, 540 - focalY / 16, focalY / 4, focalY / 8], 4));
  });
  it.each([
    // Turned to its own left by 90°, it looks east (+x): its right is then to the north.
    ['turned', { turnDeg: 90 }, [0, 0.25, -3.5], [0, 0.25, -4.5]],
    // Tilted back by 90° it lies on its back: its head is to the north.
    ['tilted', { tiltDeg: 90 }, [-0.5, 0, -4.25], [0.5, 0, -4.25]],
    ['lifted', { liftM: 0.5 }, [-0.5, 0.25, -3.5], [0.5, 0.25, -3.5]],
  ])('%s', (_, edit, topLeft, topRight) => {
    const solver = solverOf(documentOf(standing(edit)));
    run(solver);
    expect(corner(solver, 0, 0, 0)).toEqual(near(topLeft));
    expect(corner(solver, 0, 1, 0)).toEqual(near(topRight));
  });
  it('turns about the vertical, or wholly, towards the viewer', () => {
    const head: Pose = { position: [4, 3, -4], rotation: lookingPose([0, 0, 0], 90, -36.87).rotation };
    const upright = solverOf(documentOf(standing({ facing: 'upright' })));
    run(upright, head);
    // The viewer is to the east: the panel's right is to the north, its head stays up.
    expect(corner(upright, 0, 1, 0)).toEqual(near([0, 0.25, -4.5]));
    const full = solverOf(documentOf(standing({ facing: 'full' })));
    run(full, head);
    const middle = corner(full, 0, 0.5, 0.5);
    const up = corner(full, 0, 0.5, 0).map((v, k) => v - (middle[k] as number)) as Vec3;
    // Square to the way to the viewer, (4, 3, 0).
    expect(up[0] * 4 + up[1] * 3).toBeCloseTo(0, 9);
    expect(up[1]).toBeGreaterThan(0);
  });
  it('is turned in its plane as a whole, clockwise', () => {
    const document = documentOf(standing());
    const solver = solverOf({ ...document, elements: { panel: { ...(document.elements.panel as Element), turnDeg: 90 } } });
    run(solver);
    // Its head is to the east now, so its top left is up on the right.
    expect(corner(solver, 0, 0, 0)).toEqual(near([0.25, 0.5, -4]));
    expect(corner(solver, 0, 1, 0)).toEqual(near([0.25, -0.5, -4]));
  });
  it('is refused from behind, unless it has both sides, and where none of it is in the frame', () => {
    const behind: Pose = { position: [0, 0, -8], rotation: lookingPose([0, 0, 0], 180, 0).rotation };
    const one = solverOf(documentOf(standing()));
    run(one, behind);
    expect(one.f.failed[0]).toBe(Verdict.View);
    expect(explain(one, 0).find(({ step }) => step === 'view')?.facts).toEqual([{ kind: 'backOfPanel', behindM: expect.closeTo(4, 9) }]);
    const both = solverOf(documentOf(standing({ sides: 'both' })));
    run(both, behind);
    expect(both.f.failed[0]).toBe(Verdict.Shown);
    // What is on it reads the right way round there, in the same rectangle: its top left is the other upper corner, to the east.
    expect(corner(both, 0, 0, 0)).toEqual(near([0.5, 0.25, -4]));
    expect(corner(both, 0, 1, 0)).toEqual(near([-0.5, 0.25, -4]));
    expect(corner(both, 0, 0, 1)).toEqual(near([0.5, -0.25, -4]));
    const off = solverOf(documentOf(standing({ sides: 'both', liftM: 0.1 })));
    const panel = off.c.document.elements.panel as Element;
    Object.assign(panel, { place: { ...panel.place, ownPoint: [0, 0.5] } });
    run(off, behind);
    // Beside its anchor as before: it reaches a metre to the east of it, on the front's side of the wall.
    expect([corner(off, 0, 0, 0), corner(off, 0, 1, 0)]).toEqual([near([1, 0.25, -3.9]), near([0, 0.25, -3.9])]);
    const away = solverOf(documentOf(standing()));
    run(away, lookingPose([0, 0, 0], 120, 0));
    expect(away.f.failed[0]).toBe(Verdict.View);
  });
  it('keeps letters their height when it is resized, and makes them larger by less density', () => {
    const members = {
      words: { ...makeText(insideOf('panel'), 'Valve', 'a0'), size: { rule: 'screen', emPx: 100, hideBelowPx: 0, leavePx: 0 } } as Element,
    };
    const capOf = (edit: Partial<Standing>) => {
      const solver = solverOf(documentOf(standing(edit), members));
      run(solver);
      return measureReadable(solver, rowOf(solver, 'words')).capPx;
    };
    // 100 px at 1000 px a metre are 0.1 m; capitals 0.7 of that, seen at 4 m with focal/4 px a metre.
    const solver = solverOf(documentOf(standing(), members));
    const { focalY } = solver.a.projection;
    expect(capOf({})).toBeCloseTo((0.07 * focalY) / 4, 2);
    expect(capOf({ sizeM: [2, 1] })).toBeCloseTo((0.07 * focalY) / 4, 2);
    expect(capOf({ pxPerM: 500 })).toBeCloseTo((0.14 * focalY) / 4, 2);
  });
  it('tells narrowing from lowering: turned about the vertical, letters are as high, and as wide as the cosine says', () => {
    const tall = {
      ...makeText(insideOf('panel', [0.5, 0.5]), 'i', 'a0'),
      size: { rule: 'screen', emPx: 20, hideBelowPx: 0, leavePx: 0 },
    } as Element;
    const words = { ...tall, place: { ...tall.place, ownPoint: [0.5, 0.5] } } as Element;
    const read = (turnDeg: number) => {
      const solver = solverOf(documentOf(standing({ turnDeg }), { words }));
      run(solver);
      return measureReadable(solver, rowOf(solver, 'words'));
    };
    expect(read(0).widthShare).toBeCloseTo(1, 3);
    expect(read(60).widthShare).toBeCloseTo(0.5, 1);
    expect(read(60).capPx / read(0).capPx).toBeGreaterThan(0.97);
  });
  it('says what of it the level stands before', () => {
    const wall: Box = { name: 'Post', least: [-1, -1, -2.1], greatest: [0, 1, -2] };
    const solver = solverOf(documentOf(standing({ sizeM: [2, 1] })), [wall]);
    run(solver);
    const short = measureReadable(solver, 0).faults.find(({ kind }) => kind === 'behindLevel');
    // The post covers the left half of the picture.
    expect(short).toMatchObject({ node: 'Post', value: expect.closeTo(0.6, 1) });
  });
  it('of one without a plate it is what of its members the level stands before', () => {
    const before = (plate: Group['paint']['plate'], left: number): number => {
      const wall: Box = { name: 'Post', least: [left, -1, -2.1], greatest: [left + 1, 1, -2] };
      // 2 by 1 m, a thousand pixels a metre; a word in its upper left corner, so that the post stands before it or beside it.
      const words = {
        ...makeText(insideOf('panel'), 'Low', 'a0'),
        size: { rule: 'screen', emPx: 60, hideBelowPx: 0, leavePx: 0 },
      } as Element;
      const panel = documentOf(standing({ sizeM: [2, 1] }), { words });
      const group = panel.elements.panel as Group;
      panel.elements.panel = { ...group, paint: { ...group.paint, plate } };
      const solver = solverOf(panel, [wall]);
      run(solver);
      const short = measureReadable(solver, rowOf(solver, 'panel')).faults.find(({ kind }) => kind === 'behindLevel');
      return short?.kind === 'behindLevel' ? short.value : 0;
    };
    const board = { colour: '#15233B', radiusPx: 0, border: null };
    // Of five columns of sight lines the one in the middle goes by the post's edge.
    for (const left of [-1, 0]) expect(Math.abs(before(board, left) - 0.5)).toBeLessThan(0.11);
    expect([before(null, -1), before(null, 0)]).toEqual([1, 0]);
  });
});

it('is seen through the level where its Sightline answers so, and is not said to be behind it', () => {
  const wall: Box = { name: 'Wall', least: [-3, -3, -2.1], greatest: [3, 3, -2] };
  const document = documentOf(standing());
  const sightline = { to: 'element' as const, samples: 12, share: 0.5, leaveShare: 0.3, answer: 'through' as const, dwellS: 0 };
  const panel = { ...(document.elements.panel as Element), sightline } as Element;
  const solver = solverOf({ ...document, elements: { panel } }, [wall]);
  run(solver);
  expect(drawList(solver).items[0]).toMatchObject({ kind: 'panel', through: true });
  expect(measureReadable(solver, 0).faults).toEqual([]);
  const plain = solverOf(document, [wall]);
  run(plain);
  expect(drawList(plain).items[0]).toMatchObject({ kind: 'panel', through: false });
  expect(measureReadable(plain, 0).faults).toMatchObject([{ kind: 'behindLevel', value: 1 }]);
});

describe('what lies on a panel', () => {
  const slider = { ...makeSlider(insideOf('panel', [0, 0], [100, 100]), 'Wind', 'wind', 'a0') } as Element;
  const head: Pose = { position: [1.5, 0.4, -1], rotation: lookingPose([0, 0, 0], 20, -5).rotation };
  it('is drawn where its points are projected', () => {
    const solver = solverOf(documentOf(standing({ turnDeg: 30 }), { slider }));
    run(solver, head);
    const [x, y, w, h] = placeOf(solver.f, rowOf(solver, 'slider')).rect;
    // Its offset from the top left inside of the padding, 16 and 12 px.
    expect([x, y]).toEqual([116, 112]);
    const middle = worldPoint(solver.f.panels, 0, x + w / 2, y + h / 2);
    const seen = projectPoint(solver.a.projection, head, middle);
    expect(screenMiddle(solver, rowOf(solver, 'slider'))).toEqual(near([seen.x, seen.y], 6));
    const items = drawList(solver).items;
    expect(items[0]).toMatchObject({ kind: 'panel', element: 'panel' });
    expect(items.at(-1)).toMatchObject({ kind: 'endPanel' });
    expect(items.slice(1, -1).every(({ kind }) => kind === 'shape')).toBe(true);
  });
  it('takes the pointer where it is seen, and a slider that is held follows it beyond the panel', () => {
    const solver = solverOf(documentOf(standing({ turnDeg: 30 }), { slider }));
    run(solver, head);
    const row = rowOf(solver, 'slider');
    const at = placeOf(solver.f, row).rect;
    const pixel = (px: number, py: number) => {
      const { x, y } = projectPoint(solver.a.projection, head, worldPoint(solver.f.panels, 0, px, py));
      return [x, y] as [number, number];
    };
    expect(rowUnder(solver, ...pixel(at[0] + 3, at[1] + 3))).toBe(row);
    expect(rowUnder(solver, ...pixel(at[0] - 3, at[1] + 3))).toBe(rowOf(solver, 'panel'));
    expect(rowUnder(solver, ...pixel(1003, 250))).toBe(-1);
    // 280 x 36 px: the knob's middle runs from 18 to 262 px of it.
    expect(valueSet(solver, row, ...pixel(at[0] + 140, at[1] + 18))).toMatchObject({ value: 50 });
    expect(valueSet(solver, row, ...pixel(at[0] + 18, at[1] + 400))).toMatchObject({ value: 0 });
    expect(valueSet(solver, row, ...pixel(1400, 200))).toMatchObject({ value: 100 });
  });
  it('is left to the world where a wall stands before it, and to what is nearer', () => {
    const wall: Box = { name: 'Post', least: [-1, -1, -2.1], greatest: [0, 1, -2] };
    const solver = solverOf(documentOf(standing({ sizeM: [2, 1] })), [wall]);
    run(solver);
    expect(rowUnder(solver, 900, 540)).toBe(-1);
    expect(rowUnder(solver, 1000, 540)).toBe(0);
    const document = documentOf(standing());
    const two = solverOf({
      ...document,
      anchors: {
        ...document.anchors,
        near: { kind: 'surface', name: 'Near', order: 'a1', node: null, position: [0, 0, -2], normal: [0, 0, 1] },
      },
      elements: { ...document.elements, front: { ...panelOf(standing({ anchor: 'near', sizeM: [0.2, 0.2] })), order: 'a1' } as Element },
    });
    run(two);
    expect(two.c.ids[rowUnder(two, 960, 540)]).toBe('front');
    expect(two.c.ids[rowUnder(two, 1060, 540)]).toBe('panel');
  });
  it('acts within the reach of the ray only, and says how much is missing', () => {
    const document = { ...documentOf(standing({ sizeM: [2, 1] }), { slider }), ray: { reachM: 3 } };
    const solver = solverOf(document);
    run(solver);
    const host = { solver: () => solver, document: () => document } as unknown as PlayHost;
    const [x, y] = screenMiddle(solver, rowOf(solver, 'slider'));
    const play = new Play(host);
    expect(play.under(x / 1920, y / 1080)).toMatchObject({ has: 'slider', acts: null, because: 'reach' });
    const fault = measureReadable(solver, 0).faults.find(({ kind }) => kind === 'reach');
    expect(fault).toMatchObject({ bound: 3, value: expect.closeTo(4, 6) });
    Object.assign(document, { ray: { reachM: 5 } });
    expect(play.under(x / 1920, y / 1080)).toMatchObject({ acts: 'slider' });
  });
});

describe('panels that cover one another', () => {
  it('are painted by their planes: a sign on a floor comes after the floor whose middle is nearer', () => {
    const document = documentOf(standing());
    const solver = solverOf({
      ...document,
      anchors: {
        ...document.anchors,
        floor: { kind: 'surface', name: 'Floor', order: 'a1', node: null, position: [0, -1.6, -3], normal: [0, 1, 0] },
      },
      elements: {
        sign: panelOf(standing({ sizeM: [1, 3.2] })),
        floor: { ...panelOf(standing({ anchor: 'floor', sizeM: [6, 8], pxPerM: 100 })), order: 'a1' } as Element,
      },
    });
    run(solver, lookingPose([0, 0, 0], 0, -20));
    const { order, orderCount } = solver.f;
    expect([...order.subarray(0, orderCount)].map((row) => solver.c.ids[row])).toEqual(['floor', 'sign']);
    // By distance alone it would be the other way round.
    expect(placeOf(solver.f, rowOf(solver, 'floor')).depthM).toBeLessThan(placeOf(solver.f, rowOf(solver, 'sign')).depthM);
  });
});

describe('a text on a panel', () => {
  const shapes = (position: Vec3) => {
    const document = documentOf(standing({ sides: 'both' }));
    document.elements.word = makeText(insideOf('panel'), 'Ebb', 'a0');
    const drawn: TextShaper = {
      ...text,
      shape: (request) => ({
        ...text.shape(request),
        ops: Uint8Array.of(PATH_MOVE, PATH_QUADRATIC, PATH_LINE, PATH_CLOSE),
        coords: Float64Array.of(0, 0, 0.5, -0.7, 1, 0, 0.4, 0.6),
      }),
    };
    const solver = makeSolver(arrange(compile(document, null), document.viewers.desk as never, drawn));
    run(solver, { position, rotation: ahead.rotation });
    return drawList(solver).items.filter((item) => item.kind === 'shape' && item.title === 'Ebb') as ShapeItem[];
  };
  it('is drawn as the outlines that the map of its em gives, whenever they are asked for', () => {
    const [shape] = shapes([0, 0, 0]) as [ShapeItem];
    const { text: item, map } = shape.written as WrittenText;
    expect(item.block.coords.length).toBeGreaterThan(0);
    expect(shape.ops.length).toBe(item.block.ops.length);
    for (let k = 0; k < item.block.coords.length; k += 2) {
      const [x, y] = [item.block.coords[k] as number, item.block.coords[k + 1] as number];
      const [sx, sy, w] = [0, 3, 6].map(
        (row) => (map[row] as number) * x + (map[row + 1] as number) * y + (map[row + 2] as number),
      ) as Vec3;
      expect(shape.coords[k]).toBeCloseTo(sx / w, 9);
      expect(shape.coords[k + 1]).toBeCloseTo(sy / w, 9);
    }
    // A copy of the item is the same.
    expect({ ...shape }.coords).toEqual(shape.coords);
  });
  it('is outlines alone where the near plane may cut it', () => {
    // The panel is 4 m ahead of the origin; here it is 5 cm nearer than the near plane, or as far behind it.
    expect(shapes([0, 0, -3.97]).every(({ written }) => written === undefined)).toBe(true);
  });
});

describe('a panel that unfolds', () => {
  it('turns about its edge in space: half way, its free edge is at 45 degrees before the wall', () => {
    const document = documentOf(standing());
    const motion = {
      enter: { kind: 'unfold' as const, edge: 'left' as const, timeS: 1, easing: 'smooth' as const, delayS: 0 },
      leave: null,
      betweenS: 0,
    };
    const solver = solverOf({ ...document, elements: { panel: { ...(document.elements.panel as Element), motion } } });
    const away = lookingPose([0, 0, 0], 180, 0);
    solve(solver, { timeS: 0, head: away, depthOrder: true });
    solve(solver, { timeS: 0.1, head: ahead, depthOrder: true });
    // Smooth easing is half way after half of its time.
    solve(solver, { timeS: 0.6, head: ahead, depthOrder: true });
    const shape = drawList(solver).items.find((item) => item.kind === 'shape');
    if (shape?.kind !== 'shape') throw new Error('nothing drawn');
    const xs = [...shape.coords].filter((_, k) => k % 2 === 0);
    // The left edge stays; the right one, 1 m from it, is at 1/√2 m along the wall and as far before it.
    const { x: left } = projectPoint(solver.a.projection, ahead, [-0.5, 0, -4]);
    const { x: right } = projectPoint(solver.a.projection, ahead, [-0.5 + Math.SQRT1_2, 0, -4 + Math.SQRT1_2]);
    expect(Math.min(...xs)).toBeCloseTo(left, 6);
    expect(Math.max(...xs)).toBeCloseTo(right, 6);
  });
});

describe('a panel that trails', () => {
  it('stays at its distance and direction, facing the viewer', () => {
    const solver = solverOf(documentOf(trailing({ rightDeg: 30 })));
    const head: Pose = { position: [5, 1, 2], rotation: lookingPose([0, 0, 0], 90, 0).rotation };
    run(solver, head);
    // Looking west, 30° to the right is 60° west of north: (−sin 60°, 0, −cos 60°) times 2 m.
    const middle = corner(solver, 0, 0.5, 0.5);
    expect(middle).toEqual(near([5 - 2 * Math.sin(Math.PI / 3), 1, 2 - 2 * Math.cos(Math.PI / 3)]));
    expect(solver.f.failed[0]).toBe(Verdict.Shown);
  });
  it('comes nearer where the level is in the way, at the same size to the eye, and back softly', () => {
    const wall: Box = { name: 'Wall', least: [-3, -3, -1.3], greatest: [3, 3, -1.2] };
    const free = solverOf(documentOf(trailing()));
    run(free);
    const blocked = solverOf(documentOf(trailing()), [wall]);
    run(blocked);
    expect(corner(blocked, 0, 0.5, 0.5)[2]).toBeGreaterThan(-1.2);
    expect(corner(blocked, 0, 0.5, 0.5)[2]).toBeLessThan(-1.15);
    expect(screenBox(blocked, 0)).toEqual(near(screenBox(free, 0), 6));
    // Turned away from it, over a quarter of a second: 1 − e^−1 of the way back.
    const share = blocked.m.trailShare[0] as number;
    const away = lookingPose([0, 0, 0], 180, 0);
    solve(blocked, { timeS: 0, head: ahead, depthOrder: true });
    solve(blocked, { timeS: 0.25, head: away, depthOrder: true });
    expect(blocked.m.trailShare[0]).toBeCloseTo(1 - (1 - share) * Math.exp(-1), 6);
    const hidden = solverOf(documentOf(trailing({ blocked: 'hide' })), [wall]);
    run(hidden);
    expect(hidden.f.failed[0]).toBe(Verdict.Sightline);
  });

  it('is unsettled until it has come after the head, so that pictures go on', () => {
    const solver = solverOf(documentOf(trailing({ followS: 0.2, deadDeg: 5 })));
    const turned = lookingPose([0, 0, 0], 40, 0);
    solve(solver, { timeS: 0, head: ahead, depthOrder: true });
    expect(isUnsettled(solver)).toBe(false);
    let timeS = 0;
    solve(solver, { timeS: (timeS += 1 / 60), head: turned, depthOrder: true });
    expect(isUnsettled(solver)).toBe(true);
    for (let k = 0; k < 600 && isUnsettled(solver); k++) solve(solver, { timeS: (timeS += 1 / 60), head: turned, depthOrder: true });
    // 35° beyond its zone shrink to 0.02° in 0.2 s · ln(35 / 0.02) = 1.49 s.
    expect(timeS).toBeGreaterThan(1.4);
    expect(timeS).toBeLessThan(1.7);
    expect(solver.m.trailDeg[0]).toBeCloseTo(35, 1);
  });

  const steps = fc.array(fc.double({ min: 0.002, max: 0.05, noNaN: true }), { minLength: 5, maxLength: 60 });
  it('comes after the head alike at any rate of frames: against plain small steps (property)', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -120, max: 120, noNaN: true }), { minLength: 2, maxLength: 6 }),
        steps,
        fc.constantFrom(0.05, 0.2, 0.8),
        fc.constantFrom(0, 5, 20),
        (speeds, uneven, tau, dead) => {
          // The head turns with one speed after the other, half a second each.
          const head = (t: number) => speeds.reduce((x, v, k) => x + v * Math.max(0, Math.min(0.5, t - k * 0.5)), 0);
          const end = speeds.length * 0.5;
          const go = (next: (k: number) => number) => {
            let [t, y] = [0, 0];
            for (let k = 0; t < end; k++) {
              // A step does not go over a bend: what is exact is exact for a straight run.
              const bend = Math.min(end, (Math.floor(t / 0.5 + 1e-9) + 1) * 0.5);
              const to = Math.min(bend, t + next(k));
              y = followed(y, head(t), head(to), to - t, tau, dead);
              t = to;
            }
            return y;
          };
          const fine = ((): number => {
            const dt = 1e-4;
            let y = 0;
            for (let t = 0; t < end - 1e-9; t += dt) {
              const off = head(t + dt / 2) - y;
              const u = Math.abs(off) - dead;
              if (u > 0) y += (Math.sign(off) * u * dt) / tau;
            }
            return y;
          })();
          const all = [30, 60, 144].map((rate) => go(() => 1 / rate));
          all.push(go((k) => uneven[k % uneven.length] as number));
          for (const y of all) expect(Math.abs(y - (all[0] as number))).toBeLessThan(1e-6);
          expect(Math.abs((all[0] as number) - fine)).toBeLessThan(0.2);
        },
      ),
      { numRuns: 120 },
    );
  });
  it('is rigid without a time constant, and at the edge of its dead zone with one', () => {
    expect(followed(0, 10, 30, 0.1, 0, 0)).toBe(30);
    expect(followed(0, 0, 30, 0.1, 0, 10)).toBeCloseTo(20, 12);
    expect(followed(0, 0, 5, 0.1, 0, 10)).toBe(0);
    // Standing still 30° away with τ = 0.5 s: after 0.5 s, 30/e are left.
    expect(followed(0, 30, 30, 0.5, 0.5, 0)).toBeCloseTo(30 - 30 / Math.E, 9);
  });
});

it('a text that is a panel by itself has its em in the panel’s pixels, whatever its distance, standing and trailing', () => {
  for (const mount of [standing({ sizeM: [2, 1] }), trailing({ sizeM: [2, 1], distanceM: 4, leastM: 1 })]) {
    const label: Element = {
      ...makeText({ mount, place: { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null } }, 'Tide', 'a0'),
    };
    const sized: Element = { ...label, size: { rule: 'screen', emPx: 100, hideBelowPx: 0, leavePx: 0 } } as Element;
    const solver = solverOf({ ...documentOf(standing()), elements: { panel: sized } });
    run(solver);
    expect(placeOf(solver.f, 0).emPx).toBe(100);
    // 0.7 em of 100 px at 1000 px a metre are 7 cm: at 4 m, 935.3 px a tangent of 1.
    expect(measureReadable(solver, 0).capPx).toBeCloseTo((0.07 * solver.a.projection.focalY) / 4, 3);
  }
});

describe('leaves', () => {
  const leaf = (group: string, x: number, sends: string): Element => {
    const frame = makeGroup(insideOf(group, [0, 0]), 'Leaf', 'free', 'a1');
    const about = { kind: 'unfold', edge: 'left', timeS: 1, easing: 'smooth' } as const;
    return {
      ...frame,
      place: { ownPoint: [0, 0], offsetPx: [x, 0], stay: 'free', leader: null },
      layout: { ...frame.layout, widthPx: 500, heightPx: 500, padPx: [0, 0, 0, 0] },
      paint: { plate: { colour: sends === 'first' ? '#AA0000' : '#00AA00', radiusPx: 0, border: null }, opacity: 1 },
      motion: { enter: { ...about, delayS: 0, sends }, leave: null, betweenS: 0 },
    };
  };
  const notice = (): Document => {
    const document = documentOf(standing({ sides: 'both' }), { one: leaf('panel', 0, 'first'), two: leaf('one', 500, 'second') });
    const { panel } = document.elements;
    if (panel?.kind === 'group') panel.layout.padPx = [0, 0, 0, 0];
    document.actions = Object.fromEntries(['first', 'second'].map((id, k) => [id, { name: id, order: `a${k}`, reactions: [] }]));
    return document;
  };
  it('hang on one another: the second folds out of the front of the first', () => {
    const solver = solverOf(notice());
    solve(solver, { timeS: 0, head: ahead, depthOrder: true });
    for (const id of ['one', 'two']) playMotion(solver, rowOf(solver, id));
    solve(solver, { timeS: 0.5, head: ahead, depthOrder: true });
    // Half open each: the first stands out at 45 degrees from x = -0.5, the second at 90 from where that ends.
    const [c, s] = [Math.SQRT1_2 / 2, Math.SQRT1_2 / 2];
    const seen = (x: number, y: number, z: number) => {
      const p = projectPoint(solver.a.projection, ahead, [x, y, z]);
      return [p.x, p.y];
    };
    const shapes = drawList(solver).items.filter((item) => item.kind === 'shape');
    const cornersOf = (colour: string) => {
      const { coords } = shapes.find((item) => item.kind === 'shape' && item.colour === colour) as { coords: Float64Array };
      return [0, 1, 2, 3].map((k) => [...coords.subarray(k * 2, k * 2 + 2)]);
    };
    const near4 = (points: number[][]) => points.map((point) => point.map((v) => expect.closeTo(v, 6)));
    expect(cornersOf('#AA0000')).toEqual(
      near4([seen(-0.5, 0.25, -4), seen(-0.5 + c, 0.25, -4 + s), seen(-0.5 + c, -0.25, -4 + s), seen(-0.5, -0.25, -4)]),
    );
    expect(cornersOf('#00AA00')).toEqual(
      near4([seen(-0.5 + c, 0.25, -4 + s), seen(-0.5 + c, 0.25, -3.5 + s), seen(-0.5 + c, -0.25, -3.5 + s), seen(-0.5 + c, -0.25, -4 + s)]),
    );
  });
  it('show no writing on their backs', () => {
    const document = notice();
    const ring = { kind: 'ring', diameterPx: 200, widthPx: 30, startDeg: 0, sweepDeg: 360 } as const;
    document.elements.words = makeGauge(insideOf('two', [0.5, 0.5]), 'Wind', 'wind', ring, 'a2');
    const solver = solverOf(document);
    solve(solver, { timeS: 0, head: ahead, depthOrder: true });
    for (const id of ['one', 'two']) playMotion(solver, rowOf(solver, id));
    const written = (timeS: number) => {
      solve(solver, { timeS, head: ahead, depthOrder: true });
      return drawList(solver).items.filter((item) => item.element === 'words' || (item.kind === 'shape' && item.colour === '#00AA00'))
        .length;
    };
    // At a fifth of the way each has turned by 81 of its 90 degrees: together the second looks away. Its plate is seen, its gauge is not.
    expect(written(0.2)).toBe(1);
    expect(written(1.1)).toBeGreaterThan(1);
  });
  it('send an action each as they begin to move, once, and again when they are played again', () => {
    const document = notice();
    const enter = document.elements.two?.motion?.enter;
    if (enter) enter.delayS = 0.4;
    const solver = solverOf(document);
    const sent: (string | null)[] = [];
    const host: PlayHost = {
      solver: () => solver,
      document: () => document,
      phase: () => null,
      nowS: () => solver.f.timeS,
      values: () => ({}),
      device: () => 'keyboard',
      setDevice: () => {},
      set: () => {},
      change: () => {},
      point: () => {},
      scroll: () => {},
      played: (what) => sent.push(what.kind === 'sent' ? what.action : what.kind),
      invalidate: () => {},
    };
    const play = new Play(host);
    const to = (timeS: number) => {
      solve(solver, { timeS, head: ahead, depthOrder: true });
      play.advance(0.1);
    };
    to(0);
    expect(sent).toEqual([]);
    for (const id of ['one', 'two']) playMotion(solver, rowOf(solver, id));
    to(0.1);
    to(0.3);
    expect(sent).toEqual(['first']);
    to(0.5);
    to(2);
    expect(sent).toEqual(['first', 'second']);
    playMotion(solver, rowOf(solver, 'one'));
    to(2.1);
    expect(sent).toEqual(['first', 'second', 'first']);
  });
});
