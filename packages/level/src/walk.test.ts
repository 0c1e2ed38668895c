/** Walking in first person on real level geometry. It stands here because the core knows no level files. */
import { type Body, bestStandpoint, type Intent, makeHit, type Pose, walk, walkFrom } from '@foreshore/core';
import { describe, expect, it } from 'vitest';
import { readLevel } from './read.ts';
import { addBox, newLevel, toBinary } from './sample.ts';

const BODY: Body = { eyeHeightM: 1.65, radiusM: 0.3, stepM: 0.4, speedMps: 3 };
const AHEAD: Intent = { right: 0, up: 0, forward: 1, fast: false };
const STILL: Intent = { right: 0, up: 0, forward: 0, fast: false };
const DT = 1 / 60;

/** A node that draws one point. */
function newLevelWithPoint() {
  const document = newLevel();
  const position = document
    .createAccessor()
    .setType('VEC3')
    .setArray(new Float32Array([0, 1, 0]))
    .setBuffer(document.createBuffer());
  const primitive = document.createPrimitive().setAttribute('POSITION', position).setMode(0);
  document.createScene().addChild(document.createNode('Mark').setMesh(document.createMesh('Mark').addPrimitive(primitive)));
  return document;
}

/** Ground with its top at y = 0, 20 m across; a wall whose face is at z = −5; a step 0.3 m high from z = 2 to 4. */
async function quay() {
  const document = newLevel();
  addBox(document, 'Ground', 10, [0, -10, 0]);
  addBox(document, 'Wall', 3, [0, 3, -8]);
  addBox(document, 'Step', 1, [0, -0.7, 3]);
  const level = await readLevel(await toBinary(document), { metresPerUnit: 1, upAxis: 'y' });
  level.poses([]);
  return level;
}
const standing = (x: number, z: number, yawDeg = 0) => {
  const state = walkFrom({ position: [x, BODY.eyeHeightM, z], rotation: [0, 0, 0, 1] }, false);
  state.yawDeg = yawDeg;
  state.onGround = true;
  return state;
};

describe('where to stand at first', () => {
  it('is on firm ground, with room ahead, and turned to the level', async () => {
    const level = await quay();
    const { position, rotation } = bestStandpoint(level, level.bounds() as never, BODY.eyeHeightM) as Pose;
    const hit = makeHit();
    // The feet are on a surface, not on the inside of a solid that lies deeper.
    expect(position[1]).toBeGreaterThan(BODY.eyeHeightM - 0.5);
    expect(level.castRay(position, [0, -1, 0], 5, hit)).toBe(true);
    expect(hit.distanceM).toBeCloseTo(BODY.eyeHeightM, 6);
    // Nothing within 2 m ahead; and of rays over a view of 60 degrees that look a little down, most meet the level.
    const [qx, qy, qz, qw] = rotation;
    const forward = [-2 * (qx * qz + qw * qy), -2 * (qy * qz - qw * qx), -(1 - 2 * (qx * qx + qy * qy))] as const;
    expect(level.castRay(position, [...forward], 2, hit)).toBe(false);
    const heading = Math.atan2(forward[0], forward[2]);
    let met = 0;
    for (let k = -10; k <= 10; k++) {
      const yaw = heading + (k * 3 * Math.PI) / 180;
      const down = Math.sin((-10 * Math.PI) / 180);
      const flat = Math.cos((-10 * Math.PI) / 180);
      if (level.castRay(position, [Math.sin(yaw) * flat, down, Math.cos(yaw) * flat], 100, hit)) met++;
    }
    expect(met).toBeGreaterThan(10);
  });
  it('is nowhere where there is no ground', async () => {
    const level = await readLevel(await toBinary(newLevelWithPoint()), { metresPerUnit: 1, upAxis: 'y' });
    expect(bestStandpoint(level, { least: [0, 0, 0], greatest: [1, 1, 1] }, 1.65)).toBeNull();
  });
});

describe('walking', () => {
  it('goes at its speed over level ground, eyes at their height', async () => {
    const [level, state] = [await quay(), standing(5, 8)];
    for (let k = 0; k < 60; k++) walk(state, AHEAD, DT, BODY, level);
    expect(state.position[2]).toBeCloseTo(8 - 3, 6);
    expect(state.position[1]).toBeCloseTo(1.65, 6);
  });

  it('stops before a wall by the body, and slides along it when it comes askew', async () => {
    const level = await quay();
    const head = standing(0, -3);
    for (let k = 0; k < 120; k++) walk(head, AHEAD, DT, BODY, level);
    expect(head.position[2]).toBeGreaterThanOrEqual(-5 + BODY.radiusM - 1e-6);
    expect(head.position[2]).toBeLessThan(-4.5);
    const askew = standing(-2, -4, -45);
    for (let k = 0; k < 40; k++) walk(askew, AHEAD, DT, BODY, level);
    expect(askew.position[0]).toBeGreaterThan(-1.2);
    expect(askew.position[2]).toBeGreaterThanOrEqual(-5 + BODY.radiusM - 1e-6);
  });

  it('steps over what is not higher than a step', async () => {
    const [level, state] = [await quay(), standing(0, 6)];
    for (let k = 0; k < 60; k++) walk(state, AHEAD, DT, BODY, level);
    expect(state.position[2]).toBeCloseTo(3, 1);
    expect(state.position[1]).toBeCloseTo(1.65 + 0.3, 1);
  });

  it('falls over an edge, faster and faster, as free fall does', async () => {
    const [level, state] = [await quay(), standing(9.9, 0, -90)];
    while (state.onGround) walk(state, AHEAD, DT, BODY, level);
    const from = state.position[1];
    for (let k = 0; k < 30; k++) walk(state, STILL, DT, BODY, level);
    // Half a second of free fall from rest: 1.23 m; steps of 1/60 s and the first one's speed add less than a quarter.
    expect(from - state.position[1]).toBeGreaterThan(1.2);
    expect(from - state.position[1]).toBeLessThan(1.55);
  });

  it('ends a fall from the level at the last safe ground', async () => {
    const [level, state] = [await quay(), standing(9, 0, -90)];
    let lowest = 0;
    // Off the edge, which lies 1 m ahead; then 20 s of doing nothing.
    for (let k = 0; k < 60; k++) walk(state, AHEAD, DT, BODY, level);
    for (let k = 0; k < 20 * 60; k++) {
      walk(state, STILL, DT, BODY, level);
      lowest = Math.min(lowest, state.position[1]);
    }
    expect(lowest).toBeLessThan(0);
    expect(lowest).toBeGreaterThan(-60);
    expect(state.onGround).toBe(true);
    expect(state.position[0]).toBeGreaterThan(9);
    expect(state.position[0]).toBeLessThan(10.1);
    expect(state.position[1]).toBeCloseTo(1.65, 3);
  });

  it('does not fall in a level without any ground', async () => {
    const document = newLevel();
    addBox(document, 'Buoy', 1, [20, 0, 0]);
    const level = await readLevel(await toBinary(document), { metresPerUnit: 1, upAxis: 'y' });
    level.poses([]);
    const state = walkFrom({ position: [0, 1.65, 0], rotation: [0, 0, 0, 1] }, false);
    for (let k = 0; k < 600; k++) walk(state, STILL, DT, BODY, level);
    expect(state.position).toEqual([0, 1.65, 0]);
  });

  it('flies where it looks, through walls', async () => {
    const [level, state] = [await quay(), standing(0, -3)];
    state.flying = true;
    state.pitchDeg = 30;
    for (let k = 0; k < 60; k++) walk(state, AHEAD, DT, BODY, level);
    expect(state.position[2]).toBeCloseTo(-3 - 6, 6);
    expect(state.position[1]).toBeCloseTo(1.65 + 3, 6);
  });
});
