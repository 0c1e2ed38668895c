/** What is offered and mended of panels holds when it is solved again with nothing but that. */
import {
  type Arranged,
  arrange,
  compile,
  type Inputs,
  lookingPose,
  makeSolver,
  measureReadable,
  type Pose,
  solve,
  Verdict,
} from '@foreshore/core';
import { type Document, type Element, insideOf, type Mount, makeDocument, makeGroup, makeText } from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { fixedText as text } from '../../core/src/sample.ts';
import { type Box, levelOf } from '../../core/src/sample-level.ts';
import { extremes } from './extremes.ts';
import { mends, withMend } from './mends.ts';
import { withTarget, wouldShow } from './would-show.ts';

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
};
const trailing: Mount = {
  kind: 'trailing',
  sizeM: [0.6, 0.4],
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
function scene(mount: Mount, emPx = 20): Document {
  const document = makeDocument('Low Water');
  document.anchors.board = { kind: 'surface', name: 'Board', order: 'a0', node: null, position: [0, 1.6, -3], normal: [0, 0, 1] };
  const group = makeGroup(
    { mount, place: { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null } },
    'Board',
    'column',
    'a0',
  );
  document.elements.board = { ...group, paint: { plate: { colour: '#15233B', radiusPx: 0, border: null }, opacity: 1 } };
  document.elements.words = {
    ...makeText(insideOf('board'), 'Valve', 'a1'),
    size: { rule: 'screen', emPx, hideBelowPx: 0, leavePx: 0 },
  } as Element;
  return document;
}
const WALL: Box = { name: 'Wall', least: [-3, 0, -1.3], greatest: [3, 3, -1.2] };
const FLOOR: Box = { name: 'Floor', least: [-30, -1, -30], greatest: [30, 0, 30] };
const HEAD: Pose = { position: [0, 1.6, 0], rotation: [0, 0, 0, 1] };
const inputs = (head: Pose): Inputs => ({ timeS: 0, head, depthOrder: true, stands: true, phase: null });
const arranged = (d: Document, viewer: string, boxes: readonly Box[]): Arranged =>
  arrange(compile(d, levelOf(boxes)), d.viewers[viewer] as never, text);
const isShown = (d: Document, head: Pose, boxes: readonly Box[]) => {
  const solver = makeSolver(arranged(d, 'desk', boxes));
  solve(solver, inputs(head));
  return solver.f.failed[solver.c.ids.indexOf('board')] === Verdict.Shown;
};

describe('offers for a panel', () => {
  it.each([
    [
      'seen from behind',
      standing,
      { position: [0, 1.6, -6], rotation: lookingPose([0, 0, 0], 180, 0).rotation } as Pose,
      [FLOOR],
      ['upright', 'bothSides'],
    ],
    ['hidden by a wall that it trails into', trailing, HEAD, [FLOOR, WALL], ['nearer', 'through']],
  ])('%s: each holds', (_, mount, head, boxes, wanted) => {
    const document = scene(mount);
    expect(isShown(document, head, boxes)).toBe(false);
    const offers = wouldShow({ arranged: arranged(document, 'desk', boxes), inputs: inputs(head), row: 'board' });
    const settings = offers.flatMap((offer) => (offer.kind === 'setting' ? [offer] : []));
    expect(settings.map(({ setting }) => setting.field).sort()).toEqual([...wanted].sort());
    for (const offer of offers) {
      if (offer.kind === 'setting') expect(isShown(withTarget(document, offer.target), head, boxes), offer.setting.field).toBe(true);
      if ('pose' in offer) expect(isShown(document, offer.pose, boxes), offer.kind).toBe(true);
    }
  });
});

describe('mends for letters on a panel', () => {
  it('that are too small: less density, a larger panel; each clears what it says at the viewers it says', () => {
    const document = scene(standing, 14);
    const viewers = ['desk', 'television'];
    const all = Object.fromEntries(viewers.map((viewer) => [viewer, arranged(document, viewer, [FLOOR])]));
    const found = mends({ arranged: all, inputs: inputs(HEAD), row: 'words' });
    expect(found.map(({ change }) => change.kind)).toEqual(expect.arrayContaining(['density', 'panelSize']));
    for (const mend of found) {
      const next = withMend(document, mend);
      for (const viewer of mend.clears) {
        const solver = makeSolver(arranged(next, viewer, [FLOOR]));
        solve(solver, inputs(HEAD));
        expect(measureReadable(solver, solver.c.ids.indexOf('words')).faults.filter(({ kind }) => kind === 'small')).toEqual([]);
      }
    }
  });
  it('that are seen aslant from above: a panel that turns to the viewer', () => {
    const document = scene({ ...standing, tiltDeg: -70 }, 45);
    const found = mends({ arranged: { desk: arranged(document, 'desk', [FLOOR]) }, inputs: inputs(HEAD), row: 'words' });
    expect(found.map(({ change }) => change.kind)).toContain('facing');
  });
});

it('extremes tell of a text that has no room on its panel, and say nothing of where a panel is on the screen', () => {
  const tight = scene({ ...standing, sizeM: [0.1, 0.1] }, 60);
  const faults = (d: Document) => extremes(compile(d, null), text, null).map(({ element, fault }) => `${element} ${fault}`);
  expect(faults(tight)).toContain('words outsideGroup');
  expect(faults(scene(standing))).toEqual([]);
});
