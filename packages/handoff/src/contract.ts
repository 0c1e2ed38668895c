/**
 * The contract between an interface and its game: the values that the game supplies, and the actions that it hears of. As data, as a
 * JSON Schema, as a TypeScript declaration, and compared with an older one.
 */
import { isBuiltIn } from '@foreshore/core';
import { anchorOf, type Document, elementsThatSend, type FeedValue, groupOf, inOrder, textsOf, usesFeed } from '@foreshore/document';
import { argumentsOf } from '@foreshore/text';

export interface ContractFeed {
  id: string;
  name: string;
  kind: 'number' | 'text' | 'flag' | 'list' | 'event';
  unit: string;
  range: readonly [number, number] | null;
  /** It has a value for each object, by the name of the object's node. */
  each: boolean;
  /** What it starts with on the bench: an example, no default. */
  example: FeedValue;
  /** Names of the elements, actions and animations that read it. */
  readers: string[];
}
export interface ContractAction {
  id: string;
  name: string;
  /** Names of the elements that send it, and what each sends it at: a node, an anchor, every node of a pattern, or nothing. */
  senders: { element: string; target: string | null }[];
}
export interface Contract {
  project: string;
  feeds: ContractFeed[];
  /** Values that the runtime works out by itself: nobody supplies them. */
  builtIn: string[];
  phases: { id: string; name: string; takesInput: boolean }[];
  actions: ContractAction[];
  /** Nodes of the level that the interface hangs on; where they move, the game says so. */
  nodes: string[];
}

/** Names of the elements, actions, animations and hands that read or set a feed. */
export function readersOf(document: Document, feed: string): string[] {
  const { elements, anchors, actions, level, ray } = document;
  const readers = Object.values(elements).flatMap((element) => {
    const values = element.kind === 'instance' ? Object.values(element.values) : [];
    const named = textsOf(element).some((text) => argumentsOf(text).includes(feed));
    return named || usesFeed(element, feed) || values.includes(feed) ? [element.name] : [];
  });
  for (const { name, ...anchor } of Object.values(anchors)) if (anchor.kind === 'event' && anchor.feed === feed) readers.push(name);
  for (const { name, reactions } of Object.values(actions ?? {}))
    if (reactions.some((r) => r.when.some((c) => c.feed === feed) || ('feed' in r && r.feed === feed))) readers.push(`the action ${name}`);
  for (const [clip, drive] of Object.entries(level?.clips ?? {})) if (drive.feed === feed) readers.push(`the animation ${clip}`);
  for (const side of ['left', 'right'] as const)
    if (Object.values(ray?.hands?.[side] ?? {}).includes(feed)) readers.push(`the ${side} hand`);
  return [...new Set(readers)].sort();
}

/** What an element, or the nearest element around it, is about: a node, an anchor, or every node of a pattern. */
function targetOf(document: Document, id: string): string | null {
  const { elements, anchors } = document;
  let element = elements[id];
  while (element) {
    const anchor = anchorOf(element);
    const found = anchor === null ? undefined : anchors[anchor];
    if (found) return found.kind === 'nodes' ? found.pattern : found.kind === 'node' && found.node ? found.node : anchor;
    const group = groupOf(element);
    element = group === null ? undefined : elements[group];
  }
  return null;
}

function sendersOf(document: Document, action: string): ContractAction['senders'] {
  return elementsThatSend(document, action)
    .map((id) => ({ element: document.elements[id]?.name ?? id, target: targetOf(document, id) }))
    .sort((a, b) => (a.element < b.element ? -1 : 1));
}

export function contractOf(document: Document): Contract {
  const feeds = inOrder(document.feeds);
  const nodes = Object.values(document.anchors).flatMap((a) =>
    (a.kind === 'node' || a.kind === 'surface') && a.node !== null ? [a.node] : a.kind === 'nodes' ? [a.pattern] : [],
  );
  return {
    project: document.name,
    feeds: feeds
      .filter(([, { source }]) => !isBuiltIn(source))
      .map(([id, { name, kind, unit, range, initial, each }]) => ({
        id,
        name,
        kind,
        unit,
        range: range ?? null,
        each: each === true,
        example: initial,
        readers: readersOf(document, id),
      })),
    builtIn: feeds.filter(([, { source }]) => isBuiltIn(source)).map(([id]) => id),
    phases: inOrder(document.phases).map(([id, { name, takesInput }]) => ({ id, name, takesInput: takesInput === true })),
    actions: inOrder(document.actions ?? {}).map(([id, { name }]) => ({ id, name, senders: sendersOf(document, id) })),
    nodes: [...new Set(nodes)].sort(),
  };
}

const EVENT = {
  type: 'object',
  description: 'How many have happened, and where the last one did: metres, or the chosen convention; null where that is no place.',
  properties: {
    number: { type: 'integer', minimum: 0 },
    place: { type: ['array', 'null'], items: { type: 'number' }, minItems: 3, maxItems: 3 },
  },
  required: ['number', 'place'],
  additionalProperties: false,
};

function valueSchema(feed: ContractFeed): Record<string, unknown> {
  const { kind, range, each } = feed;
  if (each) return { type: 'object', additionalProperties: valueSchema({ ...feed, each: false }) };
  if (kind === 'number') return { type: 'number', ...(range && { minimum: range[0], maximum: range[1] }) };
  if (kind === 'flag') return { type: 'boolean' };
  if (kind === 'list') return { type: 'array', items: { type: ['string', 'number', 'boolean'] } };
  return kind === 'event' ? EVENT : { type: 'string' };
}

/** JSON Schema of one message each way: `#/$defs/values` from the game, `#/$defs/action` to it. */
export function contractSchema({ project, feeds, phases, actions }: Contract): Record<string, unknown> {
  const described = (feed: ContractFeed) => {
    const read = feed.readers.length ? `Read by ${feed.readers.join(', ')}.` : 'Read by nothing.';
    const whose = feed.each ? 'A value for each object, by the name of its node. ' : '';
    return { ...valueSchema(feed), title: feed.name, description: `${whose}${feed.unit ? `In ${feed.unit}. ` : ''}${read}` };
  };
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: `What ${project} and its game say to one another`,
    $defs: {
      values: {
        type: 'object',
        properties: Object.fromEntries(feeds.map((feed) => [feed.id, described(feed)])),
        additionalProperties: false,
      },
      phase: { enum: [...phases.map(({ id }) => id), null] },
      action: {
        type: 'object',
        properties: {
          action: { enum: actions.map(({ id }) => id) },
          name: { type: 'string' },
          source: { type: 'string', description: 'The row that sends it.' },
          target: { type: ['string', 'null'], description: 'A node of the level, or an anchor.' },
        },
        required: ['action', 'name', 'source', 'target'],
        additionalProperties: false,
      },
    },
    oneOf: [{ $ref: '#/$defs/values' }, { $ref: '#/$defs/action' }],
  };
}

const TYPES: Record<ContractFeed['kind'], string> = {
  number: 'number',
  text: 'string',
  flag: 'boolean',
  list: 'readonly (string | number | boolean)[]',
  event: '{ number: number; place: [number, number, number] | null }',
};
const quoted = (text: string): string => `'${text.replace(/[\\']/g, '\\$&')}'`;
/** A comment may not end itself. */
const comment = (text: string): string => text.replaceAll('*/', '* /').replace(/\s+/g, ' ');
const union = (ids: readonly string[]): string => ids.map(quoted).join(' | ') || 'never';

/** The same as a TypeScript declaration. */
export function contractTypes({ project, feeds, phases, actions }: Contract): string {
  const feedLine = (feed: ContractFeed) => {
    const facts = [
      feed.name,
      feed.unit && `in ${feed.unit}`,
      feed.range && `${feed.range[0]} to ${feed.range[1]}`,
      feed.each && "of each object, by its node's name",
    ].filter(Boolean);
    const type = feed.each ? `Record<string, ${TYPES[feed.kind]}>` : TYPES[feed.kind];
    return `  /** ${comment(facts.join(', '))}. */\n  ${quoted(feed.id)}: ${type};`;
  };
  const actionLine = ({ id, name, senders }: ContractAction) => {
    const by = senders.map(({ element, target }) => (target ? `${element} at ${target}` : element)).join(', ');
    return `  /** ${comment(`${name}${by ? `: sent by ${by}` : ''}`)}. */\n  ${quoted(id)}: { source: string; target: string | null };`;
  };
  return [
    `/** What the interface of ${comment(project)} and its game say to one another. Written by Foreshore; do not edit. */`,
    '',
    '/** What the game supplies. */',
    'export interface Feeds {',
    ...feeds.map(feedLine),
    '}',
    '',
    '/** What the game hears of. */',
    'export interface Actions {',
    ...actions.map(actionLine),
    '}',
    '',
    `export type Phase = ${union(phases.map(({ id }) => id))};`,
    '',
  ].join('\n');
}

/** What a game that was written for one contract must change for another. */
export interface ContractChange {
  /** `breaks`: the game must change; `new`: it may; `gone`: it does something for nothing. */
  weight: 'breaks' | 'new' | 'gone';
  what: 'feed' | 'action' | 'phase' | 'node';
  id: string;
  /** In words: what was, and what is. */
  says: string;
}

const byId = <T extends { id: string }>(list: readonly T[]): Map<string, T> => new Map(list.map((one) => [one.id, one]));
const rangeWords = (range: ContractFeed['range']): string => (range ? `${range[0]} to ${range[1]}` : 'any number');

export function contractChanges(before: Contract, after: Contract): ContractChange[] {
  const changes: ContractChange[] = [];
  const tell = (weight: ContractChange['weight'], what: ContractChange['what'], id: string, says: string): void => {
    changes.push({ weight, what, id, says });
  };
  const [was, is] = [byId(before.feeds), byId(after.feeds)];
  for (const [id, feed] of is) {
    const old = was.get(id);
    if (!old) {
      const renamed = before.feeds.find((one) => !is.has(one.id) && one.name === feed.name && one.kind === feed.kind);
      tell(
        'breaks',
        'feed',
        id,
        renamed
          ? `is what was "${renamed.id}"; supply it under its new id`
          : `must be supplied: a ${feed.kind}${feed.each ? ' for each object' : ''}`,
      );
      continue;
    }
    if (old.kind !== feed.kind) tell('breaks', 'feed', id, `was a ${old.kind}, is a ${feed.kind}`);
    else if (Boolean(old.each) !== feed.each)
      tell('breaks', 'feed', id, feed.each ? 'has a value for each object now' : 'has one value for all objects now');
    else if (old.unit !== feed.unit) tell('breaks', 'feed', id, `was in ${old.unit || 'no unit'}, is in ${feed.unit || 'no unit'}`);
    else if (rangeWords(old.range) !== rangeWords(feed.range))
      tell('new', 'feed', id, `ran over ${rangeWords(old.range)}, runs over ${rangeWords(feed.range)}`);
  }
  for (const id of was.keys()) if (!is.has(id)) tell('gone', 'feed', id, 'is not read any more');
  const [sent, sends] = [byId(before.actions), byId(after.actions)];
  for (const [id, { name, senders }] of sends) {
    const old = sent.get(id);
    if (!old) tell('new', 'action', id, `${name} may come, from ${senders.map(({ element }) => element).join(', ') || 'nothing yet'}`);
    else if (old.senders.length > 0 && senders.length === 0) tell('gone', 'action', id, 'is sent by nothing any more');
  }
  for (const id of sent.keys()) if (!sends.has(id)) tell('gone', 'action', id, 'does not come any more');
  const [phasesWere, phasesAre] = [byId(before.phases), byId(after.phases)];
  for (const id of phasesWere.keys()) if (!phasesAre.has(id)) tell('breaks', 'phase', id, 'is no phase any more');
  for (const id of phasesAre.keys()) if (!phasesWere.has(id)) tell('new', 'phase', id, 'is a phase now');
  for (const node of after.nodes) if (!before.nodes.includes(node)) tell('new', 'node', node, 'has something hung on it');
  const weights = ['breaks', 'new', 'gone'];
  return changes.sort((a, b) => weights.indexOf(a.weight) - weights.indexOf(b.weight));
}
