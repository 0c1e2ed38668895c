/** One glTF binary to the tables of a level. The same tables serve drawing, rays, sight lines and colours. */
import {
  type Accessor,
  type Animation,
  type Document,
  type Material,
  type Mesh,
  type Node,
  type Primitive,
  type Texture,
  WebIO,
} from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { type GltfJson, openBinary } from './container.ts';
import { LevelError, levelError } from './faults.ts';
import { isMark } from './marks.ts';
import { composeInto, multiplyInto, rootMatrix } from './matrix.ts';
import { LevelModel } from './model.ts';
import { uniqueIds } from './node-ids.ts';
import {
  type Atmosphere,
  DEFAULT_ATMOSPHERE,
  type LevelCamera,
  type LevelClip,
  type LevelMaterial,
  type LevelPart,
  type LevelParts,
  type LevelTexture,
} from './parts.ts';
import { structureFaults } from './structure.ts';

export interface ReadOptions {
  metresPerUnit: number;
  upAxis: 'y' | 'z';
  /** Decoders for compressed meshes, by the names glTF-Transform asks for. */
  decoders?: Record<string, unknown>;
}

const GLB_BUFFER = '@glb.bin';

export async function openDocument(json: GltfJson, bin: Uint8Array, decoders: Record<string, unknown> = {}): Promise<Document> {
  const io = new WebIO().registerExtensions(ALL_EXTENSIONS).registerDependencies(decoders);
  io.setLogger({ debug() {}, info() {}, warn() {}, error() {} });
  try {
    return await io.readJSON({ json: structuredClone(json) as never, resources: { [GLB_BUFFER]: new Uint8Array(bin) } });
  } catch (error) {
    throw levelError('read', `the level cannot be read: ${(error as Error).message}`);
  }
}

/** @throws LevelError where the file cannot be a level. Does not judge what `checkLevel` judges. */
export async function readLevel(bytes: Uint8Array, options: ReadOptions): Promise<LevelModel> {
  const { json, bin } = openBinary(bytes);
  const faults = structureFaults(json);
  if (faults.length) throw new LevelError(faults);
  const document = await openDocument(json, bin, options.decoders);
  return new LevelModel(partsOf(document, options));
}

/** What can stand in a text or be compared; the rest of the extras is the game's own. */
function propertiesOf(extras: Record<string, unknown>): Record<string, number | string | boolean> {
  const plain = Object.entries(extras).filter(
    ([, v]) => typeof v === 'string' || typeof v === 'boolean' || (typeof v === 'number' && Number.isFinite(v)),
  );
  return Object.fromEntries(plain) as Record<string, number | string | boolean>;
}

function partsOf(document: Document, options: ReadOptions): LevelParts {
  const root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  const order: { node: Node; parent: number }[] = [];
  const indexOf = new Map<Node, number>();
  const open: { node: Node; parent: number }[] = (scene ? scene.listChildren() : root.listNodes().filter((n) => !n.getParentNode()))
    .map((node) => ({ node, parent: -1 }))
    .reverse();
  for (let next = open.pop(); next; next = open.pop()) {
    const { node } = next;
    const children = node.listChildren();
    // Marks are of the level's file, not of the level.
    if (isMark({ extras: node.getExtras(), mesh: node.getMesh() ?? undefined, children })) continue;
    const index = order.push(next) - 1;
    indexOf.set(node, index);
    for (const child of children.reverse()) open.push({ node: child, parent: index });
  }
  const rest = new Float64Array(order.length * 10);
  const matrices = new Map<number, Float64Array>();
  order.forEach(({ node }, i) => {
    rest.set([...node.getTranslation(), ...node.getRotation(), ...node.getScale()], i * 10);
    // A matrix with shear comes out of translation, rotation and scale as another matrix; then it is kept whole.
    const given = Float64Array.from(node.getMatrix());
    const composed = new Float64Array(16);
    composeInto(composed, 0, rest, i * 10);
    if (given.some((v, k) => Math.abs(v - (composed[k] as number)) > 1e-4 * Math.max(1, Math.abs(v)))) matrices.set(i, given);
  });
  const parts: LevelParts = {
    nodeIds: uniqueIds(order.map(({ node }) => node.getName())),
    nodeProperties: order.map(({ node }) => propertiesOf(node.getExtras())),
    parent: Int32Array.from(order, (o) => o.parent),
    rest,
    matrices,
    parts: [],
    materials: [],
    textures: [],
    clips: root.listAnimations().flatMap((animation, i) => clipOf(animation, i, indexOf)),
    cameras: [],
    atmosphere: atmosphereOf(scene?.getExtras().atmosphere),
    root: rootMatrix(options),
  };
  const world = worldAtRest(parts);
  const materialOf = materialTable(parts);
  order.forEach(({ node }, i) => {
    const mesh = node.getMesh();
    if (mesh)
      for (const primitive of mesh.listPrimitives())
        parts.parts.push(...partOf(node, mesh, primitive, i, world, indexOf, parts.root, materialOf));
    const camera = cameraOf(node, i);
    if (camera) parts.cameras.push(camera);
  });
  return parts;
}

function worldAtRest({ parent, rest, matrices, root }: LevelParts): Float64Array {
  const world = new Float64Array(parent.length * 16);
  const local = new Float64Array(16);
  for (let i = 0; i < parent.length; i++) {
    const fixed = matrices.get(i);
    if (fixed) local.set(fixed);
    else composeInto(local, 0, rest, i * 10);
    const up = parent[i] as number;
    multiplyInto(world, i * 16, up < 0 ? root : world, up < 0 ? 0 : up * 16, local, 0);
  }
  return world;
}

/** Values as they are meant: normalised integers as fractions. */
function floats(accessor: Accessor, width: number): Float32Array {
  const given = accessor.getArray();
  const size = accessor.getElementSize();
  // As most are: no value is asked for by itself.
  if (given && size === width && !accessor.getNormalized()) return new Float32Array(given);
  const out = new Float32Array(accessor.getCount() * width);
  const element: number[] = [];
  for (let i = 0; i < accessor.getCount(); i++) {
    accessor.getElement(i, element);
    for (let k = 0; k < width; k++) out[i * width + k] = k < size ? (element[k] as number) : 1;
  }
  return out;
}

const TRIANGLES = 4;
const STRIP = 5;
const FAN = 6;

function trianglesOf(primitive: Primitive, vertices: number): Uint32Array {
  const given = primitive.getIndices()?.getArray();
  const at = given ? (i: number) => given[i] as number : (i: number) => i;
  const count = given ? given.length : vertices;
  const mode = primitive.getMode();
  if (mode === TRIANGLES) {
    const out = new Uint32Array(count - (count % 3));
    for (let i = 0; i < out.length; i++) out[i] = at(i);
    return out;
  }
  if (mode !== STRIP && mode !== FAN) return new Uint32Array(0);
  const out: number[] = [];
  for (let i = 0; i + 2 < count; i++) {
    if (mode === FAN) out.push(at(0), at(i + 1), at(i + 2));
    else out.push(at(i), at(i + 1 + (i % 2)), at(i + 2 - (i % 2)));
  }
  return Uint32Array.from(out);
}

function partOf(
  node: Node,
  mesh: Mesh,
  primitive: Primitive,
  index: number,
  world: Float64Array,
  indexOf: Map<Node, number>,
  root: Float64Array,
  materialOf: (m: Material | null) => number,
): LevelPart[] {
  const position = primitive.getAttribute('POSITION');
  if (!position) return [];
  const positions = floats(position, 3);
  const normal = primitive.getAttribute('NORMAL');
  const normals = normal ? floats(normal, 3) : null;
  const weights = node.getWeights().length ? node.getWeights() : mesh.getWeights();
  primitive.listTargets().forEach((target, t) => {
    const weight = weights[t] ?? 0;
    const moved = weight === 0 ? null : target.getAttribute('POSITION');
    if (!moved) return;
    floats(moved, 3).forEach((v, k) => {
      positions[k] = (positions[k] as number) + v * weight;
    });
  });
  const inWorld = skin(node, primitive, positions, normals, world, indexOf, root);
  const colour = primitive.getAttribute('COLOR_0');
  const uv = primitive.getAttribute('TEXCOORD_0');
  const indices = trianglesOf(primitive, position.getCount());
  if (indices.length === 0) return [];
  const most = position.getCount();
  if (indices.some((i) => i >= most)) throw levelError('index', `the mesh "${mesh.getName()}" names a vertex beyond its ${most}`, '');
  return [
    {
      node: index,
      positions,
      normals,
      colours: colour ? floats(colour, 4) : null,
      uvs: uv ? floats(uv, 2) : null,
      indices,
      material: materialOf(primitive.getMaterial()),
      inWorld,
    },
  ];
}

/** Puts a skinned mesh into the world in its rest pose (glTF 2.0, section 3.7.3). */
function skin(
  node: Node,
  primitive: Primitive,
  positions: Float32Array,
  normals: Float32Array | null,
  world: Float64Array,
  indexOf: Map<Node, number>,
  root: Float64Array,
): boolean {
  const skinned = node.getSkin();
  const [joints, shares] = [primitive.getAttribute('JOINTS_0'), primitive.getAttribute('WEIGHTS_0')];
  if (!skinned || !joints || !shares) return false;
  const bones = skinned.listJoints();
  const inverse = skinned.getInverseBindMatrices();
  const matrices = bones.map((bone, b) => {
    const out = new Float64Array(16);
    const at = indexOf.get(bone);
    if (at === undefined) {
      out.set(root);
      return out;
    }
    const bind: number[] = inverse ? inverse.getElement(b, []) : [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
    multiplyInto(out, 0, world, at * 16, bind, 0);
    return out;
  });
  const [j, w]: [number[], number[]] = [[], []];
  for (let v = 0; v < joints.getCount(); v++) {
    joints.getElement(v, j);
    shares.getElement(v, w);
    const total = w.reduce((sum, share) => sum + share, 0) || 1;
    for (const [target, point] of [[positions, 1] as const, ...(normals ? [[normals, 0] as const] : [])]) {
      const [x, y, z] = [target[v * 3] as number, target[v * 3 + 1] as number, target[v * 3 + 2] as number];
      const sum = [0, 0, 0];
      for (let k = 0; k < 4; k++) {
        const m = matrices[j[k] as number];
        const share = (w[k] as number) / total;
        if (!m || share === 0) continue;
        for (let r = 0; r < 3; r++)
          sum[r] =
            (sum[r] as number) +
            share * ((m[r] as number) * x + (m[4 + r] as number) * y + (m[8 + r] as number) * z + point * (m[12 + r] as number));
      }
      target.set(sum, v * 3);
    }
  }
  return true;
}

function materialTable(parts: LevelParts): (m: Material | null) => number {
  const known = new Map<Material | null, number>();
  const pictures = new Map<Texture, number>();
  return (material) => {
    const found = known.get(material);
    if (found !== undefined) return found;
    const texture = material?.getBaseColorTexture() ?? null;
    let picture = texture ? (pictures.get(texture) ?? -1) : -1;
    const bytes = texture?.getImage();
    if (texture && bytes && picture < 0) {
      const info = material?.getBaseColorTextureInfo();
      const repeats = (mode: number | undefined) => mode !== 33071;
      const entry: LevelTexture = {
        bytes,
        mimeType: texture.getMimeType(),
        repeatU: repeats(info?.getWrapS()),
        repeatV: repeats(info?.getWrapT()),
      };
      picture = parts.textures.push(entry) - 1;
      pictures.set(texture, picture);
    }
    const entry: LevelMaterial = {
      name: material?.getName() ?? '',
      baseColour: (material?.getBaseColorFactor() ?? [1, 1, 1, 1]) as LevelMaterial['baseColour'],
      emissive: (material?.getEmissiveFactor() ?? [0, 0, 0]) as LevelMaterial['emissive'],
      texture: picture,
      unlit: material?.getExtension('KHR_materials_unlit') != null,
      doubleSided: material?.getDoubleSided() ?? false,
      alpha: ({ OPAQUE: 'opaque', MASK: 'mask', BLEND: 'blend' } as const)[material?.getAlphaMode() ?? 'OPAQUE'],
      alphaCutoff: material?.getAlphaCutoff() ?? 0.5,
    };
    const index = parts.materials.push(entry) - 1;
    known.set(material, index);
    return index;
  };
}

function clipOf(animation: Animation, i: number, indexOf: Map<Node, number>): LevelClip[] {
  const channels = animation.listChannels().flatMap((channel) => {
    const node = channel.getTargetNode();
    const sampler = channel.getSampler();
    const [input, output] = [sampler?.getInput(), sampler?.getOutput()];
    const index = node ? indexOf.get(node) : undefined;
    const path = channel.getTargetPath();
    if (index === undefined || !sampler || !input || !output || (path !== 'translation' && path !== 'rotation' && path !== 'scale'))
      return [];
    return [
      {
        node: index,
        path,
        interpolation: sampler.getInterpolation(),
        times: floats(input, 1),
        values: floats(output, path === 'rotation' ? 4 : 3),
      },
    ];
  });
  if (channels.length === 0) return [];
  const durationS = channels.reduce((most, c) => Math.max(most, c.times.at(-1) ?? 0), 0);
  return [{ name: animation.getName() || `clip ${i + 1}`, durationS, channels }];
}

function cameraOf(node: Node, index: number): LevelCamera | null {
  const camera = node.getCamera();
  if (!camera) return null;
  return {
    name: node.getName() || camera.getName() || 'Camera',
    node: index,
    kind: camera.getType(),
    fovDeg: (camera.getYFov() * 180) / Math.PI,
    halfHeightM: camera.getYMag(),
    nearM: Math.max(camera.getZNear(), 0.01),
  };
}

function atmosphereOf(extras: unknown): Atmosphere {
  if (typeof extras !== 'object' || extras === null) return DEFAULT_ATMOSPHERE;
  const given = extras as Record<string, unknown>;
  const colour = (key: 'zenith' | 'horizon' | 'haze') =>
    typeof given[key] === 'string' && /^#[0-9a-f]{6}$/i.test(given[key]) ? given[key] : DEFAULT_ATMOSPHERE[key];
  const hazeM = typeof given.hazeM === 'number' && given.hazeM > 0 ? given.hazeM : DEFAULT_ATMOSPHERE.hazeM;
  return { zenith: colour('zenith'), horizon: colour('horizon'), haze: colour('haze'), hazeM };
}

/** The pose of a camera of the level: its place, and its matrix as a rotation without scale. */
export function cameraPose(
  model: LevelModel,
  camera: LevelCamera,
): { position: [number, number, number]; rotation: [number, number, number, number] } {
  const m = model.worldMatrices.subarray(camera.node * 16, camera.node * 16 + 16);
  const column = (c: number): [number, number, number] => {
    const v = [m[c * 4] as number, m[c * 4 + 1] as number, m[c * 4 + 2] as number] as const;
    const length = Math.hypot(...v) || 1;
    return [v[0] / length, v[1] / length, v[2] / length];
  };
  const [x, y, z] = [column(0), column(1), column(2)];
  const w = Math.sqrt(Math.max(0, 1 + x[0] + y[1] + z[2])) / 2;
  if (w > 1e-3)
    return {
      position: [m[12] as number, m[13] as number, m[14] as number],
      rotation: [(y[2] - z[1]) / (4 * w), (z[0] - x[2]) / (4 * w), (x[1] - y[0]) / (4 * w), w],
    };
  return { position: [m[12] as number, m[13] as number, m[14] as number], rotation: [0, 1, 0, 0] };
}
