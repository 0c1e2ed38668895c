/**
 * Marks: nodes without a mesh that stand for what Foreshore knows of a place in a level. They are put into its file, and read from it,
 * by its JSON alone (glTF 2.0, sections 3.5 and 3.13): everything else of the file, the bytes of its meshes above all, stays as it is.
 */
import { type GltfJson, openBinary, writeBinary } from './container.ts';
import { LevelError } from './faults.ts';
import { uniqueIds } from './node-ids.ts';
import { structureFaults } from './structure.ts';

/** The key in a node's extras that makes a mark of it. */
export const MARK = 'foreshore';
/** A node of this name without mesh and extras is a mark that somebody made by hand. */
export const BY_HAND = 'anchor ';
/** More are not read. */
export const MOST_MARKS = 20_000;

type GltfNode = NonNullable<GltfJson['nodes']>[number] & {
  extras?: Record<string, unknown>;
  translation?: number[];
  rotation?: number[];
  scale?: number[];
  matrix?: number[];
};

export interface Mark {
  /** The node that it hangs on, by its id in the level; null: the level as a whole. */
  node: string | null;
  name: string;
  /** In that node's own space, in the file's unit and axes. */
  translation: readonly [number, number, number];
  /** Quaternion x, y, z, w. */
  rotation: readonly [number, number, number, number];
  /** The same along all axes. */
  scale: number;
  /** What it carries under `MARK`; null where it was made by hand. */
  carries: Record<string, unknown> | null;
}

const isObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value);

/** Whether a node is a mark and nothing else: it has no mesh, and nothing hangs on it. */
export const isMark = ({ extras, mesh, children }: { extras?: unknown; mesh?: unknown; children?: readonly unknown[] }): boolean =>
  carriesMark(extras) && mesh === undefined && !children?.length;
const carriesMark = (extras: unknown): boolean => isObject(extras) && isObject(extras[MARK]);

const isByHand = (node: GltfNode): boolean =>
  typeof node.name === 'string' &&
  node.name.startsWith(BY_HAND) &&
  node.name.trim().length > BY_HAND.length &&
  ![node.mesh, node.camera, node.skin].some((v) => v !== undefined) &&
  !node.children?.length;

const listOf = (json: GltfJson): GltfNode[] => ((json.nodes ??= []) as (GltfNode | null)[]).map((node) => node ?? {});
const scene = (json: GltfJson): { nodes?: number[] } | undefined => json.scenes?.[json.scene ?? 0] ?? json.scenes?.[0];

interface Walked {
  index: number;
  parent: number;
  id: string;
}

/** The level's own nodes in its order, with their ids; and the marks, with the nodes that they hang on. */
function walk(json: GltfJson, nodes: readonly GltfNode[]): { own: Walked[]; marks: { index: number; parent: number }[] } {
  const children = new Set(nodes.flatMap((node) => node.children ?? []));
  const roots = scene(json)?.nodes ?? nodes.map((_, k) => k).filter((k) => !children.has(k));
  const order: { index: number; parent: number }[] = [];
  const marks: { index: number; parent: number }[] = [];
  const open = roots.map((index) => ({ index, parent: -1 })).reverse();
  for (let next = open.pop(); next; next = open.pop()) {
    const { index } = next;
    const node = nodes[index];
    if (!node) continue;
    if (carriesMark(node.extras) || isByHand(node)) marks.push(next);
    if (isMark(node)) continue;
    order.push(next);
    for (const child of [...(node.children ?? [])].reverse()) open.push({ index: child, parent: index });
  }
  const ids = uniqueIds(order.map(({ index }) => nodes[index]?.name ?? ''));
  return { own: order.map((one, k) => ({ ...one, id: ids[k] as string })), marks };
}

function opened(bytes: Uint8Array): { json: GltfJson; bin: Uint8Array; nodes: GltfNode[] } {
  const { json, bin } = openBinary(bytes);
  const faults = structureFaults(json);
  if (faults.length) throw new LevelError(faults);
  return { json, bin, nodes: listOf(json) };
}

const numbers = (value: unknown, count: number): number[] | null =>
  Array.isArray(value) && value.length === count && value.every((v) => typeof v === 'number' && Number.isFinite(v)) ? value : null;

/** Translation, rotation and mean scale of a node, also where it has a matrix. */
function placeOf(node: GltfNode): Pick<Mark, 'translation' | 'rotation' | 'scale'> {
  const m = numbers(node.matrix, 16);
  if (m) {
    const lengths = [0, 4, 8].map((k) => Math.hypot(m[k] as number, m[k + 1] as number, m[k + 2] as number) || 1) as [
      number,
      number,
      number,
    ];
    return {
      translation: m.slice(12, 15) as [number, number, number],
      rotation: quaternionOf([0, 1, 2].map((c) => [0, 1, 2].map((r) => (m[c * 4 + r] as number) / (lengths[c] as number))) as Axes),
      scale: (lengths[0] + lengths[1] + lengths[2]) / 3,
    };
  }
  const [x = 1, y = 1, z = 1] = numbers(node.scale, 3) ?? [];
  return {
    translation: (numbers(node.translation, 3) ?? [0, 0, 0]) as [number, number, number],
    rotation: (numbers(node.rotation, 4) ?? [0, 0, 0, 1]) as [number, number, number, number],
    scale: (x + y + z) / 3,
  };
}

/** Three axes of length 1, square to one another, right-handed: where x, y and z point. */
export type Axes = [number[], number[], number[]];

/** The rotation that takes x, y and z to these axes (Shepperd 1978, with the largest of four taken as the divisor). */
export function quaternionOf([x, y, z]: Axes): [number, number, number, number] {
  const [m00, m10, m20] = x as [number, number, number];
  const [m01, m11, m21] = y as [number, number, number];
  const [m02, m12, m22] = z as [number, number, number];
  const four = [1 + m00 - m11 - m22, 1 - m00 + m11 - m22, 1 - m00 - m11 + m22, 1 + m00 + m11 + m22];
  const most = four.indexOf(Math.max(...four));
  const s = 2 * Math.sqrt(four[most] as number);
  const [xy, xz, yz] = [m10 + m01, m20 + m02, m21 + m12];
  const [wx, wy, wz] = [m21 - m12, m02 - m20, m10 - m01];
  const q = { 0: [s * s, 4 * xy, 4 * xz, 4 * wx], 1: [4 * xy, s * s, 4 * yz, 4 * wy], 2: [4 * xz, 4 * yz, s * s, 4 * wz] }[most] ?? [
    4 * wx,
    4 * wy,
    4 * wz,
    s * s,
  ];
  return q.map((v) => v / (4 * s)) as [number, number, number, number];
}

/** The marks of a level's file. @throws LevelError where it is none, or has too many. */
export function marksOf(bytes: Uint8Array): Mark[] {
  const { json, nodes } = opened(bytes);
  const { own, marks } = walk(json, nodes);
  if (marks.length > MOST_MARKS)
    throw new LevelError([{ code: 'size', pointer: '/nodes', message: `has ${marks.length} marks; at most ${MOST_MARKS} are read` }]);
  const ids = new Map(own.map(({ index, id }) => [index, id]));
  return marks.map(({ index, parent }) => {
    const node = nodes[index] as GltfNode;
    const carries = node.extras?.[MARK];
    return { node: ids.get(parent) ?? null, name: node.name ?? '', ...placeOf(node), carries: isObject(carries) ? carries : null };
  });
}

/**
 * A level's file with these marks, and no others: those that were in it before are taken out, and such as were made by hand under a
 * name that one of them has.
 * @throws LevelError where it is no level; RangeError where a mark hangs on a node that is not there.
 */
export function withMarks(bytes: Uint8Array, marks: readonly Mark[]): Uint8Array {
  const { json, bin, nodes } = opened(bytes);
  const { own, marks: before } = walk(json, nodes);
  const names = new Set(marks.map(({ name }) => name));
  const gone = new Set<number>();
  for (const { index } of before) {
    const node = nodes[index] as GltfNode;
    if (isMark(node) || (isByHand(node) && names.has(node.name ?? ''))) gone.add(index);
    // One that something hangs on stays as a node of the level.
    else delete node.extras?.[MARK];
  }
  const at = new Map(own.map(({ index, id }) => [id, index]));
  const shown = scene(json);
  for (const node of nodes) if (node.children) node.children = node.children.filter((k) => !gone.has(k));
  if (shown?.nodes) shown.nodes = shown.nodes.filter((k) => !gone.has(k));
  // Their places in the list are taken by the new ones: all others keep their numbers.
  const free = [...gone].sort((a, b) => a - b);
  for (const k of free) nodes[k] = {};
  const taken = new Set(nodes.flatMap(({ name }) => (name === undefined ? [] : [name])));
  for (const { node, name, translation, rotation, scale, carries } of marks) {
    const parent = node === null ? null : at.get(node);
    if (parent === undefined) throw new RangeError(`There is no node "${node}".`);
    let own = name;
    for (let n = 2; taken.has(own); n++) own = `${name} ${n}`;
    taken.add(own);
    const index = free.shift() ?? nodes.length;
    nodes[index] = {
      name: own,
      ...(translation.some((v) => v !== 0) && { translation: [...translation] }),
      ...(rotation[3] !== 1 && { rotation: [...rotation] }),
      ...(scale !== 1 && { scale: [scale, scale, scale] }),
      ...(carries && { extras: { [MARK]: carries } }),
    };
    if (parent !== null) ((nodes[parent] as GltfNode).children ??= []).push(index);
    else if (shown) (shown.nodes ??= []).push(index);
  }
  for (const node of nodes) if (node.children?.length === 0) delete node.children;
  if (shown?.nodes?.length === 0) delete shown.nodes;
  return writeBinary({ ...json, nodes }, bin);
}
