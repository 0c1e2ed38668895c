/**
 * The border check of a level, in Node: what would harm is refused with its place, what does no harm is a warning,
 * compressed meshes are unpacked, and the size of the world is told.
 */
import { createRequire } from 'node:module';
import { Worker } from 'node:worker_threads';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { MeshoptDecoder } from 'meshoptimizer/decoder';
import { type GltfJson, MOST_LEVEL_BYTES, openBinary, writeBinary } from './container.ts';
import { LevelError, type LevelFault, levelError } from './faults.ts';
import type { LevelModel } from './model.ts';
import { openDocument, type ReadOptions, readLevel } from './read.ts';
import { structureFaults } from './structure.ts';

const require = createRequire(import.meta.url);
// Each is loaded when it is first used: most commands open no level, and most levels are not compressed.
const validator = () => require('gltf-validator') as { validateBytes(bytes: Uint8Array, options: object): Promise<ValidatorReport> };
const draco3d = () => require('draco3dgltf') as { createDecoderModule(options?: object): Promise<unknown> };

interface ValidatorReport {
  issues: { messages: { code: string; message: string; severity: number; pointer?: string }[]; truncated: boolean };
}

/** Faults of severity "error" that change nothing of what is read. */
const HARMLESS = new Set([
  'ACCESSOR_MIN_MISMATCH',
  'ACCESSOR_MAX_MISMATCH',
  'ACCESSOR_ELEMENT_OUT_OF_MIN_BOUND',
  'ACCESSOR_ELEMENT_OUT_OF_MAX_BOUND',
  'MESH_PRIMITIVE_TANGENT_SPACE',
  'ACCESSOR_VECTOR3_NON_UNIT',
  'ACCESSOR_NON_UNIT',
  'ACCESSOR_INVALID_SIGN',
  'ACCESSOR_ANIMATION_SAMPLER_OUTPUT_NON_NORMALIZED_QUATERNION',
  'IMAGE_DATA_INVALID',
  'IMAGE_UNRECOGNIZED_FORMAT',
  'IMAGE_MIME_TYPE_INVALID',
  'MESH_PRIMITIVE_POSITION_ACCESSOR_WITHOUT_BOUNDS',
  'ANIMATION_SAMPLER_INPUT_ACCESSOR_WITHOUT_BOUNDS',
  'MESH_PRIMITIVE_ACCESSOR_UNALIGNED',
  'BUFFER_VIEW_TARGET_OVERRIDE',
  'MESH_PRIMITIVE_GENERATED_TANGENT_SPACE',
  'UNDECLARED_EXTENSION',
  'UNEXPECTED_EXTENSION_OBJECT',
  'ARRAY_LENGTH_NOT_IN_LIST',
  'DUPLICATE_EXTENSIONS',
  'ROTATION_NON_UNIT',
  'INVALID_URI',
  'SKIN_NO_COMMON_ROOT',
  'SKIN_NO_SCENE',
  'NODE_SKINNED_MESH_WITHOUT_SKIN',
  'ACCESSOR_INDEX_TRIANGLE_DEGENERATE',
  'MESH_PRIMITIVE_ATTRIBUTES_ACCESSOR_INVALID_FORMAT',
  'UNEXPECTED_PROPERTY',
  'ACCESSOR_WEIGHTS_NON_NORMALIZED',
  'ACCESSOR_JOINTS_USED_ZERO_WEIGHT',
  'PER_MESH_INVALID',
  'GLB_CHUNK_TOO_BIG',
  'GLB_EXTRA_DATA',
]);

export interface CheckedLevel {
  /** The level to keep: the given bytes, or the same level with its meshes unpacked. */
  bytes: Uint8Array;
  warnings: LevelFault[];
  /** Extent in the file's own units, along its own axes. */
  size: [number, number, number];
  nodes: number;
  triangles: number;
  /** The extent is not that of a place people walk in, so the unit should be asked for. */
  asksUnit: boolean;
  model: LevelModel;
}

/** The decoders of compressed meshes, in Node. */
export async function nodeDecoders(): Promise<Record<string, unknown>> {
  await MeshoptDecoder.ready;
  return { 'draco3d.decoder': await draco3d().createDecoderModule(), 'meshopt.decoder': MeshoptDecoder };
}

const COMPRESSIONS = ['KHR_draco_mesh_compression', 'EXT_meshopt_compression'];

/** glTF 2.0, mesh.primitive.mode: what is below are points and lines. */
const TRIANGLES = 4;
const NO_TRIANGLES =
  'The level has points or lines only: nothing of it is drawn, nothing blocks a sight, and there is no ground. Anchors can be put on its nodes and be tried; move about by flying.';

/** What is being done with a level that was brought. */
export const LEVEL_STAGES = ['check', 'read', 'prepare'] as const;
export type LevelStage = (typeof LEVEL_STAGES)[number];

interface LevelCheckOptions extends Partial<ReadOptions> {
  /** The validator runs in a thread of its own, while the level is read here: for a program that opens one level. */
  aside?: boolean;
}

/** @throws LevelError with every fault that does harm. */
export async function checkLevel(
  bytes: Uint8Array,
  options: LevelCheckOptions = {},
  onStage: (stage: LevelStage) => void = () => {},
): Promise<CheckedLevel> {
  try {
    return await check(bytes, options, onStage);
  } catch (error) {
    if (error instanceof LevelError) throw error;
    // A document of odd parts, over which one of its readers stumbled.
    throw levelError('read', `the level cannot be read: ${(error as Error).message}`);
  }
}

async function check(bytes: Uint8Array, options: LevelCheckOptions, onStage: (stage: LevelStage) => void): Promise<CheckedLevel> {
  if (bytes.byteLength > MOST_LEVEL_BYTES)
    throw levelError(
      'size',
      `the level has ${(bytes.byteLength / 1048576).toFixed(0)} MB; at most ${MOST_LEVEL_BYTES / 1048576} MB are taken`,
    );
  const { json, bin } = openBinary(bytes);
  const structural = structureFaults(json);
  if (structural.length) throw new LevelError(structural);
  onStage('check');
  const { metresPerUnit = 1, upAxis = 'y', aside = false } = options;
  const read = (from: Uint8Array) => readLevel(from, { metresPerUnit, upAxis });
  const compressed = (json.extensionsUsed ?? []).some((name) => COMPRESSIONS.includes(name));
  const report = reportOf(bytes, aside);
  // Its structure holds, so reading it ends; where the validator refuses it, what reading came to does not matter.
  const early = aside && !compressed ? read(bytes) : null;
  early?.catch(() => {});
  const { faults, warnings } = judge(await report);
  if (faults.length) throw new LevelError(faults);
  const sound = withoutUnused(json, warnings);
  let kept = sound === json ? bytes : writeBinary(sound, bin);
  if (compressed) kept = await unpack(sound, bin);
  onStage('read');
  const model = await (early && kept === bytes ? early : read(kept));
  const triangles = model.parts.parts.reduce((sum, part) => sum + part.indices.length / 3, 0);
  if (triangles === 0) {
    const drawsLines = (json.meshes ?? []).some(({ primitives }) => primitives.some(({ mode = TRIANGLES }) => mode < TRIANGLES));
    if (!drawsLines) throw levelError('empty', 'the level has no surface: there is no triangle in its scene');
    warnings.push({ code: 'NO_TRIANGLES', pointer: '/meshes', message: NO_TRIANGLES });
  }
  const bounds = model.bounds();
  const size = bounds
    ? (bounds.greatest.map((v, k) => v - (bounds.least[k] as number)) as [number, number, number])
    : ([0, 0, 0] as [number, number, number]);
  const widest = Math.max(...size);
  if (!Number.isFinite(widest)) throw levelError('size', 'the level has a place that is not a finite number');
  return {
    bytes: kept,
    warnings,
    size,
    nodes: model.nodeIds.length,
    triangles,
    asksUnit: triangles > 0 && (widest > 3000 || widest < 3),
    model,
  };
}

const ASKED = { maxIssues: 2000 };
/** It is plain code, since where this runs from sources a thread cannot. */
const ASIDE = `const { parentPort, workerData } = require('node:worker_threads');
require(workerData.validator).validateBytes(workerData.bytes, workerData.asked).then(
  (report) => parentPort.postMessage({ report }),
  (error) => parentPort.postMessage({ error: String(error) }),
);`;

function reportAside(bytes: Uint8Array): Promise<ValidatorReport> {
  const workerData = { bytes, asked: ASKED, validator: require.resolve('gltf-validator') };
  return new Promise((resolve, reject) => {
    const worker = new Worker(ASIDE, { eval: true, workerData });
    worker.once('message', ({ report, error }: { report?: ValidatorReport; error?: string }) => {
      if (report) resolve(report);
      else reject(new Error(error));
    });
    worker.once('error', reject);
    worker.once('exit', () => reject(new Error('the validator ended')));
  });
}

async function reportOf(bytes: Uint8Array, aside: boolean): Promise<ValidatorReport> {
  try {
    return await (aside ? reportAside(bytes) : validator().validateBytes(bytes, ASKED));
  } catch (error) {
    throw levelError('read', `the level cannot be read: ${String(error)}`);
  }
}

function judge({ issues }: ValidatorReport): { faults: LevelFault[]; warnings: LevelFault[] } {
  const { messages } = issues;
  const unused = messages.filter((m) => m.code === 'UNUSED_OBJECT').map((m) => m.pointer ?? '');
  const isUnused = (pointer: string) => unused.some((u) => u !== '' && (pointer === u || pointer.startsWith(`${u}/`)));
  const faults: LevelFault[] = [];
  const warnings: LevelFault[] = [];
  for (const m of messages) {
    if (m.severity > 1) continue;
    const pointer = m.pointer ?? '';
    const fault = { code: m.code, pointer, message: m.message };
    if (m.severity === 1 || HARMLESS.has(m.code)) warnings.push(fault);
    else if (isUnused(pointer)) warnings.push({ ...fault, message: `${m.message} Nothing uses it.` });
    else faults.push(fault);
  }
  return { faults: faults.slice(0, 50), warnings: warnings.slice(0, 200) };
}

/** Broken parts that nothing uses are replaced by sound ones, so that readers do not stumble over them. */
function withoutUnused(json: GltfJson, warnings: LevelFault[]): GltfJson {
  const broken = new Set(
    warnings.flatMap((w) => (/ Nothing uses it\.$/.test(w.message) ? (/^\/accessors\/(\d+)/.exec(w.pointer)?.[1] ?? []) : [])).map(Number),
  );
  if (broken.size === 0) return json;
  return {
    ...json,
    accessors: json.accessors?.map((accessor, i) => (broken.has(i) ? { componentType: 5126, count: 1, type: 'SCALAR' } : accessor)),
  };
}

async function unpack(json: GltfJson, bin: Uint8Array): Promise<Uint8Array> {
  const decoders = await nodeDecoders();
  const document = await openDocument(json, bin, decoders);
  for (const extension of document.getRoot().listExtensionsUsed()) if (COMPRESSIONS.includes(extension.extensionName)) extension.dispose();
  return new WebIO().registerExtensions(ALL_EXTENSIONS).writeBinary(document);
}
