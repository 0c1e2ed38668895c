/** Toggles and sliders as items of the draw list. */
import type { Slider, Toggle } from '@foreshore/document/types';
import { valueIndex } from './compiled.ts';
import { type DrawItem, partOf, pushBorder, pushStrike, type Rect } from './draw-items.ts';
import { GaugeState, gaugeState, shareOf } from './gauges.ts';
import type { StateStyle } from './pointer.ts';
import type { SolveContext } from './solve-context.ts';

const valueFor = ({ c, f }: SolveContext, row: number, source: string | null) => f.values[valueIndex(c, source, row)];

/** Struck through: what it should show has no value, or one of another kind. */
const strike = (items: DrawItem[], element: string, rect: Rect, colour: string, unit: number, opacity: number): void =>
  pushStrike(items, element, rect, Math.max(2 * unit, rect[3] * 0.1), colour, opacity);

export function drawToggle(
  items: DrawItem[],
  ctx: SolveContext,
  row: number,
  toggle: Toggle,
  rect: Rect,
  unit: number,
  opacity: number,
  style: StateStyle,
): void {
  const element = ctx.c.ids[row] as string;
  const value = valueFor(ctx, row, toggle.source);
  const on = value === true;
  const [x, y, width, height] = rect;
  const { paint } = toggle;
  const radius = toggle.form === 'switch' ? height / 2 : height * 0.16;
  const fill = style.plate ?? (on ? paint.on : paint.off);
  items.push({ kind: 'plate', element, x, y, width, height, radius, colour: fill, opacity });
  if (typeof value !== 'boolean') strike(items, element, rect, style.text ?? paint.knob, unit, opacity);
  else if (toggle.form === 'switch') {
    const inset = height * 0.12;
    const side = height - 2 * inset;
    const at = on ? x + width - inset - side : x + inset;
    items.push({
      kind: 'plate',
      element,
      x: at,
      y: y + inset,
      width: side,
      height: side,
      radius: side / 2,
      colour: style.text ?? paint.knob,
      opacity,
    });
  } else if (on) {
    const line = { kind: 'line' as const, element, widthPx: height * 0.14, colour: style.text ?? paint.knob, opacity };
    const [px, py] = [(u: number) => x + u * width, (v: number) => y + v * height];
    items.push(
      { ...line, x1: px(0.22), y1: py(0.52), x2: px(0.43), y2: py(0.74) },
      { ...line, x1: px(0.43), y1: py(0.74), x2: px(0.8), y2: py(0.28) },
    );
  }
  pushBorder(items, element, rect, radius, paint.border, unit, opacity);
}

export function drawSlider(
  items: DrawItem[],
  ctx: SolveContext,
  row: number,
  slider: Slider,
  rect: Rect,
  unit: number,
  opacity: number,
  style: StateStyle,
): void {
  const element = ctx.c.ids[row] as string;
  const value = valueFor(ctx, row, slider.source);
  const state = gaugeState(slider, value);
  const [x, y, w, h] = rect;
  const { paint, vertical } = slider;
  const knob = vertical ? w : h;
  const thick = knob * 0.3;
  const track: Rect = vertical
    ? [x + (w - thick) / 2, y + knob / 2, thick, h - knob]
    : [x + knob / 2, y + (h - thick) / 2, w - knob, thick];
  const bar = ([bx, by, width, height]: Rect, colour: string) =>
    items.push({ kind: 'plate', element, x: bx, y: by, width, height, radius: thick / 2, colour, opacity });
  bar(track, paint.track);
  pushBorder(items, element, track, thick / 2, paint.border, unit, opacity);
  if (state === GaugeState.Missing || state === GaugeState.NotNumber) {
    strike(items, element, rect, paint.knob, unit, opacity);
    return;
  }
  const share = Math.max(0, Math.min(1, shareOf(slider, value as number)));
  const towards = vertical ? 'up' : 'right';
  bar(partOf(track, towards, 0, share), style.plate ?? paint.fill);
  const [kx, ky] = vertical ? [x + w / 2, track[1] + track[3] * (1 - share)] : [track[0] + track[2] * share, y + h / 2];
  const box: Rect = [kx - knob / 2, ky - knob / 2, knob, knob];
  // Beyond its ends the knob stands at the end, hollow.
  const beyond = state === GaugeState.Under || state === GaugeState.Over;
  items.push({
    kind: 'plate',
    element,
    x: box[0],
    y: box[1],
    width: knob,
    height: knob,
    radius: knob / 2,
    colour: style.text ?? paint.knob,
    opacity,
    ...(beyond && { strokePx: 2 * unit }),
  });
  if (!beyond) pushBorder(items, element, box, knob / 2, paint.border, unit, opacity);
}
