/** The glass of Low Water: what the warden reads in front of the world. */
import {
  type Action,
  type Element,
  type Feed,
  type Gauge,
  type Group,
  insideOf,
  type Label,
  makeGauge,
  makeGroup,
  makeText,
  makeVeil,
  onGlass,
  orderAfter,
  type Phase,
  type Show,
} from '@foreshore/document';

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
});

export const phases = (): Record<string, Phase> => ({
  roaming: { name: 'Roaming', order: 'a0' },
  cinematic: { name: 'Cinematic', order: 'a1' },
  paused: { name: 'Paused', order: 'a2', takesInput: true },
  stranded: { name: 'Stranded', order: 'a3', takesInput: true },
});

const show = (edit: Partial<Show>): Show => ({ phases: {}, need: 'all', conditions: [], lingerS: 0, ...edit });
/** What belongs to walking about: gone in a cinematic, faint behind a veil. */
const whileRoaming = () => show({ phases: { cinematic: 'hidden', paused: 'dimmed', stranded: 'hidden' } });
const only = (phase: string) =>
  show({ phases: Object.fromEntries(Object.keys(phases()).flatMap((p) => (p === phase ? [] : [[p, 'hidden' as const]]))) });

/** A button: a plate with a text inside; pointing at it changes both. */
const button = (
  carried: Parameters<typeof makeText>[0],
  id: string,
  name: string,
  action: string,
  order: string,
): Record<string, Element> => {
  const frame = makeGroup(carried, name, 'row', order);
  return {
    [id]: {
      ...frame,
      mount: carried.mount.kind === 'inside' ? { ...carried.mount, stretch: [true, false] } : carried.mount,
      layout: { ...frame.layout, spread: 'centre', padPx: [24, 8, 24, 10] },
      paint: { plate: { colour: '#E6D5A6', radiusPx: 6, border: { colour: '#15233B', widthPx: 2 } }, opacity: 1 },
      pointer: {
        takes: 'acts',
        action,
        padPx: 4,
        pointed: { plate: '#1B6E83', text: '#FFFFFF' },
        pressed: { plate: '#12445A' },
      },
    },
    [`${id}-text`]: text(insideOf(id), `${name} text`, name, `${order}V`, 28, {
      paint: { colour: '#15233B', weight: 700, align: 'centre' },
      pointer: PASSES,
    }),
  };
};
const PASSES: Label['pointer'] = { takes: 'passes', action: null, padPx: 0, pointed: {}, pressed: {} };

type Part = Partial<Omit<Label, 'paint'>> & { paint?: Partial<Label['paint']> };
const text = (
  carried: Parameters<typeof makeText>[0],
  name: string,
  message: string,
  order: string,
  emPx: number,
  { paint = {}, ...rest }: Part = {},
): Label => {
  const label = makeText(carried, message, order);
  return {
    ...label,
    name,
    ...rest,
    size: { rule: 'screen', emPx, hideBelowPx: 0, leavePx: 0 },
    paint: { ...label.paint, outline: null, ...paint },
  };
};
const box = (tray: Group, layout: Partial<Group['layout']>, plate: Group['paint']['plate'] = tray.paint.plate): Group => ({
  ...tray,
  layout: { ...tray.layout, ...layout },
  paint: { ...tray.paint, plate },
});
const bare = (tray: Group, layout: Partial<Group['layout']> = {}): Group => box(tray, { padPx: [0, 0, 0, 0], ...layout }, null);
const across = (element: Gauge): Gauge => ({ ...element, mount: { ...element.mount, stretch: [true, false] } as Gauge['mount'] });

/** The elements in the order in which they are written down, behind those given. */
export function glass(world: Record<string, Element>): Record<string, Element> {
  const all: Record<string, Element> = { ...world };
  for (const [id, element] of Object.entries(parts())) all[id] = { ...element, order: orderAfter(all) };
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
        conditions: [{ kind: 'compare', feed: 'warmth', is: 'below', value: 30, leave: 6 }],
        lingerS: 1,
      }),
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
        { kind: 'pips', count: 5, sizePx: 14, gapPx: 4, shape: 'soft', part: 'whole', vertical: true },
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
        { kind: 'pips', count: 5, sizePx: 20, gapPx: 6, shape: 'round', part: 'whole', vertical: false },
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
    'pause-card': box(
      makeGroup(insideOf('pause-veil', [0.5, 0.5]), 'Pause card', 'column', 'f1'),
      { align: 'centre', gapPx: 10, padPx: [60, 36, 60, 40] },
      { colour: '#F5F0E3F5', radiusPx: 8, border: null },
    ),
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
    ...button(insideOf('pause-card'), 'carry-on', 'Carry on', 'carry-on', 'f4'),
    ...button(insideOf('pause-card'), 'give-up', 'Give up', 'give-up', 'f5'),
    'stranded-veil': {
      ...makeVeil('Stranded veil', 'g0'),
      show: only('stranded'),
      paint: { plate: { colour: '#12445ACC', radiusPx: 0, border: null }, opacity: 1 },
    },
    'stranded-title': text(insideOf('stranded-veil', [0.5, 0.42]), 'Stranded title', 'The water has you', 'g1', 72, {
      paint: { weight: 700, align: 'centre' },
    }),
    ...button(insideOf('stranded-veil', [0.5, 0.66]), 'ebb', 'Wait for the ebb', 'ebb', 'g3'),
    'stranded-words': text(
      insideOf('stranded-veil', [0.5, 0.54]),
      'Stranded words',
      'Way to the lamp: {lampM, number, ::precision-integer} m',
      'g2',
      34,
      { paint: { align: 'centre' } },
    ),
  };
}
