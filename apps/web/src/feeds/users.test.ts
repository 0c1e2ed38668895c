/** What feeds are used by. */
import { type Document, type Feed, makeDocument, makeGauge, makeInstance, makeLabel, makeText, onGlass } from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { feedUsers } from './users.ts';

const number: Feed = { name: 'Tide', order: 'a0', kind: 'number', unit: 'm', initial: 0 };
const documentWith = (elements: Document['elements'], more: Partial<Document> = {}): Document => ({
  ...makeDocument('Low Water'),
  feeds: { tide: number, lit: { ...number, name: 'Lit', kind: 'flag', initial: false } },
  elements,
  ...more,
});
const bar = { kind: 'bar', widthPx: 90, heightPx: 9, towards: 'right', radiusPx: 0 } as const;
const text = (words: string) => makeText(onGlass([0, 0]), words, 'a0');

describe('what a feed is used by', () => {
  it('is texts in any language, gauges, conditions, values given to templates, and routes', () => {
    const d = documentWith(
      {
        a: { ...text('{tide} m'), name: 'In a text' },
        b: { ...text('Ebb'), name: 'In German', translations: { de: 'Tide {tide}' } },
        c: makeGauge(onGlass([0, 0]), 'In a bar', 'tide', bar, 'a2'),
        d: {
          ...text('Lit'),
          name: 'In a condition',
          show: { phases: {}, need: 'all', conditions: [{ kind: 'compare', feed: 'tide', is: 'above', value: 1, leave: 0 }], lingerS: 0 },
        },
        e: { ...makeInstance(onGlass([0, 0]), 'a', 'In a value', 'a4'), values: { thing: 'Board, {tide}' } },
        f: { ...makeLabel('spot', 'Lamp', 'a5'), name: 'In none' },
      },
      { routes: { out: { name: 'On a route', order: 'a0', poses: [], feeds: [{ timeS: 0, feed: 'tide', value: 1 }], phases: [] } } },
    );
    expect(feedUsers(d)).toEqual({
      tide: ['In a text', 'In German', 'In a bar', 'In a condition', 'In a value', 'On a route'],
      lit: [],
    });
  });
});
