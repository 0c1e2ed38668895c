/** Paints what viewers see: the level, and over it what was solved for it; one picture, both eyes, or all players of a split screen. */
import {
  type DrawList,
  type DrawnRay,
  drawList,
  eyesOf,
  type Pose,
  type SolveContext,
  type Solver,
  seesSeveral,
  type Vec3,
  wholeSize,
} from '@foreshore/core';
import type { Document } from '@foreshore/document';
import type { LevelModel } from '@foreshore/level';
import { type CanvasPictures, changedBox, type PixelBox, paintCanvas, readyTexts, type Texts, within } from '@foreshore/paint';
import { panelLayers } from '../level/panel-layers.ts';
import { type Coming, type LevelRenderer, type Quality, SOFTWARE, type Target } from '../level/renderer.ts';
import type { LevelScene } from '../level/scene.ts';
import { useBench } from '../state/bench.ts';
import type { Seen } from './frames.ts';
import { recordedRays } from './trying.ts';

/** What of a split screen is nobody's, and between its parts and two eyes. */
const BETWEEN = '#15233B';

/** A larger share of a picture than this is not painted by itself. */
const SMALL = 0.5;
/** Pictures of texts are made for so long at a time; for less while it is waited for that the level can be drawn. */
const MAKING_MS = 30;
const SOME_MS = 5;

/** What the painter is given. */
export interface PaintHost {
  readonly document: Document;
  readonly model: LevelModel;
  readonly scene: LevelScene;
  readonly renderer: LevelRenderer;
  readonly pictures: CanvasPictures;
  frameOf(viewer: string): Solver | null;
  /** Both eyes, all players, or the one picture of a viewer. */
  allSeen(viewer: string): Seen[];
  /** A viewer's frame from any pose of the head. */
  solvedFrom(viewer: string, pose: Pose, timeS: number): Solver | null;
  pose(): Pose;
  /** The rays that are seen while trying. */
  drawn(frame: SolveContext): DrawnRay[];
}

/** A picture on its way: what lies over the level is solved, the level is being drawn. */
export interface ComingPicture {
  ready(): boolean;
  /** Paints it on its canvas, once, waiting for the level where it must. */
  show(): void;
}

export class ViewerPainter {
  private readonly host: PaintHost;
  /** What was painted last on each canvas, and the level's picture below it. */
  private readonly painted = new WeakMap<
    HTMLCanvasElement | OffscreenCanvas,
    { list: DrawList; scale: number; texts: Texts; picture: OffscreenCanvas | null }
  >();
  /** What of a canvas shows one of several pictures is drawn apart, so that each keeps what was drawn of it. */
  private readonly parts = new WeakMap<HTMLCanvasElement, OffscreenCanvas[]>();

  constructor(host: PaintHost) {
    this.host = host;
  }

  /** One viewer's picture, reduced to the canvas's size; everything in it was solved at the viewer's own pixels. */
  beginViewer(solver: SolveContext, pose: Pose, target: Target, quality: Quality): ComingPicture {
    const { cursor, mode, pointWith } = useBench.getState();
    const { widthPx, heightPx } = solver.a.projection;
    const pointer: [number, number] | null =
      cursor && mode === 'try' && pointWith === 'mouse' ? [cursor[0] * widthPx, cursor[1] * heightPx] : null;
    const rays = mode === 'try' ? this.host.drawn(solver) : recordedRays(solver);
    return this.begin(solver, drawList(solver, 0, pointer, rays), pose, target, quality);
  }

  seesSeveral(viewer: string): boolean {
    const described = this.host.document.viewers[viewer];
    return described !== undefined && seesSeveral(described);
  }

  /** All that a viewer sees: both eyes, all players, or its one picture; null where there is none. */
  beginWhole(viewer: string, target: CanvasRenderingContext2D, quality: Quality): ComingPicture | null {
    const described = this.host.document.viewers[viewer];
    if (!described) return null;
    const { width, height } = target.canvas;
    const whole = wholeSize(described);
    if (!seesSeveral(described)) {
      const one = this.host.frameOf(viewer);
      return one && this.beginViewer(one, this.host.pose(), target, quality);
    }
    let canvases = this.parts.get(target.canvas);
    if (!canvases) this.parts.set(target.canvas, (canvases = []));
    const parts: { picture: ComingPicture; canvas: OffscreenCanvas; left: number; top: number }[] = [];
    for (const [k, { frame, pose, x, y }] of this.host.allSeen(viewer).entries()) {
      const { widthPx, heightPx } = frame.a.projection;
      const [left, top] = [Math.round((x / whole.widthPx) * width), Math.round((y / whole.heightPx) * height)];
      const [w, h] = [
        Math.max(1, Math.round(((x + widthPx) / whole.widthPx) * width) - left),
        Math.max(1, Math.round(((y + heightPx) / whole.heightPx) * height) - top),
      ];
      let canvas = canvases[k];
      if (!canvas) canvases.push((canvas = new OffscreenCanvas(w, h)));
      if (canvas.width !== w) canvas.width = w;
      if (canvas.height !== h) canvas.height = h;
      const context = canvas.getContext('2d', { alpha: false });
      if (!context) continue;
      // Every player's own pose moves nothing of the level, but each picture draws it as its own frame placed it.
      parts.push({ picture: this.begin(frame, drawList(frame, 0, null, recordedRays(frame)), pose, context, quality), canvas, left, top });
    }
    return {
      ready: () => parts.every(({ picture }) => picture.ready()),
      show: () => {
        target.setTransform(1, 0, 0, 1, 0, 0);
        target.globalAlpha = 1;
        target.fillStyle = BETWEEN;
        target.fillRect(0, 0, width, height);
        for (const { picture, canvas, left, top } of parts) {
          picture.show();
          target.drawImage(canvas, left, top);
          // Where one picture ends and the next begins.
          target.fillStyle = BETWEEN;
          if (left > 0) target.fillRect(left - 1, top, 2, canvas.height);
          if (top > 0) target.fillRect(left, top - 1, canvas.width, 2);
        }
      },
    };
  }

  /** A viewer's picture at a size of its own, from any pose of the head. @param eye of a headset. */
  snapshot(viewer: string, pose: Pose, width: number, height: number, overlay = true, eye?: 0 | 1): OffscreenCanvas | null {
    const canvas = new OffscreenCanvas(width, height);
    const target = canvas.getContext('2d', { alpha: false });
    const solver = this.host.solvedFrom(viewer, pose, useBench.getState().timeS);
    if (!solver || !target) return null;
    const frame = eye === undefined ? solver : (eyesOf(solver)[eye] ?? solver);
    const { projection } = frame.a;
    const from: Pose = { ...pose, position: [...frame.f.eye.subarray(0, 3)] as Vec3 };
    // At a viewer's own size every pixel is one of the viewer's; only small pictures are worth smoothing.
    const quality = width >= 1000 ? 'plain' : 'fine';
    if (overlay) this.begin(frame, drawList(frame), from, target, quality).show();
    else this.host.renderer.draw(this.host.scene, projection, from, target, quality);
    return canvas;
  }

  /** The level, and over it what was solved for it. */
  private begin(solver: SolveContext, list: DrawList, pose: Pose, target: Target, quality: Quality): ComingPicture {
    const { projection } = solver.a;
    const { renderer, scene, model, pictures } = this.host;
    // What nothing of the level stands before is painted as it is: only the others are masked, which costs a reading back of depth.
    // One that another crosses is painted in pieces, under one mask.
    const whole = new Map(list.items.flatMap((item) => (item.kind === 'panel' && !item.through ? [[item.element, item] as const] : [])));
    const panels = [...whole.values()].filter(({ corners }) => model.nearestShare(...pose.position, corners) < 1);
    const level = renderer.begin(scene, projection, pose, target, quality, panels);
    const scale = target.canvas.width / projection.widthPx;
    // Over a level that stands as it was, texts that were painted at rest stay so, whatever is changed beside them; the first picture
    // is taken to rest.
    const before = this.painted.get(target.canvas);
    const stands = before ? level.picture !== null && before.picture === level.picture && before.texts === 'resting' : quality !== 'coarse';
    const rests = quality === 'fine' || stands;
    const texts = !SOFTWARE ? 'filled' : rests ? 'resting' : 'moving';
    const textsReady = readyTexts(list, scale, texts);
    return {
      // Neither is waited for, the level or the pictures of texts; where many are new, they are made while the level is drawn. What is
      // drawn is asked for first: it may only begin then.
      ready: () => {
        const there = level.ready();
        return textsReady(level.begun ? MAKING_MS : SOME_MS) && there;
      },
      show: () => {
        const { canvas } = target;
        const was = this.painted.get(canvas);
        const changed =
          was && level.picture && was.picture === level.picture && was.texts === texts && was.scale === scale
            ? changedBox(was.list, list, scale, canvas.width, canvas.height)
            : null;
        const part = changed && changed.width * changed.height < SMALL * canvas.width * canvas.height ? within(list, changed, scale) : null;
        if (changed && part) this.paintPart(target, level, part, changed, scale, texts);
        else {
          const masks = level.land();
          if (renderer.lost) {
            this.painted.delete(canvas);
            return;
          }
          paintCanvas(target as CanvasRenderingContext2D, list, scale, pictures, panelLayers(target, masks), texts);
        }
        this.painted.set(canvas, { list, scale, texts, picture: level.picture });
      },
    };
  }

  /** Only what is in a box, over what of the level is there. */
  private paintPart(target: Target, level: Coming, part: DrawList, box: PixelBox, scale: number, texts: Texts): void {
    if (box.width === 0) return;
    target.save();
    target.beginPath();
    target.rect(box.x, box.y, box.width, box.height);
    target.clip();
    level.land(box);
    paintCanvas(target as CanvasRenderingContext2D, part, scale, this.host.pictures, null, texts);
    target.restore();
  }

  /** Something else was painted there, or nothing is there any more. */
  forget(canvas: HTMLCanvasElement | null): void {
    if (canvas) this.painted.delete(canvas);
  }
}
