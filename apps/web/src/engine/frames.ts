/** Frames of the open document: one solver a viewer, on the route by replay from its start, else from the free camera. */
import { Replay } from '@foreshore/checks';
import {
  type Arranged,
  arrange,
  between,
  type Compiled,
  compile,
  countsOf,
  eyesOf,
  gameValues,
  type Inputs,
  type Memory,
  makeSolver,
  ownPart,
  type Pose,
  partBox,
  phaseAt,
  placeLevel,
  placeLevelBy,
  placeOf,
  readValues,
  routePose,
  type SolveContext,
  type Solver,
  screenOutline,
  solve,
  solveTo,
  type TextShaper,
  takenFrom,
} from '@foreshore/core';
import type { Document, FeedValue, Route, Viewer } from '@foreshore/document';
import type { GameFrame } from '@foreshore/handoff/game';
import type { LevelModel } from '@foreshore/level';
import { useBench } from '../state/bench.ts';
import { useLive } from '../state/live.ts';
import type { Camera } from './camera.ts';

/** What frames need of the engine. */
export interface FramesHost {
  readonly camera: Camera;
  /** Seconds on the clock of trying. */
  readonly tryS: number;
  /** What the game that is followed says, or null. */
  game(): GameFrame | null;
  /** How much of a press is done, of the prompt it is on. */
  pressing(): Inputs['pressing'];
}

/** One of the pictures that a viewer sees, and where it lies on all of it, pixels. */
export interface Seen {
  frame: SolveContext;
  pose: Pose;
  x: number;
  y: number;
}

/** A replay that takes longer is made in parts, while another frame stands in. */
const LONG_MS = 20;
/** From so many ticks is learned what one takes. */
const MANY_TICKS = 60;

export class Frames {
  document: Document;
  private made: Compiled;
  readonly text: TextShaper;
  private readonly model: LevelModel;
  private readonly host: FramesHost;
  private readonly arranged = new Map<string, Arranged>();
  /** As they were before a change: what it did not touch is taken over from them. */
  private readonly former = new Map<string, Arranged>();
  private readonly live = new Map<string, Solver>();
  private readonly replays = new Map<string, Replay>();
  /** Replays of before a change: what they remember stands in while theirs is being made. */
  private readonly formerReplays = new Map<string, Replay>();
  private readonly standIns = new Map<string, Solver>();
  /** What was arranged anew has not been solved yet. */
  private unsolved = false;
  /** What a tick of a replay takes, milliseconds, the last ones weighing most. */
  private tickMs = 0;
  /** The angle of view of the game that is followed, degrees; null: the viewers' own. */
  private fovDeg: number | null = null;
  /** What the frame that was solved last was solved from; null where it was solved for something else. */
  private stoodFrom: unknown[] | null = null;
  /** Where the head was in the last frame that was solved with a memory. */
  private readonly lastHead = new WeakMap<Memory, Pose>();

  /** @param first the elements as a viewer has them, arranged before. */
  constructor(compiled: Compiled, model: LevelModel, text: TextShaper, host: FramesHost, first: readonly [string, Arranged][]) {
    this.document = compiled.document;
    this.model = model;
    this.text = text;
    this.host = host;
    this.made = compiled;
    for (const [viewer, arranged] of first) this.arranged.set(viewer, arranged);
  }

  setDocument(document: Document): void {
    this.document = document;
    for (const [key, arranged] of this.arranged) this.former.set(key, arranged);
    this.arranged.clear();
    // One that had not come far is worth less than the one before it.
    for (const [key, replay] of this.replays) if (!this.standIns.has(key)) this.formerReplays.set(key, replay);
    this.replays.clear();
  }

  /** The document as tables; made anew when it is first asked for after a change. */
  get compiled(): Compiled {
    if (this.made.document !== this.document) this.made = compile(this.document, this.model);
    return this.made;
  }

  /** Does one thing of what a viewer's frame needs after a change. @returns whether there was nothing to do. */
  makeReady(viewer: string): boolean {
    if (this.made.document !== this.document) {
      this.made = compile(this.document, this.model);
      return false;
    }
    if (!this.arranged.has(viewer)) {
      this.unsolved = this.arrangedFor(viewer) !== null;
      return !this.unsolved;
    }
    if (!this.unsolved) return true;
    // On a route a frame that was found is kept for whoever asks next.
    this.unsolved = false;
    if (!this.wayNow()) return true;
    this.frameOf(viewer);
    return false;
  }

  /** The route whose moment is shown; undefined where the camera is free, a game is followed or the frame goes on by itself. */
  private wayNow(): Route | undefined {
    const { pose, route, mode } = useBench.getState();
    return this.host.game() || pose || mode === 'try' ? undefined : this.document.routes[route];
  }

  /** The solver that goes on. Where something is arranged otherwise it is made anew, with what it remembers if rows are the same. */
  private liveOf(key: string, arranged: Arranged): Solver {
    const known = this.live.get(key);
    if (known?.a === arranged) return known;
    const solver = known && hasSameRows(known.c, arranged.compiled) ? makeSolver(arranged, known.m) : makeSolver(arranged);
    this.live.set(key, solver);
    return solver;
  }

  /** Everything is worked out anew: fonts, the language or the device are others. */
  rearrange(): void {
    this.former.clear();
    this.arranged.clear();
    this.replayAnew();
    this.live.clear();
  }
  /** The game looks through another lens: boxes are laid out for it, and what is remembered goes on. */
  private takeLens(): void {
    const fovDeg = this.host.game()?.fovDeg ?? null;
    if (fovDeg === this.fovDeg) return;
    this.fovDeg = fovDeg;
    this.arranged.clear();
    this.replayAnew();
  }

  /** What is held by hand has changed: routes replay otherwise. */
  replayAnew(): void {
    this.replays.clear();
    this.formerReplays.clear();
    this.standIns.clear();
  }
  /** The free camera's frames begin with empty memory. */
  forget(): void {
    this.live.clear();
  }

  /** @param part of a split screen; without it, one's own. */
  arrangedFor(viewer: string, part?: number): Arranged | null {
    const key = part === undefined ? viewer : `${viewer} ${part}`;
    const known = this.arranged.get(key);
    if (known) return known;
    const described = this.document.viewers[viewer];
    if (!described) return null;
    const lensed = withFov(described, this.fovDeg);
    const { language, device } = useBench.getState();
    const before = this.former.get(key);
    const taken = before ? takenFrom(before) : null;
    const made = arrange(this.compiled, lensed, this.text, undefined, language ?? this.document.language, device, part, taken);
    this.former.delete(key);
    this.arranged.set(key, made);
    return made;
  }

  /**
   * Everything that a viewer sees now: both eyes of a headset, each player of a split screen, or its one picture. The level is
   * where it is for all of them.
   */
  allSeen(viewer: string): Seen[] {
    const described = this.document.viewers[viewer];
    const own = this.frameOf(viewer);
    if (!described || !own) return [];
    const pose = this.host.camera.pose();
    if (described.kind === 'headset')
      return eyesOf(own).map((frame, k) => ({
        frame,
        pose: { ...pose, position: [...frame.f.eye.subarray(0, 3)] as Pose['position'] },
        x: k * described.widthPx,
        y: 0,
      }));
    if (described.kind !== 'split') return [{ frame: own, pose, x: 0, y: 0 }];
    return described.players.map(({ route }, part) => {
      const { x, y } = partBox(described, part);
      if (part === ownPart(described)) return { frame: own, pose, x, y };
      const one = this.playerOf(viewer, part, route === null ? pose : this.poseOn(route, pose));
      return { ...one, x, y };
    });
  }

  private poseOn(route: string, otherwise: Pose): Pose {
    const way = this.document.routes[route];
    return way ? routePose(way, useBench.getState().timeS) : otherwise;
  }

  /** The frame of another player: the same moment of the same game, from elsewhere. */
  private playerOf(viewer: string, part: number, pose: Pose): Pick<Seen, 'frame' | 'pose'> {
    const key = `${viewer} ${part}`;
    const solver = this.liveOf(key, this.arrangedFor(viewer, part) as Arranged);
    solve(solver, this.inputsAt(solver, pose, useBench.getState().timeS));
    return { frame: solver, pose };
  }

  /** The present frame of a viewer; the solver's own, until the next call. */
  frameOf(viewer: string): Solver | null {
    this.takeLens();
    const game = this.host.game();
    const arranged = this.arrangedFor(viewer);
    if (!arranged) return null;
    const { route, timeS, mode, scrolled, pointed, pressed } = useBench.getState();
    const way = this.wayNow();
    if (way) {
      const key = `${viewer} ${route}`;
      const replay = this.replayOf(key, arranged, way);
      const { forced } = useLive.getState();
      const from = [replay, timeS, pointed, pressed, forced, scrolled];
      if (this.stands(from)) return replay.solver;
      this.stoodFrom = null;
      replay.pointed = pointed;
      replay.pressed = pressed;
      replay.forced = forced;
      replay.scrolled = scrolled;
      const standIn = this.standInFor(key, replay, timeS);
      if (standIn) return standIn;
      const [ticks, beganMs] = [replay.ticksTo(timeS), performance.now()];
      replay.at(timeS);
      if (ticks > MANY_TICKS) this.tickMs += ((performance.now() - beganMs) / ticks - this.tickMs) / 2;
      this.stoodFrom = from;
      return replay.solver;
    }
    const solver = this.liveOf(viewer, arranged);
    const head = this.host.camera.pose();
    if (mode === 'try' || game) this.goOn(solver, head, timeS);
    else this.standFrom(solver, head);
    return solver;
  }

  private replayOf(key: string, arranged: Arranged, way: Route): Replay {
    const known = this.replays.get(key);
    if (known) return known;
    const { held, phase } = useLive.getState();
    const made = new Replay(arranged, way, { held, phase });
    this.replays.set(key, made);
    return made;
  }

  /** While a replay is far behind: the frame with what was remembered before the change. Null where there is none, or it need not be. */
  private standInFor(key: string, replay: Replay, timeS: number): Solver | null {
    const former = this.formerReplays.get(key);
    if (!former || replay.ticksTo(timeS) * this.tickMs <= LONG_MS) {
      this.formerReplays.delete(key);
      this.standIns.delete(key);
      return null;
    }
    let standIn = this.standIns.get(key);
    if (standIn?.a !== replay.solver.a) {
      const { m, c } = standIn ?? former.solver;
      if (!hasSameRows(c, replay.solver.c)) return null;
      standIn = makeSolver(replay.solver.a, m.copy());
      this.standIns.set(key, standIn);
    }
    solve(standIn, replay.inputsAt(timeS, true));
    return standIn;
  }

  /**
   * Brings the replays of all viewers nearer to the present, for so long at most. @returns whether all are there; what `frameOf` gives
   * then is exact, and quick.
   */
  catchUp(forMs: number): boolean {
    const { route, timeS } = useBench.getState();
    const way = this.wayNow();
    if (!way) return true;
    const until = performance.now() + forMs;
    const may = (): boolean => performance.now() < until;
    this.stoodFrom = null;
    for (const viewer of Object.keys(this.document.viewers)) {
      const key = `${viewer} ${route}`;
      // Nobody has looked there yet, and nobody waits for it.
      if (!this.replays.has(key) && !this.formerReplays.has(key)) continue;
      const arranged = this.arrangedFor(viewer);
      if (arranged && !(may() && this.replayOf(key, arranged, way).towards(timeS, may))) return false;
    }
    return true;
  }

  /** The frame that was solved last is the one that is wanted. */
  private stands(from: readonly unknown[]): boolean {
    return this.stoodFrom?.length === from.length && this.stoodFrom.every((one, k) => one === from[k]);
  }

  /** The free camera's frame. Whoever asks for it again while nothing has changed, and nothing else was solved, has it as it is. */
  private standFrom(solver: Solver, head: Pose): void {
    const { pose, route, timeS, mode, playing, scrolled, pointed, pressed } = useBench.getState();
    const { speedMps, fallenM } = this.host.camera.going();
    const from = [
      solver,
      this.compiled,
      useLive.getState(),
      pose,
      route,
      timeS,
      mode,
      playing,
      scrolled,
      pointed,
      pressed,
      speedMps,
      fallenM,
    ];
    if (pose && this.stands(from)) return;
    solve(solver, this.inputsAt(solver, head, timeS));
    this.stoodFrom = from;
  }

  /** The frame that a viewer is being tried in, as last solved; undefined where none is. */
  tried(viewer: string): Solver | undefined {
    return useBench.getState().mode === 'try' ? this.live.get(viewer) : undefined;
  }

  /** While trying, in a headset: a solver of its own, from where its head is. */
  tryFrom(solver: Solver, head: Pose): void {
    this.goOn(solver, head, useBench.getState().timeS);
  }

  /** While trying, or with a game: by way of all ticks since the last picture, so that a slow machine decides as a quick one does. */
  private goOn(solver: Solver, head: Pose, timeS: number): void {
    const last = this.lastHead.get(solver.m);
    const { tryS } = this.host;
    // A game began anew.
    if (tryS < solver.m.timeS) solver.m.clear();
    const fromS = solver.m.timeS;
    solveTo(solver, tryS, (atS) => {
      const way = last && tryS > fromS ? between(last, head, (atS - fromS) / (tryS - fromS)) : head;
      return this.inputsAt(solver, atS < tryS ? way : head, timeS, atS);
    });
    this.lastHead.set(solver.m, head);
  }

  /** Places the level, and says what a frame is solved with: the feeds and the phase of a time, somewhere off the route. */
  private inputsAt(solver: Solver, head: Pose, timeS: number, clockS = timeS): Inputs {
    this.stoodFrom = null;
    const game = this.host.game();
    const { route, pointed, pressed, pose, scrolled, mode, playing } = useBench.getState();
    if (game) {
      const { held, forced } = useLive.getState();
      const { values: given } = game;
      placeLevelBy(this.compiled, clockS, (feed) => held[feed] ?? given[feed]);
      return {
        ...{ timeS: clockS, head, pointed, pressed, forced, scrolled, depthOrder: true },
        values: gameValues(solver.c, given, clockS, head, held, this.host.camera.going()),
        pressing: mode === 'try' ? this.host.pressing() : null,
        phase: this.phase(),
      };
    }
    this.placeLevel(timeS);
    const way = this.document.routes[route] ?? null;
    const { held, phase, forced } = useLive.getState();
    return {
      timeS: clockS,
      head,
      stands: mode !== 'try' && !playing,
      depthOrder: true,
      values: readValues(solver.c, way, timeS, head, held, undefined, pose ? this.host.camera.going() : null),
      pressing: mode === 'try' ? this.host.pressing() : null,
      phase: phase ?? phaseAt(this.document, way, timeS),
      pointed,
      pressed,
      forced,
      scrolled,
    };
  }

  /** Places the level for a time, with what feeds move of it as they stand. */
  placeLevel(timeS: number): void {
    if (timeS !== useBench.getState().timeS) this.stoodFrom = null;
    const game = this.host.game();
    if (game) {
      placeLevelBy(this.compiled, game.timeS, (feed) => useLive.getState().held[feed] ?? game.values[feed]);
      return;
    }
    const { route } = useBench.getState();
    placeLevel(this.compiled, this.document.routes[route] ?? null, timeS, this.host.camera.pose(), useLive.getState().held);
  }

  /** The phase in force now. */
  phase(): string | null {
    const { route, timeS } = useBench.getState();
    const game = this.host.game();
    if (game) return game.phase ?? phaseAt(this.document, null, 0);
    return useLive.getState().phase ?? phaseAt(this.document, this.document.routes[route] ?? null, timeS);
  }

  /** What every feed's value is in the present frame. */
  valuesNow(): Record<string, FeedValue | undefined> {
    const solver = this.frameOf(useBench.getState().viewer);
    return Object.fromEntries(solver?.c.feedIds.map((feed, k) => [feed, solver.f.values[k]]) ?? []);
  }

  /** A frame of its own, from any pose. */
  solvedFrom(viewer: string, pose: Pose, timeS: number): Solver | null {
    const arranged = this.arrangedFor(viewer);
    if (!arranged) return null;
    const solver = makeSolver(arranged);
    solve(solver, this.inputsAt(solver, pose, timeS));
    return solver;
  }

  /** The places of all elements for a viewer and a pose of the head, solved here in the browser. @param eye of a headset. */
  solveAt(
    viewer: string,
    pose: Pose,
    timeS: number,
    eye?: 0 | 1,
  ): { id: string; failed: number; point: [number, number]; rect: number[]; depthM: number; outline: number[] }[] {
    const solver = this.solvedFrom(viewer, pose, timeS);
    if (!solver) return [];
    const frame = eye === undefined ? solver : (eyesOf(solver)[eye] ?? solver);
    return frame.c.ids.map((id, i) => {
      const { point, rect, depthM } = placeOf(frame.f, i);
      return { id, failed: frame.f.failed[i] as number, point, rect, depthM, outline: screenOutline(frame, i) };
    });
  }
}

/** Whether what is remembered of one document's rows, gauges and conditions can be gone on with in another. */
function hasSameRows(a: Compiled, b: Compiled): boolean {
  const [counts, others] = [countsOf(a), countsOf(b)];
  return JSON.stringify(counts) === JSON.stringify(others) && a.ids.every((id, i) => id === b.ids[i]);
}

/** A viewer through a game's lens: a headset has its own. */
function withFov(viewer: Viewer, fovDeg: number | null): Viewer {
  if (fovDeg === null || viewer.kind === 'headset' || viewer.lens.kind !== 'perspective') return viewer;
  return { ...viewer, lens: { ...viewer.lens, fovDeg, fovAxis: 'vertical', hold: 'vertical', designAspect: null } };
}
