/** Small levels for tests, built as files and not through our own reader. */
import { type Document, Document as GltfDocument, type Node, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';

/** A box of the given half size as 12 triangles. */
export function addBox(document: Document, name: string, half: number, at: [number, number, number], parent: Node | null = null): Node {
  const buffer = document.getRoot().listBuffers()[0] ?? document.createBuffer();
  const corners = [-1, 1].flatMap((x) => [-1, 1].flatMap((y) => [-1, 1].map((z) => [x * half, y * half, z * half]))).flat();
  const faces = [0, 1, 3, 0, 3, 2, 4, 6, 7, 4, 7, 5, 0, 4, 5, 0, 5, 1, 2, 3, 7, 2, 7, 6, 0, 2, 6, 0, 6, 4, 1, 5, 7, 1, 7, 3];
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(Float32Array.from(corners)).setBuffer(buffer))
    .setIndices(document.createAccessor().setType('SCALAR').setArray(Uint16Array.from(faces)).setBuffer(buffer));
  const node = document.createNode(name).setMesh(document.createMesh(name).addPrimitive(primitive)).setTranslation(at);
  if (parent) parent.addChild(node);
  else (document.getRoot().listScenes()[0] ?? document.createScene()).addChild(node);
  return node;
}

export const newLevel = (): Document => new GltfDocument();
export const toBinary = async (document: Document, dependencies: Record<string, unknown> = {}): Promise<Uint8Array> =>
  new WebIO().registerExtensions(ALL_EXTENSIONS).registerDependencies(dependencies).writeBinary(document);
