/**
 * Boxes of one tree of elements, in design pixels from the top left of its root.
 *
 * Two passes: `measure` asks from the leaves up how large everything wants to be, `place` gives from the root down what
 * each gets. Sizes and places are plain sums, so that the fit scales them exactly. A hidden member keeps its room.
 */
import type { Element, Group } from '@foreshore/document';

export interface Tree {
  readonly elements: readonly Element[];
  /** Rows of a group's members in order; empty for all others. */
  readonly members: readonly (readonly number[])[];
  /** What an element without members wants, width and height, two numbers a row. */
  readonly natural: Float64Array;
  /** x, y, width and height, four numbers a row; written by `place`. */
  readonly boxes: Float64Array;
  /** By how much what is inside of a group is longer than the group, along its direction; written by `place`. */
  readonly surplus: Float64Array;
}

const X = 0;
const Y = 1;

/** Lengths along (first) and across (second) the direction of a row or a column. */
const axes = (group: Group): [number, number] => (group.layout.direction === 'row' ? [X, Y] : [Y, X]);
const padAt = (group: Group, axis: number): number => group.layout.padPx[axis] as number;
const padSum = (group: Group, axis: number): number => padAt(group, axis) + (group.layout.padPx[axis + 2] as number);
const fixed = (group: Group, axis: number): number | null => (axis === X ? group.layout.widthPx : group.layout.heightPx);

function limited(group: Group, axis: number, wanted: number): number {
  const least = group.layout.leastPx[axis] as number;
  const greatest = group.layout.greatestPx?.[axis] ?? Number.POSITIVE_INFINITY;
  return Math.max(least, Math.min(greatest, wanted));
}

export const wanted = (tree: Tree, row: number, axis: number): number => tree.natural[row * 2 + axis] as number;

/** Writes into `natural` what the groups of the tree want. Members come after their groups, so the last row goes first. */
export function measure(tree: Tree, rows: readonly number[]): void {
  for (let k = rows.length - 1; k >= 0; k--) {
    const row = rows[k] as number;
    const group = tree.elements[row];
    if (group?.kind !== 'group') continue;
    for (const axis of [X, Y]) tree.natural[row * 2 + axis] = limited(group, axis, fixed(group, axis) ?? needed(tree, row, group, axis));
  }
}

function needed(tree: Tree, row: number, group: Group, axis: number): number {
  const members = tree.members[row] ?? [];
  const pads = padSum(group, axis);
  if (group.layout.direction === 'free') {
    let most = 0;
    for (const m of members) most = Math.max(most, wanted(tree, m, axis) + Math.abs(tree.elements[m]?.place.offsetPx[axis] ?? 0));
    return most + pads;
  }
  const [along, across] = axes(group);
  const lines = breakLines(tree, row, group, fixed(group, along));
  if (axis === along) return Math.max(0, ...lines.map((line) => lineLength(tree, group, line))) + pads;
  const gaps = Math.max(0, lines.length - 1) * group.layout.gapPx;
  return lines.reduce((sum, line) => sum + thickness(tree, line, across), 0) + gaps + pads;
}

const longest = (tree: Tree, line: readonly number[], axis: number): number =>
  line.reduce((most, m) => Math.max(most, wanted(tree, m, axis)), 0);
const thickness = longest;

function lineLength(tree: Tree, group: Group, line: readonly number[]): number {
  const [along] = axes(group);
  const gaps = Math.max(0, line.length - 1) * group.layout.gapPx;
  return gaps + (group.layout.equal ? longest(tree, line, along) * line.length : line.reduce((sum, m) => sum + wanted(tree, m, along), 0));
}

function breakLines(tree: Tree, row: number, group: Group, length: number | null): number[][] {
  const members = tree.members[row] ?? [];
  const [along] = axes(group);
  const room = (length ?? group.layout.greatestPx?.[along] ?? Number.POSITIVE_INFINITY) - padSum(group, along);
  if (!group.layout.wrap || room === Number.POSITIVE_INFINITY) return members.length ? [[...members]] : [];
  const each = group.layout.equal ? longest(tree, members, along) : null;
  const lines: number[][] = [];
  let used = 0;
  for (const m of members) {
    const size = each ?? wanted(tree, m, along);
    const line = lines.at(-1);
    // A hundredth of a pixel of rounding breaks no line.
    if (line && used + group.layout.gapPx + size <= room + 0.01) {
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
  const [roomX, roomY] = [width - padSum(group, X), height - padSum(group, Y)];
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

/** Where an element comes to lie that puts its own point on a pin of a box of the given size, from that box's top left. */
export function pinned(tree: Tree, row: number, roomX: number, roomY: number): [number, number, number, number] {
  const element = tree.elements[row] as Element;
  const { mount, place: placing } = element;
  if (mount.kind === 'floating') return [0, 0, wanted(tree, row, X), wanted(tree, row, Y)];
  const at = [0, 0];
  const size = [0, 0];
  for (const axis of [X, Y]) {
    const room = axis === X ? roomX : roomY;
    const offset = placing.offsetPx[axis] as number;
    if (mount.stretch[axis]) {
      size[axis] = Math.max(0, room - 2 * Math.abs(offset));
      at[axis] = (room - (size[axis] as number)) / 2;
    } else {
      size[axis] = wanted(tree, row, axis);
      at[axis] = (mount.pin[axis] as number) * room + offset - (placing.ownPoint[axis] as number) * (size[axis] as number);
    }
  }
  return [at[0] as number, at[1] as number, size[0] as number, size[1] as number];
}

function placeLines(tree: Tree, row: number, group: Group, left: number, top: number, roomX: number, roomY: number): void {
  const [along, across] = axes(group);
  const { gapPx, align, spread, equal } = group.layout;
  const room = [roomX, roomY];
  const origin = [left, top];
  const lines = breakLines(tree, row, group, (room[along] as number) + padSum(group, along));
  let lineAt = origin[across] as number;
  let longestLine = 0;
  for (const line of lines) longestLine = Math.max(longestLine, lineLength(tree, group, line));
  tree.surplus[row] = Math.max(0, longestLine - (room[along] as number));
  for (const line of lines) {
    // A single line has all of the group's thickness to align in.
    const depth = lines.length === 1 ? (room[across] as number) : thickness(tree, line, across);
    const each = equal ? longest(tree, line, along) : null;
    const stretchers = line.filter((m) => stretches(tree, m, along)).length;
    const spare = (room[along] as number) - lineLength(tree, group, line);
    const grow = stretchers && spare > 0 ? spare / stretchers : 0;
    const rest = Math.max(0, stretchers ? 0 : spare);
    const between = spread === 'between' && line.length > 1 ? rest / (line.length - 1) : 0;
    let at = (origin[along] as number) + (spread === 'centre' ? rest / 2 : spread === 'end' ? rest : 0);
    for (const m of line) {
      const length = (each ?? wanted(tree, m, along)) + (stretches(tree, m, along) ? grow : 0);
      const thick = align === 'stretch' || stretches(tree, m, across) ? depth : wanted(tree, m, across);
      const shift = align === 'centre' ? (depth - thick) / 2 : align === 'end' ? depth - thick : 0;
      if (along === X) place(tree, m, at, lineAt + shift, length, thick);
      else place(tree, m, lineAt + shift, at, thick, length);
      at += length + gapPx + between;
    }
    lineAt += depth + gapPx;
  }
}

function stretches(tree: Tree, row: number, axis: number): boolean {
  const mount = tree.elements[row]?.mount;
  return mount !== undefined && mount.kind !== 'floating' && (mount.stretch[axis] as boolean);
}
