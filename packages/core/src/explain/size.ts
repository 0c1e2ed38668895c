/** Size: how large an element is for the viewer. */

import { At } from '../frame.ts';
import type { Fact, Outcome } from '../outcome.ts';
import { capArcminAt, onPanelAt } from '../readable.ts';
import { Setting } from '../settings.ts';
import type { SolveContext } from '../solve-context.ts';
import { PanelAt } from '../spaces/panel.ts';
import { naturalPx } from '../steps/panel.ts';
import { placeRow } from '../steps/place.ts';
import { naturalEm, sizeIn } from '../steps/size.ts';

export function explainSize(ctx: SolveContext, i: number): Outcome {
  const { a, c, f, m } = ctx;
  const panel = c.panelOf[i] as number;
  if (panel >= 0) return explainOnPanel(ctx, i, panel);
  const fact = (em: number): Fact => {
    const capEm = a.blocks[i]?.capHeightEm;
    if (capEm === undefined) return { kind: 'designPixel', px: em };
    return { kind: 'capitals', px: em * capEm, arcmin: capArcminAt(ctx, i, em * capEm) };
  };
  const at = i * At.Stride;
  if (i >= c.anchoredCount) return { passes: true, facts: [fact(f.places[at + At.UnitPx] as number)] };
  sizeIn(ctx, i);
  placeRow(ctx, i);
  const row = a.settingsOf[i] as number;
  const depthM = f.places[at + At.DepthM] as number;
  if (!(depthM > a.projection.nearM)) return { passes: true, facts: [{ kind: 'noSizeBehind' }] };
  const natural = naturalEm(ctx, i);
  const floorPx = a.settings[row + (m.sizeIn[i] ? Setting.FloorHeldPx : Setting.FloorPx)] as number;
  if (natural < floorPx) return { passes: false, facts: [{ kind: 'belowFloor', px: natural, floorPx }] };
  return { passes: true, facts: [fact(f.places[at + At.UnitPx] as number)] };
}

/** On a panel: of the panel its metres, of a text its letters where they are seen worst. */
function explainOnPanel(ctx: SolveContext, i: number, panel: number): Outcome {
  const { a, c, f, m } = ctx;
  const facts: Fact[] = [];
  const isPanel = (c.parent[i] as number) < 0;
  if (isPanel) {
    const at = panel * PanelAt.Stride;
    const k = f.panels[at + PanelAt.PxPerM] as number;
    facts.push({
      kind: 'panelSize',
      widthM: (f.panels[at + PanelAt.WidthPx] as number) / k,
      heightM: (f.panels[at + PanelAt.HeightPx] as number) / k,
      pxPerM: k,
    });
  }
  const capEm = a.blocks[i]?.capHeightEm;
  const em = f.places[i * At.Stride + At.UnitPx] as number;
  if (capEm !== undefined) {
    const { px, arcmin } = onPanelAt(ctx, i, em * capEm);
    if (Number.isFinite(px)) facts.push({ kind: 'capitals', px, arcmin });
  } else if (!isPanel) facts.push({ kind: 'designPixel', px: em });
  if (!isPanel || i >= c.anchoredCount) return { passes: true, facts };
  const floorPx = a.settings[(a.settingsOf[i] as number) + (m.sizeIn[i] ? Setting.FloorHeldPx : Setting.FloorPx)] as number;
  const natural = naturalPx(ctx, panel);
  if (floorPx > 0 && natural < floorPx) return { passes: false, facts: [{ kind: 'belowFloor', px: natural, floorPx }] };
  return { passes: true, facts };
}
