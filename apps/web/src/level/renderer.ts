/**
 * One WebGL context draws the level for every picture on the page; each picture is copied to its own canvas. Where the processor
 * draws, the page does not wait for it: a picture is begun, and laid on its canvas once it is there.
 */
import type { Pose, Projection } from '@foreshore/core';
import type { PixelBox } from '@foreshore/paint';
import {
  CanvasTexture,
  Frustum,
  Matrix4,
  Mesh,
  NoColorSpace,
  Object3D,
  PerspectiveCamera,
  PlaneGeometry,
  Quaternion,
  ShaderMaterial,
  Vector3,
  WebGLRenderer,
} from 'three';
import { type ComingMasks, type PanelMask, PanelMasks, type PanelQuad } from './panel-masks.ts';
import { ReadBack, type Reading } from './read-back.ts';
import type { LevelScene } from './scene.ts';

const FAR_M = 5000;

export const SOFTWARE = drawsInSoftware();

/** While something moves; after a change; at rest. */
export type Quality = 'coarse' | 'plain' | 'fine';
/**
 * How many pixels are drawn for one that is shown, along each side. Without a graphics card a picture takes as long as it has
 * pixels: half as many each way while moving, twice as many at rest, which smooths edges; multisampling would halve the
 * pictures a second.
 */
const DENSITY: Record<Quality, number> = SOFTWARE ? { coarse: 0.5, plain: 1, fine: 2 } : { coarse: 1, plain: 1, fine: 1 };

/** Where pictures while moving take longer than is wanted, they have fewer pixels yet, until they take less than half of it. */
const FEWER_PIXELS = 0.75;
/** Only from pictures with so many pixels is learned how long they take: tiles are quick. */
const LARGE_PX = 200_000;

/**
 * By so many drawn pixels the level's form may be off its own, at first. Where a picture then still takes longer than it is wanted to,
 * by more, up to the most: without a graphics card a picture takes as long as it has triangles.
 */
const OFF_PX: Record<Quality, number> = SOFTWARE ? { coarse: 2, plain: 0.5, fine: 0.5 } : { coarse: 0, plain: 0, fine: 0 };
const MOST_OFF_PX = 16;
const WANTED: Record<Quality, number> = { coarse: 35, plain: 90, fine: 130 };
/** What a triangle is taken to cost before one was drawn, milliseconds. */
const FIRST_GUESS_MS = SOFTWARE ? 5e-4 : 0;

interface Last {
  scene: LevelScene;
  shows: string;
  density: number;
  picture: OffscreenCanvas | null;
  /** Where panels stood when their masks were made, and the masks. */
  panels: string;
  masks: ReadonlyMap<string, PanelMask>;
}

const NO_MASKS: ReadonlyMap<string, PanelMask> = new Map();
const NO_COMING: ComingMasks = { ready: () => true, make: () => NO_MASKS };

/** A picture of the level on its way to a canvas. */
export interface Coming {
  /** Whether it can be laid there without waiting. */
  ready(): boolean;
  /** Whether it is being drawn, or there: asking whether it is ready may begin it. */
  readonly begun: boolean;
  /**
   * Lays it there, once, waiting where it must. @param within only this part of it, where it is one that is kept.
   * @returns what of each panel the level leaves free.
   */
  land(within?: PixelBox): ReadonlyMap<string, PanelMask>;
  /** The picture alone, where it is kept; of one that is drawn now, once it has landed. */
  readonly picture: OffscreenCanvas | null;
}

/** How often is asked whether a picture is there, milliseconds. */
const ASK_MS = 3;

/** Until it is ready; whoever waits has just asked. */
export const readied = (coming: Pick<Coming, 'ready'>): Promise<void> =>
  new Promise((resolve) => {
    const ask = (): void => {
      if (coming.ready()) resolve();
      else setTimeout(ask, ASK_MS);
    };
    setTimeout(ask, ASK_MS);
  });

function copyOf(canvas: HTMLCanvasElement | OffscreenCanvas): OffscreenCanvas {
  const copy = new OffscreenCanvas(canvas.width, canvas.height);
  copy.getContext('2d', { alpha: false })?.drawImage(canvas, 0, 0);
  return copy;
}

function drawsInSoftware(): boolean {
  const gl = new OffscreenCanvas(1, 1).getContext('webgl2');
  const info = gl?.getExtension('WEBGL_debug_renderer_info');
  const name = gl && info ? String(gl.getParameter(info.UNMASKED_RENDERER_WEBGL)) : '';
  gl?.getExtension('WEBGL_lose_context')?.loseContext();
  return /swiftshader|llvmpipe|software|basic render/i.test(name);
}

/** Our projection as an OpenGL matrix (column-major), so that the drawn level and the solved frame share one lens. */
function glProjection({ widthPx, heightPx, focalX, focalY, centreX, centreY, nearM, orthographic }: Projection, out: Matrix4): Matrix4 {
  const [sx, sy] = [(2 * focalX) / widthPx, (2 * focalY) / heightPx];
  const [ox, oy] = [(2 * centreX) / widthPx - 1, 1 - (2 * centreY) / heightPx];
  const depth = 1 / (nearM - FAR_M);
  if (orthographic) return out.set(sx, 0, 0, ox, 0, sy, 0, oy, 0, 0, 2 * depth, (FAR_M + nearM) * depth, 0, 0, 0, 1);
  return out.set(sx, 0, -ox, 0, 0, sy, -oy, 0, 0, 0, (FAR_M + nearM) * depth, 2 * FAR_M * nearM * depth, 0, 0, -1, 0);
}

/** What was painted for one eye, over all that is drawn for it. Eyes draw what is on their own layer: 1 the left one, 2 the right one. */
function overFor(canvas: OffscreenCanvas, eye: number) {
  const texture = new CanvasTexture(canvas as unknown as HTMLCanvasElement);
  texture.colorSpace = NoColorSpace;
  texture.generateMipmaps = false;
  const material = new ShaderMaterial({
    uniforms: { over: { value: texture } },
    vertexShader: 'varying vec2 at; void main() { at = uv; gl_Position = vec4(position.xy * 2.0, 0.0, 1.0); }',
    fragmentShader: 'varying vec2 at; uniform sampler2D over; void main() { gl_FragColor = texture2D(over, at); }',
    transparent: true,
    depthTest: false,
    depthWrite: false,
  });
  const mesh = new Mesh(new PlaneGeometry(1, 1), material);
  mesh.frustumCulled = false;
  mesh.renderOrder = 1e6;
  mesh.layers.set(eye + 1);
  mesh.userData.width = canvas.width;
  mesh.userData.height = canvas.height;
  return { mesh, texture };
}

/** A picture that takes longer is drawn with fewer pixels the next time. */
const SLOW_MS = 3500;
/** Of fewer than these nothing is learned about what one costs. */
const MANY = 30_000;
/** It is then to take about so long. */
const WANTED_MS = 600;
/** So many times the pixels, each way, are worth another picture. */
const NOTABLY = 1.15;
const LEAST_DENSITY = 0.08;
const PROBE = 0.2;
/** What makes ready what draws, and takes less, belongs to a level that is quick to draw. */
const QUICK_MS = 800;
/** About as wide as the picture on the page. */
const PROBE_PX = 880;
export type Target = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;
/** In place of the level while there are no graphics. */
const NO_PICTURE = '#3A4352';

export class LevelRenderer {
  private readonly renderer: WebGLRenderer;
  private readonly camera = new PerspectiveCamera();
  private readonly one = new Vector3(1, 1, 1);
  private readonly masks = new PanelMasks();
  private readonly back: ReadBack;
  private readonly last = new WeakMap<HTMLCanvasElement | OffscreenCanvas, Last>();
  /** A picture of fewer pixels than its canvas has. */
  private small: OffscreenCanvas | null = null;
  lost = false;
  /** No more pixels than this share of each side are drawn. */
  private most = 2;
  /** How long pictures take while moving, milliseconds, the last ones weighing most; and whether that is too long for all pixels. */
  private coarseMs = 0;
  private hurried = false;
  /** What a triangle costs. */
  private triangleMs = FIRST_GUESS_MS;
  private readonly frustum = new Frustum();
  private readonly viewProjection = new Matrix4();

  /** The small picture that makes ready what draws is on its way. */
  private preparing = false;

  /** A picture at rest was quicker than was feared: there may be one with more pixels. */
  onFiner: () => void = () => {};
  /** Told when the graphics context is lost, and when it has come back and everything should be drawn again. */
  onChange: ((lost: boolean) => void) | null = null;

  constructor() {
    this.renderer = new WebGLRenderer({ antialias: !SOFTWARE, alpha: false, powerPreference: 'high-performance' });
    this.renderer.autoClear = true;
    this.back = new ReadBack(this.renderer.getContext() as WebGL2RenderingContext);
    this.camera.matrixAutoUpdate = false;
    const { domElement } = this.renderer;
    domElement.addEventListener('webglcontextlost', (event) => {
      event.preventDefault();
      this.lost = true;
      this.onChange?.(true);
    });
    domElement.addEventListener('webglcontextrestored', () => {
      this.lost = false;
      this.back.reset();
      this.onChange?.(false);
    });
  }

  /**
   * Draws into a 2D context, as large as that is, and waits for it.
   * @param panels that the level may cover. @returns what of each it leaves free.
   */
  draw(...args: Parameters<LevelRenderer['begin']>): ReadonlyMap<string, PanelMask> {
    return this.begin(...args).land();
  }

  /** Begins to draw for a 2D context, as large as that is now. @param panels that the level may cover. */
  begin(...args: Parameters<LevelRenderer['beginNow']>): Coming {
    if (!this.preparing) return this.beginNow(...args);
    // How fine it may be is known only when that is there; who cannot wait has it at once.
    let begun: Coming | null = null;
    const now = (): Coming => (begun ??= this.beginNow(...args));
    return {
      ready: () => !this.preparing && now().ready(),
      get begun() {
        return begun !== null;
      },
      land: (within) => now().land(within),
      get picture() {
        return begun?.picture ?? null;
      },
    };
  }

  private beginNow(
    scene: LevelScene,
    projection: Projection,
    pose: Pose,
    target: Target,
    quality: Quality = 'fine',
    panels: readonly PanelQuad[] = [],
  ): Coming {
    const { width, height } = target.canvas;
    if (this.lost) return { ready: () => true, begun: true, land: () => this.nothing(target), picture: null };
    const wanted = DENSITY[quality] * (quality === 'coarse' && this.hurried ? FEWER_PIXELS : 1);
    scene.update();
    const shows = JSON.stringify([width, height, scene.moves, pose.position, pose.rotation, projection]);
    const last = this.last.get(target.canvas);
    const same = last?.scene === scene && last.shows === shows;
    const stand = panels.length > 0 ? JSON.stringify(panels.map(({ element, corners }) => [element, corners])) : '';
    const kept = same && last.picture && last.density >= Math.min(wanted, this.most);
    if (kept && (last.panels === stand || stand === ''))
      return {
        ready: () => true,
        begun: true,
        land: ({ x, y, width: w, height: h } = { x: 0, y: 0, width, height }) => {
          target.drawImage(last.picture as OffscreenCanvas, x, y, w, h, x, y, w, h);
          return stand === '' ? NO_MASKS : last.masks;
        },
        picture: last.picture,
      };
    const { camera } = this;
    this.setCamera(scene, projection, pose);
    const density = Math.min(wanted, this.most);
    const triangles = this.chooseDetail(scene, projection, pose, (width / projection.widthPx) * density, quality);
    const drawn = this.render(scene, target, density);
    // The depth of what was just drawn is still there.
    const masks = stand === '' ? NO_COMING : this.masks.begin(this.renderer, this.back, camera, panels, projection.widthPx, width, height);
    let picture: OffscreenCanvas | null = null;
    return {
      ready: () => this.lost || (drawn.ready() && masks.ready()),
      begun: true,
      get picture() {
        return picture;
      },
      land: () => {
        if (this.lost) return this.nothing(target);
        const ms = drawn.land();
        this.learn(density, ms, triangles);
        if (quality === 'fine' && this.raise(density, wanted, ms)) this.onFiner();
        if (SOFTWARE && quality === 'coarse' && width * height > LARGE_PX) this.hurry(ms);
        const free = masks.make();
        // At rest, or asked for a second time, it stands still: kept, so that what changes in front of the level does not draw the level again.
        picture = same || quality === 'fine' ? copyOf(target.canvas) : null;
        this.last.set(target.canvas, { scene, shows, density, picture, panels: stand, masks: free });
        return free;
      },
    };
  }

  /** What stands there is of another moment: nothing may be painted over it as if it were of this one. */
  private nothing(target: Target): ReadonlyMap<string, PanelMask> {
    target.fillStyle = NO_PICTURE;
    target.fillRect(0, 0, target.canvas.width, target.canvas.height);
    return NO_MASKS;
  }

  /** As fine as can be drawn in the time that is wanted. @param scale pixels that are drawn for one of the viewer's. @returns how many triangles that is. */
  private chooseDetail(scene: LevelScene, projection: Projection, pose: Pose, scale: number, quality: Quality): number {
    const { camera, frustum } = this;
    frustum.setFromProjectionMatrix(this.viewProjection.multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse));
    // Without perspective everything is as near as everything else.
    if (projection.orthographic) return scene.setDetail(0, 1, pose.position, frustum);
    const pixels = Math.max(projection.focalX, projection.focalY) * scale;
    let off = OFF_PX[quality];
    let triangles = scene.setDetail(off, pixels, pose.position, frustum);
    while (triangles * this.triangleMs > WANTED[quality] && off < MOST_OFF_PX) {
      off = Math.max(0.25, off * 2);
      triangles = scene.setDetail(off, pixels, pose.position, frustum);
    }
    return triangles;
  }

  /** Draws with so many pixels for one of the target's, each way. Landing gives how long that took, milliseconds. */
  private render(scene: LevelScene, target: Target, density: number): { ready(): boolean; land(): number } {
    const before = performance.now();
    const { width, height } = target.canvas;
    const { renderer } = this;
    const [w, h] = [Math.ceil(width * density), Math.ceil(height * density)];
    if (renderer.domElement.width !== w || renderer.domElement.height !== h) renderer.setSize(w, h, false);
    renderer.render(scene.scene, this.camera);
    if (!SOFTWARE) {
      target.drawImage(renderer.domElement, 0, 0, width, height);
      const tookMs = performance.now() - before;
      return { ready: () => true, land: () => tookMs };
    }
    // What has fewer pixels than the canvas is fetched as it is, and enlarged there.
    const [readW, readH] = [Math.min(w, width), Math.min(h, height)];
    const reading: Reading = this.back.scaled(w, h, readW, readH);
    let after: number | null = null;
    const ready = (): boolean => {
      if (after === null && reading.ready()) after = performance.now();
      return after !== null;
    };
    return {
      ready,
      land: () => {
        const image = new ImageData(readW, readH);
        reading.fetch(image.data);
        if (readW === width && readH === height) target.putImageData(image, 0, 0);
        else target.drawImage(this.smallOf(image), 0, 0, width, height);
        return (after ?? performance.now()) - before;
      },
    };
  }

  private smallOf(image: ImageData): OffscreenCanvas {
    const { width, height } = image;
    if (this.small?.width !== width || this.small.height !== height) this.small = new OffscreenCanvas(width, height);
    this.small.getContext('2d', { alpha: false })?.putImageData(image, 0, 0);
    return this.small;
  }

  private setCamera(scene: LevelScene, projection: Projection, pose: Pose): void {
    const { camera } = this;
    camera.matrixWorld.compose(new Vector3(...pose.position), new Quaternion(...pose.rotation), this.one);
    camera.matrixWorldInverse.copy(camera.matrixWorld).invert();
    glProjection(projection, camera.projectionMatrix);
    camera.projectionMatrixInverse.copy(camera.projectionMatrix).invert();
    scene.sky.matrixWorld.setPosition(...pose.position);
  }

  /**
   * To be called before the first picture of a level, which waits for it: draws a small one out of sight, which makes ready what draws;
   * where that takes long, a second tells what one costs. @param pose from where the first picture will be seen.
   */
  async prepare(scene: LevelScene, projection: Projection, pose: Pose): Promise<void> {
    this.preparing = true;
    try {
      await this.probe(scene, projection, pose);
    } finally {
      this.preparing = false;
    }
  }

  private async probe(scene: LevelScene, projection: Projection, pose: Pose): Promise<void> {
    const target = new OffscreenCanvas(PROBE_PX, Math.max(1, Math.round((PROBE_PX * projection.heightPx) / projection.widthPx))).getContext(
      '2d',
    );
    if (!target) return;
    const probe = async (density: number): Promise<number> => {
      this.setCamera(scene, projection, pose);
      this.chooseDetail(scene, projection, pose, (PROBE_PX / projection.widthPx) * PROBE, 'coarse');
      const drawn = this.render(scene, target, density);
      await readied({ ready: () => this.lost || drawn.ready() });
      return this.lost ? 0 : drawn.land();
    };
    if ((await probe(PROBE / 8)) < QUICK_MS) return;
    const ms = (await probe(PROBE)) / PROBE ** 2;
    if (ms > SLOW_MS) this.most = Math.max(LEAST_DENSITY, Math.sqrt(WANTED_MS / ms));
  }

  private hurry(ms: number): void {
    this.coarseMs += (ms - this.coarseMs) / 4;
    if (this.coarseMs > WANTED.coarse) this.hurried = true;
    else if (this.coarseMs < WANTED.coarse / 2) this.hurried = false;
  }

  /** A level that takes seconds a picture is drawn with fewer pixels, until it is quick again: the page must not stand still. */
  private learn(density: number, ms: number, triangles: number): void {
    // From below: what is measured holds the pixels, too.
    if (triangles > MANY) this.triangleMs += (ms / triangles - this.triangleMs) / (ms / triangles < this.triangleMs ? 2 : 8);
    if (ms > SLOW_MS) this.most = Math.max(LEAST_DENSITY, density * Math.sqrt(WANTED_MS / ms));
    else if (ms < WANTED_MS / 4 && density >= this.most) this.most = Math.min(2, this.most * 1.5);
  }

  /**
   * What was measured while the page was busy was too long, and at rest nothing else would tell: a picture that has time left is drawn
   * once more, with as many pixels as go into that. @returns whether there may be notably more.
   */
  private raise(density: number, wanted: number, ms: number): boolean {
    if (density >= wanted) return false;
    this.most = Math.max(this.most, Math.min(2, density * Math.sqrt(WANTED_MS / ms)));
    return Math.min(wanted, this.most) > density * NOTABLY;
  }

  /**
   * Draws for a headset until its session ends: the level once for each eye, and over it, in each, what was painted for that eye.
   * @param each called for every picture: where the floor of the headset's space is in the level, and what lies over the level for
   * the left and the right eye; null leaves the picture out.
   */
  async present(
    session: XRSession,
    scene: LevelScene,
    each: (frame: XRFrame, space: XRReferenceSpace) => { floor: Pose; head: Pose; over: readonly OffscreenCanvas[] } | null,
  ): Promise<void> {
    const { renderer } = this;
    // Whole, whatever the last picture on the page needed of it.
    scene.setDetail(0, 1, [0, 0, 0], null);
    const floor = new Object3D();
    floor.matrixAutoUpdate = false;
    const camera = new PerspectiveCamera(60, 1, 0.05, FAR_M);
    floor.add(camera);
    const overs: { mesh: Mesh<PlaneGeometry, ShaderMaterial>; texture: CanvasTexture }[] = [];
    renderer.xr.enabled = true;
    renderer.xr.setReferenceSpaceType('local-floor');
    session.addEventListener('end', () => {
      renderer.setAnimationLoop(null);
      renderer.xr.enabled = false;
      for (const { mesh, texture } of overs) {
        scene.scene.remove(mesh);
        mesh.geometry.dispose();
        mesh.material.dispose();
        texture.dispose();
      }
    });
    renderer.setAnimationLoop((_time, frame) => {
      const space = renderer.xr.getReferenceSpace();
      const made = frame && space ? each(frame, space) : null;
      if (!made) return;
      floor.matrix.compose(new Vector3(...made.floor.position), new Quaternion(...made.floor.rotation), this.one);
      floor.matrixWorld.copy(floor.matrix);
      scene.update();
      scene.sky.matrixWorld.setPosition(...made.head.position);
      made.over.forEach((canvas, eye) => {
        const known = overs[eye];
        // A texture has the size it began with.
        const { width, height } = known?.mesh.userData ?? {};
        if (known && width === canvas.width && height === canvas.height) {
          known.texture.needsUpdate = true;
          return;
        }
        if (known) {
          scene.scene.remove(known.mesh);
          known.texture.dispose();
        }
        overs[eye] = overFor(canvas, eye);
        scene.scene.add((overs[eye] as (typeof overs)[number]).mesh);
      });
      renderer.render(scene.scene, camera);
    });
    await renderer.xr.setSession(session);
  }

  /** What was drawn last, for tests: of a headset both eyes, side by side. */
  picture(): HTMLCanvasElement {
    return this.renderer.domElement;
  }

  dispose(): void {
    this.masks.dispose();
    this.renderer.dispose();
    this.renderer.forceContextLoss();
  }
}
