/** The empty ground on which a project without a level starts: 200 m square, with a line every ten metres. */
import { LevelModel } from './model.ts';
import type { LevelParts } from './parts.ts';

const HALF_M = 100;
const SHEET: [number, number, number] = [0.74, 0.69, 0.56];
const LINE: [number, number, number] = [0.5, 0.49, 0.43];

export function emptyGround(): LevelModel {
  const positions: number[] = [];
  const colours: number[] = [];
  const indices: number[] = [];
  const quad = (x0: number, z0: number, x1: number, z1: number, y: number, [r, g, b]: [number, number, number]) => {
    const first = positions.length / 3;
    positions.push(x0, y, z0, x0, y, z1, x1, y, z1, x1, y, z0);
    for (let k = 0; k < 4; k++) colours.push(r, g, b, 1);
    indices.push(first, first + 1, first + 2, first, first + 2, first + 3);
  };
  quad(-HALF_M, -HALF_M, HALF_M, HALF_M, 0, SHEET);
  for (let at = -HALF_M; at <= HALF_M; at += 10) {
    quad(at - 0.03, -HALF_M, at + 0.03, HALF_M, 0.004, LINE);
    quad(-HALF_M, at - 0.03, HALF_M, at + 0.03, 0.004, LINE);
  }
  const parts: LevelParts = {
    nodeIds: ['Ground'],
    nodeProperties: [{}],
    parent: Int32Array.of(-1),
    rest: Float64Array.of(0, 0, 0, 0, 0, 0, 1, 1, 1, 1),
    matrices: new Map(),
    parts: [
      {
        node: 0,
        positions: Float32Array.from(positions),
        normals: null,
        colours: Float32Array.from(colours),
        uvs: null,
        indices: Uint32Array.from(indices),
        material: 0,
        inWorld: false,
      },
    ],
    materials: [
      {
        name: 'Ground',
        baseColour: [1, 1, 1, 1],
        emissive: [0, 0, 0],
        texture: -1,
        unlit: true,
        doubleSided: true,
        alpha: 'opaque',
        alphaCutoff: 0,
      },
    ],
    textures: [],
    clips: [],
    cameras: [],
    atmosphere: { zenith: '#8FB3C7', horizon: '#E9E4D4', haze: '#E9E4D4', hazeM: 140 },
    root: Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1),
  };
  return new LevelModel(parts);
}
