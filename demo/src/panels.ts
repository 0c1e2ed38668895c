/** What stands in the level of Low Water as panels, and the slate that trails the warden. */
import {
  type Document,
  type Element,
  type Group,
  insideOf,
  type Mount,
  makeGauge,
  makeGroup,
  makePage,
  makePicture,
  makeSlider,
} from '@foreshore/document';
import { bare, box, button, isOpen, show, text, whileRoaming } from './pieces.ts';

type PanelPlace = Pick<Group, 'mount' | 'place'>;
const about = (mount: Mount, ownPoint: [number, number] = [0.5, 0.5]): PanelPlace => ({
  mount,
  place: { ownPoint, offsetPx: [0, 0], stay: 'free', leader: null },
});
/** Fixed on its anchor, seen from the front. */
const standing = (
  anchor: string,
  sizeM: [number, number],
  pxPerM: number,
  readM: number,
  edit: Partial<Extract<Mount, { kind: 'standing' }>> = {},
): Mount => ({
  kind: 'standing',
  anchor,
  sizeM,
  pxPerM,
  readM,
  sides: 'front',
  facing: 'fixed',
  turnDeg: 0,
  tiltDeg: 0,
  liftM: 0.005,
  ...edit,
});

const LIT = '#CFE4EA';
const DEEP = '#0E2A36';

export function panels(): Record<string, Element> {
  return { ...pumpScreen(), ...tides(), ...plate(), ...slate(), ...foldingNotice() };
}

/** The pump house: a lit screen on its own face, 1.6 x 0.95 m, 1200 x 712 design pixels. */
function pumpScreen(): Record<string, Element> {
  const at = (x: number, y: number, pin: [number, number] = [0, 0]) => insideOf('pump-screen', pin, [x, y]);
  return {
    'pump-screen': {
      ...box(
        makeGroup(about(standing('pump-screen', [1.6, 0.95], 750, 2.2)), 'Pump screen', 'free', 'k0'),
        { padPx: [0, 0, 0, 0] },
        { colour: DEEP, radiusPx: 0, border: { colour: '#1B6E83', widthPx: 6 } },
      ),
      show: show({}),
      range: { from: 'eye', enterM: 8, leaveM: 9, dwellS: 0.3 },
    },
    'pump-title': text(at(36, 24), 'Pump title', 'Pump house', 'k1', 60, { paint: { colour: LIT, weight: 700 } }),
    'pump-tide': text(at(36, 110), 'Pump tide', 'Tide {tide, number, ::.00} m', 'k2', 44, { paint: { colour: '#E5B45C', weight: 600 } }),
    'pump-curve': { ...makePicture(at(36, 186), 'Tide curve', 'tide-curve', 620, 250, 'k3'), fill: 'stretch' },
    'pump-level': {
      ...makeGauge(
        at(36, 470),
        'Water in the sump',
        'tide',
        { kind: 'bar', widthPx: 620, heightPx: 36, towards: 'right', radiusPx: 6 },
        'k4',
      ),
      empty: -1,
      full: 2,
      paint: { fill: '#1B6E83', track: '#274F59', border: null, opacity: 1 },
    },
    'pump-oil': {
      ...makeGauge(
        at(-36, 30, [1, 0]),
        'Oil in store',
        'oilDays',
        { kind: 'ring', diameterPx: 150, widthPx: 24, startDeg: -135, sweepDeg: 270 },
        'k5',
      ),
      place: { ownPoint: [1, 0], offsetPx: [-36, 30], stay: 'free', leader: null },
      empty: 0,
      full: 14,
      paint: { fill: '#E5B45C', track: '#274F59', border: null, opacity: 1 },
    },
    'pump-days': {
      ...text(at(-111, 105, [1, 0]), 'Days of oil', '{oilDays, number, ::precision-integer} d', 'k6', 44, {
        paint: { colour: LIT, weight: 700, align: 'centre' },
      }),
      place: { ownPoint: [0.5, 0.5], offsetPx: [-111, 105], stay: 'free', leader: null },
    },
    ...button(at(36, 560), 'pump-prime', 'Prime the pump', 'prime', 'k7', { own: true }),
    'pump-lamp-name': text(at(430, 552), 'Lamp name', 'Lamp', 'k8', 36, { paint: { colour: LIT } }),
    'pump-lamp': {
      ...makeSlider(at(430, 608), 'Lamp', 'lamp', 'k9'),
      widthPx: 226,
      heightPx: 48,
      empty: 0,
      full: 1,
      step: 0.05,
      paint: { fill: '#E5B45C', track: '#274F59', knob: LIT, border: null, opacity: 1 },
    },
    'pump-log': {
      ...box(
        makeGroup(at(700, 216), 'Pump log', 'column', 'kA'),
        { widthPx: 464, heightPx: 460, padPx: [20, 16, 20, 16], gapPx: 8, scroll: { thumb: '#1B6E83', thumbPx: 12 } },
        { colour: '#12445A', radiusPx: 8, border: null },
      ),
    },
    'pump-log-title': text(insideOf('pump-log'), 'Log title', 'Log', 'kB', 40, { paint: { colour: '#E5B45C', weight: 700 } }),
    'pump-log-lines': text(insideOf('pump-log'), 'Log lines', '{log}', 'kC', 36, { paint: { colour: LIT, wrapEm: 11.4 } }),
    ...Object.fromEntries(
      ['Sump cleared at the last ebb', 'Float valve greased', 'Lamp wick trimmed', 'Gate seals tight', 'Next service at springs'].map(
        (line, k) => [
          `pump-log-${k + 1}`,
          text(insideOf('pump-log'), `Log, older ${k + 1}`, line, `kD${k}`, 36, { paint: { colour: '#9FC0CB', wrapEm: 11.4 } }),
        ],
      ),
    ),
  };
}

/** Beside the screen: the tide table, a page, 1.1 x 0.77 m. */
const tides = (): Record<string, Element> => ({
  'tide-table': {
    ...makePage(about(standing('tide-table', [1.1, 0.77], 640 / 1.1, 2.2)), 'Tide table', 'tide-table', 640, 448, 'kZ'),
    range: { from: 'eye', enterM: 8, leaveM: 9, dwellS: 0.3 },
  },
});

/** Brass on the rail of the second sluice, across the way: it reads from both sides, out and home. */
const plate = (): Record<string, Element> => ({
  'brass-plate': {
    ...text(
      about(standing('brass-plate', [0.66, 0.36], 340, 3, { turnDeg: -90, sides: 'both' })),
      'Brass plate',
      'Shut by the wardens\nsince the great surge',
      'l0',
      20,
      {
        paint: { colour: '#2A1F08', weight: 700, align: 'centre', plate: { colour: '#C8A94E', padEm: [0.6, 0.4], radiusEm: 0.2 } },
      },
    ),
    range: { from: 'eye', enterM: 4, leaveM: 5, dwellS: 0.3 },
  },
});

/** How wide a leaf of the notice is, and how high, design pixels. */
const LEAF_PX = 380;
const LEAF_HIGH_PX = 420;
/** Each leaf carries its paper and the leaves after it: it unfolds once the one before it is open, and folds before that. */
const leaf = (group: string, k: number): Group => {
  const about = { kind: 'unfold', edge: 'left', timeS: 0.45, easing: 'smooth' } as const;
  const frame = makeGroup(insideOf(group, [0, 0], [k === 1 ? 0 : LEAF_PX, 0]), `Leaf ${k}`, 'free', `n${k}`);
  return {
    ...bare({ ...frame, place: { ...frame.place, ownPoint: [0, 0] } }, { widthPx: LEAF_PX * (4 - k), heightPx: LEAF_HIGH_PX }),
    motion: {
      enter: { ...about, delayS: 0.4 * (k - 1), sends: 'leaf-turned' },
      leave: { ...about, delayS: 0.4 * (3 - k), sends: 'leaf-turned' },
      betweenS: 0,
    },
  };
};
const paper = (k: number, title: string, words: string): Record<string, Element> => {
  const frame = makeGroup(insideOf(`leaf-${k}`, [0, 0], [0, 0]), `Leaf ${k} paper`, 'column', `o${k}`);
  return {
    [`leaf-${k}-paper`]: {
      ...box(
        { ...frame, place: { ...frame.place, ownPoint: [0, 0] } },
        { widthPx: LEAF_PX, heightPx: LEAF_HIGH_PX, padPx: [28, 28, 24, 24], gapPx: 20, align: 'start' },
        { colour: k % 2 ? '#F7F0DD' : '#EFE6CF', radiusPx: 0, border: { colour: '#8A6A3B', widthPx: 4 } },
      ),
    },
    [`leaf-${k}-title`]: text(insideOf(`leaf-${k}-paper`), `Leaf ${k} title`, title, `p${k}`, 44, {
      paint: { colour: '#7A2B1D', weight: 700 },
    }),
    [`leaf-${k}-words`]: text(insideOf(`leaf-${k}-paper`), `Leaf ${k} words`, words, `q${k}`, 36, {
      paint: { colour: '#2A2318', wrapEm: 8.6 },
    }),
  };
};

/** The wardens' notice by the end of the causeway: three leaves that open as one comes near. */
function foldingNotice(): Record<string, Element> {
  const frame = makeGroup(about(standing('folding-notice', [1.52, 0.56], 750, 2.5)), 'Folding notice', 'free', 'n0');
  return {
    'folding-notice': {
      ...bare(frame),
      range: { from: 'eye', enterM: 5, leaveM: 5.6, dwellS: 0.3 },
      // It stays until its leaves are folded.
      motion: { enter: null, leave: { kind: 'fade', edge: 'left', timeS: 0.05, easing: 'smooth', delayS: 1.25 }, betweenS: 0 },
    },
    'leaf-1': leaf('folding-notice', 1),
    ...paper(1, 'Wardens', 'Ring at the boat shed. Somebody comes at all states of the tide.'),
    'leaf-2': leaf('leaf-1', 2),
    ...paper(2, 'Before you go', 'Read the tide board. Be back before the stakes stand in water.'),
    'leaf-3': leaf('leaf-2', 3),
    ...paper(3, 'If it turns', 'Climb the lamp mast. The lamp is seen from the shore.'),
  };
}

/** A slate that the warden carries: it trails, and comes nearer where there is no room. */
const slate = (): Record<string, Element> => ({
  slate: {
    ...box(
      makeGroup(
        about({
          kind: 'trailing',
          sizeM: [0.42, 0.3],
          pxPerM: 1500,
          readM: 0.9,
          sides: 'front',
          distanceM: 0.9,
          rightDeg: 20,
          upDeg: -9,
          followS: 0.25,
          deadDeg: 6,
          keeps: 'upright',
          blocked: 'nearer',
          leastM: 0.35,
        }),
        'Slate',
        'column',
        'm0',
      ),
      { padPx: [36, 30, 36, 30], gapPx: 18, align: 'start' },
      { colour: '#2B3138', radiusPx: 14, border: { colour: '#8A6A3B', widthPx: 16 } },
    ),
    show: { ...whileRoaming(), conditions: isOpen('slateOpen', true).conditions },
    motion: { enter: { kind: 'fade', edge: 'bottom', timeS: 0.25, easing: 'smooth', delayS: 0 }, leave: null, betweenS: 0 },
  },
  'slate-title': text(insideOf('slate'), 'Slate title', 'Round of the warden', 'm1', 46, { paint: { colour: '#F5F0E3', weight: 700 } }),
  'slate-objective': text(insideOf('slate'), 'Slate objective', '{objective}', 'm2', 42, { paint: { colour: '#E5B45C', wrapEm: 12 } }),
  'slate-line': bare(makeGroup(insideOf('slate'), 'Slate line', 'row', 'm3'), { gapPx: 12 }),
  'slate-samples': text(
    insideOf('slate-line'),
    'Slate samples',
    '{samples, plural, =0 {No samples} one {# sample} other {# samples}}',
    'm4',
    38,
    {
      paint: { colour: '#CFE4EA' },
    },
  ),
});

/** As it was hung first: whoever walks home had its back before them. */
export const hungFirst = (document: Document): Document => {
  const plate = document.elements['brass-plate'] as Element;
  if (plate.mount.kind !== 'standing') throw new Error('The brass plate stands nowhere.');
  return { ...document, elements: { ...document.elements, 'brass-plate': { ...plate, mount: { ...plate.mount, sides: 'front' } } } };
};
