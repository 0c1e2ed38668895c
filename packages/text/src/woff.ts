/** WOFF 1.0 (W3C recommendation): the sfnt file it wraps, and the other way. */
import { unzlibSync, zlibSync } from 'fflate';

const SIGNATURE = 0x774f4646;
const HEADER = 44;
const ENTRY = 20;
/** Deflate packs no tighter than this. */
const MOST_RATIO = 1032;
/** A font unpacks to this at most, bytes. */
export const MOST_UNPACKED = 64 * 1024 * 1024;

/** @returns the bytes as they are where they are no WOFF file. @throws RangeError where the file is cut short. */
export function unwrapWoff(bytes: Uint8Array): Uint8Array {
  const from = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.byteLength < HEADER || from.getUint32(0) !== SIGNATURE) return bytes;
  const tables = from.getUint16(12);
  const total = from.getUint32(16);
  if (HEADER + tables * ENTRY > bytes.byteLength) throw new RangeError('The font file is cut short: its directory lies outside it.');
  // What the tables take by themselves, before anything is made that large (WOFF 1.0, section 3, totalSfntSize).
  let needed = 12 + tables * 16;
  for (let i = 0; i < tables; i++) {
    const entry = HEADER + i * ENTRY;
    const [packed, length] = [from.getUint32(entry + 8), from.getUint32(entry + 12)];
    if (length > packed * MOST_RATIO + 64) throw new RangeError(`Table ${i} of ${tables} says that it is larger than it can be.`);
    needed += (length + 3) & ~3;
  }
  if (needed > MOST_UNPACKED || total > MOST_UNPACKED) throw new RangeError(`The font unpacks to more than ${MOST_UNPACKED / 1048576} MB.`);
  if (total < needed) throw new RangeError('The font says that it is smaller than its tables.');
  const out = new Uint8Array(needed);
  const to = new DataView(out.buffer);
  const largestPower = 2 ** Math.floor(Math.log2(tables));
  to.setUint32(0, from.getUint32(4));
  to.setUint16(4, tables);
  to.setUint16(6, largestPower * 16);
  to.setUint16(8, Math.log2(largestPower));
  to.setUint16(10, tables * 16 - largestPower * 16);
  let offset = 12 + tables * 16;
  for (let i = 0; i < tables; i++) {
    const entry = HEADER + i * ENTRY;
    const [at, packed, length] = [from.getUint32(entry + 4), from.getUint32(entry + 8), from.getUint32(entry + 12)];
    if (at + packed > bytes.byteLength || offset + length > needed)
      throw new RangeError(`The font file is cut short: table ${i} of ${tables} lies outside it.`);
    const raw = bytes.subarray(at, at + packed);
    out.set(packed < length ? unzlibSync(raw, { out: new Uint8Array(length) }) : raw, offset);
    const row = 12 + i * 16;
    to.setUint32(row, from.getUint32(entry));
    to.setUint32(row + 4, from.getUint32(entry + 16));
    to.setUint32(row + 8, offset);
    to.setUint32(row + 12, length);
    offset += (length + 3) & ~3;
  }
  return out;
}

/** An sfnt file as WOFF: each table packed, where that makes it smaller (sections 4 and 5). */
export function wrapWoff(sfnt: Uint8Array): Uint8Array {
  const from = new DataView(sfnt.buffer, sfnt.byteOffset, sfnt.byteLength);
  const count = from.getUint16(4);
  const tables = Array.from({ length: count }, (_, i) => {
    const row = 12 + i * 16;
    const [at, length] = [from.getUint32(row + 8), from.getUint32(row + 12)];
    const raw = sfnt.subarray(at, at + length);
    const packed = zlibSync(raw, { level: 9 });
    return { tag: from.getUint32(row), sum: from.getUint32(row + 4), length, bytes: packed.byteLength < length ? packed : raw };
  });
  const upTo4 = (n: number): number => (n + 3) & ~3;
  const out = new Uint8Array(HEADER + count * ENTRY + tables.reduce((sum, { bytes }) => sum + upTo4(bytes.byteLength), 0));
  const to = new DataView(out.buffer);
  to.setUint32(0, SIGNATURE);
  to.setUint32(4, from.getUint32(0));
  to.setUint32(8, out.byteLength);
  to.setUint16(12, count);
  to.setUint32(16, 12 + count * 16 + tables.reduce((sum, { length }) => sum + upTo4(length), 0));
  to.setUint16(20, 1);
  let at = HEADER + count * ENTRY;
  for (const [i, { tag, sum, length, bytes }] of tables.entries()) {
    const entry = HEADER + i * ENTRY;
    for (const [k, value] of [tag, at, bytes.byteLength, length, sum].entries()) to.setUint32(entry + 4 * k, value);
    out.set(bytes, at);
    at += upTo4(bytes.byteLength);
  }
  return out;
}
