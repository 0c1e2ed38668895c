/** Crosshairs whose size is a share of the screen. */
import type { PanelMount } from '@foreshore/document/kinds';
import type { Element } from '@foreshore/document/types';
import { AIM_PANEL, type Compiled } from './compiled.ts';
import type { Projection } from './spaces/lens.ts';

/** What of an arrangement says how large a row is. */
interface Sized {
  readonly compiled: Compiled;
  readonly projection: Projection;
  /** Pixels of the viewer for one design pixel of a row; and design pixels for one of its own. */
  readonly fits: ArrayLike<number>;
  readonly ems: Float64Array;
}

/** Writes how many design pixels one of such a crosshair's own takes: as large as its share of the picture's shorter side, or its panel's. */
export function sizeByShare(a: Sized, row: number, element: Element, panel: PanelMount | null): void {
  if (element.kind !== 'crosshair' || !element.screenShare) return;
  a.ems[row] = (element.screenShare * shorterSide(a, row, panel)) / element.sizePx;
}

function shorterSide(a: Sized, row: number, panel: PanelMount | null): number {
  const { glass } = a.compiled.document;
  // What aims in a headset has a panel of its own, and the HUD's pixels.
  if (a.compiled.ids[a.compiled.root[row] as number] === AIM_PANEL) return Math.min(glass.widthPx, glass.heightPx);
  if (panel) return Math.min(...panel.sizeM) * panel.pxPerM;
  const { widthPx, heightPx } = a.projection;
  return Math.min(widthPx, heightPx) / (a.fits[row] as number);
}
