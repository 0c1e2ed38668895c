/** Writes the level of Low Water as one glTF binary. Run by `npm run demo`. */
import { type Animation, Document, type Node, type Scene, WebIO } from '@gltf-transform/core';
import { KHRMaterialsUnlit } from '@gltf-transform/extensions';
import { bake } from './bake.ts';
import { type Place, places } from './places.ts';
import type { P3 } from './solid.ts';
import { creekPoint, groundHeight, LOW_WATER_M } from './terrain.ts';

/** Height of the water over its cycle. */
export const TIDE_S = 120;
export const tideAt = (timeS: number): number => LOW_WATER_M + 0.2 * (1 - Math.cos((2 * Math.PI * timeS) / TIDE_S));

const turned = (angle: number, [x, y, z]: P3): P3 => [
  x * Math.cos(angle) + z * Math.sin(angle),
  y,
  -x * Math.sin(angle) + z * Math.cos(angle),
];
const aboutY = (angle: number): [number, number, number, number] => [0, Math.sin(angle / 2), 0, Math.cos(angle / 2)];
const aboutZ = (angle: number): [number, number, number, number] => [0, 0, Math.sin(angle / 2), Math.cos(angle / 2)];

/** Long flat faces get corners for the baked shade. */
const REFINE: Record<string, number> = {
  'Pump house': 0.75,
  'Boat shed': 0.9,
  'Lamp mast': 1.4,
  'Sluice 1': 0.8,
  'Sluice 1 posts': 0.8,
  'Sluice 2': 0.8,
  'Sluice 2 posts': 0.8,
  'Sluice 3': 0.8,
  'Sluice 3 posts': 0.8,
};

export async function makeLevel(): Promise<Uint8Array> {
  const all = places();
  const byName = new Map(all.map((p) => [p.name, p]));
  const toWorld = (place: Place, p: P3): P3 => {
    const [x, y, z] = turned(place.turn, p);
    const at: P3 = [x + place.at[0], y + place.at[1], z + place.at[2]];
    const parent = place.parent ? byName.get(place.parent) : undefined;
    return parent ? toWorld(parent, at) : at;
  };
  const turn = (place: Place, v: P3): P3 => {
    const parent = place.parent ? byName.get(place.parent) : undefined;
    return parent ? turn(parent, turned(place.turn, v)) : turned(place.turn, v);
  };
  for (const place of all) if (REFINE[place.name]) place.solid.refine(REFINE[place.name] as number);
  bake(
    all.map((place) => ({
      solid: place.solid,
      toWorld: (p) => toWorld(place, p),
      turn: (v) => turn(place, v),
      ghostly: place.ghostly ?? false,
    })),
  );

  const document = new Document();
  const buffer = document.createBuffer();
  const unlit = document.createExtension(KHRMaterialsUnlit).setRequired(false).createUnlit();
  const material = (name: string) =>
    document.createMaterial(name).setExtension('KHR_materials_unlit', unlit).setRoughnessFactor(1).setMetallicFactor(0);
  const solid = material('Baked');
  const water = material('Water').setAlphaMode('BLEND');
  const leaves = material('Tufts').setDoubleSided(true);
  const nodes = new Map<string, Node>();
  const scene: Scene = document
    .createScene('Low Water')
    .setExtras({ atmosphere: { zenith: '#6F9DBD', horizon: '#F0E4CB', haze: '#E2DDCF', hazeM: 330 } });
  for (const place of all) {
    const { positions, colours, indices } = flatten(place);
    const primitive = document
      .createPrimitive()
      .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(positions).setBuffer(buffer))
      .setAttribute('COLOR_0', document.createAccessor().setType('VEC4').setArray(colours).setNormalized(true).setBuffer(buffer))
      .setIndices(document.createAccessor().setType('SCALAR').setArray(indices).setBuffer(buffer))
      .setMaterial(place.material === 'water' ? water : place.name === 'Tufts' || place.name.startsWith('Gull') ? leaves : solid);
    const node = document
      .createNode(place.name)
      .setMesh(document.createMesh(place.name).addPrimitive(primitive))
      .setTranslation(place.at)
      .setRotation(aboutY(place.turn))
      .setExtras(place.extras ?? {});
    nodes.set(place.name, node);
    const parent = place.parent ? nodes.get(place.parent) : undefined;
    if (parent) parent.addChild(node);
    else scene.addChild(node);
  }
  document.getRoot().setDefaultScene(scene);
  animate(document, nodes, all);
  const io = new WebIO().registerExtensions([KHRMaterialsUnlit]);
  return io.writeBinary(document);
}

function flatten(place: Place): {
  positions: Float32Array<ArrayBuffer>;
  colours: Uint16Array<ArrayBuffer>;
  indices: Uint32Array<ArrayBuffer> | Uint16Array<ArrayBuffer>;
} {
  const known = new Map<string, number>();
  const positions: number[] = [];
  const colours: number[] = [];
  const indices: number[] = [];
  const level = (v: number) => Math.round(Math.max(0, Math.min(1, v)) * 65535);
  for (const t of place.solid.triangles)
    t.corners.forEach((p, k) => {
      const c = t.colours[k] as P3;
      const colour = [level(c[0]), level(c[1]), level(c[2]), level(place.alphaOf?.(p) ?? 1)];
      const key = [...p.map((v) => v.toFixed(4)), ...colour.map((v) => v >> 6)].join();
      let index = known.get(key);
      if (index === undefined) {
        index = positions.length / 3;
        known.set(key, index);
        positions.push(...p);
        colours.push(...colour);
      }
      indices.push(index);
    });
  const vertices = positions.length / 3;
  return {
    positions: Float32Array.from(positions),
    colours: Uint16Array.from(colours),
    indices: vertices > 65535 ? Uint32Array.from(indices) : Uint16Array.from(indices),
  };
}

function animate(document: Document, nodes: Map<string, Node>, all: Place[]): void {
  const buffer = document.getRoot().listBuffers()[0] ?? null;
  const channel = (clip: Animation, name: string, path: 'translation' | 'rotation', times: number[], values: number[][]) => {
    const node = nodes.get(name);
    if (!node) throw new Error(`There is no place called "${name}".`);
    const input = document.createAccessor().setType('SCALAR').setArray(Float32Array.from(times)).setBuffer(buffer);
    const output = document
      .createAccessor()
      .setType(path === 'rotation' ? 'VEC4' : 'VEC3')
      .setArray(Float32Array.from(values.flat()))
      .setBuffer(buffer);
    const sampler = document.createAnimationSampler().setInput(input).setOutput(output).setInterpolation('LINEAR');
    clip.addSampler(sampler).addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler));
  };
  const steps = (count: number, durationS: number) => Array.from({ length: count + 1 }, (_, i) => (i / count) * durationS);

  const tide = document.createAnimation('Tide');
  const tideTimes = steps(48, TIDE_S);
  channel(
    tide,
    'Water',
    'translation',
    tideTimes,
    tideTimes.map((t) => [0, tideAt(t), 0]),
  );
  const boat = steps(120, TIDE_S);
  const along = (t: number): P3 => {
    const s = 62 + 58 * (0.5 - 0.5 * Math.cos((2 * Math.PI * t) / TIDE_S));
    const [i, u] = [Math.floor(s), s % 1];
    const [[ax, az], [bx, bz]] = [creekPoint(1, i), creekPoint(1, i + 1)];
    return [ax + (bx - ax) * u, tideAt(t) + 0.08 + 0.025 * Math.sin(t * 1.9), az + (bz - az) * u];
  };
  channel(tide, 'Dinghy', 'translation', boat, boat.map(along));
  let heading = 0;
  channel(
    tide,
    'Dinghy',
    'rotation',
    boat,
    boat.map((t) => {
      const [a, b] = [along(t - 0.4), along(t + 0.4)];
      if (Math.hypot(b[0] - a[0], b[2] - a[2]) > 0.05) heading = Math.atan2(-(b[2] - a[2]), b[0] - a[0]);
      return aboutY(heading);
    }),
  );

  const door = document.createAnimation('Door');
  const doorAngle = (a: number) => aboutY(a);
  // Shut at its first moment, open at its last: a game moves it along.
  channel(door, 'Pump house door', 'rotation', steps(8, 1.4), steps(8, 1.75).map(doorAngle));

  // A turn and a half of the wheel lift the gate by more than a metre.
  [1, 2, 3].forEach((n) => {
    const sluice = document.createAnimation(`Sluice ${n}`);
    const times = steps(24, 4);
    const share = (t: number) => t / 4;
    channel(
      sluice,
      `Sluice ${n} wheel`,
      'rotation',
      times,
      times.map((t) => aboutZ(3 * Math.PI * share(t))),
    );
    channel(
      sluice,
      `Sluice ${n} gate`,
      'translation',
      times,
      times.map((t) => [0, 0.1 + 1.15 * share(t), 1.78]),
    );
  });

  const birds = document.createAnimation('Birds');
  all
    .filter((p) => p.name.startsWith('Wader'))
    .forEach((place, k) => {
      const times = steps(60, 40);
      const at = (t: number): P3 => {
        const a = (2 * Math.PI * t) / 40 + k;
        const [x, z] = [
          place.at[0] + 2.4 * Math.sin(a) + 0.9 * Math.sin(3 * a + k),
          place.at[2] + 1.8 * Math.cos(a) + 0.7 * Math.sin(2 * a),
        ];
        return [x, Math.max(groundHeight(x, z), LOW_WATER_M - 0.1), z];
      };
      channel(birds, place.name, 'translation', times, times.map(at));
      channel(
        birds,
        place.name,
        'rotation',
        times,
        times.map((t) => {
          const [a, b] = [at(t - 0.1), at(t + 0.1)];
          return aboutY(Math.atan2(-(b[2] - a[2]), b[0] - a[0]));
        }),
      );
    });
  all
    .filter((p) => p.name.startsWith('Gull'))
    .forEach((place, k) => {
      const times = steps(60, 40);
      const at = (t: number): P3 => {
        const a = (2 * Math.PI * t) / 40 + k * 0.35;
        return [28 * Math.sin(a), place.at[1] + 1.2 * Math.sin(2 * a + k), 4 + 20 * Math.cos(a) + k * 2];
      };
      channel(birds, place.name, 'translation', times, times.map(at));
      channel(
        birds,
        place.name,
        'rotation',
        times,
        times.map((t) => {
          const [a, b] = [at(t - 0.1), at(t + 0.1)];
          return aboutY(Math.atan2(-(b[2] - a[2]), b[0] - a[0]));
        }),
      );
    });
}
