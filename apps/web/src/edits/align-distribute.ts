/** Several elements at once: put in line with the first of them, or spread evenly between the outermost. */
import type { Rect } from './snap.ts';

export const SIDES = {
  left: 'Left edges',
  centre: 'Centres, horizontally',
  right: 'Right edges',
  top: 'Top edges',
  middle: 'Centres, vertically',
  bottom: 'Bottom edges',
} as const;
export type Side = keyof typeof SIDES;

const lineOf = ({ left, top, right, bottom }: Rect, side: Side): number =>
  ({ left, centre: (left + right) / 2, right, top, middle: (top + bottom) / 2, bottom })[side];
const isAcross = (side: Side): boolean => side === 'left' || side === 'centre' || side === 'right';

/** How far each box moves, right and down, so that a side of all lies where that of the first lies. */
export function alignBoxes(boxes: readonly Rect[], side: Side): [number, number][] {
  const first = boxes[0];
  if (!first) return [];
  return boxes.map((box) => {
    const by = lineOf(first, side) - lineOf(box, side);
    return isAcross(side) ? [by, 0] : [0, by];
  });
}

/** How far each box moves so that there is as much room between each and the next; the outermost stay. */
export function spreadBoxes(boxes: readonly Rect[], across: boolean): [number, number][] {
  const from = (box: Rect) => (across ? box.left : box.top);
  const to = (box: Rect) => (across ? box.right : box.bottom);
  const order = boxes
    .map((_, i) => i)
    .sort((a, b) => from(boxes[a] as Rect) + to(boxes[a] as Rect) - from(boxes[b] as Rect) - to(boxes[b] as Rect));
  const [first, last] = [boxes[order[0] ?? -1], boxes[order.at(-1) ?? -1]];
  const moves = boxes.map((): [number, number] => [0, 0]);
  if (!first || !last || boxes.length < 3) return moves;
  const inner = order.slice(1, -1).reduce((sum, i) => sum + to(boxes[i] as Rect) - from(boxes[i] as Rect), 0);
  const gap = (from(last) - to(first) - inner) / (order.length - 1);
  let at = to(first) + gap;
  for (const i of order.slice(1, -1)) {
    const box = boxes[i] as Rect;
    const by = at - from(box);
    moves[i] = across ? [by, 0] : [0, by];
    at += to(box) - from(box) + gap;
  }
  return moves;
}
