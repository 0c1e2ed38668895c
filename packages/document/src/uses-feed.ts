/** Whether an element refers to a feed. */
import type { Condition, Element } from './types.ts';

export const namesFeed = (conditions: readonly Condition[], feed: string): boolean =>
  conditions.some((c) => (c.kind === 'group' ? namesFeed(c.conditions, feed) : c.feed === feed));

/** Whether an element shows, sets or asks for a feed, but for what its texts name. */
export function usesFeed(element: Element, feed: string): boolean {
  return (
    ('source' in element && element.source === feed) ||
    namesFeed(element.show?.conditions ?? [], feed) ||
    element.pointer?.offWhen?.some((c) => c.feed === feed) === true
  );
}
