/** Anchors read back from a level's file: those that an export put there, wherever they are now, and those that were made by hand. */
import { type Anchor, anchorSchema, type Document, freeId, orderAfter } from '@foreshore/document';
import { isForbiddenKey } from '@foreshore/document/bounds';
import { BY_HAND, type Mark, marksOf } from '@foreshore/level/marks';
import { rootMatrix } from '@foreshore/level/matrix';

type Vec3 = [number, number, number];

/** An anchor that is not as it was. */
export interface AnchorChange {
  id: string;
  name: string;
  how: 'new' | 'moved' | 'changed';
  kind: Anchor['kind'];
  /** How far it moved, metres in the world, or units of its node. */
  by: number;
  /** The node it is on; null: none. */
  node: string | null;
}
export interface ReadAnchors {
  /** All of the document's anchors, with what the file says of them. */
  anchors: Document['anchors'];
  changes: AnchorChange[];
  /** How many the file has. */
  found: number;
  /** Anchors of the document that the file does not have; they stay. */
  missing: string[];
  /** What could not be read, by the node's name, in words. */
  faults: string[];
}

/** Files keep single precision: what is nearer than this share to where it was has not moved. */
const SAME = 1e-5;
const isSame = (a: readonly number[], b: readonly number[]): boolean => {
  const size = Math.max(1, ...a.map(Math.abs));
  return a.every((v, k) => Math.abs(v - (b[k] as number)) <= SAME * size);
};
const apart = (a: readonly number[], b: readonly number[]): number => Math.hypot(...a.map((v, k) => v - (b[k] as number)));

/** Up, turned by a quaternion. */
function upOf([x, y, z, w]: Mark['rotation']): Vec3 {
  const n = Math.hypot(x, y, z, w) || 1;
  const [a, b, c, d] = [x / n, y / n, z / n, w / n];
  const up: Vec3 = [2 * (a * b - c * d), 1 - 2 * (a * a + c * c), 2 * (b * c + a * d)];
  const length = Math.hypot(...up) || 1;
  return up.map((v) => v / length) as Vec3;
}

const transformed = (m: ArrayLike<number>, [x, y, z]: readonly number[], w: 0 | 1): Vec3 =>
  [0, 1, 2].map(
    (k) =>
      (m[k] as number) * (x as number) +
      (m[4 + k] as number) * (y as number) +
      (m[8 + k] as number) * (z as number) +
      w * (m[12 + k] as number),
  ) as Vec3;

/** Where a mark is, as a surface has it: in its node's space, or in the world. */
function surfaceOf({ node, translation, rotation }: Mark, root: ArrayLike<number>): { node: string | null; position: Vec3; normal: Vec3 } {
  const up = upOf(rotation);
  if (node !== null) return { node, position: [...translation], normal: up };
  const normal = transformed(root, up, 0);
  const length = Math.hypot(...normal) || 1;
  return { node, position: transformed(root, translation, 1), normal: normal.map((v) => v / length) as Vec3 };
}

/** What an anchor becomes where its mark is now; numbers that only lost digits stay as they were. */
function movedTo(was: Anchor, mark: Mark, root: ArrayLike<number>): { anchor: Anchor; by: number } {
  if (was.kind === 'surface') {
    const now = surfaceOf(mark, root);
    const same = was.node === now.node;
    const position = same && isSame(was.position, now.position) ? was.position : now.position;
    const normal = same && isSame(was.normal, now.normal) ? was.normal : now.normal;
    return { anchor: { ...was, node: now.node, position, normal }, by: same ? apart(was.position, position) : 0 };
  }
  if (was.kind === 'node' && mark.node === null) {
    const { steady, zone, name, order } = was;
    const kept = { name, order, ...(steady && { steady }), ...(zone && { zone }) };
    return { anchor: { kind: 'surface', ...kept, ...surfaceOf(mark, root) }, by: 0 };
  }
  if (was.kind === 'node' || was.kind === 'nodes') {
    const offset = isSame(was.offset, mark.translation) ? was.offset : ([...mark.translation] as Vec3);
    const by = apart(was.offset, offset);
    return { anchor: was.kind === 'node' ? { ...was, node: mark.node ?? was.node, offset } : { ...was, offset }, by };
  }
  return { anchor: was, by: 0 };
}

const nodeOf = (anchor: Anchor): string | null => ('node' in anchor ? anchor.node : null);

/**
 * @param bytes a level's file, whether Foreshore wrote it or another program did since.
 * @throws LevelError where it is none.
 */
export function readAnchors(bytes: Uint8Array, document: Document): ReadAnchors {
  const root = rootMatrix(document.level ?? { metresPerUnit: 1, upAxis: 'y' });
  const marks = marksOf(bytes).filter(({ carries }) => carries === null || 'kind' in carries);
  const anchors: Document['anchors'] = { ...document.anchors };
  const out: ReadAnchors = { anchors, changes: [], found: 0, missing: [], faults: [] };
  const seen = new Map<string, Anchor>();
  const byHand: Mark[] = [];
  const put = (id: string, was: Anchor | undefined, anchor: Anchor, by: number): void => {
    anchors[id] = anchor;
    seen.set(id, anchor);
    out.found++;
    if (!was) out.changes.push({ id, name: anchor.name, how: 'new', kind: anchor.kind, by: 0, node: nodeOf(anchor) });
    else if (JSON.stringify(was) !== JSON.stringify(anchor))
      out.changes.push({ id, name: anchor.name, how: by > 0 ? 'moved' : 'changed', kind: anchor.kind, by, node: nodeOf(anchor) });
  };
  for (const mark of marks) {
    if (!mark.carries) {
      byHand.push(mark);
      continue;
    }
    const { anchor: id, ...record } = mark.carries;
    const read = anchorSchema.safeParse(record);
    if (typeof id !== 'string' || isForbiddenKey(id) || !read.success) {
      const [issue] = read.error?.issues ?? [];
      out.faults.push(`"${mark.name}" carries no anchor: ${issue ? `${issue.path.join('.')} ${issue.message}` : 'it has no id'}`);
      continue;
    }
    const before = seen.get(id);
    // Of one at many nodes every place says the same; the first that was moved moves all.
    if (before?.kind === 'nodes') {
      const { anchor, by } = movedTo(before, mark, root);
      if (by > 0 && !out.changes.some((change) => change.id === id)) {
        out.found--;
        put(id, document.anchors[id], anchor, by);
      }
      continue;
    }
    // A copy of a mark is an anchor of its own.
    if (before) {
      byHand.push(mark);
      continue;
    }
    const was = Object.hasOwn(document.anchors, id) ? document.anchors[id] : undefined;
    // What the project says of it goes before what the file carries, but for its place.
    const { anchor, by } = movedTo(was && was.kind === read.data.kind ? was : read.data, mark, root);
    put(id, was, anchor, by);
  }
  for (const mark of byHand) {
    const name = mark.name
      .slice(mark.name.startsWith(BY_HAND) ? BY_HAND.length : 0)
      .trim()
      .slice(0, 80);
    const [known] = mark.carries ? [] : Object.entries(document.anchors).filter(([id, one]) => one.name === name && !seen.has(id));
    if (known && (known[1].kind === 'surface' || known[1].kind === 'node')) {
      const { anchor, by } = movedTo(known[1], mark, root);
      put(known[0], known[1], anchor, by);
    } else put(freeId(anchors, name), undefined, { kind: 'surface', name, order: orderAfter(anchors), ...surfaceOf(mark, root) }, 0);
  }
  for (const [id, anchor] of seen)
    if (anchor.kind === 'midpoint')
      for (const end of [anchor.first, anchor.second])
        if (!Object.hasOwn(anchors, end)) {
          out.faults.push(`"${anchor.name}" lies between anchors of which "${end}" is not there`);
          if (document.anchors[id]) anchors[id] = document.anchors[id];
          else delete anchors[id];
        }
  out.changes = out.changes.filter(({ id }) => anchors[id] !== undefined && anchors[id] !== document.anchors[id]);
  out.missing = Object.entries(document.anchors).flatMap(([id, { kind }]) => (seen.has(id) || kind === 'event' ? [] : [id]));
  return out;
}

const metres = (m: number): string => (m < 0.1 ? `${Number((m * 1000).toPrecision(2))} mm` : `${Number(m.toPrecision(3))} m`);

/** What became of an anchor, in words. */
export function sayAnchorChange({ name, how, kind, by, node }: AnchorChange): string {
  const on = kind === 'nodes' ? ', at each of its nodes' : node === null ? '' : `, on ${node}`;
  if (how === 'new') return `${name}: new${on}`;
  return how === 'moved' ? `${name}: moved by ${metres(by)}${on}` : `${name}: turned, or on another node${on}`;
}

/** Of a file that was read, in a sentence. */
export function sayAnchorsRead({ found, changes, missing, faults }: ReadAnchors): string {
  const of = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;
  const as = changes.length === 0 ? 'all as they are in the project' : `${changes.length} not as in the project`;
  if (found === 0 && faults.length === 0) return `The file has no anchors: they are nodes called "${BY_HAND}NAME".`;
  return `${of(found, 'anchor')}, ${as}${missing.length > 0 ? `; ${missing.length} of the project are not in the file, and stay` : ''}.`;
}
