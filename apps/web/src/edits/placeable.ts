/** What can be put on the HUD or into a group: each a row with its name, its icon and its maker. */
import {
  barForm,
  type Document,
  type Element,
  freeId,
  insideOf,
  type Label,
  makeConfirmation,
  makeCrosshair,
  makeDirection,
  makeGauge,
  makeGroup,
  makeMovement,
  makePage,
  makePicture,
  makeScreenPaint,
  makeSlider,
  makeText,
  makeToggle,
  makeVeil,
  orderAfter,
  pipsForm,
  ringForm,
} from '@foreshore/document';

interface Making {
  carried: Pick<Label, 'mount' | 'place'>;
  name: string;
  /** The first feed of the kind that it shows or sets; null where there is none. */
  feed: string | null;
  order: string;
}
/** A line of an icon, in a field of 26 x 20 px. */
export interface IconLine {
  path: string;
  /** How opaque it is filled; without it, it is a line. */
  fill?: number;
  widthPx?: number;
  dashed?: boolean;
}
interface Placeable {
  name: string;
  icon: readonly IconLine[];
  make: (making: Making) => Element;
  /** What is put inside, where it does not come empty. */
  furnish?: (document: Document, id: string) => Document;
  /** The kind of feed that it is wired to; a number where it does not say. */
  reads?: 'flag' | 'event';
  /** It goes over or under the whole picture, never into a group. */
  outermost?: true;
}
const put = (document: Document, id: string, element: Element): Document => ({
  ...document,
  elements: { ...document.elements, [id]: element },
});
const line = (path: string): IconLine => ({ path });
const solid = (path: string): IconLine => ({ path, fill: 1 });

/** A group that acts, padded for a text; its own states tell that it is pointed at and pressed. */
function makeButton(carried: Pick<Label, 'mount' | 'place'>, name: string, order: string): Element {
  const group = makeGroup(carried, name, 'row', order);
  return {
    ...group,
    layout: { ...group.layout, spread: 'centre', padPx: [28, 8, 28, 10] },
    paint: { plate: { colour: '#E6D5A6', radiusPx: 6, border: { colour: '#15233B', widthPx: 2 } }, opacity: 1 },
    pointer: { takes: 'acts', action: null, padPx: 4, pointed: { plate: '#1B6E83', text: '#FFFFFF' }, pressed: { plate: '#12445A' } },
  };
}

/** A text in the colour and weight of what is written on buttons and notices. */
function inked(into: string, text: string, order: string, weight: number): Label {
  const label = makeText(insideOf(into), text, order);
  return { ...label, paint: { ...label.paint, colour: '#15233B', align: 'centre', weight, outline: null } };
}

/** The text of a button, which leaves the pointer to it. */
function withButtonText(document: Document, button: string): Document {
  const name = document.elements[button]?.name ?? 'Button';
  return put(document, freeId(document.elements, `${button} text`), {
    ...inked(button, name, orderAfter(document.elements), 700),
    pointer: { takes: 'passes', action: null, padPx: 0, pointed: {}, pressed: {} },
  });
}

function makeScrollingList({ carried, name, order }: Making): Element {
  const group = makeGroup(carried, name, 'column', order);
  return { ...group, layout: { ...group.layout, widthPx: 360, heightPx: 240, scroll: { thumb: '#E5B45C', thumbPx: 8 } } };
}

function makeNotice({ carried, name, order }: Making): Element {
  const group = makeGroup(carried, name, 'column', order);
  return {
    ...group,
    layout: { ...group.layout, align: 'centre', gapPx: 14, padPx: [36, 24, 36, 28] },
    paint: { plate: { colour: '#F5F0E3F5', radiusPx: 8, border: { colour: '#12445A', widthPx: 2 } }, opacity: 1 },
    motion: { enter: makeMovement('grow'), leave: makeMovement('fade'), betweenS: 0 },
  };
}

/** What a notice says and the choices it gives: a text, and two buttons side by side. */
function withChoices(document: Document, notice: string): Document {
  let d = document;
  const add = (name: string, make: (order: string) => Element): string => {
    const id = freeId(d.elements, `${notice} ${name}`);
    d = put(d, id, make(orderAfter(d.elements)));
    return id;
  };
  add('words', (order) => inked(notice, 'What has happened', order, 400));
  const row = add('choices', (order) => {
    const group = makeGroup(insideOf(notice), 'Choices', 'row', order);
    return { ...group, layout: { ...group.layout, padPx: [0, 0, 0, 0], equal: true }, paint: { plate: null, opacity: 1 } };
  });
  for (const word of ['Yes', 'No']) {
    const button = add(word, (order) => makeButton(insideOf(row), word, order));
    d = withButtonText(d, button);
  }
  return d;
}

/** What shows or sets a number, from end to end of the range that its feed has. */
export function withRangeOf(document: Document, feed: string | null, element: Element): Element {
  const range = feed === null ? undefined : document.feeds[feed]?.range;
  if (!range || !('empty' in element) || element.kind === 'screenPaint') return element;
  const [empty, full] = range;
  return { ...element, empty, full, ...(element.kind === 'slider' && { step: (full - empty) / 20 }) };
}

const ROWS = {
  text: { name: 'Text', icon: [line('M4 4h18M13 4v13M9 17h8')], make: ({ carried, order }) => makeText(carried, 'Text', order) },
  bar: {
    name: 'Bar',
    icon: [line('M1 6h24v8H1z'), solid('M1 6h14v8H1z')],
    make: ({ carried, name, feed, order }) => makeGauge(carried, name, feed, barForm(), order),
  },
  ring: {
    name: 'Ring',
    icon: [{ path: 'M13 2a8 8 0 1 1-8 8', widthPx: 4 }],
    make: ({ carried, name, feed, order }) => makeGauge(carried, name, feed, ringForm(), order),
  },
  pips: {
    name: 'Segments',
    icon: [solid('M2 10a3 3 0 1 0 6 0a3 3 0 1 0-6 0M10 10a3 3 0 1 0 6 0a3 3 0 1 0-6 0'), line('M18 10a3 3 0 1 0 6 0a3 3 0 1 0-6 0')],
    make: ({ carried, name, feed, order }) => makeGauge(carried, name, feed, pipsForm(), order),
  },
  crosshair: {
    name: 'Crosshair',
    icon: [line('M13 1v6M13 13v6M3 10h7M16 10h7')],
    make: ({ name, feed, order }) => makeCrosshair(name, feed, order),
    outermost: true,
  },
  direction: {
    name: 'Direction',
    icon: [line('M13 3a7 7 0 1 1-7 7'), { path: 'M18 4.5a7.5 7.5 0 0 1 2.5 5.5', widthPx: 3.5 }],
    make: ({ name, feed, order }) => makeDirection(name, feed, order),
    reads: 'event',
    outermost: true,
  },
  confirmation: {
    name: 'Event mark',
    icon: [line('M6 3l4 4M20 3l-4 4M6 17l4-4M20 17l-4-4')],
    make: ({ name, feed, order }) => makeConfirmation(name, feed, order),
    reads: 'event',
    outermost: true,
  },
  row: {
    name: 'Row',
    icon: [line('M1 4h24v12H1zM4 7h5v6H4zM11 7h4v6h-4zM17 7h5v6h-5z')],
    make: ({ carried, name, order }) => makeGroup(carried, name, 'row', order),
  },
  column: {
    name: 'Column',
    icon: [line('M5 1h16v18H5zM8 4h10v3H8zM8 9h10v3H8zM8 14h10v2H8z')],
    make: ({ carried, name, order }) => makeGroup(carried, name, 'column', order),
  },
  free: {
    name: 'Free group',
    icon: [line('M1 2h24v16H1zM4 5h7v4H4zM15 11h7v4h-7z')],
    make: ({ carried, name, order }) => makeGroup(carried, name, 'free', order),
  },
  picture: {
    name: 'Picture',
    icon: [line('M2 3h22v14H2zM2 14l7-6 6 5 3-3 6 5M18 7h1')],
    make: ({ carried, name, order }) => makePicture(carried, name, null, 160, 160, order),
  },
  page: {
    name: 'Page',
    icon: [line('M2 2h22v16H2zM2 6h22M5 10h9M5 14h13')],
    make: ({ carried, name, order }) => makePage(carried, name, null, 480, 300, order),
  },
  button: {
    name: 'Button',
    icon: [line('M2 5h22v10H2zM8 10h10')],
    make: ({ carried, name, order }) => makeButton(carried, name, order),
    furnish: withButtonText,
  },
  toggle: {
    name: 'Toggle',
    icon: [line('M8 5h10a5 5 0 0 1 0 10H8A5 5 0 0 1 8 5z'), solid('M15 10a3 3 0 1 0 6 0a3 3 0 1 0-6 0')],
    make: ({ carried, name, feed, order }) => makeToggle(carried, name, feed, order),
    reads: 'flag',
  },
  slider: {
    name: 'Slider',
    icon: [line('M2 10h22'), solid('M11 10a4 4 0 1 0 8 0a4 4 0 1 0-8 0')],
    make: ({ carried, name, feed, order }) => makeSlider(carried, name, feed, order),
  },
  scroll: { name: 'Scrolling list', icon: [line('M2 2h22v16H2zM5 6h12M5 10h12M5 14h12M21 4v6')], make: makeScrollingList },
  notice: { name: 'Notice', icon: [line('M2 2h22v16H2zM6 6h14M5 11h6v4H5zM15 11h6v4h-6z')], make: makeNotice, furnish: withChoices },
  veil: { name: 'Veil', icon: [{ path: 'M1 2h24v16H1z', fill: 0.35 }], make: ({ name, order }) => makeVeil(name, order), outermost: true },
  paint: {
    name: 'Screen paint',
    icon: [line('M2 3h22v14H2z'), { path: 'M9 10a4 4 0 1 0 8 0a4 4 0 1 0-8 0', dashed: true }],
    make: ({ name, order }) => makeScreenPaint('vignette', name, null, order),
    outermost: true,
  },
} satisfies Record<string, Placeable>;
export type PlaceableKind = keyof typeof ROWS;
export const PLACEABLE: Record<PlaceableKind, Placeable> = ROWS;
