/** Rays: what they meet, against pixels, by hand and through walls; how sources share a press; how they are drawn. */
import {
  type Document,
  type Element,
  insideOf,
  type Mount,
  makeDocument,
  makeGroup,
  makeLabel,
  makeSlider,
  makeToggle,
  type RaySettings,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import type { ShapeItem } from './draw-items.ts';
import { drawList } from './draw-list.ts';
import type { DrawnRay } from './draw-ray.ts';
import { eyesOf } from './eyes.ts';
import { Play, type Played } from './play.ts';
import { handRay, metBy, type Pointing } from './pointing.ts';
import { fixedText as text } from './sample.ts';
import { type Box, levelOf } from './sample-level.ts';
import { screenMiddle } from './screen-box.ts';
import { makeSolver, type Solver, solve } from './solve.ts';
import { lookingPose, type Pose, type Vec3 } from './spaces/pose.ts';
import { screenRay } from './spaces/project.ts';

type Standing = Extract<Mount, { kind: 'standing' }>;
const HEAD: Pose = { position: [0, 0, 0], rotation: [0, 0, 0, 1] };
const standing = (anchor: string, edit: Partial<Standing> = {}): Standing => ({
  kind: 'standing',
  anchor,
  sizeM: [1, 0.5],
  pxPerM: 1000,
  readM: 4,
  sides: 'both',
  facing: 'fixed',
  turnDeg: 0,
  tiltDeg: 0,
  liftM: 0,
  ...edit,
});
const place: Element['place'] = { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null };
const board = (mount: Mount, acts = true): Element => {
  const group = makeGroup({ mount, place }, 'Board', 'free', 'a0');
  const pointer = { takes: acts ? 'acts' : 'blocks', action: acts ? 'go' : null, padPx: 0, pointed: {}, pressed: {} } as const;
  return { ...group, paint: { plate: { colour: '#15233B', radiusPx: 0, border: null }, opacity: 1 }, pointer };
};
const documentOf = (places: Record<string, Vec3>, elements: Record<string, Element>, ray?: RaySettings): Document => ({
  ...makeDocument('Low Water'),
  anchors: Object.fromEntries(
    Object.entries(places).map(([id, position]) => [
      id,
      { kind: 'surface', name: id, order: 'a0', node: null, position, normal: [0, 0, 1] },
    ]),
  ),
  elements,
  actions: { go: { name: 'Go', order: 'a0', reactions: [] } },
  ...(ray && { ray }),
});
const solverOf = (document: Document, boxes: Box[] = [], head = HEAD, viewer = 'desk'): Solver => {
  const compiled = compile(document, boxes.length ? levelOf(boxes) : null);
  const solver = makeSolver(arrange(compiled, document.viewers[viewer] as never, text));
  solve(solver, { timeS: 0, head, depthOrder: true, stands: true });
  return solver;
};
const idAt = (solver: Solver, pointing: Pointing): string | null => solver.c.ids[metBy(solver, pointing).row] ?? null;
const towards = (origin: Vec3, to: Vec3) => {
  const way = to.map((v, k) => v - (origin[k] as number)) as Vec3;
  const length = Math.hypot(...way);
  return { origin, direction: way.map((v) => v / length) as Vec3 };
};
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });

describe('what a ray meets', () => {
  it('is what its pixel meets, where it comes from the eye; and the pixel comes back (property)', () => {
    fc.assert(
      fc.property(
        fc.record({
          x: number(0, 1920),
          y: number(0, 1080),
          yaw: number(-180, 180),
          pitch: number(-60, 60),
          turnDeg: number(-60, 60),
          far: number(1, 8),
          aside: number(-0.6, 0.6),
          facing: fc.constantFrom('fixed', 'upright', 'full'),
        }),
        ({ x, y, yaw, pitch, turnDeg, far, aside, facing }) => {
          const head = lookingPose([3, 1.6, -2], yaw, pitch);
          const ahead = screenRay(solverOf(documentOf({}, {}), [], head).a.projection, head, 960 + aside * 900, 540);
          const at = (d: number) => head.position.map((v, k) => v + d * (ahead.direction[k] as number)) as Vec3;
          const elements = {
            panel: board(standing('near', { turnDeg, facing: facing as 'full' })),
            behind: board(standing('far', { sizeM: [4, 3], facing: 'full' })),
            words: makeLabel('middle', 'words', 'a1'),
          };
          const solver = solverOf(documentOf({ near: at(far), far: at(far + 6), middle: at(far + 2) }, elements), [], head);
          const byPixel = metBy(solver, { x, y });
          const ray = screenRay(solver.a.projection, head, x, y);
          const byRay = metBy(solver, ray);
          // What floats passes by itself; the panels behind it get it either way.
          expect(byRay.row).toBe(byPixel.row);
          if (byRay.row < 0) return;
          expect(Math.abs(byRay.x - x) + Math.abs(byRay.y - y)).toBeLessThan(1e-6);
          expect(byRay.distanceM).toBeCloseTo(byPixel.distanceM, 9);
        },
      ),
      { numRuns: 200 },
    );
  });

  it('is the nearest along a hand’s ray, though the eye sees another before it', () => {
    // Seen from the eye, the small board at 2 m lies before the large one at 4 m; from 3 m to the right the hand passes it by.
    const document = documentOf(
      { near: [0, 0, -2], far: [0, 0, -4] },
      { small: board(standing('near', { sizeM: [0.4, 0.4] })), large: board(standing('far', { sizeM: [3, 2] })) },
    );
    const solver = solverOf(document);
    expect(idAt(solver, { x: 960, y: 540 })).toBe('small');
    expect(idAt(solver, towards([3, 0, 0], [0, 0, -4]))).toBe('large');
    expect(idAt(solver, towards([0.5, 0, 0], [0, 0, -2]))).toBe('small');
    expect(metBy(solver, towards([3, 0, 0], [0, 0, -4]))).toMatchObject({ distanceM: expect.closeTo(5, 9), x: expect.closeTo(960, 6) });
    // Backwards, or past the edge, it is the world's.
    expect(idAt(solver, { origin: [0, 0, 0], direction: [0, 0, 1] })).toBe(null);
    expect(idAt(solver, towards([3, 0, 0], [0, 2, -4]))).toBe(null);
  });

  it('is a wall that stands between the hand and a panel, and not one between the panel and the eye', () => {
    const document = documentOf({ far: [0, 0, -4] }, { large: board(standing('far', { sizeM: [3, 2] })) });
    const pier: Box = { name: 'Pier', least: [0.8, -1, -2.4], greatest: [1.2, 1, -2] };
    const solver = solverOf(document, [pier]);
    // From 2 m to the right the way to the middle passes x = 1 at half of it, 2 m ahead: through the pier.
    expect(idAt(solver, towards([2, 0, 0], [0, 0, -4]))).toBe(null);
    expect(metBy(solver, towards([2, 0, 0], [0, 0, -4])).distanceM).toBeLessThan(3);
    expect(idAt(solver, towards([-2, 0, 0], [0, 0, -4]))).toBe('large');
    expect(idAt(solver, { x: 960, y: 540 })).toBe('large');
  });

  it('reaches the HUD of a headset, which is a panel, and not that of a screen', () => {
    const hud: Element = {
      ...makeToggle({ mount: { kind: 'glass', within: 'screen', pin: [0.5, 0.5], stretch: [false, false] }, place }, 'Lamp', null, 'a0'),
    } as Element;
    const document = documentOf({}, { hud });
    document.viewers.headset = {
      kind: 'headset',
      name: 'Headset',
      order: 'a9',
      widthPx: 2000,
      heightPx: 2000,
      lens: { kind: 'offAxis', leftDeg: -50, rightDeg: 45, upDeg: 45, downDeg: -45, nearM: 0.1 },
      safeArea: { left: 0, top: 0, right: 0, bottom: 0 },
      eyeDistanceM: 0.064,
    };
    const hand = towards([0.2, -0.3, -0.3], [0, 0, -2]);
    expect(idAt(solverOf(document, [], HEAD, 'headset'), hand)).toBe('hud');
    expect(idAt(solverOf(document, [], HEAD, 'desk'), hand)).toBe(null);
    expect(idAt(solverOf(document, [], HEAD, 'desk'), { x: 960, y: 540 })).toBe('hud');
  });
});

describe('a hand', () => {
  const feeds = ['across', 'turned', 'raised'];
  const document = (hands?: RaySettings['hands']): Document => {
    const d = documentOf({}, {}, { reachM: 10, sources: ['right'], ...(hands && { hands }) });
    for (const [k, id] of feeds.entries())
      d.feeds[id] = { name: id, order: `a${k}`, kind: 'number', unit: '', initial: [0.5, 30, 45][k] as number };
    return d;
  };
  it('rests to its side, and points ahead, whichever way one faces and however far down', () => {
    for (const [yaw, pitch] of [
      [0, 0],
      [90, -89.99],
      [-120, 40],
    ] as const) {
      // Headings count clockwise: at 90 one faces east (+x), and south (+z) is to the right.
      const { origin, direction } = handRay(solverOf(document(), [], lookingPose([1, 2, 3], yaw, pitch)), 'right');
      const [sin, cos] = [Math.sin((yaw * Math.PI) / 180), Math.cos((yaw * Math.PI) / 180)];
      const ahead = lookingPose([0, 0, 0], yaw, 0);
      const forward = screenRay(solverOf(document(), [], ahead).a.projection, ahead, 960, 540).direction;
      direction.forEach((v, k) => void expect(v).toBeCloseTo(forward[k] as number, 4));
      expect(origin[1]).toBeCloseTo(1.65, 9);
      expect(Math.hypot(origin[0] - 1, origin[2] - 3)).toBeCloseTo(Math.hypot(0.2, 0.3), 4);
      expect(Math.abs(sin) + Math.abs(cos)).toBeGreaterThan(0.9);
    }
  });
  it('is where its feeds put it, and points where they turn it; towards a place where they do not', () => {
    const led: RaySettings['hands'] = { right: { rightM: 'across', upM: null, aheadM: null, leftDeg: 'turned', upDeg: 'raised' } };
    const { origin, direction } = handRay(solverOf(document(led)), 'right', [9, 9, 9]);
    expect(origin).toEqual([expect.closeTo(0.5, 9), expect.closeTo(-0.35, 9), expect.closeTo(-0.3, 9)]);
    // 30° to the left of north and 45° up: (−sin 30, 1, −cos 30) / √2.
    expect(direction).toEqual([-0.5, 1, -Math.sqrt(3) / 2].map((v) => expect.closeTo(v / Math.SQRT2, 9)));
    const free = handRay(solverOf(document()), 'right', [0.2, -0.35, -7.3]);
    expect(free.direction).toEqual([expect.closeTo(0, 9), expect.closeTo(0, 9), expect.closeTo(-1, 9)]);
  });
});

/** A host of plain fields over a frame, which follows what is set. */
function playing(document: Document, boxes: Box[] = []) {
  const solver = solverOf(document, boxes);
  const log: Played[] = [];
  const values: Record<string, unknown> = {};
  const told = { pointed: null as string | null, pressed: null as string | null };
  const play = new Play({
    solver: () => solver,
    document: () => document,
    phase: () => null,
    nowS: () => 0,
    values: () => values as never,
    device: () => 'hand',
    setDevice: () => {},
    set: (feed, value) => {
      values[feed] = value;
    },
    change: () => {},
    point: (pointed, pressed) => Object.assign(told, { pointed, pressed }),
    scroll: () => {},
    played: (what) => log.push(what),
    invalidate: () => {},
  });
  const at = (id: string): { x: number; y: number } => {
    const [x, y] = screenMiddle(solver, solver.c.ids.indexOf(id));
    return { x, y };
  };
  return { play, log, values, told, solver, at };
}
const WATER = { wind: { name: 'Wind', order: 'a0', kind: 'number', unit: '', initial: 50 } } as const;

describe('sources', () => {
  const two = () => {
    const slider: Element = {
      ...makeSlider(insideOf('panel', [0.5, 0.5]), 'Slider', 'wind', 'a1'),
      widthPx: 600,
      heightPx: 60,
      empty: 0,
      full: 100,
      step: 1,
    } as Element;
    const document = documentOf(
      { wall: [0, 0, -2], left: [-1.2, 0, -2] },
      { panel: board(standing('wall'), false), slider, button: board(standing('left', { sizeM: [0.6, 0.4] })) },
    );
    document.feeds = { ...WATER };
    document.ray = { reachM: 10, sources: ['aim', 'left', 'right', 'head'], dwellS: 1 };
    return playing(document);
  };
  it('share one press: a held slider follows its hand beyond the panel, and the other hand gets nothing meanwhile', () => {
    const { play, log, values, told, at } = two();
    play.point('right', towards([0.3, -0.3, 0], [0, 0, -2]));
    play.point('left', towards([-0.3, -0.3, 0], [-1.2, 0, -2]));
    expect(play.down('right')).toBe('element');
    expect(told).toEqual({ pointed: 'slider', pressed: 'slider' });
    expect(values.wind).toBe(50);
    expect(play.down('left')).toBe('busy');
    expect(log).toEqual([]);
    // 2 m to the right the panel has long ended: the slider is full, and still held.
    play.point('right', towards([0.3, -0.3, 0], [2, 0, -2]));
    expect([values.wind, told.pressed]).toEqual([100, 'slider']);
    play.point('right', towards([0.3, -0.3, 0], [-0.15, 0.6, -2]));
    expect(values.wind).toBeGreaterThan(15);
    expect(values.wind).toBeLessThan(35);
    expect(play.up('left')).toBe(false);
    expect(play.up('right')).toBe(true);
    // Free again: the other hand presses, and is now the one that points.
    expect(play.down('left')).toBe('element');
    expect([play.uses, told.pressed]).toEqual(['left', 'button']);
    play.up('left');
    expect(log.at(-1)).toMatchObject({ kind: 'sent', source: 'button', action: 'go' });
    expect(at('button').x).toBeLessThan(960);
  });
  it('press once, and only what they are still on', () => {
    const { play, log, told } = two();
    play.point('left', towards([-0.3, -0.3, 0], [-1.2, 0, -2]));
    play.down('left');
    play.point('left', towards([-0.3, -0.3, 0], [-1.2, 3, -2]));
    expect(told).toEqual({ pointed: null, pressed: 'button' });
    play.up('left');
    expect(log).toEqual([]);
    play.down('left');
    // No element: keys go on to prompts, so that nothing is said of the world.
    expect([log, told.pressed]).toEqual([[], null]);
  });
  it('press by their own keys, and leave keys alone that no element gets', () => {
    const { play, log } = two();
    play.point('aim', { x: 960, y: 540 });
    play.point('left', towards([-0.3, -0.3, 0], [-1.2, 0, -2]));
    expect(play.key('KeyZ', true)).toBe(true);
    expect(play.key('KeyZ', false)).toBe(true);
    expect(log).toMatchObject([{ kind: 'sent', source: 'button' }]);
    play.point('left', null);
    expect(play.key('KeyZ', true)).toBe(false);
    expect(play.key('KeyM', true)).toBe(false);
  });
  it('press by staying: once, after the time, and again only after having been elsewhere', () => {
    const { play, log, at } = two();
    play.take('head');
    play.point('head', at('button'));
    const stay = (s: number) => {
      for (let t = 0; t < s - 1e-9; t += 0.1) play.advance(0.1);
    };
    stay(0.9);
    expect(play.dwelt).toBeCloseTo(0.9, 6);
    expect(log).toEqual([]);
    stay(0.1);
    expect(log).toHaveLength(1);
    stay(3);
    expect([log.length, play.dwelt]).toEqual([1, 0]);
    play.point('head', { x: 960, y: 1000 });
    stay(0.1);
    play.point('head', at('button'));
    stay(0.5);
    // Looking away begins anew.
    play.point('head', { x: 960, y: 1000 });
    stay(0.1);
    play.point('head', at('button'));
    stay(0.9);
    expect(log).toHaveLength(1);
    stay(0.1);
    expect(log).toHaveLength(2);
  });
  it('reach no farther than the project says, from where they begin', () => {
    const document = documentOf({ wall: [0, 0, -4] }, { button: board(standing('wall')) }, { reachM: 3, sources: ['right'] });
    const { play, log, told } = playing(document);
    play.point('right', towards([0.2, -0.3, 0], [0, 0, -4]));
    expect(play.down('right')).toBe('element');
    expect(log).toMatchObject([{ kind: 'swallowed', by: 'button', because: 'reach' }]);
    play.up('right');
    // A hand stretched out by 1.5 m is 2.6 m before it.
    play.point('right', towards([0.2, -0.3, -1.5], [0, 0, -4]));
    play.down('right');
    expect(told.pressed).toBe('button');
  });
});

describe('a ray is drawn', () => {
  const settings: RaySettings = {
    reachM: 10,
    sources: ['right'],
    beam: { when: 'always', widthMm: 10, colour: '#FFCC00' },
    tip: { arcmin: 60, colour: '#00CCFF' },
  };
  const drawn = (ray: RaySettings, from: Vec3 = [0.2, -0.3, -0.5], to: Vec3 = [0, 0, -4]) => {
    const solver = solverOf(documentOf({ wall: [0, 0, -4] }, { board: board(standing('wall', { sizeM: [3, 2] })) }, ray));
    const one = towards(from, to);
    const rays: DrawnRay[] = [
      { source: 'right', from: one.origin, direction: one.direction, met: metBy(solver, one), uses: true, dwelt: 0 },
    ];
    return {
      solver,
      shapes: drawList(solver, 0, null, rays).items.filter((item): item is ShapeItem => item.kind === 'shape' && item.element === 'ray'),
    };
  };
  it('as wide as it is at both its ends, and ends on what it meets', () => {
    const { solver, shapes } = drawn(settings);
    const beam = shapes.find(({ colour }) => colour === '#FFCC00') as ShapeItem;
    const c = beam.coords;
    const [near, far] = [
      Math.hypot((c[0] as number) - (c[6] as number), (c[1] as number) - (c[7] as number)),
      Math.hypot((c[2] as number) - (c[4] as number), (c[3] as number) - (c[5] as number)),
    ];
    const { focalY } = solver.a.projection;
    expect(near).toBeCloseTo((0.01 * focalY) / 0.5, 6);
    expect(far).toBeCloseTo((0.01 * focalY) / 4, 6);
    expect([((c[2] as number) + (c[4] as number)) / 2, ((c[3] as number) + (c[5] as number)) / 2]).toEqual([
      expect.closeTo(960, 6),
      expect.closeTo(540, 6),
    ]);
  });
  it('with a tip of one degree at the eye, lying on the panel', () => {
    const { solver, shapes } = drawn(settings);
    const tip = shapes.find(({ colour }) => colour === '#00CCFF') as ShapeItem;
    const xs = [...tip.coords].filter((_, k) => k % 2 === 0);
    const width = Math.max(...xs) - Math.min(...xs);
    // Straight ahead at 4 m: 2·4·tan(0.5°) m, of focal/4 px each.
    expect(width).toBeCloseTo(2 * Math.tan(Math.PI / 360) * solver.a.projection.focalY, 1);
  });
  it('in two tones where its paint is missing, not where it is never to be seen', () => {
    const missing = drawn({ ...settings, beam: { when: 'always', widthMm: 10, colour: null }, tip: { arcmin: 60, colour: null } }).shapes;
    expect(new Set(missing.map(({ colour }) => colour)).size).toBe(2);
    expect(missing.length).toBeGreaterThan(10);
    const never = drawn({ ...settings, beam: { when: 'never', widthMm: 10, colour: '#FFCC00' } }).shapes;
    expect(never.some(({ colour }) => colour === '#FFCC00')).toBe(false);
    const onTarget = { ...settings, beam: { when: 'onTarget', widthMm: 10, colour: '#FFCC00' } } as const;
    expect(drawn(onTarget).shapes.some(({ colour }) => colour === '#FFCC00')).toBe(true);
    expect(drawn(onTarget, [0.2, -0.3, -0.5], [9, 4, -4]).shapes).toEqual([]);
  });
  it('from behind the eye it is cut, not mirrored', () => {
    const { shapes } = drawn(settings, [0.2, -0.3, 1]);
    const beam = shapes.find(({ colour }) => colour === '#FFCC00') as ShapeItem;
    expect([...beam.coords].every(Number.isFinite)).toBe(true);
    // The hand is to the right and below: so is all of the beam.
    expect([...beam.coords].filter((_, k) => k % 2 === 0).every((x) => x > 940)).toBe(true);
  });
  it('where each eye sees it', () => {
    const document = documentOf({ wall: [0, 0, -4] }, { board: board(standing('wall', { sizeM: [3, 2] })) }, settings);
    document.viewers.headset = {
      kind: 'headset',
      name: 'Headset',
      order: 'a9',
      widthPx: 2000,
      heightPx: 2000,
      lens: { kind: 'offAxis', leftDeg: -45, rightDeg: 45, upDeg: 45, downDeg: -45, nearM: 0.1 },
      safeArea: { left: 0, top: 0, right: 0, bottom: 0 },
      eyeDistanceM: 0.08,
    };
    const solver = solverOf(document, [], HEAD, 'headset');
    const one = towards([0.2, -0.3, -0.5], [0, 0, -4]);
    const rays: DrawnRay[] = [
      { source: 'right', from: one.origin, direction: one.direction, met: metBy(solver, one), uses: true, dwelt: 0 },
    ];
    const tips = eyesOf(solver).map((eye) => {
      const tip = drawList(eye, 0, null, rays).items.findLast(
        (item): item is ShapeItem => item.kind === 'shape' && item.element === 'ray',
      ) as ShapeItem;
      const xs = [...tip.coords].filter((_, k) => k % 2 === 0);
      return (Math.max(...xs) + Math.min(...xs)) / 2;
    }) as [number, number];
    // 80 mm at 4 m, 1000 px for a tangent of 1.
    expect(tips[0] - tips[1]).toBeCloseTo(20, 1);
  });
});
