/** A group laid out larger or smaller, against the same group seen from nearer or farther: every box of it by the same factor. */
import { readFileSync } from 'node:fs';
import { readDocument, resizedTree } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { fixedText as text } from './sample.ts';

const demo = readDocument(readFileSync(new URL('../../../demo/low-water.json', import.meta.url), 'utf8'));

/** The boxes of all that is in a group, in its design pixels. */
function boxesIn(document: typeof demo, id: string): Map<string, number[]> {
  const a = arrange(compile({ ...document, level: null }, null), document.viewers.desk as never, text);
  const row = a.compiled.ids.indexOf(id);
  const rows = (a.treeRows.get(a.compiled.root[row] as number) ?? []).filter((one) => one !== row);
  return new Map(rows.map((one) => [a.compiled.ids[one] as string, [...a.boxes.subarray(one * 4, one * 4 + 4)]]));
}

describe('a group and all that is in it', () => {
  it('keeps its form at any size (property)', () => {
    const groups = Object.keys(demo.elements).filter((id) => {
      const element = demo.elements[id];
      return element?.kind === 'group' && !element.template && element.mount.kind === 'glass' && !element.mount.stretch.some(Boolean);
    });
    expect(groups.length).toBeGreaterThan(3);
    fc.assert(
      fc.property(fc.constantFrom(...groups), fc.double({ min: 0.4, max: 2.5, noNaN: true }), (id, factor) => {
        const [before, after] = [boxesIn(demo, id), boxesIn(resizedTree(demo, id, factor), id)];
        // What instances show is their templates'.
        for (const [one, box] of before) {
          if (one.includes('/')) continue;
          box.forEach((v, k) => {
            expect(Math.abs((after.get(one)?.[k] ?? Number.NaN) - v * factor), `${id}: ${one}`).toBeLessThan(
              0.02 * Math.abs(v * factor) + 0.5,
            );
          });
        }
      }),
      { numRuns: 40 },
    );
  });
  it('leaves where it lies itself, what is not in it, and the corners of pictures', () => {
    const twice = resizedTree(demo, 'pause-card', 2);
    expect(twice.elements['pause-card']?.mount).toEqual(demo.elements['pause-card']?.mount);
    expect(twice.elements['warmth-bar']).toEqual(demo.elements['warmth-bar']);
    const nine = Object.entries(demo.elements).find(([, e]) => e.kind === 'picture' && e.fill === 'nine');
    const group = nine?.[1].mount.kind === 'inside' ? nine[1].mount.group : '';
    expect(resizedTree(demo, group, 2).elements[nine?.[0] ?? '']).toMatchObject({
      cornersPx: (nine?.[1] as { cornersPx: number[] } | undefined)?.cornersPx,
    });
    expect(resizedTree(demo, 'nothing', 2)).toBe(demo);
  });
});
