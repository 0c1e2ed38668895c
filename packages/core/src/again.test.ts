/** What is taken over from before a change, against all of it made anew from a copy in which nothing is the same object. */
import { readFileSync } from 'node:fs';
import { type Document, type Element, readDocument } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { takenFrom } from './again.ts';
import { type Arranged, arrange, Extent } from './arrange.ts';
import { compile } from './compile.ts';
import { fixedText as text } from './sample.ts';
import { Setting } from './settings.ts';

const demo: Document = { ...readDocument(readFileSync(new URL('../../../demo/low-water.json', import.meta.url), 'utf8')), level: null };
const ids = Object.keys(demo.elements);

const put = (document: Document, id: string, element: Element): Document => ({
  ...document,
  elements: { ...document.elements, [id]: element },
});

/** Changes of one element, or of what is about it. */
const CHANGES: Record<string, (document: Document, id: string) => Document> = {
  moved: (document, id) => {
    const element = document.elements[id] as Element;
    return put(document, id, { ...element, place: { ...element.place, offsetPx: [element.place.offsetPx[0] + 3, 7] } });
  },
  larger: (document, id) =>
    put(document, id, { ...(document.elements[id] as Element), size: { rule: 'screen', emPx: 31, hideBelowPx: 2, leavePx: 1 } } as Element),
  renamed: (document, id) => {
    const element = document.elements[id] as Element;
    return put(document, id, element.kind === 'label' ? { ...element, text: `${element.text} and more` } : { ...element, name: 'Other' });
  },
  gone: (document, id) => {
    const { [id]: _, ...elements } = document.elements;
    return { ...document, elements };
  },
  doubled: (document, id) => put(document, `${id}-too`, { ...(document.elements[id] as Element), order: 'a0' }),
  backToFront: (document, id) => put(document, id, { ...(document.elements[id] as Element), order: 'zz' }),
  farther: (document) => ({ ...document, glass: { ...document.glass, widthPx: document.glass.widthPx * 2 } }),
};

/** All that an arrangement says, row by row, without how its tables are kept. */
function said(a: Arranged) {
  const { count, floatingCount, anchoredCount, ids: rows } = a.compiled;
  return {
    rows,
    settings: Array.from({ length: anchoredCount }, (_, i) => {
      const at = a.settingsOf[i] as number;
      return [...a.settings.subarray(at, at + Setting.Stride)];
    }),
    texts: a.blocks.map((block) => block && [block.widthEm, block.heightEm, ...block.lines.map((line) => line.text)]),
    extents: [...a.extents.subarray(0, floatingCount * Extent.Stride)],
    boxes: [...a.boxes],
    ems: [...a.ems],
    fits: [...a.fits],
    overflow: [...a.overflow],
    pins: [...a.pins],
    natural: [...a.tree.natural],
    wordings: a.wordings,
    users: a.users,
    count,
    dirty: a.dirty.size,
  };
}

describe('what was not changed', () => {
  it('compiles and is arranged as if all were made anew (property)', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom(...Object.keys(CHANGES)), fc.constantFrom(...ids)), { minLength: 1, maxLength: 4 }),
        fc.constantFrom(...Object.keys(demo.viewers)),
        (changes, viewer) => {
          let document = demo;
          let before: Arranged | null = null;
          for (const [change, id] of changes) {
            const one = document.viewers[viewer] as NonNullable<Document['viewers'][string]>;
            before = arrange(compile(document, null), one, text, undefined, undefined, undefined, undefined, before && takenFrom(before));
            if (document.elements[id]) document = (CHANGES[change] as (typeof CHANGES)[string])(document, id);
          }
          const one = document.viewers[viewer] as NonNullable<Document['viewers'][string]>;
          const kept = arrange(compile(document, null), one, text, undefined, undefined, undefined, undefined, before && takenFrom(before));
          const copy = structuredClone(document);
          const anew = arrange(compile(copy, null), copy.viewers[viewer] as typeof one, text);
          expect(said(kept)).toEqual(said(anew));
          const { document: _, level: __, elements, ...tables } = kept.given;
          const { document: _d, level: _l, elements: others, ...othersTables } = anew.given;
          expect(elements).toEqual(others);
          expect(tables).toEqual(othersTables);
        },
      ),
      { numRuns: 60 },
    );
  });
  it('is taken over: a thousand labels of which one is moved are not shaped again', () => {
    const first = ids.find((id) => demo.elements[id]?.kind === 'label' && demo.elements[id]?.mount.kind === 'floating') as string;
    const elements = Object.fromEntries(
      Array.from({ length: 1000 }, (_, k) => [`label-${k}`, { ...(demo.elements[first] as Element), text: `Stone ${k}` } as Element]),
    );
    const many: Document = { ...demo, elements };
    const viewer = many.viewers.desk as NonNullable<Document['viewers'][string]>;
    const before = arrange(compile(many, null), viewer, text);
    const moved = (CHANGES.moved as (typeof CHANGES)[string])(many, 'label-500');
    let shaped = 0;
    const counting = { ...text, shape: (...args: Parameters<typeof text.shape>) => (shaped++, text.shape(...args)) };
    arrange(compile(moved, null), viewer, counting, undefined, undefined, undefined, undefined, takenFrom({ ...before, text: counting }));
    expect(shaped).toBe(1);
  });
});
