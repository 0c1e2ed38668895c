import type { Stretch } from '@foreshore/checks';
import { Verdict } from '@foreshore/core';
import type { Document } from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { foldOf, stripRows } from './strip-rows.ts';

const stretch = (verdict: Verdict, fromS: number, toS: number, short: Stretch['short'] = null): Stretch => ({ verdict, fromS, toS, short });
const always = [stretch(Verdict.Shown, 0, 10)];

describe('what the strip folds away', () => {
  it.each([
    ['shown all along', always, 'always'],
    ['shown all along, too small for a second', [stretch(Verdict.Shown, 0, 9), stretch(Verdict.Shown, 9, 10, 'small')], null],
    ['out of range all along', [stretch(Verdict.Range, 0, 10)], 'far'],
    ['out of range, then behind the camera', [stretch(Verdict.Range, 0, 4), stretch(Verdict.View, 4, 10)], 'far'],
    ['out of range, then in another phase', [stretch(Verdict.Range, 0, 4), stretch(Verdict.Phase, 4, 10)], 'far'],
    ['in other phases all along', [stretch(Verdict.Phase, 0, 10)], 'phase'],
    ['covered for a while', [stretch(Verdict.Range, 0, 4), stretch(Verdict.Sightline, 4, 10)], null],
    ['not worked out yet', [], null],
  ] as const)('%s', (_, band, fold) => expect(foldOf(band)).toBe(fold));
});

/** A card with two lines and two labels, as far as the list asks. */
const document = (() => {
  const group = (id: string | null) => (id === null ? { kind: 'floating', anchor: 'a' } : { kind: 'inside', group: id });
  const rows: [string, 'group' | 'label', string | null][] = [
    ['card', 'group', null],
    ['line-1', 'label', 'card'],
    ['line-2', 'label', 'card'],
    ['near', 'label', null],
    ['far', 'label', null],
  ];
  return {
    elements: Object.fromEntries(
      rows.map(([id, kind, inside], i) => [id, { kind, name: id, order: `a${i}`, mount: group(inside), template: null }]),
    ),
  } as unknown as Document;
})();
const bands = new Map<string, readonly Stretch[]>([
  ['card', always],
  ['line-1', always],
  ['line-2', [stretch(Verdict.Shown, 0, 3), stretch(Verdict.Shown, 3, 10, 'small')]],
  ['near', [stretch(Verdict.Shown, 0, 5), stretch(Verdict.Sightline, 5, 10)]],
  ['far', [stretch(Verdict.Range, 0, 10)]],
]);
const ask = { bands, selection: null, open: new Set<never>(), unfolded: new Set<string>() };

describe('the rows of the strip', () => {
  it('fold members into their group, which stands where its worst member does', () => {
    const { rows, folded } = stripRows(document, ask);
    expect(rows.map(({ id, members, worst, share }) => [id, members, worst, share])).toEqual([
      ['card', 2, 0.3, 1],
      ['near', null, 0.5, 0.5],
    ]);
    expect(folded).toEqual({ far: 1, phase: 0, always: 0 });
  });

  it('list what is marked, with the groups that it lies in, whatever is folded away', () => {
    const { rows, folded } = stripRows(document, { ...ask, marked: new Set(['far', 'line-1']) });
    expect(rows.map(({ id }) => id)).toEqual(['far', 'card', 'line-2', 'line-1', 'near']);
    expect(folded.far).toBe(1);
  });

  it('list members below their group once it is unfolded, the worst first', () => {
    const { rows } = stripRows(document, { ...ask, unfolded: new Set(['card']) });
    expect(rows.map(({ id, depth }) => [id, depth])).toEqual([
      ['card', 0],
      ['line-2', 1],
      ['line-1', 1],
      ['near', 0],
    ]);
  });

  it('always list what is selected, and the group that it lies in', () => {
    expect(stripRows(document, { ...ask, selection: 'far' }).rows.map(({ id }) => id)).toEqual(['far', 'card', 'near']);
    expect(stripRows(document, { ...ask, selection: 'line-1' }).rows.map(({ id }) => id)).toEqual(['card', 'line-2', 'line-1', 'near']);
  });

  it('list a fold that is open', () => {
    expect(stripRows(document, { ...ask, open: new Set(['far' as const]) }).rows.map(({ id }) => id)).toEqual(['far', 'card', 'near']);
  });
});
