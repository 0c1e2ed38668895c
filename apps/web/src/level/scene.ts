/** The level as three.js draws it. Geometry and matrices are LevelModel's own; nothing is read or placed a second time. */
import type { LevelModel } from '@foreshore/level';
import {
  BufferAttribute,
  BufferGeometry,
  ClampToEdgeWrapping,
  Mesh,
  RepeatWrapping,
  Scene,
  SphereGeometry,
  SRGBColorSpace,
  Texture,
} from 'three';
import { levelMaterial, skyMaterial } from './material.ts';

export class LevelScene {
  readonly scene = new Scene();
  readonly sky: Mesh;
  private readonly model: LevelModel;
  private readonly meshes: { mesh: Mesh; node: number }[] = [];

  static async make(model: LevelModel): Promise<LevelScene> {
    const textures = await Promise.all(
      model.parts.textures.map(async ({ bytes, mimeType, repeatU, repeatV }) => {
        const bitmap = await createImageBitmap(new Blob([bytes as BlobPart], { type: mimeType })).catch(() => null);
        if (!bitmap) return null;
        const texture = new Texture(bitmap);
        texture.flipY = false;
        texture.colorSpace = SRGBColorSpace;
        texture.wrapS = repeatU ? RepeatWrapping : ClampToEdgeWrapping;
        texture.wrapT = repeatV ? RepeatWrapping : ClampToEdgeWrapping;
        texture.needsUpdate = true;
        return texture;
      }),
    );
    return new LevelScene(model, textures);
  }

  private constructor(model: LevelModel, textures: (Texture | null)[]) {
    this.model = model;
    const { parts, materials, atmosphere } = model.parts;
    this.scene.matrixWorldAutoUpdate = false;
    this.sky = new Mesh(new SphereGeometry(100, 32, 24), skyMaterial(atmosphere));
    this.sky.renderOrder = -1;
    this.sky.frustumCulled = false;
    this.scene.add(this.sky);
    for (const part of parts) {
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', new BufferAttribute(part.positions, 3));
      if (part.colours) geometry.setAttribute('color', new BufferAttribute(part.colours, 4));
      if (part.uvs) geometry.setAttribute('uv', new BufferAttribute(part.uvs, 2));
      geometry.setIndex(new BufferAttribute(part.indices, 1));
      const material = materials[part.material];
      const map = material && material.texture >= 0 ? (textures[material.texture] ?? null) : null;
      const mesh = new Mesh(geometry, levelMaterial(material, atmosphere, map, part.colours !== null, part.uvs !== null));
      mesh.matrixAutoUpdate = false;
      this.scene.add(mesh);
      this.meshes.push({ mesh, node: part.inWorld ? -1 : part.node });
    }
    this.update();
  }

  /** Counts how often anything in the scene has moved: two pictures with one count show the same. */
  moves = 0;

  /** Takes over the model's present poses. */
  update(): void {
    const { worldMatrices } = this.model;
    let moved = false;
    for (const { mesh, node } of this.meshes) {
      if (node < 0) continue;
      const { elements } = mesh.matrixWorld;
      for (let k = 0; k < 16 && !moved; k++)
        moved = Math.fround(elements[k] as number) !== Math.fround(worldMatrices[node * 16 + k] as number);
      mesh.matrixWorld.fromArray(worldMatrices, node * 16);
    }
    if (moved) this.moves++;
  }

  dispose(): void {
    for (const { mesh } of this.meshes) {
      mesh.geometry.dispose();
      (mesh.material as { dispose(): void }).dispose();
    }
  }
}
