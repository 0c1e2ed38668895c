/** The one place that turns quantities into words. The unit is written beside it by the caller. */
const digits = (value: number, places: number): string => {
  const text = value.toFixed(places);
  return /^-0(\.0*)?$/.test(text) ? text.slice(1) : text;
};
export const formatMetres = (m: number): string => (Math.abs(m) >= 1000 ? digits(m, 0) : Math.abs(m) < 10 ? digits(m, 2) : digits(m, 1));
export const formatPixels = (px: number): string => digits(px, Math.abs(px) < 10 ? 1 : 0);
export const formatArcmin = (arcmin: number): string => digits(arcmin, arcmin < 10 ? 1 : 0);
export const formatSeconds = (s: number): string => digits(s, 1);
/** A fraction of a length. */
export const formatShare = (share: number): string => String(Number(share.toFixed(3)));
/** A feed's value, as a person would write it. */
export const formatValue = (value: number | string | boolean): string =>
  typeof value === 'number' ? String(Number(value.toFixed(3))) : typeof value === 'boolean' ? (value ? 'yes' : 'no') : `"${value}"`;
