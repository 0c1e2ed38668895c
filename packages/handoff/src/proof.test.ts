/**
 * Proof frames against a port that is not ours: plain matrix code in another convention (left-handed, Z up, X ahead, centimetres,
 * horizontal angle of view). It passes; and each known fault, put into it, is named.
 */
import { lookingPose, type Vec3 } from '@foreshore/core';
import { demo } from '@foreshore/demo';
import { type Document, makeDocument, makeLabel } from '@foreshore/document';
import { readLevel } from '@foreshore/level';
import { shippedShaper } from '@foreshore/text/node';
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { CONVENTIONS, type Convention } from './convention.ts';
import { diagnose, FAULT_WORDS, FAULTS, type Fault, type Results, resultsSchema } from './diagnose.ts';
import { makeProof, type Proof, type ProofFrame, proofCsv } from './proof.ts';

const THEIRS = CONVENTIONS[3] as Convention;
const text = shippedShaper();

/** The port: rows of a 3x3 matrix, dot products and one division. Shares nothing with the code under test. */
function port({ frames }: Proof, fault: Fault | null): Results {
  const seen = (frame: ProofFrame, before: ProofFrame | undefined, place: readonly number[]) => {
    const { camera } = fault === 'oldFrame' && before ? before : frame;
    const { screen } = frame;
    const [a, b, c, d] = camera.rotation;
    const [x, y, z, w] = fault === 'quaternionOrder' ? [b, c, d, a] : [a, b, c, d];
    let m = [
      [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
      [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
      [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
    ] as [number[], number[], number[]];
    if (fault === 'rowForColumn') m = [0, 1, 2].map((i) => m.map((row) => row[i] as number)) as typeof m;
    const scale = fault === 'unit' ? 0.01 : 1;
    const v = place.map((p, k) => scale * (p - (camera.position[k] as number)));
    // Columns of the matrix: ahead is x, to the right y, up z.
    const along = (k: number) => v.reduce((sum, value, i) => sum + value * ((m[i] as number[])[k] as number), 0);
    let depth = along(0);
    let right = along(1);
    const up = along(2);
    if (fault === 'zFlipped') depth = -depth;
    if (fault === 'handedness') right = -right;
    const near = camera.near * scale;
    const testsDepth = fault !== 'mirroredBehind' && fault !== 'unclampedBehind';
    if (testsDepth && depth <= near) return { x: null, y: null, depth: null, inFront: false };
    const by = fault === 'unclampedBehind' ? Math.abs(depth) : depth;
    const { widthPx: W, heightPx: H } = screen;
    const rad = Math.PI / 180;
    let [px, py] = [0, 0];
    const { lens } = camera;
    if (lens.kind === 'offAxis') {
      const tan = (deg: number) => Math.tan(deg * rad);
      px = (W * (right / by - tan(lens.left))) / (tan(lens.right) - tan(lens.left));
      py = (H * (tan(lens.up) - up / by)) / (tan(lens.up) - tan(lens.down));
    } else if (lens.kind === 'perspective') {
      const half = fault === 'fovUnit' ? lens.fov / 2 : (lens.fov / 2) * rad;
      const aspect = fault === 'aspect' ? 1.25 : W / H;
      const [tanH, tanV] = fault === 'fovAxis' ? [Math.tan(half) * aspect, Math.tan(half)] : [Math.tan(half), Math.tan(half) / aspect];
      px = (W / 2) * (1 + right / by / tanH);
      py = (H / 2) * (1 - up / by / tanV);
    }
    if (fault === 'yFlipped') py = H - py;
    if (fault === 'halfPixel') [px, py] = [px + 0.5, py + 0.5];
    if (fault === 'originCentre') [px, py] = [px - W / 2, py - H / 2];
    const far = 100_000;
    const told = fault === 'depthBuffer' ? far / (far - near) - (far * near) / (far - near) / depth : depth;
    return { x: px, y: py, depth: told, inFront: true };
  };
  return {
    frames: frames.map((frame, k) => ({
      id: frame.id,
      points: Object.fromEntries(Object.entries(frame.points).map(([name, { place }]) => [name, seen(frame, frames[k - 1], place)])),
    })),
  };
}

/** A document of anchors and a route of cameras. */
function scene(places: readonly Vec3[], cameras: readonly [Vec3, number, number][], fovDeg: number): Document {
  const document = makeDocument('Low Water');
  places.forEach((position, k) => {
    const id = `stake-${k}`;
    document.anchors[id] = { kind: 'surface', name: id, order: 'a0', node: null, position, normal: [0, 1, 0] };
    document.elements[id] = makeLabel(id, id, 'a0');
  });
  document.routes.walk = {
    name: 'Walk',
    order: 'a0',
    poses: cameras.map(([position, yaw, pitch], k) => ({ timeS: k, ...lookingPose(position, yaw, pitch) })),
    feeds: [],
    phases: [],
  };
  const [viewer] = Object.values(document.viewers);
  document.viewers = {
    desk: {
      ...(viewer as never as object),
      lens: { kind: 'perspective', fovDeg, fovAxis: 'vertical', hold: 'vertical', nearM: 0.1 },
    } as never,
  };
  return document;
}

let proof: Proof;
beforeAll(async () => {
  const level = await readLevel(demo.level(), { metresPerUnit: 1, upAxis: 'y' });
  proof = makeProof(demo.document(), level, text, THEIRS);
}, 120_000);

describe('proof frames', () => {
  it('cover what a port has to get right', () => {
    const covered = new Set(proof.frames.flatMap(({ covers }) => covers));
    for (const one of [
      'behind',
      'in the frame',
      'beside the frame',
      'near',
      'at an edge of the frame',
      'screen perspective',
      'headset offAxis',
    ])
      expect(covered).toContain(one);
    const cases = [...covered].join('\n');
    for (const mount of ['floating', 'glass', 'standing', 'trailing', 'inside']) expect(cases).toMatch(new RegExp(`^${mount} `, 'm'));
    for (const step of ['Phase', 'Range', 'View', 'Sightline', 'Place']) expect(cases).toMatch(new RegExp(`hidden by ${step}`, 'i'));
    // JSON does not change them, and CSV has a line for each point.
    expect(JSON.parse(JSON.stringify(proof))).toEqual(proof);
    const lines = proofCsv(proof).trim().split('\n');
    expect(lines).toHaveLength(1 + proof.frames.reduce((sum, { points }) => sum + Object.keys(points).length, 0));
  });

  it('an independent port in another convention passes all of them', () => {
    const verdict = diagnose(proof, port(proof, null));
    expect(verdict).toMatchObject({ different: 0, missing: [], fault: null, first: null });
    expect(verdict.compared).toBeGreaterThan(500);
  });

  it.each(FAULTS)('%s, put into it, is named, and no other', (fault) => {
    const verdict = diagnose(proof, resultsSchema.parse(JSON.parse(JSON.stringify(port(proof, fault)))));
    expect(verdict.fault).toBe(fault);
    expect(verdict.alsoPossible).toEqual([]);
    expect(verdict.first).not.toBeNull();
    expect(FAULT_WORDS[fault]).toMatch(/\.$/);
  });

  it('one fault with random cameras, places and lenses: at least 95 % are named (counted)', () => {
    const coordinate = fc.double({ min: -40, max: 40, noNaN: true });
    const place = fc.tuple(coordinate, coordinate, coordinate) as fc.Arbitrary<Vec3>;
    const camera = fc.tuple(place, fc.double({ min: -180, max: 180, noNaN: true }), fc.double({ min: -70, max: 70, noNaN: true }));
    let [named, asked] = [0, 0];
    const others: string[] = [];
    fc.assert(
      fc.property(
        fc.array(place, { minLength: 6, maxLength: 12 }),
        fc.array(camera, { minLength: 4, maxLength: 8 }),
        fc.double({ min: 30, max: 110, noNaN: true }),
        fc.constantFrom(...FAULTS),
        (places, cameras, fov, fault) => {
          const random = makeProof(scene(places, cameras, fov), null, text, THEIRS);
          const verdict = diagnose(random, port(random, fault));
          // Where the fault changes nothing that is seen, there is nothing to name.
          if (verdict.different === 0) return;
          asked++;
          if (verdict.fault === fault) named++;
          else others.push(`${fault} taken for ${verdict.fault}`);
        },
      ),
      { numRuns: 200 },
    );
    expect(asked).toBeGreaterThan(150);
    expect(named / asked, others.join('; ')).toBeGreaterThanOrEqual(0.95);
  });

  it('says what is missing, and that nothing known explains what differs', () => {
    const results = port(proof, null);
    const [first, ...rest] = results.frames;
    expect(diagnose(proof, { frames: rest }).missing).toEqual([first?.id]);
    const bent = structuredClone(results);
    for (const { points } of bent.frames) for (const point of Object.values(points)) if (point.x !== null) point.x = point.x * 1.1 + 3;
    expect(diagnose(proof, bent)).toMatchObject({ fault: null });
    expect(diagnose(proof, bent).different).toBeGreaterThan(100);
  });
});
