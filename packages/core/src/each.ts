/** Feeds that have a value for each object: which rows read which, and what a value is before anybody says it. */

import { keyAt } from '@foreshore/document/key-at';
import type { Document, Element, Feed, FeedValue } from '@foreshore/document/types';
import { usesFeed } from '@foreshore/document/uses-feed';
import type { Compiled } from './compiled.ts';
import type { Level } from './level.ts';

/** Whether an element reads a feed, or may: its source, its conditions, or a name in its texts. */
function mayRead(element: Element, feed: string, parameters: readonly unknown[]): boolean {
  if (usesFeed(element, feed)) return true;
  if (element.kind !== 'label') return false;
  // By a parameter, a text names the feed otherwise.
  return parameters.includes(feed) || [element.text, ...Object.values(element.translations ?? {})].some((text) => text.includes(feed));
}

/**
 * All values of a document's rows.
 * @param count of rows.
 * @param rowsOf gives each with its element, what its parameters stand for, and the node that it stands at or is about, or −1; asked only where
 * a feed has a value for each object.
 */
export function valuesOfRows(
  feeds: readonly (readonly [string, Feed])[],
  count: number,
  rowsOf: () => readonly { element: Element; parameters: readonly unknown[]; node: number }[],
  level: Level | null,
): Pick<Compiled, 'feedIds' | 'feedOf' | 'feedNode' | 'eachFeeds' | 'eachValue'> {
  const feedIds = feeds.map(([id]) => id);
  const feedOf = [...feedIds];
  const feedNode = feedIds.map(() => -1);
  const eachFeeds = feeds.flatMap(([, { each }], k) => (each ? [k] : []));
  const eachValue = new Int32Array(eachFeeds.length * count);
  const rows = eachFeeds.length > 0 ? rowsOf() : [];
  eachFeeds.forEach((own, k) => {
    const feed = feedIds[own] as string;
    const read = rows.map(({ element, parameters, node }) => (node >= 0 && mayRead(element, feed, parameters) ? node : -1));
    const ofNode = new Map<number, number>([[-1, own]]);
    // In the level's order, not that of rows: of the same elements in another order, as a headset has them, the values are the same.
    for (const node of [...new Set(read)].sort((a, b) => a - b)) {
      if (node < 0) continue;
      ofNode.set(node, feedIds.length);
      feedIds.push(keyAt(feed, level?.nodeIds[node] ?? ''));
      feedOf.push(feed);
      feedNode.push(node);
    }
    read.forEach((node, row) => {
      eachValue[k * count + row] = ofNode.get(node) as number;
    });
  });
  return { feedIds, feedOf, feedNode: Int32Array.from(feedNode), eachFeeds, eachValue };
}

const KIND: Partial<Record<Feed['kind'], string>> = { number: 'number', text: 'string', flag: 'boolean' };

/** What the object of a value carries under its feed's name or id, where that is of its kind; undefined where it carries none, or has no object. */
export function carriedValue({ level, feedNode, feedOf, document }: Compiled, k: number): FeedValue | undefined {
  const node = feedNode[k] as number;
  if (node < 0) return undefined;
  const id = feedOf[k] as string;
  const feed = (document as Document).feeds[id];
  const carried = level?.nodeProperties[node];
  const value = carried?.[feed?.name ?? ''] ?? carried?.[id];
  return value !== undefined && typeof value === KIND[feed?.kind ?? 'event'] ? value : undefined;
}
