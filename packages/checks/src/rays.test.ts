/** Mends of reach, of targets for a hand's ray and of depth for two eyes: each is made and measured again by hand or by angles. */
import {
  type Arranged,
  arrange,
  compile,
  type Inputs,
  lookingPose,
  makeSolver,
  measureReadable,
  placeOf,
  type Solver,
  solve,
  targetDeg,
} from '@foreshore/core';
import {
  type Document,
  type Element,
  insideOf,
  type Mount,
  makeDocument,
  makeGroup,
  makeHeadset,
  makeText,
  makeToggle,
  onGlass,
} from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { fixedText as text } from '../../core/src/sample.ts';
import { type Box, levelOf } from '../../core/src/sample-level.ts';
import { mends, withMend } from './mends.ts';
import { shortfallsAll } from './worse.ts';

const HEAD = lookingPose([0, 1.6, 0], 0, 0);
const inputs: Inputs = { timeS: 0, head: HEAD, depthOrder: true, stands: true, phase: null };
const FLOOR: Box = { name: 'Floor', least: [-30, -1, -30], greatest: [30, 0, 30] };
const WALL: Box = { name: 'Wall', least: [-30, 0, -31], greatest: [30, 30, -30] };
const size = (emPx: number): Element['size'] => ({ rule: 'screen', emPx, hideBelowPx: 0, leavePx: 0 });
const place: Element['place'] = { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null };

/** A board 3 m ahead with a lamp's switch on it. */
function scene(
  mount: Partial<Extract<Mount, { kind: 'standing' }>> = {},
  ray: Document['ray'] = { reachM: 10, sources: ['right'] },
): Document {
  const document = makeDocument('Low Water');
  document.anchors.board = { kind: 'surface', name: 'Board', order: 'a0', node: null, position: [0, 1.6, -3], normal: [0, 0, 1] };
  const standing: Mount = {
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
    ...mount,
  };
  document.elements.board = {
    ...makeGroup({ mount: standing, place }, 'Board', 'column', 'a0'),
    paint: { plate: { colour: '#15233B', radiusPx: 0, border: null }, opacity: 1 },
  };
  document.elements.words = { ...makeText(insideOf('board'), 'Lamp', 'a1'), size: size(60) };
  document.feeds.lit = { name: 'Lit', order: 'a0', kind: 'flag', unit: '', initial: false };
  document.elements.lamp = makeToggle(insideOf('board'), 'Lamp', 'lit', 'a2');
  if (ray) document.ray = ray;
  return document;
}
const arranged = (d: Document, viewer: string, boxes: Box[] = [FLOOR, WALL]): Arranged =>
  arrange(compile(d, levelOf(boxes)), d.viewers[viewer] as never, text);
function solved(d: Document, viewer = 'desk', boxes?: Box[]): Solver {
  const solver = makeSolver(arranged(d, viewer, boxes));
  solve(solver, inputs);
  return solver;
}
const faults = (d: Document, row: string, viewer = 'desk') => {
  const solver = solved(d, viewer);
  return measureReadable(solver, solver.c.ids.indexOf(row)).faults.map(({ kind }) => kind);
};
const asked = (d: Document, row: string, viewer = 'desk') => mends({ arranged: { [viewer]: arranged(d, viewer) }, inputs, row });

describe('a target for a hand’s ray', () => {
  it('is found by its smaller side: 36 mm at 3 m are 0.69 degrees, and asked of hands alone', () => {
    // The switch is 64 x 36 px, 1000 px a metre.
    const solver = solved(scene());
    expect(targetDeg(solver, solver.c.ids.indexOf('lamp'))).toBeCloseTo((2 * Math.atan(0.018 / 3) * 180) / Math.PI, 1);
    expect(faults(scene(), 'board')).toContain('target');
    expect(faults(scene({}, { reachM: 10, sources: ['aim', 'head'] }), 'board')).not.toContain('target');
    expect(faults(scene({ pxPerM: 400 }), 'board')).not.toContain('target');
  });
  it('is mended by one switch, which lays the panel out larger: not scaled, and no other panel', () => {
    const before = scene();
    const found = asked(before, 'board');
    const mend = found.find(({ change }) => change.kind === 'raySized');
    expect(mend?.clears).toEqual(['desk']);
    const after = withMend(before, mend as never);
    expect(faults(after, 'board')).not.toContain('target');
    const [was, now] = [solved(before), solved(after)];
    const row = was.c.ids.indexOf('lamp');
    // 1.5° at 3 m are 78.5 mm: 2·3·tan(0.75°); the switch keeps its shape, letters grow as it does, the panel stays.
    const by = placeOf(now.f, row).rect[3] / 36;
    expect(by).toBeGreaterThan(78.5 / 36);
    expect(by).toBeLessThan(82 / 36);
    expect(targetDeg(now, row)).toBeGreaterThan(1.5);
    expect(targetDeg(now, row)).toBeLessThan(1.51);
    expect(placeOf(now.f, row).rect[2]).toBeCloseTo(64 * by, 1);
    const words = was.c.ids.indexOf('words');
    expect(placeOf(now.f, words).emPx).toBeCloseTo(60 * by, 1);
    expect(placeOf(now.f, was.c.ids.indexOf('board')).rect).toEqual(placeOf(was.f, was.c.ids.indexOf('board')).rect);
    for (const other of found) expect(faults(withMend(before, other), 'board'), other.change.kind).not.toContain(other.kind);
  });
  it('leaves a panel as it is whose targets are large enough', () => {
    const large = scene({ pxPerM: 300 });
    const sized = scene({ pxPerM: 300, raySized: true });
    const [a, b] = [solved(large), solved(sized)];
    expect(placeOf(b.f, b.c.ids.indexOf('lamp')).rect).toEqual(placeOf(a.f, a.c.ids.indexOf('lamp')).rect);
  });
});

describe('what is out of reach', () => {
  it('is mended from either side: a longer ray, or the panel nearer', () => {
    const before = scene({}, { reachM: 2.6, sources: ['aim'] });
    expect(faults(before, 'board')).toContain('reach');
    const found = asked(before, 'board').filter(({ kind }) => kind === 'reach');
    expect(found.map(({ change }) => change.kind).sort()).toEqual(['lift', 'rayReach']);
    for (const mend of found) expect(faults(withMend(before, mend), 'board'), mend.change.kind).not.toContain('reach');
    // It is at 2.995 m, and who stands before it sways by 5 cm.
    expect(found.find(({ change }) => change.kind === 'rayReach')?.project.ray).toEqual({ reachM: 3.1, sources: ['aim'] });
  });
  it('of a panel that trails, by how far it does, as large at the eye as before', () => {
    const before = scene({}, { reachM: 1.5, sources: ['aim'] });
    const trailing: Mount = {
      kind: 'trailing',
      sizeM: [1, 0.6],
      pxPerM: 1000,
      readM: 2,
      sides: 'front',
      distanceM: 2,
      rightDeg: 0,
      upDeg: 0,
      followS: 0,
      deadDeg: 0,
      keeps: 'upright',
      blocked: 'hide',
      leastM: 0.2,
    };
    before.elements.board = { ...(before.elements.board as Element), mount: trailing } as Element;
    const mend = asked(before, 'board').find(({ change }) => change.kind === 'trails');
    const after = withMend(before, mend as never);
    expect(faults(after, 'board')).not.toContain('reach');
    const width = (d: Document) => {
      const solver = solved(d);
      const [map, panel] = [solver.f.maps, solver.f.panels];
      return ((panel[13] as number) * (map[0] as number)) / (map[8] as number);
    };
    expect(width(after)).toBeCloseTo(width(before), 6);
  });
});

describe('depth for two eyes', () => {
  /** Nothing but the HUD before the wall. */
  const bare = (): Document => ({ ...scene(), elements: {} });
  it('of the HUD is mended by where a headset has it, and by nothing less', () => {
    const before = bare();
    before.viewers = { headset: makeHeadset('Headset', 'a0') };
    before.elements.tide = {
      ...makeText({ mount: { kind: 'glass', within: 'safe', pin: [0.5, 0.5], stretch: [false, false] }, place }, 'Tide', 'a3'),
      size: size(60),
    };
    // At 2 m before a wall at 30 m: 1.80° and 0.12°.
    expect(faults(before, 'tide', 'headset')).toContain('vergence');
    const mend = asked(before, 'tide', 'headset').find(({ change }) => change.kind === 'hudDistance');
    const value = (mend?.change as { value: number } | undefined)?.value ?? 0;
    // 1° more than to the wall: 0.063 / (2·tan(0.56°)) = 3.22 m.
    expect(value).toBeGreaterThan(3.2);
    expect(value).toBeLessThan(3.4);
    expect(faults(withMend(before, mend as never), 'tide', 'headset')).not.toContain('vergence');
    const less = { ...before, glass: { ...before.glass, headset: { distanceM: value - 0.2, wideDeg: 60, followS: 0 } } };
    expect(faults(less, 'tide', 'headset')).toContain('vergence');
  });
  it('of what is on the HUD is told by that in a headset, as on a screen, not by the panel it is on', () => {
    const before = bare();
    before.viewers = { desk: before.viewers.desk as never, headset: makeHeadset('Headset', 'a0') };
    before.elements.card = makeGroup(onGlass([0.5, 0.5]), 'Card', 'column', 'a3');
    before.elements.tide = { ...makeText(insideOf('card'), 'Tide', 'a0'), size: size(6) };
    before.elements.lit = makeToggle(insideOf('card'), 'Lamp', 'lit', 'a1');
    for (const viewer of ['desk', 'headset']) {
      const told = shortfallsAll(solved(before, viewer));
      expect([...told.keys()].sort(), viewer).toEqual(['card', 'tide']);
      const kinds = (id: string) => told.get(id)?.map(({ kind }) => kind);
      expect(kinds('tide'), viewer).toContain('small');
      expect(kinds('card'), viewer).not.toContain('small');
    }
  });
  it('that is too small on the HUD is mended by a wider one', () => {
    const before = bare();
    before.viewers = { headset: makeHeadset('Headset', 'a0') };
    before.elements.tide = {
      ...makeText({ mount: { kind: 'glass', within: 'safe', pin: [0.5, 0.5], stretch: [false, false] }, place }, 'Tide', 'a3'),
      size: size(16),
    };
    before.glass.headset = { distanceM: 8, wideDeg: 40, followS: 0 };
    expect(faults(before, 'tide', 'headset')).toContain('small');
    const found = asked(before, 'tide', 'headset').filter(({ kind }) => kind === 'small');
    expect(found.map(({ change }) => change.kind)).toEqual(expect.arrayContaining(['hudWide', 'everyScreen', 'px']));
    for (const mend of found) expect(faults(withMend(before, mend), 'tide', 'headset'), mend.change.kind).not.toContain('small');
  });
});
