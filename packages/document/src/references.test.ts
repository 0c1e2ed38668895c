/** What refers to what: Low Water has every sort of reference, and any part of it can be taken out without leaving one behind. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import {
  type Document,
  DocumentError,
  findFaults,
  makeDocument,
  makePage,
  makePicture,
  onGlass,
  openingWithout,
  readDocument,
  withFeedRenamed,
  withoutFeed,
  withoutFont,
  withoutPicture,
  withoutRoute,
} from './index.ts';

const demo = readDocument(readFileSync(new URL('../../../demo/low-water.json', import.meta.url), 'utf8'));

describe('what is taken out of Low Water', () => {
  it.each<[string, readonly string[], (id: string) => Document]>([
    ['a feed', Object.keys(demo.feeds), (id) => withoutFeed(demo, id)],
    ['a picture', Object.keys(demo.pictures ?? {}), (id) => withoutPicture(demo, id)],
    ['a font', Object.keys(demo.fonts ?? {}), (id) => withoutFont(demo, id)],
    ['a route', Object.keys(demo.routes), (id) => withoutRoute(demo, id)],
  ])('%s leaves nothing that refers to it', (what, ids, without) => {
    if (what !== 'a font') expect(ids.length).toBeGreaterThan(1);
    for (const id of ids) expect(findFaults(without(id)), id).toEqual([]);
  });
  it('a route or an element that it opened with leaves the rest of how it opens', () => {
    const opening = { route: 'out-to-the-lamp', selection: 'prompt-wheel', timeS: 8 };
    const d: Document = { ...demo, opening };
    expect(withoutRoute(d, 'out-to-the-lamp').opening).toEqual({ selection: 'prompt-wheel', timeS: 8 });
    expect(withoutRoute(d, 'over-the-flats').opening).toEqual(opening);
    expect(openingWithout(d, { elements: ['prompt-wheel'] }).opening).toEqual({ route: 'out-to-the-lamp', timeS: 8 });
    const { opening: _, ...none } = demo;
    expect(openingWithout(none as Document, { route: 'out-to-the-lamp' })).not.toHaveProperty('opening');
  });
});

describe('a hand and a player', () => {
  const [numeric = ''] = Object.entries(demo.feeds).flatMap(([id, { kind }]) => (kind === 'number' ? [id] : []));
  const [text = ''] = Object.entries(demo.feeds).flatMap(([id, { kind }]) => (kind === 'text' ? [id] : []));
  const led = (feed: string): Document => ({
    ...demo,
    ray: { reachM: 10, hands: { right: { rightM: feed, upM: null, aheadM: feed, leftDeg: null, upDeg: null } } },
  });
  it('are led by number feeds and routes that are there, and are told where they are not', () => {
    expect(findFaults(led(numeric))).toEqual([]);
    expect(findFaults(led('gone')).map(({ pointer }) => pointer)).toEqual(['/ray/hands/right/rightM', '/ray/hands/right/aheadM']);
    expect(findFaults(led(text))[0]).toMatchObject({
      pointer: '/ray/hands/right/rightM',
      message: expect.stringMatching(/is a text, not a number/),
    });
    const couch = demo.viewers.couch as Extract<Document['viewers'][string], { kind: 'split' }>;
    const lost = { ...demo, viewers: { ...demo.viewers, couch: { ...couch, players: [{ route: null }, { route: 'gone' }] } } };
    expect(findFaults(lost).map(({ pointer }) => pointer)).toEqual(['/viewers/couch/players/1/route']);
    for (const count of [1, 5]) {
      const wrong = { ...couch, players: Array.from({ length: count }, () => ({ route: null })) };
      expect(findFaults({ ...demo, viewers: { couch: wrong } })).not.toEqual([]);
    }
  });
  it('rest where their feed is taken out, and follow it where it is called otherwise; a player whose route goes is where the bench is', () => {
    expect(withoutFeed(led(numeric), numeric).ray?.hands?.right).toMatchObject({ rightM: null, aheadM: null });
    expect(withFeedRenamed(led(numeric), numeric, 'reached').ray?.hands?.right).toMatchObject({
      rightM: 'reached',
      upM: null,
      aheadM: 'reached',
    });
    const after = withoutRoute(demo, 'down-the-slipway').viewers.couch;
    expect(after).toMatchObject({ players: [{ route: null }, { route: null }] });
  });
});

describe('a reference to what is not there is refused, with where it is', () => {
  /** A copy with one thing changed, whatever it is. */
  const broken = (edit: (d: Record<string, never>) => void): Document => {
    const copy = structuredClone(demo) as unknown as Record<string, never>;
    edit(copy);
    return copy as unknown as Document;
  };
  // biome-ignore lint/suspicious/noExplicitAny: documents that are wrong have no type
  it.each<[string, (d: any) => void]>([
    ['/opening/route', (d) => Object.assign(d.opening, { route: 'gone' })],
    ['/opening/selection', (d) => Object.assign(d.opening, { selection: 'gone' })],
    ['/elements/prompt-wheel/mount/anchor', (d) => Object.assign(d.elements['prompt-wheel'].mount, { anchor: 'gone' })],
    ['/elements/prompt-wheel/press/action', (d) => Object.assign(d.elements['prompt-wheel'].press, { action: 'gone' })],
    ['/elements/prompt-wheel/of', (d) => Object.assign(d.elements['prompt-wheel'], { of: 'gone' })],
    ['/elements/prompt-wheel/of', (d) => Object.assign(d.elements['prompt-wheel'], { of: 'dinghy' })],
    ['/elements/prompt-wheel/show/phases/ashore', (d) => Object.assign(d.elements['prompt-wheel'].show.phases, { ashore: 'hidden' })],
    ['/elements/warmth-bar/source', (d) => Object.assign(d.elements['warmth-bar'], { source: 'gone' })],
    ['/elements/warmth-bar/mount/group', (d) => Object.assign(d.elements['warmth-bar'].mount, { group: 'dinghy' })],
    ['/actions/turn/reactions/1/feed', (d) => Object.assign(d.actions.turn.reactions[1], { feed: 'gone' })],
    ['/level/clips/Door/feed', (d) => Object.assign(d.level.clips.Door, { feed: 'gone' })],
    [
      '/routes/out-to-the-lamp/feeds/0/feed',
      (d) => Object.assign(d.routes['out-to-the-lamp'], { feeds: [{ timeS: 0, feed: 'gone', value: 1 }] }),
    ],
    [
      '/routes/out-to-the-lamp/phases/0/phase',
      (d) => Object.assign(d.routes['out-to-the-lamp'], { phases: [{ timeS: 0, phase: 'gone' }] }),
    ],
  ])('%s', (pointer, edit) => {
    const faults = findFaults(broken(edit as never));
    expect(faults.map((fault) => fault.pointer)).toContain(pointer);
    expect(faults.every(({ message }) => message.length > 10)).toBe(true);
  });
});

describe('pages and pictures', () => {
  const file = (type: 'image/png' | 'text/html') =>
    ({ name: 'File', order: 'a0', hash: '0'.repeat(64), type, widthPx: 4, heightPx: 4 }) as const;
  it('are not taken for one another', () => {
    const d = makeDocument('Low Water');
    d.pictures = { lamp: file('image/png'), table: file('text/html') };
    d.elements.page = makePage(onGlass([0, 0]), 'Page', 'table', 10, 10, 'a0');
    d.elements.picture = makePicture(onGlass([0, 0]), 'Picture', 'lamp', 10, 10, 'a1');
    expect(readDocument(JSON.stringify(d)).elements.page).toMatchObject({ page: 'table' });
    const faults = (edit: (copy: Document) => void) => {
      const copy = structuredClone(d);
      edit(copy);
      try {
        readDocument(JSON.stringify(copy));
        return [];
      } catch (error) {
        if (!(error instanceof DocumentError)) throw error;
        return error.faults.map(({ pointer, message }) => `${pointer}: ${message}`);
      }
    };
    expect(faults((copy) => Object.assign(copy.elements.page as object, { page: 'lamp' }))).toEqual([
      '/elements/page/page: "lamp" is a picture; a page is meant',
    ]);
    expect(faults((copy) => Object.assign(copy.elements.picture as object, { picture: 'table' }))).toEqual([
      '/elements/picture/picture: "table" is a page; a picture is meant',
    ]);
    expect(faults((copy) => Object.assign(copy.elements.page as object, { page: 'gone' }))[0]).toContain('refers to "gone"');
    // Removed, the element stays and shows that it has none.
    expect(withoutPicture(d, 'table').elements.page).toMatchObject({ page: null });
  });
});
