/** Fonts with only the letters that are used, in Node: HarfBuzz takes the others out, with everything about them. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { unwrapWoff, wrapWoff } from './woff.ts';

/** What is used of the library (harfbuzzjs, hb-subset). */
interface Exports {
  memory: WebAssembly.Memory;
  malloc(bytes: number): number;
  free(at: number): void;
  hb_blob_create(data: number, length: number, mode: number, user: number, destroy: number): number;
  hb_blob_destroy(blob: number): void;
  hb_blob_get_data(blob: number, length: number): number;
  hb_blob_get_length(blob: number): number;
  hb_face_create(blob: number, index: number): number;
  hb_face_destroy(face: number): void;
  hb_face_reference_blob(face: number): number;
  hb_set_add(set: number, value: number): void;
  hb_set_clear(set: number): void;
  hb_set_invert(set: number): void;
  hb_subset_input_create_or_fail(): number;
  hb_subset_input_destroy(input: number): void;
  hb_subset_input_unicode_set(input: number): number;
  hb_subset_input_set(input: number, which: number): number;
  hb_subset_input_set_flags(input: number, flags: number): void;
  hb_subset_or_fail(face: number, input: number): number;
}
/** hb_memory_mode_t: whoever made the memory keeps it. */
const WRITABLE = 2;
/** hb_subset_flags_t: without instructions for coarse pixels, which nobody here follows; what has no letter looks so as before. */
const NO_HINTING = 1;
const NOTDEF_OUTLINE = 0x40;
/** hb_subset_sets_t: the features of layout that are kept. */
const FEATURES = 6;

let exports: Exports | null = null;
function library(): Exports {
  if (exports) return exports;
  const file = createRequire(import.meta.url).resolve('harfbuzzjs/dist/harfbuzz-subset.wasm');
  const instance = new WebAssembly.Instance(new WebAssembly.Module(readFileSync(file)));
  const made = instance.exports as unknown as Exports & { _initialize?(): void };
  made._initialize?.();
  exports = made;
  return made;
}

/**
 * The font with the letters of a text and everything they are shaped by; all features of layout stay. As WOFF where it came so.
 * @throws RangeError where it is no font, or cannot be cut.
 */
export function subsetFont(font: Uint8Array, letters: string): Uint8Array {
  const hb = library();
  const sfnt = unwrapWoff(font);
  const data = hb.malloc(sfnt.byteLength);
  new Uint8Array(hb.memory.buffer).set(sfnt, data);
  const blob = hb.hb_blob_create(data, sfnt.byteLength, WRITABLE, 0, 0);
  const face = hb.hb_face_create(blob, 0);
  hb.hb_blob_destroy(blob);
  const input = hb.hb_subset_input_create_or_fail();
  try {
    const wanted = hb.hb_subset_input_unicode_set(input);
    for (const letter of new Set(letters)) hb.hb_set_add(wanted, letter.codePointAt(0) as number);
    const features = hb.hb_subset_input_set(input, FEATURES);
    hb.hb_set_clear(features);
    hb.hb_set_invert(features);
    hb.hb_subset_input_set_flags(input, NO_HINTING | NOTDEF_OUTLINE);
    const cut = hb.hb_subset_or_fail(face, input);
    if (cut === 0) throw new RangeError('The font cannot be cut to the letters that are used.');
    const out = hb.hb_face_reference_blob(cut);
    const at = hb.hb_blob_get_data(out, 0);
    const bytes = new Uint8Array(hb.memory.buffer).slice(at, at + hb.hb_blob_get_length(out));
    hb.hb_blob_destroy(out);
    hb.hb_face_destroy(cut);
    if (bytes.byteLength === 0) throw new RangeError('This is no font that can be cut to the letters that are used.');
    return sfnt === font ? bytes : wrapWoff(bytes);
  } finally {
    hb.hb_subset_input_destroy(input);
    hb.hb_face_destroy(face);
    hb.free(data);
  }
}

const range = (from: number, to: number): string => String.fromCodePoint(...Array.from({ length: to - from + 1 }, (_, k) => from + k));
/** Whatever the texts: letters and signs of ASCII and of Latin 1, dashes, quotes, the ellipsis, minus and times. */
const ALWAYS = `${range(0x20, 0x7e)}${range(0xa0, 0xff)}\u2009\u2010\u2011\u2012\u2013\u2014\u2018\u2019\u201a\u201c\u201d\u201e\u2026\u202f\u2039\u203a\u200e\u200f\u2212\u00d7`;

/** What numbers, shares, days and times are written with in a language. */
function signsOf(tag: string): string {
  const numbers = [-1234567.89, 0.5].flatMap((n) =>
    (['decimal', 'percent'] as const).map((style) => new Intl.NumberFormat(tag, { style }).format(n)),
  );
  const digits = new Intl.NumberFormat(tag, { useGrouping: false }).format(9876543210);
  const days = Array.from({ length: 12 }, (_, month) => new Date(Date.UTC(2026, month, 1 + 3 * month, month * 2, 5)));
  const dates = days.flatMap((day) =>
    (['full', 'long', 'medium', 'short'] as const).map((style) =>
      new Intl.DateTimeFormat(tag, { dateStyle: style, timeStyle: style, timeZone: 'UTC' }).format(day),
    ),
  );
  return [...numbers, digits, ...dates].join('');
}

/** All letters that texts may be written with. @param texts every text that is known. @param languages whose numbers and dates they have. */
export const lettersUsed = (texts: Iterable<string>, languages: readonly string[]): string =>
  [...new Set([ALWAYS, ...languages.map(signsOf), ...texts].join(''))].sort().join('');
