/**
 * What makes the bench's pictures: it holds the level, solves each viewer's frame, draws and reports.
 * It draws on demand; only playing, walking and recording keep it running.
 */

import { Replay } from '@foreshore/checks';
import {
  type Arranged,
  actingRow,
  arrange,
  type Compiled,
  clockTimes,
  compile,
  countsOf,
  drawList,
  explain,
  Verdict as Failed,
  formatValue,
  type Going,
  headRow,
  type Intent,
  isArriving,
  isOff,
  isRestless,
  isSeen,
  makeHit,
  makeSolver,
  type Pose,
  paintedRows,
  phaseAt,
  placeOf,
  playMotion,
  pointerOf,
  poseTowards,
  projector,
  react,
  readValues,
  routeDurationS,
  routePose,
  rowUnder,
  type Solver,
  STEPS,
  sameValue,
  screenRay,
  scrollingRow,
  scrollTo,
  solve,
  type TextShaper,
  transformPoint,
  type Vec3,
  valueSet,
  valueStepped,
  type WalkState,
  walk,
  walkFrom,
  walkPose,
  within,
} from '@foreshore/core';
import { type Anchor, type Document, type Element, type FeedValue, inOrder } from '@foreshore/document';
import { cameraPose, emptyGround, invertAffine, type LevelModel, readLevel } from '@foreshore/level';
import { paintCanvas } from '@foreshore/paint';
import { addFonts, projectShaper } from '../level/fonts.ts';
import { Pictures } from '../level/pictures.ts';
import { LevelRenderer, SOFTWARE } from '../level/renderer.ts';
import { LevelScene } from '../level/scene.ts';
import { api } from '../state/api.ts';
import { type FrameInfo, type Hover, useBench, type Verdict } from '../state/bench.ts';
import { hold, took, useLive } from '../state/live.ts';
import type { Recorded } from './edits.ts';
import { drawOutside, outsideProjection } from './outside.ts';

const ROUTE_SAMPLE_S = 0.1;
const REACH_M = 4000;
/** Pictures farther apart than this are slow. */
const SLOW_MS = 45;
/** So long without a change, and the picture is drawn in full quality. */
const CALM_MS = 250;
const NOTHING_DONE = { values: {}, phase: null, forced: {}, played: [], did: [] };

export class Engine {
  model: LevelModel;
  private scene: LevelScene;
  private readonly text: TextShaper;
  get shaper(): TextShaper {
    return this.text;
  }
  private readonly renderer: LevelRenderer;
  private document: Document;
  private compiled: Compiled;
  private readonly arranged = new Map<string, Arranged>();
  private readonly live = new Map<string, Solver>();
  private readonly replays = new Map<string, Replay>();
  private readonly pictures: Pictures;
  /** While trying, time goes on for what softens, lingers and moves, though the route stands still: seconds. */
  private tryS = 0;
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
  private recorded: { timeS: number; pose: Pose }[] = [];
  private recordedLive: Pick<Recorded, 'feeds' | 'phases'> = { feeds: [], phases: [] };
  private tileTurn = 0;
  private readonly unsubscribe: (() => void)[];
  private calm: ReturnType<typeof setTimeout> | undefined;
  private fine = false;
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
        now.language === before.language
      )
        return;
      if (now.language !== before.language) {
        this.arranged.clear();
        this.replays.clear();
        this.live.clear();
      }
      if (now.mode !== before.mode) {
        this.live.clear();
        this.tryS = now.timeS;
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
    const { language } = useBench.getState();
    const made = arrange(this.compiled, described, this.text, undefined, language ?? this.document.language);
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
    this.solveNow(solver, this.pose(), timeS, mode === 'try' ? this.tryS : timeS);
    return solver;
  }

  /** One frame with the feeds and the phase of a time, somewhere off the route. */
  private solveNow(solver: Solver, head: Pose, timeS: number, clockS = timeS): void {
    this.placeLevel(timeS);
    const { route, pointed, pressed, pose, scrolled } = useBench.getState();
    const way = this.document.routes[route] ?? null;
    const { held, phase, forced } = useLive.getState();
    solve(solver, {
      timeS: clockS,
      head,
      views: [],
      depthOrder: true,
      values: readValues(solver.c, way, timeS, head, held, undefined, pose ? this.going() : null),
      phase: phase ?? phaseAt(way, timeS) ?? this.firstPhase(),
      pointed,
      pressed,
      forced,
      scrolled,
    });
  }

  /** How the one who walks is moving now. */
  private going(): Going {
    const { walker } = this;
    return { speedMps: this.speedMps, fallenM: walker ? Math.max(0, this.highestM - walker.position[1]) : 0 };
  }

  private firstPhase(): string | null {
    return inOrder(this.document.phases)[0]?.[0] ?? null;
  }
  /** The phase in force now. */
  phase(): string | null {
    const { route, timeS } = useBench.getState();
    return useLive.getState().phase ?? phaseAt(this.document.routes[route] ?? null, timeS) ?? this.firstPhase();
  }

  private placeLevel(timeS: number): void {
    this.model.poses(clockTimes(this.model, timeS));
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
      this.draw(moving, quick);
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
    if (state.mode === 'try') this.tryS += dtS;
    if (state.playing) {
      const way = this.document.routes[state.route];
      let timeS = state.timeS + dtS;
      if (!state.pose && way && timeS > routeDurationS(way)) timeS = 0;
      useBench.setState({ timeS });
    }
    if (state.recording) {
      const timeS = useBench.getState().timeS;
      const last = this.recorded.at(-1);
      if (!last || timeS - last.timeS >= ROUTE_SAMPLE_S) this.recorded.push({ timeS, pose: this.pose() });
      this.recordLive(timeS);
    }
    return steering || falling || state.playing || state.recording;
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
    this.recorded = [];
    this.recordedLive = { feeds: [], phases: [] };
    useBench.setState({ recording: true, playing: true, timeS: 0, pose });
    this.invalidate();
  }
  /** What is set by hand while recording goes with the route; sources are functions of its time anyway. */
  private recordLive(timeS: number): void {
    const { feeds, phases } = this.recordedLive;
    const phase = this.phase();
    if (phase !== null && phases.at(-1)?.phase !== phase) phases.push({ timeS, phase });
    for (const [feed, value] of Object.entries(useLive.getState().held))
      if (this.document.feeds[feed] && !sameValue(feeds.findLast((f) => f.feed === feed)?.value, value)) feeds.push({ timeS, feed, value });
  }

  /** What was walked, with times from 0. */
  stopRecording(): Recorded {
    useBench.setState({ recording: false, playing: false });
    const round = (v: number, p: number) => Number(v.toFixed(p));
    const first = this.recorded[0]?.timeS ?? 0;
    const since = <T extends { timeS: number }>(entry: T): T => ({ ...entry, timeS: round(Math.max(0, entry.timeS - first), 3) });
    return {
      poses: this.recorded.map(({ timeS, pose }) => ({
        timeS: round(timeS - first, 3),
        position: pose.position.map((v) => round(v, 4)) as Vec3,
        rotation: pose.rotation.map((v) => round(v, 6)) as [number, number, number, number],
      })),
      feeds: this.recordedLive.feeds.map(since),
      phases: this.recordedLive.phases.map(since),
    };
  }

  private draw(moving: boolean, quick: boolean): void {
    const state = useBench.getState();
    const solver = this.frameOf(state.viewer);
    if (!solver) return;
    const info = this.report(solver);
    const pose = state.pose ?? this.routePoseNow();
    const context = this.main?.getContext('2d', { alpha: false });
    if (context && this.main) {
      if (state.outside) {
        const projection = outsideProjection(this.main.width, this.main.height);
        this.placeLevel(state.timeS);
        this.renderer.draw(this.scene, projection, this.outside(), context, quick);
        drawOutside(context, projection, this.outside(), solver, pose, state.selection);
      } else this.drawViewer(solver, pose, context, quick);
    }
    const others = [...this.tiles.keys()];
    // While moving, one tile with a picture, and fewer where pictures are slow: the main picture stays quick.
    const due = moving ? this.tileDue(others) : quick && SOFTWARE ? [] : others;
    for (const viewer of due) {
      const canvas = this.tiles.get(viewer);
      const one = this.frameOf(viewer);
      const target = canvas?.getContext('2d', { alpha: false });
      if (one && target) this.drawViewer(one, pose, target, quick);
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
    quick: boolean,
  ): void {
    this.renderer.draw(this.scene, solver.a.projection, pose, target, quick);
    const { cursor, mode } = useBench.getState();
    const { widthPx, heightPx } = solver.a.projection;
    const pointer: [number, number] | null = cursor && mode === 'try' ? [cursor[0] * widthPx, cursor[1] * heightPx] : null;
    paintCanvas(target as CanvasRenderingContext2D, drawList(solver, 0, pointer), target.canvas.width / widthPx, this.pictures.get);
  }

  /** A viewer's picture at a size of its own, from any pose. */
  snapshot(viewer: string, pose: Pose, width: number, height: number, overlay = true): OffscreenCanvas | null {
    const arranged = this.arrangedFor(viewer);
    const canvas = new OffscreenCanvas(width, height);
    const target = canvas.getContext('2d', { alpha: false });
    if (!arranged || !target) return null;
    const solver = makeSolver(arranged);
    this.solveNow(solver, pose, useBench.getState().timeS);
    // At a viewer's own size every pixel is one of the viewer's; only small pictures are worth smoothing.
    this.renderer.draw(this.scene, arranged.projection, pose, target, width >= 1000);
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
    this.solveNow(solver, pose, timeS);
    return this.compiled.ids.map((id, i) => {
      const { point, rect, depthM } = placeOf(solver.f, i);
      return { id, failed: solver.f.failed[i] as number, point, rect, depthM };
    });
  }

  private report(solver: Solver): FrameInfo {
    const { selection } = useBench.getState();
    const row = selection === null ? -1 : rowFor(solver, selection);
    let shownCount = 0;
    for (let i = 0; i < solver.f.count; i++) if (solver.f.failed[i] === Failed.Shown) shownCount++;
    const pose = useBench.getState().pose ?? this.routePoseNow();
    if (row < 0) return { links: [], verdicts: [], shownCount, point: null, rect: null, selectionShown: false, pose };
    const links = explain(solver, row);
    const { point, rect } = placeOf(solver.f, row, headRow(solver.f));
    const inFront = !Number.isNaN(point[0]);
    const verdicts = Object.keys(this.document.viewers).flatMap((viewer): Verdict[] => {
      const one = this.frameOf(viewer);
      if (!one) return [];
      const failed = one.f.failed[row] as number;
      const chain = explain(one, row);
      const no = chain.find((link) => link.state === 'no');
      const capPx = placeOf(one.f, row).emPx * (one.a.blocks[row]?.capHeightEm ?? 0);
      return [
        {
          viewer,
          shown: failed === Failed.Shown,
          step: failed === Failed.Shown ? null : (STEPS[failed] ?? null),
          says: no?.says ?? '',
          capPx,
          capArcmin: capPx / one.a.pixelsPerArcmin,
        },
      ];
    });
    // The other viewers moved the shared level to the same time, so the places above still hold.
    return {
      links,
      verdicts,
      shownCount,
      point: inFront ? point : null,
      rect: inFront ? rect : null,
      selectionShown: solver.f.failed[row] === Failed.Shown,
      pose,
    };
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

  /** While trying: which element has the pointer at a point of the picture, and the acting one it belongs to. */
  pointerAt(u: number, v: number): { has: string | null; acts: string | null } {
    const solver = this.frameOf(useBench.getState().viewer);
    if (!solver) return { has: null, acts: null };
    const { widthPx, heightPx } = solver.a.projection;
    const row = rowUnder(solver, u * widthPx, v * heightPx);
    const acting = row < 0 ? -1 : actingRow(solver, row);
    return { has: solver.c.ids[row] ?? null, acts: solver.c.ids[acting] ?? null };
  }

  /** Acting elements that are shown now, in the order of reading: from the back to the front, as they are painted. */
  acting(): string[] {
    const solver = this.frameOf(useBench.getState().viewer);
    if (!solver) return [];
    // What is scrolled out of sight can be come to, and is brought into sight then.
    return [...paintedRows(solver)].flatMap((row) => {
      const failed = solver.f.failed[row];
      const shown = failed === Failed.Shown || (failed === Failed.Place && (solver.c.clipper[row] as number) >= 0);
      if (!shown || pointerOf(solver, row).takes !== 'acts' || isOff(solver, row)) return [];
      // What lies behind a veil is not come to by keys either.
      const [x, y, w, h] = placeOf(solver.f, row).rect;
      const over = rowUnder(solver, x + w / 2, y + h / 2);
      return over >= 0 && solver.c.root[over] !== solver.c.root[row] ? [] : [solver.c.ids[row] as string];
    });
  }

  /** Sends the action of an element, and does what the document says is done on it. A toggle is turned over. @param at where it was pressed, as shares of the picture. */
  use(id: string, at: readonly [number, number] | null = null): void {
    const solver = this.frameOf(useBench.getState().viewer);
    const row = solver?.c.ids.indexOf(id) ?? -1;
    const element = solver?.c.elements[row];
    if (!solver || !element || isOff(solver, row) || isArriving(solver, row)) return;
    const { timeS } = useBench.getState();
    const set = element.kind === 'slider' && !at ? null : valueSet(solver, row, ...this.pixels(solver, at));
    const action = element.pointer?.action ?? null;
    if (set) this.set(set.feed, set.value);
    // What only sets a feed has nothing to send.
    if (set && action === null) {
      const did = [`${this.document.feeds[set.feed]?.name ?? set.feed} ${formatValue(set.value)}`];
      took({ ...NOTHING_DONE, did }, { timeS, action: 'sets', source: element.name });
      return;
    }
    const name = action ? (this.document.actions?.[action]?.name ?? action) : 'nothing: it has no action';
    const reacted = action ? react(this.document, action, this.valuesNow(), (shown) => this.isShown(shown)) : NOTHING_DONE;
    took(reacted, { timeS, action: name, source: element.name });
    for (const played of reacted.played) this.play(played);
  }

  private set(feed: string, value: FeedValue): void {
    hold(feed, value);
  }

  private pixels(solver: Solver, at: readonly [number, number] | null): [number, number] {
    const { widthPx, heightPx } = solver.a.projection;
    return at ? [at[0] * widthPx, at[1] * heightPx] : [0, 0];
  }

  private isShown(element: string): boolean {
    const solver = this.frameOf(useBench.getState().viewer);
    return solver?.c.sources.some((source, row) => source === element && solver.f.failed[row] === Failed.Shown) ?? false;
  }

  /** Plays the motion of entering of an element once more. */
  private play(element: string): void {
    const solver = this.frameOf(useBench.getState().viewer);
    if (!solver) return;
    for (let row = 0; row < solver.c.count; row++) if (solver.c.sources[row] === element) playMotion(solver, row);
    this.invalidate();
  }

  /** Whether an element is dragged rather than pressed. */
  isSlider(id: string): boolean {
    const solver = this.frameOf(useBench.getState().viewer);
    return solver?.c.elements[solver.c.ids.indexOf(id)]?.kind === 'slider';
  }

  /** Sets what a slider sets, from where the pointer is, as shares of the picture. */
  slide(id: string, at: readonly [number, number]): void {
    const solver = this.frameOf(useBench.getState().viewer);
    const set = solver && valueSet(solver, solver.c.ids.indexOf(id), ...this.pixels(solver, at));
    if (set && set.value !== this.valuesNow()[set.feed]) this.set(set.feed, set.value);
  }

  /** Moves a slider by steps. False where the element is none. */
  slideBy(id: string, steps: number): boolean {
    const solver = this.frameOf(useBench.getState().viewer);
    const set = solver && valueStepped(solver, solver.c.ids.indexOf(id), steps);
    if (set) this.set(set.feed, set.value);
    return Boolean(set);
  }

  /** Scrolls what is under a point of the picture by so many of the viewer's pixels. False where nothing there scrolls. */
  scrollAt(u: number, v: number, byPx: number): boolean {
    const solver = this.frameOf(useBench.getState().viewer);
    if (!solver) return false;
    const { widthPx, heightPx } = solver.a.projection;
    const row = rowUnder(solver, u * widthPx, v * heightPx);
    const group = row < 0 ? -1 : scrollingRow(solver, row);
    if (group < 0) return false;
    this.scroll(solver, group, (solver.f.scrolled[group] as number) + byPx / (solver.a.fits[group] as number));
    return true;
  }

  /** Brings an element into the box of what scrolls around it. */
  reveal(id: string): void {
    const solver = this.frameOf(useBench.getState().viewer);
    const row = solver?.c.ids.indexOf(id) ?? -1;
    const group = solver && row >= 0 ? scrollingRow(solver, solver.c.parent[row] as number) : -1;
    if (solver && group >= 0) this.scroll(solver, group, scrollTo(solver, group, row));
  }

  private scroll(solver: Solver, group: number, to: number): void {
    const within = Math.max(0, Math.min(solver.a.tree.surplus[group] as number, to));
    useBench.setState(({ scrolled }) => ({ scrolled: { ...scrolled, [solver.c.ids[group] as string]: within } }));
  }

  /** A key of the keyboard went down or up while trying: feeds that come from it follow. True where one does. */
  key(code: string, down: boolean): boolean {
    let any = false;
    for (const [id, { source, kind }] of Object.entries(this.document.feeds)) {
      if (source?.kind !== 'key' || source.code !== code || kind !== 'flag') continue;
      any = true;
      if (source.how === 'held') this.set(id, down);
      else if (down) this.set(id, this.valuesNow()[id] !== true);
    }
    return any;
  }

  /** Every pointer area of the present frame, in the chosen viewer's pixels, back to front. */
  areas(): { id: string; takes: 'acts' | 'blocks' | 'passes'; rect: [number, number, number, number] }[] {
    const solver = this.frameOf(useBench.getState().viewer);
    if (!solver) return [];
    return [...paintedRows(solver)].flatMap((row) => {
      if (solver.f.failed[row] !== Failed.Shown) return [];
      const { takes, padPx } = pointerOf(solver, row);
      const pad = padPx * (solver.a.fits[row] as number);
      const [x, y, w, h] = placeOf(solver.f, row).rect;
      return [
        { id: solver.c.ids[row] as string, takes, rect: [x - pad, y - pad, w + 2 * pad, h + 2 * pad] as [number, number, number, number] },
      ];
    });
  }

  /** Boxes in the chosen viewer's pixels that an element's pin is a fraction of, and that its drag snaps to. */
  parentBox(id: string): { left: number; top: number; right: number; bottom: number } | null {
    const solver = this.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    const element = solver?.c.elements[row];
    if (!solver || !element || element.mount.kind === 'floating') return null;
    const { widthPx, heightPx } = solver.a.projection;
    if (element.mount.kind === 'glass')
      return element.mount.within === 'safe' ? solver.a.safe : { left: 0, top: 0, right: widthPx, bottom: heightPx };
    const up = solver.c.parent[row] as number;
    const group = solver.c.elements[up];
    if (group?.kind !== 'group') return null;
    const [x, y, w, h] = placeOf(solver.f, up).rect;
    const [l, t, r, b] = group.layout.padPx.map((v) => v * (solver.a.fits[up] as number)) as [number, number, number, number];
    return { left: x + l, top: y + t, right: x + w - r, bottom: y + h - b };
  }

  /** The box of an element in the chosen viewer's pixels; null where it has none in the frame. */
  boxOf(id: string): { left: number; top: number; right: number; bottom: number } | null {
    const solver = this.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    if (!solver || row < 0) return null;
    const [left, top, width, height] = placeOf(solver.f, row).rect;
    return Number.isNaN(left) ? null : { left, top, right: left + width, bottom: top + height };
  }

  /** The viewer's pixels for one design pixel of an element's offset. */
  unitOf(id: string): number {
    const solver = this.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    return (row >= 0 ? solver?.a.fits[row] : undefined) ?? 1;
  }

  /** Boxes of what stands beside an element in the same parent, in the chosen viewer's pixels. */
  boxesBeside(id: string): { left: number; top: number; right: number; bottom: number }[] {
    const solver = this.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    if (!solver || row < 0) return [];
    const { c, f } = solver;
    return c.ids.flatMap((_, other) => {
      if (other === row || other < c.floatingCount || c.parent[other] !== c.parent[row] || f.failed[other] !== Failed.Shown) return [];
      const [left, top, width, height] = placeOf(f, other).rect;
      return [{ left, top, right: left + width, bottom: top + height }];
    });
  }

  /** What every feed is worth in the present frame. */
  valuesNow(): Record<string, FeedValue | undefined> {
    const solver = this.frameOf(useBench.getState().viewer);
    return Object.fromEntries(solver?.c.feedIds.map((feed, k) => [feed, solver.f.values[k]]) ?? []);
  }

  /** A new anchor where the pointer is: it rides on the surface's node if that moves. */
  anchorFrom(hover: Hover, name: string, order: string): Anchor {
    if (!hover.moves) return { kind: 'surface', name, order, node: null, position: hover.position, normal: hover.normal };
    const { position, normal } = this.intoNode(hover.node, hover.position, hover.normal);
    return { kind: 'surface', name, order, node: hover.node, position, normal };
  }

  /** The anchor moved to a place on a surface; null where its kind cannot be moved by hand. */
  movedAnchor(anchor: Anchor, hover: Hover): Anchor | null {
    if (anchor.kind === 'midpoint' || anchor.kind === 'nodes' || anchor.kind === 'event') return null;
    if (anchor.kind === 'surface') return this.anchorFrom(hover, anchor.name, anchor.order);
    if (this.model.nodeIndex(anchor.node) < 0) return null;
    return { ...anchor, offset: this.intoNode(anchor.node, hover.position, hover.normal).position };
  }

  private intoNode(node: string, position: Vec3, normal: Vec3): { position: Vec3; normal: Vec3 } {
    const at = this.model.nodeIndex(node) * 16;
    const m = this.model.worldMatrices;
    const inverse = new Float64Array(16);
    if (!invertAffine(inverse, m, at)) return { position, normal };
    // A normal goes back by the transpose of the node's matrix.
    const n = [0, 1, 2].map((k) => [0, 1, 2].reduce((sum, r) => sum + (m[at + k * 4 + r] as number) * (normal[r] as number), 0)) as Vec3;
    const length = Math.hypot(...n) || 1;
    return { position: transformPoint(inverse, 0, ...position), normal: n.map((v) => v / length) as Vec3 };
  }

  /** A place from which an element's anchor can be seen well: in front of it, where one can stand. */
  viewOf(id: string): Pose | null {
    const row = this.compiled.sources.indexOf(id);
    if (row < 0 || row >= this.compiled.floatingCount || this.compiled.lost[row]) return null;
    this.placeLevel(useBench.getState().timeS);
    const at = (this.compiled.elementAnchor[row] as number) * 3;
    const solver = this.frameOf(useBench.getState().viewer);
    const w = (solver?.c ?? this.compiled).anchorWorld;
    const target: Vec3 = [w[at] as number, w[at + 1] as number, w[at + 2] as number];
    const eye = this.document.body.eyeHeightM;
    let best: { pose: Pose; score: number } | null = null;
    const hit = makeHit();
    for (const reach of [5, 8, 3, 12])
      for (let k = 0; k < 16; k++) {
        const angle = (k / 16) * 2 * Math.PI;
        const [x, z] = [target[0] + Math.cos(angle) * reach, target[2] + Math.sin(angle) * reach];
        if (!this.model.castRay([x, target[1] + 3, z], [0, -1, 0], 40, hit)) continue;
        const from: Vec3 = [x, hit.position[1] + eye, z];
        const open = this.model.sightline(...from, ...target) < 0;
        const score = (open ? 0 : 100) + Math.abs(reach - 5) + Math.abs(from[1] - target[1]);
        if (!best || score < best.score) best = { pose: poseTowards(from, target), score };
      }
    return best?.pose ?? poseTowards([target[0] + 4, target[1] + 1.5, target[2] + 4], target);
  }
}

/** Whether what is remembered of one document's rows, gauges and conditions can be gone on with in another. */
function sameRows(a: Compiled, b: Compiled): boolean {
  const [counts, others] = [countsOf(a), countsOf(b)];
  return JSON.stringify(counts) === JSON.stringify(others) && a.ids.every((id, i) => id === b.ids[i]);
}

/** The row of an element: of the many that it may stand for, the nearest that is shown, or else the first. */
function rowFor({ c, f }: Solver, id: string): number {
  let best = -1;
  let bestM = Number.POSITIVE_INFINITY;
  for (let row = c.sources.indexOf(id); row >= 0 && row < c.count; row++) {
    if (c.sources[row] !== id) continue;
    const { depthM } = placeOf(f, row, headRow(f));
    const shown = f.failed[row] === Failed.Shown;
    if (best < 0 || (shown && depthM < bestM)) {
      best = row;
      if (shown) bestM = depthM;
    }
  }
  return best;
}

async function loadLevel(document: Document): Promise<LevelModel> {
  if (!document.level?.hash) return emptyGround();
  return readLevel(await api.level(document.level.hash), document.level);
}
