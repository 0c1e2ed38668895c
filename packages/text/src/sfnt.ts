/** Where a table of an sfnt file begins. @throws RangeError where there is none. */
export function tableOf(sfnt: Uint8Array, tag: string): number {
  const view = new DataView(sfnt.buffer, sfnt.byteOffset, sfnt.byteLength);
  for (let i = 0; i < view.getUint16(4); i++) {
    const row = 12 + i * 16;
    if (String.fromCharCode(...sfnt.subarray(row, row + 4)) === tag) return view.getUint32(row + 8);
  }
  throw new RangeError(`The font file has no "${tag}" table.`);
}
