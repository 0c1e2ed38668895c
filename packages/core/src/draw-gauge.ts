/** Gauges as items of the draw list: bars, rings and rows of pips. */
import type { Gauge, GaugeForm } from '@foreshore/document/types';
import { type DrawItem, partOf, pushBorder, pushStrike, type Rect } from './draw-items.ts';
import { contained, PLAIN, pushPicture } from './draw-picture.ts';
import { GaugeState, gaugeColour } from './gauges.ts';
import type { SolveContext } from './solve-context.ts';

export function drawGauge(
  items: DrawItem[],
  ctx: SolveContext,
  row: number,
  gauge: Gauge,
  rect: Rect,
  unit: number,
  opacity: number,
): void {
  const { c, f } = ctx;
  const element = c.ids[row] as string;
  const g = c.gauges.indexOf(row);
  const state = f.gaugeState[g] as GaugeState;
  const value = f.values[c.gaugeFeed[g] as number];
  const broken = state === GaugeState.Missing || state === GaugeState.NotNumber;
  const reading: Reading = {
    share: f.gaugeShare[g] as number,
    ghost: f.gaugeGhost[g] as number,
    fill: broken ? gauge.paint.fill : gaugeColour(gauge, value as number),
    broken,
    beyond: state === GaugeState.Under ? -1 : state === GaugeState.Over ? 1 : 0,
  };
  if (gauge.form.kind === 'bar') drawBar(items, element, gauge, gauge.form, rect, unit, reading, opacity);
  else if (gauge.form.kind === 'ring') drawRing(items, element, gauge, gauge.form, rect, unit, reading, opacity);
  else if (gauge.form.kind === 'picture') drawFilled(items, ctx, element, gauge.form, gauge, rect, unit, reading, opacity);
  else if (gauge.form.kind === 'stages') drawStage(items, ctx, element, gauge.form, gauge, rect, unit, reading, opacity);
  else drawPips(items, ctx, element, gauge, gauge.form, rect, unit, reading, opacity);
}

interface Reading {
  share: number;
  ghost: number;
  fill: string;
  /** There is no number to show: the track is struck through. */
  broken: boolean;
  /** −1 below empty, 1 above full: an arrowhead at that end. */
  beyond: -1 | 0 | 1;
}

function drawFilled(
  items: DrawItem[],
  { c }: SolveContext,
  element: string,
  form: Extract<GaugeForm, { kind: 'picture' }>,
  gauge: Gauge,
  rect: Rect,
  unit: number,
  { share, ghost, broken }: Reading,
  opacity: number,
): void {
  const { pictures = {} } = c.document;
  const [file, behind] = [pictures[form.picture ?? ''], pictures[form.behind ?? '']];
  const looks = { ...PLAIN, opacity };
  if (behind) pushPicture(items, element, behind, contained(behind.widthPx, behind.heightPx, rect), looks);
  // Without one of its own, what is not filled is the same picture, grey and faint.
  else if (file)
    pushPicture(items, element, file, contained(file.widthPx, file.heightPx, rect), { ...looks, saturation: 0, opacity: opacity * 0.35 });
  const part = (from: number, to: number, more: Partial<typeof looks>) => {
    if (!file || to - from <= 0) return;
    const box = contained(file.widthPx, file.heightPx, rect);
    const source = partOf([0, 0, file.widthPx, file.heightPx], form.towards, from, to);
    pushPicture(items, element, file, partOf(box, form.towards, from, to), { ...looks, ...more }, source);
  };
  if (broken || !file) pushStrike(items, element, rect, Math.max(2 * unit, rect[3] * 0.06), gauge.paint.fill, opacity);
  if (broken) return;
  if (gauge.ghost) part(share, ghost, { tint: gauge.ghost.colour });
  part(0, share, {});
}

/** Which of n pictures stands for a share: the k-th from k/n on, the last when full. */
export const stageOf = (share: number, count: number): number => Math.max(0, Math.min(count - 1, Math.floor(share * count + 1e-9)));

function drawStage(
  items: DrawItem[],
  { c }: SolveContext,
  element: string,
  form: Extract<GaugeForm, { kind: 'stages' }>,
  gauge: Gauge,
  rect: Rect,
  unit: number,
  { share, broken }: Reading,
  opacity: number,
): void {
  const id = form.pictures[broken ? 0 : stageOf(share, form.pictures.length)] as string;
  const file = c.document.pictures?.[id];
  if (file)
    pushPicture(items, element, file, contained(file.widthPx, file.heightPx, rect), {
      ...PLAIN,
      opacity: broken ? opacity * 0.3 : opacity,
      saturation: broken ? 0 : 1,
    });
  if (broken) pushStrike(items, element, rect, Math.max(2 * unit, rect[3] * 0.06), gauge.paint.fill, opacity);
}

function drawBar(
  items: DrawItem[],
  element: string,
  gauge: Gauge,
  form: Extract<GaugeForm, { kind: 'bar' }>,
  rect: Rect,
  unit: number,
  reading: Reading,
  opacity: number,
): void {
  const radius = form.radiusPx * unit;
  const [x, y, width, height] = rect;
  const edge = { element, x, y, width, height, radius };
  const part = (from: number, to: number, colour: string) => {
    if (to - from <= 0) return;
    const [px, py, pw, ph] = partOf(rect, form.towards, from, to);
    items.push({ kind: 'plate', element, x: px, y: py, width: pw, height: ph, radius: 0, colour, opacity });
  };
  items.push({ kind: 'clip', ...edge });
  part(0, 1, gauge.paint.track);
  if (!reading.broken) {
    if (gauge.ghost) part(reading.share, reading.ghost, gauge.ghost.colour);
    part(0, reading.share, reading.fill);
  }
  const mark = Math.max(2 * unit, height * 0.12);
  if (reading.broken) pushStrike(items, element, rect, mark, gauge.paint.fill, opacity);
  if (reading.beyond !== 0) {
    const [ex, ey, ew, eh] = partOf(rect, form.towards, reading.beyond > 0 ? 0.97 : 0, reading.beyond > 0 ? 1 : 0.03);
    items.push({
      kind: 'plate',
      element,
      x: ex,
      y: ey,
      width: Math.max(ew, mark),
      height: Math.max(eh, mark),
      radius: 0,
      colour: gauge.paint.border?.colour ?? gauge.paint.track,
      opacity,
    });
  }
  items.push({ kind: 'unclip', element });
  pushBorder(items, element, rect, radius, gauge.paint.border, unit, opacity);
}

function drawRing(
  items: DrawItem[],
  element: string,
  gauge: Gauge,
  form: Extract<GaugeForm, { kind: 'ring' }>,
  rect: Rect,
  unit: number,
  reading: Reading,
  opacity: number,
): void {
  const widthPx = Math.min(form.widthPx * unit, rect[2] / 2);
  const radius = rect[2] / 2 - widthPx / 2;
  const [x, y] = [rect[0] + rect[2] / 2, rect[1] + rect[3] / 2];
  const at = (share: number) => ((form.startDeg + form.sweepDeg * share) * Math.PI) / 180;
  const part = (from: number, to: number, colour: string, width = widthPx) => {
    if (to - from > 0)
      items.push({ kind: 'arc', element, x, y, radius, widthPx: width, fromRad: at(from), toRad: at(to), colour, opacity });
  };
  const { border } = gauge.paint;
  if (border) part(0, 1, border.colour, widthPx + 2 * border.widthPx * unit);
  part(0, 1, gauge.paint.track);
  if (reading.broken) {
    const reach = rect[2] / 2;
    items.push({
      kind: 'line',
      element,
      x1: x - reach * 0.7,
      y1: y + reach * 0.7,
      x2: x + reach * 0.7,
      y2: y - reach * 0.7,
      widthPx: widthPx * 0.4,
      colour: gauge.paint.fill,
      opacity,
    });
    return;
  }
  if (gauge.ghost) part(reading.share, reading.ghost, gauge.ghost.colour);
  part(0, reading.share, reading.fill);
  if (reading.beyond !== 0) part(reading.beyond > 0 ? 0.97 : 0, reading.beyond > 0 ? 1 : 0.03, border?.colour ?? gauge.paint.track);
}

function drawPips(
  items: DrawItem[],
  { c }: SolveContext,
  element: string,
  gauge: Gauge,
  form: Extract<GaugeForm, { kind: 'pips' }>,
  rect: Rect,
  unit: number,
  reading: Reading,
  opacity: number,
): void {
  const side = form.sizePx * unit;
  const pitch = (form.sizePx + form.gapPx) * unit;
  const radius = form.shape === 'round' ? side / 2 : form.shape === 'soft' ? side / 4 : side * 0.12;
  for (let k = 0; k < form.count; k++) {
    const x = rect[0] + (form.vertical ? 0 : k * pitch);
    // A column fills from its foot.
    const y = rect[1] + (form.vertical ? (form.count - 1 - k) * pitch : 0);
    const filled = (share: number) => Math.max(0, Math.min(1, share * form.count - k));
    const whole = (share: number) => (form.part === 'whole' ? Math.floor(filled(share) + 1e-9) : filled(share));
    const edge = { element, x, y, width: side, height: side, radius };
    const { pictures = {} } = c.document;
    const [file, behind] = [pictures[form.picture ?? ''], pictures[form.behind ?? '']];
    if (file) {
      const box: Rect = [x, y, side, side];
      const looks = { ...PLAIN, opacity };
      const full = reading.broken ? 0 : whole(reading.share);
      if (behind) pushPicture(items, element, behind, contained(behind.widthPx, behind.heightPx, box), looks);
      else
        pushPicture(items, element, file, contained(file.widthPx, file.heightPx, box), {
          ...looks,
          saturation: 0,
          opacity: opacity * 0.35,
        });
      const towards = form.vertical ? 'up' : 'right';
      if (full > 0)
        pushPicture(
          items,
          element,
          file,
          partOf(contained(file.widthPx, file.heightPx, box), towards, 0, full),
          looks,
          partOf([0, 0, file.widthPx, file.heightPx], towards, 0, full),
        );
      if (reading.broken) pushStrike(items, element, [x, y, side, side], side * 0.14, gauge.paint.fill, opacity);
      continue;
    }
    const part = (from: number, to: number, colour: string) => {
      if (to - from <= 0) return;
      const [px, py, pw, ph] = partOf([x, y, side, side], form.vertical ? 'up' : 'right', from, to);
      items.push({ kind: 'plate', element, x: px, y: py, width: pw, height: ph, radius: 0, colour, opacity });
    };
    items.push({ kind: 'clip', ...edge });
    part(0, 1, gauge.paint.track);
    if (reading.broken) pushStrike(items, element, [x, y, side, side], side * 0.14, gauge.paint.fill, opacity);
    else {
      if (gauge.ghost) part(whole(reading.share), whole(reading.ghost), gauge.ghost.colour);
      part(0, whole(reading.share), reading.fill);
    }
    items.push({ kind: 'unclip', element });
    pushBorder(items, element, [x, y, side, side], radius, gauge.paint.border, unit, opacity);
  }
}
