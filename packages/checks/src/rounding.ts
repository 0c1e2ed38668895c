/** Rounding of proposed settings: once, away from where it fails, to steps that a person would type. */

/** The least multiple of a step that is not below a value. */
export function roundUp(value: number, step: number): number {
  const near = Number((Math.ceil(value / step - 1e-9) * step).toPrecision(12));
  return near < value ? Number((near + step).toPrecision(12)) : near;
}
/** The greatest multiple of a step that is not above a value. */
export const roundDown = (value: number, step: number): number => -roundUp(-value, step);

/** To four decimals: what is kept, compared and said of sums. */
export const rounded4 = (v: number): number => Number(v.toFixed(4));
