/** The forty stakes as on a chart: number and height from near, the number farther off, then a dot; where they crowd, how many. */
import {
  type Document,
  type Element,
  type Group,
  insideOf,
  makeGroup,
  makeLabel,
  makeText,
  type Only,
  type Route,
} from '@foreshore/document';

const INK = '#15233B';
const PAPER = '#FBF8F0';
/** Of a design pixel: the number is 28 of them, 0.42 m at the stake. */
const PIXEL = { rule: 'world', emM: 0.015, leastPx: 0.54, greatestPx: 1.4, hideBelowPx: 0, leavePx: 0 } as const;

/** Which of them the tide has worked loose: each has a value of its own, that the game says and a route records. */
export const stakeFeeds = (): Document['feeds'] => ({
  loose: { name: 'Stake is loose', order: 'aZA', kind: 'flag', unit: '', initial: false, each: true },
});
/** Seen from the causeway as one walks past it. */
export const STAKE_COMES_LOOSE: Route['feeds'] = [{ timeS: 8, feed: 'loose', object: 'Stake 14', value: true }];
/** In place of its height. */
const heightOr = (loose: string): string => `{loose, select, true {${loose}} other {{heightM, number, ::.0} m}}`;

export function stakes(order: string): Record<string, Element> {
  const { mount, place } = makeLabel('stakes', '', order);
  const group: Group = {
    ...makeGroup({ mount, place: { ...place, offsetPx: [0, -6], leader: null } }, 'Stakes', 'column', order),
    size: PIXEL,
    range: { enterM: 110, leaveM: 120, from: 'eye', dwellS: 0 },
    paint: { plate: null, opacity: 1 },
  };
  group.layout = { ...group.layout, gapPx: 0, padPx: [0, 0, 0, 0], align: 'centre' };
  group.place = { ...group.place, detail: { by: 'distance', at: [14, 40], leaveShare: 0.12 }, many: { mergePx: 34 } };
  const said = (name: string, text: string, at: string, emPx: number, only: Only): Element => {
    const label = makeText(insideOf('stakes'), text, at);
    const paint = { ...label.paint, colour: INK, weight: 700, align: 'centre', outline: { colour: PAPER, widthEm: 0.14 } } as const;
    return { ...label, name, size: { rule: 'screen', emPx, hideBelowPx: 0, leavePx: 0 }, only, paint };
  };
  const dot = makeGroup(insideOf('stakes'), 'Dot', 'row', 'a3');
  return {
    stakes: group,
    'stake-name': said('Number', '{node}', 'a0', 28, { detail: [0, 1], merged: false }),
    'stake-height': {
      ...said('Height', heightOr('loose'), 'a1', 28, { detail: [0], merged: false }),
      translations: { de: heightOr('locker'), ar: heightOr('سائب') },
    } as Element,
    'stakes-several': {
      ...said('How many', '{merged} stakes', 'a2', 28, { detail: [0, 1], merged: true }),
      translations: { de: '{merged} Pfähle', ar: '{merged} أوتاد' },
    } as Element,
    'stake-dot': {
      ...dot,
      only: { detail: [2] },
      layout: { ...dot.layout, gapPx: 0, padPx: [0, 0, 0, 0], widthPx: 12, heightPx: 12 },
      paint: { plate: { colour: INK, radiusPx: 6, border: { colour: PAPER, widthPx: 3 } }, opacity: 1 },
    },
  };
}
