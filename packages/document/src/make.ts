/** Makers of documents and their parts, with the defaults a newcomer should meet. */
import { generateKeyBetween } from 'fractional-indexing';
import { inOrder } from './order.ts';
import type { Document, Label, Lens, Viewer } from './schema.ts';

type Ordered = Record<string, { order: string }>;

/** An `order` after all that are there. */
export const orderAfter = (collection: Ordered): string => generateKeyBetween(inOrder(collection).at(-1)?.[1].order ?? null, null);

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

export const makeLabel = (anchor: string, text: string, order: string): Label => ({
  kind: 'label',
  name: text.split('\n')[0]?.slice(0, 80).trim() || 'Label',
  order,
  text,
  mount: { kind: 'floating', anchor },
  view: { outsidePx: 0, leavePx: 24 },
  size: { rule: 'screen', emPx: 28, hideBelowPx: 0, leavePx: 0 },
  place: { ownPoint: [0.5, 1], offsetPx: [0, -28], stay: 'free', leader: { widthPx: 2, colour: '#15233B' } },
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
