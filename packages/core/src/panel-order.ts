/**
 * Which of two panels lies in front, where their distances do not tell: a sign that stands on a floor is before the floor, though
 * the floor's middle is nearer. By their planes (Newell, Newell and Sancha 1972): a panel whose corners all lie on the eye's side
 * of another's plane, or that has all corners of the other beyond its own, is painted later.
 */
import type { SolveContext } from './solve-context.ts';
import { PanelAt } from './spaces/panel.ts';

/** So far beyond a plane is in it, metres. */
const IN_PLANE_M = 1e-4;
/** Panels that go round in a circle have no order: it is not looked for longer. */
const MOST_PASSES = 12;

/** On which side of one panel's plane the other's corners lie: 1 the eye's, −1 the other, 0 on both or in it. */
function sideOf(panels: Float64Array, plane: number, other: number, eye: Float64Array): number {
  let eyeSide = 0;
  for (let k = 0; k < 3; k++)
    eyeSide += (panels[plane + PanelAt.Front + k] as number) * ((eye[k] as number) - (panels[plane + PanelAt.Origin + k] as number));
  if (eyeSide > -IN_PLANE_M && eyeSide < IN_PLANE_M) return 0;
  const sign = eyeSide > 0 ? 1 : -1;
  const scale = panels[other + PanelAt.PxPerM] as number;
  const w = (panels[other + PanelAt.WidthPx] as number) / scale;
  const h = (panels[other + PanelAt.HeightPx] as number) / scale;
  let near = 0;
  let far = 0;
  for (let corner = 0; corner < 4; corner++) {
    let d = 0;
    for (let k = 0; k < 3; k++) {
      const at =
        (panels[other + PanelAt.Origin + k] as number) +
        (corner & 1 ? w * (panels[other + PanelAt.Right + k] as number) : 0) +
        (corner & 2 ? h * (panels[other + PanelAt.Down + k] as number) : 0);
      d += (panels[plane + PanelAt.Front + k] as number) * (at - (panels[plane + PanelAt.Origin + k] as number));
    }
    if (d * sign > IN_PLANE_M) near++;
    else if (d * sign < -IN_PLANE_M) far++;
  }
  return near > 0 && far === 0 ? 1 : far > 0 && near === 0 ? -1 : 0;
}

/** Whether a panel lies in front of another as the head sees them. */
function isBefore({ f }: SolveContext, one: number, other: number): boolean {
  const [a, b] = [one * PanelAt.Stride, other * PanelAt.Stride];
  const ofOther = sideOf(f.panels, b, a, f.eye);
  if (ofOther !== 0) return ofOther > 0;
  return sideOf(f.panels, a, b, f.eye) < 0;
}

let places = new Int32Array(64);

/** Brings the panels of `frame.order`, which is by distance, into an order in which none is painted before what it covers. */
export function orderPanels(ctx: SolveContext): void {
  const { c, f } = ctx;
  if (c.panels.length < 2) return;
  if (places.length < c.panels.length) places = new Int32Array(c.panels.length);
  let n = 0;
  for (let k = 0; k < f.orderCount; k++) if ((c.panelOf[f.order[k] as number] as number) >= 0) places[n++] = k;
  for (let pass = 0; pass < MOST_PASSES; pass++) {
    let swapped = false;
    for (let i = 1; i < n; i++) {
      const [p, q] = [places[i - 1] as number, places[i] as number];
      const [back, front] = [f.order[p] as number, f.order[q] as number];
      if (!isBefore(ctx, c.panelOf[back] as number, c.panelOf[front] as number)) continue;
      f.order[p] = front;
      f.order[q] = back;
      swapped = true;
    }
    if (!swapped) return;
  }
}
