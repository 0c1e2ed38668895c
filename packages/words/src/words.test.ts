/** What is found, in words: nothing is lost, nothing is too long for its room, and every kind has some. */
import type { Finding, RefusedMend, Stretch } from '@foreshore/checks';
import { type Fact, type Shortfall, Verdict } from '@foreshore/core';
import { type Document, type Keys, makeDocument, makeLabel } from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import {
  formatArcmin,
  formatBeside,
  formatDegrees,
  formatMetres,
  formatPercent,
  formatPixels,
  formatValue,
  GAMEPAD,
  HAND,
  keyName,
  sayDone,
  sayFact,
  sayLink,
  sayMembers,
  sayMend,
  sayOffer,
  sayRefused,
  sayShort,
  sayShortfall,
  sayUnrest,
  sayWhere,
  shortLink,
} from './index.ts';

const document: Document = {
  ...makeDocument('Low Water'),
  elements: { gauge: makeLabel('spot', 'Tide gauge', 'a0') },
  feeds: { tide: { name: 'Tide', order: 'a0', kind: 'number', unit: 'm', initial: 0.4 } },
};

describe('quantities in words', () => {
  it.each([
    [formatMetres(2.104), '2.10'],
    [formatMetres(12.34), '12.3'],
    [formatMetres(1234.5), '1235'],
    [formatMetres(-0.001), '0.00'],
    [formatPixels(9.94), '9.9'],
    [formatPixels(31.4), '31'],
    [formatArcmin(22.4), '22'],
    [formatArcmin(5.43), '5.4'],
    [formatDegrees(-0.04), '0.0'],
    [formatValue(0.12345), '0.123'],
    [formatValue(true), 'yes'],
    [formatValue('Ebb'), '"Ebb"'],
    [formatValue(['a']), '1 line'],
    [formatValue({ number: 0, place: [0, 0, 0] }), 'not yet'],
    [formatValue({ number: 3, place: [1, 2, 30] }), 'no. 3 at 1.00, 2.00, 30.0 m'],
  ])('%s', (said, wanted) => {
    expect(said).toBe(wanted);
  });
  it('a value that misses its bound is never said to be the bound', () => {
    const said = [15.2, 15.96, 15.996, 15.99996, 16.00001, 16, 9.5].map((value) => formatBeside(value, 16, formatArcmin));
    expect(said).toEqual(['15', '15.96', '15.996', '15.9999', '16.0001', '16', '9.5']);
    expect(formatBeside(20.004, 20, formatMetres)).toBe('20.004');
    const small = { kind: 'small', unit: 'arcmin', of: 'letters', value: 15.96, bound: 16 } as never;
    expect(sayShortfall(small, document)).toBe('15.96 arcmin, too small: needs 16');
  });
  it('a share is never said to be none or all of it unless it is', () => {
    expect([0, 0.004, 0.5, 0.996, 1].map(formatPercent)).toEqual(['0', 'under 1', '50', '99', '100']);
  });
});

describe('outcomes in words', () => {
  it.each<[Fact, string, string]>([
    [{ kind: 'distance', distanceM: 1.9, boundM: 2.9, stays: false }, '1.90 m', '1.90 of 2.90 m'],
    [{ kind: 'cone', angleDeg: 6.62, boundDeg: 32 }, '6.6 deg', '6.6 of 32 deg off'],
    [{ kind: 'lost', fault: { kind: 'noMatch', pattern: 'Buoy *' } }, 'nowhere', 'no node of the level matches "Buoy *"'],
    [
      {
        kind: 'sight',
        freeShare: 0.49,
        neededShare: 0.8,
        lines: 100,
        blockers: [
          { node: 'Sluice 2 posts', share: 0.2 },
          { node: 'Pier', share: 0.31 },
        ],
        answer: 'hide',
        stays: false,
      },
      '49 % free',
      'Sluice 2 posts (20 %) and 1 more cover 51 %; 49 % is free, needs 80 %',
    ],
    [
      {
        kind: 'conditionFails',
        condition: {
          kind: 'compare',
          condition: { kind: 'compare', feed: 'tide', is: 'above', value: 1.2, leave: 0 },
          value: 0.4,
          never: false,
        },
      },
      'condition',
      'Tide 0.4 m, needs above 1.2 m',
    ],
    [{ kind: 'clippedAway', group: 'gauge@Sluice 2' }, 'clipped', 'wholly clipped by Tide gauge at Sluice 2'],
    [{ kind: 'transparent', row: 'gauge' }, '0 % opaque', 'Tide gauge is 0 % opaque'],
  ])('%j', (fact, short, full) => {
    expect(sayFact(fact, document)).toBe(full);
    expect(shortLink({ facts: [fact] }, document)).toBe(short);
  });

  it('are of the group where it is the group that refuses', () => {
    const facts: Fact[] = [{ kind: 'phase', phase: null, does: 'hides' }];
    expect(sayLink({ facts, from: 'gauge', state: 'no' }, document)).toBe('Tide gauge: hidden in every phase');
  });

  // Ten links stand side by side at 1280 px; what each says must find room in 80.
  const SHORTFALLS: Shortfall[] = [
    { kind: 'empty' },
    { kind: 'unmeasured', row: 'a' },
    { kind: 'small', unit: 'arcmin', value: 14.2, bound: 16 },
    { kind: 'contrast', value: 3.96, bound: 4.5 },
    { kind: 'covered', value: 0.25, bound: 0.1, by: 'gauge' },
    { kind: 'cut', at: 'screen', value: 1402 },
    { kind: 'cut', at: 'textBox', value: 0 },
    { kind: 'glyphs', missing: ['€'] },
    { kind: 'speed', value: 121, bound: 15 },
  ];
  it.each(SHORTFALLS)('%j is short enough for a link, and names what comes first', (of) => {
    const said = shortLink({ facts: [{ kind: 'short', of }] }, document);
    expect(said.length).toBeGreaterThan(0);
    expect(said.length).toBeLessThanOrEqual(12);
    expect(sayShort([of, { kind: 'empty' }])).toMatch(/, \+1$/);
  });
});

describe('offers and mends in words', () => {
  const pose = { position: [0, 0, 0] as [number, number, number], rotation: [0, 0, 0, 1] as [number, number, number, number] };
  it('name the way to go by eighths of the circle, clockwise from ahead', () => {
    const way = (wayDeg: number) => sayOffer({ kind: 'place', cost: 0, pose, distanceM: 0.84, wayDeg }, document);
    expect([0, 45, 90, -90, 180, -45].map(way)).toEqual([
      '0.8 m ahead',
      '0.8 m ahead and right',
      '0.8 m right',
      '0.8 m left',
      '0.8 m back',
      '0.8 m ahead and left',
    ]);
  });
  it('name the greater part of a turn', () => {
    expect(sayOffer({ kind: 'turn', cost: 0, pose, leftDeg: -15, upDeg: 3 }, document)).toBe('15 deg to the right');
    expect(sayOffer({ kind: 'turn', cost: 0, pose, leftDeg: 1, upDeg: 4 }, document)).toBe('4.1 deg up');
  });
  it('give values with their units', () => {
    expect(sayOffer({ kind: 'state', cost: 0, state: { feed: 'tide', value: 1.21 } }, document)).toBe('Tide 1.21 m');
    expect(sayMend({ change: { kind: 'everyScreen', arcmin: 24 } })).toBe('24 arcmin on every screen');
    expect(sayMend({ change: { kind: 'moved', byPx: [0, -33] } })).toBe('33 px up');
    expect(sayMend({ change: { kind: 'moved', byPx: [12, 0] } })).toBe('12 px to the right');
    expect(sayDone({ kind: 'run', feed: 'tide', to: 2, overS: 3 }, document)).toBe('Tide to 2 m in 3 s');
  });
});

describe('keys in words', () => {
  const KEYS: Keys = { keyboard: 'KeyQ', gamepad: 2, touch: 'doubleTap', hand: 1 };
  it('are named by their places in the standard mappings', () => {
    expect(keyName(KEYS, 'keyboard')).toBe('key Q');
    expect(keyName({ ...KEYS, keyboard: 'PointerLeft' }, 'keyboard')).toBe('left mouse button');
    // W3C Gamepad, "Remapping": 0 bottom, 1 right, 2 left, 3 top of the right cluster; 12 to 15 the left one.
    expect(keyName(KEYS, 'gamepad')).toBe('left button of the right cluster');
    expect(GAMEPAD[13]).toBe('bottom button of the left cluster');
    // WebXR Gamepads Module, xr-standard: 0 trigger, 1 squeeze.
    expect(keyName(KEYS, 'hand')).toBe('grip');
    expect(keyName(KEYS, 'touch')).toBe('two taps');
    expect(new Set(GAMEPAD).size).toBe(17);
    expect(new Set(HAND).size).toBe(6);
  });
});

describe('restlessness', () => {
  it('is told for each minute that something is shown, and not of what is calm', () => {
    const stretch = (fromS: number, toS: number, verdict: Verdict, moves = 0): Stretch => ({ fromS, toS, verdict, short: null, moves });
    const band = [
      stretch(0, 29, Verdict.Shown, 3),
      stretch(29, 35, Verdict.Range),
      stretch(35, 36, Verdict.Shown),
      stretch(36, 40, Verdict.Range),
    ];
    expect(sayUnrest(band)).toBe('changes its place 6.0 times and blinks 2.0 times a minute');
    expect(sayUnrest([stretch(0, 30, Verdict.Shown, 1)])).toBe('changes its place 2.0 times a minute');
    expect([sayUnrest([stretch(0, 9, Verdict.Shown)]), sayUnrest([stretch(0, 9, Verdict.Range)])]).toEqual(['', '']);
  });
});

describe('what stands in the way of a mend', () => {
  const tried: Pick<RefusedMend, 'change' | 'cures'> = { change: { kind: 'px', of: 'letters', value: 20 }, cures: [] };
  const part = { route: 'out', viewer: 'desk', language: 'en' };
  it.each<[RefusedMend['obstacle'], string]>([
    [{ element: 'gauge', viewer: 'desk', shortfall: null, stays: false }, 'then Tide gauge is not shown any more (Desk monitor)'],
    [{ element: 'gauge', viewer: 'desk', shortfall: { kind: 'empty' }, stays: true }, 'it stays: it has no text (Desk monitor)'],
    [{ element: 'gauge', lessS: 2.5, part }, 'then Tide gauge is shown for 2.5 s less (Desk monitor, out)'],
    [
      {
        found: { kind: 'brief', element: 'gauge', atS: 3, forS: 1, value: 1, bound: 2, unit: 's', shortfall: null },
        ...{ part, stays: false },
      },
      'then Tide gauge: shown for 1.0 s without a break, needs 2.0 s to be read (Desk monitor, out, 3.0 s)',
    ],
  ])('is told with what was tried: %o', (obstacle, words) => {
    expect(sayRefused({ ...tried, obstacle }, document)).toBe(`letters of 20 px; ${words}`);
  });
});

it('a finding says with how many members of its group it is told, each once', () => {
  const finding = (element: string, members: Finding[] = []): Finding => ({
    ...{ key: `speed ${element} desk en`, kind: 'speed', element, name: element, viewer: 'desk', language: 'en', route: 'walk' },
    ...{ atS: 2, forS: 1.5, value: 20, bound: 15, unit: 'deg/s', shortfall: null },
    ...(members.length > 0 && { members }),
  });
  const [oil, water] = [finding('oil'), finding('water')];
  expect(sayMembers([finding('board')])).toBeNull();
  expect(sayMembers([finding('board', [oil]), finding('board', [oil])])).toBe('with one of its members');
  expect(sayMembers([finding('board', [oil]), finding('board', [oil, water])])).toBe('with 2 of its members');
  expect(sayWhere(finding('board', [oil, water]))).toBe('desk, en, walk at 2.0 s, for 1.5 s in all, with 2 of its members');
});
