declare module 'wawoff2' {
  const woff2: { compress(bytes: Uint8Array): Promise<Uint8Array>; decompress(bytes: Uint8Array): Promise<Uint8Array> };
  export default woff2;
}
