/** Texts for the runtime: messages from the bundle, letters by the host's own measure or by a shaper that is handed in. */
import type { TextBlock, TextRequest, TextShaper } from '@foreshore/core';
import { namesIn, putTogether } from '@foreshore/text/put-together';
import type { MessagePart } from './bundle.ts';

/** What shapes letters: the add-on that shapes as the bench does, or `measuredBy`. */
export type Letters = Pick<TextShaper, 'shape'> & Partial<Pick<TextShaper, 'fonts'>>;

/** A context of a 2D canvas, of the page or of a worker: its measures are all that is used. */
export interface Measure {
  font: string;
  measureText(text: string): {
    width: number;
    actualBoundingBoxAscent: number;
    fontBoundingBoxAscent: number;
    fontBoundingBoxDescent: number;
  };
}

const AT_PX = 100;
const NO_OUTLINE = { ops: new Uint8Array(0), coords: new Float64Array(0), missing: [] };

/**
 * Letters as the host's own canvas measures them: no outlines, but lines with their places, for a painter that fills texts.
 * Lines break at spaces. @param family of the font, as CSS names it.
 */
export function measuredBy(context: Measure, family: string): Letters {
  const known = new Map<string, TextBlock>();
  const shape = ({ text, weight, align, lineHeight, wrapEm, direction = 'ltr', cutAfter, font }: TextRequest): TextBlock => {
    const css = (px: number) => `${weight} ${px}px ${font ? `"${font}", ` : ''}${family}`;
    context.font = css(AT_PX);
    const wide = (line: string) => context.measureText(line).width / AT_PX;
    let lines = text.split(/\r\n|\r|\n/).flatMap((paragraph) => {
      if (wrapEm === null || wide(paragraph) <= wrapEm) return [paragraph];
      const broken: string[] = [];
      let line = '';
      for (const word of paragraph.split(' ')) {
        const longer = line ? `${line} ${word}` : word;
        if (line && wide(longer) > wrapEm) {
          broken.push(line);
          line = word;
        } else line = longer;
      }
      return [...broken, line];
    });
    let cut = false;
    if (cutAfter !== undefined)
      lines = lines.slice(0, cutAfter).map((line, i) => {
        if (!(i === cutAfter - 1 && lines.length > cutAfter) && (wrapEm === null || wide(line) <= wrapEm)) return line;
        cut = true;
        let letters = [...line];
        while (letters.length > 0 && wrapEm !== null && wide(`${letters.join('').trimEnd()}\u2026`) > wrapEm)
          letters = letters.slice(0, -1);
        return `${letters.join('').trimEnd()}\u2026`;
      });
    const widths = lines.map(wide);
    const widthEm = Math.max(0, ...widths);
    const { actualBoundingBoxAscent: cap, fontBoundingBoxAscent: up, fontBoundingBoxDescent: down } = context.measureText('H');
    const baseline = (lineHeight - (up + down) / AT_PX) / 2 + up / AT_PX;
    const toLeft = direction === 'ltr' ? 'start' : 'end';
    return {
      ...NO_OUTLINE,
      widthEm,
      heightEm: lines.length * lineHeight,
      capHeightEm: cap / AT_PX,
      cut,
      font: css(1),
      lines: lines.map((line, i) => {
        const spare = widthEm - (widths[i] as number);
        return {
          text: line,
          xEm: align === 'centre' ? spare / 2 : align === toLeft ? 0 : spare,
          baselineEm: i * lineHeight + baseline,
          widthEm: widths[i] as number,
        };
      }),
    };
  };
  return {
    shape: (request) => {
      const key = JSON.stringify(request);
      let block = known.get(key);
      if (!block) {
        // Texts with running values never end.
        if (known.size > 2000) known.clear();
        known.set(key, (block = shape(request)));
      }
      return block;
    },
  };
}

/** Messages of a bundle over letters of a host. A message that cannot be put together is shown as it stands. */
export function textOf(messages: Readonly<Record<string, readonly MessagePart[]>>, letters: Letters): TextShaper {
  return {
    get fonts() {
      return letters.fonts ?? 0;
    },
    shape: (request) => letters.shape(request),
    argumentsOf: (message) => [...namesIn(messages[message] ?? [])],
    format: (message, language, values) => {
      try {
        return { text: putTogether(messages[message] ?? [message], language, values), fault: null };
      } catch {
        return { text: message, fault: null };
      }
    },
  };
}
