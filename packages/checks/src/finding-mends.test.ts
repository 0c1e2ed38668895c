/** Mends of findings: each is tried by checking everything anew, by the means of a check alone. */
import { arrange, compile, finished, lookingPose, type Pose } from '@foreshore/core';
import {
  type Document,
  type Element,
  insideOf,
  makeDocument,
  makeGroup,
  makeLabel,
  makePrompt,
  makeText,
  makeVeil,
  onGlass,
  type Pointer,
} from '@foreshore/document';
import { shippedShaper } from '@foreshore/text/node';
import { describe, expect, it } from 'vitest';
import { beginRun, type CheckPart, checkPart, checkParts, type PartResult } from './check.ts';
import { type AskedOfFinding, findingMends, MENDED_BY } from './finding-mends.ts';
import { type Finding, findingsOf } from './findings.ts';
import { withMend } from './mends.ts';

const text = shippedShaper();
const pose = (timeS: number, { position, rotation }: Pose) => ({ timeS, position, rotation });

/** A camera that walks 12 m north in twelve seconds, past a lamp and a hut; a text on the HUD. */
function walk(edit: (document: Document) => void = () => {}): Document {
  const document = makeDocument('Low Water');
  const at = (north: number) => lookingPose([0, 1.6, -north], 0, 0);
  document.routes = { walk: { name: 'Walk', order: 'a0', poses: [pose(0, at(0)), pose(12, at(12))], feeds: [], phases: [] } };
  const desk = document.viewers.desk as Document['viewers'][string];
  document.viewers = { desk, second: { ...desk, name: 'Second desk', distanceM: 0.65, order: 'a9' } as never };
  document.anchors.lamp = { kind: 'surface', name: 'Lamp', order: 'a0', node: null, position: [2, 1.6, -30], normal: [0, 1, 0] };
  document.elements.lamp = makeLabel('lamp', 'Lamp mast', 'a0');
  document.elements.tide = makeText(onGlass([0.5, 0.2]), 'Low tide at seven', 'a1');
  edit(document);
  return document;
}
const checked = (document: Document): PartResult[] => {
  const compiled = compile(document, null);
  return checkParts(document).map((part) =>
    checkPart(document, arrange(compiled, document.viewers[part.viewer] as never, text, undefined, part.language), part),
  );
};
const found = (document: Document): Finding[] => {
  const run = beginRun(document, '', checkParts(document));
  return findingsOf({ ...run, results: checked(document) });
};
const asked = (document: Document, finding: AskedOfFinding['finding'], parts: readonly CheckPart[]) =>
  finished(findingMends({ document, level: null, text, finding, parts }));
const mendsFor = (document: Document, { kind, element }: Pick<Finding, 'kind' | 'element'>) => {
  const all = found(document).filter((one) => one.kind === kind && one.element === element);
  const parts = all.map(({ route, viewer, language }) => ({ route: route ?? '', viewer: viewer ?? '', language: language ?? '' }));
  return asked(document, all[0] as Finding, parts).mends;
};

const PASSES: Pointer = { takes: 'passes', action: null, padPx: 0, pointed: {}, pressed: {} };
/** Two actions that light the lamp. */
function setsLit(d: Document): void {
  d.feeds.lit = { name: 'Lit', order: 'a0', kind: 'flag', unit: '', initial: false, source: { kind: 'fixed', value: false } } as never;
  const reactions = [{ kind: 'set', feed: 'lit', to: true } as never];
  d.actions = { light: { name: 'Light it', order: 'a0', reactions }, read: { name: 'Read it', order: 'a1', reactions } };
}

const WRONG: [Finding['kind'], string, Document][] = [
  [
    'small',
    'tide',
    walk((d) => Object.assign(d.elements.tide as Element, { size: { rule: 'screen', emPx: 7, hideBelowPx: 0, leavePx: 0 } })),
  ],
  [
    'contrast',
    'lamp',
    walk((d) => {
      const lamp = d.elements.lamp as Extract<Element, { kind: 'label' }>;
      lamp.paint = { ...lamp.paint, colour: '#999999', plate: { ...lamp.paint.plate, colour: '#888888' } as never };
    }),
  ],
  [
    'covered',
    'tide',
    walk((d) => {
      const post = makeText(onGlass([0.5, 0.2], [60, 10]), 'Post 14', 'a2');
      d.elements.post = { ...post, paint: { ...post.paint, plate: { colour: '#15233B', padEm: [0.3, 0.1], radiusEm: 0 } } };
    }),
  ],
  [
    // Beside the way, with its back to where one comes from.
    'oneSide',
    'board',
    walk((d) => {
      d.anchors.post = { kind: 'surface', name: 'Post', order: 'a1', node: null, position: [-1, 1.6, -15], normal: [0, 0, -1] };
      const board = makeText(onGlass([0.5, 0.5]), 'Gate 3', 'a2');
      d.elements.board = {
        ...board,
        paint: { ...board.paint, plate: { colour: '#15233B', padEm: [0.3, 0.1], radiusEm: 0 } },
        mount: {
          ...{ kind: 'standing', anchor: 'post', sizeM: [1.2, 0.5], pxPerM: 100, readM: 12, sides: 'front', facing: 'fixed' },
          ...{ turnDeg: 0, tiltDeg: 0, liftM: 0 },
        },
        place: { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null },
        size: { rule: 'screen', emPx: 26, hideBelowPx: 0, leavePx: 0 },
      } as never;
    }),
  ],
  [
    // The flood is to be quiet, and a card stays on the glass.
    'unwanted',
    'card',
    walk((d) => {
      d.phases = { ebb: { name: 'Ebb', order: 'a0' }, flood: { name: 'Flood', order: 'a1' } };
      (d.routes.walk as Document['routes'][string]).phases = [
        { timeS: 0, phase: 'ebb' },
        { timeS: 6, phase: 'flood' },
      ];
      d.elements.card = makeGroup(onGlass([0.2, 0.8]), 'Card', 'column', 'a3');
      d.elements.line = makeText(insideOf('card'), 'Mind the stakes', 'a4');
      d.checks = { quiet: { flood: ['lamp', 'tide'] } };
    }),
  ],
  [
    // Its plate is as clear as glass.
    'swallowed',
    'veil',
    walk((d) => {
      const veil = makeVeil('Veil', 'a3');
      d.elements.veil = { ...veil, paint: { ...veil.paint, plate: { colour: '#0E182600', radiusPx: 0, border: null } } };
    }),
  ],
  [
    'leaked',
    'menu',
    walk((d) => {
      setsLit(d);
      d.elements.menu = { ...makeGroup(onGlass([0.2, 0.8]), 'Menu', 'column', 'a3'), pointer: { ...PASSES } };
      d.elements.go = { ...makeText(insideOf('menu'), 'Go on', 'a4'), pointer: { ...PASSES, takes: 'acts', action: 'light' } };
    }),
  ],
  [
    // Two lamps beside one another, one key, two actions.
    'oneKey',
    'log',
    walk((d) => {
      setsLit(d);
      d.elements = { tide: d.elements.tide as Element };
      const lamp = (east: number) => ({ ...d.anchors.lamp, position: [east, 1.6, -14] }) as never;
      Object.assign(d.anchors, { lamp: lamp(-0.4), hut: lamp(0.55) });
      Object.assign(d.elements, makePrompt(d.elements, 'lamp', 'Lamp', 'light').made);
      Object.assign(d.elements, makePrompt(d.elements, 'hut', 'Log', 'read').made);
    }),
  ],
  ['cut', 'tide', walk((d) => Object.assign(d.elements.tide as Element, onGlass([1, 0.5], [60, 0])))],
  [
    // It comes and goes at 20 m while somebody stands there and sways.
    'flickers',
    'lamp',
    walk((d) => {
      Object.assign(d.elements.lamp as Element, { range: { from: 'eye', enterM: 20, leaveM: 20, dwellS: 0 } });
      const sway = (timeS: number, north: number) => pose(timeS, lookingPose([0, 1.6, -north], 0, 0));
      (d.routes.walk as Document['routes'][string]).poses = [
        ...[sway(0, 4), sway(4, 10.5), sway(5, 9.5), sway(6, 10.6)],
        ...[sway(7, 9.4), sway(8, 10.5), sway(12, 14)],
      ];
    }),
  ],
];

describe('mends of findings', () => {
  it.each(WRONG)('clear it on everything measured, and make nothing new: %s', (kind, element, document) => {
    const before = found(document);
    expect([...new Set(before.map((one) => `${one.kind} ${one.element}`))]).toEqual([`${kind} ${element}`]);
    const mends = mendsFor(document, { kind, element });
    expect(mends.length).toBeGreaterThan(0);
    const shown = (results: PartResult[]) => results.map((one) => Object.values(one.shown).every(({ forS }) => forS > 0));
    for (const mend of mends) {
      const after = withMend(document, mend);
      expect(found(after)).toEqual([]);
      expect(shown(checked(after))).toEqual([true, true]);
    }
  });

  it('are not offered where they would cover something later on the route', () => {
    const tide = { rule: 'screen', emPx: 7, hideBelowPx: 0, leavePx: 0 };
    const alone = walk((d) => Object.assign(d.elements.tide as Element, { size: tide }));
    // Right below it, where every size that can be read reaches; at the worst moment of all, the first, it is not there yet.
    const later = walk((d) => {
      Object.assign(d.elements.tide as Element, { size: tide });
      d.phases = { ebb: { name: 'Ebb', order: 'a0' }, flood: { name: 'Flood', order: 'a1' } };
      (d.routes.walk as Document['routes'][string]).phases = [
        { timeS: 0, phase: 'ebb' },
        { timeS: 6, phase: 'flood' },
      ];
      const text = makeText(onGlass([0.5, 0.2], [0, 20]), 'The water comes back', 'a2');
      d.elements.rising = {
        ...text,
        paint: { ...text.paint, plate: { colour: '#15233B', padEm: [0.3, 0.1], radiusEm: 0 } },
        show: { phases: { ebb: 'hidden' }, need: 'all', conditions: [], lingerS: 0 },
      };
    });
    expect(new Set(found(later).map((one) => `${one.kind} ${one.element}`))).toEqual(new Set(['small tide']));
    expect(mendsFor(alone, { kind: 'small', element: 'tide' })).not.toEqual([]);
    expect(mendsFor(later, { kind: 'small', element: 'tide' })).toEqual([]);
    // What stands in the way is that text, from the flood on.
    const { refused } = asked(later, { kind: 'small', element: 'tide', atS: 0 }, checkParts(later));
    const ways = refused.map(({ obstacle }) => {
      if (!('found' in obstacle)) throw new Error('it is met along the route');
      const { found: met, part, stays } = obstacle;
      return `${met.kind} ${met.element} at ${part.viewer}${stays ? ', as before' : ''}${met.atS >= 6 ? ', in the flood' : ''}`;
    });
    // Larger at the desk it is too small still at the second; larger at both, it is under that text.
    expect(new Set(ways)).toEqual(new Set(['small tide at second, as before', 'covered tide at desk, in the flood']));
  });

  it('say what stands in the way where it is there at the worst moment, too, and what stays as it is', () => {
    const tide = { rule: 'screen', emPx: 7, hideBelowPx: 0, leavePx: 0 };
    const beside = walk((d) => {
      Object.assign(d.elements.tide as Element, { size: tide });
      const text = makeText(onGlass([0.5, 0.2], [0, 15]), 'The water comes back', 'a2');
      d.elements.rising = { ...text, paint: { ...text.paint, plate: { colour: '#15233B', padEm: [0.3, 0.1], radiusEm: 0 } } };
    });
    const [part] = checkParts(beside);
    expect(new Set(found(beside).map((one) => `${one.kind} ${one.element}`))).toEqual(new Set(['small tide']));
    const { mends, refused } = asked(beside, { kind: 'small', element: 'tide', atS: 0 }, [part as CheckPart]);
    expect(mends).toEqual([]);
    for (const { obstacle } of refused) expect(obstacle).toMatchObject({ element: 'tide', stays: false, shortfall: { kind: 'covered' } });
    expect(refused.map(({ change }) => change?.kind).sort()).toEqual(['everyScreen', 'px']);
    // A line that is longer than the screen is wide is cut off wherever it is put.
    const long = walk((d) => {
      const text = makeText(onGlass([0.5, 0.2]), 'Low tide at seven in the morning '.repeat(12), 'a2');
      d.elements.tide = { ...text, place: { ...text.place, stay: 'inside' } };
    });
    const [first] = checkParts(long);
    const cut = asked(long, { kind: 'cut', element: 'tide', atS: 0 }, [first as CheckPart]);
    expect(cut).toMatchObject({ isThere: true });
    for (const { obstacle } of cut.refused) expect(obstacle).toMatchObject({ element: 'tide', stays: true });
  });

  it('are none of what no setting mends, and none of what is not found', () => {
    const document = walk((d) => Object.assign(d.elements.lamp as Element, { range: { from: 'eye', enterM: 2, leaveM: 3, dwellS: 0.3 } }));
    expect(MENDED_BY.neverShown).toBeNull();
    expect(mendsFor(document, { kind: 'neverShown', element: 'lamp' })).toEqual([]);
    const fine = walk();
    const [part] = checkParts(fine);
    const none = { mends: [], refused: [], isThere: false };
    expect(asked(fine, { kind: 'small', element: 'tide', atS: 1 }, [part as never])).toEqual(none);
    expect(asked(fine, { kind: 'flickers', element: 'gone', atS: 1 }, [part as never])).toEqual(none);
  });
});
