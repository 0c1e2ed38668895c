/** A document with only some of its elements, and what these use. */
import { isBuiltIn } from '@foreshore/core';
import { anchorOf, anchorsBetween, type Document, inOrder, pointsAt } from '@foreshore/document';
import { contractOf, readersOf } from './contract.ts';

/** These elements, what is inside of them, the templates they are of; actions that they send, and feeds that anything left reads. */
export function withElements(document: Document, ids: readonly string[]): Document {
  const kept = new Set<string>();
  const keep = (id: string): void => {
    const element = document.elements[id];
    if (!element || kept.has(id)) return;
    kept.add(id);
    if (element.kind === 'instance') keep(element.of);
    for (const [other, { mount }] of inOrder(document.elements)) if (mount.kind === 'inside' && mount.group === id) keep(other);
  };
  for (const id of ids) keep(id);
  const only = <T>(record: Record<string, T>, wanted: (id: string) => boolean): Record<string, T> =>
    Object.fromEntries(Object.entries(record).filter(([id]) => wanted(id)));
  const some: Document = { ...document, elements: only(document.elements, (id) => kept.has(id)) };
  const anchors = anchorsUsed(some);
  some.anchors = only(document.anchors, (id) => anchors.has(id));
  const sent = new Set(contractOf(some).actions.flatMap(({ id, senders }) => (senders.length > 0 ? [id] : [])));
  // What an action sends in its turn comes along.
  for (const id of sent)
    for (const reaction of document.actions?.[id]?.reactions ?? []) if (reaction.kind === 'send') sent.add(reaction.action);
  if (some.actions) {
    // Reactions on elements that stay behind stay behind.
    const left = ({ kind, ...of }: { kind: string; element?: string }) =>
      (kind === 'show' || kind === 'motion') && !kept.has(of.element ?? '');
    some.actions = Object.fromEntries(
      Object.entries(only(some.actions, (id) => sent.has(id))).map(([id, action]) => [
        id,
        { ...action, reactions: action.reactions.filter((reaction) => !left(reaction)) },
      ]),
    );
  }
  some.feeds = only(some.feeds, (id) => readersOf(some, id).length > 0 || isBuiltIn(some.feeds[id]?.source));
  return some;
}

/** Anchors that elements hang on or are about, that built-in feeds tell of, and the ends of those between two. */
function anchorsUsed({ elements, feeds, anchors }: Document): Set<string> {
  const used = new Set<string>();
  const use = (id: string | null): void => {
    const anchor = id === null || used.has(id) ? undefined : anchors[id];
    if (id === null || !anchor) return;
    used.add(id);
    if (anchor.kind === 'midpoint') {
      use(anchor.first);
      use(anchor.second);
    }
  };
  for (const element of Object.values(elements)) {
    use(anchorOf(element));
    use(element.place.span?.to ?? null);
    for (const { anchor } of pointsAt(element)) use(anchor);
  }
  for (const { source } of Object.values(feeds)) {
    if (source && 'anchor' in source) use(source.anchor);
    if (source?.kind === 'between') for (const { anchor } of anchorsBetween(source)) use(anchor);
  }
  return used;
}
