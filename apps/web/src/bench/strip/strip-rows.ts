/**
 * Which rows the strip lists. Rows answer what is wrong on the route: the worst first; what is shown all the time, what the
 * route never comes near and what belongs to other phases is folded away, with a count; members are folded into their group.
 */
import { readableShare, type Stretch } from '@foreshore/checks';
import { Verdict } from '@foreshore/core';
import { type Document, groupOf, inOrder } from '@foreshore/document';

export interface StripRow {
  id: string;
  name: string;
  band: readonly Stretch[] | undefined;
  /** Of the route: how much of it the element is readable, 0 to 1. */
  share: number;
  /** The least share among its members that count, itself included. */
  worst: number;
  /** How many groups it lies in, as far as they are listed. */
  depth: number;
  /** How many members are folded into it; null where it has none. */
  members: number | null;
  unfolded: boolean;
}

/** Why a row is folded away. */
export const FOLDS = ['far', 'phase', 'always'] as const;
export type Fold = (typeof FOLDS)[number];

/** Shares of the route from here on are all of it. */
const ALWAYS = 0.9995;
/** What these steps refuse is somewhere else than the route. */
const AWAY = new Set([Verdict.Attach, Verdict.Range, Verdict.View]);

/** What a band is folded for, or null where the route has something to say of it. */
export function foldOf(band: readonly Stretch[]): Fold | null {
  if (band.length === 0) return null;
  if (readableShare(band) >= ALWAYS) return 'always';
  const lasting = band.filter((b) => b.toS > b.fromS);
  if (lasting.every((b) => b.verdict === Verdict.Phase)) return 'phase';
  return lasting.every((b) => AWAY.has(b.verdict) || b.verdict === Verdict.Phase) ? 'far' : null;
}

/** Whether an element is a template that is only a pattern, or stands in one: it is shown nowhere itself. */
function isPattern(document: Document, id: string): boolean {
  const element = document.elements[id];
  if (!element) return false;
  if (element.kind === 'group' && element.template?.only) return true;
  const group = groupOf(element);
  return group !== null && isPattern(document, group);
}

export interface StripList {
  rows: readonly StripRow[];
  /** How many rows each fold holds. */
  folded: Readonly<Record<Fold, number>>;
}

export interface StripAsk {
  bands: ReadonlyMap<string, readonly Stretch[]>;
  /** The selected element is always listed, and the groups that it lies in. */
  selection: string | null;
  /** The folds that are open, and the groups whose members are listed. */
  open: ReadonlySet<Fold>;
  unfolded: ReadonlySet<string>;
  /** What a change did something to is listed like the selected element. */
  marked?: ReadonlySet<string>;
}

const NONE: ReadonlySet<string> = new Set();

export function stripRows(document: Document, { bands, selection, open, unfolded, marked = NONE }: StripAsk): StripList {
  const all = inOrder(document.elements);
  const order = new Map(all.map(([id], at) => [id, at]));
  const members = new Map<string, string[]>();
  const outer: string[] = [];
  for (const [id, element] of all) {
    if (!bands.has(id) && id !== selection && isPattern(document, id)) continue;
    const group = groupOf(element);
    if (group !== null && document.elements[group]) members.set(group, [...(members.get(group) ?? []), id]);
    else outer.push(id);
  }
  const above = new Set<string>();
  for (const id of selection === null ? marked : [selection, ...marked])
    for (let at = document.elements[id]; at; ) {
      const group = groupOf(at);
      if (group === null || above.has(group)) break;
      above.add(group);
      at = document.elements[group];
    }
  const share = (id: string) => readableShare(bands.get(id) ?? []);
  const worsts = new Map<string, number>();
  const worst = (id: string): number => {
    const known = worsts.get(id);
    if (known !== undefined) return known;
    worsts.set(id, share(id));
    const least = Math.min(share(id), ...(members.get(id) ?? []).map(worst));
    worsts.set(id, least);
    return least;
  };
  /** Of a group with members: all of them must be folded for the same reason, else it is listed. */
  const folds = (id: string): Fold | null => {
    const own = foldOf(bands.get(id) ?? []);
    if (own === null || own !== 'always') return own;
    return (members.get(id) ?? []).every((member) => folds(member) === 'always') ? 'always' : null;
  };
  const sorted = (ids: readonly string[]) =>
    bands.size ? [...ids].sort((a, b) => worst(a) - worst(b) || (order.get(a) ?? 0) - (order.get(b) ?? 0)) : ids;
  const folded: Record<Fold, number> = { far: 0, phase: 0, always: 0 };
  const rows: StripRow[] = [];
  const list = (ids: readonly string[], depth: number) => {
    for (const id of sorted(ids)) {
      const fold = depth === 0 ? folds(id) : null;
      if (fold) folded[fold]++;
      if (fold && !open.has(fold) && id !== selection && !marked.has(id) && !above.has(id)) continue;
      const inside = members.get(id) ?? [];
      const isOpen = unfolded.has(id) || above.has(id);
      const band = bands.get(id);
      rows.push({
        id,
        name: document.elements[id]?.name ?? id,
        band,
        share: share(id),
        worst: worst(id),
        depth,
        members: inside.length || null,
        unfolded: isOpen,
      });
      if (isOpen) list(inside, depth + 1);
    }
  };
  list(outer, 0);
  return { rows, folded };
}
