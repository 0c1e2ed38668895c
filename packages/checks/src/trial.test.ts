/** What is told of a trial, of results that are made by hand. */
import { makeDocument, makeText, onGlass } from '@foreshore/document';
import { expect, it } from 'vitest';
import { beginRun, type PartResult } from './check.ts';
import { trialOf } from './trial.ts';

const document = makeDocument('Low Water');
document.elements.tide = makeText(onGlass([0.5, 0.2]), 'Low tide at seven', 'a0');
const parts = ['desk', 'phone'].map((viewer) => ({ route: 'walk', viewer, language: 'en' }));
/** With letters of so many minutes of arc, where 16 are asked; null: nothing is found. */
const result = (viewer: string, arcmin: number | null): PartResult => ({
  ...{ route: 'walk', viewer, language: 'en', durationS: 10, shown: { tide: { forS: 10, hiddenBy: null } } },
  found:
    arcmin === null ? [] : [{ kind: 'small', element: 'tide', atS: 1, forS: 4, value: arcmin, bound: 16, unit: 'arcmin', shortfall: null }],
});
const told = (desk: [was: number | null, is: number | null], phone: [was: number | null, is: number | null]) => {
  const { gone, fresh, worse, better, cleared } = trialOf(beginRun(document, '', parts), [
    { was: result('desk', desk[0]), is: result('desk', desk[1]) },
    { was: result('phone', phone[0]), is: result('phone', phone[1]) },
  ]);
  return { gone: gone.length, fresh: fresh.length, worse: worse.length, better: better.length, cleared };
};

it('a kind at an element is cleared where it is gone at every viewer', () => {
  expect(told([8, null], [4, null])).toEqual({ gone: 2, fresh: 0, worse: 0, better: 0, cleared: 1 });
  expect(told([8, null], [4, 10])).toEqual({ gone: 1, fresh: 0, worse: 0, better: 1, cleared: 0 });
  expect(told([8, 5], [null, 4])).toEqual({ gone: 0, fresh: 1, worse: 1, better: 0, cleared: 0 });
});
