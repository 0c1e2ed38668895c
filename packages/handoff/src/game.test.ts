/** What a game says, in the calculation's terms, whatever convention it has; and what is wrong with it. */
import { readFileSync } from 'node:fs';
import { type Document, makeDocument } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CONVENTIONS, fovOut, pointOut, rotationOut } from './convention.ts';
import { type GameNow, gameFaults, readGame, stateSchema } from './game.ts';
import { gameApiJson } from './game-api.ts';

const document = (): Document => {
  const made = makeDocument('Low Water');
  made.feeds.tide = { name: 'Tide', order: 'a0', kind: 'number', unit: 'm', initial: 0.3, range: [-1, 2] };
  made.feeds.log = { name: 'Log', order: 'a1', kind: 'list', unit: '', initial: [] };
  made.feeds.surge = { name: 'Surge', order: 'a2', kind: 'event', unit: '', initial: { number: 0, place: [0, 0, 0] } };
  made.phases = { roaming: { name: 'Roaming', order: 'a0' } };
  return made;
};
const silent: GameNow = { timeS: 0, camera: null, lens: null, phase: null, pointer: null, feeds: {}, objects: {} };
const sent = (feeds: Record<string, unknown>, ageS = 0): GameNow['feeds'] =>
  Object.fromEntries(Object.entries(feeds).map(([name, value]) => [name, { value: value as never, ageS }]));
const far = fc.double({ min: -500, max: 500, noNaN: true });

describe('what a game says', () => {
  it('is read back in every convention as it was meant: camera, lens and places of events (property)', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...CONVENTIONS),
        fc.tuple(far, far, far),
        fc.tuple(far, far, far, far).filter((q) => Math.hypot(...q) > 1),
        fc.double({ min: 20, max: 100, noNaN: true }),
        (convention, place, q, fovDeg) => {
          const long = Math.hypot(...q);
          const rotation = q.map((v) => v / long) as [number, number, number, number];
          // Games keep quaternions that have drifted from length 1.
          const theirs = rotationOut(convention, rotation).map((v) => v * 1.01) as [number, number, number, number];
          const now: GameNow = {
            ...silent,
            camera: { position: pointOut(convention, place), rotation: theirs },
            lens: { fov: fovOut(convention, fovDeg, 1.6), aspect: 1.6 },
            feeds: sent({ surge: { number: 3, place: pointOut(convention, place) } }),
          };
          const read = readGame(document(), now, convention);
          expect(read.fovDeg).toBeCloseTo(fovDeg, 6);
          const surge = read.values.surge as { number: number; place: number[] };
          for (const k of [0, 1, 2] as const) {
            expect(read.pose?.position[k]).toBeCloseTo(place[k], 6);
            expect(surge.place[k]).toBeCloseTo(place[k], 6);
          }
          // A quaternion and its negative are one rotation.
          const dot = rotation.reduce((sum, v, k) => sum + v * (read.pose?.rotation[k] ?? 0), 0);
          expect(Math.abs(dot)).toBeCloseTo(1, 9);
        },
      ),
    );
  });

  it('goes by id or name; a value of another kind is left out, and nothing stands in for what was not said', () => {
    const read = readGame(document(), { ...silent, phase: 'Roaming', feeds: sent({ Tide: 1, log: 4, gulls: 2 }) });
    expect(read).toMatchObject({ phase: 'roaming', pose: null, fovDeg: null });
    expect(read.values).toEqual({ tide: 1 });
    expect(readGame(document(), { ...silent, phase: 'flying' }).phase).toBeNull();
  });

  it('has its faults named, and none where it has none', () => {
    const camera = { position: [0, 0, 0], rotation: [0, 0, 0, 1] } as never;
    const supplied = ['tide', 'log', 'surge'];
    const fine = { ...silent, camera, phase: 'roaming', feeds: sent({ tide: 1, log: ['low'] }) };
    expect(gameFaults(document(), fine, supplied)).toEqual([]);
    expect(gameFaults(document(), silent, supplied)).toEqual([
      { kind: 'noCamera' },
      { kind: 'never', name: 'Tide' },
      { kind: 'never', name: 'Log' },
    ]);
    const bad = {
      ...silent,
      camera: { position: [0, 0, 0], rotation: [0, 0, 0, 0] } as never,
      phase: 'flying',
      feeds: { ...sent({ tide: 2.5, gulls: 2 }), ...sent({ log: 4 }, 30), ...sent({ surge: { number: 1, place: [0, 0, 0] } }, 30) },
    };
    expect(gameFaults(document(), bad, supplied)).toEqual([
      { kind: 'badRotation' },
      { kind: 'unknownPhase', name: 'flying' },
      { kind: 'outOfRange', name: 'Tide', value: 2.5, range: [-1, 2] },
      { kind: 'unknownFeed', name: 'gulls' },
      { kind: 'otherKind', name: 'Log', is: 'number', meant: 'list' },
      { kind: 'stale', name: 'Log', ageS: 30 },
    ]);
  });

  it('has values of objects under their names, and its lists hold numbers and flags as they are written', () => {
    const each = document();
    each.feeds.lean = { name: 'Lean', order: 'a3', kind: 'number', unit: 'deg', initial: 0, range: [0, 45], each: true };
    const camera = { position: [0, 0, 0], rotation: [0, 0, 0, 1] } as never;
    const said = (objects: Record<string, Record<string, unknown>>, feeds = {}, ageS = 0): GameNow => ({
      ...{ ...silent, camera, feeds: sent({ tide: 1, log: [3, 'low', true], ...feeds }) },
      objects: Object.fromEntries(Object.entries(objects).map(([name, of]) => [name, sent(of, ageS)])),
    });
    const now = said({ 'Stake 1': { Lean: 12 }, 'Stake 2': { lean: 'much' }, 'Stake@3': { lean: 4, tide: 2 } });
    expect(stateSchema.safeParse({ objects: { 'Stake 1': { Lean: 12 } }, feeds: { log: [3, 'low', true] } }).success).toBe(true);
    expect(readGame(each, now).values).toEqual({ tide: 1, log: ['3', 'low', 'true'], 'lean@Stake 1': 12, 'lean@Stake@3': 4 });
    const read = ['lean', 'lean@Stake 1', 'lean@Stake 2', 'lean@Stake@3', 'lean@Stake 4'];
    const faults = (one: GameNow, of = read) => gameFaults(each, one, ['lean'], of);
    expect(faults(now)).toEqual([
      { kind: 'otherKind', name: 'Lean', is: 'text', meant: 'number' },
      { kind: 'notEach', name: 'Tide', object: 'Stake@3' },
      { kind: 'neverOf', name: 'Lean', object: 'Stake 4', count: 1 },
    ]);
    // What is said of all stands in for those of which nothing is said.
    expect(faults(said({ 'Stake 1': { lean: 50 } }, { lean: 1 }))).toEqual([
      { kind: 'outOfRange', name: 'Lean', value: 50, range: [0, 45] },
    ]);
    expect(faults(said({ 'Stake 01': { lean: 5 }, 'Stake 02': { lean: 6 } }))).toEqual([
      { kind: 'neverOf', name: 'Lean', object: 'Stake 1', count: 4 },
      { kind: 'noObject', name: 'Lean', object: 'Stake 01', count: 2 },
    ]);
    // Without the level nobody knows which objects there are.
    expect(faults(said({ 'Stake 01': { lean: 5 } }), [])).toEqual([]);
    expect(faults(said({}), [])).toEqual([{ kind: 'never', name: 'Lean' }]);
    // Of many with the same fault, one is told.
    expect(faults(said(Object.fromEntries(read.slice(1).map((key) => [key.slice(5), { lean: 3 }])), {}, 30))).toEqual([
      { kind: 'stale', name: 'Lean', ageS: 30 },
    ]);
  });

  it('is held to its schema: no number that is none, no text without end', () => {
    for (const wrong of [
      { timeS: -1 },
      { timeS: Number.NaN },
      { camera: { position: [1, 2], rotation: [0, 0, 0, 1] } },
      { lens: { fov: 0, aspect: 1 } },
      { feeds: { tide: null } },
      { feeds: { log: 'x'.repeat(4001) } },
      { feeds: { log: Array(1001).fill('x') } },
      { other: 1 },
    ])
      expect(stateSchema.safeParse(wrong).success).toBe(false);
    expect(stateSchema.safeParse({}).success).toBe(true);
  });

  it('is described by a document that is as the schemas are', () => {
    expect(readFileSync(new URL('../../../docs/game.asyncapi.json', import.meta.url), 'utf8')).toBe(gameApiJson());
  });
});
