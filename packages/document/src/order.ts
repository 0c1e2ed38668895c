const orders = new WeakMap<object, readonly [string, { order: string }][]>();

/**
 * Ids in the order they are shown: by `order`, ties by id, compared by code unit. Collections are never altered, so each is put in
 * order once.
 */
export function inOrder<T extends { order: string }>(collection: Readonly<Record<string, T>>): readonly [string, T][] {
  const known = orders.get(collection);
  if (known) return known as readonly [string, T][];
  const sorted = Object.entries(collection).sort(([idA, a], [idB, b]) =>
    a.order < b.order ? -1 : a.order > b.order ? 1 : idA < idB ? -1 : idA > idB ? 1 : 0,
  );
  orders.set(collection, sorted);
  return sorted;
}
