/** A change that lost: what it wanted where, and how it is made all the same. */
import { describe, expect, it } from 'vitest';
import { applyChange, ConflictError, diff } from './change.ts';
import { makeDocument, makeLabel } from './make.ts';
import { differences, forced, placeOfPointer } from './set-aside.ts';

const base = (() => {
  const d = makeDocument('Low Water');
  d.anchors.spot = { kind: 'surface', name: 'Spot', order: 'a0', node: null, position: [0, 0, 0], normal: [0, 1, 0] };
  d.elements.lamp = { ...makeLabel('spot', 'Lamp', 'a0'), range: { from: 'eye', enterM: 5, leaveM: 6, dwellS: 0 } };
  return d;
})();
const withRange = (enterM: number, leaveM: number) => ({
  ...base,
  elements: { lamp: { ...base.elements.lamp, range: { from: 'eye', enterM, leaveM, dwellS: 0 } } as never },
});
const mine = diff(base, withRange(3, 4));

describe('a change that lost', () => {
  const theirs = withRange(4, 6);
  it('meets the other where both changed the same field, and says what each wanted', () => {
    expect(() => applyChange(theirs, mine)).toThrow(ConflictError);
    expect(differences(theirs, mine)).toEqual([
      { pointer: '/elements/lamp/range/enterM', mine: 3, theirs: 4 },
      { pointer: '/elements/lamp/range/leaveM', mine: 4, theirs: 6 },
    ]);
    expect(placeOfPointer(theirs, '/elements/lamp/range/enterM')).toEqual({
      collection: 'elements',
      id: 'lamp',
      name: 'Lamp',
      field: 'range enter m',
    });
  });
  it('is made all the same, over what stands there now', () => {
    expect(forced(theirs, mine)).toEqual(withRange(3, 4));
    expect(differences(forced(theirs, mine), mine)).toEqual([]);
  });
  it('whose surroundings are gone cannot be had back alone', () => {
    const gone = { ...base, elements: {} };
    expect(differences(gone, mine).map(({ theirs: there }) => there)).toEqual([undefined, undefined]);
    expect(() => forced(gone, mine)).toThrow();
    // What it removed, and what is gone already, is as it wants it.
    const removal = diff(base, gone);
    expect(differences(gone, removal)).toEqual([]);
    expect(forced(gone, removal)).toEqual(gone);
  });
});
