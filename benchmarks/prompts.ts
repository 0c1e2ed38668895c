/** A thousand prompts with sight lines on the Low Water level; bands of sixty elements over a minute; a readable area of 40,000 cells. */
import { bandIds, bands, readableArea } from '@foreshore/checks';
import {
  arrange,
  compile,
  type Inputs,
  lookingPose,
  makeSolver,
  type Pose,
  placeLevel,
  readValues,
  solve,
  type Vec3,
} from '@foreshore/core';
import { demo } from '@foreshore/demo';
import { type Document, type Element, makeDocument, makePrompt } from '@foreshore/document';
import { readLevel } from '@foreshore/level';
import { shippedShaper } from '@foreshore/text/node';
import { type Row, timeInTurn } from './measure.ts';

const PROMPTS = 1000;
const TICK_S = 1 / 30;
/** Along the causeway, where the one who walks comes by. */
const WALK_M = 60;

export async function promptRows(): Promise<Row[]> {
  const text = shippedShaper();
  const level = await readLevel(demo.level(), { metresPerUnit: 1, upAxis: 'y' });
  const made = demo.document();
  const many = makeDocument('Low Water');
  many.actions = { use: { name: 'Use', order: 'a0', reactions: [] } };
  let seed = 5;
  const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
  let elements: Record<string, Element> = {};
  // One maker gives three elements; of each only the outermost is kept, so that a thousand are a thousand.
  const [, pattern] = Object.entries(makePrompt({}, 'spot', 'Open', 'use').made)[0] as [string, Element];
  for (let k = 0; k < PROMPTS; k++) {
    const position: Vec3 = [(random() - 0.5) * WALK_M, 0.9 + 1.5 * random(), (random() - 0.5) * 26];
    many.anchors[`spot${k}`] = {
      kind: 'surface',
      name: `Spot ${k}`,
      order: `a${k}`,
      node: null,
      position,
      normal: [0, 1, 0],
      zone: { kind: 'sphere', radiusM: 0.4 },
    };
    elements[`prompt${k}`] = { ...pattern, mount: { kind: 'floating', anchor: `spot${k}` } } as Element;
  }
  many.elements = elements;
  elements = {};
  const solver = makeSolver(arrange(compile(many, level), many.viewers.desk as never, text));
  let tick = 0;
  let rays = 0;
  let ticks = 0;
  const poseAt = (k: number): Pose =>
    lookingPose([((k * 0.1) % WALK_M) - WALK_M / 2, 2.5, 3 * Math.sin(k / 40)], -90 + 40 * Math.sin(k / 25), -10);
  const step = () => {
    tick++;
    solve(solver, { timeS: tick * TICK_S, head: poseAt(tick), depthOrder: false });
    rays += solver.f.rays;
    ticks++;
  };
  // The bare rays that a tick needs: as many, from the eye to points about as far.
  const perTick = () => Math.max(1, Math.round(rays / Math.max(1, ticks)));
  for (let k = 0; k < 300; k++) step();
  const wanted = perTick();
  const bare = (count: number, reachM: number) => () => {
    const { position: p } = poseAt(tick);
    for (let k = 0; k < count; k++) level.sightline(p[0], p[1], p[2], p[0] + reachM * Math.cos(k), p[1] - 0.6, p[2] + reachM * Math.sin(k));
  };
  const [tickMs = 0, rayMs = 0] = timeInTurn(300, [step, bare(wanted, 2.5)]);

  // Sixty of the demo's elements over a minute: its route gone through in that time.
  const route = made.routes['out-to-the-lamp'];
  const kept = Object.fromEntries(Object.entries(made.elements).slice(0, 60));
  const whole: Document = { ...made, elements: kept };
  const some = Object.fromEntries(
    Object.entries(kept).filter(
      ([, e]) => (e.mount.kind !== 'inside' || kept[e.mount.group] !== undefined) && (e.kind !== 'instance' || kept[e.of] !== undefined),
    ),
  );
  const compiled = compile({ ...whole, elements: some }, level);
  const arranged = arrange(compiled, made.viewers.desk as never, text);
  if (!route) throw new Error('The demo has lost its route.');
  const minute = { ...route, poses: route.poses.map((p) => ({ ...p, timeS: p.timeS * 1.5 })) };
  const samples = 600;
  const start: Pose = { position: [0, 3, 0], rotation: [0, 0, 0, 1] };
  const [bandsMs = 0, minuteRaysMs = 0] = timeInTurn(3, [() => bands(arranged, minute), bare(samples * 60, 12)]);

  placeLevel(compiled, null, 8, start, {});
  const inputs: Inputs = {
    timeS: 8,
    head: start,
    depthOrder: false,
    values: readValues(compiled, null, 8, start, {}),
    phase: 'roaming',
  };
  const area = () => readableArea({ arranged: [arranged], inputs, row: 'tide-board', count: 200 });
  const hits = 40000;
  const [areaMs = 0, groundMs = 0] = timeInTurn(3, [area, bare(2 * hits, 30)]);
  return [
    {
      name: `a tick of ${PROMPTS} prompts / the bare rays it casts`,
      n: PROMPTS,
      medianMs: tickMs,
      ratio: tickMs / rayMs,
      raysPerTick: wanted,
      bareRaysMs: rayMs,
    },
    {
      name: 'bands over 60 s / a bare ray an element and sample',
      n: bandIds(compiled).length,
      medianMs: bandsMs,
      ratio: bandsMs / minuteRaysMs,
      bareRaysMs: minuteRaysMs,
    },
    { name: 'readable area / two bare rays a cell', n: hits, medianMs: areaMs, ratio: areaMs / groundMs, bareRaysMs: groundMs },
  ];
}
