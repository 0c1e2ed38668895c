/**
 * What the bench's pictures are made of: it holds the level, the camera and the frames, solves, begins pictures and reports; when
 * they are painted, and how finely, is the painting's.
 */
import {
  type Arranged,
  type Compiled,
  compile,
  type DrawItem,
  drawList,
  eyesOf,
  isUnsettled,
  type OnPage,
  type Pose,
  type Projection,
  projector,
  routeDurationS,
  routePose,
  type SolveContext,
  type Solver,
  screenOutline,
  type TextShaper,
  takenFrom,
  type Vec3,
} from '@foreshore/core';
import type { Document, Element, FeedValue } from '@foreshore/document';
import type { GameFrame } from '@foreshore/handoff/game';
import type { LevelModel } from '@foreshore/level';
import type { Recorded } from '../edits/edits.ts';
import { addFonts, projectShaper } from '../level/fonts.ts';
import { Pages, usePages } from '../level/pages.ts';
import { pause } from '../level/pause.ts';
import { Pictures } from '../level/pictures.ts';
import { LevelRenderer, type Quality } from '../level/renderer.ts';
import { LevelScene } from '../level/scene.ts';
import { type Hover, useBench } from '../state/bench.ts';
import { gameFrame, useGame } from '../state/game.ts';
import { useLive } from '../state/live.ts';
import { useSideEffects } from '../state/side-effects.ts';
import { Camera } from './camera.ts';
import { Frames, type FramesHost, type Seen } from './frames.ts';
import { Immersion } from './immersion.ts';
import { arrangedSlowly, levelOf } from './opening.ts';
import { drawOutside, outsideProjection } from './outside.ts';
import { Painting } from './painting.ts';
import { Places } from './places.ts';
import { Recording } from './recording.ts';
import { report } from './report.ts';
import { rowFor } from './rows.ts';
import { SideEffects } from './side-effects.ts';
import { Trying } from './trying.ts';
import { type Found, UnderPoint } from './under-point.ts';
import { type ComingPicture, ViewerPainter } from './viewer-painter.ts';

/** A game that has said nothing for so long stands still. */
const SILENT_MS = 400;

/** What of the bench's state the picture shows. */
const DRAWN = [
  'viewer',
  'route',
  'timeS',
  'selection',
  'node',
  'mode',
  'outside',
  'whole',
  'playing',
  'recording',
  'flying',
  'pose',
  'openStep',
  'hover',
  'pointed',
  'pressed',
  'ghosts',
  'cursor',
  'pointWith',
  'scrolled',
  'language',
  'device',
] as const;

export class Engine {
  readonly model: LevelModel;
  readonly camera: Camera;
  readonly trying: Trying;
  readonly places: Places;
  private readonly painter: ViewerPainter;
  private readonly under: UnderPoint;
  private readonly frames: Frames;
  private readonly scene: LevelScene;
  private readonly renderer: LevelRenderer;
  private readonly pictures: Pictures;
  readonly pages: Pages;
  private readonly recording = new Recording();
  /** The headset that is being tried in, or null. */
  immersion: Immersion | null = null;
  /** While trying, time goes on for what softens, lingers and moves, though the route stands still: seconds. */
  tryS = 0;
  private readonly painting: Painting;
  private readonly sideEffects = new SideEffects(() => this.settled);
  /** When the game that is followed was heard last. */
  private heardMs = Number.NEGATIVE_INFINITY;
  private readonly reportHost = {
    viewers: () => Object.keys(this.document.viewers),
    frameOf: (viewer: string) => this.frameOf(viewer),
    allSeen: (viewer: string) => this.allSeen(viewer),
    pose: () => this.pose(),
  };
  private readonly unsubscribe: (() => void)[];
  static async make(document: Document): Promise<Engine> {
    const coming = levelOf(document);
    // Where it cannot be had, that is told when it is needed.
    coming.catch(() => {});
    const renderer = new LevelRenderer();
    try {
      return await Engine.madeWith(renderer, coming, document);
    } catch (error) {
      renderer.dispose();
      throw error;
    }
  }

  private static async madeWith(renderer: LevelRenderer, coming: Promise<LevelModel>, document: Document): Promise<Engine> {
    const text = await projectShaper(document);
    const { viewer, route, pose, timeS, language, device } = useBench.getState();
    const described = document.viewers[viewer];
    await pause();
    // Texts are shaped while the level is on its way: none of them knows where it stands.
    const alone = compile(document, null);
    await pause();
    const early = described && (await arrangedSlowly(alone, described, text, undefined, language ?? document.language, device));
    const model = await coming;
    const scene = await LevelScene.make(model);
    await pause();
    const from = document.routes[route];
    // What draws is made ready while the page goes on. Where that fails the first picture does, too, and says why.
    if (early) renderer.prepare(scene, early.projection, pose ?? (from ? routePose(from, timeS) : HERE)).catch(() => {});
    await pause();
    const compiled = compile(document, model);
    const first: [string, Arranged][] = [];
    if (described) {
      const { language: spoken, device: used, part } = early as Arranged;
      first.push([viewer, await arrangedSlowly(compiled, described, text, undefined, spoken, used, part, takenFrom(early as Arranged))]);
    }
    return new Engine(document, text, model, scene, renderer, compiled, first);
  }

  private constructor(
    document: Document,
    text: TextShaper,
    model: LevelModel,
    scene: LevelScene,
    renderer: LevelRenderer,
    compiled: Compiled,
    first: readonly [string, Arranged][],
  ) {
    this.model = model;
    this.scene = scene;
    this.renderer = renderer;
    renderer.onFiner = () => this.invalidate();
    renderer.onChange = (lost) => {
      useBench.setState({ graphics: lost ? 'lost' : 'there' });
      this.invalidate();
    };
    useBench.setState({ graphics: 'there' });
    this.pages = new Pages({ changed: () => this.painting.repaint(), acts: (page, action) => this.trying.actFrom(page, action) });
    this.pages.want(document.pictures);
    text.pageCapPx = (page) => usePages.getState().pages[page]?.capPx;
    this.pictures = new Pictures(() => this.invalidate(), this.pages);
    this.pictures.want(document.pictures);
    const engine = this;
    this.camera = new Camera({
      get document() {
        return engine.document;
      },
      model,
      invalidate: () => this.invalidate(),
    });
    const framesHost: FramesHost = {
      camera: this.camera,
      get tryS() {
        return engine.tryS;
      },
      game: gameFrame,
      pressing: () => this.trying.share(),
    };
    this.frames = new Frames(compiled, model, text, framesHost, first);
    this.trying = new Trying(this);
    this.places = new Places(this);
    this.painter = new ViewerPainter({
      get document() {
        return engine.document;
      },
      model,
      scene,
      renderer,
      pictures: this.pictures.get,
      frameOf: (viewer) => this.frameOf(viewer),
      allSeen: (viewer) => this.allSeen(viewer),
      solvedFrom: (viewer, pose, timeS) => this.frames.solvedFrom(viewer, pose, timeS),
      pose: () => this.pose(),
      drawn: (frame) => this.trying.drawn(frame),
    });
    this.painting = new Painting({
      elsewhere: () => this.immersion !== null,
      advance: (dtS) => this.advance(dtS),
      isUnsettled: () => this.isUnsettled(),
      pose: () => this.pose(),
      makeReady: () => this.frames.makeReady(useBench.getState().viewer),
      catchUp: (forMs) => this.frames.catchUp(forMs),
      levelMoves: () => scene.moves,
      feedPages: () => this.feedPages(),
      begin: (target, quality) => this.begin(target, quality),
      beginTile: (viewer, target, quality) => this.painter.beginWhole(viewer, target, quality),
      rested: (paintedMs) => this.rested(paintedMs),
    });
    this.under = new UnderPoint({
      model,
      get main() {
        return engine.painting.main;
      },
      arrangedFor: (viewer) => this.frames.arrangedFor(viewer),
      frameOf: (viewer) => this.frameOf(viewer),
      placeLevel: (timeS) => this.placeLevel(timeS),
      pose: () => this.pose(),
      outside: () => this.camera.outside(),
      showsWhole: () => this.showsWhole(),
    });
    this.unsubscribe = [
      useLive.subscribe(() => {
        this.frames.replayAnew();
        this.invalidate();
      }),
      // The present moment is looked at before the next change.
      useSideEffects.subscribe((now, before) => now.wanted && !before.wanted && this.invalidate()),
      useGame.subscribe(({ frame }, before) => {
        if (frame !== before.frame) this.followGame(frame, before.frame !== null);
      }),
      useBench.subscribe((now, before) => {
        if (DRAWN.every((key) => now[key] === before[key])) return;
        if (now.language !== before.language || now.device !== before.device) this.frames.rearrange();
        if (now.mode !== before.mode) {
          this.frames.forget();
          this.tryS = now.timeS;
          this.trying.end();
        }
        if (now.pose !== before.pose || now.flying !== before.flying) this.camera.follow(now.pose, now.flying);
        this.invalidate();
      }),
    ];
    // A project without a route starts with the free camera.
    const { pose, route } = useBench.getState();
    if (!pose && !document.routes[route]) useBench.setState({ pose: this.camera.homePose() });
  }

  dispose(): void {
    this.painting.dispose();
    this.sideEffects.dispose();
    this.immersion?.leave();
    for (const stop of this.unsubscribe) stop();
    this.trying.dispose();
    this.pages.dispose();
    this.scene.dispose();
    this.renderer.dispose();
  }

  get document(): Document {
    return this.frames.document;
  }
  get compiled(): Compiled {
    return this.frames.compiled;
  }
  get shaper(): TextShaper {
    return this.frames.text;
  }

  setDocument(document: Document): void {
    if (document === this.document) return;
    this.pages.want(document.pictures);
    this.pictures.want(document.pictures);
    this.frames.setDocument(document);
    void addFonts(this.shaper, document).then((any) => {
      if (!any) return;
      this.frames.rearrange();
      this.invalidate();
    });
    this.invalidate();
  }

  setMain(canvas: HTMLCanvasElement | null): void {
    this.painter.forget(canvas);
    this.painting.setMain(canvas);
  }
  setTile(viewer: string, canvas: HTMLCanvasElement | null): void {
    this.painter.forget(canvas);
    this.painting.setTile(viewer, canvas);
  }
  invalidate(): void {
    this.painting.invalidate();
  }
  /** The picture shows what there is, in full quality. */
  get settled(): boolean {
    return this.painting.settled;
  }
  /** When the first full picture was there, milliseconds since the page was asked for. */
  get firstPictureMs(): number | null {
    return this.painting.firstPictureMs;
  }
  get pictured(): Promise<void> {
    return this.painting.pictured;
  }
  /** Told after every picture how long it took until it was there, milliseconds; for the benchmark. */
  set onPicture(told: ((tookMs: number) => void) | null) {
    this.painting.onPicture = told;
  }

  /** The game that is followed has gone on, or is let go of. */
  private followGame(frame: GameFrame | null, before: boolean): void {
    if (!frame || !before) this.frames.forget();
    this.tryS = frame?.timeS ?? useBench.getState().timeS;
    this.heardMs = frame ? performance.now() : Number.NEGATIVE_INFINITY;
    if (frame?.pose) this.goTo(frame.pose);
    this.invalidate();
    if (frame && useBench.getState().mode === 'try') this.trying.pointAs(frame.pointer);
  }

  private feedPages(): void {
    if (this.pages.run) this.pages.feed(this.valuesNow(), useBench.getState().language ?? this.document.language);
  }
  /** What the pointer does on a page. */
  page(page: string, kind: OnPage, x: number, y: number, byPx = 0): void {
    this.pages.point(page, kind, x, y, byPx);
  }
  frameOf(viewer: string): Solver | null {
    return this.immersion?.solver ?? this.frames.frameOf(viewer);
  }
  /** Both eyes, all players, or the one picture of a viewer. */
  allSeen(viewer: string): Seen[] {
    return this.frames.allSeen(viewer);
  }
  phase(): string | null {
    return this.frames.phase();
  }
  placeLevel(timeS: number): void {
    this.frames.placeLevel(timeS);
  }
  valuesNow(): Record<string, FeedValue | undefined> {
    return this.frames.valuesNow();
  }
  solveAt(viewer: string, pose: Pose, timeS: number, eye?: 0 | 1): ReturnType<Frames['solveAt']> {
    return this.frames.solveAt(viewer, pose, timeS, eye);
  }
  pose(): Pose {
    return this.camera.pose();
  }
  goTo(pose: Pose): void {
    this.camera.goTo(pose);
  }
  turn(yawDeg: number, pitchDeg: number): void {
    this.camera.turn(yawDeg, pitchDeg);
  }
  /** What is walked from now on, −1..1 along the body's axes. */
  steer(right: number, forward: number, up = 0, fast = false): void {
    this.camera.intent = { right, up, forward, fast };
    this.invalidate();
  }

  /** Everything has been painted in full since a moment: what all viewers show is told. @returns whether no picture is still to come. */
  private rested(paintedMs: number): boolean {
    const solver = this.frameOf(useBench.getState().viewer);
    if (solver) {
      useBench.setState({ info: report(this.reportHost, solver, 'all') });
      this.sideEffects.rested(solver);
    }
    // All that is shown anywhere has been painted since.
    this.pages.rest(paintedMs);
    return this.pictures.complete && this.pages.complete;
  }

  /** Trying goes on in the headset that the browser offers. @throws DOMException where the browser or the player refuses. */
  async enterHeadset(): Promise<void> {
    const engine = this;
    useBench.setState({ mode: 'try', outside: false, whole: false, hover: null });
    this.immersion = await Immersion.enter({
      get compiled() {
        return engine.compiled;
      },
      get language() {
        return useBench.getState().language ?? engine.document.language;
      },
      shaper: this.shaper,
      model: this.model,
      scene: this.scene,
      renderer: this.renderer,
      pictures: this.pictures.get,
      trying: this.trying,
      pose: () => this.pose(),
      eyeHeightM: () => this.document.body.eyeHeightM,
      advance: (dtS) => {
        this.feedPages();
        return this.advance(dtS);
      },
      tryFrom: (solver, head) => this.frames.tryFrom(solver, head),
      steer: (right, forward) => {
        this.camera.intent = { right, up: 0, forward, fast: false };
      },
      turn: (yawDeg) => this.turn(yawDeg, 0),
      ended: () => {
        this.immersion = null;
        this.trying.drop();
        useBench.setState({ immersed: false });
        this.invalidate();
      },
    });
    useBench.setState({ immersed: true });
  }

  /** Both eyes as drawn last, for tests; and where an element is seen in one of them. */
  headsetPicture(): HTMLCanvasElement {
    return this.renderer.picture();
  }
  eyes(): readonly SolveContext[] {
    return this.immersion?.solver ? eyesOf(this.immersion.solver) : [];
  }
  outlineIn(eye: SolveContext, row: number): { outline: number[]; widthPx: number; heightPx: number } {
    const { widthPx, heightPx } = eye.a.projection;
    return { outline: screenOutline(eye, row), widthPx, heightPx };
  }

  /** Walking, playing and recording; true while anything goes on. */
  private advance(dtS: number): boolean {
    const state = useBench.getState();
    const trying = state.mode === 'try';
    // A phase that takes the input leaves the walk standing.
    const walks = this.camera.advance(dtS, trying && this.trying.takesInput());
    const busy = trying && this.trying.advance(dtS);
    if (trying && !gameFrame()) this.tryS += dtS;
    if (state.playing) {
      const way = this.document.routes[state.route];
      let timeS = state.timeS + dtS;
      if (!state.pose && way && timeS > routeDurationS(way)) timeS = 0;
      useBench.setState({ timeS });
    }
    if (state.recording) {
      const game = gameFrame();
      this.recording.sample(useBench.getState().timeS, this.pose(), this.phase(), this.document, game?.values ?? useLive.getState().held);
    }
    return walks || busy || state.playing || state.recording || performance.now() - this.heardMs < SILENT_MS;
  }

  /** While trying: something moves, softens or lingers although nobody does anything. */
  private isUnsettled(): boolean {
    const solver = this.frames.tried(useBench.getState().viewer);
    return solver !== undefined && isUnsettled(solver);
  }

  /** Pixels of a viewer for one design pixel. */
  fitOf(viewer: string): number {
    return this.frames.arrangedFor(viewer)?.fit ?? 1;
  }

  /** Where an element's anchor is in the world now, or null. */
  anchorPlace(id: string): Vec3 | null {
    const solver = this.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    if (!solver || row < 0 || row >= solver.c.anchoredCount || solver.c.lost[row]) return null;
    const at = (solver.c.elementAnchor[row] as number) * 3;
    return [...solver.c.anchorWorld.subarray(at, at + 3)] as Vec3;
  }

  /** The tip of a surface's normal, half a metre long or a twentieth of the distance, in the picture. */
  normalOnScreen({ position, normal, distanceM }: Hover, width: number, height: number): [number, number] | null {
    const arranged = this.frames.arrangedFor(useBench.getState().viewer);
    if (!arranged) return null;
    const reach = Math.max(0.1, Math.min(0.5, distanceM / 12));
    const tip = projector(arranged.projection, this.pose())(
      position[0] + normal[0] * reach,
      position[1] + normal[1] * reach,
      position[2] + normal[2] * reach,
    );
    return tip.inFront ? [(tip.x / arranged.projection.widthPx) * width, (tip.y / arranged.projection.heightPx) * height] : null;
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

  /** Solves the present frame and begins its picture; null where the page has no room for one yet, undefined where there is no frame. */
  private begin(target: CanvasRenderingContext2D | null, quality: Quality): ComingPicture | null | undefined {
    const state = useBench.getState();
    const solver = this.frameOf(state.viewer);
    if (!solver) return undefined;
    if (state.mode === 'try') this.trying.aim(solver);
    const info = report(this.reportHost, solver, 'own');
    const picture = target && this.beginOn(target, solver, quality);
    useBench.setState({ info });
    return picture;
  }

  private beginOn(target: CanvasRenderingContext2D, solver: Solver, quality: Quality): ComingPicture | null {
    const { outside, whole, viewer, timeS, selection } = useBench.getState();
    const pose = this.pose();
    if (!outside)
      return whole && this.painter.seesSeveral(viewer)
        ? this.painter.beginWhole(viewer, target, quality)
        : this.painter.beginViewer(solver, pose, target, quality);
    const projection = outsideProjection(target.canvas.width, target.canvas.height);
    const from = this.camera.outside();
    this.placeLevel(timeS);
    const level = this.renderer.begin(this.scene, projection, from, target, quality);
    return {
      ready: level.ready,
      show: () => {
        level.land();
        this.painter.forget(target.canvas);
        drawOutside(target, projection, from, solver, pose, selection);
      },
    };
  }

  /** The picture as it stands on the page, made small; null where it is not a player's, or not there yet. */
  thumbnail(width: number): OffscreenCanvas | null {
    const { main } = this.painting;
    if (!main || main.width < 2 || useBench.getState().outside) return null;
    const canvas = new OffscreenCanvas(width, Math.round((width * main.height) / main.width));
    canvas.getContext('2d', { alpha: false })?.drawImage(main, 0, 0, canvas.width, canvas.height);
    return canvas;
  }

  /** A viewer's picture at a size of its own, from any pose of the head. @param eye of a headset. */
  snapshot(...args: Parameters<ViewerPainter['snapshot']>): OffscreenCanvas | null {
    return this.painter.snapshot(...args);
  }

  /** What is drawn of one row in the present frame, in the viewer's own pixels; for tests. */
  drawnOf(row: string): DrawItem[] {
    const solver = this.frameOf(useBench.getState().viewer);
    return solver ? drawList(solver).items.filter(({ element }) => element === row) : [];
  }

  /** Whether several pictures are shown, in which nothing can be pointed at. */
  showsWhole(): boolean {
    const { whole, viewer, outside } = useBench.getState();
    return whole && !outside && this.painter.seesSeveral(viewer);
  }

  /** What lies under a point of the picture, given as shares of its width and height. */
  pick(u: number, v: number): Hover | null {
    return this.under.pick(u, v);
  }
  /** What the middle of the view rests on, and where in the picture that is, as shares; null where no picture is there. */
  aimed(): ReturnType<UnderPoint['aimed']> {
    return this.under.aimed();
  }
  /** The front-most element under a point of the picture that is of a wanted sort. */
  elementAt(u: number, v: number, wanted?: (element: Element) => boolean): Found | null {
    return this.under.elementAt(u, v, wanted);
  }
}

const HERE: Pose = { position: [0, 0, 0], rotation: [0, 0, 0, 1] };
