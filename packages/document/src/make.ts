/** Makers of documents and their parts, with the defaults a newcomer should meet. */
import { generateKeyBetween } from 'fractional-indexing';
import { inOrder } from './order.ts';
import type {
  Document,
  Element,
  Gauge,
  GaugeForm,
  Group,
  Instance,
  Key,
  Label,
  Lens,
  Mount,
  Movement,
  PageElement,
  Picture,
  ScreenPaint,
  Slider,
  Toggle,
  Viewer,
} from './schema.ts';

type Ordered = Record<string, { order: string }>;

/** An `order` after all that are there. */
export const orderAfter = (collection: Ordered): string => generateKeyBetween(inOrder(collection).at(-1)?.[1].order ?? null, null);

/** An `order` between two others; null: no bound on that side. */
export const orderBetween = (before: string | null, after: string | null): string => generateKeyBetween(before, after);

/** A new id that reads like the name: "Tide gauge" gives `tide-gauge`, or `tide-gauge-2` where that is taken. */
export function freeId(collection: object, from: string): string {
  const base =
    from
      .normalize('NFKD')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 48) || 'item';
  if (!Object.hasOwn(collection, base) && base !== 'constructor') return base;
  for (let n = 2; ; n++) if (!Object.hasOwn(collection, `${base}-${n}`)) return `${base}-${n}`;
}

export const defaultLens = (): Lens => ({
  kind: 'perspective',
  fovDeg: 60,
  fovAxis: 'vertical',
  hold: 'whole',
  designAspect: 16 / 9,
  nearM: 0.1,
});

const floatingPlace = (): Label['place'] => ({
  ownPoint: [0.5, 1],
  offsetPx: [0, -28],
  stay: 'free',
  leader: { widthPx: 2, colour: '#15233B' },
});
const nameFrom = (text: string, otherwise: string): string => text.split('\n')[0]?.slice(0, 80).trim() || otherwise;
const onePixel = (): Group['size'] => ({ rule: 'screen', emPx: 1, hideBelowPx: 0, leavePx: 0 });

/** A label that floats over an anchor. */
export const makeLabel = (anchor: string, text: string, order: string): Label => ({
  kind: 'label',
  name: nameFrom(text, 'Label'),
  order,
  text,
  mount: { kind: 'floating', anchor },
  view: { outsidePx: 0, leavePx: 24 },
  size: { rule: 'screen', emPx: 28, hideBelowPx: 0, leavePx: 0 },
  place: floatingPlace(),
  paint: {
    colour: '#15233B',
    weight: 400,
    align: 'centre',
    lineHeight: 1.25,
    wrapEm: null,
    plate: { colour: '#FBF8F0E6', padEm: [0.5, 0.3], radiusEm: 0.25 },
    outline: null,
    opacity: 1,
  },
});

/** What a prompt asks before it shows: near, looked at, in sight, and no other wanting the key. */
export const promptGates = (action: string | null): Required<Pick<Group, 'range' | 'look' | 'sightline' | 'claim' | 'press'>> => ({
  range: { from: 'body', enterM: 2.5, leaveM: 2.9, dwellS: 0.3 },
  look: { by: 'cone', halfDeg: 25, leaveDeg: 32, dwellS: 0.3 },
  sightline: { to: 'zone', samples: 12, share: 0.35, leaveShare: 0.15, answer: 'hide', dwellS: 0.3 },
  claim: { priority: 0, bonus: 0.15, dwellS: 0.3 },
  press: { action, how: 'press', holdS: 0.8, times: 3 },
});

export const makeKey = (carried: Carried, order: string): Key => ({
  kind: 'key',
  name: 'Key',
  order,
  ...carried,
  view: { outsidePx: 0, leavePx: 24 },
  size: onePixel(),
  action: null,
  heightPx: 44,
  paint: { plate: '#FBF8F0', ink: '#15233B', lit: '#A66D0C', border: null, opacity: 1 },
});

/**
 * A prompt that floats over an anchor, by its ids: a row of the key and what it does. With these defaults, a zone and a text
 * are all that one sets.
 */
export function makePrompt(
  elements: Ordered,
  anchor: string,
  text: string,
  action: string | null,
): { id: string; made: Record<string, Element> } {
  const id = freeId(elements, nameFrom(text, 'Prompt'));
  const made: Record<string, Element> = {};
  const add = (key: string, make: (order: string) => Element): void => {
    made[key] = make(orderAfter({ ...elements, ...made }));
  };
  add(id, (order) => {
    const row = makeGroup({ mount: { kind: 'floating', anchor }, place: floatingPlace() }, nameFrom(text, 'Prompt'), 'row', order);
    return {
      ...row,
      layout: { ...row.layout, padPx: [10, 8, 18, 8], gapPx: 12 },
      paint: { plate: { colour: '#15233BE6', radiusPx: 10, border: null }, opacity: 1 },
      motion: { enter: { ...makeMovement('fade'), timeS: 0.12 }, leave: { ...makeMovement('fade'), timeS: 0.12 }, betweenS: 0 },
      ...promptGates(action),
    };
  });
  const [key, words] = [freeId(elements, `${id} key`), freeId(elements, `${id} text`)];
  add(key, (order) => makeKey(insideOf(id), order));
  add(words, (order) => {
    const label = makeText(insideOf(id), text, order);
    return { ...label, paint: { ...label.paint, outline: null, weight: 600 } };
  });
  return { id, made };
}

/** On the glass, with the own point that belongs to a pin: what hangs at the right edge grows to the left. */
export const onGlass = (pin: [number, number], offsetPx: [number, number] = [0, 0]): Pick<Label, 'mount' | 'place'> => ({
  mount: { kind: 'glass', within: 'safe', pin, stretch: [false, false] },
  place: { ownPoint: pin, offsetPx, stay: 'free', leader: null },
});
/** A member of a group. */
export const insideOf = (
  group: string,
  pin: [number, number] = [0, 0],
  offsetPx: [number, number] = [0, 0],
): Pick<Label, 'mount' | 'place'> => ({
  mount: { kind: 'inside', group, pin, stretch: [false, false] },
  place: { ownPoint: pin, offsetPx, stay: 'free', leader: null },
});

type Carried = Pick<Label, 'mount' | 'place'>;

/** What a text on a panel is, in design pixels, and how high its capitals are of that. */
const PANEL_TEXT_PX = 28;
const CAP_SHARE = 0.7;
/** What ISO 9241-303 prefers for reading at length, arcmin. */
const PREFERRED_ARCMIN = 22;
/** A new panel takes this share of the picture's width, and is so high for it. */
const PANEL_SHARE = 0.32;
const PANEL_ASPECT = 0.62;

const rounded = (value: number, digits: number): number => Number(value.toPrecision(digits));

/** Where a panel is to stand. */
export interface PanelSpot {
  anchor: string;
  /** From where it is placed, and is to be read. */
  distanceM: number;
  /** How long one arcmin at the player's eye is there, and how wide the picture is, metres: by the viewer it is placed with. */
  arcminM: number;
  pictureM: number;
  /** The surface it is put on: a wall carries it flat, on anything else it stands upright and turns to the viewer. */
  on: 'wall' | 'ground';
  /** A flat part of the level that it is to fill: its size, and how it is turned in its plane, degrees clockwise. */
  face?: { widthM: number; heightM: number; turnDeg: number };
}

/** A panel that can be read and reached from where it was placed, with a title and a text. */
export function makePanel(elements: Ordered, spot: PanelSpot, title: string): { id: string; made: Record<string, Element> } {
  const { anchor, distanceM, arcminM, pictureM, on, face } = spot;
  const id = freeId(elements, title);
  const made: Record<string, Element> = {};
  const widthM = face?.widthM ?? rounded(Math.min(20, Math.max(0.1, PANEL_SHARE * pictureM)), 2);
  const heightM = face?.heightM ?? rounded(widthM * PANEL_ASPECT, 2);
  const density = (PANEL_TEXT_PX * CAP_SHARE) / (PREFERRED_ARCMIN * arcminM);
  const pxPerM = rounded(Math.max(1, Math.min(density, 20_000 / Math.max(widthM, heightM))), 3);
  const mount: Mount = {
    kind: 'standing',
    anchor,
    sizeM: [widthM, heightM],
    pxPerM,
    readM: rounded(distanceM, 2),
    sides: 'front',
    facing: on === 'wall' ? 'fixed' : 'upright',
    turnDeg: 0,
    tiltDeg: 0,
    liftM: on === 'wall' ? 0.02 : 0,
    ...(face && { faceM: [face.widthM, face.heightM] as [number, number] }),
  };
  // On the ground it stands on its foot, at the height of a desk; on a wall its middle is where one pointed.
  const offsetPx: [number, number] = on === 'wall' ? [0, 0] : [0, -Math.round(0.8 * pxPerM)];
  const place: Label['place'] = { ownPoint: on === 'wall' ? [0.5, 0.5] : [0.5, 1], offsetPx, stay: 'free', leader: null };
  const group = makeGroup({ mount, place }, title, 'column', orderAfter(elements));
  made[id] = {
    ...group,
    ...(face && face.turnDeg !== 0 && { turnDeg: face.turnDeg }),
    layout: { ...group.layout, padPx: [24, 20, 24, 20], gapPx: 12, align: 'start', clip: true },
    paint: { plate: { colour: '#15233BF2', radiusPx: face ? 0 : 8, border: null }, opacity: 1 },
  };
  const add = (name: string, text: string, edit: (label: Label) => Label): void => {
    const all = { ...elements, ...made };
    made[freeId(all, `${id} ${name}`)] = edit(makeText(insideOf(id), text, orderAfter(all)));
  };
  add('title', title, (label) => ({
    ...label,
    name: 'Title',
    size: { ...onePixel(), emPx: 36 },
    paint: { ...label.paint, weight: 700, outline: null },
  }));
  add('text', 'What it says', (label) => ({
    ...label,
    name: 'Text',
    size: { ...onePixel(), emPx: PANEL_TEXT_PX },
    paint: { ...label.paint, outline: null },
  }));
  return { id, made };
}

/** A text without a plate, for the glass and for groups. */
export const makeText = (carried: Carried, text: string, order: string): Label => {
  const label = makeLabel('', text, order);
  return {
    ...label,
    ...carried,
    paint: { ...label.paint, colour: '#FBF8F0', align: 'start', plate: null, outline: { colour: '#15233B', widthEm: 0.09 } },
  };
};

export const makeGroup = (carried: Carried, name: string, direction: Group['layout']['direction'], order: string): Group => ({
  kind: 'group',
  name,
  order,
  ...carried,
  view: { outsidePx: 0, leavePx: 24 },
  size: onePixel(),
  layout: {
    direction,
    gapPx: 12,
    padPx: [16, 12, 16, 12],
    align: direction === 'row' ? 'centre' : 'start',
    spread: 'start',
    equal: false,
    wrap: false,
    widthPx: direction === 'free' ? 320 : null,
    heightPx: direction === 'free' ? 180 : null,
    leastPx: [0, 0],
    greatestPx: null,
    clip: false,
  },
  paint: { plate: { colour: '#15233BCC', radiusPx: 8, border: null }, opacity: 1 },
});

/** A veil over the whole screen: a group that is stretched over it. */
export const makeVeil = (name: string, order: string): Group => {
  const mount: Mount = { kind: 'glass', within: 'screen', pin: [0, 0], stretch: [true, true] };
  const group = makeGroup({ mount, place: { ownPoint: [0, 0], offsetPx: [0, 0], stay: 'free', leader: null } }, name, 'free', order);
  return { ...group, paint: { plate: { colour: '#0E1826B3', radiusPx: 0, border: null }, opacity: 1 } };
};

export const barForm = (): GaugeForm => ({ kind: 'bar', widthPx: 320, heightPx: 24, towards: 'right', radiusPx: 6 });
export const ringForm = (): GaugeForm => ({ kind: 'ring', diameterPx: 96, widthPx: 14, startDeg: 0, sweepDeg: 360 });
export const pipsForm = (): GaugeForm => ({
  kind: 'pips',
  count: 5,
  sizePx: 24,
  gapPx: 8,
  shape: 'round',
  part: 'share',
  vertical: false,
});

export const makeGauge = (carried: Carried, name: string, source: string | null, form: GaugeForm, order: string): Gauge => ({
  kind: 'gauge',
  name,
  order,
  ...carried,
  view: { outsidePx: 0, leavePx: 24 },
  size: onePixel(),
  source,
  empty: 0,
  full: 100,
  form,
  thresholds: [],
  smoothS: 0.15,
  ghost: null,
  paint: { fill: '#E5B45C', track: '#15233BB3', border: { colour: '#FBF8F0', widthPx: 2 }, opacity: 1 },
});

const onScreen = (carried: Carried, name: string, order: string) => ({
  name,
  order,
  ...carried,
  view: { outsidePx: 0, leavePx: 24 },
  size: onePixel(),
});

/** The frame that a marker at the edge is given, and its arrow. */
/** A measure line as it is placed. */
export const SPAN: Omit<NonNullable<Label['place']['span']>, 'to'> = {
  textAt: 'middle',
  widthPx: 3,
  colour: '#E5B45C',
  outline: '#15233B',
  dashPx: 12,
  capPx: 18,
};

/** What stands at the edge of the frame, as it is placed. */
export const EDGE: NonNullable<Label['place']['edge']> = {
  form: 'rectangle',
  insetPx: [56, 56, 56, 56],
  arrow: { sizePx: 26, colour: '#E5B45C', outline: '#15233B' },
  withinM: null,
};

/** @param picture one of the project's pictures, or null. @param widthPx in design pixels, as the height. */
export const makePicture = (
  carried: Carried,
  name: string,
  picture: string | null,
  widthPx: number,
  heightPx: number,
  order: string,
): Picture => ({
  kind: 'picture',
  ...onScreen(carried, name, order),
  picture,
  widthPx,
  heightPx,
  fill: 'contain',
  cornersPx: [16, 16, 16, 16],
  cornerScale: 1,
  beyondPx: [0, 0, 0, 0],
  paint: { tint: null, saturation: 1, blurPx: 0, radiusPx: 0, opacity: 1 },
});

/** @param page one of the project's pages, or null. @param widthPx in design pixels, as the height. */
export const makePage = (
  carried: Carried,
  name: string,
  page: string | null,
  widthPx: number,
  heightPx: number,
  order: string,
): PageElement => ({
  kind: 'page',
  ...onScreen(carried, name, order),
  page,
  widthPx,
  heightPx,
  paint: { radiusPx: 0, opacity: 1 },
});

export const makeToggle = (carried: Carried, name: string, source: string | null, order: string): Toggle => ({
  kind: 'toggle',
  ...onScreen(carried, name, order),
  source,
  form: 'switch',
  widthPx: 64,
  heightPx: 36,
  paint: { on: '#1B6E83', off: '#5B6678', knob: '#FBF8F0', border: { colour: '#FBF8F0', widthPx: 2 }, opacity: 1 },
});

export const makeSlider = (carried: Carried, name: string, source: string | null, order: string): Slider => ({
  kind: 'slider',
  ...onScreen(carried, name, order),
  source,
  empty: 0,
  full: 100,
  step: 5,
  vertical: false,
  widthPx: 280,
  heightPx: 36,
  paint: { fill: '#1B6E83', track: '#15233BB3', knob: '#FBF8F0', border: { colour: '#FBF8F0', widthPx: 2 }, opacity: 1 },
});

/** Paint over the whole screen; it lets the pointer pass. */
export const makeScreenPaint = (effect: ScreenPaint['effect'], name: string, source: string | null, order: string): ScreenPaint => ({
  kind: 'screenPaint',
  ...onScreen(
    {
      mount: { kind: 'glass', within: 'screen', pin: [0, 0], stretch: [true, true] },
      place: { ownPoint: [0, 0], offsetPx: [0, 0], stay: 'free', leader: null },
    },
    name,
    order,
  ),
  effect,
  colour: '#0E1826',
  source,
  empty: 0,
  full: 1,
  fallPerS: null,
  paint: { opacity: 1 },
});

/** A use of a template. */
export const makeInstance = (carried: Carried, of: string, name: string, order: string): Instance => ({
  kind: 'instance',
  ...onScreen(carried, name, order),
  of,
  values: {},
  paint: { opacity: 1 },
});

export const makeMovement = (kind: Movement['kind'] = 'fade'): Movement => ({
  kind,
  edge: 'left',
  timeS: 0.3,
  easing: 'smooth',
  delayS: 0,
});

/** A form that shows a picture filled over another. */
export const pictureForm = (picture: string | null): GaugeForm => ({
  kind: 'picture',
  picture,
  behind: null,
  widthPx: 96,
  heightPx: 96,
  towards: 'up',
});

const viewer = (
  order: string,
  name: string,
  widthPx: number,
  heightPx: number,
  diagonalIn: number,
  distanceM: number,
  margin = 0.03,
): Viewer => ({
  kind: 'screen',
  name,
  order,
  widthPx,
  heightPx,
  diagonalIn,
  distanceM,
  lens: defaultLens(),
  safeArea: { left: margin, top: margin, right: margin, bottom: margin },
});

/** The five screens every project starts with. */
export const defaultViewers = (): Record<string, Viewer> => ({
  desk: viewer('a0', 'Desk monitor', 1920, 1080, 27, 0.6),
  handheld: viewer('a1', 'Handheld', 1280, 800, 7, 0.35),
  television: viewer('a2', 'Television', 3840, 2160, 55, 2.8, 0.05),
  ultrawide: viewer('a3', 'Ultrawide', 3440, 1440, 34, 0.7),
  phone: viewer('a4', 'Phone', 1170, 2532, 6.1, 0.3, 0.05),
});

/** A headset of about 20 pixels a degree, each eye's picture wider towards its temple. */
export const makeHeadset = (name: string, order: string): Extract<Viewer, { kind: 'headset' }> => ({
  kind: 'headset',
  name,
  order,
  widthPx: 2064,
  heightPx: 2208,
  lens: { kind: 'offAxis', leftDeg: -54, rightDeg: 40, upDeg: 44, downDeg: -54, nearM: 0.1 },
  safeArea: { left: 0.12, top: 0.12, right: 0.12, bottom: 0.12 },
  eyeDistanceM: 0.063,
});

/** The same viewer as another kind; what the new kind does not have is given up, what it has besides is as usual. */
export function viewerAs(viewer: Viewer, kind: Viewer['kind']): Viewer {
  if (viewer.kind === kind) return viewer;
  const { name, order } = viewer;
  if (kind === 'headset') return makeHeadset(name, order);
  const screen: Viewer =
    viewer.kind === 'headset'
      ? { ...(defaultViewers().desk as Extract<Viewer, { kind: 'screen' }>), name, order }
      : {
          kind: 'screen',
          name,
          order,
          widthPx: viewer.widthPx,
          heightPx: viewer.heightPx,
          diagonalIn: viewer.diagonalIn,
          distanceM: viewer.distanceM,
          lens: viewer.lens,
          safeArea: viewer.safeArea,
        };
  return kind === 'screen' ? screen : { ...screen, kind: 'split', arrangement: 'columns', players: [{ route: null }, { route: null }] };
}

export const makeDocument = (name: string): Document => ({
  format: 'foreshore',
  version: 1,
  name,
  language: 'en',
  level: null,
  glass: { widthPx: 1920, heightPx: 1080, fit: 'smaller' },
  body: { eyeHeightM: 1.65, radiusM: 0.3, stepM: 0.4, speedMps: 3.2 },
  anchors: {},
  elements: {},
  viewers: defaultViewers(),
  routes: {},
  feeds: {},
  phases: { roaming: { name: 'Roaming', order: 'a0' } },
});
