/** What a change does to elements that it does not touch, against what it must do to them. */
import { arrange, compile, type Inputs, makeSolver, type Projection, solve } from '@foreshore/core';
import { type Document, insideOf, makeDocument, makeGroup, makeLabel, makeText, onGlass } from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { fixedText as text } from '../../core/src/sample.ts';
import { sideEffects, standingsInParts } from './side-effects.ts';

const inputs: Inputs = { timeS: 0, head: { position: [0, 1.65, 0], rotation: [0, 0, 0, 1] }, depthOrder: true };
const frameOf = (d: Document) => {
  const solver = makeSolver(arrange(compile(d, null), Object.values(d.viewers)[0] as never, text));
  solve(solver, inputs);
  return solver;
};
const standings = (d: Document) => {
  const parts = standingsInParts(frameOf(d));
  for (let part = parts.next(); ; part = parts.next()) if (part.done) return part.value;
};
const between = (was: Document, now: Document) => sideEffects(standings(was), standings(now), was, now);

/** Two labels at one spot ten metres ahead, and a card of two lines on the glass. */
function scene(): Document {
  const d = makeDocument('Low Water');
  d.anchors.spot = { kind: 'surface', name: 'Spot', order: 'a0', node: null, position: [0, 1.65, -10], normal: [0, 0, 1] };
  d.elements.lamp = makeLabel('spot', 'Lamp', 'a0');
  d.elements.mast = makeLabel('spot', 'Mast', 'a1');
  d.elements.card = makeGroup(onGlass([0.5, 0.2]), 'Card', 'column', 'a2');
  d.elements.tide = makeText(insideOf('card'), 'Tide', 'a0');
  d.elements.wind = makeText(insideOf('card'), 'Wind', 'a1');
  return d;
}
const changed = (recipe: (d: Document) => void): Document => {
  const d = structuredClone(scene());
  recipe(d);
  return d;
};
const spotAt = (position: [number, number, number]) => changed((d) => void Object.assign(d.anchors.spot as object, { position }));

describe('side effects of a change', () => {
  it('are none where nothing else is another, even in a copy of the document', () => {
    expect(between(scene(), structuredClone(scene()))).toEqual([]);
    const edited = changed((d) => void Object.assign(d.elements.lamp as object, { text: 'A lamp with a long name' }));
    expect(between(scene(), edited)).toEqual([]);
  });

  it('are told of an element that is only called otherwise, or written in another order', () => {
    const moved = spotAt([0.5, 1.65, -10]);
    moved.elements.lamp = { ...Object.fromEntries(Object.entries(moved.elements.lamp as object).reverse()), name: 'Light' } as never;
    expect(between(scene(), moved).map(({ element }) => element)).toEqual(['lamp', 'mast']);
  });

  it('are of all that hangs on a moved anchor, by the pixels that a lens makes of metres', () => {
    const { focalX } = frameOf(scene()).a.projection as Projection;
    const effects = between(scene(), spotAt([0.5, 1.65, -10]));
    expect(effects.map(({ element, kind }) => [element, kind])).toEqual([
      ['lamp', 'moved'],
      ['mast', 'moved'],
    ]);
    // Boxes lie on whole pixels.
    for (const effect of effects) expect(Math.abs((effect as { px: number }).px - (focalX * 0.5) / 10)).toBeLessThanOrEqual(1);
  });

  it('say what is not shown any more, and what is again', () => {
    const behind = spotAt([0, 1.65, 10]);
    const kinds = (effects: ReturnType<typeof between>) => effects.map(({ element, kind }) => `${element} ${kind}`);
    expect(kinds(between(scene(), behind))).toEqual(['lamp hidden', 'mast hidden']);
    expect(kinds(between(behind, scene()))).toEqual(['lamp shown', 'mast shown']);
  });

  it('are of what stands below a member that has grown, and of its group, not of the member', () => {
    const grown = changed(
      (d) => void Object.assign(d.elements.tide as object, { size: { rule: 'screen', emPx: 60, hideBelowPx: 0, leavePx: 0 } }),
    );
    const effects = between(scene(), grown);
    expect(effects.map(({ element }) => element).sort()).toEqual(['card', 'wind']);
    expect(effects[0]).toMatchObject({ element: 'card', kind: 'resized' });
  });

  it('are not of the members of a group that was moved itself', () => {
    const moved = changed((d) => void Object.assign(d.elements.card as object, onGlass([0.2, 0.2])));
    expect(between(scene(), moved)).toEqual([]);
  });

  it('say what falls short now and did not before, and only that', () => {
    const asked = (leastArcmin: number) => changed((d) => void (d.readability = { leastArcmin }));
    const [easy, hard] = [asked(0.1), asked(600)];
    const effects = between(easy, hard).filter(({ element }) => element === 'wind');
    expect(effects).toEqual([{ element: 'wind', kind: 'short', short: 'small' }]);
    expect(between(hard, easy)).toEqual([]);
  });
});
