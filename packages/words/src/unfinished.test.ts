/** What is loose in a document, said in sentences. */
import { allUnfinished, unfinishedOf } from '@foreshore/checks';
import {
  type Action,
  type Document,
  type Element,
  type Feed,
  insideOf,
  makeDocument,
  makeGauge,
  makeGroup,
  makeInstance,
  makePicture,
  makePrompt,
  makeScreenPaint,
  makeText,
  onGlass,
} from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { sayLoose } from './unfinished.ts';

const number: Feed = { name: 'Tide', order: 'a0', kind: 'number', unit: 'm', initial: 0 };
const documentWith = (elements: Record<string, Element>, more: Partial<Document> = {}): Document => ({
  ...makeDocument('Low Water'),
  feeds: { tide: number, lit: { ...number, name: 'Lit', kind: 'flag', initial: false } },
  elements,
  ...more,
});
const bar = { kind: 'bar', widthPx: 90, heightPx: 9, towards: 'right', radiusPx: 0 } as const;
const says = (element: Element, more: Partial<Document> = {}) => unfinishedOf(documentWith({ it: element }, more), 'it').map(sayLoose);
const text = (words: string): Element => makeText(onGlass([0, 0]), words, 'a0');
const action = (reactions: Action['reactions']): Action => ({ name: 'Turn', order: 'a0', reactions });

describe('loose ends', () => {
  it.each<[string, Element, string[]]>([
    ['a placeholder', text('Lorem ipsum'), ['Its text is still a placeholder.']],
    ['a value that nobody supplies', text('Tide {tied} m'), ['Its text names "tied", which no feed supplies.']],
    ['a value that is there', text('Tide {tide} m'), []],
    ['a message that cannot be read', text('Tide {tide'), ['Its text cannot be read: a closing brace is missing.']],
    ['a gauge without a source', makeGauge(onGlass([0, 0]), 'Bar', null, bar, 'a0'), ['It has no source: choose a feed.']],
    ['a gauge of a flag', makeGauge(onGlass([0, 0]), 'Bar', 'lit', bar, 'a0'), ['Its source "Lit" is not a number.']],
    ['a picture without one', makePicture(onGlass([0, 0]), 'Map', null, 9, 9, 'a0'), ['It has no picture: choose one.']],
    [
      'an empty group that paints nothing',
      { ...makeGroup(onGlass([0, 0]), 'Box', 'row', 'a0'), paint: { plate: null, opacity: 1 } },
      ['It is empty and paints nothing.'],
    ],
  ])('%s', (_, element, expected) => {
    expect(says(element)).toEqual(expected);
  });
  it('of keys: an action is missing, or nothing is done on it', () => {
    const { made } = makePrompt({}, 'wheel', 'Turn', 'turn');
    const anchors: Document['anchors'] = {
      wheel: { kind: 'surface', name: 'Wheel', order: 'a0', node: null, position: [0, 0, 0], normal: [0, 1, 0] },
    };
    const d = documentWith(made, { anchors, actions: { turn: action([]) } });
    expect(unfinishedOf(d, 'turn').map(sayLoose)).toEqual(['Nothing is done on its action "Turn".']);
    const done = { ...d, actions: { turn: action([{ kind: 'add', when: [], feed: 'tide', by: 1 }]) } };
    expect(allUnfinished(done)).toEqual([]);
    const press = { ...(made.turn?.press as NonNullable<Element['press']>), action: null };
    expect(unfinishedOf({ ...done, elements: { ...made, turn: { ...made.turn, press } as Element } }, 'turn').map(sayLoose)).toEqual([
      'A key acts on it but it sends no action: choose one under Key.',
    ]);
  });
  it.each<[string, Partial<Document>, string[]]>([
    ['an action that nothing sends', { actions: { turn: action([]) } }, ['turn: Nothing sends it.']],
    [
      'an action that another sends, and its own name left as it came',
      { actions: { a: { ...action([{ kind: 'send', when: [], action: 'b' }]), name: 'Action' }, b: action([]) } },
      ['a: It was never named.', 'a: Nothing sends it.'],
    ],
    ['a feed whose name was left as it came', { feeds: { number: { ...number, name: 'Number' } } }, ['number: It was never named.']],
    [
      'a veil that no feed drives',
      { elements: { veil: makeScreenPaint('desaturate', 'Cold', null, 'a0') } },
      ['veil: It lies over the screen all the time: choose a feed, or set Phase.'],
    ],
    [
      'a veil of one phase',
      {
        elements: {
          veil: {
            ...makeScreenPaint('desaturate', 'Cold', null, 'a0'),
            show: { phases: { roaming: 'hidden' }, need: 'all', conditions: [], lingerS: 0 },
          },
        },
      },
      [],
    ],
    ['a draft inside of a text', { elements: { it: text('Tide, TODO: unit') } }, ['it: Its text is still a placeholder.']],
    ['a text that only sounds like one', { elements: { it: text('Mastodon') } }, []],
  ])('%s', (_, more, expected) => {
    expect(allUnfinished(documentWith({}, more)).map(({ id, what }) => `${id}: ${sayLoose(what)}`)).toEqual(expected);
  });
  it('of languages: a text that is in some is told of those it is not in, given to a template too', () => {
    const languages = ['de', 'ar'];
    expect(says({ ...(text('Ebb') as ReturnType<typeof makeText>), translations: { de: 'Ebbe' } }, { languages })).toEqual([
      'It has no text in ar.',
    ]);
    expect(says(text('Ebb'), { languages })).toEqual([]);
    const template = {
      ...makeGroup(onGlass([0, 0]), 'Prompt', 'row', 'a0'),
      template: {
        parameters: { verb: { kind: 'text' as const, initial: 'Use' }, thing: { kind: 'text' as const, initial: '' } },
        only: true,
      },
    };
    const use = {
      ...makeInstance(onGlass([0, 0]), 'prompt', 'Use', 'a2'),
      values: { verb: 'Open {' },
      translations: { verb: { de: 'Auf' } },
    };
    const d = documentWith({ prompt: template, words: makeText(insideOf('prompt'), '{verb}', 'a1'), use }, { languages });
    expect(unfinishedOf(d, 'use').map(sayLoose)).toEqual([
      'Its parameter "thing" has no value.',
      expect.stringMatching(/^Its "verb" cannot be read: /),
      'Its "verb" has no text in ar.',
    ]);
  });
});
