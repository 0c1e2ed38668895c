/** Copying elements, and making an instance of a template a group of its own. */
import { renameArgument } from './feed-ids.ts';
import { isAnchored, isMember, pointsAt } from './kinds.ts';
import { freeId } from './make.ts';
import { inOrder } from './order.ts';
import type { Document, Element } from './schema.ts';
import { parameterTranslations, parameterValues, standIn, withParameters } from './template.ts';
import { textsOf } from './texts.ts';
import { usesFeed } from './without.ts';

const membersOf = (document: Document, id: string): [string, Element][] =>
  inOrder(document.elements).filter(([, { mount }]) => isMember(mount) && mount.group === id);

/** What a copy took along and what it still refers to outside of itself. */
export interface Copied {
  document: Document;
  id: string;
  /** Feeds, actions, anchors, pictures and pages that the copy shares with the original, in words. */
  kept: string[];
}

/** Every feed that an element refers to: its source, its conditions, values given to its template, its texts in any language. */
const feedsOf = (document: Document, element: Element): string[] =>
  Object.keys(document.feeds).filter(
    (id) =>
      usesFeed(element, id) ||
      (element.kind === 'instance' && Object.values(element.values).includes(id)) ||
      textsOf(element).some((text) => renameArgument(text, id, `${id}_`) !== text),
  );

function outside(document: Document, element: Element): string[] {
  const out: string[] = [];
  const feed = (id: string | null) => id && out.push(`feed ${document.feeds[id]?.name ?? id}`);
  for (const id of feedsOf(document, element)) feed(id);
  if (element.pointer?.action) out.push(`action ${document.actions?.[element.pointer.action]?.name ?? element.pointer.action}`);
  if (element.press?.action) out.push(`action ${document.actions?.[element.press.action]?.name ?? element.press.action}`);
  if (element.about !== undefined) out.push(`anchor ${document.anchors[element.about]?.name ?? element.about}`);
  for (const { anchor } of pointsAt(element)) out.push(`anchor ${document.anchors[anchor]?.name ?? anchor}`);
  if (isAnchored(element.mount)) out.push(`anchor ${document.anchors[element.mount.anchor]?.name ?? element.mount.anchor}`);
  if (element.kind === 'picture' && element.picture) out.push(`picture ${document.pictures?.[element.picture]?.name ?? element.picture}`);
  if (element.kind === 'page' && element.page) out.push(`page ${document.pictures?.[element.page]?.name ?? element.page}`);
  return out;
}

/** Copies an element with all that is inside. What refers to a part of the original refers to that part of the copy. */
export function copyElement(document: Document, id: string, change: (element: Element) => Element = (e) => e): Copied {
  const elements = { ...document.elements };
  const renamed = new Map<string, string>();
  const kept = new Set<string>();
  const copy = (from: string): string => {
    const element = document.elements[from] as Element;
    const to = freeId(elements, element.name);
    renamed.set(from, to);
    const { mount } = element;
    const within = isMember(mount) ? renamed.get(mount.group) : undefined;
    elements[to] = within && isMember(mount) ? { ...element, mount: { ...mount, group: within } } : element;
    if (within === undefined) elements[to] = change(elements[to] as Element);
    for (const what of outside(document, element)) kept.add(what);
    for (const [member] of membersOf(document, from)) copy(member);
    return to;
  };
  const made = copy(id);
  return { document: { ...document, elements }, id: made, kept: [...kept] };
}

/** Makes an instance a group of its own, with copies of all that is in its template and the values it had. */
export function detach(document: Document, id: string): Copied | null {
  const instance = document.elements[id];
  const template = instance?.kind === 'instance' ? document.elements[instance.of] : undefined;
  if (instance?.kind !== 'instance' || template?.kind !== 'group') return null;
  const values = parameterValues(template, instance);
  const translations = parameterTranslations(template, instance);
  const elements = { ...document.elements };
  const kept = new Set<string>();
  const free = ({ uses: _, ...rest }: Element): Element => rest as Element;
  elements[id] = free(withParameters(standIn(template, instance), values, translations));
  const below = (from: string, into: string): void => {
    for (const [member, element] of membersOf(document, from)) {
      const to = freeId(elements, element.name);
      const mount = { ...element.mount, group: into } as Element['mount'];
      elements[to] = free(withParameters({ ...element, mount }, values, translations));
      for (const what of outside(document, elements[to] as Element)) kept.add(what);
      below(member, to);
    }
  };
  below(instance.of, id);
  return { document: { ...document, elements }, id, kept: [...kept] };
}
