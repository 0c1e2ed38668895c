/** What is unfinished: values that no feed supplies, gauges without a source, unused actions, placeholders left in. Words are not made here. */
import { finished } from '@foreshore/core';
import { type Document, type Element, isAnchored, isMember, KINDS, textsOf } from '@foreshore/document';
import { argumentsOf, messageFault } from '@foreshore/text';

/** Whole texts and names that nobody means to ship, and words that mark any text as a draft. */
const PLACEHOLDERS = new Set(['', 'text', 'label', 'title', 'name', 'placeholder', 'untitled', 'sample text', 'xxx', '???']);
const DRAFT = /\blorem ipsum\b|\b(TODO|FIXME|TBD)\b/i;
const isPlaceholder = (text: string): boolean => PLACEHOLDERS.has(text.trim().toLowerCase()) || DRAFT.test(text);
/** Names as they are given to what is new. */
const NEW_FEED = /^(number|words|flag|event|list)( \d+)?$/i;
const NEW_ACTION = /^action( \d+)?$/i;

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

/** Whether the outermost element around one is merged with others of its kind: then texts may say how many it stands for. */
function mergesAround(document: Document, element: Element): boolean {
  const up = isMember(element.mount) ? document.elements[element.mount.group] : undefined;
  return up ? mergesAround(document, up) : element.place.many?.mergePx !== undefined;
}

/** Parameters of the template that an element is inside of. */
function parametersAround(document: Document, element: Element): Set<string> {
  const out = new Set<string>();
  for (let at: Element | undefined = element; at; at = isMember(at.mount) ? document.elements[at.mount.group] : undefined)
    if (at.kind === 'group') for (const name of Object.keys(at.template?.parameters ?? {})) out.add(name);
  return out;
}

/** Whether neither a phase nor a condition ever hides what is set so. */
const isAlwaysOn = (show: Element['show']): boolean => !show || (Object.keys(show.phases).length === 0 && show.conditions.length === 0);

/** One loose end. `of` is a parameter of a template, null where it is the element's own text. */
export type Loose =
  | { kind: 'unreadable'; of: string | null; message: string }
  | { kind: 'untranslated'; of: string | null; language: string }
  | { kind: 'placeholder' | 'unnamed' | 'unsent' | 'emptyGroup' }
  | { kind: 'noFeed'; name: string }
  | { kind: 'noEvent'; anchor: string }
  | { kind: 'noAction'; on: 'pointer' | 'key' }
  | { kind: 'deadAction'; action: string }
  | { kind: 'keyOfNothing' | 'alwaysOver' | 'noSource' | 'noPicture' }
  | { kind: 'wrongSource'; feed: string; wanted: string }
  | { kind: 'noValue'; of: string };

/** Languages that a text which is in some others is not in. */
const untranslated = (document: Document, of: string | null, translations: Record<string, string> | undefined): Loose[] =>
  (document.languages ?? [])
    .filter((tag) => translations && !translations[tag])
    .map((language) => ({ kind: 'untranslated', of, language }));

/** What is loose about one element. */
export function unfinishedOf(document: Document, id: string): Loose[] {
  const element = document.elements[id];
  if (!element) return [];
  const out: Loose[] = [];
  if (element.kind === 'label') {
    const fault = messageFault(element.text);
    if (fault) out.push({ kind: 'unreadable', of: null, message: fault.message });
    if (isPlaceholder(element.text)) out.push({ kind: 'placeholder' });
    // What stands at many nodes takes from them what no feed is called.
    const many = standsAtMany(document, element);
    const parameters = parametersAround(document, element);
    for (const name of new Set(textsOf(element).flatMap((text) => [...argumentsOf(text)])))
      if (!document.feeds[name] && !many && !parameters.has(name) && !(name === 'merged' && mergesAround(document, element)))
        out.push({ kind: 'noFeed', name });
    if (element.text.trim() && argumentsOf(element.text).length === 0) out.push(...untranslated(document, null, element.translations));
  }
  const anchor = isAnchored(element.mount) ? document.anchors[element.mount.anchor] : undefined;
  if (anchor?.kind === 'event' && anchor.feed === null) out.push({ kind: 'noEvent', anchor: anchor.name });
  if (element.pointer?.takes === 'acts') {
    const { action } = element.pointer;
    if (action === null && !KINDS[element.kind].sets) out.push({ kind: 'noAction', on: 'pointer' });
    else if (action !== null && document.actions?.[action]?.reactions.length === 0)
      out.push({ kind: 'deadAction', action: document.actions[action]?.name ?? action });
  }
  const isPattern = element.kind === 'group' && element.template?.only === true;
  if (element.press && !isPattern) {
    const { action } = element.press;
    if (action === null) out.push({ kind: 'noAction', on: 'key' });
    else if (document.actions?.[action]?.reactions.length === 0)
      out.push({ kind: 'deadAction', action: document.actions[action]?.name ?? action });
  }
  if (element.kind === 'key' && element.action === null && !pressAround(document, element)) out.push({ kind: 'keyOfNothing' });
  if (element.kind === 'screenPaint' && element.source === null) {
    if (isAlwaysOn(element.show)) out.push({ kind: 'alwaysOver' });
  } else if ('source' in element && element.source === null && !element.uses?.source) out.push({ kind: 'noSource' });
  if ('source' in element && element.source !== null) {
    const wanted = KINDS[element.kind].source;
    if (wanted && document.feeds[element.source]?.kind !== wanted)
      out.push({ kind: 'wrongSource', feed: document.feeds[element.source]?.name ?? element.source, wanted });
  }
  if (element.kind === 'picture' && element.picture === null && !element.uses?.picture) out.push({ kind: 'noPicture' });
  if (element.kind === 'gauge' && element.form.kind === 'picture' && element.form.picture === null) out.push({ kind: 'noPicture' });
  if (element.kind === 'instance') {
    const template = document.elements[element.of];
    const parameters = template?.kind === 'group' ? (template.template?.parameters ?? {}) : {};
    for (const [name, { initial }] of Object.entries(parameters))
      if ((element.values[name] ?? initial ?? '') === '') out.push({ kind: 'noValue', of: name });
    for (const [name, value] of Object.entries(element.values)) {
      if (parameters[name]?.kind !== 'text' || typeof value !== 'string') continue;
      const fault = messageFault(value);
      if (fault) out.push({ kind: 'unreadable', of: name, message: fault.message });
      out.push(...untranslated(document, name, element.translations?.[name]));
    }
  }
  if (
    element.kind === 'group' &&
    !Object.values(document.elements).some(({ mount }) => isMember(mount) && mount.group === id) &&
    !element.paint.plate
  )
    out.push({ kind: 'emptyGroup' });
  return out;
}

/** A loose end, and of what. */
export interface Unfinished {
  at: 'element' | 'feed' | 'action';
  id: string;
  name: string;
  what: Loose;
}

/** Every action that an element or a reaction of another action sends, or that is given to a template. */
function actionsSent(document: Document): Set<string> {
  const sent = new Set<string>();
  for (const element of Object.values(document.elements)) {
    const { motion } = element;
    const moves = [motion?.enter?.sends, motion?.leave?.sends];
    for (const action of [element.pointer?.action, element.press?.action, element.kind === 'key' ? element.action : null, ...moves])
      if (action) sent.add(action);
    if (element.kind === 'instance') for (const value of Object.values(element.values)) if (typeof value === 'string') sent.add(value);
  }
  for (const [id, { reactions }] of Object.entries(document.actions ?? {}))
    for (const reaction of reactions) if (reaction.kind === 'send' && reaction.action !== id) sent.add(reaction.action);
  return sent;
}

/** All that is unfinished in a document, elements first. */
export const allUnfinished = (document: Document): Unfinished[] => finished(unfinishedInParts(document));

/** So many elements are gone through before others are let in. */
const AT_ONCE = 100;

/** The same in parts, for who must not be silent for long. */
export function* unfinishedInParts(document: Document): Generator<void, Unfinished[]> {
  const sent = actionsSent(document);
  const out: Unfinished[] = [];
  let some = 0;
  for (const [id, { name }] of Object.entries(document.elements)) {
    for (const what of unfinishedOf(document, id)) out.push({ at: 'element', id, name, what });
    if (isPlaceholder(name) && !('text' in (document.elements[id] ?? {}))) out.push({ at: 'element', id, name, what: { kind: 'unnamed' } });
    if (++some % AT_ONCE === 0) yield;
  }
  for (const [id, { name }] of Object.entries(document.feeds))
    if (isPlaceholder(name) || NEW_FEED.test(name.trim())) out.push({ at: 'feed', id, name, what: { kind: 'unnamed' } });
  for (const [id, { name }] of Object.entries(document.actions ?? {})) {
    if (NEW_ACTION.test(name.trim()) || isPlaceholder(name)) out.push({ at: 'action', id, name, what: { kind: 'unnamed' } });
    if (!sent.has(id)) out.push({ at: 'action', id, name, what: { kind: 'unsent' } });
  }
  return out;
}
