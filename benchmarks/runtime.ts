/** A frame of the built runtime against the bench's own solve of the same frame: time, and what it allocates. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { arrange, compile, type Inputs, makeSolver, type Pose, solve, TICK_S } from '@foreshore/core';
import { type Document, makeDocument, makeLabel } from '@foreshore/document';
import { packBundle } from '@foreshore/handoff';
import type * as Built from '@foreshore/runtime';
import { shippedShaper } from '@foreshore/text/node';
import { buildRuntime } from '../packages/runtime/build.mjs';
import { bytesPerFrame, dice, type Row, timeInTurn } from './measure.ts';

function scene(n: number): Document {
  const document = makeDocument('Low Water');
  const random = dice(1987);
  for (let k = 0; k < n; k++) {
    const id = `stake-${k}`;
    const position: [number, number, number] = [(random() - 0.5) * 60, random() * 6, -5 - random() * 60];
    document.anchors[id] = { kind: 'surface', name: id, order: 'a0', node: null, position, normal: [0, 1, 0] };
    document.elements[id] = makeLabel(id, `Stake ${k}`, 'a0');
  }
  return document;
}

// A field of a plain object that counts time costs 16 bytes a write.
class GameInput implements Built.FrameInput {
  timeS = 0;
  constructor(readonly pose: Pose) {}
}
class BenchInputs implements Inputs {
  timeS = 0;
  readonly depthOrder = true;
  constructor(readonly head: Pose) {}
}

/** Frames between two looks at the clock: one is too short for it. */
const FRAMES = 200;

export async function runtimeRows(n = 300): Promise<Row[]> {
  const folder = mkdtempSync(join(tmpdir(), 'foreshore-runtime-'));
  const sizes = await buildRuntime(folder);
  const { Runtime } = (await import(pathToFileURL(join(folder, 'foreshore-runtime.js')).href)) as typeof Built;
  const document = scene(n);
  const text = shippedShaper();
  const bundle = JSON.parse(JSON.stringify({ ...packBundle(document, null, { fonts: [], pictures: {} }), hash: '' })) as Built.Bundle;
  const game = new Runtime(bundle, { letters: text, viewer: 'desk' });
  const solver = makeSolver(arrange(compile(document, null), document.viewers.desk as never, text));
  const pose: Pose = { position: [0, 2, 0], rotation: [0, 0, 0, 1] };
  const inputs = new BenchInputs(pose);
  const input = new GameInput(pose);
  const [ours, bench] = timeInTurn(60, [
    () => {
      for (let k = 0; k < FRAMES; k++) {
        input.timeS += TICK_S;
        pose.position[0] = Math.sin(input.timeS);
        game.frame(input);
      }
    },
    () => {
      for (let k = 0; k < FRAMES; k++) {
        inputs.timeS += TICK_S;
        pose.position[0] = Math.sin(inputs.timeS);
        solve(solver, inputs);
      }
    },
  ]) as [number, number];
  const bytes = bytesPerFrame(1000, () => {
    input.timeS += TICK_S;
    pose.position[0] = Math.sin(input.timeS);
    game.frame(input);
  });
  rmSync(folder, { recursive: true, force: true });
  return [
    {
      name: "a frame of the runtime, against the bench's solve",
      n,
      medianMs: ours / FRAMES,
      ratio: ours / bench,
      bytesPerFrame: bytes,
      gzippedBytes: sizes['foreshore-runtime']?.gzipped ?? null,
    },
  ];
}
