/**
 * What makes the bench's pictures: it holds the level, solves each viewer's frame, draws and reports.
 * It draws on demand; only playing, walking and recording keep it running.
 */

import { Replay } from '@foreshore/checks';
import {
  type Arranged,
  arrange,
  between,
  type Compiled,
  compile,
  countsOf,
  drawList,
  explain,
  Verdict as Failed,
  type Going,
  headRow,
  type Inputs,
  type Intent,
  isRestless,
  isSeen,
  type Memory,
  makeHit,
  makeSolver,
  measureReadable,
  type Pose,
  type Projection,
  paintedRows,
  phaseAt,
  placeLevel,
  placeOf,
  poseTowards,
  projector,
  readValues,
  routeDurationS,
  routePose,
  type Solver,
  STEPS,
  screenRay,
  solve,
  solveTo,
  type TextShaper,
  type Vec3,
  type WalkState,
  walk,
  walkFrom,
  walkPose,
  within,
} from '@foreshore/core';
import type { Document, Element, FeedValue } from '@foreshore/document';
import { cameraPose, emptyGround, type LevelModel, readLevel } from '@foreshore/level';
import { paintCanvas } from '@foreshore/paint';
import type { Recorded } from '../edits/edits.ts';
import { addFonts, projectShaper } from '../level/fonts.ts';
import { Pictures } from '../level/pictures.ts';
import { LevelRenderer, type Quality, SOFTWARE } from '../level/renderer.ts';
import { LevelScene } from '../level/scene.ts';
import { api } from '../state/api.ts';
import { type FrameInfo, type Hover, useBench, type Verdict } from '../state/bench.ts';
import { useLive } from '../state/live.ts';
import { drawOutside, outsideProjection } from './outside.ts';
import { Places, rowFor } from './places.ts';
import { Recording } from './recording.ts';
import { Trying } from './trying.ts';

const REACH_M = 4000;
/** Pictures farther apart than this are slow. */
const SLOW_MS = 45;
/** So long without a change, and the picture is drawn in full quality. */
const CALM_MS = 600;
/** Pictures from other places that come after one another as fast as this are one turn of the camera. */
const TURNING_MS = 250;

export class Engine {
  model: LevelModel;
  private scene: LevelScene;
  private readonly text: TextShaper;
  get shaper(): TextShaper {
    return this.text;
  }
  private readonly renderer: LevelRenderer;
  document: Document;
  compiled: Compiled;
  readonly trying = new Trying(this);
  readonly places = new Places(this);
  private readonly arranged = new Map<string, Arranged>();
  private readonly live = new Map<string, Solver>();
  private readonly replays = new Map<string, Replay>();
  private readonly pictures: Pictures;
  /** Where the head was in the last frame that was solved with a memory. */
  private readonly lastHead = new WeakMap<Memory, Pose>();
  /** While trying, time goes on for what softens, lingers and moves, though the route stands still: seconds. */
  tryS = 0;
  private main: HTMLCanvasElement | null = null;
  private readonly tiles = new Map<string, HTMLCanvasElement>();
  private request = 0;
  private lastMs = 0;
  /** Between the last two pictures while moving. */
  private intervalMs = 0;
  private dirty = true;
  private walker: WalkState | null = null;
  private speedMps = 0;
  /** The height from which the walker is coming down, metres. */
  private highestM = 0;
  intent: Intent = { right: 0, up: 0, forward: 0, fast: false };
  private outsidePose: Pose | null = null;
  private readonly recording = new Recording();
  private tileTurn = 0;
  private readonly unsubscribe: (() => void)[];
  private calm: ReturnType<typeof setTimeout> | undefined;
  private fine = false;
  /** Where the camera was in the last picture, and when that was. */
  private drawnPose: Pose | null = null;
  private drawnMs = 0;
  /** Something of the level was elsewhere in the last picture than in the one before. */
  private levelMoves = false;
  /** The picture shows what there is, in full quality. */
  settled = false;
  /** Told after every picture how long it took, milliseconds; for the benchmark. */
  onPicture: ((tookMs: number) => void) | null = null;
  /** When the first full picture was there, milliseconds since the page was asked for. */
  firstPictureMs: number | null = null;

  static async make(document: Document): Promise<Engine> {
    const [text, model] = await Promise.all([projectShaper(document), loadLevel(document)]);
    return new Engine(document, text, model, await LevelScene.make(model));
  }

  private constructor(document: Document, text: TextShaper, model: LevelModel, scene: LevelScene) {
    this.document = document;
    this.text = text;
    this.model = model;
    this.scene = scene;
    this.renderer = new LevelRenderer(() => this.invalidate());
    this.pictures = new Pictures(() => this.invalidate());
    this.pictures.want(document.pictures);
    this.compiled = compile(document, model);
    const live = useLive.subscribe(() => {
      this.replays.clear();
      this.invalidate();
    });
    const bench = useBench.subscribe((now, before) => {
      if (
        now.info !== before.info &&
        now.hover === before.hover &&
        now.pose === before.pose &&
        now.timeS === before.timeS &&
        now.selection === before.selection &&
        now.pointed === before.pointed &&
        now.pressed === before.pressed &&
        now.cursor === before.cursor &&
        now.scrolled === before.scrolled &&
        now.language === before.language &&
        now.device === before.device
      )
        return;
      if (now.language !== before.language || now.device !== before.device) {
        this.arranged.clear();
        this.replays.clear();
        this.live.clear();
      }
      if (now.mode !== before.mode) {
        this.live.clear();
        this.tryS = now.timeS;
        this.trying.end();
      }
      if (now.pose === null) this.walker = null;
      if (now.flying !== before.flying && this.walker) this.walker.flying = now.flying;
      this.invalidate();
    });
    this.unsubscribe = [live, bench];
    this.startPose();
  }

  dispose(): void {
    cancelAnimationFrame(this.request);
    clearTimeout(this.calm);
    for (const stop of this.unsubscribe) stop();
    this.trying.dispose();
    this.scene.dispose();
    this.renderer.dispose();
  }

  /** A project without a route starts where the level's own camera stands, or where everything can be seen. */
  private startPose(): void {
    const { pose, route } = useBench.getState();
    if (pose || this.document.routes[route]) return;
    useBench.setState({ pose: this.homePose() });
  }

  homePose(): Pose {
    const camera = this.model.parts.cameras[0];
    if (camera) return cameraPose(this.model, camera);
    const bounds = this.document.level ? this.model.bounds() : null;
    const eye = this.document.body.eyeHeightM;
    if (!bounds) return poseTowards([0, eye, 12], [0, 1, 0]);
    const middle = bounds.least.map((v, k) => (v + (bounds.greatest[k] as number)) / 2) as Vec3;
    const reach = Math.max(bounds.greatest[0] - bounds.least[0], bounds.greatest[2] - bounds.least[2], 4);
    const from: Vec3 = [middle[0] + reach * 0.35, bounds.least[1] + Math.max(eye, reach * 0.22), middle[2] + reach * 0.55];
    return poseTowards(from, middle);
  }

  setDocument(document: Document): void {
    if (document === this.document) return;
    this.document = document;
    this.pictures.want(document.pictures);
    void addFonts(this.text, document).then((any) => {
      if (!any) return;
      this.arranged.clear();
      this.replays.clear();
      this.live.clear();
      this.invalidate();
    });
    this.compiled = compile(document, this.model);
    this.arranged.clear();
    this.replays.clear();
    for (const [viewer, solver] of this.live) {
      const same = sameRows(solver.c, this.compiled);
      const arranged = this.arrangedFor(viewer);
      if (same && arranged) this.live.set(viewer, makeSolver(arranged, 1, solver.m));
      else this.live.delete(viewer);
    }
    this.invalidate();
  }

  setMain(canvas: HTMLCanvasElement | null): void {
    this.main = canvas;
    this.invalidate();
  }
  setTile(viewer: string, canvas: HTMLCanvasElement | null): void {
    if (canvas) this.tiles.set(viewer, canvas);
    else this.tiles.delete(viewer);
    this.invalidate();
  }

  invalidate(): void {
    this.dirty = true;
    this.settled = false;
    if (!this.request) this.request = requestAnimationFrame(this.tick);
  }

  private arrangedFor(viewer: string): Arranged | null {
    const known = this.arranged.get(viewer);
    if (known) return known;
    const described = this.document.viewers[viewer];
    if (!described) return null;
    const { language, device } = useBench.getState();
    const made = arrange(this.compiled, described, this.text, undefined, language ?? this.document.language, device);
    this.arranged.set(viewer, made);
    return made;
  }

  /** The present frame of a viewer: on the route by replay from its start, with the free camera by going on from the last. */
  frameOf(viewer: string): Solver | null {
    const arranged = this.arrangedFor(viewer);
    if (!arranged) return null;
    const { pose, route, timeS, mode, scrolled } = useBench.getState();
    const way = this.document.routes[route];
    if (!pose && way && mode !== 'try') {
      const key = `${viewer} ${route}`;
      let replay = this.replays.get(key);
      if (!replay) {
        const { held, phase } = useLive.getState();
        this.replays.set(key, (replay = new Replay(arranged, way, held, phase)));
      }
      const { pointed, pressed } = useBench.getState();
      replay.pointed = pointed;
      replay.pressed = pressed;
      replay.forced = useLive.getState().forced;
      replay.scrolled = scrolled;
      replay.at(timeS, true);
      return replay.solver;
    }
    let solver = this.live.get(viewer);
    if (!solver) this.live.set(viewer, (solver = makeSolver(arranged)));
    const head = this.pose();
    if (mode === 'try') this.goOn(solver, head, timeS);
    else solve(solver, this.inputsAt(solver, head, timeS));
    return solver;
  }

  /** While trying: by way of all ticks since the last picture, so that a slow machine decides as a quick one does. */
  private goOn(solver: Solver, head: Pose, timeS: number): void {
    const last = this.lastHead.get(solver.m);
    const { tryS } = this;
    const fromS = solver.m.timeS;
    solveTo(solver, tryS, (atS) => {
      const way = last && tryS > fromS ? between(last, head, (atS - fromS) / (tryS - fromS)) : head;
      return this.inputsAt(solver, atS < tryS ? way : head, timeS, atS);
    });
    this.lastHead.set(solver.m, head);
  }

  /** Places the level, and says what a frame is solved with: the feeds and the phase of a time, somewhere off the route. */
  private inputsAt(solver: Solver, head: Pose, timeS: number, clockS = timeS): Inputs {
    this.placeLevel(timeS);
    const { route, pointed, pressed, pose, scrolled, mode, playing } = useBench.getState();
    const way = this.document.routes[route] ?? null;
    const { held, phase, forced } = useLive.getState();
    return {
      timeS: clockS,
      head,
      stands: mode !== 'try' && !playing,
      views: [],
      depthOrder: true,
      values: readValues(solver.c, way, timeS, head, held, undefined, pose ? this.going() : null),
      pressing: mode === 'try' ? this.trying.share() : null,
      phase: phase ?? phaseAt(this.document, way, timeS),
      pointed,
      pressed,
      forced,
      scrolled,
    };
  }

  /** How the one who walks is moving now. */
  private going(): Going {
    const { walker } = this;
    return { speedMps: this.speedMps, fallenM: walker ? Math.max(0, this.highestM - walker.position[1]) : 0 };
  }

  /** The phase in force now. */
  phase(): string | null {
    const { route, timeS } = useBench.getState();
    return useLive.getState().phase ?? phaseAt(this.document, this.document.routes[route] ?? null, timeS);
  }

  /** Places the level for a time, with what feeds move of it as they stand. */
  placeLevel(timeS: number): void {
    const { route } = useBench.getState();
    placeLevel(this.compiled, this.document.routes[route] ?? null, timeS, this.pose(), useLive.getState().held);
  }

  /** The camera now, wherever it is carried. */
  pose(): Pose {
    const { pose } = useBench.getState();
    return pose ?? this.routePoseNow();
  }

  private routePoseNow(): Pose {
    const { route, timeS } = useBench.getState();
    const way = this.document.routes[route];
    return way ? routePose(way, timeS) : this.homePose();
  }

  /** Nothing has changed for a moment: one more picture, in full quality. */
  private readonly refine = (): void => {
    this.fine = true;
    this.invalidate();
  };

  private readonly tick = (nowMs: number): void => {
    this.request = 0;
    this.intervalMs = this.lastMs ? nowMs - this.lastMs : 0;
    const dtS = Math.min(0.1, this.intervalMs / 1000);
    let restless = this.lastMs > 0 && this.isRestless();
    const moving = this.advance(dtS) || restless;
    if (this.dirty || moving) {
      this.dirty = false;
      const before = performance.now();
      const quick = moving || !this.fine;
      const pose = this.pose();
      // A camera that is turned by hand moves, too, as long as it is.
      const turned = this.drawnPose !== null && !samePose(this.drawnPose, pose) && nowMs - this.drawnMs < TURNING_MS;
      // Where camera and level stand, the level is not drawn again: a press that fills its ring does not make it coarse.
      const { moves } = this.scene;
      this.draw(moving, quick && (turned || this.levelMoves) ? 'coarse' : quick ? 'plain' : 'fine');
      this.levelMoves = moving && this.scene.moves !== moves;
      [this.drawnPose, this.drawnMs] = [pose, nowMs];
      this.fine = false;
      clearTimeout(this.calm);
      if (quick && !moving) this.calm = setTimeout(this.refine, CALM_MS);
      restless = this.isRestless();
      this.settled = !quick && !restless && this.pictures.complete;
      const after = performance.now();
      this.onPicture?.(after - before);
      if (this.main && this.main.width > 1) this.firstPictureMs ??= after;
    }
    if (moving || restless) {
      this.lastMs = nowMs;
      this.request ||= requestAnimationFrame(this.tick);
    } else if (this.lastMs) {
      // At rest again: one more picture, in full quality and with all tiles.
      this.lastMs = 0;
      this.invalidate();
    }
  };

  /** Walking, playing and recording; true while anything goes on. */
  private advance(dtS: number): boolean {
    const state = useBench.getState();
    const { right, up, forward } = this.intent;
    // A phase that takes the input leaves the walk standing.
    const still = state.mode === 'try' && this.document.phases[this.phase() ?? '']?.takesInput === true;
    const steering = !still && (right !== 0 || up !== 0 || forward !== 0);
    const falling = this.walker !== null && !this.walker.flying && !this.walker.onGround && !state.outside;
    if (state.outside) {
      if (steering) this.flyOutside(dtS);
    } else if (steering || falling) {
      this.walker ??= walkFrom(this.pose(), state.flying);
      const before = [...this.walker.position] as Vec3;
      walk(this.walker, this.intent, dtS, this.document.body, this.model);
      const { position } = this.walker;
      if (dtS > 0) this.speedMps = Math.hypot(...position.map((v, k) => v - (before[k] as number))) / dtS;
      if (position[1] >= before[1]) this.highestM = position[1];
      useBench.setState({ pose: walkPose(this.walker) });
    } else this.speedMps = 0;
    const busy = state.mode === 'try' && this.trying.advance(dtS);
    if (state.mode === 'try') this.tryS += dtS;
    if (state.playing) {
      const way = this.document.routes[state.route];
      let timeS = state.timeS + dtS;
      if (!state.pose && way && timeS > routeDurationS(way)) timeS = 0;
      useBench.setState({ timeS });
    }
    if (state.recording) {
      this.recording.sample(useBench.getState().timeS, this.pose(), this.phase(), this.document);
    }
    return steering || falling || busy || state.playing || state.recording;
  }

  /** While trying: something moves, softens or lingers although nobody does anything. */
  private isRestless(): boolean {
    const { mode, viewer } = useBench.getState();
    const solver = mode === 'try' ? this.live.get(viewer) : undefined;
    return solver !== undefined && isRestless(solver);
  }

  /** Turns the camera; the route lets go of it. Degrees, counter-clockwise and up. */
  turn(yawDeg: number, pitchDeg: number): void {
    const { outside, flying } = useBench.getState();
    if (outside) {
      const state = walkFrom(this.outside(), true);
      state.yawDeg += yawDeg;
      state.pitchDeg = Math.max(-89, Math.min(89, state.pitchDeg + pitchDeg));
      this.outsidePose = walkPose(state);
      this.invalidate();
      return;
    }
    this.walker ??= { ...walkFrom(this.pose(), flying), onGround: true };
    this.walker.yawDeg += yawDeg;
    this.walker.pitchDeg = Math.max(-89, Math.min(89, this.walker.pitchDeg + pitchDeg));
    useBench.setState({ pose: walkPose(this.walker) });
  }

  /** Stands with the feet at a place, looking as before. */
  standAt(place: Vec3): void {
    const { flying } = useBench.getState();
    const state = this.walker ?? walkFrom(this.pose(), flying);
    state.position = [place[0], place[1] + this.document.body.eyeHeightM, place[2]];
    state.fallMps = 0;
    state.onGround = true;
    this.walker = state;
    useBench.setState({ pose: walkPose(state) });
  }

  /** A short step ahead or back, for the wheel. */
  step(direction: 1 | -1): void {
    const intent: Intent = { right: 0, up: 0, forward: direction, fast: false };
    if (useBench.getState().outside) {
      const state = walkFrom(this.outside(), true);
      walk(state, intent, 0.25, this.document.body, null);
      this.outsidePose = walkPose(state);
      this.invalidate();
      return;
    }
    this.walker ??= { ...walkFrom(this.pose(), useBench.getState().flying), onGround: true };
    walk(this.walker, intent, 0.12, this.document.body, this.model);
    useBench.setState({ pose: walkPose(this.walker) });
  }

  /** Pixels of a viewer for one design pixel. */
  fitOf(viewer: string): number {
    return this.arrangedFor(viewer)?.fit ?? 1;
  }

  /** Where an element's anchor is in the world now, or null. */
  anchorPlace(id: string): Vec3 | null {
    const solver = this.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    if (!solver || row < 0 || row >= solver.c.floatingCount || solver.c.lost[row]) return null;
    const at = (solver.c.elementAnchor[row] as number) * 3;
    return [...solver.c.anchorWorld.subarray(at, at + 3)] as Vec3;
  }

  /** The tip of a surface's normal, half a metre long or a twentieth of the distance, in the picture. */
  normalOnScreen({ position, normal, distanceM }: Hover, width: number, height: number): [number, number] | null {
    const arranged = this.arrangedNow();
    if (!arranged) return null;
    const reach = Math.max(0.1, Math.min(0.5, distanceM / 12));
    const tip = projector(arranged.projection, this.pose())(
      position[0] + normal[0] * reach,
      position[1] + normal[1] * reach,
      position[2] + normal[2] * reach,
    );
    return tip.inFront ? [(tip.x / arranged.projection.widthPx) * width, (tip.y / arranged.projection.heightPx) * height] : null;
  }

  /** Puts the camera somewhere outright. */
  goTo(pose: Pose): void {
    this.walker = { ...walkFrom(pose, useBench.getState().flying), onGround: true };
    useBench.setState({ pose });
  }

  private outside(): Pose {
    if (this.outsidePose) return this.outsidePose;
    const { position } = this.pose();
    this.outsidePose = poseTowards([position[0] + 14, position[1] + 11, position[2] + 16], position);
    return this.outsidePose;
  }
  private flyOutside(dtS: number): void {
    const state = walkFrom(this.outside(), true);
    walk(state, { ...this.intent, fast: true }, dtS, this.document.body, null);
    this.outsidePose = walkPose(state);
    this.dirty = true;
  }
  /** Forgets where the outside camera stood, so that it comes back behind the viewer. */
  resetOutside(): void {
    this.outsidePose = null;
  }

  startRecording(): void {
    const pose = this.pose();
    this.recording.start();
    useBench.setState({ recording: true, playing: true, timeS: 0, pose });
    this.invalidate();
  }
  /** What was walked, with times from 0. */
  stopRecording(): Recorded {
    useBench.setState({ recording: false, playing: false });
    return this.recording.stop();
  }

  /** The level alone, as a camera somewhere sees it; for views that draw over it themselves. */
  drawLevel(projection: Projection, pose: Pose, target: CanvasRenderingContext2D): void {
    this.placeLevel(useBench.getState().timeS);
    this.renderer.draw(this.scene, projection, pose, target);
  }

  private draw(moving: boolean, quality: Quality): void {
    const quick = quality !== 'fine';
    const state = useBench.getState();
    const solver = this.frameOf(state.viewer);
    if (!solver) return;
    const info = this.report(solver, moving, quick);
    const pose = state.pose ?? this.routePoseNow();
    const context = this.main?.getContext('2d', { alpha: false });
    if (context && this.main) {
      if (state.outside) {
        const projection = outsideProjection(this.main.width, this.main.height);
        this.placeLevel(state.timeS);
        this.renderer.draw(this.scene, projection, this.outside(), context, quality);
        drawOutside(context, projection, this.outside(), solver, pose, state.selection);
      } else this.drawViewer(solver, pose, context, quality);
    }
    const others = [...this.tiles.keys()];
    // While moving, one tile with a picture, and fewer where pictures are slow: the main picture stays quick.
    const due = moving ? this.tileDue(others) : quick && SOFTWARE ? [] : others;
    for (const viewer of due) {
      const canvas = this.tiles.get(viewer);
      const one = this.frameOf(viewer);
      const target = canvas?.getContext('2d', { alpha: false });
      if (one && target) this.drawViewer(one, pose, target, quality);
    }
    useBench.setState({ info });
  }

  private tileDue(viewers: string[]): string[] {
    this.tileTurn++;
    const every = this.intervalMs > SLOW_MS ? 8 : 1;
    const viewer = viewers[Math.floor(this.tileTurn / every) % viewers.length];
    return viewer !== undefined && this.tileTurn % every === 0 ? [viewer] : [];
  }

  /** One viewer's picture, reduced to the canvas's size; everything in it was solved at the viewer's own pixels. */
  private drawViewer(
    solver: Solver,
    pose: Pose,
    target: CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D,
    quality: Quality,
  ): void {
    this.renderer.draw(this.scene, solver.a.projection, pose, target, quality);
    const { cursor, mode } = useBench.getState();
    const { widthPx, heightPx } = solver.a.projection;
    const pointer: [number, number] | null = cursor && mode === 'try' ? [cursor[0] * widthPx, cursor[1] * heightPx] : null;
    paintCanvas(target as CanvasRenderingContext2D, drawList(solver, 0, pointer), target.canvas.width / widthPx, this.pictures.get);
  }

  /** The picture as it stands on the page, made small; null where it is not a player's, or not there yet. */
  thumbnail(width: number): OffscreenCanvas | null {
    if (!this.main || this.main.width < 2 || useBench.getState().outside) return null;
    const canvas = new OffscreenCanvas(width, Math.round((width * this.main.height) / this.main.width));
    canvas.getContext('2d', { alpha: false })?.drawImage(this.main, 0, 0, canvas.width, canvas.height);
    return canvas;
  }

  /** A viewer's picture at a size of its own, from any pose. */
  snapshot(viewer: string, pose: Pose, width: number, height: number, overlay = true): OffscreenCanvas | null {
    const arranged = this.arrangedFor(viewer);
    const canvas = new OffscreenCanvas(width, height);
    const target = canvas.getContext('2d', { alpha: false });
    if (!arranged || !target) return null;
    const solver = makeSolver(arranged);
    solve(solver, this.inputsAt(solver, pose, useBench.getState().timeS));
    // At a viewer's own size every pixel is one of the viewer's; only small pictures are worth smoothing.
    this.renderer.draw(this.scene, arranged.projection, pose, target, width >= 1000 ? 'plain' : 'fine');
    if (overlay)
      paintCanvas(target as unknown as CanvasRenderingContext2D, drawList(solver), width / arranged.projection.widthPx, this.pictures.get);
    return canvas;
  }

  /** The places of all elements for a viewer and a pose, solved here in the browser. */
  solveAt(
    viewer: string,
    pose: Pose,
    timeS: number,
  ): { id: string; failed: number; point: [number, number]; rect: number[]; depthM: number }[] {
    const arranged = this.arrangedFor(viewer);
    if (!arranged) return [];
    const solver = makeSolver(arranged);
    solve(solver, this.inputsAt(solver, pose, timeS));
    return this.compiled.ids.map((id, i) => {
      const { point, rect, depthM } = placeOf(solver.f, i);
      return { id, failed: solver.f.failed[i] as number, point, rect, depthM };
    });
  }

  /** What is drawn of one row in the present frame, in the viewer's own pixels; for tests. */
  drawnOf(row: string): { kind: string }[] {
    const solver = this.frameOf(useBench.getState().viewer);
    return solver ? drawList(solver).items.filter(({ element }) => element === row) : [];
  }

  /** @param moving then what other viewers say stands as it was: at rest it is asked for again. */
  private report(solver: Solver, moving: boolean, quick: boolean): FrameInfo {
    const { selection } = useBench.getState();
    const row = selection === null ? -1 : rowFor(solver, selection);
    let shownCount = 0;
    for (let i = 0; i < solver.f.count; i++) if (solver.f.failed[i] === Failed.Shown) shownCount++;
    const pose = useBench.getState().pose ?? this.routePoseNow();
    const others = quick ? (useBench.getState().info?.others ?? []) : this.shownByOthers();
    if (row < 0) return { links: [], verdicts: [], others, shownCount, point: null, rect: null, selectionShown: false, pose };
    const links = explain(solver, row);
    const { point, rect } = placeOf(solver.f, row, headRow(solver.f));
    const inFront = !Number.isNaN(point[0]);
    const before = useBench.getState().info?.verdicts ?? [];
    const { viewer: chosen } = useBench.getState();
    const verdicts = Object.keys(this.document.viewers).flatMap((viewer): Verdict[] => {
      if (moving && viewer !== chosen) return before.filter((verdict) => verdict.viewer === viewer);
      const one = this.frameOf(viewer);
      if (!one) return [];
      const failed = one.f.failed[row] as number;
      const chain = viewer === chosen ? links : explain(one, row);
      const no = chain.find((link) => link.state === 'no');
      const read = failed === Failed.Shown ? measureReadable(one, row) : null;
      return [
        {
          viewer,
          shown: failed === Failed.Shown,
          step: failed === Failed.Shown ? null : (STEPS[failed] ?? null),
          says: no?.says ?? '',
          short: read?.faults[0]?.says ?? null,
          capArcmin: read && Number.isFinite(read.capArcmin) ? read.capArcmin : 0,
        },
      ];
    });
    // The other viewers moved the shared level to the same time, so the places above still hold.
    return {
      links,
      verdicts,
      others,
      shownCount,
      point: inFront ? point : null,
      rect: inFront ? rect : null,
      selectionShown: solver.f.failed[row] === Failed.Shown,
      pose,
    };
  }

  private shownByOthers(): FrameInfo['others'] {
    const { viewer: chosen } = useBench.getState();
    return Object.keys(this.document.viewers).flatMap((viewer) => {
      const one = viewer === chosen ? null : this.frameOf(viewer);
      if (!one) return [];
      const shown = new Set<string>();
      for (let i = 0; i < one.f.count; i++) if (one.f.failed[i] === Failed.Shown) shown.add(one.c.sources[i] as string);
      return [{ viewer, shown }];
    });
  }

  private arrangedNow(): Arranged | null {
    return this.arrangedFor(useBench.getState().viewer);
  }

  /** What lies under a point of the picture, given as shares of its width and height. */
  pick(u: number, v: number): Hover | null {
    const { outside } = useBench.getState();
    const arranged = this.arrangedNow();
    if (!arranged || !this.main) return null;
    const projection = outside ? outsideProjection(this.main.width, this.main.height) : arranged.projection;
    const ray = screenRay(projection, outside ? this.outside() : this.pose(), u * projection.widthPx, v * projection.heightPx);
    this.placeLevel(useBench.getState().timeS);
    const hit = makeHit();
    if (!this.model.castRay(ray.origin, ray.direction, REACH_M, hit)) return null;
    return {
      x: u,
      y: v,
      position: hit.position,
      normal: hit.normal,
      node: this.model.nodeIds[hit.node] ?? '',
      moves: this.model.nodeMoves[hit.node] === 1,
      distanceM: hit.distanceM,
    };
  }

  /** The front-most element under a point of the picture that is of a wanted sort. */
  elementAt(u: number, v: number, wanted: (element: Element) => boolean = () => true): string | null {
    const solver = this.frameOf(useBench.getState().viewer);
    if (!solver || useBench.getState().outside) return null;
    const { c, a } = solver;
    const [x, y] = [u * a.projection.widthPx, v * a.projection.heightPx];
    let found: string | null = null;
    // Back to front, as it is painted; the last one that is hit lies in front.
    for (const row of paintedRows(solver)) {
      const element = c.elements[row];
      if (!element || element.kind === 'screenPaint' || !isSeen(solver, row) || !wanted(element)) continue;
      if (within(solver, row, x, y)) found = c.sources[row] as string;
    }
    return found;
  }

  /** What every feed is worth in the present frame. */
  valuesNow(): Record<string, FeedValue | undefined> {
    const solver = this.frameOf(useBench.getState().viewer);
    return Object.fromEntries(solver?.c.feedIds.map((feed, k) => [feed, solver.f.values[k]]) ?? []);
  }
}

const samePose = (a: Pose, b: Pose): boolean =>
  a.position.every((v, k) => v === b.position[k]) && a.rotation.every((v, k) => v === b.rotation[k]);

/** Whether what is remembered of one document's rows, gauges and conditions can be gone on with in another. */
function sameRows(a: Compiled, b: Compiled): boolean {
  const [counts, others] = [countsOf(a), countsOf(b)];
  return JSON.stringify(counts) === JSON.stringify(others) && a.ids.every((id, i) => id === b.ids[i]);
}

async function loadLevel(document: Document): Promise<LevelModel> {
  if (!document.level?.hash) return emptyGround();
  return readLevel(await api.level(document.level.hash), document.level);
}
