/** A drawing without anything that could run or reach out; other pictures as they are. The server refuses what is left. */
import DOMPurify from 'dompurify';

/** Larger drawings are sent as they are; the server refuses them. */
const MOST_BYTES = 8 * 1024 * 1024;

export function sanitizeSvg(bytes: Uint8Array): Uint8Array {
  const begins = new TextDecoder().decode(bytes.subarray(0, 64));
  if (!/^\uFEFF?\s*</.test(begins) || bytes.byteLength > MOST_BYTES) return bytes;
  const text = new TextDecoder().decode(bytes);
  // Declarations, comments and document types before the drawing are left out.
  const from = text.search(/<svg[\s>]/i);
  if (from < 0) return bytes;
  const clean = DOMPurify.sanitize(text.slice(from), {
    USE_PROFILES: { svg: true, svgFilters: true },
    FORBID_TAGS: ['foreignObject', 'a', 'script', 'use'],
    ALLOW_UNKNOWN_PROTOCOLS: false,
  });
  return new TextEncoder().encode(clean);
}
