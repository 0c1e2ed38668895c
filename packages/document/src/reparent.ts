/** Carrying an element another way, so that what depends on how it is carried stays sound. */

import { GATES } from './gates.ts';
import { isAnchored, isMember, KINDS } from './kinds.ts';
import type { Element } from './schema.ts';

/**
 * The element with another mount. What is inside of a group shows with it and gives up its own gates; on the glass they are
 * about the anchor that it floated over.
 */
export function reparented(element: Element, mount: Element['mount'], place: Element['place'] = element.place): Element {
  const { about: _, ...rest } = element;
  const out = { ...rest, mount, place } as Element;
  if (!isAnchored(mount) && element.size.rule === 'world')
    out.size = { rule: 'screen', emPx: KINDS[element.kind].size === 'em' ? 28 : 1, hideBelowPx: 0, leavePx: 0 };
  if (isMember(mount)) {
    for (const gate of GATES) delete out[gate];
    return out;
  }
  if (isAnchored(mount) || !GATES.some((gate) => element[gate] !== undefined)) return out;
  const about = isAnchored(element.mount) ? element.mount.anchor : element.about;
  if (about === undefined) for (const gate of GATES) delete out[gate];
  else out.about = about;
  if (out.sightline?.to === 'element') out.sightline = { ...out.sightline, to: 'zone' };
  return out;
}
