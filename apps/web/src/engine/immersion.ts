/**
 * Trying in a headset that the browser offers (WebXR, immersive-vr): the same frames, for the headset's own eyes. The level is drawn
 * for each eye; what was solved for that eye is painted at the eye's own pixels and laid over it. Where the camera of the bench
 * stands is where the player's floor is; hands are rays of their own.
 */
import {
  arrange,
  type Compiled,
  drawList,
  eyesOf,
  freeOfLevel,
  lensFromMatrix,
  makeSolver,
  type PanelItem,
  type Pose,
  quaternionProduct,
  type Ray,
  rotate,
  type Side,
  type SolveContext,
  type Solver,
  type TextShaper,
  type Vec3,
} from '@foreshore/core';
import type { Device, Viewer } from '@foreshore/document';
import type { LevelModel } from '@foreshore/level';
import { type CanvasPanels, type CanvasPictures, paintCanvas } from '@foreshore/paint';
import type { LevelRenderer } from '../level/renderer.ts';
import type { LevelScene } from '../level/scene.ts';
import type { Trying } from './trying.ts';

type Headset = Extract<Viewer, { kind: 'headset' }>;

/** What an immersive session needs of the engine. */
export interface ImmersionHost {
  readonly compiled: Compiled;
  readonly shaper: TextShaper;
  readonly model: LevelModel;
  readonly scene: LevelScene;
  readonly renderer: LevelRenderer;
  readonly pictures: CanvasPictures;
  readonly trying: Trying;
  readonly language: string;
  /** Where the body stands and which way it faces, as an eye at the body's height. */
  pose(): Pose;
  eyeHeightM(): number;
  /** Time goes on: walking, what runs and what is held. */
  advance(dtS: number): void;
  /** Solves a frame from a head's pose, by way of all ticks since the last. */
  tryFrom(solver: Solver, head: Pose): void;
  steer(right: number, forward: number): void;
  turn(yawDeg: number): void;
  /** The session is over, however it ended. */
  ended(): void;
}

/** More pixels of an eye are not painted over the level: they would have to be handed to the graphics with every frame. */
const MOST_SIDE_PX = 1600;
const NEAR_M = 0.05;
/** A stick that is let go does not stand quite in its middle. */
const STICK_REST = 0.18;
const TURN_DEG = 30;
/** A press that something got is felt so strongly, for so long. */
const PULSE = { strength: 0.5, ms: 30 };
/** The button of the `xr-standard` mapping that is the trigger: `select` tells of it. */
const TRIGGER = 0;

export const offersImmersion = async (): Promise<boolean> => {
  try {
    return (await navigator.xr?.isSessionSupported('immersive-vr')) === true;
  } catch {
    return false;
  }
};

const placeOf = ({ x, y, z }: DOMPointReadOnly): Vec3 => [x, y, z];
const turnOf = ({ x, y, z, w }: DOMPointReadOnly): Pose['rotation'] => [x, y, z, w];

/** About the vertical alone: where the floor of the headset's space lies, and which way it faces. */
function floorUnder({ position, rotation }: Pose, eyeHeightM: number): Pose {
  const [x, , z] = rotate(rotation, [0, 0, -1]);
  const half = Math.atan2(-x, -z) / 2;
  return { position: [position[0], position[1] - eyeHeightM, position[2]], rotation: [0, Math.sin(half), 0, Math.cos(half)] };
}
const onto = (floor: Pose, at: Vec3): Vec3 => {
  const [x, y, z] = rotate(floor.rotation, at);
  return [floor.position[0] + x, floor.position[1] + y, floor.position[2] + z];
};

export class Immersion {
  solver: Solver | null = null;
  private readonly host: ImmersionHost;
  private readonly session: XRSession;
  private readonly canvases = [new OffscreenCanvas(1, 1), new OffscreenCanvas(1, 1)] as const;
  private arrangedFor = '';
  private lastMs = 0;
  private turned = false;
  private readonly buttons = new Map<string, boolean>();
  /** Pictures drawn so far. */
  frames = 0;

  /** @throws DOMException where the browser or the player refuses. */
  static async enter(host: ImmersionHost): Promise<Immersion> {
    const session = await (navigator.xr as XRSystem).requestSession('immersive-vr', { requiredFeatures: ['local-floor'] });
    const immersion = new Immersion(host, session);
    try {
      await host.renderer.present(session, host.scene, (frame, space) => immersion.frame(frame, space));
    } catch (error) {
      await session.end();
      throw error;
    }
    return immersion;
  }

  private constructor(host: ImmersionHost, session: XRSession) {
    this.host = host;
    this.session = session;
    session.addEventListener('selectstart', ({ inputSource }) => this.press(inputSource, true));
    session.addEventListener('selectend', ({ inputSource }) => this.press(inputSource, false));
    session.addEventListener('end', () => host.ended());
  }

  leave(): void {
    void this.session.end();
  }

  /** One picture for both eyes: where the floor is, where the head is, and what lies over the level in each. */
  private frame(frame: XRFrame, space: XRReferenceSpace): { floor: Pose; head: Pose; over: readonly OffscreenCanvas[] } | null {
    const { host } = this;
    const seen = frame.getViewerPose(space);
    const [left, right = left] = seen?.views ?? [];
    if (!seen || !left || !right) return null;
    const dtS = this.lastMs ? Math.min(0.1, (frame.predictedDisplayTime - this.lastMs) / 1000) : 0;
    this.lastMs = frame.predictedDisplayTime;
    host.advance(Number.isFinite(dtS) ? dtS : 0);
    const floor = floorUnder(host.pose(), host.eyeHeightM());
    const [a, b] = [placeOf(left.transform.position), placeOf(right.transform.position)];
    const middle = a.map((v, k) => (v + (b[k] as number)) / 2) as Vec3;
    const head: Pose = {
      position: onto(floor, middle),
      rotation: quaternionProduct(floor.rotation, turnOf(seen.transform.orientation)),
    };
    const solver = this.solverFor(left, Math.max(1e-4, Math.hypot(...a.map((v, k) => v - (b[k] as number)))));
    host.tryFrom(solver, head);
    this.point(frame, space, floor);
    const rays = host.trying.drawn(solver);
    for (const [k, eye] of eyesOf(solver).entries()) {
      const canvas = this.canvases[k as 0 | 1];
      const context = canvas.getContext('2d');
      if (!context) continue;
      context.setTransform(1, 0, 0, 1, 0, 0);
      context.clearRect(0, 0, canvas.width, canvas.height);
      paintCanvas(
        context as unknown as CanvasRenderingContext2D,
        drawList(eye, 0, null, rays),
        1,
        host.pictures,
        coveredBy(eye, host.model, context),
      );
    }
    this.frames++;
    return { floor, head, over: this.canvases };
  }

  /** A solver for the headset's own lenses; another one where these, the document or the language have changed. */
  private solverFor(left: XRView, eyeDistanceM: number): Solver {
    const { host } = this;
    const lens = lensFromMatrix(left.projectionMatrix, NEAR_M);
    const box = this.session.renderState.baseLayer?.getViewport(left);
    const [w, h] = [box?.width || 1024, box?.height || 1024];
    const by = Math.min(1, MOST_SIDE_PX / Math.max(w, h));
    const [widthPx, heightPx] = [Math.max(16, Math.round(w * by)), Math.max(16, Math.round(h * by))];
    const viewer: Headset = {
      kind: 'headset',
      name: 'Headset',
      order: 'a0',
      widthPx,
      heightPx,
      lens,
      safeArea: { left: 0, top: 0, right: 0, bottom: 0 },
      eyeDistanceM: Number(eyeDistanceM.toFixed(4)),
    };
    const key = JSON.stringify([viewer, host.language]);
    if (!this.solver || this.solver.a.given !== host.compiled || key !== this.arrangedFor) {
      this.arrangedFor = key;
      this.solver = makeSolver(arrange(host.compiled, viewer, host.shaper, undefined, host.language, 'hand' satisfies Device));
      for (const canvas of this.canvases) {
        canvas.width = widthPx;
        canvas.height = heightPx;
      }
    }
    return this.solver;
  }

  /** Hands point where they are held; sticks walk and turn; buttons other than the trigger are keys of prompts. */
  private point(frame: XRFrame, space: XRReferenceSpace, floor: Pose): void {
    const { trying } = this.host;
    for (const source of this.session.inputSources) {
      const side = sideOf(source);
      if (!side) continue;
      const pose = frame.getPose(source.targetRaySpace, space);
      trying.point(side, pose ? rayOf(floor, pose) : null);
      if (trying.uses === 'mouse') trying.take(side);
      this.sticks(side, source.gamepad?.axes ?? []);
      source.gamepad?.buttons.forEach(({ pressed }, button) => {
        const key = `${side} ${button}`;
        if (button === TRIGGER || pressed === (this.buttons.get(key) ?? false)) return;
        this.buttons.set(key, pressed);
        trying.press('hand', (keys) => keys.hand === button, pressed);
      });
    }
  }

  private sticks(side: Side, axes: readonly number[]): void {
    const axis = (k: number) => (Math.abs(axes[k] ?? 0) > STICK_REST ? (axes[k] ?? 0) : 0);
    if (this.host.trying.takesInput()) return;
    if (side === 'left') this.host.steer(axis(2), -axis(3));
    else {
      // In steps: turning smoothly makes many players unwell.
      const turns = axis(2) !== 0;
      if (turns && !this.turned) this.host.turn(-Math.sign(axis(2)) * TURN_DEG);
      this.turned = turns;
    }
  }

  /** The trigger: what the hand points at gets it, else a prompt that has it for its key. */
  private press(source: XRInputSource, down: boolean): void {
    const { trying } = this.host;
    const side = sideOf(source);
    if (!side) return;
    if (!down) {
      trying.up(side);
      trying.press('hand', (keys) => keys.hand === TRIGGER, false);
      return;
    }
    const taken = trying.down(side);
    const got = taken === 'element' || (taken === 'world' && trying.press('hand', (keys) => keys.hand === TRIGGER, true));
    if (got) pulse(source);
  }
}

const sideOf = ({ handedness, targetRayMode }: XRInputSource): Side | null =>
  targetRayMode === 'tracked-pointer' && (handedness === 'left' || handedness === 'right') ? handedness : null;

function rayOf(floor: Pose, { transform }: XRPose): Ray {
  const direction = rotate(floor.rotation, rotate(turnOf(transform.orientation), [0, 0, -1]));
  return { origin: onto(floor, placeOf(transform.position)), direction };
}

/** Felt where the controller can. */
function pulse({ gamepad }: XRInputSource): void {
  const felt = gamepad as (Gamepad & { hapticActuators?: { pulse?(strength: number, ms: number): Promise<boolean> }[] }) | undefined;
  void felt?.hapticActuators?.[0]?.pulse?.(PULSE.strength, PULSE.ms);
}

/** There is no depth to read back while a headset waits: what the level covers of a panel is found by sight lines, in cells. */
function coveredBy(frame: SolveContext, model: LevelModel, context: OffscreenCanvasRenderingContext2D): CanvasPanels {
  let clipped = false;
  return {
    begin(panel: PanelItem) {
      const [x, y, z] = frame.f.eye as unknown as Vec3;
      const row = frame.c.ids.indexOf(panel.element);
      if (panel.through || row < 0 || model.nearestShare(x, y, z, panel.corners) === 1) return null;
      const free = freeOfLevel(frame, row);
      if (!free) return null;
      clipped = true;
      context.save();
      context.setTransform(1, 0, 0, 1, 0, 0);
      context.beginPath();
      for (const polygon of free) {
        for (let k = 0; k < polygon.length; k += 2)
          if (k === 0) context.moveTo(polygon[0] as number, polygon[1] as number);
          else context.lineTo(polygon[k] as number, polygon[k + 1] as number);
        context.closePath();
      }
      context.clip();
      return null;
    },
    end() {
      if (clipped) context.restore();
      clipped = false;
    },
  };
}
