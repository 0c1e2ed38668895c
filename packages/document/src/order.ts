/** Ids in the order they are shown: by `order`, ties by id, compared by code unit. */
export const inOrder = <T extends { order: string }>(collection: Record<string, T>): [string, T][] =>
  Object.entries(collection).sort(([idA, a], [idB, b]) =>
    a.order < b.order ? -1 : a.order > b.order ? 1 : idA < idB ? -1 : idA > idB ? 1 : 0,
  );
