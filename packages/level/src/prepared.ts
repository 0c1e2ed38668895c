/**
 * A level as it is kept beside its file: its tables, its trees of triangles and the pieces it is drawn in, so that opening it reads
 * nothing and sorts nothing. The corners of the trees are not kept: they are nine numbers for each triangle, as much as three quarters of
 * the rest, and few of them are ever asked for.
 *
 * The bytes: a magic number, a version, the length of the head in bytes and the length of everything (four little-endian integers of
 * 32 bits); the head, JSON in UTF-8, in which every table is `{"table": [type, offset, length]}`; then the tables, each at a multiple of 8.
 */
import { finished } from '@foreshore/core';
import { shortIndices } from './drawn.ts';
import { levelError } from './faults.ts';
import { LevelModel, type LevelTrees } from './model.ts';
import type { DrawnPiece, LevelParts } from './parts.ts';
import { isPrepared, MAGIC, PREFIX, PREPARED_VERSION } from './prepared-head.ts';

export { PREPARED_VERSION } from './prepared-head.ts';

const TYPES = { Float32Array, Float64Array, Int32Array, Uint8Array, Uint16Array, Uint32Array } as const;
type Table = InstanceType<(typeof TYPES)[keyof typeof TYPES]>;
type TypeName = keyof typeof TYPES;

interface Prepared {
  parts: Omit<LevelParts, 'matrices'> & { matrices: [number, Float64Array][] };
  trees: LevelTrees;
  drawn: DrawnPiece[];
}

const upTo8 = (n: number): number => Math.ceil(n / 8) * 8;

export function prepareLevel({ parts, trees: { still, movers } }: LevelModel, drawn: DrawnPiece[]): Uint8Array {
  const tables: { table: Table; offset: number }[] = [];
  const known = new Map<Table, number>();
  let length = 0;
  const place = (table: Table): number => {
    const before = known.get(table);
    if (before !== undefined) return before;
    const offset = length;
    known.set(table, offset);
    tables.push({ table, offset });
    length = upTo8(length + table.byteLength);
    return offset;
  };
  const plain = ({ source, link, bounds }: LevelTrees['still']): LevelTrees['still'] => ({ source, link, bounds });
  const prepared: Prepared = {
    // Nothing reads the normals once a level is prepared: light is of the faces.
    parts: {
      ...parts,
      parts: parts.parts.map((part) => ({ ...part, normals: null, indices: shortIndices(part.indices, part.positions.length / 3) })),
      matrices: [...parts.matrices],
    },
    trees: { still: plain(still), movers: movers.map(plain) },
    drawn,
  };
  const text = JSON.stringify(prepared, (_key, value: unknown) => {
    if (!ArrayBuffer.isView(value)) return value;
    const table = value as Table;
    const type = (Object.keys(TYPES) as TypeName[]).find((name) => table instanceof TYPES[name]);
    if (!type) throw new TypeError('a table of a type that is not kept');
    return { table: [type, place(table), table.length] };
  });
  const head = new TextEncoder().encode(text);
  const start = upTo8(PREFIX + head.length);
  const out = new Uint8Array(start + length);
  new Uint32Array(out.buffer, 0, 4).set([MAGIC, PREPARED_VERSION, head.length, out.length]);
  out.set(head, PREFIX);
  for (const { table, offset } of tables) out.set(new Uint8Array(table.buffer, table.byteOffset, table.byteLength), start + offset);
  return out;
}

/** Puts the tables in their places in what was read of the head. */
function withTables(value: unknown, bytes: ArrayBuffer, start: number): unknown {
  if (typeof value !== 'object' || value === null) return value;
  const inner = value as Record<string, unknown>;
  if (Array.isArray(inner.table)) {
    const [type, offset, length] = inner.table as [TypeName, number, number];
    return new TYPES[type](bytes, start + offset, length);
  }
  for (const key in inner) {
    const one = inner[key];
    if (typeof one === 'object' && one !== null) inner[key] = withTables(one, bytes, start);
  }
  return inner;
}

/** What `prepareLevel` gave, with its tables where they lie. @throws LevelError where it is something else, or not whole. */
export const openPrepared = (bytes: ArrayBuffer): LevelModel => finished(openPreparedInParts(bytes));

/** The same in parts, for who must not be silent for long. */
export function* openPreparedInParts(bytes: ArrayBuffer): Generator<void, LevelModel> {
  if (!isPrepared(bytes))
    throw levelError('prepared', 'what was kept of the level is not whole; open the project again, and it is made anew');
  const headLength = new Uint32Array(bytes, 0, PREFIX / 4)[2] as number;
  const start = upTo8(PREFIX + headLength);
  const { parts, trees, drawn } = withTables(
    JSON.parse(new TextDecoder().decode(new Uint8Array(bytes, PREFIX, headLength))),
    bytes,
    start,
  ) as Prepared;
  yield;
  const model = new LevelModel({ ...parts, matrices: new Map(parts.matrices) }, trees);
  model.drawn = drawn;
  return model;
}
