/** Changing the zone of an element's anchor by hand. */
import { type Element, isAnchored, type Zone } from '@foreshore/document';

/** The anchor that an element stands at, or is about; empty where there is none. */
export const anchorIdOf = (element: Element | undefined): string =>
  isAnchored(element?.mount) ? element.mount.anchor : (element?.about ?? '');

/** A zone that reaches so far to its side. @param side of a box, which of its lengths changes; null: all keep their proportion. */
export function zoneResized(zone: Zone, reachM: number, side: 0 | 1 | 2 | null = null): Zone {
  const round = (v: number) => Number(v.toFixed(3));
  if (zone.kind === 'sphere') return { ...zone, radiusM: round(reachM) };
  if (zone.kind === 'capsule') return { ...zone, radiusM: round(reachM), heightM: round(Math.max(zone.heightM, 2 * reachM)) };
  if (zone.kind === 'mesh') return zone;
  if (side !== null) return { ...zone, sizeM: zone.sizeM.map((m, k) => (k === side ? round(2 * reachM) : m)) as [number, number, number] };
  const by = (2 * reachM) / zone.sizeM[0];
  return { ...zone, sizeM: zone.sizeM.map((m) => round(m * by)) as [number, number, number] };
}
