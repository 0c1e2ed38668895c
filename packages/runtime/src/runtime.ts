/**
 * The runtime: a bundle, and each frame a camera, a time and values in; boxes, texts, visibility and messages out. The calculation is
 * the bench's own. Nothing here knows a page, a canvas or an engine; once warm, a frame allocates nothing.
 */
import {
  type Arranged,
  At,
  arrange,
  builtInValue,
  type Compiled,
  clipTimes,
  type Going,
  type Inputs,
  isBuiltIn,
  keyDown,
  keysOf,
  keyUp,
  type Level,
  MOST_TICKS,
  makeSolver,
  type Pose,
  type Pressing,
  placeAnchors,
  pressOn,
  pressShare,
  promptFor,
  type Solver,
  solve,
  TICK_S,
  targetOf,
  Verdict,
} from '@foreshore/core';
import type { Device, FeedValue, Keys, Viewer } from '@foreshore/document/types';
import { BUNDLE_FORMAT, BUNDLE_VERSION, type Bundle, type PartName } from './bundle.ts';
import { type CastRay, GameLevel } from './level.ts';
import { isSameLens, poseFromView, projectionFromMatrix } from './matrices.ts';
import { install, type Part } from './parts.ts';
import { type Letters, textOf } from './text.ts';
import { unpack } from './unpack.ts';

/** What an element sends: the action by its id and its name, who sent it, and at what: a node of the level or an anchor. */
export interface Message {
  action: string;
  name: string;
  source: string;
  target: string | null;
}

export interface Options {
  /** Shapes letters: `measuredBy` a canvas, or the add-on that shapes as the bench does. */
  letters: Letters;
  /** One of the bundle's viewers, which says how far away the player sits and what is safe to see; else the first that is a screen. */
  viewer?: string;
  /** One of the bundle's languages. */
  language?: string;
  device?: Device;
  /** Parts of the calculation that this bundle needs besides the basic ones (`bundle.needs`). */
  parts?: readonly Part[];
  /** Rays against the game's own world. Without it nothing blocks and nothing is aimed at. */
  castRay?: CastRay;
  /** A level that casts rays by itself, in place of `castRay` and `moveNode`. */
  level?: Level;
  /** Told of everything that is sent. */
  onMessage?: (message: Message) => void;
}

/** One frame of a game. */
export interface FrameInput {
  /** Seconds since the session began; it never goes back. */
  timeS: number;
  /** World to camera, column-major 4x4. */
  view?: ArrayLike<number>;
  /** Instead of the view: where the camera is and how it is turned. */
  pose?: Pose;
  /** Column-major 4x4; without it, the viewer's own lens. */
  projection?: ArrayLike<number>;
}

/** Why a bundle cannot be played. */
export class BundleError extends Error {}

export class Runtime {
  readonly bundle: Bundle;
  /** The frame as last solved; for painters. */
  solver: Solver;
  private readonly options: Options;
  private readonly c: Compiled;
  private readonly values: (FeedValue | undefined)[];
  private readonly known: boolean[];
  private readonly builtIn: number[];
  private readonly byName = new Map<string, number>();
  private readonly lens = new Float64Array(16);
  private readonly inputs: GameInputs;
  private readonly going: Going = { speedMps: 0, fallenM: 0 };
  private readonly goingNow = (): Going => this.going;
  private readonly was: Pose = { position: [0, 0, 0], rotation: [0, 0, 0, 1] };
  private wasS = Number.NaN;
  /** Local times of the level's animations. */
  private readonly clips: Float64Array;
  private viewer: Viewer;
  private language: string;
  private device: Device;
  private pressing: Pressing | null = null;
  private readonly text: ReturnType<typeof textOf>;

  /** @throws BundleError where the bundle is no bundle, of another version, or needs a part that is not given. */
  constructor(bundle: Bundle, options: Options) {
    if (bundle?.format !== BUNDLE_FORMAT) throw new BundleError('This is no Foreshore bundle.');
    if (bundle.version !== BUNDLE_VERSION)
      throw new BundleError(`This bundle is of version ${bundle.version}; this runtime plays version ${BUNDLE_VERSION}.`);
    const given = new Set<PartName>(options.parts?.map(({ name }) => name));
    const lacking = bundle.needs.filter((name) => !given.has(name));
    if (lacking.length) throw new BundleError(`This bundle needs parts that were not given: ${lacking.join(', ')}.`);
    for (const part of options.parts ?? []) install(part);
    this.bundle = bundle;
    this.options = options;
    const { viewers } = bundle.document;
    const id = options.viewer ?? Object.keys(viewers).find((one) => viewers[one]?.kind === 'screen') ?? Object.keys(viewers)[0] ?? '';
    const viewer = viewers[id];
    if (!viewer) throw new BundleError(`This bundle has no viewer "${id}"; it has ${Object.keys(viewers).join(', ')}.`);
    this.viewer = viewer;
    this.language = options.language ?? bundle.document.language;
    this.device = options.device ?? 'keyboard';
    const level = options.level ?? (bundle.level && new GameLevel(bundle.level, options.castRay ?? null));
    this.c = unpack(viewer.kind === 'headset' && bundle.headset ? bundle.headset : bundle.rows, bundle, level);
    this.clips = new Float64Array(level?.clipDurationsS.length ?? 0);
    this.text = textOf(bundle.messages, options.letters);
    this.values = this.c.feedIds.map(() => undefined);
    this.known = this.c.feedIds.map(() => false);
    this.builtIn = [...this.c.feedIds.keys()].filter((k) => isBuiltIn(bundle.document.feeds[this.c.feedIds[k] as string]?.source));
    this.c.feedIds.forEach((key, k) => {
      const feed = this.c.feedOf[k] as string;
      this.byName.set((bundle.document.feeds[feed]?.name ?? feed) + key.slice(feed.length), k);
    });
    this.c.feedIds.forEach((key, k) => {
      this.byName.set(key, k);
    });
    this.inputs = new GameInputs(this.values, Object.keys(bundle.document.phases)[0] ?? null);
    this.solver = makeSolver(this.arranged());
  }

  private arranged(): Arranged {
    const { widthPx, heightPx } = this.viewer;
    const projection = this.lens[0] ? projectionFromMatrix(this.lens, widthPx, heightPx) : undefined;
    return arrange(this.c, this.viewer, this.text, projection, this.language, this.device);
  }
  /** Lays all out anew; what is remembered from frame to frame stays. */
  private arrangeAnew(): void {
    this.solver = makeSolver(this.arranged(), this.solver.m);
  }

  /** The size of the picture, pixels. */
  resize(widthPx: number, heightPx: number): void {
    if (widthPx === this.viewer.widthPx && heightPx === this.viewer.heightPx) return;
    this.viewer = { ...this.viewer, widthPx, heightPx };
    this.arrangeAnew();
  }
  setLanguage(language: string): void {
    if (language === this.language) return;
    this.language = language;
    this.arrangeAnew();
  }
  setDevice(device: Device): void {
    if (device === this.device) return;
    this.device = device;
    this.arrangeAnew();
  }
  /** After fonts came late: texts are shaped anew. */
  fontsChanged(): void {
    this.arrangeAnew();
  }

  /**
   * A feed's value, by its id or its name. A feed that was never set is empty. False where there is none of that name, or of another kind.
   * @param object the node whose value it is, of a feed that has one for each; without it, that of all objects of which nothing is said.
   */
  set(feed: string, value: FeedValue, object?: string): boolean {
    const { c, known, values } = this;
    const k = this.byName.get(object === undefined ? feed : `${feed}@${object}`);
    if (k === undefined || !isOfKind(this.bundle.document.feeds[c.feedOf[k] as string]?.kind, value)) return false;
    values[k] = value;
    known[k] = true;
    if (c.eachFeeds.includes(k))
      for (let o = k + 1; o < values.length; o++) if (!known[o] && c.feedOf[o] === c.feedOf[k]) values[o] = value;
    return true;
  }
  /** Feeds that the game supplies and has not, by their ids; of one that has a value for each object, `feed@node` of those that lack it. */
  missing(): string[] {
    const { c, known } = this;
    const isSaid = (k: number): boolean => known[k] === true || this.builtIn.includes(k);
    return c.feedIds.filter((key, k) => {
      if (isSaid(k) || isSaid(c.feedIds.indexOf(c.feedOf[k] as string))) return false;
      return !c.eachFeeds.includes(k) || !c.feedOf.some((feed, o) => o !== k && feed === key);
    });
  }
  /** The state of the game, by its id. */
  setPhase(phase: string | null): void {
    this.inputs.phase = phase;
  }
  get phase(): string | null {
    return this.inputs.phase;
  }
  /** Shows or hides elements whatever their phases say, by id; what the interface's own reactions do. */
  force(forced: Readonly<Record<string, 'shown' | 'hidden'>>): void {
    this.inputs.forced = forced;
  }
  /** How far groups are scrolled, design pixels, by row. */
  scroll(scrolled: Readonly<Record<string, number>>): void {
    this.inputs.scrolled = scrolled;
  }
  /** The acting element that is pointed at, and the one that is pressed. */
  point(pointed: string | null, pressed: string | null): void {
    this.inputs.pointed = pointed;
    this.inputs.pressed = pressed;
  }
  /** How much of a press is done, where something else than `key` presses. */
  setPressing(pressing: { row: string; share: number } | null): void {
    this.inputs.pressing = pressing;
  }
  /** Where a node of the level is now: column-major 4x4, metres. False where the bundle's level has no such node. */
  moveNode(name: string, matrix: ArrayLike<number>): boolean {
    const node = this.c.level?.nodeIndex(name) ?? -1;
    if (node < 0 || !this.c.level) return false;
    for (let k = 0; k < 16; k++) this.c.level.worldMatrices[node * 16 + k] = matrix[k] as number;
    return true;
  }

  /** Solves a frame, by way of all ticks since the last one. */
  frame({ timeS, view, pose, projection }: FrameInput): void {
    if (projection && !isSameLens(projection, this.lens)) {
      for (let k = 0; k < 16; k++) this.lens[k] = projection[k] as number;
      this.arrangeAnew();
    }
    const { head } = this.inputs;
    if (view) poseFromView(view, head);
    else if (pose) {
      for (let k = 0; k < 3; k++) head.position[k] = pose.position[k] as number;
      for (let k = 0; k < 4; k++) head.rotation[k] = pose.rotation[k] as number;
    }
    if (this.builtIn.length > 0) this.workOut(timeS);
    if (this.pressing) this.follow(timeS, pressOn(this.solver, this.pressing, timeS));
    this.advanceTo(timeS);
  }

  /** By way of all ticks between, as `solveTo` does; here, a time that is handed on would be put on the heap in every frame. */
  private advanceTo(timeS: number): void {
    const { inputs } = this;
    const last = this.solver.m.timeS;
    if (timeS > last) {
      const until = Math.ceil(timeS / TICK_S - 1e-6);
      for (let tick = Math.max(Math.floor(last / TICK_S + 1e-6) + 1, until - MOST_TICKS); tick < until; tick++) {
        inputs.timeS = tick * TICK_S;
        this.step();
      }
    }
    inputs.timeS = timeS;
    this.step();
  }
  private step(): void {
    const { level } = this.options;
    if (level) level.poses(clipTimes(level, this.inputs.timeS, this.bundle.document.level?.clips, this.feedAt, this.clips));
    solve(this.solver, this.inputs);
  }
  private readonly feedAt = (feed: string): FeedValue | undefined => this.values[this.c.feedIds.indexOf(feed)];

  /** Feeds that the frame itself tells. */
  private workOut(timeS: number): void {
    const { head } = this.inputs;
    const dt = timeS - this.wasS;
    if (dt > 0) {
      const by = (k: 0 | 1 | 2) => head.position[k] - this.was.position[k];
      this.going.speedMps = Math.hypot(by(0), by(1), by(2)) / dt;
      this.going.fallenM = by(1) < -1e-6 ? this.going.fallenM - by(1) : 0;
    }
    if (!(dt <= 0)) {
      this.wasS = timeS;
      for (let k = 0; k < 3; k++) this.was.position[k] = head.position[k] as number;
    }
    placeAnchors(this.c);
    for (const k of this.builtIn) {
      // What the game tells by itself goes before.
      if (this.known[k]) continue;
      const { source, initial } = this.bundle.document.feeds[this.c.feedIds[k] as string] ?? {};
      if (isBuiltIn(source)) this.values[k] = builtInValue(this.c, source, initial ?? 0, timeS, head, this.goingNow);
    }
  }

  /** A key went down or up, by its place (`KeyE`): the prompt that has it is pressed. True where one has. */
  key(code: string, down: boolean): boolean {
    return this.press((keys) => keys.keyboard === code, down);
  }
  /** A button of a gamepad, by its number. */
  button(button: number, down: boolean): boolean {
    return this.press((keys) => keys.gamepad === button, down);
  }
  private press(isKey: (keys: Keys) => boolean, down: boolean): boolean {
    const { solver, inputs } = this;
    const { document } = this.c;
    const { timeS } = inputs;
    if (!down) {
      const held = this.pressing && isKey(keysOf(document, this.pressing.press.action));
      if (held && this.pressing) this.pressing = keyUp(this.pressing);
      this.tellShare(timeS);
      return Boolean(held);
    }
    // A phase that takes the input leaves the keys of prompts alone.
    if (document.phases[inputs.phase ?? '']?.takesInput) return false;
    const row = promptFor(solver, (action) => isKey(keysOf(document, action)));
    if (row < 0) return false;
    this.follow(timeS, keyDown(solver, row, timeS, this.pressing), row);
    return true;
  }
  private follow(
    timeS: number,
    { now, sent }: { now: Pressing | null; sent: boolean },
    row = this.pressing ? this.c.ids.indexOf(this.pressing.row) : -1,
  ): void {
    this.pressing = now;
    this.tellShare(timeS);
    const action = this.c.elements[row]?.press?.action;
    if (sent && action) this.send(action, this.c.ids[row] as string, targetOf(this.solver, row));
  }
  private tellShare(timeS: number): void {
    this.inputs.pressing = this.pressing && { row: this.pressing.row, share: pressShare(this.pressing, timeS) };
  }
  /** Tells the game of an action. */
  send(action: string, source: string, target: string | null): void {
    this.options.onMessage?.({ action, name: this.bundle.document.actions?.[action]?.name ?? action, source, target });
  }

  /** How many rows there are: an element, or one of the many places of one, each. */
  get count(): number {
    return this.c.count;
  }
  /** A row by its id, or −1. */
  row(id: string): number {
    return this.c.ids.indexOf(id);
  }
  id(row: number): string {
    return this.c.ids[row] as string;
  }
  isShown(row: number): boolean {
    return this.solver.f.failed[row] === Verdict.Shown;
  }
  /** The box of a row: left, top, width and height, pixels of the picture; on a panel, of the panel's own design pixels. */
  box(row: number, out: Float64Array): Float64Array {
    const { f } = this.solver;
    for (let k = 0; k < 4; k++) out[k] = f.places[row * At.Stride + At.RectX + k] as number;
    return out;
  }
  /** The lines of a label, with where they begin in em, and how large an em is, pixels; null where it has none. */
  lines(row: number): { emPx: number; lines: readonly { text: string; xEm: number; baselineEm: number; widthEm: number }[] } | null {
    const block = this.solver.a.blocks[row];
    return block ? { emPx: this.solver.f.places[row * At.Stride + At.UnitPx] as number, lines: block.lines } : null;
  }
  /** Where a row is pointed to while its anchor is out of view: radians clockwise from the top; not a number where it is not at the edge. */
  edgeRad(row: number): number {
    const edge = this.solver.a.edgeOf[row] ?? -1;
    return edge < 0 ? Number.NaN : (this.solver.f.edgeRad[edge] as number);
  }
}

/** What is handed to each frame. Fields that count time are in classes: engines write them without allocating. */
class GameInputs implements Inputs {
  timeS = 0;
  readonly head: Pose = { position: [0, 0, 0], rotation: [0, 0, 0, 1] };
  readonly depthOrder = true;
  pointed: string | null = null;
  pressed: string | null = null;
  pressing: { row: string; share: number } | null = null;
  forced: Readonly<Record<string, 'shown' | 'hidden'>> = {};
  scrolled: Readonly<Record<string, number>> = {};
  constructor(
    readonly values: (FeedValue | undefined)[],
    public phase: string | null,
  ) {}
}

function isOfKind(kind: string | undefined, value: FeedValue): boolean {
  if (kind === 'number') return typeof value === 'number' && Number.isFinite(value);
  if (kind === 'text') return typeof value === 'string';
  if (kind === 'flag') return typeof value === 'boolean';
  if (kind === 'list') return Array.isArray(value);
  return typeof value === 'object' && value !== null && !Array.isArray(value) && 'place' in value;
}
