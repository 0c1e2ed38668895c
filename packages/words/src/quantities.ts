/** Quantities as text, rounded for reading. The unit is written beside it by the caller. */
import type { FeedValue } from '@foreshore/document';

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
/** A share in percent: never 0 or 100 unless it is. */
export const formatPercent = (share: number): string => {
  const percent = share * 100;
  if (percent > 0 && percent < 1) return 'under 1';
  if (percent > 99 && percent < 100) return '99';
  return digits(percent, 0);
};
const MOST_PLACES = 4;
/** A value that is not its bound, with as many places more as tell the two apart; what differs less than that, by one of the last place. */
export function formatBeside(value: number, bound: number, format: (value: number) => string): string {
  let text = format(value);
  for (let places = 1; places <= MOST_PLACES && value !== bound && Number(text) === bound; places++) text = digits(value, places);
  if (value === bound || Number(text) !== bound) return text;
  return digits(bound + Math.sign(value - bound) * 10 ** -MOST_PLACES, MOST_PLACES);
}
/** A number as somebody would type it. */
export const formatNumber = (value: number): string => String(Number(value.toFixed(4)));
/** A feed's value, as a person would write it. */
export const formatValue = (value: FeedValue): string => {
  if (typeof value === 'number') return String(Number(value.toFixed(3)));
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'object' && !Array.isArray(value))
    return value.number === 0
      ? 'not yet'
      : `no. ${value.number} ${value.place ? `at ${value.place.map(formatMetres).join(', ')} m` : 'without a place'}`;
  return Array.isArray(value) ? `${value.length} ${value.length === 1 ? 'line' : 'lines'}` : `"${value}"`;
};
