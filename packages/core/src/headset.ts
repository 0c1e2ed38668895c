/**
 * The HUD in a headset: there is no screen for it to lie on, so that it is a panel before the head, of the design's own size in
 * pixels. The document is written so before it is compiled; all that makes panels then makes the HUD.
 *
 * Screen paint stays what it is: it colours the whole of what each eye sees.
 */
import { isOnHud } from '@foreshore/document/kinds';
import type { Document, Element, Group } from '@foreshore/document/types';
import { compile } from './compile.ts';
import { type Compiled, HUD_PANEL } from './compiled.ts';

/** Where a project does not say: as far as most text in headsets is set, rigid. */
export const HEADSET_HUD: NonNullable<Document['glass']['headset']> = { distanceM: 2, wideDeg: 60, followS: 0 };

/** How wide the HUD's panel is, metres: 2·d·tan(wide/2). */
export const hudWidthM = ({ distanceM, wideDeg }: typeof HEADSET_HUD): number => 2 * distanceM * Math.tan((wideDeg * Math.PI) / 360);

function panel({ glass }: Document): Group {
  const { distanceM, followS } = glass.headset ?? HEADSET_HUD;
  const width = hudWidthM(glass.headset ?? HEADSET_HUD);
  return {
    kind: 'group',
    name: 'HUD',
    order: 'a0',
    mount: {
      kind: 'trailing',
      sizeM: [width, (width * glass.heightPx) / glass.widthPx],
      pxPerM: glass.widthPx / width,
      readM: distanceM,
      sides: 'both',
      distanceM,
      rightDeg: 0,
      upDeg: 0,
      followS,
      deadDeg: 0,
      keeps: 'head',
      blocked: 'show',
      leastM: Math.min(distanceM, 0.1),
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
  };
}

const onPanel = (element: Element): Element => {
  const { mount } = element;
  if (element.kind === 'screenPaint' || !isOnHud(mount)) return element;
  return { ...element, mount: { kind: 'inside', group: HUD_PANEL, pin: mount.pin, stretch: mount.stretch } } as Element;
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
    own = compile({ ...document, elements: { ...elements, [HUD_PANEL]: panel(document) } }, level);
    made.set(compiled, own);
  }
  return own;
}
