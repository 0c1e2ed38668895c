/** A drawing without anything that could run or reach out; other pictures as they are. The server refuses what is left. */
import DOMPurify from 'dompurify';

export function harmless(bytes: Uint8Array): Uint8Array {
  const text = new TextDecoder().decode(bytes);
  if (!/^\s*\uFEFF?(<\?xml|<!--|<!DOCTYPE|<svg)/i.test(text)) return bytes;
  const clean = DOMPurify.sanitize(text.replace(/<\?xml[^>]*\?>|<!DOCTYPE[^>]*>/gi, ''), {
    USE_PROFILES: { svg: true, svgFilters: true },
    FORBID_TAGS: ['foreignObject', 'a', 'script', 'use'],
    ALLOW_UNKNOWN_PROTOCOLS: false,
  });
  return new TextEncoder().encode(clean);
}
