/** Checks of a glTF document that must hold before anything may walk through it. */
import { boundsFault } from '@foreshore/document/bounds';
import type { GltfJson } from './container.ts';
import type { LevelFault } from './faults.ts';

/** Extensions that a level may require: what they add is read. */
export const READ_EXTENSIONS = [
  'KHR_materials_unlit',
  'KHR_mesh_quantization',
  'KHR_draco_mesh_compression',
  'EXT_meshopt_compression',
  'KHR_texture_transform',
  'EXT_texture_webp',
  'KHR_materials_emissive_strength',
  'KHR_lights_punctual',
  'KHR_materials_specular',
  'KHR_materials_ior',
  'KHR_materials_clearcoat',
  'KHR_materials_transmission',
  'KHR_materials_volume',
  'KHR_materials_sheen',
  'KHR_node_visibility',
];

const MOST_NODES = 100_000;
const MOST_JSON_VALUES = 20_000_000;

export function structureFaults(json: GltfJson): LevelFault[] {
  const faults: LevelFault[] = [];
  const bound = boundsFault(json, MOST_JSON_VALUES);
  if (bound) return [{ code: 'size', ...bound }];
  const version = json.asset?.version;
  if (typeof version !== 'string' || !version.startsWith('2.'))
    return [{ code: 'version', pointer: '/asset/version', message: `is ${JSON.stringify(version) ?? 'missing'}; glTF 2.0 is read` }];
  for (const name of json.extensionsRequired ?? [])
    if (!READ_EXTENSIONS.includes(name))
      faults.push({
        code: 'extension',
        pointer: '/extensionsRequired',
        message: `requires the extension ${name}, which is not supported; export the level without it`,
      });
  const nodes = json.nodes ?? [];
  if (!Array.isArray(nodes)) return [...faults, { code: 'shape', pointer: '/nodes', message: 'is not a list' }];
  if (nodes.length > MOST_NODES)
    faults.push({ code: 'size', pointer: '/nodes', message: `has ${nodes.length} nodes; at most ${MOST_NODES} are taken` });
  const meshes = json.meshes ?? [];
  if (!Array.isArray(meshes)) return [...faults, { code: 'shape', pointer: '/meshes', message: 'is not a list' }];
  const tree = treeFaults(nodes);
  return [...faults, ...tree, ...(tree.length ? [] : depthFaults(nodes)), ...accessorFaults(json), ...instanceFaults(json)];
}

/** A deeper chain is nothing that anybody builds, and readers that walk it by recursion run out of stack. */
const MOST_DEPTH = 1000;
function depthFaults(nodes: NonNullable<GltfJson['nodes']>): LevelFault[] {
  const depth = new Int32Array(nodes.length);
  const isChild = new Uint8Array(nodes.length);
  for (const node of nodes) for (const child of node?.children ?? []) isChild[child] = 1;
  const open = [...nodes.keys()].filter((i) => !isChild[i]);
  for (let at = open.pop(); at !== undefined; at = open.pop())
    for (const child of nodes[at]?.children ?? []) {
      depth[child] = (depth[at] as number) + 1;
      if ((depth[child] as number) > MOST_DEPTH)
        return [{ code: 'size', pointer: `/nodes/${child}`, message: `lies more than ${MOST_DEPTH} nodes deep` }];
      open.push(child);
    }
  return [];
}

/** glTF 2.0, accessor.componentType and accessor.type. */
const COMPONENT_BYTES: Record<number, number> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };
const COMPONENTS: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };
/** What all accessors together unpack to, and those that no data stands behind. */
const MOST_ACCESSOR_BYTES = 1024 * 1024 * 1024;
const MOST_EMPTY_BYTES = 64 * 1024 * 1024;

/** No accessor may be larger than what is there to read; a file of some bytes cannot ask for gigabytes. */
function accessorFaults({ accessors = [], bufferViews = [], extensionsUsed = [] }: GltfJson): LevelFault[] {
  if (!Array.isArray(accessors) || !Array.isArray(bufferViews)) return [{ code: 'shape', pointer: '/accessors', message: 'is not a list' }];
  // Compressed meshes have accessors without data of their own; their size is known once they are unpacked.
  const compressed = Array.isArray(extensionsUsed) && extensionsUsed.some((name) => /draco|meshopt/i.test(String(name)));
  let total = 0;
  let empty = 0;
  for (const [i, accessor] of accessors.entries()) {
    const { count = 0, componentType = 0, type = '', bufferView } = accessor ?? {};
    const pointer = `/accessors/${i}`;
    if (!Number.isInteger(count) || count < 0) return [{ code: 'shape', pointer: `${pointer}/count`, message: 'is not a whole number' }];
    const bytes = count * (COMPONENT_BYTES[componentType] ?? 4) * (COMPONENTS[type] ?? 1);
    total += bytes;
    if (bufferView === undefined) empty += bytes;
    // Smaller ones are the validator's to judge, which knows whether anything uses them.
    else if (!compressed && bytes > 16 * 1024 * 1024 && bytes > (bufferViews[bufferView]?.byteLength ?? 0))
      return [
        {
          code: 'size',
          pointer: `${pointer}/count`,
          message: `asks for ${bytes} bytes, and its buffer view has ${bufferViews[bufferView]?.byteLength ?? 0}`,
        },
      ];
    if (total > MOST_ACCESSOR_BYTES || empty > (compressed ? MOST_ACCESSOR_BYTES : MOST_EMPTY_BYTES))
      return [{ code: 'size', pointer: `${pointer}/count`, message: 'asks for more than is taken: the level is larger than it can be' }];
  }
  return [];
}

/** Triangles as they stand in the world, a mesh once for each of its nodes. */
const MOST_TRIANGLES = 20_000_000;
function instanceFaults({ nodes = [], meshes = [], accessors = [] }: GltfJson): LevelFault[] {
  const ofMesh = meshes.map((mesh) =>
    (Array.isArray(mesh?.primitives) ? mesh.primitives : []).reduce((sum, primitive) => {
      const { indices, attributes } = primitive as { indices?: number; attributes?: Record<string, number> };
      return sum + (accessors[indices ?? attributes?.POSITION ?? -1]?.count ?? 0) / 3;
    }, 0),
  );
  let total = 0;
  for (const [i, node] of nodes.entries()) {
    total += ofMesh[node?.mesh ?? -1] ?? 0;
    if (total > MOST_TRIANGLES)
      return [{ code: 'size', pointer: `/nodes/${i}`, message: `brings the level over ${MOST_TRIANGLES / 1e6} million triangles` }];
  }
  return [];
}

/** Node hierarchies are strict trees (glTF 2.0, section 3.5.2): no node is its own ancestor, none has two parents. */
function treeFaults(nodes: NonNullable<GltfJson['nodes']>): LevelFault[] {
  const parent = new Int32Array(nodes.length).fill(-1);
  for (const [i, node] of nodes.entries()) {
    if (node?.children !== undefined && !Array.isArray(node.children))
      return [{ code: 'shape', pointer: `/nodes/${i}/children`, message: 'is not a list' }];
    for (const child of node?.children ?? []) {
      if (!Number.isInteger(child) || child < 0 || child >= nodes.length)
        return [{ code: 'reference', pointer: `/nodes/${i}/children`, message: `names node ${child}, and there are ${nodes.length}` }];
      if ((parent[child] as number) >= 0)
        return [
          { code: 'cycle', pointer: `/nodes/${child}`, message: `has two parents, nodes ${parent[child]} and ${i}; a hierarchy is a tree` },
        ];
      parent[child] = i;
    }
  }
  const state = new Uint8Array(nodes.length);
  for (let start = 0; start < nodes.length; start++) {
    const path: number[] = [];
    let at = start;
    while (at >= 0 && state[at] === 0) {
      state[at] = 1;
      path.push(at);
      at = parent[at] as number;
    }
    if (at >= 0 && state[at] === 1)
      return [
        {
          code: 'cycle',
          pointer: `/nodes/${at}`,
          message: `is its own ancestor (${[...path, at].join(' in ')}); a hierarchy has no circles`,
        },
      ];
    for (const seen of path) state[seen] = 2;
  }
  return [];
}
