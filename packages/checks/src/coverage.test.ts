/** What routes do not reach, by hand-made cases, and routes that are made to reach it: each is replayed here by itself. */
import { arrange, compile, finished, type Level, lookingPose, routeDurationS, TICK_S, Verdict } from '@foreshore/core';
import {
  type Document,
  insideOf,
  makeDirection,
  makeDocument,
  makeGroup,
  makeLabel,
  makePrompt,
  makeText,
  onGlass,
  type Route,
} from '@foreshore/document';
import { shippedShaper } from '@foreshore/text/node';
import { describe, expect, it } from 'vitest';
import { type Box, levelOf } from '../../core/src/sample-level.ts';
import { beginRun, type CheckRun, checkPart, checkParts } from './check.ts';
import { coverageOf } from './coverage.ts';
import { atTheBeginning, coverageRoute, type RouteWanted } from './coverage-route.ts';
import { ABOUT_M, groundOf, NEAR_M, sharesOf } from './ground.ts';
import { Replay } from './replay.ts';

const text = shippedShaper();
const FLOOR: Box = { name: 'Floor', least: [-22, -1, -22], greatest: [22, 0, 22] };

/** Off the lines between cells, and off 5 m from their middles. */
const WAY_X = 0.4;

/** Somebody walks from south to north over an open floor; a hut stands far off to the side. */
function yard(edit: (d: Document) => void = () => {}): Document {
  const d = makeDocument('Yard');
  const facing = lookingPose([0, d.body.eyeHeightM, 0], 0, 0).rotation;
  const pose = (timeS: number, z: number) => ({
    timeS,
    position: [WAY_X, d.body.eyeHeightM, z] as [number, number, number],
    rotation: facing,
  });
  d.routes = { north: { name: 'North', order: 'a0', poses: [pose(0, 14), pose(20, -14)], feeds: [], phases: [] } };
  d.viewers = { desk: d.viewers.desk as Document['viewers'][string] };
  d.anchors.hut = { kind: 'surface', name: 'Hut', order: 'a0', node: null, position: [0, 1.6, 0], normal: [0, 1, 0] };
  d.elements.hut = { ...makeLabel('hut', 'Hut', 'a0'), name: 'Hut' };
  d.phases = { roaming: { name: 'Roaming', order: 'a0' }, paused: { name: 'Paused', order: 'a1' } };
  edit(d);
  return d;
}
const standingAt = (anchor: string, turnDeg: number) => ({
  ...{ kind: 'standing' as const, anchor, sizeM: [0.8, 0.5] as [number, number], pxPerM: 500, readM: 2 },
  ...{ sides: 'front' as const, facing: 'fixed' as const, turnDeg, tiltDeg: 0, liftM: 0.05 },
});
function runOf(d: Document, level: Level | null = null): CheckRun {
  const parts = checkParts(d);
  const compiled = compile(d, level);
  return {
    ...beginRun(d, '', parts),
    results: parts.map((part) => checkPart(d, arrange(compiled, d.viewers[part.viewer] as never, text, undefined, part.language), part)),
  };
}
const made = (d: Document, wanted: RouteWanted, level: Level | null = null) =>
  finished(coverageRoute({ document: d, level, text, wanted }));
const shows = (...elements: string[]): RouteWanted => ({ kind: 'shows', elements, viewers: ['desk'], language: 'en' });

/** Whether an element shows on a route, frame by frame, from when it is said to. */
function isShown(d: Document, route: Omit<Route, 'name'>, element: string, atS: number, level: Level | null = null): boolean {
  const a = arrange(compile(d, level), d.viewers.desk as never, text);
  const replay = new Replay(a, { name: '', ...route });
  const row = a.compiled.sources.indexOf(element);
  for (let tick = Math.round(atS / TICK_S); tick * TICK_S <= routeDurationS({ name: '', ...route }); tick++)
    if (replay.at(tick * TICK_S).failed[row] === Verdict.Shown) return true;
  return false;
}

describe('what no route reaches', () => {
  it('is nothing where everything is shown, every phase is come to, and every action offered', () => {
    const d = yard((one) => {
      (one.routes.north as Route).phases.push({ timeS: 5, phase: 'paused' });
    });
    expect(coverageOf(runOf(d))).toEqual({ elements: [], phases: [], actions: [] });
  });

  it('names elements with what hides them, phases, and actions with what sends them', () => {
    const d = yard((one) => {
      one.anchors.behind = { kind: 'surface', name: 'Behind', order: 'a1', node: null, position: [0, 1.6, 18], normal: [0, 1, 0] };
      one.actions = { open: { name: 'Open', order: 'a0', reactions: [] }, sink: { name: 'Sink', order: 'a1', reactions: [] } };
      const prompt = makePrompt(one.elements, 'behind', 'Open the hatch', 'open');
      Object.assign(one.elements, prompt.made);
      one.elements.board = {
        ...makeGroup(onGlass([0.5, 0]), 'Board', 'column', 'a5'),
        show: { phases: { roaming: 'hidden' }, need: 'all', conditions: [], lingerS: 0 },
      };
      one.elements.oil = makeText(insideOf('board'), 'Oil', 'a0');
    });
    const coverage = coverageOf(runOf(d));
    const prompt = Object.keys(d.elements).find((id) => d.elements[id]?.press);
    expect(coverage?.elements.map(({ element, hiddenBy }) => `${element} ${hiddenBy}`).sort()).toEqual(['board phase', `${prompt} range`]);
    expect(coverage?.phases).toEqual([{ id: 'paused', name: 'Paused' }]);
    expect(coverage?.actions).toEqual([
      { id: 'open', name: 'Open', senders: [prompt] },
      { id: 'sink', name: 'Sink', senders: [] },
    ]);
  });

  it('is not said of part of a run, and less of a run from before it was kept', () => {
    const run = runOf(yard());
    expect(coverageOf({ ...run, results: [] })).toBeNull();
    const { offered: _, ...old } = run;
    expect(coverageOf(old)).toEqual({ elements: [], phases: [], actions: [] });
  });
});

describe('a route that reaches it', () => {
  it('goes to what stands behind, and shows it', () => {
    const d = yard((one) => {
      one.anchors.behind = { kind: 'surface', name: 'Behind', order: 'a1', node: null, position: [0, 1.6, 18], normal: [0, 1, 0] };
      one.actions = { open: { name: 'Open', order: 'a0', reactions: [] } };
      Object.assign(one.elements, makePrompt(one.elements, 'behind', 'Open the hatch', 'open').made);
    });
    const prompt = Object.keys(d.elements).find((id) => d.elements[id]?.press) as string;
    const level = levelOf([FLOOR]);
    const found = made(d, shows(prompt), level);
    if (!found.route || !found.shows) throw new Error('There is a way.');
    expect(found.route.feeds).toEqual([]);
    expect(isShown(d, found.route, prompt, found.shows.atS, level)).toBe(true);
  });

  it('brings the game into the phase and the values that show it, and no further', () => {
    const d = yard((one) => {
      one.feeds.lit = { name: 'Lit', order: 'a0', kind: 'flag', unit: '', initial: false } as never;
      one.elements.board = {
        ...makeText(onGlass([0.5, 0]), 'Paused', 'a5'),
        show: {
          phases: { roaming: 'hidden' },
          need: 'all',
          conditions: [{ kind: 'compare', feed: 'lit', is: 'equals', value: true }],
          lingerS: 0,
        },
      } as never;
    });
    expect(coverageOf(runOf(d))?.elements.map(({ element }) => element)).toEqual(['board']);
    const found = made(d, shows('board'));
    if (!found.route || !found.shows) throw new Error('There is a state.');
    expect(found.route.phases).toEqual([{ timeS: 0, phase: 'paused' }]);
    expect(found.route.feeds).toEqual([{ timeS: 0, feed: 'lit', value: true }]);
    expect(isShown(d, found.route, 'board', found.shows.atS)).toBe(true);
  });

  it('gives a value to the object alone at which it shows, where each has its own', () => {
    const POST: Box = { name: 'Post', least: [-0.2, 0, -0.2], greatest: [0.2, 1.4, 0.2] };
    const level = levelOf([POST, FLOOR]);
    const d = yard((one) => {
      one.feeds.loose = { name: 'Loose', order: 'a0', kind: 'flag', unit: '', initial: false, each: true };
      one.anchors.post = { kind: 'node', name: 'Post', order: 'a1', node: 'Post', offset: [0, 1, 0] };
      one.elements.mark = {
        ...makeLabel('post', 'loose', 'a6'),
        show: {
          phases: {},
          need: 'all',
          conditions: [{ kind: 'compare', feed: 'loose', is: 'equals', value: true, leave: 0 }],
          lingerS: 0,
        },
      };
    });
    const found = made(d, shows('mark'), level);
    if (!found.route || !found.shows) throw new Error('There is a state.');
    expect(found.route.feeds).toEqual([{ timeS: 0, feed: 'loose', object: 'Post', value: true }]);
    expect(isShown(d, found.route, 'mark', found.shows.atS, level)).toBe(true);
  });

  it('has happen what shows an element, once one is there: what had happened before shows nothing', () => {
    const d = yard((one) => {
      one.feeds.splash = { name: 'Splash', order: 'a0', kind: 'event', unit: '', initial: { number: 0, place: [3, 0, 0] } };
      one.feeds.lit = { name: 'Lit', order: 'a1', kind: 'flag', unit: '', initial: false };
      one.elements.whence = makeDirection('Splash', 'splash', 'a5');
      one.elements.told = {
        ...makeText(onGlass([0.5, 0]), 'The lamp changed', 'a6'),
        show: { phases: {}, need: 'all', conditions: [{ kind: 'changed', feed: 'lit', withinS: 0.5 }], lingerS: 0 },
      };
    });
    expect(coverageOf(runOf(d))?.elements).toEqual([
      { element: 'whence', hiddenBy: 'paint' },
      { element: 'told', hiddenBy: 'phase' },
    ]);
    for (const [element, feed, value] of [
      ['whence', 'splash', { number: 1, place: [3, 0, 0] }],
      ['told', 'lit', true],
    ] as const) {
      const found = made(d, shows(element));
      if (!found.route || !found.shows) throw new Error(`${element} can be shown.`);
      // Two seconds before the end one has arrived; half a second after the beginning there is a before.
      const thereS = Math.max(0.5, (found.route.poses.at(-1)?.timeS ?? 0) - 2);
      expect(found.route.feeds).toEqual([{ timeS: thereS, feed, value }]);
      expect(found.shows.atS).toBeGreaterThanOrEqual(thereS);
      expect(isShown(d, found.route, element, found.shows.atS)).toBe(true);
    }
  });

  it('comes as near as a range asks for, and no nearer than it is used to where none does', () => {
    const nearest = (enterM: number | null): number => {
      const d = yard((one) => {
        one.anchors.bell = { kind: 'surface', name: 'Bell', order: 'a1', node: null, position: [3, 1.2, 19], normal: [0, 1, 0] };
        one.elements.bell = {
          ...makeLabel('bell', 'Bell', 'a6'),
          ...(enterM !== null && { range: { from: 'eye', enterM, leaveM: enterM + 1, dwellS: 0.2 } as const }),
        };
      });
      const level = levelOf([FLOOR]);
      const found = made(d, shows('bell'), level);
      if (!found.route || !found.shows) throw new Error(`The bell can be come within ${enterM} m of.`);
      expect(isShown(d, found.route, 'bell', found.shows.atS, level)).toBe(true);
      return Math.min(...found.route.poses.map(({ position: [x, y, z] }) => Math.hypot(x - 3, y - 1.2, z - 19)));
    };
    expect(nearest(0.8)).toBeLessThan(0.8);
    expect(nearest(4)).toBeGreaterThan(1);
    expect(nearest(null)).toBeGreaterThan(1);
  });

  it('goes before a panel that has one side, wherever that faces', () => {
    for (const turnDeg of [-90, 45, 90, 180]) {
      const d = yard((one) => {
        one.anchors.board = { kind: 'surface', name: 'Board', order: 'a1', node: null, position: [14, 1.6, 3], normal: [0, 0, 1] };
        one.elements.board = {
          ...makeText({ ...makeLabel('board', '', 'a0'), mount: standingAt('board', turnDeg) }, 'Tides', 'a6'),
          name: 'Board',
        };
      });
      const found = made(d, shows('board'));
      if (!found.route || !found.shows) throw new Error(`A board turned by ${turnDeg}° can be seen.`);
      expect(isShown(d, found.route, 'board', found.shows.atS)).toBe(true);
      // Where it ends one does not look at it edge on.
      const [x, , z] = found.route.poses.at(-1)?.position ?? [0, 0, 0];
      const [right, back] = [Math.sin((turnDeg * Math.PI) / 180), Math.cos((turnDeg * Math.PI) / 180)];
      expect(((x - 14) * right + (z - 3) * back) / Math.hypot(x - 14, z - 3)).toBeGreaterThan(0.2);
    }
  });

  it('is not offered where nothing shows it: what hides it is said', () => {
    const d = yard((one) => {
      one.elements.ghost = {
        ...makeText(onGlass([0.5, 0]), 'Ghost', 'a5'),
        paint: { ...makeText(onGlass([0, 0]), '', 'a5').paint, opacity: 0 },
      };
    });
    const found = made(d, shows('ghost'));
    expect(found.route).toBeNull();
    expect(found).toMatchObject({ hiddenBy: 'paint' });
  });

  it('is in a phase for a while', () => {
    const d = yard();
    const { route } = made(d, { kind: 'phase', phase: 'paused' });
    expect(coverageOf(runOf({ ...d, routes: { ...d.routes, more: { name: 'More', ...route } as Route } }))?.phases).toEqual([]);
    expect(made({ ...d, routes: {} }, { kind: 'phase', phase: 'paused' }).route).toBeNull();
    // Of a route that begins late there is still a pose.
    const north = d.routes.north as Route;
    const late = { ...d, routes: { north: { ...north, poses: north.poses.map((p) => ({ ...p, timeS: p.timeS + 60 })) } } };
    expect(made(late, { kind: 'phase', phase: 'paused' }).route?.poses).toHaveLength(1);
  });
});

describe('ground', () => {
  const wall = (name: string, x: [number, number], z: [number, number]): Box => ({
    name,
    least: [x[0], 0, z[0]],
    greatest: [x[1], 3, z[1]],
  });

  it('about what is placed is counted, and the share of it that routes come near, as cells looked at one by one', () => {
    const d = yard();
    const ground = groundOf(atTheBeginning(d, levelOf([FLOOR])), Object.values(d.routes));
    if (!ground) throw new Error('There is ground.');
    // By another way: every cell of the floor whose middle is so near to the hut; the route is a line from z 14 to −14.
    let [all, near] = [0, 0];
    for (let x = -21; x < 22; x += 2)
      for (let z = -21; z < 22; z += 2) {
        if (Math.hypot(x, z) > ABOUT_M) continue;
        all++;
        if (Math.hypot(x - WAY_X, Math.max(0, Math.abs(z) - 14)) <= NEAR_M) near++;
      }
    const { squareM, reached } = sharesOf(ground);
    expect(ground.cellM).toBe(2);
    // Cells that the route begins in are counted where it passes, not in their middle.
    expect(Math.abs(squareM / 4 - all)).toBeLessThanOrEqual(4);
    expect(Math.abs(reached - near / all)).toBeLessThan(0.02);
  });

  it('behind walls without a door is none; through a door it is', () => {
    const d = yard();
    const [west, east] = [wall('W', [8, 8.3], [-6, 6]), wall('E', [16, 16.3], [-6, 6])];
    const [north, south] = [wall('N', [8, 16.3], [-6, -5.7]), wall('S', [8, 16.3], [5.7, 6])];
    const inRoom = (boxes: Box[]): number => {
      const ground = groundOf(atTheBeginning(d, levelOf([FLOOR, ...boxes])), Object.values(d.routes));
      let n = 0;
      for (let k = 0; k < (ground?.counts.length ?? 0); k++) {
        const [x, z] = [ground?.cells[k * 3] as number, ground?.cells[k * 3 + 1] as number];
        if (x > 8.3 && x < 16 && Math.abs(z) < 5.7) n++;
      }
      return n;
    };
    expect(inRoom([west, east, north, south])).toBe(0);
    expect(inRoom([wall('W1', [8, 8.3], [-6, -1.5]), wall('W2', [8, 8.3], [1.5, 6]), east, north, south])).toBeGreaterThan(8);
  });

  it('that no route comes near gets a route, on foot, and is then reached', () => {
    const d = yard();
    const level = levelOf([FLOOR, wall('W', [6, 6.3], [-10, 10])]);
    const share = (routes: Document['routes']) => {
      const ground = groundOf(atTheBeginning({ ...d, routes }, level), Object.values(routes));
      return ground ? sharesOf(ground).reached : Number.NaN;
    };
    const before = share(d.routes);
    const found = made(d, { kind: 'ground' }, level);
    if (!found.route) throw new Error('There is a way.');
    const { poses } = found.route;
    for (let k = 1; k < poses.length; k++) {
      const [a, b] = [poses[k - 1] as Route['poses'][number], poses[k] as Route['poses'][number]];
      expect(level.sightline(...a.position, ...b.position)).toBe(-1);
      expect(b.timeS).toBeGreaterThan(a.timeS);
      expect(b.position[1]).toBeCloseTo(d.body.eyeHeightM, 1);
    }
    expect(share({ ...d.routes, more: { name: 'More', ...found.route } })).toBeGreaterThan(before + 0.05);
  });

  it('is none without a level, without a route on foot, and where nothing is placed', () => {
    const d = yard();
    const level = levelOf([FLOOR]);
    expect(groundOf(atTheBeginning(d, null), Object.values(d.routes))).toBeNull();
    expect(groundOf(atTheBeginning(d, level), [])).toBeNull();
    const high = {
      ...(d.routes.north as Route),
      poses: (d.routes.north as Route).poses.map((p) => ({ ...p, position: [0, 30, 0] as never })),
    };
    expect(groundOf(atTheBeginning(d, level), [high])).toBeNull();
    expect(groundOf(atTheBeginning({ ...d, elements: {} }, level), Object.values(d.routes))).toBeNull();
    expect(made(d, { kind: 'ground' }, null).route).toBeNull();
  });
});
