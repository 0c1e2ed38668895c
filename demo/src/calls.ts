/** Three calls for help from the flats, marked at the edge of the picture while they are out of view; and from which side the water surges. */
import {
  type Anchor,
  type Document,
  EDGE,
  type Element,
  type Group,
  insideOf,
  makeDirection,
  makeGroup,
  makeLabel,
  makeText,
  type Only,
} from '@foreshore/document';
import { groundHeight } from './terrain.ts';

const RED = '#8F1D1D';
const PAPER = '#FBF8F0';
/** Where they call from, and how many calls there must be for each. */
const CALLS = [
  { id: 'call-1', name: 'Call from the creek', x: -26, z: 20 },
  { id: 'call-2', name: 'Call from the stakes', x: -31, z: 23 },
  { id: 'call-3', name: 'Call from the far bank', x: 37, z: -18 },
];
/** Nobody calls for the first half minute of a route. */
const QUIET_STEPS = 6;
const STEP_S = 5;

export const callFeeds = (): Document['feeds'] => ({
  calls: {
    ...{ name: 'Calls for help', order: 'aZa', kind: 'number', unit: '', initial: 0, range: [0, 3] },
    source: { kind: 'steps', values: [...Array(QUIET_STEPS).fill(0), 2, 3, 3, 3], everyS: STEP_S },
  },
});

export const callAnchors = (): Record<string, Anchor> =>
  Object.fromEntries(
    CALLS.map(({ id, name, x, z }, k) => [
      id,
      {
        kind: 'surface',
        name,
        order: `aZ${k + 1}`,
        node: null,
        position: [x, Math.max(groundHeight(x, z), 0) + 1.2, z],
        normal: [0, 1, 0],
      },
    ]),
  );

/** Each is a group: what it says in view, at the edge, and where one mark stands for several. */
function call(id: string, name: string, order: string, atLeast: number): Record<string, Element> {
  const { mount, place } = makeLabel(id, '', order);
  const base: Group = makeGroup({ mount, place: { ...place, leader: null } }, name, 'row', order);
  const group: Group = {
    ...base,
    layout: { ...base.layout, gapPx: 8, padPx: [12, 6, 12, 6] },
    paint: { plate: { colour: RED, radiusPx: 8, border: { colour: PAPER, widthPx: 2 } }, opacity: 1 },
    show: {
      phases: { scope: 'hidden', paused: 'hidden', stranded: 'hidden', cinematic: 'hidden' },
      need: 'all',
      conditions: [{ kind: 'compare', feed: 'calls', is: 'atLeast', value: atLeast, leave: 0 }],
      lingerS: 0,
    },
    place: {
      ...base.place,
      rank: 2,
      edge: { ...EDGE, insetPx: [64, 150, 64, 150], arrow: { sizePx: 26, colour: RED, outline: PAPER } },
      many: { kind: 'calls', mergePx: 120 },
    },
  };
  const said = (text: string, n: number, only: Only, translations: Record<string, string>): Element => {
    const label = makeText(insideOf(id), text, `a${n}`);
    return {
      ...label,
      name: text,
      size: { rule: 'screen', emPx: 26, hideBelowPx: 0, leavePx: 0 },
      paint: { ...label.paint, colour: PAPER, weight: 700, outline: null },
      only,
      translations,
    } as Element;
  };
  return {
    [id]: group,
    [`${id}-view`]: said('Help!', 0, { merged: false }, { de: 'Hilfe!', ar: 'النجدة!' }),
    [`${id}-several`]: said('{merged} calls for help', 1, { merged: true }, { de: '{merged} rufen um Hilfe', ar: 'يستغيث {merged}' }),
  };
}

export function calls(): Record<string, Element> {
  const fringes = makeDirection('Surge from', 'surge', 'aZZ');
  return {
    ...Object.assign({}, ...CALLS.map(({ id, name }, k) => call(id, name, `aZ${k + 1}`, k + 1))),
    'surge-from': {
      ...fringes,
      mount: { kind: 'glass', within: 'screen', pin: [0.5, 0.5], stretch: [true, true] },
      form: 'fringes',
      thickPx: 120,
      spanDeg: 70,
      holdS: 2,
      fadeS: 2,
      paint: { colour: '#12445A', outline: null, opacity: 0.9 },
    },
  };
}
