/** What reactions did, in words. */
import type { Done } from '@foreshore/core';
import type { Document } from '@foreshore/document';
import { feedTitle, feedValueText, phaseTitle, rowTitle } from './names.ts';
import { formatNumber } from './quantities.ts';

type DoneOf<K extends Done['kind']> = Extract<Done, { kind: K }>;
const DONE: { [K in Done['kind']]: (done: DoneOf<K>, document: Document) => string } = {
  set: ({ feed, value }, d) => `${feedTitle(d, feed)} ${feedValueText(d, feed, value)}`,
  run: ({ feed, to, overS }, d) => `${feedTitle(d, feed)} to ${feedValueText(d, feed, to)} in ${formatNumber(overS)} s`,
  phase: ({ phase }, d) => `phase ${phaseTitle(d, phase)}`,
  show: ({ element, shown }, d) => `${shown === 'shown' ? 'showed' : 'hid'} ${rowTitle(d, element)}`,
  motion: ({ element }, d) => `played the motion of ${rowTitle(d, element)}`,
  conditionFails: ({ reaction }) => `did not ${reaction}: its condition does not hold`,
  notNumber: ({ feed }, d) => `did not add to ${feedTitle(d, feed)}: it is not a number`,
  loop: ({ after }) => `stopped after ${after} actions: they send each other in a loop`,
};
export const sayDone = (done: Done, document: Document): string => DONE[done.kind](done as never, document);
