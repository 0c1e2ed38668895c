/** The built runtime against the bench: the same frames, bit for bit, from a bundle that went through JSON. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { arrange, compile, phaseAt, routePose, type Solver, TICK_S, Verdict } from '@foreshore/core';
import { demo } from '@foreshore/demo';
import type { Document, FeedValue, Route } from '@foreshore/document';
import { type LevelModel, readLevel } from '@foreshore/level';
import type * as Built from '@foreshore/runtime';
import { shippedShaper } from '@foreshore/text/node';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Replay } from '../../checks/src/replay.ts';
import { buildRuntime } from '../../runtime/build.mjs';
import { contractChanges, contractOf, contractSchema, contractTypes } from './contract.ts';
import { packBundle } from './pack.ts';

const folder = mkdtempSync(join(tmpdir(), 'foreshore-runtime-'));
let sizes: Awaited<ReturnType<typeof buildRuntime>>;
let runtime: typeof Built;
let parts: Built.Part[];
let levels: [LevelModel, LevelModel];
const document = demo.document();
const read = () => readLevel(demo.level(), { metresPerUnit: 1, upAxis: 'y' });
const text = shippedShaper();
const load = (name: string) => import(/* @vite-ignore */ pathToFileURL(join(folder, `${name}.js`)).href);
const bundleOf = (from: Document): Built.Bundle =>
  JSON.parse(JSON.stringify({ ...packBundle(from, levels[0], { fonts: [], pictures: {} }), hash: '' }));

beforeAll(async () => {
  levels = [await read(), await read()];
  sizes = await buildRuntime(folder);
  runtime = await load('foreshore-runtime');
  parts = [
    (await load('foreshore-apart')).apart,
    (await load('foreshore-trailing')).trailing,
    (await load('foreshore-motions')).motions,
    (await load('foreshore-measure')).measure,
    (await load('foreshore-many')).many,
    (await load('foreshore-directions')).directions,
    (await load('foreshore-calm')).calm,
    (await load('foreshore-tool')).tool,
  ];
}, 120_000);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Where two frames differ, as words; null where they are the same to the bit. */
function difference(ours: Solver, theirs: Solver): string | null {
  const same = (name: string, a: ArrayLike<number>, b: ArrayLike<number>) => {
    for (let k = 0; k < a.length; k++) if (!Object.is(a[k], b[k])) return `${name}[${k}]: ${a[k]}, not ${b[k]}`;
    return null;
  };
  const places = (s: Solver) =>
    Array.from({ length: s.c.count }, (_, i) =>
      s.f.failed[i] === Verdict.Shown ? [...s.f.places.subarray(i * 8, i * 8 + 8)] : [0],
    ).flat();
  return (
    same('failed', ours.f.failed, theirs.f.failed) ??
    same('places', places(ours), places(theirs)) ??
    same('maps', ours.f.maps, theirs.f.maps) ??
    same('panels', ours.f.panels, theirs.f.panels) ??
    same('gauges', ours.f.gaugeShare, theirs.f.gaugeShare) ??
    same('edges', ours.f.edgeRad, theirs.f.edgeRad) ??
    same('order', ours.f.order.subarray(0, ours.f.orderCount), theirs.f.order.subarray(0, theirs.f.orderCount))
  );
}

/**
 * Plays a route tick by tick in both, and says how many frames there were and how the first that differs does.
 * @param whole the runtime with all parts in one module, instead of the basic one with those that are given.
 */
function playBoth(from: Document, bundle: Built.Bundle, viewer: string, routeId: string, ticks: number, whole?: typeof Built) {
  const route = from.routes[routeId] as Route;
  const bench = new Replay(arrange(compile(from, levels[0]), from.viewers[viewer] as never, text), route);
  const options = { letters: text, viewer, level: levels[1] };
  const game = whole ? new whole.Runtime(bundle, options) : new runtime.Runtime(bundle, { ...options, parts });
  for (let tick = 0; tick <= ticks; tick++) {
    const timeS = tick * TICK_S;
    bench.at(timeS);
    const { f, c } = bench.solver;
    c.feedIds.forEach((feed, k) => {
      const value = f.values[k];
      if (value !== undefined) game.set(feed, value as FeedValue);
    });
    game.setPhase(phaseAt(from, route, timeS));
    game.frame({ timeS, pose: routePose(route, timeS) });
    const differs = difference(game.solver, bench.solver);
    if (differs) return { frames: tick, differs: `${viewer}, ${routeId}, ${timeS.toFixed(2)} s: ${differs}` };
  }
  return { frames: ticks + 1, differs: null };
}

describe('the runtime', () => {
  it('is as small as it says: the basic one, and the parts that not every bundle needs', () => {
    // docs/handoff.md states these.
    expect(sizes['foreshore-runtime']?.gzipped).toBeLessThan(29_300);
    for (const part of ['apart', 'trailing', 'motions', 'measure', 'many', 'directions', 'calm', 'tool'])
      expect(sizes[`foreshore-${part}`]?.gzipped).toBeLessThan(6_100);
    expect(sizes['foreshore-boxes']?.gzipped).toBeLessThan(17_000);
    expect(sizes['foreshore-canvas']?.gzipped).toBeLessThan(23_000);
  });
  it('in one module with all its parts plays what needs all of them, on a screen and in a headset', async () => {
    const whole: typeof Built = await load('foreshore-whole');
    const bundle = bundleOf(document);
    expect(bundle.needs).toHaveLength(parts.length);
    for (const viewer of ['desk', 'headset'])
      expect(playBoth(document, bundle, viewer, 'out-to-the-lamp', 300, whole)).toEqual({ frames: 301, differs: null });
    expect(() => new whole.Runtime({ ...bundle, version: 9 as never }, { letters: text })).toThrow(whole.BundleError);
    // docs/handoff.md states this.
    expect(sizes['foreshore-whole']?.gzipped).toBeLessThan(44_500);
  });
  it('refuses what it cannot play, and says what is lacking', () => {
    const bundle = bundleOf(document);
    const play = (one: unknown, options = {}) => new runtime.Runtime(one as Built.Bundle, { letters: text, ...options });
    expect(() => play({})).toThrow('no Foreshore bundle');
    expect(() => play({ ...bundle, version: 9 }, { parts })).toThrow('of version 9');
    expect(() => play(bundle)).toThrow('apart, trailing, motions, measure');
    expect(() => play(bundle, { parts, viewer: 'periscope' })).toThrow('no viewer "periscope"');
    const game = play(bundle, { parts });
    expect(game.set('warmth', 'cold')).toBe(false);
    expect(game.set('warmth', Number.NaN)).toBe(false);
    expect(game.set('nothing', 1)).toBe(false);
    expect(game.missing()).toContain('warmth');
    expect(game.set('Warmth', 40)).toBe(true);
    expect(game.missing()).not.toContain('warmth');
    // A feed that was never set is empty, and says so.
    game.frame({ timeS: 0, pose: { position: [0, 3, 0], rotation: [0, 0, 0, 1] } });
    expect(game.lines(game.row('tide-value'))?.lines[0]?.text).toContain('{tide}');
    expect(game.lines(game.row('warmth-value'))?.lines[0]?.text).toBe('40 %');
  });
  it('has values of single objects: those that were set, of all where nothing is said of one, and tells which are missing', () => {
    const leaning = structuredClone(document);
    leaning.feeds.lean = { name: 'Lean', order: 'b1z', kind: 'number', unit: 'deg', initial: 0, each: true };
    Object.assign(leaning.elements['stake-height'] ?? {}, { text: '{lean}' });
    const game = new runtime.Runtime(bundleOf(leaning), { letters: text, parts });
    const says = (stake: string) => {
      game.frame({ timeS: 0, pose: { position: [0, 3, 0], rotation: [0, 0, 0, 1] } });
      return game.lines(game.row(`stake-height@${stake}`))?.lines[0]?.text;
    };
    expect(says('Stake 02')).toBe('{lean}');
    expect(game.missing().filter((key) => key.startsWith('lean'))).toHaveLength(40);
    expect(game.set('Lean', 7, 'Stake 02')).toBe(true);
    expect(game.set('lean', 9, 'Stake 99')).toBe(false);
    expect(game.set('warmth', 9, 'Stake 02')).toBe(false);
    expect(game.missing().filter((key) => key.startsWith('lean'))).toHaveLength(39);
    expect([says('Stake 02'), says('Stake 03')]).toEqual(['7', '{lean}']);
    expect(game.set('lean', 3)).toBe(true);
    expect([says('Stake 02'), says('Stake 03')]).toEqual(['7', '3']);
    expect(game.missing().filter((key) => key.startsWith('lean'))).toEqual([]);
    expect(game.set('lean', 4)).toBe(true);
    expect([says('Stake 02'), says('Stake 03')]).toEqual(['7', '4']);
    // The contract says it so, to people and to programs.
    const contract = contractOf(leaning);
    expect(contractTypes(contract)).toContain("of each object, by its node's name. */\n  'lean': Record<string, number>;");
    const { $defs } = contractSchema(contract) as { $defs: { values: { properties: Record<string, object> } } };
    expect($defs.values.properties.lean).toMatchObject({ type: 'object', additionalProperties: { type: 'number' } });
    const once = structuredClone(leaning);
    delete once.feeds.lean?.each;
    expect(contractChanges(contractOf(once), contract)).toEqual([
      { weight: 'breaks', what: 'feed', id: 'lean', says: 'has a value for each object now' },
    ]);
    // To the bit, with objects that a route says.
    const route = leaning.routes['out-to-the-lamp'] as Route;
    route.feeds = [...route.feeds, { timeS: 1, feed: 'lean', object: 'Stake 02', value: 21 }].sort((a, b) => a.timeS - b.timeS);
    expect(playBoth(leaning, bundleOf(leaning), 'desk', 'out-to-the-lamp', 90).differs).toBeNull();
  });
  it('gives the frames of the bench, to the bit: all routes, all viewers', () => {
    const bundle = bundleOf(document);
    let frames = 0;
    for (const viewer of Object.keys(document.viewers))
      for (const [route, { poses }] of Object.entries(document.routes)) {
        const ticks = Math.min(Math.floor((poses.at(-1)?.timeS ?? 0) / TICK_S), 300);
        const played = playBoth(document, bundle, viewer, route, ticks);
        expect(played.differs).toBeNull();
        frames += played.frames;
      }
    expect(frames).toBeGreaterThan(10_000);
  }, 300_000);
});
