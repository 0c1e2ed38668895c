/** A level as large as a game's: terraces of stone and timber, of so many triangles in so many nodes, and labels on some of them. */

import { lookingPose } from '@foreshore/core';
import { type Document, makeDocument, makeLabel } from '@foreshore/document';
import { Document as GltfDocument, type Material, WebIO } from '@gltf-transform/core';
import { dice } from './measure.ts';

const COLUMNS = 100;
const APART_M = 4;

/** A block of `side` × `side` squares: a hump with a rough top, 3 m wide. */
function hump(side: number, random: () => number): { positions: Float32Array; normals: Float32Array; indices: Uint16Array } {
  const across = side + 1;
  const positions = new Float32Array(across * across * 3);
  const normals = new Float32Array(across * across * 3);
  const height = 0.5 + 4 * random() ** 3;
  for (let j = 0; j < across; j++)
    for (let i = 0; i < across; i++) {
      const [u, v] = [i / side, j / side];
      const at = (j * across + i) * 3;
      positions.set([(u - 0.5) * 3, height * Math.sin(Math.PI * u) * Math.sin(Math.PI * v) + 0.05 * random(), (v - 0.5) * 3], at);
      normals.set([0, 1, 0], at);
    }
  const indices = new Uint16Array(side * side * 6);
  for (let j = 0, k = 0; j < side; j++)
    for (let i = 0; i < side; i++, k += 6) {
      const a = j * across + i;
      indices.set([a, a + across, a + 1, a + 1, a + across, a + across + 1], k);
    }
  return { positions, normals, indices };
}

/** @returns the file, with about `triangles` triangles in `nodes` nodes named stone-0, stone-1 and so on. */
export async function largeLevel(triangles: number, nodes: number): Promise<Uint8Array> {
  const document = new GltfDocument();
  const buffer = document.createBuffer();
  const scene = document.createScene();
  const random = dice(1973);
  const side = Math.max(1, Math.round(Math.sqrt(triangles / nodes / 2)));
  const materials: Material[] = ['#6e7a86', '#8a7f6a', '#4f6b5f', '#a39a8b'].map((hex, k) => {
    const channel = (at: number) => (Number.parseInt(hex.slice(at, at + 2), 16) / 255) ** 2.2;
    return document.createMaterial(`stone ${k}`).setBaseColorFactor([channel(1), channel(3), channel(5), 1]);
  });
  for (let n = 0; n < nodes; n++) {
    const { positions, normals, indices } = hump(side, random);
    const primitive = document
      .createPrimitive()
      .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(positions).setBuffer(buffer))
      .setAttribute('NORMAL', document.createAccessor().setType('VEC3').setArray(normals).setBuffer(buffer))
      .setIndices(document.createAccessor().setType('SCALAR').setArray(indices).setBuffer(buffer))
      .setMaterial(materials[n % materials.length] as Material);
    const node = document
      .createNode(`stone-${n}`)
      .setMesh(document.createMesh(`stone-${n}`).addPrimitive(primitive))
      .setTranslation([((n % COLUMNS) - COLUMNS / 2) * APART_M, 0, -Math.floor(n / COLUMNS) * APART_M]);
    scene.addChild(node);
  }
  return new WebIO().writeBinary(document);
}

/** A project over it: so many labels on its nodes, seen within 60 m, one viewer, a route along it. */
export function largeDocument(elements: number, nodes: number, hash: string): Document {
  const document = makeDocument('Terraces');
  document.level = { hash, file: 'terraces.glb', metresPerUnit: 1, upAxis: 'y', clips: {} };
  for (let k = 0; k < elements; k++) {
    const id = `mark-${k}`;
    const node = Math.floor((k * nodes) / elements);
    document.anchors[id] = { kind: 'node', name: id, order: 'a0', node: `stone-${node}`, offset: [0, 2, 0] };
    document.elements[id] = makeLabel(id, `Stone ${node}, mark ${k}`, 'a0');
  }
  document.routes.along = {
    name: 'Along the terraces',
    order: 'a0',
    feeds: [],
    phases: [],
    poses: [0, 20].map((timeS) => ({ timeS, ...lookingPose([0, 6, 10 - 5 * timeS], 0, -8) })),
  };
  return document;
}
