/** What parts on one route have in common is found once, every tick is gone through once, and the results are those of each part by itself. */
import { arrange, compile, TICK_S } from '@foreshore/core';
import { type Document, makeDocument, makeLabel, makeText, onGlass } from '@foreshore/document';
import { shippedShaper } from '@foreshore/text/node';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { checkPart, checkParts } from './check.ts';
import { MomentsKept, RouteMoments } from './replay.ts';

const text = shippedShaper();
afterEach(() => vi.restoreAllMocks());

/** Somebody walks past a lamp for so long, and a text tells what the game says. */
function walk(lengthS: number): Document {
  const document = makeDocument('Low Water');
  document.anchors.lamp = { kind: 'surface', name: 'Lamp', order: 'a0', node: null, position: [0, 1.6, -6], normal: [0, 1, 0] };
  document.elements.lamp = makeLabel('lamp', 'Lamp mast', 'a0');
  document.elements.tide = makeText(onGlass([0.5, 0.9]), 'Tide {tide} m', 'a1');
  document.feeds.tide = {
    ...{ name: 'Tide', order: 'a0', kind: 'number', unit: 'm', initial: 0 },
    source: { kind: 'wander', from: 0, to: 4, perS: 1, seed: 7 },
  } as never;
  document.routes = {
    past: {
      ...{ name: 'Past', order: 'a0', feeds: [], phases: [] },
      poses: [0, 1, 2].map((k) => ({ timeS: (k * lengthS) / 2, position: [k * 3 - 3, 1.6, 0], rotation: [0, 0, 0, 1] })),
    },
  };
  return document;
}

describe('moments of a route', () => {
  it.each([10, 10.05])('each tick of %s s is gone through once', (lengthS) => {
    const document = walk(lengthS);
    const [part] = checkParts(document);
    if (!part) throw new Error('There is a part.');
    const at = vi.spyOn(RouteMoments.prototype, 'at');
    checkPart(document, arrange(compile(document, null), document.viewers[part.viewer] as never, text), part);
    const ticks = at.mock.calls.map(([tick]) => tick);
    expect(ticks).toEqual(ticks.map((_, k) => k));
    expect(ticks.length).toBe(Math.floor(lengthS / TICK_S + 1e-6) + 1);
  });

  it('parts that share them find what each finds by itself', () => {
    const document = walk(12);
    const compiled = compile(document, null);
    const parts = checkParts(document);
    expect(parts.length).toBeGreaterThan(2);
    const shared = new MomentsKept();
    const measured = (moments?: MomentsKept) =>
      parts.map((part) => checkPart(document, arrange(compiled, document.viewers[part.viewer] as never, text), part, moments));
    expect(measured(shared)).toEqual(measured());
  });

  it('of somebody who walks slowly, nothing is found to pass too fast', () => {
    // Half a metre a second, 6 m away: under 5 degrees a second.
    const document = walk(12);
    const compiled = compile(document, null);
    const found = checkParts(document).flatMap(
      (part) => checkPart(document, arrange(compiled, document.viewers[part.viewer] as never, text), part).found,
    );
    expect(found.filter(({ kind }) => kind === 'speed')).toEqual([]);
  });
});
