/** How a prepared level begins: a magic number, a version, the length of the head and that of everything (32 bits each, little-endian). */

/** Raised whenever what is kept changes: what was prepared by another version is prepared anew. */
export const PREPARED_VERSION = 5;
export const MAGIC = 0x4c53_4f46;
export const PREFIX = 16;

/** Whether these bytes are a whole level as this version prepares it. */
export function isPrepared(bytes: ArrayBuffer): boolean {
  const [magic, version, , total] = bytes.byteLength >= PREFIX ? new Uint32Array(bytes, 0, PREFIX / 4) : [];
  return magic === MAGIC && version === PREPARED_VERSION && total === bytes.byteLength;
}
