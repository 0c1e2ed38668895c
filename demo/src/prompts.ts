/** Prompts of Low Water: one template for all that can be used, and what the level does when it is. */
import {
  type Action,
  type Anchor,
  type Document,
  type Element,
  type Feed,
  insideOf,
  type Keys,
  makeGroup,
  makeInstance,
  makeKey,
  makeMovement,
  makeText,
  onGlass,
  promptGates,
} from '@foreshore/document';
import { promptInOthers } from './translations.ts';

const KEYS: Keys = { keyboard: 'KeyE', gamepad: 0, touch: 'tap', hand: 0 };
const inOthers = (text: string) => {
  const translations = promptInOthers(text);
  return translations ? { translations } : {};
};
const gate = (n: number) => `gate${n}`;

/** How far each thing that can be used has been moved: 0 at rest, 1 at its end. */
export const promptFeeds = (): Record<string, Feed> => {
  const share = (name: string, order: string): Feed => ({
    name,
    order,
    kind: 'number',
    unit: '',
    initial: 0,
    range: [0, 1],
    source: { kind: 'fixed' },
  });
  return {
    door: share('Door of the pump house', 'aI'),
    ...Object.fromEntries([1, 2, 3].map((n) => [gate(n), share(`Gate ${n}`, `aJ${n}`)])),
    tideRead: { name: 'Tide was read', order: 'aK', kind: 'flag', unit: '', initial: false, source: { kind: 'fixed' } },
  };
};

/** Which clips of the level follow which feed. */
export const clips = (): NonNullable<NonNullable<Document['level']>['clips']> => ({
  Door: { feed: 'door', from: 0, to: 1 },
  ...Object.fromEntries([1, 2, 3].map((n) => [`Sluice ${n}`, { feed: gate(n), from: 0, to: 1 }])),
});

export const promptActions = (): Record<string, Action> => ({
  turn: {
    name: 'Turn a wheel',
    order: 'b00',
    keys: KEYS,
    reactions: [1, 2, 3].map((n) => ({ kind: 'other', when: [], target: `Sluice ${n} wheel`, feed: gate(n), values: [0, 1], overS: 4 })),
  },
  open: {
    name: 'Open or close a door',
    order: 'b01',
    keys: KEYS,
    reactions: [{ kind: 'other', when: [], feed: 'door', values: [0, 1], overS: 1.4 }],
  },
  read: {
    name: 'Read the tide',
    order: 'b02',
    keys: KEYS,
    reactions: [
      { kind: 'set', when: [], feed: 'tideRead', value: true },
      { kind: 'send', when: [], action: 'pick-sample' },
    ],
  },
  prime: { name: 'Prime the pump', order: 'b03', keys: KEYS, reactions: [{ kind: 'add', when: [], feed: 'oilDays', by: -1 }] },
});

export const promptAnchors = (): Record<string, Anchor> => ({
  'sluice-wheels': {
    kind: 'nodes',
    name: 'Sluice wheels',
    order: 'b00',
    pattern: 'Sluice * wheel',
    property: null,
    offset: [0, 0, 0],
    zone: { kind: 'sphere', radiusM: 0.5 },
  },
  'door-handle': {
    kind: 'node',
    name: 'Door handle',
    order: 'b01',
    node: 'Pump house door',
    offset: [0.56, 1.1, 0],
    zone: { kind: 'box', sizeM: [1, 1.6, 0.3] },
  },
  'tide-scale': {
    kind: 'node',
    name: 'Tide scale',
    order: 'b02',
    node: 'Tide board',
    offset: [0, 1.5, 0],
    zone: { kind: 'capsule', radiusM: 0.3, heightM: 1.8 },
  },
  'pump-dials': { kind: 'node', name: 'Pump dials', order: 'b03', node: 'Control board', offset: [0, 0.6, 0], zone: { kind: 'mesh' } },
});

/** What is used, where, and how its key is pressed. */
const USES: {
  id: string;
  name: string;
  anchor: string;
  verb: string;
  thing: string;
  action: string;
  press?: Partial<NonNullable<Element['press']>>;
  range?: Partial<NonNullable<Element['range']>>;
}[] = [
  {
    id: 'prompt-wheel',
    name: 'Turn the wheel',
    anchor: 'sluice-wheels',
    verb: '{gate, plural, =0 {Lift the gate} other {Lower the gate}}',
    thing: '{node}',
    action: 'turn',
    press: { how: 'hold', holdS: 0.8 },
    range: { enterM: 3.6, leaveM: 4.1 },
  },
  {
    id: 'prompt-door',
    name: 'Open the door',
    anchor: 'door-handle',
    verb: '{door, plural, =0 {Open} other {Close}}',
    thing: 'Pump house door',
    action: 'open',
  },
  {
    id: 'prompt-tide',
    name: 'Read the tide',
    anchor: 'tide-scale',
    verb: 'Read the tide',
    thing: 'Tide board, {tide, number, ::.00} m',
    action: 'read',
  },
  {
    id: 'prompt-pump',
    name: 'Prime the pump',
    anchor: 'pump-dials',
    verb: 'Prime the pump',
    thing: 'three strokes',
    action: 'prime',
    press: { how: 'repeat', holdS: 2, times: 3 },
  },
];

/** The template and its uses, from an order on. */
export function prompts(): Record<string, Element> {
  const row = makeGroup(onGlass([0.5, 0.5]), 'Prompt', 'row', 'b00');
  const column = makeGroup(insideOf('prompt'), 'Words', 'column', 'b02');
  const words = (
    id: string,
    name: string,
    order: string,
    emPx: number,
    colour: string,
    weight: number,
    parameter: string,
  ): Record<string, Element> => {
    const label = makeText(insideOf('prompt-words'), name, order);
    return {
      [id]: {
        ...label,
        name,
        size: { rule: 'screen', emPx, hideBelowPx: 0, leavePx: 0 },
        paint: { ...label.paint, colour, weight, outline: null },
        uses: { text: parameter },
      },
    };
  };
  const out: Record<string, Element> = {
    prompt: {
      ...row,
      layout: { ...row.layout, padPx: [12, 9, 20, 10], gapPx: 20 },
      paint: { plate: { colour: '#15233BEB', radiusPx: 12, border: { colour: '#E5B45C', widthPx: 1.5 } }, opacity: 1 },
      template: {
        parameters: {
          verb: { kind: 'text', initial: 'Use', ...inOthers('Use') },
          thing: { kind: 'text', initial: '{node}' },
          // Of the wheels each has its own, in the level.
          gate: { kind: 'feed', initial: gate(1) },
        },
        only: true,
      },
      ...promptGates(null),
    },
    'prompt-key': {
      ...makeKey(insideOf('prompt'), 'b01'),
      heightPx: 50,
      paint: { plate: '#FBF8F0', ink: '#15233B', lit: '#E5B45C', border: null, opacity: 1 },
    },
    'prompt-words': { ...column, layout: { ...column.layout, padPx: [0, 0, 0, 0], gapPx: 0 }, paint: { plate: null, opacity: 1 } },
    ...words('prompt-verb', 'What it does', 'b03', 29, '#FBF8F0', 600, 'verb'),
    ...words('prompt-thing', 'To what', 'b04', 21, '#D8CFB8', 400, 'thing'),
  };
  USES.forEach(({ id, name, anchor, verb, thing, action, press, range }, k) => {
    const fade = { ...makeMovement('fade'), timeS: 0.12 };
    const gates = promptGates(action);
    out[id] = {
      ...makeInstance(
        {
          mount: { kind: 'floating', anchor },
          place: { ownPoint: [0.5, 1], offsetPx: [0, -40], stay: 'inside', leader: { widthPx: 2, colour: '#E5B45C' } },
        },
        'prompt',
        name,
        `b0${5 + k}`,
      ),
      values: { verb, thing },
      translations: Object.fromEntries(
        Object.entries({ verb, thing }).flatMap(([name, text]) => {
          const said = promptInOthers(text);
          return said ? [[name, said]] : [];
        }),
      ),
      ...gates,
      press: { ...gates.press, ...press },
      range: { ...gates.range, ...range },
      motion: { enter: fade, leave: fade, betweenS: 0 },
      show: { phases: { cinematic: 'hidden', paused: 'hidden', stranded: 'hidden' }, need: 'all', conditions: [], lingerS: 0 },
    };
  });
  return out;
}
