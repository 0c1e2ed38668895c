/** The forty stakes as on a chart: number and height from near, the number farther off, then a dot; where they crowd, how many. */
import { type Element, type Group, insideOf, makeGroup, makeLabel, makeText, type Only } from '@foreshore/document';

const INK = '#15233B';
const PAPER = '#FBF8F0';
/** Of a design pixel: the number is 28 of them, 0.42 m at the stake. */
const PIXEL = { rule: 'world', emM: 0.015, leastPx: 0.54, greatestPx: 1.4, hideBelowPx: 0, leavePx: 0 } as const;

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
    'stake-height': said('Height', '{heightM, number, ::.0} m', 'a1', 28, { detail: [0], merged: false }),
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
