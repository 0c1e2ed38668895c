/** Restlessness in words. */
import { type Stretch, unrest } from '@foreshore/checks';

/** How often an element changes its place and blinks on a route, for each minute that it is shown; nothing where it is calm. */
export function sayUnrest(band: readonly Stretch[]): string {
  const { moves = 0, blinks = 0 } = unrest(band) ?? {};
  const told = [moves > 0 && `changes its place ${moves.toFixed(1)} times`, blinks > 0 && `blinks ${blinks.toFixed(1)} times`].filter(
    Boolean,
  );
  return told.length > 0 ? `${told.join(' and ')} a minute` : '';
}
