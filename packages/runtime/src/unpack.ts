/** Tables from a bundle. */
import type { Compiled, Level } from '@foreshore/core';
import type { Document } from '@foreshore/document/types';
import type { Bundle, BundleRows, Packed } from './bundle.ts';

const MAKE = { f64: Float64Array, i32: Int32Array, u8: Uint8Array, i8: Int8Array };

const isPacked = (value: unknown): value is Packed => typeof value === 'object' && value !== null && 't' in value && 'v' in value;

function unpacked(value: unknown): unknown {
  if (isPacked(value)) {
    const table = new MAKE[value.t](value.v.length);
    value.v.forEach((number, k) => {
      table[k] = number ?? Number.NaN;
    });
    return table;
  }
  if (Array.isArray(value)) return value.map(unpacked);
  return value;
}

/** @param level of the game, or the bundle's own. */
export function unpack(rows: BundleRows, { document }: Bundle, level: Level | null): Compiled {
  const tables = Object.fromEntries(Object.entries(rows).map(([name, value]) => [name, name === 'elements' ? value : unpacked(value)]));
  const compiled = {
    ...tables,
    document: { elements: {}, anchors: {}, routes: {}, ...document } as unknown as Document,
    level,
  } as unknown as Compiled;
  // Zones are two tables under one name, and the feeds of parameters a set.
  const zones = rows.zones as { kind: Packed; size: Packed };
  const parameters = rows.parameters as (null | { feeds: string[] })[];
  return {
    ...compiled,
    zones: { kind: unpacked(zones.kind) as Uint8Array, size: unpacked(zones.size) as Float64Array },
    parameters: parameters.map((one) => one && ({ ...one, feeds: new Set(one.feeds) } as never)),
  };
}
