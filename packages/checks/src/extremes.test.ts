import { compile } from '@foreshore/core';
import {
  barForm,
  type Document,
  type Element,
  type Feed,
  insideOf,
  makeDocument,
  makeGauge,
  makeGroup,
  makeText,
  makeVeil,
  onGlass,
} from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { plainText as text } from '../../core/src/sample.ts';
import { extremes, valueAtEnd } from './extremes.ts';

const documentOf = (elements: Record<string, Element>, feeds: Record<string, Feed> = {}): Document => {
  const document = { ...makeDocument('Low Water'), elements, feeds };
  const { desk } = document.viewers;
  if (desk) document.viewers = { desk };
  return document;
};
const found = (document: Document, phase: string | null = null) => extremes(compile(document, null), text, phase);
const feed = (edit: Partial<Feed>): Feed => ({ name: 'Objective', order: 'a0', kind: 'text', unit: '', initial: 'Wait', ...edit });

describe('the ends of a feed', () => {
  it('are its range and what its source reaches, the shortest and the longest text, no and yes', () => {
    const number = feed({ kind: 'number', initial: 5, range: [0, 10] });
    expect([valueAtEnd(number, 'least'), valueAtEnd(number, 'greatest')]).toEqual([0, 10]);
    expect(valueAtEnd({ ...number, source: { kind: 'sine', middle: 5, reach: 20, periodS: 1, startDeg: 0 } }, 'greatest')).toBe(25);
    const words = feed({ source: { kind: 'steps', values: ['Go', 'Bring the dinghy in'], everyS: 1 } });
    expect([valueAtEnd(words, 'least'), valueAtEnd(words, 'greatest')]).toEqual(['Go', 'Bring the dinghy in']);
    expect(valueAtEnd(feed({ kind: 'flag', initial: false }), 'greatest')).toBe(true);
  });
});

describe('at the ends', () => {
  it('nothing is said of a glass that has room for everything', () => {
    expect(found(documentOf({ a: makeText(onGlass([0, 0]), 'Tide', 'a0'), b: makeText(onGlass([1, 1]), 'Lamp', 'a1') }))).toEqual([]);
  });

  it('a text that grows out of the safe area and off the screen is named, with how far', () => {
    // 28 px em: 14 px a character. From a pin 57.6 px inside the right edge, growing to the right.
    const label = {
      ...makeText(onGlass([1, 0.5]), '{objective}', 'a0'),
      place: { ownPoint: [0, 0.5] as [number, number], offsetPx: [-50, 0] as [number, number], stay: 'free' as const, leader: null },
    };
    const steps = (longest: string) => ({
      objective: feed({ initial: 'Go', source: { kind: 'steps' as const, values: [longest], everyS: 1 } }),
    });
    // 4 characters: 56 px, 6 px past the safe area; 10: 140 px, 32.4 px past the screen.
    expect(found(documentOf({ label }, steps('Wait')))).toEqual([
      { viewer: 'desk', end: 'greatest', language: 'en', element: 'label', fault: 'outsideSafeArea', byPx: expect.closeTo(6, 6) },
    ]);
    expect(found(documentOf({ label }, steps('Bring boat')))).toEqual([
      {
        viewer: 'desk',
        end: 'greatest',
        language: 'en',
        element: 'label',
        fault: 'outsideScreen',
        byPx: expect.closeTo(140 - 50 - 57.6, 6),
      },
    ]);
  });

  it('members that leave their group, and trays that run into each other, are named', () => {
    const tray = makeGroup(onGlass([0, 0]), 'Tray', 'row', 'a0');
    const narrow = { ...tray, layout: { ...tray.layout, widthPx: 60, padPx: [0, 0, 0, 0] as [number, number, number, number] } };
    const bar = makeGauge(insideOf('tray'), 'Bar', null, barForm(), 'a1');
    expect(found(documentOf({ tray: narrow, bar }))).toContainEqual(
      expect.objectContaining({ element: 'bar', fault: 'outsideGroup', byPx: expect.closeTo(260, 6) }),
    );
    const other = makeText(onGlass([0, 0], [20, 10]), 'Tide', 'b0');
    const both = found(documentOf({ tray: makeText(onGlass([0, 0]), 'Warmth', 'a0'), other }));
    expect(both).toContainEqual(
      expect.objectContaining({ element: 'tray', fault: 'overlaps', with: 'other', byPx: expect.closeTo(25, 6) }),
    );
  });

  it('a veil covers everything by right, and what the phase hides is left out', () => {
    const hidden = {
      ...makeText(onGlass([0, 0]), 'Tide', 'b0'),
      show: { phases: { paused: 'hidden' as const }, need: 'all' as const, conditions: [], lingerS: 0 },
    };
    const document = documentOf({ veil: makeVeil('Veil', 'a0'), a: makeText(onGlass([0, 0]), 'Lamp', 'a1'), hidden });
    expect(found(document, 'roaming').map((f) => f.fault)).toEqual(['overlaps', 'overlaps']);
    expect(found(document, 'paused')).toEqual([]);
  });

  it('are looked at in every language, and a text that is too long for its room, or cut, is named with its language', () => {
    // 14 px a character in a room of 100 px: 4 fit, 11 do not; shrunk to 70 %, 11 characters need 107.8 px.
    const room = { widthPx: 100, lines: 1, over: 'shrink' as const, leastShare: 0.7 };
    const label = { ...makeText(onGlass([0, 0]), 'Lamp', 'a0'), translations: { de: 'Leuchtfeuer' }, room };
    const document = { ...documentOf({ label }), languages: ['de'] };
    const faults = found(document);
    expect(faults.map(({ language, fault }) => [language, fault])).toEqual([
      ['de', 'textTooLong'],
      ['de', 'textTooLong'],
    ]);
    expect(faults[0]?.byPx).toBeCloseTo(7.8, 1);
  });

  it('what scrolls may be longer than its box', () => {
    const group = makeGroup(onGlass([0, 0]), 'List', 'column', 'a0');
    const layout = { ...group.layout, widthPx: 300, heightPx: 60 };
    const texts = { a: makeText(insideOf('list'), 'Tide', 'a1'), b: makeText(insideOf('list'), 'Lamp', 'a2') };
    expect(found(documentOf({ list: { ...group, layout }, ...texts })).some(({ fault }) => fault === 'outsideGroup')).toBe(true);
    const scrolls = { ...group, layout: { ...layout, scroll: { thumb: '#FFFFFF', thumbPx: 8 } } };
    expect(found(documentOf({ list: scrolls, ...texts }))).toEqual([]);
  });

  it('a text with too little contrast against all that may lie behind it is named, with how much there is', () => {
    const text = makeText(onGlass([0, 0]), 'Tide', 'a0');
    const at = (paint: Partial<typeof text.paint>) =>
      found(documentOf({ label: { ...text, paint: { ...text.paint, outline: null, ...paint } } }));
    // Grey 0x77 on white: 4.48:1 by the formula of WCAG 2.2; its large text needs 3:1.
    const plate = { colour: '#FFFFFF', padEm: [0, 0] as [number, number], radiusEm: 0 };
    expect(at({ colour: '#777777', plate })).toEqual([]);
    expect(at({ colour: '#AAAAAA', plate })).toMatchObject([{ fault: 'contrast', ratio: { least: expect.closeTo(2.32, 2), needed: 3 } }]);
    // Without a plate the level may be of its own colour; an outline helps.
    expect(at({ colour: '#FFFFFF', plate: null })).toMatchObject([{ ratio: { least: 1 } }]);
    expect(at({ colour: '#FFFFFF', plate: null, outline: { colour: '#000000', widthEm: 0.1 } })).toEqual([]);
    // A plate of 128/255 lets 0.498 of white through: a luminance of 0.2122, and 1.05 to 0.2622 for white letters, 4.00.
    const half = { ...plate, colour: '#00000080' };
    // Enough at 28 px, too little at 20.
    expect(at({ colour: '#FFFFFF', plate: half })).toEqual([]);
    const small = { ...text, size: { rule: 'screen' as const, emPx: 20, hideBelowPx: 0, leavePx: 0 } };
    const one = found(documentOf({ label: { ...small, paint: { ...text.paint, outline: null, colour: '#FFFFFF', plate: half } } }));
    expect(one[0]?.ratio?.least).toBeCloseTo(4.0, 1);
    expect(one[0]?.ratio?.needed).toBe(4.5);
  });
});
