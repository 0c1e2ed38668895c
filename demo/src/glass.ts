/** The glass of Low Water: what the warden reads in front of the world. */
import {
  type Action,
  type Element,
  type Feed,
  type Gauge,
  type Instance,
  insideOf,
  type Motion,
  makeGauge,
  makeGroup,
  makeInstance,
  makeMovement,
  makePicture,
  makeScreenPaint,
  makeSlider,
  makeToggle,
  makeVeil,
  onGlass,
  orderAfter,
  type Phase,
} from '@foreshore/document';
import { panels } from './panels.ts';
import { bare, box, button, isOpen, show, text, whileRoaming } from './pieces.ts';
import { scopeParts } from './scope.ts';
import { glassInOthers } from './translations.ts';

const PAPER = '#FBF8F0';
const RED = '#E0604A';
const AMBER = '#E5B45C';
const GREEN = '#6FC79B';

export const feeds = (): Record<string, Feed> => ({
  warmth: {
    name: 'Warmth',
    order: 'a0',
    kind: 'number',
    unit: '%',
    initial: 80,
    range: [0, 100],
    source: { kind: 'steps', values: [92, 92, 78, 74, 74, 51, 51, 33, 29, 14, 14, 46, 70, 88], everyS: 2.5 },
  },
  lamp: {
    name: 'Lamp oil',
    order: 'a1',
    kind: 'number',
    unit: '',
    initial: 1,
    range: [0, 1],
    source: { kind: 'ramp', from: 1, to: 0.1, periodS: 90 },
  },
  tide: {
    name: 'Tide',
    order: 'a2',
    kind: 'number',
    unit: 'm',
    initial: -0.2,
    range: [-1, 2],
    source: { kind: 'sine', middle: 0.4, reach: 0.9, periodS: 120, startDeg: -70 },
  },
  samples: {
    name: 'Samples',
    order: 'a3',
    kind: 'number',
    unit: '',
    initial: 0,
    range: [0, 5],
    source: { kind: 'steps', values: [0, 1, 1, 2, 3, 3, 4, 5], everyS: 6 },
  },
  clockS: {
    name: 'Tide returns in',
    order: 'a4',
    kind: 'number',
    unit: 's',
    initial: 240,
    range: [0, 240],
    source: { kind: 'ramp', from: 240, to: 0, periodS: 240 },
  },
  objective: {
    name: 'Objective',
    order: 'a5',
    kind: 'text',
    unit: '',
    initial: 'Close the three sluices',
    source: { kind: 'steps', values: ['Close the three sluices', 'Light the lamp on the mast', 'Bring the dinghy in'], everyS: 14 },
  },
  lampM: {
    name: 'Way to the lamp',
    order: 'a6',
    kind: 'number',
    unit: 'm',
    initial: 0,
    range: [0, 120],
    source: { kind: 'distance', anchor: 'lamp-mast' },
  },
  oilDays: { name: 'Oil in store', order: 'a7', kind: 'number', unit: 'd', initial: 9, range: [0, 14], source: { kind: 'fixed' } },
  settingsOpen: { name: 'Settings are open', order: 'a8', kind: 'flag', unit: '', initial: false, source: { kind: 'fixed' } },
  wind: { name: 'Volume of the wind', order: 'a9', kind: 'number', unit: '%', initial: 70, range: [0, 100], source: { kind: 'fixed' } },
  gulls: { name: 'Volume of the gulls', order: 'aA', kind: 'number', unit: '%', initial: 40, range: [0, 100], source: { kind: 'fixed' } },
  hints: { name: 'Hints', order: 'aB', kind: 'flag', unit: '', initial: true, source: { kind: 'fixed' } },
  coldWarning: { name: 'Warn of the cold', order: 'aC', kind: 'flag', unit: '', initial: true, source: { kind: 'fixed' } },
  steadyHead: { name: 'Steady head', order: 'aD', kind: 'flag', unit: '', initial: false, source: { kind: 'fixed' } },
  logOpen: {
    name: 'Log is open',
    order: 'aE',
    kind: 'flag',
    unit: '',
    initial: false,
    source: { kind: 'key', code: 'KeyL', how: 'turns' },
  },
  log: {
    name: 'Log',
    order: 'aF',
    kind: 'list',
    unit: '',
    initial: ['06:10 tide turned', '06:42 lamp lit on the mast'],
    source: {
      kind: 'steps',
      values: [
        ['06:10 tide turned'],
        ['06:10 tide turned', '06:42 lamp lit on the mast'],
        ['06:10 tide turned', '06:42 lamp lit on the mast', '07:05 first sluice closed'],
      ],
      everyS: 9,
    },
  },
  surge: {
    name: 'Surge',
    order: 'aH',
    kind: 'event',
    unit: '',
    initial: { number: 0, place: [0, 0, 0] },
    source: {
      kind: 'events',
      places: [
        [-9, 0.4, 14],
        [21, 0.3, 3],
        [34, 0.4, -12],
      ],
      everyS: 11,
    },
  },
  slateOpen: {
    name: 'Slate is out',
    order: 'aI',
    kind: 'flag',
    unit: '',
    initial: false,
    source: { kind: 'key', code: 'KeyN', how: 'turns' },
  },
  speed: { name: 'Speed', order: 'aG', kind: 'number', unit: 'm/s', initial: 0, range: [0, 8], source: { kind: 'speed' } },
});

export const actions = (): Record<string, Action> => ({
  pause: { name: 'Pause', order: 'a0', reactions: [{ kind: 'phase', when: [], phase: 'paused' }] },
  'carry-on': { name: 'Carry on', order: 'a1', reactions: [{ kind: 'phase', when: [], phase: 'roaming' }] },
  'pick-sample': {
    name: 'Pick up a sample',
    order: 'a2',
    reactions: [{ kind: 'add', when: [{ kind: 'compare', feed: 'samples', is: 'below', value: 5, leave: 0 }], feed: 'samples', by: 1 }],
  },
  'give-up': { name: 'Give up', order: 'a3', reactions: [{ kind: 'phase', when: [], phase: 'stranded' }] },
  ebb: {
    name: 'Wait for the ebb',
    order: 'a4',
    reactions: [
      { kind: 'set', when: [], feed: 'warmth', value: 60 },
      { kind: 'set', when: [], feed: 'clockS', value: 240 },
      { kind: 'send', when: [], action: 'carry-on' },
    ],
  },
  settings: { name: 'Open the settings', order: 'a5', reactions: [{ kind: 'set', when: [], feed: 'settingsOpen', value: true }] },
  // The game has a sound for it.
  'leaf-turned': { name: 'A leaf turned', order: 'a7', reactions: [] },
  'settings-done': { name: 'Close the settings', order: 'a6', reactions: [{ kind: 'set', when: [], feed: 'settingsOpen', value: false }] },
});

export const phases = (): Record<string, Phase> => ({
  roaming: { name: 'Roaming', order: 'a0' },
  cinematic: { name: 'Cinematic', order: 'a1' },
  paused: { name: 'Paused', order: 'a2', takesInput: true },
  stranded: { name: 'Stranded', order: 'a3', takesInput: true },
  scope: { name: 'Scope', order: 'a4' },
});

const only = (phase: string) =>
  show({ phases: Object.fromEntries(Object.keys(phases()).flatMap((p) => (p === phase ? [] : [[p, 'hidden' as const]]))) });

/** A line of the settings: what it is, and what sets it. */
const setting = (id: string, name: string, order: string, control: Element): Record<string, Element> => ({
  [id]: {
    ...bare(
      makeGroup(
        { ...insideOf('settings-list'), mount: { kind: 'inside', group: 'settings-list', pin: [0, 0], stretch: [true, false] } },
        name,
        'row',
        order,
      ),
      {
        spread: 'between',
        padPx: [0, 6, 18, 6],
      },
    ),
  },
  [`${id}-name`]: text(insideOf(id), `${name}, name`, name, `${order}1`, 26, { paint: { colour: '#15233B' } }),
  [`${id}-control`]: control,
});
const volume = (id: string, feed: string, order: string): Element => ({
  ...makeSlider(insideOf(id), `${id} slider`, feed, `${order}2`),
  widthPx: 260,
  paint: { fill: '#1B6E83', track: '#D8CFB8', knob: '#12445A', border: null, opacity: 1 },
});
const tick = (id: string, feed: string, order: string, form: 'switch' | 'tick' = 'switch'): Element => {
  const toggle = makeToggle(insideOf(id), `${id} switch`, feed, `${order}2`);
  return {
    ...toggle,
    form,
    ...(form === 'tick' && { widthPx: 36 }),
    paint: { ...toggle.paint, border: { colour: '#15233B', widthPx: 2 } },
  };
};

const across = (element: Gauge): Gauge => ({ ...element, mount: { ...element.mount, stretch: [true, false] } as Gauge['mount'] });

/** The elements in the order in which they are written down, behind those given. */
export function glass(world: Record<string, Element>): Record<string, Element> {
  const all: Record<string, Element> = { ...world };
  for (const [id, element] of Object.entries(parts())) {
    const translations = glassInOthers(id);
    const said = element.kind === 'label' && translations ? { ...element, translations } : element;
    all[id] = { ...said, order: orderAfter(all) };
  }
  return all;
}

function parts(): Record<string, Element> {
  const ink = { colour: '#15233BD9', radiusPx: 10, border: null };
  return {
    vitals: {
      ...box(makeGroup(onGlass([0, 1]), 'Vitals', 'column', 'b0'), { gapPx: 8, leastPx: [360, 0], padPx: [18, 12, 18, 16] }, ink),
      show: whileRoaming(),
    },
    'warmth-line': bare(
      makeGroup(
        { ...insideOf('vitals'), mount: { kind: 'inside', group: 'vitals', pin: [0, 0], stretch: [true, false] } },
        'Warmth line',
        'row',
        'b1',
      ),
      { spread: 'between', align: 'end' },
    ),
    'warmth-flame': {
      ...makeGauge(
        insideOf('warmth-line'),
        'Warmth flame',
        'warmth',
        { kind: 'picture', picture: 'flame', behind: null, widthPx: 40, heightPx: 40, towards: 'up' },
        'b1V',
      ),
      paint: { fill: RED, track: '#00000000', border: null, opacity: 1 },
    },
    'warmth-name': text(insideOf('warmth-line'), 'Warmth name', 'Warmth', 'b2', 26),
    'warmth-value': text(insideOf('warmth-line'), 'Warmth value', '{warmth, number, ::precision-integer} %', 'b3', 26, {
      paint: { weight: 700 },
    }),
    'warmth-bar': across({
      ...makeGauge(
        insideOf('vitals'),
        'Warmth bar',
        'warmth',
        { kind: 'bar', widthPx: 320, heightPx: 22, towards: 'right', radiusPx: 6 },
        'b4',
      ),
      thresholds: [
        { below: 20, colour: RED },
        { below: 45, colour: AMBER },
      ],
      ghost: { colour: PAPER, holdS: 0.6, perS: 0.5 },
      paint: { fill: GREEN, track: '#0A121DCC', border: { colour: PAPER, widthPx: 2 }, opacity: 1 },
    }),
    cold: {
      ...text(onGlass([0, 1], [0, -104]), 'Cold warning', 'Cold: find shelter', 'b5', 26, {
        paint: { colour: '#FBF8F0', weight: 700, plate: { colour: '#8E2A1CF2', padEm: [0.6, 0.25], radiusEm: 0.3 } },
      }),
      show: show({
        phases: { cinematic: 'hidden', paused: 'hidden', stranded: 'hidden' },
        conditions: [
          { kind: 'compare', feed: 'warmth', is: 'below', value: 30, leave: 6 },
          { kind: 'compare', feed: 'coldWarning', is: 'equals', value: true, leave: 0 },
        ],
        lingerS: 1,
      }),
      motion: {
        enter: { ...makeMovement('slide'), edge: 'left', easing: 'springy', timeS: 0.45 },
        leave: makeMovement('fade'),
        betweenS: 0,
      },
    },
    'lamp-dial': { ...bare(makeGroup(onGlass([1, 1]), 'Lamp dial', 'free', 'b6'), { widthPx: 132, heightPx: 132 }), show: whileRoaming() },
    'lamp-ring': {
      ...makeGauge(
        insideOf('lamp-dial', [0.5, 0.5]),
        'Lamp ring',
        'lamp',
        { kind: 'ring', diameterPx: 128, widthPx: 16, startDeg: -135, sweepDeg: 270 },
        'b7',
      ),
      empty: 0,
      full: 1,
      thresholds: [{ below: 0.25, colour: RED }],
      paint: { fill: AMBER, track: '#0E1826CC', border: { colour: '#FBF8F099', widthPx: 1.5 }, opacity: 1 },
    },
    'lamp-value': text(insideOf('lamp-dial', [0.5, 0.5]), 'Lamp value', '{lamp, number, ::percent}', 'b8', 30, {
      paint: { weight: 700, align: 'centre', outline: { colour: '#15233B', widthEm: 0.1 } },
    }),
    'lamp-name': text(insideOf('lamp-dial', [0.5, 1]), 'Lamp name', 'Lamp', 'b9', 24, {
      paint: { align: 'centre', outline: { colour: '#15233B', widthEm: 0.1 } },
    }),
    tide: { ...box(makeGroup(onGlass([1, 0]), 'Tide', 'row', 'c0'), { gapPx: 14, padPx: [16, 10, 16, 10] }, ink), show: whileRoaming() },
    'tide-stages': {
      ...makeGauge(
        insideOf('tide'),
        'Tide stages',
        'tide',
        { kind: 'stages', pictures: ['tide-0', 'tide-1', 'tide-2', 'tide-3'], widthPx: 64, heightPx: 64 },
        'c1',
      ),
      empty: -1,
      full: 2,
      thresholds: [],
      smoothS: 0,
      paint: { fill: '#7AB3C4', track: '#0A121DCC', border: { colour: '#CFE4EA', widthPx: 1.5 }, opacity: 1 },
    },
    'tide-words': bare(makeGroup(insideOf('tide'), 'Tide words', 'column', 'c2'), { gapPx: 2 }),
    'tide-value': text(insideOf('tide-words'), 'Tide value', 'Tide {tide, number, ::.00} m', 'c3', 28, { paint: { weight: 700 } }),
    'tide-clock': text(insideOf('tide-words'), 'Tide clock', 'Water returns in {clockS, number, ::precision-integer} s', 'c4', 22),
    samples: {
      ...box(makeGroup(onGlass([0, 0]), 'Samples', 'row', 'd0'), { gapPx: 12, padPx: [14, 10, 16, 10] }, ink),
      show: whileRoaming(),
    },
    'samples-pips': {
      ...makeGauge(
        insideOf('samples'),
        'Samples pips',
        'samples',
        { kind: 'pips', count: 5, sizePx: 32, gapPx: 2, shape: 'round', part: 'whole', vertical: false, picture: 'jar' },
        'd1',
      ),
      full: 5,
      smoothS: 0,
      paint: { fill: PAPER, track: '#0A121DCC', border: { colour: PAPER, widthPx: 2 }, opacity: 1 },
    },
    'samples-count': text(
      insideOf('samples'),
      'Samples count',
      '{samples, plural, =0 {No samples yet} one {# sample} other {# samples}}',
      'd2',
      24,
    ),
    'pause-button': {
      ...text(onGlass([0, 0], [0, 60]), 'Pause button', 'Pause', 'd5', 24, {
        paint: { colour: '#15233B', weight: 700, plate: { colour: '#E6D5A6', padEm: [0.7, 0.3], radiusEm: 0.3 } },
      }),
      show: whileRoaming(),
      pointer: { takes: 'acts', action: 'pause', padPx: 6, pointed: { plate: '#1B6E83', text: '#FFFFFF' }, pressed: { plate: '#12445A' } },
    },
    objective: {
      ...box(
        makeGroup(onGlass([0.5, 0]), 'Objective', 'column', 'e0'),
        { align: 'centre', gapPx: 2, padPx: [24, 10, 24, 12] },
        { colour: '#F5F0E3F0', radiusPx: 6, border: { colour: '#12445A', widthPx: 2 } },
      ),
      show: show({
        phases: { cinematic: 'hidden', paused: 'hidden', stranded: 'hidden' },
        conditions: [{ kind: 'changed', feed: 'objective', withinS: 5 }],
        lingerS: 0.5,
      }),
    },
    'objective-title': text(insideOf('objective'), 'Objective title', 'Now', 'e1', 22, { paint: { colour: '#12445A', align: 'centre' } }),
    'objective-text': text(insideOf('objective'), 'Objective text', '{objective}', 'e2', 30, {
      paint: { colour: '#15233B', weight: 700, align: 'centre' },
    }),
    'pause-veil': { ...makeVeil('Pause veil', 'f0'), show: only('paused') },
    'pause-card': {
      show: isOpen('settingsOpen', false),
      ...box(
        makeGroup(insideOf('pause-veil', [0.5, 0.5]), 'Pause card', 'column', 'f1'),
        { align: 'centre', gapPx: 10, padPx: [60, 36, 60, 40] },
        { colour: '#F5F0E3F5', radiusPx: 8, border: null },
      ),
    },
    'pause-title': text(insideOf('pause-card'), 'Pause title', 'Paused', 'f2', 54, {
      paint: { colour: '#15233B', weight: 700, align: 'centre' },
    }),
    'pause-words': text(
      insideOf('pause-card'),
      'Pause words',
      'The tide waits too: {clockS, number, ::precision-integer} s are left.',
      'f3',
      26,
      { paint: { colour: '#15233B', align: 'centre' } },
    ),
    ...button(insideOf('pause-card'), 'carry-on', 'Carry on', 'carry-on', 'f4', { picture: 'flame' }),
    ...button(insideOf('pause-card'), 'settings-button', 'Settings', 'settings', 'f5', { picture: 'frame' }),
    ...button(insideOf('pause-card'), 'give-up', 'Give up', 'give-up', 'f6', { picture: 'tide-3' }),
    'settings-card': {
      // Paper under the frame: what a picture shows is nothing to reckon contrast with.
      ...box(
        makeGroup(insideOf('pause-veil', [0.5, 0.5]), 'Settings card', 'free', 'f7'),
        { widthPx: 760, heightPx: 520, padPx: [0, 0, 0, 0] },
        { colour: '#F5F0E3', radiusPx: 0, border: null },
      ),
      show: isOpen('settingsOpen', true),
      motion: {
        enter: { ...makeMovement('unfold'), edge: 'top', timeS: 0.25 },
        leave: { ...makeMovement('fade'), timeS: 0.15 },
        betweenS: 0,
      },
    },
    'settings-frame': {
      ...makePicture(
        { ...insideOf('settings-card'), mount: { kind: 'inside', group: 'settings-card', pin: [0, 0], stretch: [true, true] } },
        'Settings frame',
        'frame',
        60,
        60,
        'f70',
      ),
      fill: 'nine',
      cornersPx: [24, 24, 24, 24],
    },
    'settings-title': text(insideOf('settings-card', [0, 0], [40, 32]), 'Settings title', 'Settings', 'f71', 44, {
      paint: { colour: '#12445A', weight: 700 },
    }),
    'settings-list': bare(makeGroup(insideOf('settings-card', [0.5, 0], [0, 100]), 'Settings list', 'column', 'f72'), {
      widthPx: 680,
      heightPx: 300,
      gapPx: 6,
      scroll: { thumb: '#12445A', thumbPx: 8 },
    }),
    ...setting('set-wind', 'Volume of the wind', 'f73', volume('set-wind', 'wind', 'f73')),
    ...setting('set-gulls', 'Volume of the gulls', 'f74', volume('set-gulls', 'gulls', 'f74')),
    ...setting('set-hints', 'Hints', 'f75', tick('set-hints', 'hints', 'f75')),
    ...setting('set-cold', 'Warn of the cold', 'f76', tick('set-cold', 'coldWarning', 'f76')),
    ...setting('set-head', 'Steady head while walking', 'f77', tick('set-head', 'steadyHead', 'f77', 'tick')),
    ...setting('set-log', 'Keep the log open', 'f78', tick('set-log', 'logOpen', 'f78', 'tick')),
    ...button(insideOf('settings-card', [0.5, 1], [0, -28]), 'settings-done', 'Done', 'settings-done', 'f79', { own: true }),
    'cold-sight': {
      ...makeScreenPaint('desaturate', 'Cold sight', 'warmth', 'f8'),
      empty: 35,
      full: 5,
      fallPerS: 0.5,
      show: show({ phases: { cinematic: 'hidden' } }),
    },
    'stranded-sight': { ...makeScreenPaint('vignette', 'Stranded sight', null, 'f9'), show: only('stranded') },
    'log-board': {
      ...box(
        makeGroup(onGlass([1, 0.5]), 'Log board', 'column', 'fA'),
        { gapPx: 6, padPx: [20, 14, 20, 16], leastPx: [320, 0] },
        { colour: '#F5F0E3F0', radiusPx: 6, border: { colour: '#12445A', widthPx: 2 } },
      ),
      show: {
        ...show({ phases: { cinematic: 'hidden', paused: 'hidden', stranded: 'hidden' } }),
        conditions: isOpen('logOpen', true).conditions,
      },
      motion: {
        enter: { ...makeMovement('slide'), edge: 'right' },
        leave: { ...makeMovement('slide'), edge: 'right', timeS: 0.2 },
        betweenS: 0,
      },
    },
    'log-title': text(insideOf('log-board'), 'Log title', 'Log', 'fA1', 28, { paint: { colour: '#12445A', weight: 700 } }),
    'log-lines': text(insideOf('log-board'), 'Log lines', '{log}', 'fA2', 24, { paint: { colour: '#15233B' } }),
    'stranded-veil': {
      ...makeVeil('Stranded veil', 'g0'),
      show: only('stranded'),
      paint: { plate: { colour: '#12445ACC', radiusPx: 0, border: null }, opacity: 1 },
    },
    'stranded-title': {
      ...text(insideOf('stranded-veil', [0.5, 0.42]), 'Stranded title', 'The water has you', 'g1', 72, {
        paint: { weight: 700, align: 'centre' },
      }),
      motion: arrives(0.2),
    },
    ...arriving(button(insideOf('stranded-veil', [0.5, 0.66]), 'ebb', 'Wait for the ebb', 'ebb', 'g3'), 'ebb', 1.4),
    'stranded-words': text(
      insideOf('stranded-veil', [0.5, 0.54]),
      'Stranded words',
      'Way to the lamp: {lampM, number, ::precision-integer} m',
      'g2',
      34,
      { paint: { align: 'centre' }, motion: arrives(0.8) },
    ),
    ...instruments(),
    ...panels(),
    ...scopeParts(only('scope')),
  };
}

/** One after the other, in steps. */
const arrives = (delayS: number): Motion => ({
  enter: { ...makeMovement('fade'), easing: 'stepped', timeS: 0.6, delayS },
  leave: null,
  betweenS: 0,
});
const arriving = (elements: Record<string, Element>, id: string, delayS: number): Record<string, Element> => ({
  ...elements,
  [id]: { ...(elements[id] as Element), motion: arrives(delayS) },
});

/** A board for an instrument in the world: one template, two uses. */
function instruments(): Record<string, Element> {
  const floating = (anchor: string) => ({
    mount: { kind: 'floating' as const, anchor },
    place: {
      ownPoint: [0.5, 1] as [number, number],
      offsetPx: [0, -96] as [number, number],
      stay: 'free' as const,
      leader: { widthPx: 2, colour: '#15233B' },
    },
  });
  const world = { rule: 'world' as const, emM: 0.006, leastPx: 0.5, greatestPx: 1.1, hideBelowPx: 0.42, leavePx: 0.05 };
  const use = (anchor: string, name: string, values: Instance['values'], order: string): Instance => ({
    ...makeInstance(floating(anchor), 'instrument', name, order),
    size: world,
    values,
    show: whileRoaming(),
  });
  return {
    instrument: {
      ...box(
        makeGroup(onGlass([0.5, 0.5]), 'Instrument board', 'column', 'h0'),
        { gapPx: 6, padPx: [18, 10, 18, 14] },
        { colour: '#F5F0E3F0', radiusPx: 6, border: { colour: '#12445A', widthPx: 2 } },
      ),
      template: {
        parameters: {
          title: { kind: 'text', initial: 'Instrument' },
          reading: { kind: 'feed', initial: 'tide' },
          least: { kind: 'number', initial: 0 },
          most: { kind: 'number', initial: 1 },
        },
        only: true,
      },
    },
    'instrument-title': {
      ...text(insideOf('instrument'), 'Instrument title', '{title}', 'h1', 26, { paint: { colour: '#12445A', weight: 700 } }),
    },
    'instrument-reading': text(insideOf('instrument'), 'Instrument reading', '{reading, number, ::.0}', 'h2', 34, {
      paint: { colour: '#15233B' },
    }),
    'instrument-bar': {
      ...makeGauge(
        insideOf('instrument'),
        'Instrument bar',
        null,
        { kind: 'bar', widthPx: 220, heightPx: 16, towards: 'right', radiusPx: 4 },
        'h3',
      ),
      paint: { fill: '#1B6E83', track: '#D8CFB8', border: null, opacity: 1 },
      uses: { source: 'reading', empty: 'least', full: 'most' },
    },
    'board-tide': use('tide-board', 'Tide board', { title: 'Water over the causeway, m', reading: 'tide', least: -1, most: 2 }, 'h4'),
    'board-oil': use('boat-shed', 'Oil board', { title: 'Oil in store, days', reading: 'oilDays', least: 0, most: 14 }, 'h5'),
  };
}
