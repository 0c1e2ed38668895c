/**
 * What stands at one of many nodes, or is of one: under the id of what it is and the node's name. So are rows of an element called, and
 * values of a feed that has one for each object. An id has no @; a node's name may have any.
 */

export const keyAt = (id: string, object: string | null): string => (object === null ? id : `${id}@${object}`);

/** The id, and the name of the node; null where it is of none. */
export function partsOfKey(key: string): { id: string; object: string | null } {
  const at = key.indexOf('@');
  return at < 0 ? { id: key, object: null } : { id: key.slice(0, at), object: key.slice(at + 1) };
}
