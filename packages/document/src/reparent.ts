/** Carrying an element another way, so that what depends on how it is carried stays sound. */

import { GATES } from './gates.ts';
import { isAnchored, isMember, isOnPanel, KINDS, MOUNTS } from './kinds.ts';
import type { Element, Mount } from './schema.ts';

/**
 * The element with another mount. What is inside of a group shows with it and gives up its own gates; on the glass, and trailing,
 * they are about the anchor that it floated over or stood on.
 */
export function reparented(element: Element, mount: Element['mount'], place: Element['place'] = element.place): Element {
  const { about: _, ...rest } = element;
  const out = { ...rest, mount, place } as Element;
  if (!MOUNTS[mount.kind].worldSize && element.size.rule === 'world')
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

/** What an element has that another mount cannot carry. */
export type Lost = (typeof GATES)[number] | 'metres' | 'facing' | 'leader' | 'stretch';

/** What an element would lose by another mount; nothing where it has nothing of that kind. */
export function lostBy(element: Element, kind: Mount['kind']): Lost[] {
  const { mount, place } = element;
  const [from, to] = [MOUNTS[mount.kind], MOUNTS[kind]];
  const anchored = isAnchored(mount) || element.about !== undefined;
  const keepsGates = to.gates === 'own' || (to.gates === 'about' && anchored);
  return [
    ...(keepsGates ? [] : GATES.filter((gate) => element[gate] !== undefined)),
    ...(isOnPanel(mount) && !to.panel ? (['metres'] as const) : []),
    ...(mount.kind === 'standing' && kind !== 'standing' && (mount.facing !== 'full' || mount.turnDeg !== 0 || mount.tiltDeg !== 0)
      ? (['facing'] as const)
      : []),
    ...(place.leader && kind !== 'floating' ? (['leader'] as const) : []),
    ...(from.pinned && !to.pinned && 'stretch' in mount && mount.stretch.some(Boolean) ? (['stretch'] as const) : []),
  ];
}
