/**
 * Forms: how much of a group that floats is there. Its detail goes by how far away it is; other forms are those at the edge of the
 * frame, and of one that stands for several. A member that is not there in the present form takes no room, so that what is seen of
 * far things is small, and gives way as such.
 */
import type { Detail, Only } from '@foreshore/document/types';
import { type Arranged, layOutDirty, MERGED, writeText } from '../arrange.ts';
import type { SolveContext } from '../solve-context.ts';
import { pixelsPerMetre } from '../spaces/lens.ts';

/** A form as one number: its detail, and a bit each for the edge and for standing for several. */
const AT_EDGE = 16;
const MERGED_BIT = 32;

/** Metres from the eye to the anchor of a floating row; NaN where it has no place. */
export function awayM({ c, f }: Pick<SolveContext, 'c' | 'f'>, i: number): number {
  const at = (c.elementAnchor[i] as number) * 3;
  const { eye } = f;
  return Math.hypot(
    (c.anchorWorld[at] as number) - (eye[0] as number),
    (c.anchorWorld[at + 1] as number) - (eye[1] as number),
    (c.anchorWorld[at + 2] as number) - (eye[2] as number),
  );
}

/** What the detail of a row goes by: metres, or design pixels for a metre, whichever way it is looked at. */
export function detailMeasure(ctx: Pick<SolveContext, 'a' | 'c' | 'f'>, i: number, by: Detail['by']): number {
  const away = awayM(ctx, i);
  return by === 'distance' ? away : pixelsPerMetre(ctx.a.projection, away) / (ctx.a.fits[i] as number);
}

/** The detail that something is in: as many bounds as it is beyond. @param was the detail it was in; to come back it must be nearer by a share. */
export function detailAt({ by, at, leaveShare }: Detail, value: number, was: number): number {
  let now = 0;
  for (let k = 0; k < at.length; k++) {
    const bound = at[k] as number;
    const held = k < was ? (by === 'distance' ? bound * (1 - leaveShare) : bound * (1 + leaveShare)) : bound;
    if (by === 'distance' ? value >= held : value <= held) now = k + 1;
  }
  return now;
}

/** At a tick, before anything is placed. */
export function decideDetail(ctx: SolveContext): void {
  const { c, m } = ctx;
  for (let k = 0; k < c.formed.length; k++) {
    const i = c.formed[k] as number;
    const detail = c.elements[i]?.place.detail;
    if (detail) m.detail[k] = detailAt(detail, detailMeasure(ctx, i, detail.by), m.detail[k] as number);
  }
}

/**
 * Brings the groups of a block to the forms they are to have, once it is known whether they stand at an edge.
 * @param first of `Compiled.formed` that belongs to the block. @returns the first that belongs to the next one.
 */
export function runForms(ctx: SolveContext, first: number, to: number): number {
  const { formed } = ctx.c;
  let k = first;
  for (; k < formed.length && (formed[k] as number) < to; k++) takeForm(ctx, k);
  return k;
}

/** Whether a row stands at the edge of its frame. */
const isAtEdge = ({ a, f }: SolveContext, i: number): boolean => {
  const edge = a.edgeOf[i] as number;
  return edge >= 0 && !Number.isNaN(f.edgeRad[edge]);
};

/** Lays a group out in the form it is to have, where it is another; true where it was. */
export function takeForm(ctx: SolveContext, k: number): boolean {
  const { a, c, m } = ctx;
  const i = c.formed[k] as number;
  const many = m.standsFor[i] as number;
  const form = (m.detail[k] as number) + (isAtEdge(ctx, i) ? AT_EDGE : 0) + (many > 1 ? MERGED_BIT : 0);
  const counts = a.standsFor[i] !== many;
  if (a.forms[k] === form && !counts) return false;
  if (counts) sayCount(a, i, many);
  if (a.forms[k] !== form) {
    a.forms[k] = form;
    setMembers(a, i, form);
    a.dirty.add(i);
  }
  layOutDirty(a);
  return true;
}

/** Texts of a tree that say how many it stands for. */
export function sayCount(a: Arranged, top: number, many: number): void {
  const { compiled } = a;
  a.standsFor[top] = many;
  for (const row of a.treeRows.get(top) ?? []) {
    const element = compiled.elements[row];
    if (element?.kind === 'label' && a.wordings[row]?.names.includes(MERGED)) writeText(a, row, element);
  }
}

function setMembers(a: Arranged, top: number, form: number): void {
  const { elements, members } = a.compiled;
  for (const row of a.treeRows.get(top) ?? []) {
    const { only } = elements[row] ?? {};
    if (row !== top) a.absent[row] = only && !isThere(only, form) ? 1 : 0;
  }
  for (const row of a.treeRows.get(top) ?? []) {
    const all = members[row] as readonly number[];
    a.tree.members[row] = all.some((member) => a.absent[member]) ? all.filter((member) => !a.absent[member]) : all;
  }
}

const isThere = ({ detail, edge, merged }: Only, form: number): boolean =>
  (!detail || detail.includes(form % AT_EDGE)) &&
  (edge === undefined || edge === (form & AT_EDGE) > 0) &&
  (merged === undefined || merged === (form & MERGED_BIT) > 0);

/** Why a member is not there in the present form of its group: which of its conditions does not hold, and how the group stands. */
export function whyAbsent({ a, c }: Pick<SolveContext, 'a' | 'c'>, row: number): { because: 'detail' | 'edge' | 'merged'; detail: number } {
  const form = a.forms[c.formed.indexOf(c.root[row] as number)] as number;
  const only = c.elements[row]?.only;
  const detail = form % AT_EDGE;
  if (only?.detail && !only.detail.includes(detail)) return { because: 'detail', detail };
  return { because: only?.edge !== undefined && only.edge !== (form & AT_EDGE) > 0 ? 'edge' : 'merged', detail };
}
