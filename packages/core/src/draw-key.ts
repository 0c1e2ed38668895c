/** Keys as items of the draw list: a cap with its letter, or the device with the part that is meant lit. */
import type { Device, Key } from '@foreshore/document/types';
import { type DrawItem, pushBorder, type Rect } from './draw-items.ts';
import { PLAIN, pushPicture } from './draw-picture.ts';
import { actionOfKey, CAP_EM, keysOf } from './keys.ts';
import type { SolveContext } from './solve-context.ts';

type Emit = (rect: Rect, radius: number, colour: string) => void;

/** A part of a device in a square of side 1. */
const part = ([x, y, side]: readonly [number, number, number], u: number, v: number, w: number, h: number): Rect => [
  x + u * side,
  y + v * side,
  w * side,
  h * side,
];

/** The four buttons and the cross, right, down, left, up of the middle. */
const AROUND: readonly (readonly [number, number])[] = [
  [0, 1],
  [1, 0],
  [-1, 0],
  [0, -1],
];
const CROSS: readonly (readonly [number, number])[] = [
  [0, -1],
  [0, 1],
  [-1, 0],
  [1, 0],
];

function drawGamepad(button: number, box: readonly [number, number, number], ink: string, lit: string, emit: Emit): void {
  const [, , side] = box;
  const round = (u: number, v: number, r: number, colour: string) => emit(part(box, u - r, v - r, 2 * r, 2 * r), r * side, colour);
  if (button < 4) {
    // The one that is meant is the larger, so that it is told apart without its colour.
    AROUND.forEach(([dx, dy], k) => {
      round(0.5 + dx * 0.28, 0.5 + dy * 0.28, k === button ? 0.19 : 0.11, k === button ? lit : ink);
    });
  } else if (button < 8) {
    const right = button % 2 === 1;
    const low = button >= 6;
    for (const at of [0, 1])
      for (const row of [0, 1]) {
        const meant = at === (right ? 1 : 0) && row === (low ? 1 : 0);
        const grow = meant ? 0.03 : 0;
        emit(
          part(box, (at ? 0.55 : 0.08) - grow, (row ? 0.52 : 0.24) - grow, 0.37 + 2 * grow, 0.2 + 2 * grow),
          0.09 * side,
          meant ? lit : ink,
        );
      }
  } else if (button === 10 || button === 11) {
    const right = button === 11;
    round(right ? 0.3 : 0.7, 0.42, 0.12, ink);
    round(right ? 0.66 : 0.34, 0.55, 0.3, ink);
    round(right ? 0.66 : 0.34, 0.55, 0.19, lit);
  } else if (button >= 12 && button <= 15) {
    CROSS.forEach(([dx, dy], k) => {
      const meant = k === button - 12;
      const r = meant ? 0.15 : 0.12;
      emit(part(box, 0.5 + dx * 0.27 - r, 0.5 + dy * 0.27 - r, 2 * r, 2 * r), 0.04 * side, meant ? lit : ink);
    });
    emit(part(box, 0.39, 0.39, 0.22, 0.22), 0, ink);
  } else {
    const place = button === 8 ? 0.25 : button === 9 ? 0.75 : 0.5;
    for (const u of [0.25, 0.5, 0.75]) {
      const r = u === place ? 0.15 : 0.08;
      round(u, 0.5, r, u === place ? lit : ink);
    }
  }
}

function drawPointer(which: string, box: readonly [number, number, number], ink: string, lit: string, emit: Emit): void {
  const [, , side] = box;
  emit(part(box, 0.25, 0.12, 0.5, 0.76), 0.25 * side, ink);
  if (which === 'Middle') emit(part(box, 0.44, 0.2, 0.12, 0.24), 0.06 * side, lit);
  else emit(part(box, which === 'Left' ? 0.27 : 0.52, 0.16, 0.21, 0.3), 0.09 * side, lit);
}

function drawHand(button: number, box: readonly [number, number, number], ink: string, lit: string, emit: Emit): void {
  const [, , side] = box;
  const shade = (k: number) => (k === button ? lit : ink);
  // A grip seen from its side: the trigger in front, the grip's button behind, the rest on top.
  emit(part(box, 0.42, 0.3, 0.26, 0.6), 0.12 * side, ink);
  emit(part(box, 0.14, 0.36, 0.22, 0.18), 0.08 * side, shade(0));
  emit(part(box, 0.72, 0.5, 0.14, 0.26), 0.06 * side, shade(1));
  if (button >= 2) emit(part(box, 0.45, 0.1, 0.2, 0.16), 0.08 * side, lit);
}

function drawTouch(
  twice: boolean,
  box: readonly [number, number, number],
  lit: string,
  items: DrawItem[],
  element: string,
  opacity: number,
): void {
  const [x, y, side] = box;
  const ring = (r: number, strokePx: number | undefined) =>
    items.push({
      kind: 'plate',
      element,
      x: x + side * (0.5 - r),
      y: y + side * (0.5 - r),
      width: 2 * r * side,
      height: 2 * r * side,
      radius: r * side,
      colour: lit,
      opacity,
      ...(strokePx !== undefined && { strokePx }),
    });
  ring(0.16, undefined);
  ring(0.28, side * 0.05);
  if (twice) ring(0.4, side * 0.05);
}

/** @param device the one the player used last. */
export function drawKey(
  items: DrawItem[],
  ctx: SolveContext,
  row: number,
  key: Key,
  device: Device,
  rect: Rect,
  unit: number,
  opacity: number,
): void {
  const { c, a, f } = ctx;
  const element = c.ids[row] as string;
  const { paint } = key;
  const keys = keysOf(c.document, actionOfKey(c, row));
  const [x, y, width, height] = rect;
  const side = Math.min(width, height);
  const box = [x + (width - side) / 2, y, side] as const;
  const emit: Emit = ([px, py, w, h], radius, colour) =>
    items.push({ kind: 'plate', element, x: px, y: py, width: w, height: h, radius: Math.min(radius, w / 2, h / 2), colour, opacity });
  const own = c.document.pictures?.[keys.pictures?.[device] ?? ''];
  const block = a.blocks[row];
  if (own) {
    const scale = Math.min(width / own.widthPx, height / own.heightPx);
    const [w, h] = [own.widthPx * scale, own.heightPx * scale];
    pushPicture(items, element, own, [x + (width - w) / 2, y + (height - h) / 2, w, h], { ...PLAIN, opacity });
  } else {
    const radius = device === 'keyboard' && block ? height * 0.2 : height / 2;
    emit(rect, radius, paint.plate);
    pushBorder(items, element, rect, radius, paint.border, unit, opacity);
    if (device === 'gamepad') drawGamepad(keys.gamepad, box, paint.ink, paint.lit, emit);
    else if (device === 'hand') drawHand(keys.hand, box, paint.ink, paint.lit, emit);
    else if (device === 'touch') drawTouch(keys.touch === 'doubleTap', box, paint.lit, items, element, opacity);
    else if (block) {
      const em = height * CAP_EM;
      items.push({
        kind: 'text',
        element,
        x: x + (width - block.widthEm * em) / 2,
        y: y + (height - block.heightEm * em) / 2,
        emPx: em,
        block,
        colour: paint.ink,
        outline: null,
        opacity,
      });
    } else drawPointer(keys.keyboard.replace('Pointer', ''), box, paint.ink, paint.lit, emit);
  }
  const pressed = f.pressShare > 0 && c.root[row] === f.pressRow;
  if (pressed)
    items.push({
      kind: 'arc',
      element,
      x: x + width / 2,
      y: y + height / 2,
      radius: Math.hypot(width, height) / 2 + height * 0.08,
      widthPx: height * 0.14,
      fromRad: 0,
      toRad: 2 * Math.PI * Math.min(1, f.pressShare),
      colour: paint.lit,
      opacity,
    });
}
