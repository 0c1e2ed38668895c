/** Ids of feeds stand in messages, and a new one goes wherever the old one stood. */

import { readFileSync } from 'node:fs';
import { argumentsOf, messageFault } from '@foreshore/text';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Document, findFaults, freeFeedId, isFeedId, renameArgument, withFeedRenamed } from './index.ts';

describe('a new id of a feed', () => {
  it.each([
    ['Water level', {}, 'waterLevel'],
    ['Water level', { waterLevel: 1 }, 'waterLevel2'],
    // The accent is left out, what has no letter of its own parts two words.
    ['Größe', {}, 'groE'],
    ['2 lamps', {}, 'feed2Lamps'],
    ['', {}, 'feed'],
    ['constructor', {}, 'constructor2'],
  ])('made from "%s" is readable', (name, taken, id) => {
    expect(freeFeedId(taken, name)).toBe(id);
  });
  it('stands in a message as it is, whatever the name (property)', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 80 }), fc.nat(3), (name, taken) => {
        const feeds: Record<string, number> = {};
        for (let k = 0; k < taken; k++) feeds[freeFeedId(feeds, name)] = k;
        const id = freeFeedId(feeds, name);
        expect(isFeedId(id)).toBe(true);
        expect(feeds[id]).toBeUndefined();
        for (const message of [`{${id}}`, `{${id}, number, ::.0} m`]) {
          expect(messageFault(message)).toBeNull();
          expect(argumentsOf(message)).toEqual([id]);
        }
      }),
    );
  });
});

describe('an argument of a message', () => {
  it.each([
    ['{tide} m', '{level} m'],
    ['{ tide , number, ::.0} m and {tides}', '{ level , number, ::.0} m and {tides}'],
    ["'{tide}' is {tide}", "'{tide}' is {level}"],
    ['{tide, plural, one {# of {tide}} other {{tide}}}', '{level, plural, one {# of {level}} other {{level}}}'],
    ['tide', 'tide'],
  ])('%s becomes %s', (message, renamed) => {
    expect(renameArgument(message, 'tide', 'level')).toBe(renamed);
  });
});

describe('a feed that is renamed', () => {
  const demo = (): Document => JSON.parse(readFileSync(new URL('../../../demo/low-water.json', import.meta.url), 'utf8'));
  it('is found nowhere by its old id, and everything still holds', () => {
    const document = demo();
    for (const feed of Object.keys(document.feeds)) {
      const renamed = withFeedRenamed(document, feed, 'quiteAnother');
      expect(findFaults(renamed)).toEqual([]);
      // Nothing but names that only look alike is left of it: ids of elements, anchors, parameters.
      const { feeds, elements, routes, actions } = renamed;
      expect(feeds[feed]).toBeUndefined();
      for (const e of Object.values(elements)) if ('source' in e) expect(e.source).not.toBe(feed);
      for (const r of Object.values(routes)) expect(r.feeds.some((f) => f.feed === feed)).toBe(false);
      expect(JSON.stringify(actions)).not.toContain(`"feed":"${feed}"`);
      expect(withFeedRenamed(renamed, 'quiteAnother', feed)).toEqual({ ...document, feeds: expect.any(Object) });
    }
  });
  it('must have an id that stands in a text and is free', () => {
    expect(() => withFeedRenamed(demo(), 'tide', 'tide-2')).toThrow(/cannot stand in a text/);
    expect(() => withFeedRenamed(demo(), 'tide', 'lamp')).toThrow(/already/);
  });
});
