/** Any project plays in the built runtime with the parts that its bundle says it needs, and no others, as it does on the bench. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { arrange, compile, lookingPose, phaseAt, routePose, TICK_S } from '@foreshore/core';
import {
  type Document,
  EDGE,
  type Element,
  insideOf,
  type Mount,
  makeCrosshair,
  makeCrosshairAim,
  makeDirection,
  makeDocument,
  makeGauge,
  makeGroup,
  makeHeadset,
  makeLabel,
  makeMovement,
  makeText,
  makeToggle,
  makeTool,
  onGlass,
  parseDocument,
  type Route,
  ringForm,
  SPAN,
} from '@foreshore/document';
import { readLevel } from '@foreshore/level';
import type * as Built from '@foreshore/runtime';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Replay } from '../../checks/src/replay.ts';
import { fixedText as text } from '../../core/src/sample.ts';
import { addBox, newLevel, toBinary } from '../../level/src/sample.ts';
import { buildRuntime } from '../../runtime/build.mjs';
import { packBundle } from './pack.ts';

const folder = mkdtempSync(join(tmpdir(), 'foreshore-parts-'));
const load = (name: string) => import(/* @vite-ignore */ pathToFileURL(join(folder, `foreshore-${name}.js`)).href);
let bytes: Uint8Array;
beforeAll(async () => {
  await buildRuntime(folder);
  const level = newLevel();
  addBox(level, 'Quay', 15, [0, -15, 0]);
  addBox(level, 'Post', 0.8, [0.6, 1.2, -5.5]);
  bytes = await toBinary(level);
}, 120_000);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const SPOTS = ['lamp', 'gate'] as const;
const kind = fc.constantFrom('label', 'group', 'gauge', 'toggle', 'crosshair', 'direction');
const thing = fc.record({
  kind,
  mount: fc.constantFrom('hud', 'floating', 'standing', 'trailing'),
  spot: fc.constantFrom(...SPOTS),
  pin: fc.tuple(fc.constantFrom(0, 0.3, 1), fc.constantFrom(0, 0.6, 1)),
  turnDeg: fc.integer({ min: -40, max: 40 }),
  has: fc.subarray(['edge', 'span', 'motion', 'show', 'range', 'sightline', 'aim', 'tool', 'share', 'turned']),
});
const scene = fc.record({
  things: fc.array(thing, { minLength: 1, maxLength: 4 }),
  labels: fc.subarray(['apart', 'snap'] as const),
  steady: fc.boolean(),
  viewer: fc.constantFrom('desk', 'phone', 'headset'),
});
type Thing = typeof thing extends fc.Arbitrary<infer T> ? T : never;
type Scene = typeof scene extends fc.Arbitrary<infer S> ? S : never;

function mountOf({ mount, spot, turnDeg, pin }: Thing): Pick<Element, 'mount' | 'place'> {
  if (mount === 'hud') return onGlass(pin as [number, number]);
  const place: Element['place'] = { ownPoint: [0.5, 0.5], offsetPx: [12, 0], stay: 'free', leader: null };
  const panel = { sizeM: [0.8, 0.5] as [number, number], pxPerM: 500, readM: 2, sides: 'both' as const };
  const mounts: Record<'floating' | 'standing' | 'trailing', Mount> = {
    floating: { kind: 'floating', anchor: spot },
    standing: { kind: 'standing', anchor: spot, ...panel, facing: 'fixed', turnDeg, tiltDeg: 0, liftM: 0 },
    trailing: {
      ...{ kind: 'trailing', ...panel, distanceM: 1.4, rightDeg: 8, upDeg: -4, deadDeg: 10, followS: 0.3 },
      ...{ keeps: 'head', blocked: 'nearer', leastM: 0.3 },
    },
  };
  return { mount: mounts[mount], place };
}
function elementOf(one: Thing, order: string): Element {
  const carried = mountOf(one) as never;
  const { has } = one;
  const makers: Record<Thing['kind'], () => Element> = {
    label: () => (one.mount === 'floating' ? makeLabel(one.spot, 'Tide {tide} m', order) : makeText(carried, 'Tide {tide} m', order)),
    group: () => makeGroup(carried, 'Board', 'column', order),
    gauge: () => makeGauge(carried, 'Tide', 'tide', ringForm(), order),
    toggle: () => makeToggle(carried, 'Lamp', 'lit', order),
    crosshair: () => makeCrosshair('Aim', 'tide', order),
    direction: () => makeDirection('Splash', 'splash', order),
  };
  const made = makers[one.kind]();
  if (made.kind === 'crosshair' && has.includes('aim'))
    made.aim = { ...makeCrosshairAim(), of: { by: 'anchor', anchor: one.spot }, ...(has.includes('tool') && { tool: makeTool() }) };
  if (made.kind === 'crosshair' && has.includes('share')) made.screenShare = 0.1;
  if (has.includes('motion')) made.motion = { enter: makeMovement('slide'), leave: makeMovement('fade'), betweenS: 0 };
  if (has.includes('show'))
    made.show = {
      ...{ phases: { flood: 'hidden' }, need: 'all', lingerS: 0.2 },
      conditions: [{ kind: 'compare', feed: 'tide', is: 'above', value: 30, leave: 2 }],
    };
  const stands = made.mount.kind === 'floating' || made.mount.kind === 'standing';
  if (stands && has.includes('range')) made.range = { from: 'eye', enterM: 4, leaveM: 5, dwellS: 0.2 };
  if (stands && has.includes('sightline'))
    made.sightline = { to: 'anchor', samples: 1, share: 0.5, leaveShare: 0.4, answer: 'hide', dwellS: 0.1 };
  if (made.mount.kind === 'floating' && has.includes('edge')) made.place = { ...made.place, edge: EDGE };
  else if (made.mount.kind === 'floating' && has.includes('span'))
    made.place = { ...made.place, span: { ...SPAN, to: one.spot === 'lamp' ? 'gate' : 'lamp' } };
  if (has.includes('turned') && made.kind !== 'crosshair') made.turnDeg = 20;
  return made;
}
function documentOf({ things, labels, steady, viewer }: Scene): Document {
  const document = makeDocument('Low Water');
  const at = (timeS: number, x: number, z: number, left: number) => ({ timeS, ...lookingPose([x, 1.6, z], left, 0) });
  document.routes.walk = {
    ...{ name: 'Walk', order: 'a0', poses: [at(0, 0, 2, 0), at(1, 0.5, -1, 0.4), at(2, 0, 1, -0.8)], feeds: [] },
    phases: [
      { timeS: 0, phase: 'ebb' },
      { timeS: 1, phase: 'flood' },
    ],
  };
  document.phases = { ebb: { name: 'Ebb', order: 'a0' }, flood: { name: 'Flood', order: 'a1' } };
  document.viewers.headset = makeHeadset('Headset', 'a9');
  document.viewers = { [viewer]: document.viewers[viewer] as never };
  SPOTS.forEach((id, k) => {
    document.anchors[id] = {
      ...{ kind: 'surface', name: id, order: `a${k}`, node: null, position: [k - 0.4, 1.4, -3 - k], normal: [0, 0, 1] },
      ...(steady && { steady: { cutoffHz: 1, perMps: 0.5 } }),
    } as never;
  });
  document.feeds = {
    tide: {
      name: 'Tide',
      order: 'a0',
      kind: 'number',
      unit: 'm',
      initial: 40,
      source: { kind: 'wander', from: 0, to: 90, perS: 30, seed: 3 },
    },
    lit: { name: 'Lit', order: 'a1', kind: 'flag', unit: '', initial: true, source: { kind: 'fixed' } },
    splash: { name: 'Splash', order: 'a2', kind: 'event', unit: '', initial: { number: 0, place: null } },
  } as never;
  document.labels = { apart: labels.includes('apart'), ...(labels.includes('snap') && { snap: true as const }) };
  things.forEach((one, k) => {
    document.elements[`e${k}`] = elementOf(one, `a${k}`);
    if (one.kind === 'group') document.elements[`in-${k}`] = makeText(insideOf(`e${k}`), 'Low tide', `a${k}V`);
  });
  return parseDocument(JSON.parse(JSON.stringify(document)));
}

it('plays with the parts that its bundle needs alone, bit for bit (property)', async () => {
  const needed = new Set<string>();
  let n = 0;
  await fc.assert(
    fc.asyncProperty(scene, async (one) => {
      const document = documentOf(one);
      const route = document.routes.walk as Route;
      const level = () => readLevel(bytes, { metresPerUnit: 1, upAxis: 'y' });
      const [ours, theirs] = [await level(), await level()];
      const bundle: Built.Bundle = JSON.parse(JSON.stringify({ ...packBundle(document, ours, { fonts: [], pictures: {} }), hash: '' }));
      for (const name of bundle.needs) needed.add(name);
      // What one bundle has put in stays: each has a runtime of its own.
      const address = `${pathToFileURL(join(folder, 'foreshore-runtime.js')).href}?${n++}`;
      const { Runtime } = (await import(/* @vite-ignore */ address)) as typeof Built;
      const parts = await Promise.all(bundle.needs.map(async (name) => (await load(name))[name]));
      const game = new Runtime(bundle, { letters: text, viewer: one.viewer, parts, level: theirs });
      const bench = new Replay(arrange(compile(document, ours), document.viewers[one.viewer] as never, text), route);
      for (let tick = 0; tick <= 60; tick++) {
        const timeS = tick * TICK_S;
        const { f, c } = { ...bench.solver, f: bench.at(timeS) };
        c.feedIds.forEach((feed, k) => {
          const value = f.values[k];
          if (value !== undefined) game.set(feed, value);
        });
        game.setPhase(phaseAt(document, route, timeS));
        game.frame({ timeS, pose: routePose(route, timeS) });
        const { f: played } = game.solver;
        for (const table of ['failed', 'places', 'panels', 'maps', 'gaugeShare', 'edgeRad', 'aimState', 'presence'] as const)
          expect([timeS, table, ...played[table]]).toEqual([timeS, table, ...f[table]]);
        expect([...played.order.subarray(0, played.orderCount)]).toEqual([...f.order.subarray(0, f.orderCount)]);
      }
    }),
    { numRuns: 40, seed: 1 },
  );
  expect([...needed].sort()).toEqual(['apart', 'calm', 'directions', 'measure', 'motions', 'tool', 'trailing']);
}, 120_000);
