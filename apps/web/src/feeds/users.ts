/** What a feed is used by. */
import { type Document, textsOf, usesFeed } from '@foreshore/document';
import { argumentsOf } from '@foreshore/text';

/** For each feed the names of elements, routes and hands that refer to it. */
export function feedUsers({ feeds, elements, routes, ray }: Document): Record<string, string[]> {
  const named = Object.values(elements).map((element) => ({
    element,
    names: new Set(textsOf(element).flatMap((text) => [...argumentsOf(text)])),
  }));
  return Object.fromEntries(
    Object.keys(feeds).map((id) => [
      id,
      [
        ...named.flatMap(({ element, names }) => (names.has(id) || usesFeed(element, id) ? [element.name] : [])),
        ...Object.values(routes).flatMap((r) => (r.feeds.some((f) => f.feed === id) ? [r.name] : [])),
        ...(['left', 'right'] as const).flatMap((side) =>
          Object.values(ray?.hands?.[side] ?? {}).includes(id) ? [`the ${side} hand`] : [],
        ),
      ],
    ]),
  );
}
