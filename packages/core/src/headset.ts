/**
 * The HUD in a headset: there is no screen for it to lie on, so that it is a panel before the head, of the design's own size in
 * pixels. The document is written so before it is compiled; all that makes panels then makes the HUD.
 *
 * What aims in the middle has a panel of its own, on what is aimed at: at the HUD's distance each eye would see it before something else.
 *
 * Screen paint stays what it is: it colours the whole of what each eye sees.
 */
import { type ElementOf, isMark, isOnHud } from '@foreshore/document/kinds';
import type { Document, Element, Group, Mount } from '@foreshore/document/types';
import { compile } from './compile.ts';
import { AIM_PANEL, type Compiled, HUD_PANEL } from './compiled.ts';

/** Where a project does not say: as far as most text in headsets is set, rigid. */
export const HEADSET_HUD: NonNullable<Document['glass']['headset']> = { distanceM: 2, wideDeg: 60, followS: 0 };

/** How wide the HUD's panel is, metres: 2·d·tan(wide/2). */
export const hudWidthM = ({ distanceM, wideDeg }: typeof HEADSET_HUD): number => 2 * distanceM * Math.tan((wideDeg * Math.PI) / 360);

type Trailing = Extract<Mount, { kind: 'trailing' }>;

/** A panel before the head, with nothing on it yet. */
const panel = (
  name: string,
  order: string,
  mount: Pick<Trailing, 'sizeM' | 'pxPerM' | 'distanceM' | 'followS' | 'blocked' | 'leastM'>,
): Group => ({
  kind: 'group',
  name,
  order,
  mount: {
    kind: 'trailing',
    ...mount,
    readM: mount.distanceM,
    sides: 'both',
    rightDeg: 0,
    upDeg: 0,
    deadDeg: 0,
    keeps: 'head',
  },
  view: { outsidePx: 0, leavePx: 0 },
  size: { rule: 'screen', emPx: 1, hideBelowPx: 0, leavePx: 0 },
  place: { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null },
  paint: { opacity: 1, plate: null },
  layout: {
    direction: 'free',
    gapPx: 0,
    padPx: [0, 0, 0, 0],
    align: 'start',
    spread: 'start',
    equal: false,
    wrap: false,
    widthPx: null,
    heightPx: null,
    leastPx: [0, 0],
    greatestPx: null,
    clip: false,
  },
  pointer: { takes: 'passes', action: null, padPx: 0, pointed: {}, pressed: {} },
});

function hudPanel({ glass }: Document): Group {
  const { distanceM, followS } = glass.headset ?? HEADSET_HUD;
  const width = hudWidthM(glass.headset ?? HEADSET_HUD);
  return panel('HUD', 'a0', {
    ...{ sizeM: [width, (width * glass.heightPx) / glass.widthPx], pxPerM: glass.widthPx / width },
    ...{ distanceM, followS, blocked: 'show', leastM: Math.min(distanceM, 0.1) },
  });
}

/** So far away stands what aims at nothing, metres: the eyes hardly turn for more. And no nearer than this. */
export const FARTHEST_AIM_M = 60;
const NEAREST_AIM_M = 0.3;
/** The panel of what aims is so many times as wide as that while it is closed. */
const OPENED = 6;

/** Of the HUD's own pixels to the eye: as large as on the HUD, wherever it stands. The last of all panels, so that the others are where they are. */
function aimPanel({ glass }: Document, aims: readonly Aims[]): Group {
  const { distanceM } = glass.headset ?? HEADSET_HUD;
  const pxPerM = ((glass.widthPx / hudWidthM(glass.headset ?? HEADSET_HUD)) * distanceM) / FARTHEST_AIM_M;
  const shorter = Math.min(glass.widthPx, glass.heightPx);
  const sizes = aims.map((one) => (one.kind === 'crosshair' && one.screenShare !== undefined ? one.screenShare * shorter : one.sizePx));
  const sideM = (OPENED * Math.max(...sizes)) / pxPerM;
  const made = panel('Aim', 'zzzz', {
    ...{ sizeM: [sideM, sideM], pxPerM, distanceM: FARTHEST_AIM_M, followS: 0, blocked: 'nearer', leastM: NEAREST_AIM_M },
  });
  // It is on what is aimed at, and nothing beside that covers it.
  return { ...made, sightline: { to: 'anchor', samples: 1, share: 0, leaveShare: 0, answer: 'through', dwellS: 0 } };
}

type Aims = ElementOf<'crosshair'> | ElementOf<'direction'>;
/** A crosshair or a mark that confirms, in the very middle. */
const aimsAhead = (element: Element): element is Aims => {
  const { mount, place } = element;
  if (!(element.kind === 'crosshair' || (element.kind === 'direction' && isMark(element))) || !isOnHud(mount)) return false;
  return [...mount.pin, ...place.ownPoint].every((v) => v === 0.5) && place.offsetPx.every((v) => v === 0) && !mount.stretch.includes(true);
};

const onPanel = (element: Element): Element => {
  const { mount } = element;
  if (element.kind === 'screenPaint' || !isOnHud(mount)) return element;
  const group = aimsAhead(element) ? AIM_PANEL : HUD_PANEL;
  return { ...element, mount: { kind: 'inside', group, pin: mount.pin, stretch: mount.stretch } } as Element;
};

const made = new WeakMap<Compiled, Compiled>();

/** The same document with its HUD on a panel before the head. Where nothing lies on the HUD, itself. */
export function withHudOnPanel(compiled: Compiled): Compiled {
  const { document, level } = compiled;
  if (document.elements[HUD_PANEL] || !Object.values(document.elements).some((e) => e.kind !== 'screenPaint' && isOnHud(e.mount)))
    return compiled;
  let own = made.get(compiled);
  if (!own) {
    const elements = Object.fromEntries(Object.entries(document.elements).map(([id, element]) => [id, onPanel(element)]));
    const aims = Object.values(document.elements).filter(aimsAhead);
    const panels = { [HUD_PANEL]: hudPanel(document), ...(aims.length > 0 && { [AIM_PANEL]: aimPanel(document, aims) }) };
    own = compile({ ...document, elements: { ...elements, ...panels } }, level);
    made.set(compiled, own);
  }
  return own;
}
