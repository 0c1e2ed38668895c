/** The level as three.js draws it. Geometry and matrices are LevelModel's own; nothing is read or placed a second time. */
import { type Detail, type DrawnPiece, drawnPieces, type LevelModel } from '@foreshore/level';
import {
  BufferAttribute,
  BufferGeometry,
  ClampToEdgeWrapping,
  type Frustum,
  Mesh,
  type RawShaderMaterial,
  RepeatWrapping,
  Scene,
  Sphere,
  SphereGeometry,
  SRGBColorSpace,
  Texture,
  Vector3,
} from 'three';
import { levelMaterial, skyMaterial } from './material.ts';

export class LevelScene {
  readonly scene = new Scene();
  readonly sky: Mesh;
  private readonly model: LevelModel;
  private readonly meshes: { mesh: Mesh; node: number; piece: DrawnPiece }[] = [];

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
    const { materials, atmosphere } = model.parts;
    this.scene.matrixWorldAutoUpdate = false;
    this.sky = new Mesh(new SphereGeometry(100, 32, 24), skyMaterial(atmosphere));
    this.sky.renderOrder = 1;
    this.sky.frustumCulled = false;
    this.scene.add(this.sky);
    const drawnWith = new Map<string, RawShaderMaterial>();
    for (const piece of model.drawn ?? drawnPieces(model)) {
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', new BufferAttribute(piece.positions, 3));
      if (piece.colours) geometry.setAttribute('color', new BufferAttribute(piece.colours, 4));
      if (piece.uvs) geometry.setAttribute('uv', new BufferAttribute(piece.uvs, 2));
      geometry.setIndex(new BufferAttribute(piece.indices, 1));
      geometry.boundingSphere = new Sphere(new Vector3(...piece.centre), piece.radiusM);
      const material = materials[piece.material];
      const map = material && material.texture >= 0 ? (textures[material.texture] ?? null) : null;
      const key = `${piece.material} ${piece.colours !== null} ${piece.uvs !== null}`;
      const shader = drawnWith.get(key) ?? levelMaterial(material, atmosphere, map, piece.colours !== null, piece.uvs !== null);
      drawnWith.set(key, shader);
      const mesh = new Mesh(geometry, shader);
      mesh.matrixAutoUpdate = false;
      this.scene.add(mesh);
      this.meshes.push({ mesh, node: piece.node, piece });
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

  /**
   * Chooses how finely each piece is drawn. @param offPx so many pixels it may be off; 0 draws everything whole.
   * @param pixelsPerRadian of the picture that is drawn. @param eye where it is seen from. @param seen what the picture shows.
   * @returns how many triangles are drawn.
   */
  setDetail(offPx: number, pixelsPerRadian: number, eye: readonly [number, number, number], seen: Frustum | null): number {
    let triangles = 0;
    for (const { mesh, piece } of this.meshes) {
      let chosen = piece.details[0] as Detail;
      if (offPx > 0 && piece.details.length > 1) {
        const { elements: m } = mesh.matrixWorld;
        const [x, y, z] = piece.centre;
        const scale = Math.max(Math.hypot(m[0], m[1], m[2]), Math.hypot(m[4], m[5], m[6]), Math.hypot(m[8], m[9], m[10]));
        const away = Math.hypot(
          m[0] * x + m[4] * y + m[8] * z + m[12] - eye[0],
          m[1] * x + m[5] * y + m[9] * z + m[13] - eye[1],
          m[2] * x + m[6] * y + m[10] * z + m[14] - eye[2],
        );
        // From the nearest that any of it may be.
        const mayBeOffM = (offPx * Math.max(0, away - piece.radiusM * scale)) / pixelsPerRadian;
        for (const detail of piece.details) if (detail.errorM * scale <= mayBeOffM) chosen = detail;
      }
      mesh.geometry.setDrawRange(chosen.start, chosen.count);
      if (!seen || seen.intersectsObject(mesh)) triangles += chosen.count / 3;
    }
    return triangles;
  }

  dispose(): void {
    for (const { mesh } of this.meshes) {
      mesh.geometry.dispose();
      (mesh.material as { dispose(): void }).dispose();
    }
  }
}
