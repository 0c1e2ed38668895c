/** Texts kept in a room: shrunk to a floor, cut, or shown and flagged; and in which language. Half an em a character, 1.25 em high. */
import { type Document, type Label, makeDocument, makeText, onGlass } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange.ts';
import { compile } from '../compile.ts';
import { plainBlock, plainText } from '../sample.ts';
import { directionOf, messageFor, type TextShaper } from '../text.ts';

/** Breaks at spaces, as many words a line as fit. */
const wrapping: TextShaper = {
  ...plainText,
  shape: ({ text, wrapEm, cutAfter }) => {
    const lines: string[] = [];
    for (const word of text.split(' ')) {
      const last = lines.at(-1);
      if (last !== undefined && wrapEm !== null && (last.length + 1 + word.length) / 2 <= wrapEm)
        lines[lines.length - 1] = `${last} ${word}`;
      else lines.push(word);
    }
    const kept =
      cutAfter === undefined
        ? lines
        : lines.slice(0, cutAfter).map((line) => (wrapEm === null ? line : line.slice(0, Math.floor(wrapEm * 2))));
    return {
      ...plainBlock(Math.max(...kept.map((line) => line.length / 2))),
      heightEm: kept.length * 1.25,
      lines: kept.map((line, i) => ({ text: line, xEm: 0, baselineEm: i, widthEm: line.length / 2 })),
      cut: kept.length < lines.length,
    };
  },
};
function arranged(text: string, room: NonNullable<Label['room']>, emPx = 20) {
  const label = makeText(onGlass([0, 0]), text, 'a0');
  const document: Document = {
    ...makeDocument('Low Water'),
    elements: { words: { ...label, size: { rule: 'screen', emPx, hideBelowPx: 0, leavePx: 0 }, room } },
  };
  const a = arrange(compile(document, null), document.viewers.desk as never, wrapping);
  return { em: a.ems[0] as number, width: a.boxes[2] as number, overflow: a.overflow[0] as number, lines: a.blocks[0]?.lines.length };
}
const room = (edit: Partial<NonNullable<Label['room']>>): NonNullable<Label['room']> => ({
  widthPx: 100,
  lines: 1,
  over: 'show',
  leastShare: 0.5,
  ...edit,
});

describe('a text in a room', () => {
  it('has the width of its room, whatever it says', () => {
    for (const text of ['a', 'stake', 'the water returns over the causeway']) expect(arranged(text, room({})).width).toBe(100);
  });
  it('as it is where it fits', () => {
    // 10 characters of 10 px.
    expect(arranged('lamp is on', room({ over: 'shrink' }))).toEqual({ em: 20, width: 100, overflow: 0, lines: 1 });
  });
  it('shrinks just so far as it must', () => {
    // 16 characters of half an em in 100 px: 12.5 px.
    const { em, overflow } = arranged('twelve+sixteen!!', room({ over: 'shrink' }));
    expect(em).toBeLessThanOrEqual(12.5);
    expect(em).toBeGreaterThan(12.4);
    expect(overflow).toBe(0);
  });
  it('stops at its floor, and is flagged with what does not fit', () => {
    // 30 characters at half of 20 px: 150 px, 50 too many.
    const { em, overflow } = arranged('x'.repeat(30), room({ over: 'shrink' }));
    expect(em).toBe(10);
    expect(overflow).toBeCloseTo(50, 9);
  });
  it('shown, is flagged: too wide by a word, too high by lines', () => {
    expect(arranged('x'.repeat(12), room({})).overflow).toBeCloseTo(20, 9);
    // Three lines of 25 px in a room of one.
    expect(arranged('tide tide tide tide tide', room({})).overflow).toBeCloseTo(50, 9);
    expect(arranged('tide tide tide tide tide', room({ lines: null })).overflow).toBe(0);
  });
  it('cut, keeps its lines', () => {
    const { lines, overflow } = arranged('tide tide tide tide tide', room({ over: 'cut', lines: 2 }));
    expect([lines, overflow]).toEqual([2, 0]);
  });
  it('never gets larger than it is, never smaller than its floor, and is flagged just where it does not fit', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 14 }), { minLength: 1, maxLength: 8 }),
        fc.integer({ min: 20, max: 400 }),
        fc.integer({ min: 1, max: 4 }),
        fc.double({ min: 0.2, max: 1, noNaN: true }),
        (words, widthPx, lines, leastShare) => {
          const text = words.map((n) => 'x'.repeat(n)).join(' ');
          const made = arranged(text, { widthPx, lines, over: 'shrink', leastShare });
          expect(made.em).toBeLessThanOrEqual(20);
          expect(made.em).toBeGreaterThanOrEqual(20 * leastShare - 1e-9);
          const longest = Math.max(...words) / 2;
          const fits = longest * made.em <= widthPx + 0.01 && (made.lines ?? 0) <= lines;
          expect(made.overflow > 0).toBe(!fits);
          // Where it was shrunk and fits, a little more would not have.
          if (made.overflow === 0 && made.em < 20 - 1e-9)
            expect(arranged(text, { widthPx, lines, over: 'show', leastShare }, made.em * 1.02).overflow > 0 || made.em * 1.02 > 20).toBe(
              true,
            );
        },
      ),
    );
  });
});

describe('the language of a text', () => {
  it('is its translation, that of its language without the region, or what was written', () => {
    const label = { text: 'Tide', translations: { de: 'Tide (de)', 'pt-BR': 'Mare' } };
    const of = (one: Pick<Label, 'text' | 'translations'>, language: string) => {
      const { message, language: is } = messageFor(one, language, 'en');
      return `${message} in ${is}`;
    };
    expect(of(label, 'de')).toBe('Tide (de) in de');
    expect(of(label, 'de-AT')).toBe('Tide (de) in de-AT');
    expect(of(label, 'pt-BR')).toBe('Mare in pt-BR');
    // What is not translated is in the language it was written in, and runs as that does.
    expect(of(label, 'ar')).toBe('Tide in en');
    expect(of({ text: 'Tide' }, 'de')).toBe('Tide in en');
  });
  it.each([
    ['en', 'ltr'],
    ['ar', 'rtl'],
    ['he-IL', 'rtl'],
    ['fa', 'rtl'],
    ['ur', 'rtl'],
    ['az-Arab', 'rtl'],
    ['az', 'ltr'],
    ['ja', 'ltr'],
    ['not a tag', 'ltr'],
  ])('%s is written %s', (tag, direction) => {
    expect(directionOf(tag)).toBe(direction);
  });
  it('changes the words and the boxes of the glass', () => {
    const label = { ...makeText(onGlass([0, 0]), 'Lamp', 'a0'), translations: { de: 'Leuchtfeuer' } };
    const document: Document = { ...makeDocument('Low Water'), languages: ['de'], elements: { words: label } };
    const widthIn = (language?: string) =>
      arrange(compile(document, null), document.viewers.desk as never, plainText, undefined, language).boxes[2];
    expect(widthIn()).toBe(4 * 14);
    expect(widthIn('de')).toBe(11 * 14);
  });
});
