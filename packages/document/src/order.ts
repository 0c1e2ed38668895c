const orders = new WeakMap<object, readonly [string, { order: string }][]>();

const compare = ([idA, a]: [string, { order: string }], [idB, b]: [string, { order: string }]): number =>
  a.order < b.order ? -1 : a.order > b.order ? 1 : idA < idB ? -1 : idA > idB ? 1 : 0;

/** Whether entries that were put in order before are still those of a collection, and in order: documents are never altered, drafts of them may be. */
function holds(known: readonly [string, { order: string }][], collection: Readonly<Record<string, unknown>>): boolean {
  let count = 0;
  for (const _ in collection) count++;
  if (count !== known.length) return false;
  for (let k = 0; k < known.length; k++) {
    const entry = known[k] as [string, { order: string }];
    if (collection[entry[0]] !== entry[1]) return false;
    if (k > 0 && compare(known[k - 1] as [string, { order: string }], entry) > 0) return false;
  }
  return true;
}

/** Ids in the order they are shown: by `order`, ties by id, compared by code unit. A collection is put in order once. */
export function inOrder<T extends { order: string }>(collection: Readonly<Record<string, T>>): readonly [string, T][] {
  const known = orders.get(collection);
  if (known && holds(known, collection)) return known as readonly [string, T][];
  const sorted = Object.entries(collection).sort(compare);
  orders.set(collection, sorted);
  return sorted;
}
