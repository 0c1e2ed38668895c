/**
 * Boxes of one tree of elements, in design pixels from the top left of its root.
 *
 * Widths first, then heights for those widths: `measure` asks from the leaves up how wide and how high everything wants to be;
 * `place` gives from the root down what each gets, and asks again for the height where a width came out otherwise than wanted.
 * Sizes and places are plain sums, so that the fit scales them exactly. A hidden member keeps its room.
 *
 * The rules by which a box can be predicted:
 * - A group is as long as its fixed size says, else as its members need, padding included; then the greatest size holds, and
 *   last of all the least size. Stretching goes by the same two bounds. Padding that leaves no room leaves 0, never less.
 * - A row (a column likewise) puts its members side by side with the gap between; `equal` makes each as long as the longest of
 *   all its members, in every line. What is left goes to the members that stretch, else it is spread.
 * - `wrap` begins another line before the member that would pass the inner length: that of the fixed size, else of the greatest
 *   size, else of the size it is given. A wrapping row that is given another width than it wanted is as high as its lines need.
 * - A line is as thick as its thickest member; a single line as thick as the group.
 * - A free group hugs the largest of its members with its offset: a member that is stretched keeps its offset at both sides, one
 *   that is pinned at one. Where that pin lies plays no part.
 * - What is stretched but held to less by its greatest size lies by its pin and its own point in a free group and on the HUD,
 *   and by the alignment in a row or a column.
 * - What is inside of a group that scrolls overflows from the group's start, along its direction; in a free group downwards.
 */
import { isPinned } from '@foreshore/document/kinds';
import type { Element, Group } from '@foreshore/document/types';

export interface Tree {
  readonly elements: readonly Element[];
  /** Rows of those of a group's members that take room, in order; empty for all others. */
  readonly members: (readonly number[])[];
  /** What an element without members wants, width and height, two numbers a row. */
  readonly natural: Float64Array;
  /** x, y, width and height, four numbers a row; written by `place`. */
  readonly boxes: Float64Array;
  /** By how much what is inside of a group is longer than the group, along its direction; written by `place`. */
  readonly surplus: Float64Array;
  /** Whether a row takes its parent's whole length, two numbers a row; see `stretchesOf`. */
  readonly stretch: Uint8Array;
}
/** What of every row is stretched, along x and y: what floats by itself never is. */
export function stretchesOf(elements: readonly Element[]): Uint8Array {
  const out = new Uint8Array(elements.length * 2);
  elements.forEach(({ mount }, row) => {
    if (isPinned(mount)) out.set([mount.stretch[0] ? 1 : 0, mount.stretch[1] ? 1 : 0], row * 2);
  });
  return out;
}

const X = 0;
const Y = 1;

/** Lengths along (first) and across (second) the direction of a row or a column. */
const alongOf = (group: Group): number => (group.layout.direction === 'row' ? X : Y);
const padAt = (group: Group, axis: number): number => group.layout.padPx[axis] as number;
const padSum = (group: Group, axis: number): number => padAt(group, axis) + (group.layout.padPx[axis + 2] as number);
const fixed = (group: Group, axis: number): number | null => (axis === X ? group.layout.widthPx : group.layout.heightPx);
const greatest = (group: Group, axis: number): number => group.layout.greatestPx?.[axis] ?? Number.POSITIVE_INFINITY;
/** What is left of a length inside of the padding. */
const inner = (group: Group, axis: number, length: number): number => Math.max(0, length - padSum(group, axis));

const limited = (group: Group, axis: number, wanted: number): number =>
  Math.max(group.layout.leastPx[axis] as number, Math.min(greatest(group, axis), wanted));
/** A length that an element is given by stretching, within the bounds of a group. */
const bounded = (element: Element | undefined, axis: number, length: number): number =>
  element?.kind === 'group' ? limited(element, axis, length) : length;

export const wanted = (tree: Tree, row: number, axis: number): number => tree.natural[row * 2 + axis] as number;

/** Writes into `natural` what the groups of the tree want. Members come after their groups, so the last row goes first. */
export function measure(tree: Tree, rows: readonly number[]): void {
  for (const axis of [X, Y])
    for (let k = rows.length - 1; k >= 0; k--) {
      const row = rows[k] as number;
      const group = tree.elements[row];
      if (group?.kind !== 'group') continue;
      const own = fixed(group, axis) ?? (axis === X ? neededWidth(tree, row, group) : neededHeight(tree, row, group, wanted(tree, row, X)));
      tree.natural[row * 2 + axis] = limited(group, axis, own);
    }
}

/** The length along which a group breaks its lines; infinite where it breaks none. */
function breakingLength(group: Group, along: number): number {
  const own = fixed(group, along);
  return own === null ? greatest(group, along) : limited(group, along, own);
}

function neededWidth(tree: Tree, row: number, group: Group): number {
  const pads = padSum(group, X);
  if (group.layout.direction === 'free') return freeNeed(tree, row, X, (m) => wanted(tree, m, X)) + pads;
  const lines = breakLines(tree, row, group, breakingLength(group, alongOf(group)));
  if (group.layout.direction === 'row') return longestLine(tree, row, group, lines) + pads;
  return acrossLines(group, lines, (line) => longest(line, (m) => wanted(tree, m, X))) + pads;
}

/** How high a group must be for what is inside of it, where it is so wide. */
function neededHeight(tree: Tree, row: number, group: Group, width: number): number {
  const pads = padSum(group, Y);
  const room = inner(group, X, width);
  const { direction } = group.layout;
  if (direction === 'free') return freeNeed(tree, row, Y, (m) => heightAt(tree, m, pinnedWidth(tree, m, room))) + pads;
  if (direction === 'column') {
    const lines = breakLines(tree, row, group, breakingLength(group, Y));
    return longestLine(tree, row, group, lines, (m) => heightAt(tree, m, columnWidth(tree, group, m, room))) + pads;
  }
  const lines = breakLines(tree, row, group, Math.min(width, breakingLength(group, X)));
  return acrossLines(group, lines, (line) => longest(line, (m) => wanted(tree, m, Y))) + pads;
}

/** How high an element wants to be at a width: a group that wraps, or holds one that does, needs more where it is narrower. */
function heightAt(tree: Tree, row: number, width: number): number {
  const group = tree.elements[row];
  if (group?.kind !== 'group' || Math.abs(width - wanted(tree, row, X)) < ROUNDING) return wanted(tree, row, Y);
  return limited(group, Y, fixed(group, Y) ?? neededHeight(tree, row, group, width));
}
/** A hundredth of a pixel of rounding breaks no line. */
const ROUNDING = 0.01;

const pinnedWidth = (tree: Tree, m: number, room: number): number =>
  stretches(tree, m, X) ? stretchedTo(tree.elements[m] as Element, X, room) : wanted(tree, m, X);
const columnWidth = (tree: Tree, group: Group, m: number, room: number): number =>
  group.layout.align === 'stretch' || stretches(tree, m, X) ? bounded(tree.elements[m], X, room) : wanted(tree, m, X);

function freeNeed(tree: Tree, row: number, axis: number, length: (member: number) => number): number {
  let most = 0;
  for (const m of tree.members[row] ?? []) {
    const offset = Math.abs(tree.elements[m]?.place.offsetPx[axis] ?? 0);
    const own = axis === X && stretches(tree, m, axis) ? wanted(tree, m, axis) : length(m);
    most = Math.max(most, own + (stretches(tree, m, axis) ? 2 * offset : offset));
  }
  return most;
}

function longest(line: readonly number[], length: (member: number) => number): number {
  let most = 0;
  for (let k = 0; k < line.length; k++) most = Math.max(most, length(line[k] as number));
  return most;
}
const acrossLines = (group: Group, lines: readonly (readonly number[])[], thickness: (line: readonly number[]) => number): number =>
  lines.reduce((sum, line) => sum + thickness(line), 0) + Math.max(0, lines.length - 1) * group.layout.gapPx;

/** How long each member is made, where all are equally long; null where each is as long as it wants. */
function equalLength(tree: Tree, row: number, group: Group, length: (member: number) => number): number | null {
  return group.layout.equal ? longest(tree.members[row] ?? [], length) : null;
}

function lineLength(group: Group, line: readonly number[], each: number | null, length: (member: number) => number): number {
  const gaps = Math.max(0, line.length - 1) * group.layout.gapPx;
  if (each !== null) return gaps + each * line.length;
  let sum = gaps;
  for (let k = 0; k < line.length; k++) sum += length(line[k] as number);
  return sum;
}

function longestLine(
  tree: Tree,
  row: number,
  group: Group,
  lines: readonly (readonly number[])[],
  length: (member: number) => number = (m) => wanted(tree, m, alongOf(group)),
): number {
  const each = equalLength(tree, row, group, length);
  return lines.reduce((most, line) => Math.max(most, lineLength(group, line, each, length)), 0);
}

/** @param length of the group along its direction, padding included. */
function breakLines(tree: Tree, row: number, group: Group, length: number): (readonly number[])[] {
  const members = tree.members[row] ?? [];
  const along = alongOf(group);
  const room = length - padSum(group, along);
  if (!group.layout.wrap || room === Number.POSITIVE_INFINITY) return members.length ? [members] : [];
  const each = equalLength(tree, row, group, (m) => wanted(tree, m, along));
  const lines: number[][] = [];
  let used = 0;
  for (const m of members) {
    const size = each ?? wanted(tree, m, along);
    const line = lines.at(-1);
    if (line && used + group.layout.gapPx + size <= room + ROUNDING) {
      line.push(m);
      used += group.layout.gapPx + size;
    } else {
      lines.push([m]);
      used = size;
    }
  }
  return lines;
}

/** Gives a row its box, and its members theirs. */
export function place(tree: Tree, row: number, x: number, y: number, width: number, height: number): void {
  const { boxes } = tree;
  boxes[row * 4] = x;
  boxes[row * 4 + 1] = y;
  boxes[row * 4 + 2] = width;
  boxes[row * 4 + 3] = height;
  const group = tree.elements[row];
  if (group?.kind !== 'group') return;
  const [left, top] = [x + padAt(group, X), y + padAt(group, Y)];
  const [roomX, roomY] = [inner(group, X, width), inner(group, Y, height)];
  if (group.layout.direction === 'free') {
    let lowest = 0;
    for (const m of tree.members[row] ?? []) {
      const [dx, dy, w, h] = pinned(tree, m, roomX, roomY);
      place(tree, m, left + dx, top + dy, w, h);
      lowest = Math.max(lowest, dy + h);
    }
    tree.surplus[row] = Math.max(0, lowest - roomY);
    return;
  }
  placeLines(tree, row, group, left, top, roomX, roomY);
}

/** The length of an element that is stretched over a room, less its offset at both sides, within its own bounds. */
const stretchedTo = (element: Element, axis: number, room: number): number =>
  bounded(element, axis, Math.max(0, room - 2 * Math.abs(element.place.offsetPx[axis] as number)));

/** Where an element comes to lie that puts its own point on a pin of a box of the given size, from that box's top left. */
export function pinned(tree: Tree, row: number, roomX: number, roomY: number): [number, number, number, number] {
  const element = tree.elements[row] as Element;
  const { mount, place: placing } = element;
  if (!isPinned(mount)) return [0, 0, wanted(tree, row, X), wanted(tree, row, Y)];
  const at = [0, 0];
  const size = [0, 0];
  for (const axis of [X, Y]) {
    const room = axis === X ? roomX : roomY;
    const offset = placing.offsetPx[axis] as number;
    const stretched = mount.stretch[axis] as boolean;
    const own = axis === X ? wanted(tree, row, X) : heightAt(tree, row, size[X] as number);
    size[axis] = stretched ? stretchedTo(element, axis, room) : own;
    const filled = Math.max(0, room - 2 * Math.abs(offset));
    // Held to less than the room it lies as what is not stretched.
    if (stretched && (size[axis] as number) >= filled - ROUNDING) at[axis] = (room - (size[axis] as number)) / 2;
    else at[axis] = (mount.pin[axis] as number) * room + offset - (placing.ownPoint[axis] as number) * (size[axis] as number);
  }
  return [at[0] as number, at[1] as number, size[0] as number, size[1] as number];
}

function placeLines(tree: Tree, row: number, group: Group, left: number, top: number, roomX: number, roomY: number): void {
  const along = alongOf(group);
  const across = 1 - along;
  const { gapPx, align, spread } = group.layout;
  const room = [roomX, roomY];
  const origin = [left, top];
  // In a column the height of a member follows from its width; in a row its width is its own.
  const length = (m: number): number =>
    along === X ? wanted(tree, m, X) : heightAt(tree, m, columnWidth(tree, group, m, room[X] as number));
  const lines = breakLines(tree, row, group, (room[along] as number) + padSum(group, along));
  const each = equalLength(tree, row, group, length);
  let lineAt = origin[across] as number;
  tree.surplus[row] = Math.max(0, longestLine(tree, row, group, lines, length) - (room[along] as number));
  for (const line of lines) {
    // A single line has all of the group's thickness to align in.
    const depth = lines.length === 1 ? (room[across] as number) : longest(line, (m) => wanted(tree, m, across));
    const stretchers = line.filter((m) => stretches(tree, m, along)).length;
    const spare = (room[along] as number) - lineLength(group, line, each, length);
    const grow = stretchers && spare > 0 ? spare / stretchers : 0;
    const rest = Math.max(0, stretchers ? 0 : spare);
    const between = spread === 'between' && line.length > 1 ? rest / (line.length - 1) : 0;
    let at = (origin[along] as number) + (spread === 'centre' ? rest / 2 : spread === 'end' ? rest : 0);
    for (const m of line) {
      const own = each ?? length(m);
      const long = stretches(tree, m, along) ? bounded(tree.elements[m], along, own + grow) : own;
      const own2 = across === Y ? heightAt(tree, m, long) : wanted(tree, m, X);
      const thick = align === 'stretch' || stretches(tree, m, across) ? bounded(tree.elements[m], across, depth) : own2;
      const shift = align === 'centre' ? (depth - thick) / 2 : align === 'end' ? depth - thick : 0;
      if (along === X) place(tree, m, at, lineAt + shift, long, thick);
      else place(tree, m, lineAt + shift, at, thick, long);
      at += long + gapPx + between;
    }
    lineAt += depth + gapPx;
  }
}

const stretches = (tree: Tree, row: number, axis: number): boolean => tree.stretch[row * 2 + axis] === 1;
