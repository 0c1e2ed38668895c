/** Checks: for each kind a document in which exactly that is wrong, and one in which it is right; shards; comparing. */
import { arrange, compile, lookingPose, type Pose, screenBox } from '@foreshore/core';
import {
  type Document,
  type Element,
  type Group,
  insideOf,
  type Label,
  makeCrosshair,
  makeDocument,
  makeGroup,
  makeHeadset,
  makeLabel,
  makePrompt,
  makeText,
  makeVeil,
  onGlass,
} from '@foreshore/document';
import { shippedShaper } from '@foreshore/text/node';
import { describe, expect, it } from 'vitest';
import {
  type CheckPart,
  type CheckRun,
  checkPart,
  checkParts,
  type FindingKind,
  type Found,
  groupsOf,
  looseFindings,
  mergeRuns,
  namesOf,
  partsMissing,
  replayOf,
  staticFindings,
} from './check.ts';
import { compareRuns, type Finding, findingsOf } from './findings.ts';

const text = shippedShaper();
const pose = (timeS: number, { position, rotation }: Pose) => ({ timeS, position, rotation });
/** A label 4 m ahead of a camera that stands for ten seconds. */
function scene(edit: (label: Label) => Element = (label) => label, more: (document: Document) => void = () => {}): Document {
  const document = makeDocument('Low Water');
  document.anchors.lamp = { kind: 'surface', name: 'Lamp', order: 'a0', node: null, position: [0, 1.6, -4], normal: [0, 1, 0] };
  document.elements.lamp = edit(makeLabel('lamp', 'Lamp mast', 'a0'));
  const still = lookingPose([0, 1.6, 0], 0, 0);
  document.routes = { wait: { name: 'Wait', order: 'a0', poses: [pose(0, still), pose(10, still)], feeds: [], phases: [] } };
  document.viewers = { desk: document.viewers.desk as Document['viewers'][string] };
  more(document);
  return document;
}
function runOf(document: Document): CheckRun {
  const parts = checkParts(document);
  const compiled = compile(document, null);
  return {
    ...{ format: 'foreshore-check', version: 1, project: document.name, document: '', parts },
    ...{ names: namesOf(document), groups: groupsOf(document), untranslated: staticFindings(document) },
    unfinished: looseFindings(document),
    results: parts.map((part) =>
      checkPart(document, arrange(compiled, document.viewers[part.viewer] as never, text, undefined, part.language), part),
    ),
  };
}
const kindsOf = (document: Document): FindingKind[] => findingsOf(runOf(document)).map(({ kind }) => kind);
const sized = (emPx: number) => (label: Label) => ({ ...label, size: { ...label.size, rule: 'screen', emPx } as never });

/** Letters without a plate of their own that stand out from everything. */
const bare = (label: Label): Label => ({
  ...label,
  paint: { ...label.paint, plate: null, colour: '#ffffff', outline: { colour: '#000000', widthEm: 0.2 } },
});
/** A phase in which nothing is shown but what is named. */
const quiet = (but: string[], phase = 'roaming'): Document =>
  scene(
    (label) => label,
    (d) => {
      d.phases = { roaming: { name: 'Roaming', order: 'a0' }, paused: { name: 'Paused', order: 'a1' } };
      d.checks = { quiet: { [phase]: but } };
    },
  );
/** Two prompts on the lamp's anchor, and on one so far beside it. */
function prompts(asideM: number, keyboard: string): Document {
  return scene(
    (label) => label,
    (d) => {
      d.elements = {};
      d.routes.wait = { ...(d.routes.wait as Document['routes'][string]) };
      d.feeds.lit = {
        ...{ name: 'Lit', order: 'a0', kind: 'flag', unit: '', initial: false, source: { kind: 'fixed', value: false } },
      } as never;
      const reactions = [{ kind: 'set', feed: 'lit', to: true } as never];
      d.actions = {
        light: { name: 'Light the lamp', order: 'a0', reactions },
        read: { name: 'Read the log', order: 'a1', reactions, keys: { keyboard, gamepad: 1, touch: 'tap', hand: 0 } as never },
      };
      d.anchors.lamp = { ...(d.anchors.lamp as Document['anchors'][string]), position: [0, 1.6, -2] } as never;
      d.anchors.log = { ...(d.anchors.lamp as Document['anchors'][string]), name: 'Log', position: [asideM, 1.6, -2] } as never;
      Object.assign(d.elements, makePrompt(d.elements, 'lamp', 'Light the lamp', 'light').made);
      Object.assign(d.elements, makePrompt(d.elements, 'log', 'Read the log', 'read').made);
    },
  );
}
/** A board on a wall that looks to the north or to the south; the route stands to the south. */
const board = (normal: [number, number, number], edit: (mount: Record<string, unknown>) => Record<string, unknown> = (mount) => mount) =>
  scene(
    (label) =>
      ({
        ...label,
        mount: edit({
          ...{
            kind: 'standing',
            anchor: 'lamp',
            sizeM: [1.6, 0.6],
            pxPerM: 100,
            readM: 5,
            facing: 'fixed',
            turnDeg: 0,
            tiltDeg: 0,
            liftM: 0,
          },
          sides: 'front',
        }),
        place: { ...label.place, ownPoint: [0.5, 0.5], offsetPx: [0, 0], leader: null },
        size: { ...label.size, rule: 'screen', emPx: 24 },
      }) as never,
    (d) => {
      d.anchors.lamp = { ...(d.anchors.lamp as Document['anchors'][string]), normal } as never;
    },
  );

/** A menu with a button on the glass, and something else that may lie over it. */
const menu = (edit: (document: Document, menu: Group, button: Label) => void = () => {}): Document =>
  scene(
    (label) => label,
    (d) => {
      const made = makeGroup(onGlass([0.5, 0.7]), 'Menu', 'row', 'a3');
      const button = makeText(insideOf('menu'), 'Go on', 'a4');
      d.actions = { go: { name: 'Go on', order: 'a0', reactions: [{ kind: 'set', feed: 'lit', to: true } as never] } };
      d.feeds.lit = { name: 'Lit', order: 'a0', kind: 'flag', unit: '', initial: false, source: { kind: 'fixed', value: false } } as never;
      button.pointer = { takes: 'acts', action: 'go', padPx: 0, pointed: {}, pressed: {} };
      const plate = { colour: '#15233B', radiusPx: 0 } as never;
      d.elements.menu = { ...made, layout: { ...made.layout, padPx: [20, 20, 20, 20] }, paint: { ...made.paint, plate } };
      d.elements.go = button;
      edit(d, d.elements.menu as Group, button);
    },
  );
/** Over all of the screen, with a plate of which nothing is seen. */
const over = (takes: 'blocks' | 'passes') =>
  menu((d) => {
    const veil = makeVeil('Veil', 'a5');
    const paint = { ...veil.paint, plate: { ...veil.paint.plate, colour: '#0E182600' } as never };
    d.elements.veil = { ...veil, paint, pointer: { takes, action: null, padPx: 0, pointed: {}, pressed: {} } };
  });
const menuThat = (takes: 'blocks' | 'passes') =>
  menu((_, group) => {
    group.pointer = { takes, action: null, padPx: 0, pointed: {}, pressed: {} };
  });
/** A veil over the whole screen: one piece, one screen of paint. */
const spending = (pieces: number, screens = 2): Document =>
  scene(
    () => makeVeil('Night', 'a0') as never,
    (d) => {
      d.checks = { budget: { pieces, screens } };
    },
  );

/** One document in which exactly that is wrong. */
const WRONG: [FindingKind, Document][] = [
  ['small', scene(sized(7))],
  ['empty', scene((label) => ({ ...label, text: '' }))],
  ['glyphs', scene((label) => ({ ...label, text: 'Lamp \u{1F9ED}' }))],
  [
    'contrast',
    scene((label) => ({
      ...label,
      paint: { ...label.paint, colour: '#888888', plate: { ...label.paint.plate, colour: '#999999' } as never },
    })),
  ],
  [
    'cut',
    scene(
      (label) => label,
      (d) => {
        // Its left half lies beyond the right edge.
        d.elements.lamp = { ...makeLabel('lamp', 'Lamp', 'a0'), ...onGlass([1, 0.5], [40, 0]) };
      },
    ),
  ],
  [
    'covered',
    scene(
      (label) => label,
      (d) => {
        d.elements.over = makeLabel('lamp', 'Lamp mast', 'a1');
      },
    ),
  ],
  [
    'overlaps',
    scene(bare, (d) => {
      d.elements.over = bare(makeLabel('lamp', 'Lamp mast', 'a1'));
    }),
  ],
  ['oneKey', prompts(0.4, 'KeyE')],
  ['oneSide', board([0, 0, -1])],
  ['unwanted', quiet([])],
  ['swallowed', over('blocks')],
  ['leaked', menuThat('passes')],
  [
    'costly',
    scene(
      (label) => label,
      (d) => {
        d.checks = { budget: { pieces: 1, screens: 2 } };
      },
    ),
  ],
  ['costly', spending(2000, 0.9)],
  ['neverShown', scene((label) => ({ ...label, range: { from: 'eye', enterM: 2, leaveM: 3, dwellS: 0.3 } }))],
  [
    'untranslated',
    scene(
      (label) => ({ ...label, translations: { de: 'Lampenmast' } }),
      (d) => {
        d.languages = ['de', 'ar'];
      },
    ),
  ],
  ['unfinished', scene((label) => ({ ...label, text: 'Lamp mast, TODO' }))],
  ['unfinished', scene((label) => ({ ...label, text: 'Tide {tied} m' }))],
  [
    'speed',
    scene(
      (label) => label,
      (d) => {
        const route = d.routes.wait as Document['routes'][string];
        route.poses = [
          pose(0, lookingPose([0, 1.6, 0], 20, 0)),
          pose(1, lookingPose([0, 1.6, 0], -20, 0)),
          pose(10, lookingPose([0, 1.6, 0], -20, 0)),
        ];
      },
    ),
  ],
  [
    'brief',
    scene(
      (label) => ({ ...label, text: 'The causeway closes an hour before the water comes back' }),
      (d) => {
        d.feeds.on = {
          ...{ name: 'On', order: 'a0', kind: 'flag', unit: '', initial: false },
          source: { kind: 'steps', values: [false, true, false, false], everyS: 2.4 },
        } as never;
        const lamp = d.elements.lamp as Element;
        lamp.show = {
          phases: {},
          need: 'all',
          conditions: [{ kind: 'compare', feed: 'on', is: 'equals', value: true } as never],
          lingerS: 0,
        };
      },
    ),
  ],
  [
    'flickers',
    scene(
      (label) => label,
      (d) => {
        d.feeds.on = {
          ...{ name: 'On', order: 'a0', kind: 'flag', unit: '', initial: false },
          source: { kind: 'steps', values: [true, true, true, false], everyS: 1 },
        } as never;
        const lamp = d.elements.lamp as Element;
        lamp.show = {
          phases: {},
          need: 'all',
          conditions: [{ kind: 'compare', feed: 'on', is: 'equals', value: true } as never],
          lingerS: 0,
        };
      },
    ),
  ],
];

describe('a check', () => {
  it('finds nothing where all is right', () => {
    expect(findingsOf(runOf(scene()))).toEqual([]);
  });
  it.each(WRONG)('finds that, and nothing else: %s', (kind, document) => {
    const found = [...new Set(kindsOf(document))];
    expect(found).toEqual([kind]);
  });

  it('finds nothing one step beside those: plates, another place or key, the other side', () => {
    const above = (label: Label): Label => ({ ...label, place: { ...label.place, offsetPx: [0, -90] } });
    for (const right of [
      scene(bare, (d) => {
        d.elements.over = above(bare(makeLabel('lamp', 'Lamp mast', 'a1')));
      }),
      prompts(0.4, 'KeyR'),
      board([0, 0, 1]),
      quiet(['lamp']),
      over('passes'),
      menuThat('blocks'),
      spending(1, 1),
      quiet([], 'paused'),
      board([0, 0, -1], (mount) => ({ ...mount, sides: 'both' })),
      // From farther away than it is meant to be read nobody misses it.
      board([0, 0, -1], (mount) => ({ ...mount, readM: 3 })),
    ])
      expect(
        kindsOf(right).filter((kind) => ['overlaps', 'oneKey', 'oneSide', 'unwanted', 'swallowed', 'leaked', 'costly'].includes(kind)),
      ).toEqual([]);
    // Two metres apart the player can go to either; which of them shows is the contest's.
    expect(kindsOf(prompts(2, 'KeyE'))).not.toContain('oneKey');
    // Where the one in front has a plate it covers the other.
    const plated = scene(bare, (d) => {
      d.elements.over = makeLabel('lamp', 'Lamp mast', 'a1');
    });
    expect([...new Set(kindsOf(plated))]).toEqual(['covered']);
    // Half of the letters lie on others: by hand, moved by half their width.
    const [first] = findingsOf(
      runOf(
        scene(bare, (d) => {
          const [wide] = [text.shape({ text: 'Lamp mast', weight: 600, align: 'centre', lineHeight: 1.2, wrapEm: null }).widthEm];
          const over = bare(makeLabel('lamp', 'Lamp mast', 'a1'));
          const emPx = (over.size as { emPx: number }).emPx;
          d.elements.over = {
            ...over,
            paint: { ...over.paint, weight: 600 },
            place: { ...over.place, offsetPx: [(wide * emPx) / 2, over.place.offsetPx[1]] },
          };
          d.elements.lamp = { ...(d.elements.lamp as Label), paint: { ...(d.elements.lamp as Label).paint, weight: 600 } };
        }),
      ),
    ) as [Finding];
    expect(first.kind).toBe('overlaps');
    expect(first.value).toBeCloseTo(0.5, 1);
  });

  it.each([
    ['the nearer', -3, ['lamp']],
    ['the farther', -5, ['post']],
  ])('goes by depth, not by the order in the document: the later of two is %s', (_, z, covered) => {
    const document = scene(
      (label) => label,
      (d) => {
        d.anchors.post = { ...d.anchors.lamp, name: 'Post', position: [0, 1.6, z] } as never;
        d.elements.post = makeLabel('post', 'Lamp mast', 'a1');
      },
    );
    const of = (kind: FindingKind) => [...new Set(findingsOf(runOf(document)).flatMap((one) => (one.kind === kind ? [one.element] : [])))];
    expect(of('covered')).toEqual(covered);
  });

  it('tells of elements alone, not of the panels that a headset has its HUD on', () => {
    const document = scene(
      (label) => label,
      (d) => {
        d.viewers = { headset: makeHeadset('Headset', 'a0') };
        d.elements.tide = makeText(onGlass([0.5, 0.2]), 'Low tide at seven', 'a1');
        d.elements.more = makeText(onGlass([0.5, 0.3]), 'Mind the stakes', 'a2');
        d.elements.aim = makeCrosshair('Aim', null, 'a3');
        d.phases = { roaming: { name: 'Roaming', order: 'a0' } };
        d.checks = { quiet: { roaming: ['lamp', 'tide', 'more'] }, budget: { pieces: 1, screens: 9 } };
      },
    );
    const findings = findingsOf(runOf(document)).map(({ kind, element }) => `${kind} ${element}`);
    // What aims is where that is which is aimed at: 60 m away where that is nothing.
    expect(findings.filter((one) => /unwanted|costly|tooFar/.test(one))).toEqual(['unwanted aim', 'costly aim']);
    expect(findings.filter((one) => !document.elements[one.split(' ')[1] as string])).toEqual([]);
  });

  it('tells of presses and of the cost of a frame in numbers: by hand', () => {
    const of = (document: Document) =>
      findingsOf(runOf(document)).map(({ kind, element, value, bound, unit, by }) => [kind, element, value, bound, unit, by]);
    expect(of(over('blocks'))).toEqual([
      ['swallowed', 'veil', 1, 0, 'share', undefined],
      ['swallowed', 'go', 1, 0.25, 'share', 'veil'],
    ]);
    // Of a control that is turned, under a text that is not: only what lies over it counts, and what lies beside it does not.
    const turned = (dx: number) =>
      menu((d, group) => {
        group.turnDeg = 30;
        const lid = makeText(onGlass([0.5, 0.7], [dx, 0]), 'Lid over all of it', 'a5');
        d.elements.lid = { ...lid, size: { rule: 'screen', emPx: 60, hideBelowPx: 0, leavePx: 0 } };
      });
    expect(of(turned(0)).filter(([kind]) => kind === 'swallowed')).toMatchObject([
      ['swallowed', 'go', expect.any(Number), 0.25, 'share', 'lid'],
    ]);
    expect(of(turned(700)).filter(([kind]) => kind === 'swallowed')).toEqual([]);
    // The menu is 40 px wider and higher than its button.
    const document = menuThat('passes');
    const arranged = arrange(compile(document, null), document.viewers.desk as never, text);
    const replay = replayOf(arranged, checkParts(document)[0] as CheckPart);
    replay.at(0);
    const { solver } = replay;
    const [, , w, h] = screenBox(solver, arranged.compiled.ids.indexOf('go'));
    const [, , menuW, menuH] = screenBox(solver, arranged.compiled.ids.indexOf('menu'));
    expect(menuW - w).toBeCloseTo(40 * (arranged.fits[arranged.compiled.ids.indexOf('menu')] as number), 9);
    const [[, , leaked]] = of(document) as [[string, string, number]];
    expect(Math.abs(leaked - (1 - (w * h) / (menuW * menuH)))).toBeLessThan(0.15);
    // A plate over all of the screen: one piece, one screen of paint.
    expect(of(spending(2000, 0.9))).toEqual([['costly', 'lamp', 1, 0.9, 'screens', undefined]]);
  });

  it('says how bad, when, and for how long: by hand', () => {
    const [finding] = findingsOf(runOf(scene(sized(7)))) as [Finding];
    // Capitals of the shipped font are 0.668 em: 7 px of em are 4.7 px, 9 are asked.
    expect(finding).toMatchObject({ kind: 'small', viewer: 'desk', route: 'wait', language: 'en', forS: 10 });
    expect(finding.value).toBeLessThan(finding.bound);
    const hidden = findingsOf(runOf(WRONG.find(([kind]) => kind === 'neverShown')?.[1] as Document));
    expect(hidden).toMatchObject([{ kind: 'neverShown', unit: 'range', route: null }]);
  });

  it('is the same however it is cut into shards; shards of another project, or a part that is missing, are told', () => {
    const document = scene(sized(7), (d) => {
      d.viewers = { ...d.viewers, ...makeDocument('x').viewers };
      d.languages = ['de'];
    });
    const whole = runOf(document);
    expect(whole.parts.length).toBeGreaterThan(3);
    for (const n of [2, 3]) {
      const shards = Array.from({ length: n }, (_, i) => ({ ...whole, results: whole.results.filter((__, k) => k % n === i) }));
      expect(JSON.stringify(mergeRuns([...shards].reverse()))).toBe(JSON.stringify(whole));
      expect(partsMissing(mergeRuns(shards.slice(1)))).toHaveLength(whole.parts.filter((_, k) => k % n === 0).length);
    }
    expect(() => mergeRuns([whole, { ...whole, document: 'another' }])).toThrow('different projects');
    expect(() => mergeRuns([whole, { ...whole, parts: whole.parts.slice(1) }])).toThrow('different choices');
    expect(() => mergeRuns([])).toThrow('nothing to merge');
    expect(() => checkParts(document, { viewers: ['periscope'] })).toThrow('no viewer "periscope"');
  });

  it('compared with another: new, gone, worse, better', () => {
    const of = (emPx: number) => findingsOf(runOf(scene(sized(emPx))));
    const keys = (list: readonly Finding[]) => list.map(({ kind }) => kind);
    expect(keys(compareRuns([], of(7)).fresh)).toEqual(['small']);
    expect(keys(compareRuns(of(7), []).gone)).toEqual(['small']);
    expect(keys(compareRuns(of(7), of(6)).worse)).toEqual(['small']);
    expect(keys(compareRuns(of(6), of(7)).better)).toEqual(['small']);
    expect(compareRuns(of(7), of(7))).toEqual({ fresh: [], gone: [], worse: [], better: [] });
  });

  it('what hides a group is told of the group, not of all that is in it', () => {
    const document = scene(
      (label) => label,
      (d) => {
        d.phases = { roaming: { name: 'Roaming', order: 'a0' }, paused: { name: 'Paused', order: 'a1' } };
        d.elements.board = {
          ...makeGroup(onGlass([0.5, 0]), 'Board', 'column', 'a5'),
          show: { phases: { roaming: 'hidden' }, need: 'all', conditions: [], lingerS: 0 },
        };
        d.elements.oil = makeText(insideOf('board'), 'Oil', 'a0');
        d.elements.water = makeText(insideOf('board'), 'Water', 'a1');
      },
    );
    expect(findingsOf(runOf(document)).map(({ element, kind }) => `${element} ${kind}`)).toEqual(['board neverShown']);
  });
});

describe('what happens to a group as a whole', () => {
  const document = scene(undefined, (d) => {
    d.elements.board = makeGroup(onGlass([0.2, 0.2]), 'Board', 'column', 'a1');
    d.elements.row = makeGroup(insideOf('board'), 'Row', 'row', 'a2');
    d.elements.depth = makeText(insideOf('row'), 'Depth 2 m', 'a3');
  });
  type Made = [kind: FindingKind, element: string, value: number, forS: number, more?: Partial<Found>][];
  const findings = (found: Made): Finding[] => {
    const [part] = checkParts(document) as [CheckPart];
    const results = [
      {
        ...{ ...part, durationS: 10, shown: {} },
        found: found.map(([kind, element, value, forS, more]) => ({
          ...{ kind, element, atS: 1, forS, value, bound: 1, unit: 'deg', shortfall: null },
          ...more,
        })),
      },
    ];
    return findingsOf({ ...runOf(document), results }).filter(({ route }) => route !== null);
  };
  const names = (list: readonly Finding[]): string[] => list.map(({ kind, element }) => `${kind} ${element}`).sort();
  const told = (found: Made): string[] => names(findings(found));
  it('is told of the group alone, through groups that do not', () => {
    expect(
      told([
        ['vergence', 'board', 2, 4],
        ['vergence', 'row', 2, 4],
        ['vergence', 'depth', 1.8, 3],
      ]),
    ).toEqual(['vergence board']);
    expect(
      told([
        ['vergence', 'board', 2, 4],
        ['vergence', 'depth', 2, 4],
      ]),
    ).toEqual(['vergence board']);
    expect(told([['vergence', 'depth', 2, 4]])).toEqual(['vergence depth']);
  });
  it('is told of a member where that is worse or lasts longer, and where it is of another kind or of its own', () => {
    expect(
      told([
        ['vergence', 'board', 2, 4],
        ['vergence', 'depth', 2.5, 4],
      ]),
    ).toEqual(['vergence board', 'vergence depth']);
    expect(
      told([
        ['vergence', 'board', 2, 4],
        ['vergence', 'depth', 2, 6],
      ]),
    ).toEqual(['vergence board', 'vergence depth']);
    expect(
      told([
        ['vergence', 'board', 2, 4],
        ['speed', 'depth', 2, 4],
      ]),
    ).toEqual(['speed depth', 'vergence board']);
    expect(
      told([
        ['covered', 'board', 2, 4],
        ['covered', 'depth', 2, 4],
      ]),
    ).toEqual(['covered board', 'covered depth']);
    expect(
      told([
        ['vergence', 'board', 2, 4],
        ['vergence', 'lamp', 2, 4],
      ]),
    ).toEqual(['vergence board', 'vergence lamp']);
  });
  it('cut off by the frame, or behind the level, it is with its members; by a box of its own a member is cut off alone', () => {
    const cut = (element: string, at: 'screen' | 'safeArea' | 'textBox', value: number): Made[number] => [
      ...(['cut', element, value, 4] as const),
      { bound: 0, shortfall: { kind: 'cut', at, value } },
    ];
    expect(told([cut('board', 'screen', 40), cut('depth', 'screen', 12)])).toEqual(['cut board']);
    expect(told([cut('board', 'screen', 40), cut('depth', 'safeArea', 12)])).toEqual(['cut board', 'cut depth']);
    expect(told([cut('board', 'textBox', 40), cut('depth', 'textBox', 12)])).toEqual(['cut board', 'cut depth']);
    const behind = (element: string, value: number): Made[number] => ['behindLevel', element, value, 4, { bound: 0.1 }];
    expect(told([behind('board', 0.6), behind('row', 0.6), behind('depth', 1)])).toEqual(['behindLevel board', 'behindLevel depth']);
  });
  it('flickers with its members, which may do so by themselves at another time', () => {
    const flickers = (element: string, atS: number): Made[number] => ['flickers', element, 0.5, 0.5, { atS, bound: 2 }];
    expect(told([flickers('board', 3), flickers('row', 3), flickers('depth', 7)])).toEqual(['flickers board', 'flickers depth']);
  });
  it('is neither new nor gone where only who tells it is another', () => {
    const together = findings([
      ['vergence', 'board', 2, 4],
      ['vergence', 'row', 2, 4],
      ['vergence', 'depth', 2, 4],
    ]);
    // The group does it for a shorter time, and one of its members as long as before.
    const apart = findings([
      ['vergence', 'board', 2, 1],
      ['vergence', 'row', 2, 1],
      ['vergence', 'depth', 2, 4],
    ]);
    expect([names(together), names(apart)]).toEqual([['vergence board'], ['vergence board', 'vergence depth']]);
    const forth = compareRuns(together, apart);
    expect([forth.fresh, forth.gone, forth.worse, names(forth.better)]).toEqual([[], [], [], ['vergence board']]);
    const back = compareRuns(apart, together);
    expect([back.fresh, back.gone, back.better, names(back.worse)]).toEqual([[], [], [], ['vergence board']]);
  });
});
