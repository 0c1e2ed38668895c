/** Ids of feeds: names that messages can use, made from the feed's own name, and changed everywhere at once. */
import type { Action, Condition, Document, Element, FeedSource, Group, RaySettings } from './schema.ts';

/** What a message can name in braces: a letter, then letters, digits and underscores. */
const USABLE = /^[A-Za-z][A-Za-z0-9_]{0,47}$/;
export const isFeedId = (id: string): boolean => USABLE.test(id) && id !== 'constructor';

/** A new id that reads like the name and stands in messages: "Water level" gives `waterLevel`, or `waterLevel2` where that is taken. */
export function freeFeedId(feeds: object, name: string): string {
  const words = name
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .split(/[^A-Za-z0-9]+/)
    .filter(Boolean);
  const joined = words
    .map((word, k) => (k === 0 ? word.toLowerCase() : word.charAt(0).toUpperCase() + word.slice(1).toLowerCase()))
    .join('');
  const base = (/^[A-Za-z]/.test(joined) ? joined : `feed${joined}`).slice(0, 40);
  if (!Object.hasOwn(feeds, base) && isFeedId(base)) return base;
  for (let n = 2; ; n++) if (!Object.hasOwn(feeds, `${base}${n}`)) return `${base}${n}`;
}

/**
 * A message with an argument called otherwise. What stands in quotes is text (ICU MessageFormat: an apostrophe before a brace
 * quotes up to the next one).
 */
export function renameArgument(message: string, from: string, to: string): string {
  let out = '';
  for (let i = 0; i < message.length; ) {
    const here = message.charAt(i);
    if (here === "'" && (message[i + 1] === '{' || message[i + 1] === '}')) {
      const end = message.indexOf("'", i + 1);
      const next = end < 0 ? message.length : end + 1;
      out += message.slice(i, next);
      i = next;
      continue;
    }
    if (here === '{') {
      const rest = message.slice(i + 1);
      const lead = rest.length - rest.trimStart().length;
      const after = rest
        .slice(lead + from.length)
        .trimStart()
        .charAt(0);
      if (rest.startsWith(from, lead) && (after === '}' || after === ',')) {
        out += `{${rest.slice(0, lead)}${to}`;
        i += 1 + lead + from.length;
        continue;
      }
    }
    out += here;
    i++;
  }
  return out;
}

type Rename = (feed: string) => string;

const inConditions = (conditions: readonly Condition[], rename: Rename): Condition[] =>
  conditions.map((c) => (c.kind === 'group' ? { ...c, conditions: inConditions(c.conditions, rename) } : { ...c, feed: rename(c.feed) }));

const inRecord = <V>(record: Record<string, V>, edit: (value: V) => V): Record<string, V> =>
  Object.fromEntries(Object.entries(record).map(([key, value]) => [key, edit(value)]));

/** The template that an instance is of, or an element itself where it is one. */
const templateOf = (document: Document, element: Element): Group['template'] => {
  const group = element.kind === 'instance' ? document.elements[element.of] : element;
  return group?.kind === 'group' ? group.template : undefined;
};

function inElement(document: Document, element: Element, rename: Rename, text: (message: string) => string): Element {
  const out = { ...element } as Element;
  if ('source' in out && out.source !== null) out.source = rename(out.source);
  if (out.show) out.show = { ...out.show, conditions: inConditions(out.show.conditions, rename) };
  if (out.pointer?.offWhen) out.pointer = { ...out.pointer, offWhen: out.pointer.offWhen.map((c) => ({ ...c, feed: rename(c.feed) })) };
  if (out.kind === 'label') {
    out.text = text(out.text);
    if (out.translations) out.translations = inRecord(out.translations, text);
  }
  const parameters = templateOf(document, element)?.parameters ?? {};
  if (out.kind === 'group' && out.template)
    out.template = {
      ...out.template,
      parameters: inRecord(out.template.parameters, (p) => ({
        ...p,
        initial:
          typeof p.initial !== 'string'
            ? p.initial
            : p.kind === 'feed'
              ? rename(p.initial)
              : p.kind === 'text'
                ? text(p.initial)
                : p.initial,
        ...(p.translations && { translations: inRecord(p.translations, text) }),
      })),
    };
  if (out.kind === 'instance') {
    out.values = Object.fromEntries(
      Object.entries(out.values).map(([name, value]) => {
        const kind = parameters[name]?.kind;
        return [name, typeof value !== 'string' ? value : kind === 'feed' ? rename(value) : kind === 'text' ? text(value) : value];
      }),
    );
    if (out.translations) out.translations = inRecord(out.translations, (said) => inRecord(said, text));
  }
  return out;
}

const inAction = (action: Action, rename: Rename): Action => ({
  ...action,
  reactions: action.reactions.map((r) => ({
    ...r,
    ...('feed' in r && { feed: rename(r.feed) }),
    when: r.when.map((c) => ({ ...c, feed: rename(c.feed) })),
  })) as Action['reactions'],
});

/** The ray with the feeds of its hands called otherwise, or none. */
export function withHandFeeds(ray: RaySettings, edit: (feed: string) => string | null): RaySettings {
  type Hand = NonNullable<NonNullable<RaySettings['hands']>['left']>;
  const hand = (one: Hand): Hand => inRecord(one, (feed) => (feed === null ? null : edit(feed))) as Hand;
  const { left, right } = ray.hands ?? {};
  return { ...ray, hands: { ...(left && { left: hand(left) }), ...(right && { right: hand(right) }) } };
}

/**
 * The document with a feed called otherwise, wherever it is named: in texts, sources, conditions, parameters, reactions,
 * animations, routes, anchors and hands.
 * @throws RangeError where the new id cannot stand in a message, or is taken.
 */
export function withFeedRenamed(document: Document, from: string, to: string): Document {
  if (from === to) return document;
  if (!isFeedId(to)) throw new RangeError(`"${to}" cannot stand in a text: use a letter, then letters, digits and underscores.`);
  if (Object.hasOwn(document.feeds, to)) throw new RangeError(`There is a feed "${to}" already.`);
  const rename: Rename = (feed) => (feed === from ? to : feed);
  const text = (message: string) => renameArgument(message, from, to);
  const out: Document = {
    ...document,
    feeds: Object.fromEntries(
      Object.entries(document.feeds).map(([id, feed]) => [rename(id), feed as typeof feed & { source?: FeedSource }]),
    ),
    anchors: inRecord(document.anchors, (a) => (a.kind === 'event' && a.feed !== null ? { ...a, feed: rename(a.feed) } : a)),
    elements: inRecord(document.elements, (e) => inElement(document, e, rename, text)),
    routes: inRecord(document.routes, (r) => ({ ...r, feeds: r.feeds.map((f) => ({ ...f, feed: rename(f.feed) })) })),
  };
  if (document.ray?.hands) out.ray = withHandFeeds(document.ray, (feed) => rename(feed));
  if (document.actions) out.actions = inRecord(document.actions, (a) => inAction(a, rename));
  if (document.level?.clips)
    out.level = { ...document.level, clips: inRecord(document.level.clips, (clip) => ({ ...clip, feed: rename(clip.feed) })) };
  return out;
}
