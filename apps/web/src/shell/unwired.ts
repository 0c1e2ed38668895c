/** What is not wired yet: values nobody supplies, gauges without a source, placeholders left in. */
import type { Document, Element } from '@foreshore/document';
import { argumentsOf, messageFault } from '@foreshore/text';

const PLACEHOLDERS = new Set(['', 'text', 'label', 'lorem ipsum', 'todo', 'tbd', 'xxx']);

function standsAtMany(document: Document, element: Element | undefined): boolean {
  if (!element) return false;
  if (element.mount.kind === 'inside') return standsAtMany(document, document.elements[element.mount.group]);
  return element.mount.kind === 'floating' && document.anchors[element.mount.anchor]?.kind === 'nodes';
}

/** What is loose about one element, a sentence each. */
export function unwired(document: Document, id: string): string[] {
  const element = document.elements[id];
  if (!element) return [];
  const out: string[] = [];
  if (element.kind === 'label') {
    const fault = messageFault(element.text);
    if (fault) out.push(`Its text cannot be read: ${fault.message}.`);
    if (PLACEHOLDERS.has(element.text.trim().toLowerCase())) out.push('Its text is still a placeholder.');
    // What stands at many nodes takes from them what no feed is called.
    const many = standsAtMany(document, element);
    for (const name of argumentsOf(element.text))
      if (!document.feeds[name] && !many) out.push(`Its text names "${name}", which no feed supplies.`);
  }
  if (element.pointer?.takes === 'acts') {
    const { action } = element.pointer;
    if (action === null) out.push('It acts on the pointer but sends no action.');
    else if (document.actions?.[action]?.reactions.length === 0)
      out.push(`Nothing is done on its action "${document.actions[action]?.name}".`);
  }
  if (element.kind === 'gauge' && element.source === null) out.push('It has no source: choose a feed.');
  if (element.kind === 'gauge' && element.source !== null && document.feeds[element.source]?.kind !== 'number')
    out.push(`Its source "${document.feeds[element.source]?.name}" is not a number.`);
  if (
    element.kind === 'group' &&
    !Object.values(document.elements).some(({ mount }) => mount.kind === 'inside' && mount.group === id) &&
    !element.paint.plate
  )
    out.push('It is empty and paints nothing.');
  return out;
}

export const allUnwired = (document: Document): { id: string; name: string; what: string }[] =>
  Object.entries(document.elements).flatMap(([id, { name }]) => unwired(document, id).map((what) => ({ id, name, what })));
