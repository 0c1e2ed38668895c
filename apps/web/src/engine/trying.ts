/** Trying: the machine of play on the bench's frame and stores, and the gamepad that the browser reads. */
import {
  type Changes,
  type DrawnRay,
  handRay,
  isHand,
  metBy,
  middleOf,
  type OnPage,
  Play,
  type PlayHost,
  type Pose,
  type RaySource,
  type SolveContext,
  type Solver,
  screenRay,
  sourcesOf,
  type Vec3,
  Verdict,
} from '@foreshore/core';
import type { Document, FeedValue } from '@foreshore/document';
import type { GameFrame } from '@foreshore/handoff/game';
import { useBench } from '../state/bench.ts';
import { gameFrame, tellGame, tellValue } from '../state/game.ts';
import { hold, logPlayed, takeChanges } from '../state/live.ts';

/** Sticks that are let go do not stand quite in their middle. */
const STICK_REST = 0.18;
const STICK_DEG_PER_S = 110;

/** What trying needs of the engine. */
export interface TryHost {
  readonly document: Document;
  readonly tryS: number;
  frameOf(viewer: string): Solver | null;
  phase(): string | null;
  valuesNow(): Record<string, FeedValue | undefined>;
  pose(): Pose;
  turn(yawDeg: number, pitchDeg: number): void;
  steer(right: number, forward: number): void;
  page(page: string, kind: OnPage, x: number, y: number, byPx?: number): void;
  invalidate(): void;
}

const hostOf = (engine: TryHost): PlayHost => ({
  solver: () => engine.frameOf(useBench.getState().viewer),
  document: () => engine.document,
  phase: () => engine.phase(),
  nowS: () => engine.tryS,
  values: () => engine.valuesNow(),
  device: () => useBench.getState().device,
  setDevice: (device) => useBench.setState({ device }),
  // What the interface sets, a game that is followed takes over.
  set: (feed, value) => {
    if (!tellValue(feed, value)) hold(feed, value);
  },
  change: takePlayed,
  point: (pointed, pressed) => {
    const before = useBench.getState();
    if (before.pointed === pointed && before.pressed === pressed) return;
    useBench.setState({ pointed, pressed });
    const held = pressed !== null || pointed !== null;
    if (held !== (before.pressed !== null || before.pointed !== null)) tellGame({ method: 'held', params: { held } });
  },
  scroll: (group, toPx) => useBench.setState(({ scrolled }) => ({ scrolled: { ...scrolled, [group]: toPx } })),
  page: (...args) => engine.page(...args),
  played: (what) => {
    logPlayed(what, useBench.getState().timeS);
    if (what.kind === 'sent' && what.action) tellAction(engine.document, what.action, what.source, what.target);
  },
  invalidate: () => engine.invalidate(),
});

/** What an action changes: here, or in the game that is followed. */
function takePlayed(changes: Changes): void {
  const { values = {}, phase } = changes;
  if (!gameFrame()) {
    takeChanges(changes);
    return;
  }
  for (const [feed, value] of Object.entries(values)) if (value !== undefined) tellValue(feed, value);
  if (phase) tellGame({ method: 'phase', params: { phase } });
  takeChanges({ ...changes, values: {}, phase: null });
}
const tellAction = ({ actions }: Document, action: string, source: string, target: string | null): boolean =>
  tellGame({ method: 'action', params: { action, name: actions?.[action]?.name ?? action, source, target } });

/** A hand that meets nothing points so far ahead, metres. */
const FAR_M = 20;

/** The rays of hands that feeds move, as a route has them. */
export function recordedRays(frame: SolveContext): DrawnRay[] {
  const { document } = frame.c;
  return sourcesOf(document).flatMap((source) =>
    isHand(source) && document.ray?.hands?.[source] ? [drawnRay(frame, source, handRay(frame, source), true, 0)] : [],
  );
}

function drawnRay(
  frame: SolveContext,
  source: RaySource,
  pointing: ReturnType<typeof handRay> | { x: number; y: number },
  uses: boolean,
  dwelt: number,
): DrawnRay {
  const ray = 'origin' in pointing ? pointing : null;
  return { source, from: ray?.origin ?? null, direction: ray?.direction ?? null, met: metBy(frame, pointing), uses, dwelt };
}

export class Trying extends Play {
  private readonly engine: TryHost;
  private buttons: boolean[] = [];
  /** The stick was walking. */
  private stick = false;

  constructor(engine: TryHost) {
    super(hostOf(engine));
    this.engine = engine;
    window.addEventListener('gamepadconnected', this.plugged);
  }

  /** Every source points where it does in the frame just solved: the middle of the view, hands as feeds or the mouse lead them. */
  aim(solver: Solver): void {
    const { pointWith, cursor } = useBench.getState();
    if (this.uses !== pointWith && !useBench.getState().pressed) this.take(pointWith);
    for (const source of new Set([...sourcesOf(this.engine.document), pointWith])) {
      if (source === 'mouse') continue;
      if (!isHand(source)) this.point(source, middleOf(solver));
      else this.point(source, handRay(solver, source, source === pointWith && cursor ? this.under3d(solver, cursor) : null));
    }
  }

  /** The place in the world that the mouse is at. */
  private under3d(solver: Solver, [u, v]: readonly [number, number]): Vec3 {
    const { projection } = solver.a;
    const [x, y] = [u * projection.widthPx, v * projection.heightPx];
    const met = metBy(solver, { x, y });
    if (met.at) return met.at;
    const { origin, direction } = screenRay(projection, this.engine.pose(), x, y);
    const far = metBy(solver, { origin, direction });
    const distance = far.row < 0 && Number.isFinite(far.distanceM) ? far.distanceM : FAR_M;
    return origin.map((o, k) => o + distance * (direction[k] as number)) as Vec3;
  }

  /** The rays that are seen while trying. */
  drawn(frame: SolveContext): DrawnRay[] {
    const sources = new Set<RaySource>([...sourcesOf(this.engine.document), this.uses]);
    return [...sources].flatMap((source) => {
      const pointing = source === 'mouse' ? null : this.pointingOf(source);
      // Before a screen nobody holds a hand up, unless it is the one in use, or a route has it; aiming and the head point at the same place.
      const isHeld = isHand(source) && (frame.a.eyes.length > 0 || this.engine.document.ray?.hands?.[source] !== undefined);
      if (!pointing || (!isHeld && source !== this.uses)) return [];
      return [drawnRay(frame, source, pointing, source === this.uses, source === 'head' ? this.dwelt : 0)];
    });
  }

  /** A page's action is sent by an element that shows it; only while trying is anything sent at all. False where the project has no such action. */
  actFrom(page: string, action: string): boolean {
    const { mode, viewer } = useBench.getState();
    const { document } = this.engine;
    if (mode !== 'try') return Object.entries(document.actions ?? {}).some(([id, { name }]) => id === action || name === action);
    const solver = this.engine.frameOf(viewer);
    const rows = (solver?.c.elements ?? []).flatMap((element, row) =>
      element.kind === 'page' && document.pictures?.[element.page ?? '']?.hash === page ? [row] : [],
    );
    const row = rows.find((one) => solver?.f.failed[one] === Verdict.Shown) ?? rows[0];
    return row !== undefined && this.sendFrom(solver?.c.ids[row] as string, action);
  }

  /** The pointer is where a game's is. */
  pointAs(pointer: GameFrame['pointer']): void {
    const was = this.gameDown;
    this.gameDown = pointer?.down ?? false;
    if (!pointer) {
      if (was) this.up('mouse');
      return;
    }
    if (this.uses !== 'mouse' && !was) this.take('mouse');
    this.pointAt(pointer.x, pointer.y);
    if (pointer.down && !was) this.down('mouse', 0);
    else if (!pointer.down && was) this.up('mouse', 0);
  }
  private gameDown = false;

  override advance(dtS: number): boolean {
    const plugged = this.readGamepad(dtS);
    return super.advance(dtS) || plugged;
  }

  /** Buttons that went down or up since they were last read, and the sticks: the left one walks, the right one looks. True while one is plugged in. */
  private readGamepad(dtS: number): boolean {
    const pad = (navigator.getGamepads?.() ?? []).find((one) => one?.connected) ?? null;
    if (!pad) return false;
    const now = pad.buttons.map(({ pressed }) => pressed);
    now.forEach((down, button) => {
      if (down === (this.buttons[button] ?? false)) return;
      if (!this.rayButton((keys) => keys.gamepad === button, down)) this.press('gamepad', (keys) => keys.gamepad === button, down);
    });
    if (now.some(Boolean) && useBench.getState().device !== 'gamepad') useBench.setState({ device: 'gamepad' });
    this.buttons = now;
    const axis = (k: number) => (Math.abs(pad.axes[k] ?? 0) > STICK_REST ? (pad.axes[k] ?? 0) : 0);
    if ((axis(2) || axis(3)) && !this.takesInput()) this.engine.turn(-axis(2) * STICK_DEG_PER_S * dtS, -axis(3) * STICK_DEG_PER_S * dtS);
    const walks = axis(0) !== 0 || axis(1) !== 0;
    if (walks || this.stick) this.engine.steer(axis(0), -axis(1));
    this.stick = walks;
    return true;
  }

  private readonly plugged = (): void => this.engine.invalidate();

  dispose(): void {
    window.removeEventListener('gamepadconnected', this.plugged);
  }
}
