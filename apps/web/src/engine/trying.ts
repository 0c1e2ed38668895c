/** Trying: the machine of play on the bench's frame and stores, and the gamepad that the browser reads. */
import { Play, type PlayHost, type Solver } from '@foreshore/core';
import type { Document, FeedValue } from '@foreshore/document';
import { useBench } from '../state/bench.ts';
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
  turn(yawDeg: number, pitchDeg: number): void;
  steer(right: number, forward: number): void;
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
  set: hold,
  change: takeChanges,
  scroll: (group, toPx) => useBench.setState(({ scrolled }) => ({ scrolled: { ...scrolled, [group]: toPx } })),
  played: (what) => logPlayed(what, useBench.getState().timeS),
  invalidate: () => engine.invalidate(),
});

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
      if (down !== (this.buttons[button] ?? false)) this.press('gamepad', (keys) => keys.gamepad === button, down);
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
