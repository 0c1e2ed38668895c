/** Checks of a glTF document that must hold before anything may walk through it. */
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

export function structureFaults(json: GltfJson): LevelFault[] {
  const faults: LevelFault[] = [];
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
  return [...faults, ...treeFaults(nodes)];
}

/** Node hierarchies are strict trees (glTF 2.0, section 3.5.2): no node is its own ancestor, none has two parents. */
function treeFaults(nodes: NonNullable<GltfJson['nodes']>): LevelFault[] {
  const parent = new Int32Array(nodes.length).fill(-1);
  for (const [i, node] of nodes.entries())
    for (const child of node?.children ?? []) {
      if (!Number.isInteger(child) || child < 0 || child >= nodes.length)
        return [{ code: 'reference', pointer: `/nodes/${i}/children`, message: `names node ${child}, and there are ${nodes.length}` }];
      if ((parent[child] as number) >= 0)
        return [
          { code: 'cycle', pointer: `/nodes/${child}`, message: `has two parents, nodes ${parent[child]} and ${i}; a hierarchy is a tree` },
        ];
      parent[child] = i;
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
