/** Words for what a change did to elements that it did not touch. */
import type { Effect, RouteEffect } from '@foreshore/checks';
import type { Shortfall } from '@foreshore/core';
import { formatPixels, formatSeconds } from './quantities.ts';

export const SHORT: Record<Shortfall['kind'], string> = {
  empty: 'without a text',
  unmeasured: 'with a page whose letters are not measured',
  glyphs: 'with letters that no font has',
  small: 'too small to read',
  contrast: 'too little contrast',
  covered: 'covered by another',
  cut: 'cut off',
  overlaps: 'its letters on others',
  behindLevel: 'behind the level',
  reach: 'out of reach',
  speed: 'too fast to read',
  target: 'too small for a hand’s ray',
  tooNear: 'too near for two eyes',
  tooFar: 'too far for two eyes',
  vergence: 'at another depth than what is looked at',
};

const SAYS: { [K in Effect['kind']]: (effect: Effect & { kind: K }) => string } = {
  hidden: () => 'not shown any more',
  shown: () => 'shown now',
  short: ({ short }) => `now ${SHORT[short]}`,
  moved: (effect) => `moved ${formatPixels(effect.px)} px`,
  resized: (effect) => `resized ${formatPixels(effect.px)} px`,
};
/** What happened, to be said after the name of the element. */
export const sayEffect = (effect: Effect): string => (SAYS[effect.kind] as (one: Effect) => string)(effect);

/** Along routes: somewhere on them, for so many seconds. */
const SAYS_ALONG: { [K in Effect['kind']]: (effect: Effect & { kind: K }) => string } = {
  hidden: () => 'not shown where it was',
  shown: () => 'shown where it was not',
  short: ({ short }) => `now ${SHORT[short]}`,
  moved: (effect) => `moved by up to ${formatPixels(effect.px)} px`,
  resized: (effect) => `resized by up to ${formatPixels(effect.px)} px`,
};
/** What happened along the routes, to be said after the name of the element. */
export const sayRouteEffect = (effect: RouteEffect): string =>
  `${(SAYS_ALONG[effect.kind] as (one: Effect) => string)(effect)} for ${formatSeconds(effect.forS)} s`;
