/** Two states of a project along a route, against what must differ, worked out from the lens and the walk. */
import { arrange, compile, type Projection, Verdict } from '@foreshore/core';
import { type Document, insideOf, makeDocument, makeGroup, makeLabel, makeText, onGlass, type Route } from '@foreshore/document';
import { shippedShaper } from '@foreshore/text/node';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fixedText as text } from '../../core/src/sample.ts';
import { Replay } from './replay.ts';
import { gatherEffects, haveHappened, partsToCompare, routeEffects, type State, whereTurned } from './route-effects.ts';

const [VIEWER = ''] = Object.keys(makeDocument('Low Water').viewers);
/** Ten metres forwards in ten seconds, towards two labels at one spot; a card of two lines on the glass. */
function scene(): Document {
  const d = makeDocument('Low Water');
  d.anchors.spot = { kind: 'surface', name: 'Spot', order: 'a0', node: null, position: [0, 1.65, -20], normal: [0, 0, 1] };
  d.elements.lamp = makeLabel('spot', 'Lamp', 'a0');
  d.elements.mast = makeLabel('spot', 'Mast', 'a1');
  d.elements.card = makeGroup(onGlass([0.5, 0.2]), 'Card', 'column', 'a2');
  d.elements.tide = makeText(insideOf('card'), 'Tide', 'a0');
  d.elements.wind = makeText(insideOf('card'), 'Wind', 'a1');
  const pose = (timeS: number, z: number) => ({ timeS, position: [0, 1.65, z], rotation: [0, 0, 0, 1] }) as Route['poses'][number];
  d.routes.walk = { name: 'Walk', order: 'a0', poses: [pose(0, 0), pose(10, -10)], feeds: [], phases: [] };
  return d;
}
const changed = (recipe: (d: Document) => void, from = scene()): Document => {
  const d = structuredClone(from);
  recipe(d);
  return d;
};
const spotAt = (x: number, from = scene()) =>
  changed((d) => void Object.assign(d.anchors.spot as object, { position: [x, 1.65, -20] }), from);
const stateOf = (document: Document): State => ({
  document,
  arranged: arrange(compile(document, null), document.viewers[VIEWER] as never, text),
});
const route = scene().routes.walk as Route;
const between = (was: Document, now: Document) => routeEffects(stateOf(was), stateOf(now), now.routes.walk as Route);
const part = { route: 'walk', viewer: VIEWER, language: 'en' };

describe('side effects along a route', () => {
  it('are none between a document and a copy, and none where all that is another is an edited element, a name or the route', () => {
    expect(between(scene(), scene())).toEqual([]);
    expect(
      between(
        scene(),
        changed((d) => void Object.assign(d.elements.lamp as object, { text: 'A lamp of the mooring' })),
      ),
    ).toEqual([]);
    expect(
      between(
        scene(),
        changed((d) => void Object.assign(d.anchors.spot as object, { name: 'Elsewhere' })),
      ),
    ).toEqual([]);
    const turned = changed(
      (d) => void Object.assign(d.routes.walk as Route, { poses: [...route.poses].reverse().map((one, k) => ({ ...one, timeS: 10 * k })) }),
    );
    expect(between(scene(), turned)).toEqual([]);
  });

  it('are the pixels by which a moved anchor moves what hangs on it, most where one is nearest', () => {
    const { focalX } = stateOf(scene()).arranged.projection as Projection;
    const effects = between(scene(), spotAt(0.5));
    expect(effects.map(({ element, kind }) => [element, kind])).toEqual([
      ['lamp', 'moved'],
      ['mast', 'moved'],
    ]);
    for (const effect of effects) {
      // Ten metres off at the end of the walk.
      expect(Math.abs((effect as { px: number }).px - (focalX * 0.5) / 10)).toBeLessThanOrEqual(1);
      expect(effect.atS).toBeGreaterThan(9);
      expect(effect.forS).toBeCloseTo(10, 6);
    }
  });

  it('last for as long as a plain walk through both states says', () => {
    const near = { from: 'eye', enterM: 15, leaveM: 15, dwellS: 0 } as const;
    const ranged = changed((d) => void Object.assign(d.elements.lamp as object, { range: near }));
    // Five metres farther away, so that it comes into range five seconds later.
    const farther = changed((d) => void Object.assign(d.anchors.spot as object, { position: [0, 1.65, -25] }), ranged);
    const [lamp] = between(ranged, farther);
    expect(lamp).toMatchObject({ element: 'lamp', kind: 'hidden' });
    let seconds = 0;
    const shows = (d: Document) => {
      const { arranged } = stateOf(d);
      const replay = new Replay(arranged, route);
      return (timeS: number) => replay.at(timeS).failed[arranged.compiled.ids.indexOf('lamp')] === Verdict.Shown;
    };
    const [was, now] = [shows(ranged), shows(farther)];
    for (let s = 0; s < 50; s++) if (was(s / 5) !== now(s / 5)) seconds += 0.2;
    expect(lamp?.forS).toBeCloseTo(seconds, 6);
    expect(seconds).toBeGreaterThan(4);
    expect(seconds).toBeLessThan(6);
  });

  it('tell of a member where it does something else than its group', () => {
    const size = { rule: 'screen', emPx: 60, hideBelowPx: 0, leavePx: 0 };
    const larger = changed((d) => void Object.assign(d.elements.tide as object, { size }));
    // The card grows with its line, and moves the other one, down by all that the line has grown.
    const effects = between(scene(), larger);
    expect(gatherEffects(larger, [{ ...part, effects }])).toMatchObject([
      { element: 'card', kind: 'resized' },
      { element: 'wind', kind: 'moved' },
    ]);
    const wide = effects.map((one) => ({ ...one, kind: 'moved' as const, px: 40 }));
    expect(gatherEffects(larger, [{ ...part, effects: wide }]).map(({ element }) => element)).toEqual(['card']);
    const [other = ''] = Object.keys(larger.viewers).slice(1);
    const two = gatherEffects(spotAt(0.5), [
      { ...part, effects: [{ element: 'lamp', kind: 'moved', px: 4, atS: 1, forS: 2 }] },
      { ...part, viewer: other, effects: [{ element: 'lamp', kind: 'hidden', atS: 3, forS: 1 }] },
      { ...part, route: 'back', effects: [{ element: 'lamp', kind: 'hidden', atS: 5, forS: 0.5 }] },
    ]);
    expect(two).toEqual([
      {
        ...{ element: 'lamp', kind: 'hidden', atS: 3, forS: 1, route: 'walk', viewer: other, language: 'en', viewers: [other, VIEWER] },
        also: [{ element: 'lamp', kind: 'moved', px: 4, atS: 1, forS: 2, ...part, viewers: [VIEWER] }],
      },
    ]);
    // What is so for a moment only goes after what lasts.
    const [first] = gatherEffects(spotAt(0.5), [
      {
        ...part,
        effects: [
          { element: 'lamp', kind: 'hidden', atS: 3, forS: 0.2 },
          { element: 'lamp', kind: 'moved', px: 4, atS: 1, forS: 2 },
        ],
      },
    ]);
    expect(first).toMatchObject({ kind: 'moved', also: [{ kind: 'hidden' }] });
  });

  it('are looked for in no part that cannot differ', () => {
    expect(partsToCompare(scene(), scene()).parts).toEqual([]);
    const all = partsToCompare(scene(), spotAt(1)).parts;
    expect(all.length).toBe(Object.keys(scene().viewers).length);
    const wider = changed((d) => void Object.assign(d.viewers[VIEWER] as object, { widthPx: 2000 }));
    expect(partsToCompare(scene(), wider).parts.map(({ viewer }) => viewer)).toEqual([VIEWER]);
    const without = changed((d) => void delete d.viewers[VIEWER]);
    expect(partsToCompare(without, scene()).newViewers).toEqual([VIEWER]);
  });

  it('are found in the language in which they happen: a text that grows there pushes what follows it', () => {
    const says = (de: string, languages = ['de']) =>
      changed((d) => {
        d.languages = languages;
        Object.assign((d.elements.card as { layout: object }).layout, { direction: 'row' });
        Object.assign(d.elements.tide as object, { translations: { de } });
        Object.assign(d.elements.wind as object, { translations: { de: 'Wind' } });
      });
    const [was, now] = [says('Ebbe'), says('Ebbe kurz nach sieben')];
    const { parts } = partsToCompare(was, now);
    expect(new Set(parts.map(({ language }) => language))).toEqual(new Set(['de']));
    const shaped = shippedShaper();
    const state = (document: Document, language: string): State => ({
      document,
      arranged: arrange(compile(document, null), document.viewers[VIEWER] as never, shaped, undefined, language),
    });
    const told = (language: string) =>
      routeEffects(state(was, language), state(now, language), route).map(({ element, kind }) => `${element} ${kind}`);
    expect(told('en')).toEqual([]);
    expect(told('de')).toContain('wind moved');
    // One that was not there has nothing to compare with; of several the own one goes first.
    expect(partsToCompare(says('Ebbe', []), now)).toMatchObject({ newLanguages: ['de'] });
    expect(
      partsToCompare(was, spotAt(1, was))
        .parts.map(({ language }) => language)
        .filter((tag, k, all) => tag !== all[k - 1]),
    ).toEqual(['en', 'de']);
    // What lasts in both lasts as long as a route, not twice as long.
    const effect = { element: 'wind', kind: 'moved' as const, px: 4, atS: 1, forS: 2 };
    expect(
      gatherEffects(
        now,
        ['en', 'de'].map((language) => ({ ...part, language, effects: [effect] })),
      ),
    ).toMatchObject([{ forS: 2 }]);
  });

  it('are known at their moments, by what happened and by how much, and are all there where an element came', () => {
    const moved = (element: string, atS: number, px: number) => ({ element, kind: 'moved' as const, px, atS });
    const { focalX } = stateOf(scene()).arranged.projection as Projection;
    const px = (focalX * 0.5) / 11;
    const asked = [
      moved('lamp', 9, px),
      moved('card', 2, 1),
      moved('mast', 9, 2.5 * px),
      { element: 'mast', kind: 'hidden' as const, atS: 9 },
    ];
    const ask = (was: Document, now: Document) => haveHappened(stateOf(was), stateOf(now), route, asked);
    expect(ask(scene(), spotAt(0.5))).toEqual([true, false, false, false]);
    expect(ask(scene(), spotAt(5))).toEqual([true, false, true, false]);
    const behind = changed((d) => void Object.assign(d.anchors.spot as object, { position: [0, 1.65, 20] }));
    expect(ask(scene(), behind)).toEqual([false, false, false, true]);
    const without = changed((d) => void delete d.elements.card);
    expect(ask(without, scene())).toEqual([false, true, false, false]);
    const strict = changed((d) => void (d.readability = { leastArcmin: 600 }));
    const short = { element: 'wind', kind: 'short' as const, short: 'small' as const, atS: 3 };
    expect(haveHappened(stateOf(scene()), stateOf(strict), route, [short])).toEqual([true]);
    expect(haveHappened(stateOf(strict), stateOf(scene()), route, [short])).toEqual([false]);
  });
});

describe('where something turned', () => {
  it('is the state before which it stood as at first, however often it turned, in few questions', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.array(fc.boolean(), { minLength: 30, maxLength: 30 }), { minLength: 1, maxLength: 6 }), async (rows) => {
        const states = rows.map((row) => [false, ...row, true]);
        let asked = 0;
        const found = await whereTurned(32, rows.length, async (state, of) => {
          asked++;
          return of.map((k) => states[k]?.[state] as boolean);
        });
        found.forEach((at, k) => {
          expect(states[k]?.[at]).toBe(true);
          expect(states[k]?.[at - 1]).toBe(false);
        });
        expect(asked).toBeLessThanOrEqual(5 * rows.length);
      }),
      { seed: 1 },
    );
    expect(await whereTurned(2, 3, async () => [])).toEqual([1, 1, 1]);
  });
});
