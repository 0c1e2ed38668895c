/** Taking something out of a document that other parts refer to: what was bound to it is left unwired rather than in the way. */
import { withHandFeeds } from './feed-ids.ts';
import type { Condition, Document, Element } from './schema.ts';
import { namesFeed, usesFeed } from './uses-feed.ts';

export { usesFeed };

const conditionsWithout = (conditions: readonly Condition[], feed: string): Condition[] =>
  conditions.flatMap((c): Condition[] => {
    if (c.kind !== 'group') return c.feed === feed ? [] : [c];
    if (!namesFeed(c.conditions, feed)) return [c];
    const left = conditionsWithout(c.conditions, feed);
    return left.length ? [{ ...c, conditions: left }] : [];
  });
function elementWithout(element: Element, feed: string): Element {
  if (!usesFeed(element, feed)) return element;
  const out = { ...element };
  if ('source' in out && out.source === feed) out.source = null;
  if (out.show) out.show = { ...out.show, conditions: conditionsWithout(out.show.conditions, feed) };
  if (out.pointer?.offWhen) out.pointer = { ...out.pointer, offWhen: out.pointer.offWhen.filter((c) => c.feed !== feed) };
  return out;
}

/** Parameters whose value is a feed or a picture that is going have none afterwards: an instance follows its template again. */
function parametersWithout(document: Document, element: Element, kind: 'feed' | 'picture', gone: string): Element {
  if (element.kind === 'group' && element.template) {
    const { parameters } = element.template;
    if (!Object.values(parameters).some((p) => p.kind === kind && p.initial === gone)) return element;
    const freed = mapped(parameters, (p) => (p.kind === kind && p.initial === gone ? { ...p, initial: null } : p));
    return { ...element, template: { ...element.template, parameters: freed } };
  }
  const template = element.kind === 'instance' ? document.elements[element.of] : undefined;
  if (element.kind !== 'instance' || template?.kind !== 'group') return element;
  const concerned = ([name, value]: [string, unknown]) => value === gone && template.template?.parameters[name]?.kind === kind;
  const entries = Object.entries(element.values);
  return entries.some(concerned) ? { ...element, values: Object.fromEntries(entries.filter((entry) => !concerned(entry))) } : element;
}

/** Replaces what a function changes; all others keep their identity. */
const mapped = <T>(record: Record<string, T>, edit: (value: T) => T): Record<string, T> =>
  Object.fromEntries(Object.entries(record).map(([key, value]) => [key, edit(value)]));

export function withoutFeed(document: Document, feed: string): Document {
  const { [feed]: _, ...feeds } = document.feeds;
  const out: Document = {
    ...document,
    feeds,
    anchors: mapped(document.anchors, (a) => (a.kind === 'event' && a.feed === feed ? { ...a, feed: null } : a)),
    elements: mapped(document.elements, (e) => parametersWithout(document, elementWithout(e, feed), 'feed', feed)),
    routes: mapped(document.routes, (r) =>
      r.feeds.some((f) => f.feed === feed) ? { ...r, feeds: r.feeds.filter((f) => f.feed !== feed) } : r,
    ),
  };
  // The hand that it moved rests.
  if (document.ray?.hands) out.ray = withHandFeeds(document.ray, (one) => (one === feed ? null : one));
  // What it moved runs by the clock again.
  if (document.level?.clips)
    out.level = {
      ...document.level,
      clips: Object.fromEntries(Object.entries(document.level.clips).filter(([, clip]) => clip.feed !== feed)),
    };
  if (document.actions)
    out.actions = mapped(document.actions, (a) => {
      const concerned = (r: (typeof a.reactions)[number]) =>
        ((r.kind === 'set' || r.kind === 'add' || r.kind === 'other') && r.feed === feed) || r.when.some((c) => c.feed === feed);
      if (!a.reactions.some(concerned)) return a;
      const reactions = a.reactions.flatMap((r) => {
        if ((r.kind === 'set' || r.kind === 'add' || r.kind === 'other') && r.feed === feed) return [];
        return [{ ...r, when: r.when.filter((c) => c.feed !== feed) }];
      });
      return { ...a, reactions };
    });
  return out;
}

/** The document opens as before, but for a route or elements that are gone. */
export function openingWithout(document: Document, gone: { route?: string; elements?: readonly string[] }): Document {
  const { opening, ...rest } = document;
  if (!opening) return document;
  const { route, selection, ...others } = opening;
  const left = {
    ...others,
    ...(route !== undefined && route !== gone.route && { route }),
    ...(selection !== undefined && !gone.elements?.includes(selection) && { selection }),
  };
  return { ...rest, opening: left };
}

export function withoutRoute(document: Document, route: string): Document {
  const { [route]: _, ...routes } = document.routes;
  // A player who followed it is where the bench's camera is.
  const viewers = mapped(document.viewers, (one) =>
    one.kind === 'split' && one.players.some((player) => player.route === route)
      ? { ...one, players: one.players.map((player) => (player.route === route ? { route: null } : player)) }
      : one,
  );
  return openingWithout({ ...document, routes, viewers }, { route });
}

/** Without a picture: what showed it shows a crossed frame, or what else it had. */
export function withoutPicture(document: Document, picture: string): Document {
  const { [picture]: _, ...pictures } = document.pictures ?? {};
  const other = (id: string | null) => (id === picture ? null : id);
  const elements = mapped(document.elements, (given): Element => {
    const e = parametersWithout(document, given, 'picture', picture);
    if (e.kind === 'picture' && e.picture === picture) return { ...e, picture: null };
    if (e.kind === 'page' && e.page === picture) return { ...e, page: null };
    if (e.kind === 'crosshair' && e.pictures) return { ...e, pictures: { arm: other(e.pictures.arm), middle: other(e.pictures.middle) } };
    if (e.kind !== 'gauge') return e;
    const { form } = e;
    if (form.kind === 'picture' && (form.picture === picture || form.behind === picture))
      return { ...e, form: { ...form, picture: other(form.picture), behind: other(form.behind) } };
    if (form.kind === 'stages' && form.pictures.includes(picture)) {
      const left = form.pictures.filter((id) => id !== picture);
      // Without any stage there is nothing left but the bar that every gauge can be.
      const bar = { kind: 'bar' as const, widthPx: form.widthPx, heightPx: form.heightPx, towards: 'right' as const, radiusPx: 0 };
      return { ...e, form: left.length ? { ...form, pictures: left } : bar };
    }
    if (form.kind === 'pips' && (form.picture === picture || form.behind === picture)) {
      const { picture: own, behind, ...rest } = form;
      return { ...e, form: { ...rest, ...(own && own !== picture && { picture: own }), ...(behind && behind !== picture && { behind }) } };
    }
    return e;
  });
  const actions =
    document.actions &&
    mapped(document.actions, (a) => {
      const { pictures: own = {} } = a.keys ?? {};
      if (!a.keys || !Object.values(own).includes(picture)) return a;
      return { ...a, keys: { ...a.keys, pictures: Object.fromEntries(Object.entries(own).filter(([, id]) => id !== picture)) } };
    });
  const { cursor, ...rest } = document;
  const kept = cursor && cursor.picture !== picture ? { ...cursor, overActing: other(cursor.overActing) } : undefined;
  return { ...rest, elements, pictures, ...(actions && { actions }), ...(kept && { cursor: kept }) };
}

/** Without a font: texts in its family are in the one that ships, unless another font of the family is left. */
export function withoutFont(document: Document, font: string): Document {
  const { [font]: gone, ...fonts } = document.fonts ?? {};
  if (!gone || Object.values(fonts).some((f) => f.name === gone.name)) return { ...document, fonts };
  const elements = mapped(document.elements, (e): Element => {
    if (e.kind !== 'label' || e.paint.font !== gone.name) return e;
    const { font: _, ...paint } = e.paint;
    return { ...e, paint };
  });
  return { ...document, fonts, elements };
}

/** Without files that are gone: the level as a whole, pictures and fonts by their ids. Anchors keep the names of their nodes. */
export function withoutFiles(
  document: Document,
  gone: { level: boolean; pictures: readonly string[]; fonts: readonly string[] },
): Document {
  const pictured = gone.pictures.reduce(withoutPicture, document);
  const lettered = gone.fonts.reduce(withoutFont, pictured);
  return gone.level ? { ...lettered, level: null } : lettered;
}
