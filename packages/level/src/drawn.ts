/**
 * A level as it is drawn: what stands still is put together by material and neighbourhood, so that few pieces are drawn and those
 * outside the picture are left out; and every large piece has coarser forms, with how far they are off, for pictures that must be quick.
 */
import { TriangleTree } from './bvh.ts';
import type { LevelModel } from './model.ts';
import type { Detail, DrawnPiece, LevelPart } from './parts.ts';

/**
 * Gives fewer triangles over the same corners, and how far they are off, metres.
 * @param errorM that far at most. @param keepEdge what has nothing beside it stays where it is: another piece goes on there.
 */
export type Simplify = (
  indices: Uint32Array,
  positions: Float32Array,
  colours: Float32Array | null,
  errorM: number,
  keepEdge: boolean,
) => { indices: Uint32Array; errorM: number };

/** Gives fewer triangles, whatever hangs together with what: for what edges that nothing joins keep from becoming simpler. */
export type Roughen = (indices: Uint32Array, positions: Float32Array, errorM: number) => Uint32Array;

export interface Simplifier {
  simplify: Simplify;
  roughen: Roughen;
}

/** Indices of two bytes reach so far. */
const SHORT_CORNERS = 65535;
/** Larger pieces are rarely outside the picture, and rarely as a whole far enough off to be drawn coarsely; and so are wide ones. */
const MOST_CORNERS = 8192;
const MOST_WIDE_CORNERS = 3072;
const WIDE_M = 30;
/**
 * A part with more triangles is cut into pieces of no more than about these: of ground that reaches from here to the horizon, what is
 * near is drawn whole, what is far coarsely, and what is behind not at all.
 */
const MOST_TRIANGLES = 1000;
/**
 * But for what is as small as a house: that is near or far as a whole, and cut up it could not be drawn coarsely, because the edges
 * between its pieces must stay.
 */
const HOUSE_M = 15;
const MOST_HOUSE_TRIANGLES = 20_000;
/** Triangles hang together where there are fewer corners than this share of their own corners. */
const WOVEN = 0.5;
/** What has fewer triangles is drawn whole. */
const WORTH_TRIANGLES = 300;
/** How far coarser forms may be off, as shares of the piece's radius. */
const ERRORS = [1 / 800, 1 / 150, 1 / 30, 1 / 12];
/** Quadrics tell how far off the planes of the triangles are; points were found up to 1.8 times as far. */
const SURE = 2;
/** A form is kept where it has no more triangles than this share of the one before. */
const FEWER = 0.7;
/** Only what may be off by this share of the radius is roughened: nearer, holes would show. */
const ROUGH = 1 / 40;
/** How far off a form is, is measured at the corners of the whole; between them it may be more. */
const ROUGHLY = 1.25;
/** A form that is farther off than so many times what it may be is none. */
const FAR_OFF = 3;
/** Of all pieces of a level, no more corners are measured: it is read while somebody waits. What is left is drawn whole. */
const MOST_MEASURED = 400_000;

const cornersOf = ({ positions }: LevelPart): number => positions.length / 3;

function sphereOf(positions: Float32Array): Pick<DrawnPiece, 'centre' | 'radiusM'> {
  const [least, greatest] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  for (let i = 0; i < positions.length; i++) {
    const [k, v] = [i % 3, positions[i] as number];
    if (v < (least[k] as number)) least[k] = v;
    if (v > (greatest[k] as number)) greatest[k] = v;
  }
  const centre = [0, 1, 2].map((k) => ((least[k] as number) + (greatest[k] as number)) / 2) as DrawnPiece['centre'];
  let most = 0;
  for (let i = 0; i < positions.length; i += 3) {
    const [x, y, z] = [0, 1, 2].map((k) => (positions[i + k] as number) - (centre[k] as number)) as [number, number, number];
    most = Math.max(most, x * x + y * y + z * z);
  }
  return { centre, radiusM: Math.sqrt(most) };
}

/** Indices in half the bytes, where they reach. */
export const shortIndices = (indices: Uint32Array | Uint16Array, corners: number): Uint16Array | Uint32Array =>
  indices instanceof Uint16Array || corners > SHORT_CORNERS ? indices : Uint16Array.from(indices);

/** How far the corners of triangles are from a coarser form of them, at most; infinite as soon as that is farther than a limit. */
function offBy(positions: Float32Array, whole: ArrayLike<number>, coarse: Uint32Array, limitM: number): number {
  const corners = new Float32Array(coarse.length * 3);
  coarse.forEach((v, i) => {
    for (let k = 0; k < 3; k++) corners[i * 3 + k] = positions[v * 3 + k] as number;
  });
  const tree = TriangleTree.build(corners);
  const asked = new Uint8Array(positions.length / 3);
  let most = 0;
  for (let i = 0; i < whole.length; i++) {
    const v = whole[i] as number;
    if (asked[v]) continue;
    asked[v] = 1;
    const off = tree.distance(positions[v * 3] as number, positions[v * 3 + 1] as number, positions[v * 3 + 2] as number, limitM);
    if (off >= limitM) return Infinity;
    most = Math.max(most, off);
  }
  return most;
}

/** Adds coarser forms to a piece. */
function withDetails(
  piece: Omit<DrawnPiece, 'details' | 'centre' | 'radiusM'>,
  simplifier: Simplifier | null,
  keepEdge: boolean,
  budget: { corners: number },
): DrawnPiece {
  const sphere = sphereOf(piece.positions);
  const whole = piece.indices;
  const details: Detail[] = [{ start: 0, count: whole.length, errorM: 0 }];
  const forms: Uint32Array[] = [];
  const keep = (coarse: Uint32Array, errorM: number): void => {
    details.push({ start: whole.length + forms.reduce((sum, form) => sum + form.length, 0), count: coarse.length, errorM });
    forms.push(coarse);
  };
  if (simplifier && whole.length >= WORTH_TRIANGLES * 3) {
    let from = Uint32Array.from(whole);
    const isWoven = piece.positions.length / 3 < whole.length * WOVEN;
    const isFewer = ({ length }: Uint32Array): boolean => length > 0 && length <= from.length * FEWER;
    const measured = (form: Uint32Array, mostM: number): { form: Uint32Array; offM: number } | null => {
      budget.corners -= piece.positions.length / 3;
      if (budget.corners < 0) return null;
      const offM = ROUGHLY * offBy(piece.positions, whole, form, (FAR_OFF * mostM) / ROUGHLY);
      return offM === Infinity ? null : { form, offM: Math.max(offM, (details.at(-1) as Detail).errorM) };
    };
    const simpler = (mostM: number): { form: Uint32Array; offM: number } | null => {
      const { indices, errorM } = simplifier.simplify(from, piece.positions, piece.colours, mostM, keepEdge);
      if (!isFewer(indices)) return null;
      // What hangs together nowhere may have gone as a whole. Else it is off by that much more than the form that it was made of.
      return isWoven ? { form: indices, offM: SURE * errorM + (details.at(-1) as Detail).errorM } : measured(indices, mostM);
    };
    const rougher = (mostM: number): { form: Uint32Array; offM: number } | null => {
      const form = simplifier.roughen(from, piece.positions, mostM);
      return isFewer(form) ? measured(form, mostM) : null;
    };
    for (const share of ERRORS) {
      if (!isWoven && budget.corners < 0) break;
      const mostM = share * sphere.radiusM;
      const made = simpler(mostM) ?? (share >= ROUGH && !keepEdge ? rougher(mostM) : null);
      if (!made) continue;
      keep(made.form, made.offM);
      from = made.form as typeof from;
    }
  }
  const indices = shortIndices(whole, piece.positions.length / 3);
  if (forms.length === 0) return { ...piece, ...sphere, indices, details };
  const last = details.at(-1) as Detail;
  const all = new (indices.constructor as typeof Uint16Array)(last.start + last.count);
  all.set(indices);
  forms.forEach((form, k) => {
    all.set(form, (details[k + 1] as Detail).start);
  });
  return { ...piece, ...sphere, indices: all, details };
}

function isHouse(part: LevelPart, world: Float64Array): boolean {
  if (part.indices.length > 3 * MOST_HOUSE_TRIANGLES) return false;
  const column = (k: number) => Math.hypot(...world.subarray(part.node * 16 + k * 4, part.node * 16 + k * 4 + 3));
  return sphereOf(part.positions).radiusM * (part.inWorld ? 1 : Math.max(column(0), column(1), column(2))) <= HOUSE_M;
}

/** Some triangles of a part, by their numbers, as a part of its own. */
function cutOut(part: LevelPart, triangles: Uint32Array): LevelPart {
  const corners = new Map<number, number>();
  const indices = new Uint32Array(triangles.length * 3);
  triangles.forEach((triangle, t) => {
    for (let k = 0; k < 3; k++) {
      const from = part.indices[triangle * 3 + k] as number;
      let to = corners.get(from);
      if (to === undefined) corners.set(from, (to = corners.size));
      indices[t * 3 + k] = to;
    }
  });
  const taken = (values: Float32Array | null, size: number): Float32Array | null => {
    if (!values) return null;
    const out = new Float32Array(corners.size * size);
    for (const [from, to] of corners) for (let k = 0; k < size; k++) out[to * size + k] = values[from * size + k] as number;
    return out;
  };
  return {
    ...part,
    positions: taken(part.positions, 3) as Float32Array<ArrayBuffer>,
    colours: taken(part.colours, 4) as LevelPart['colours'],
    uvs: taken(part.uvs, 2) as LevelPart['uvs'],
    indices: shortIndices(indices, corners.size) as LevelPart['indices'],
  };
}

/** A large part in pieces beside one another, halved along the longer side by the middles of its triangles; others as they are. */
function cutUp(part: LevelPart): LevelPart[] {
  const count = Math.floor(part.indices.length / 3);
  if (count <= MOST_TRIANGLES) return [part];
  const middles = [0, 1, 2].map((axis) =>
    Float32Array.from({ length: count }, (_, t) => {
      let sum = 0;
      for (let k = 0; k < 3; k++) sum += part.positions[(part.indices[t * 3 + k] as number) * 3 + axis] as number;
      return sum / 3;
    }),
  ) as [Float32Array, Float32Array, Float32Array];
  const halve = (triangles: Uint32Array): Uint32Array[] => {
    if (triangles.length <= MOST_TRIANGLES) return [triangles];
    const spread = middles.map((along) => {
      let [least, most] = [Infinity, -Infinity];
      for (const t of triangles) [least, most] = [Math.min(least, along[t] as number), Math.max(most, along[t] as number)];
      return most - least;
    });
    const along = middles[spread.indexOf(Math.max(...spread))] as Float32Array;
    const sorted = triangles.sort((a, b) => (along[a] as number) - (along[b] as number));
    const half = sorted.length >> 1;
    return [...halve(sorted.slice(0, half)), ...halve(sorted.slice(half))];
  };
  return halve(Uint32Array.from({ length: count }, (_, t) => t)).map((triangles) => cutOut(part, triangles));
}

/** Puts parts that stand still together, in the world. */
function together(parts: readonly LevelPart[], world: Float64Array): Omit<DrawnPiece, 'details' | 'centre' | 'radiusM'> {
  const first = parts[0] as LevelPart;
  const corners = parts.reduce((sum, part) => sum + cornersOf(part), 0);
  const positions = new Float32Array(corners * 3);
  const colours = first.colours && new Float32Array(corners * 4);
  const uvs = first.uvs && new Float32Array(corners * 2);
  const indices = new Uint32Array(parts.reduce((sum, part) => sum + part.indices.length, 0));
  let [corner, index] = [0, 0];
  for (const part of parts) {
    const m = (k: number) => world[part.node * 16 + k] as number;
    const count = cornersOf(part);
    if (part.inWorld) positions.set(part.positions, corner * 3);
    else
      for (let v = 0; v < count; v++) {
        const [x, y, z] = [0, 1, 2].map((k) => part.positions[v * 3 + k] as number) as [number, number, number];
        for (let k = 0; k < 3; k++) positions[(corner + v) * 3 + k] = m(k) * x + m(4 + k) * y + m(8 + k) * z + m(12 + k);
      }
    if (colours && part.colours) colours.set(part.colours, corner * 4);
    if (uvs && part.uvs) uvs.set(part.uvs, corner * 2);
    const det = part.inWorld
      ? 1
      : m(0) * (m(5) * m(10) - m(6) * m(9)) - m(4) * (m(1) * m(10) - m(2) * m(9)) + m(8) * (m(1) * m(6) - m(2) * m(5));
    // What its node turns inside out runs the other way round in the world.
    const [b, c] = det < 0 ? [2, 1] : [1, 2];
    for (let i = 0; i + 2 < part.indices.length; i += 3) {
      indices[index + i] = corner + (part.indices[i] as number);
      indices[index + i + 1] = corner + (part.indices[i + b] as number);
      indices[index + i + 2] = corner + (part.indices[i + c] as number);
    }
    index += part.indices.length - (part.indices.length % 3);
    corner += count;
  }
  return { node: -1, material: first.material, positions, colours, uvs, indices: indices.subarray(0, index) };
}

/** Halves a list of parts about the middle of its longer side until each half is small enough for one piece. */
function neighbours(parts: [LevelPart, Float64Array][]): LevelPart[][] {
  const corners = parts.reduce((sum, [part]) => sum + cornersOf(part), 0);
  const whole = [parts.map(([part]) => part)];
  if (parts.length === 1 || corners <= MOST_WIDE_CORNERS) return whole;
  const spread = [0, 1, 2].map((k) => {
    let [least, most] = [Infinity, -Infinity];
    for (const [, at] of parts) [least, most] = [Math.min(least, at[k] as number), Math.max(most, at[k] as number)];
    return most - least;
  });
  if (corners <= MOST_CORNERS && Math.hypot(...spread) <= WIDE_M) return whole;
  const axis = spread.indexOf(Math.max(...spread));
  parts.sort((a, b) => (a[1][axis] as number) - (b[1][axis] as number));
  const half = parts.length >> 1;
  return [...neighbours(parts.slice(0, half)), ...neighbours(parts.slice(half))];
}

/** The pieces that a level is drawn in. What moves, and what is seen through, is drawn part by part. */
export function drawnPieces(model: LevelModel, simplifier: Simplifier | null = null): DrawnPiece[] {
  const { parts, materials } = model.parts;
  const budget = { corners: MOST_MEASURED };
  const out: DrawnPiece[] = [];
  const groups = new Map<string, [LevelPart, Float64Array][]>();
  for (const part of parts) {
    const moves = !part.inWorld && model.nodeMoves[part.node] === 1;
    const blends = materials[part.material]?.alpha === 'blend';
    const pieces = isHouse(part, model.worldMatrices) ? [part] : cutUp(part);
    // Triangles that hang together leave no gap between one piece and the next; of leaves of grass each would stay.
    const keepEdge = pieces.length > 1 && cornersOf(part) < part.indices.length * WOVEN;
    if (pieces.length > 1 && !moves && !blends) {
      for (const piece of pieces) out.push(withDetails(together([piece], model.worldMatrices), simplifier, keepEdge, budget));
      continue;
    }
    if (moves || blends) {
      for (const { positions, colours, uvs, indices, material } of pieces)
        out.push(
          withDetails({ node: part.inWorld ? -1 : part.node, positions, colours, uvs, indices, material }, simplifier, keepEdge, budget),
        );
      continue;
    }
    const key = `${part.material} ${part.colours !== null} ${part.uvs !== null}`;
    const sphere = sphereOf(part.positions);
    const m = (k: number) => model.worldMatrices[part.node * 16 + k] as number;
    const at = part.inWorld
      ? Float64Array.from(sphere.centre)
      : Float64Array.from(
          [0, 1, 2],
          (k) => m(k) * sphere.centre[0] + m(4 + k) * sphere.centre[1] + m(8 + k) * sphere.centre[2] + m(12 + k),
        );
    const group = groups.get(key);
    if (group) group.push([part, at]);
    else groups.set(key, [[part, at]]);
  }
  for (const group of groups.values())
    for (const list of neighbours(group)) out.push(withDetails(together(list, model.worldMatrices), simplifier, false, budget));
  return out;
}
