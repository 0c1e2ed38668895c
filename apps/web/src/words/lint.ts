/** What is not wired yet: values nobody supplies, gauges without a source, placeholders left in. */
import { type Document, type Element, isAnchored, isMember, KINDS, textsOf } from '@foreshore/document';
import { argumentsOf, messageFault } from '@foreshore/text';

const PLACEHOLDERS = new Set(['', 'text', 'label', 'lorem ipsum', 'todo', 'tbd', 'xxx']);

function standsAtMany(document: Document, element: Element | undefined): boolean {
  if (!element) return false;
  if (isMember(element.mount)) return standsAtMany(document, document.elements[element.mount.group]);
  return isAnchored(element.mount) && document.anchors[element.mount.anchor]?.kind === 'nodes';
}

/** Whether an element is inside of one that a key acts on. */
function pressAround(document: Document, element: Element): boolean {
  if (element.press) return true;
  const up = isMember(element.mount) ? document.elements[element.mount.group] : undefined;
  return up !== undefined && pressAround(document, up);
}

/** Parameters of the template that an element is inside of. */
function parametersAround(document: Document, element: Element): Set<string> {
  const out = new Set<string>();
  for (let at: Element | undefined = element; at; at = isMember(at.mount) ? document.elements[at.mount.group] : undefined)
    if (at.kind === 'group') for (const name of Object.keys(at.template?.parameters ?? {})) out.add(name);
  return out;
}

/** Languages that a text which is in some others is not in. */
const untranslated = (document: Document, what: string, translations: Record<string, string> | undefined): string[] =>
  (document.languages ?? []).filter((tag) => translations && !translations[tag]).map((tag) => `${what} has no text in ${tag}.`);

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
    const parameters = parametersAround(document, element);
    for (const name of new Set(textsOf(element).flatMap((text) => [...argumentsOf(text)])))
      if (!document.feeds[name] && !many && !parameters.has(name)) out.push(`Its text names "${name}", which no feed supplies.`);
    if (element.text.trim() && argumentsOf(element.text).length === 0) out.push(...untranslated(document, 'It', element.translations));
  }
  const anchor = isAnchored(element.mount) ? document.anchors[element.mount.anchor] : undefined;
  if (anchor?.kind === 'event' && anchor.feed === null) out.push(`Its anchor "${anchor.name}" has no event: choose one under Attach.`);
  if (element.pointer?.takes === 'acts') {
    const { action } = element.pointer;
    if (action === null && !KINDS[element.kind].sets) out.push('It acts on the pointer but sends no action.');
    else if (action !== null && document.actions?.[action]?.reactions.length === 0)
      out.push(`Nothing is done on its action "${document.actions[action]?.name}".`);
  }
  const isPattern = element.kind === 'group' && element.template?.only === true;
  if (element.press && !isPattern) {
    const { action } = element.press;
    if (action === null) out.push('A key acts on it but it sends no action: choose one under Key.');
    else if (document.actions?.[action]?.reactions.length === 0)
      out.push(`Nothing is done on its action "${document.actions[action]?.name}".`);
  }
  if (element.kind === 'key' && element.action === null && !pressAround(document, element))
    out.push('It is in no prompt and stands for no action.');
  if ('source' in element && element.kind !== 'screenPaint' && element.source === null && !element.uses?.source)
    out.push('It has no source: choose a feed.');
  if ('source' in element && element.source !== null) {
    const wanted = KINDS[element.kind].source;
    if (document.feeds[element.source]?.kind !== wanted)
      out.push(`Its source "${document.feeds[element.source]?.name}" is not a ${wanted}.`);
  }
  if (element.kind === 'picture' && element.picture === null && !element.uses?.picture) out.push('It has no picture: choose one.');
  if (element.kind === 'gauge' && element.form.kind === 'picture' && element.form.picture === null)
    out.push('It has no picture: choose one.');
  if (element.kind === 'instance') {
    const template = document.elements[element.of];
    const parameters = template?.kind === 'group' ? (template.template?.parameters ?? {}) : {};
    for (const [name, { initial }] of Object.entries(parameters))
      if ((element.values[name] ?? initial ?? '') === '') out.push(`Its parameter "${name}" has no value.`);
    for (const [name, value] of Object.entries(element.values)) {
      if (parameters[name]?.kind !== 'text' || typeof value !== 'string') continue;
      const fault = messageFault(value);
      if (fault) out.push(`Its "${name}" cannot be read: ${fault.message}.`);
      out.push(...untranslated(document, `Its "${name}"`, element.translations?.[name]));
    }
  }
  if (
    element.kind === 'group' &&
    !Object.values(document.elements).some(({ mount }) => isMember(mount) && mount.group === id) &&
    !element.paint.plate
  )
    out.push('It is empty and paints nothing.');
  return out;
}

export const allUnwired = (document: Document): { id: string; name: string; what: string }[] =>
  Object.entries(document.elements).flatMap(([id, { name }]) => unwired(document, id).map((what) => ({ id, name, what })));
