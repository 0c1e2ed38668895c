/** The one place that turns quantities into words. The unit is written beside it by the caller. */
import type { FeedValue } from '@foreshore/document';

export type EventValue = Extract<FeedValue, { number: number }>;
export const isEvent = (value: FeedValue | undefined): value is EventValue => typeof value === 'object' && !Array.isArray(value);

const digits = (value: number, places: number): string => {
  const text = value.toFixed(places);
  return /^-0(\.0*)?$/.test(text) ? text.slice(1) : text;
};
export const formatMetres = (m: number): string => (Math.abs(m) >= 1000 ? digits(m, 0) : Math.abs(m) < 10 ? digits(m, 2) : digits(m, 1));
export const formatPixels = (px: number): string => digits(px, Math.abs(px) < 10 ? 1 : 0);
export const formatDegrees = (deg: number): string => digits(deg, Math.abs(deg) < 10 ? 1 : 0);
export const formatArcmin = (arcmin: number): string => digits(arcmin, arcmin < 10 ? 1 : 0);
export const formatSeconds = (s: number): string => digits(s, 1);
/** A fraction of a length. */
export const formatShare = (share: number): string => String(Number(share.toFixed(3)));
/** A feed's value, as a person would write it. */
export const formatValue = (value: FeedValue): string => {
  if (typeof value === 'number') return String(Number(value.toFixed(3)));
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'object' && !Array.isArray(value))
    return value.number === 0 ? 'not yet' : `no. ${value.number} at ${value.place.map(formatMetres).join(', ')} m`;
  return Array.isArray(value) ? `${value.length} ${value.length === 1 ? 'line' : 'lines'}` : `"${value}"`;
};

/** Lists are the same where their lines are; an event is the same as long as no other has happened. */
export function sameValue(a: FeedValue | undefined, b: FeedValue | undefined): boolean {
  if (a === b) return true;
  if (isEvent(a) && isEvent(b)) return a.number === b.number && a.place.every((v, k) => v === b.place[k]);
  if (!Array.isArray(a) || !Array.isArray(b) || a.length !== b.length) return false;
  for (let k = 0; k < a.length; k++) if (a[k] !== b[k]) return false;
  return true;
}
