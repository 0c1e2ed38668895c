/** A text shaper for tests whose widths can be worked out by hand: half an em for each character, 1.25 em high; `{name}` is put in as it is. */
import type { TextBlock, TextShaper } from './text.ts';

export const plainBlock = (widthEm: number, text = 'text'): TextBlock => ({
  widthEm,
  heightEm: 1.25,
  capHeightEm: 0.7,
  lines: text ? [{ text, xEm: 0, baselineEm: 1, widthEm }] : [],
  ops: new Uint8Array(),
  coords: new Float64Array(),
  cut: false,
  missing: [],
});

export const plainText: TextShaper = {
  shape: ({ text }) => plainBlock(text.length / 2, text),
  argumentsOf: (message) => [...message.matchAll(/\{(\w+)\}/g)].map((m) => m[1] as string),
  format: (message, _language, values) => ({ text: message.replace(/\{(\w+)\}/g, (_, name) => String(values[name])), fault: null }),
};

/** Every text is 4 em wide, whatever it says. */
export const fixedText: TextShaper = { ...plainText, shape: ({ text }) => plainBlock(4, text), argumentsOf: () => [] };
