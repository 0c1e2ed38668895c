/** The camera of the bench: it rides on the route, or is free and walks, flies, or looks on from outside. */
import {
  bestStandpoint,
  type Going,
  type Intent,
  type Pose,
  poseTowards,
  routePose,
  type Vec3,
  type WalkState,
  walk,
  walkFrom,
  walkPose,
} from '@foreshore/core';
import type { Document } from '@foreshore/document';
import { cameraPose, type LevelModel } from '@foreshore/level';
import { useBench } from '../state/bench.ts';

/** What the camera needs of the engine. */
export interface CameraHost {
  readonly document: Document;
  readonly model: LevelModel;
  invalidate(): void;
}

const STEEPEST_DEG = 89;
const OUTSIDE_FROM: Vec3 = [14, 11, 16];

export class Camera {
  private readonly host: CameraHost;
  private walker: WalkState | null = null;
  private speedMps = 0;
  /** The height from which the walker is coming down, metres. */
  private highestM = 0;
  private outsidePose: Pose | null = null;
  private home: { model: LevelModel; pose: Pose } | null = null;
  intent: Intent = { right: 0, up: 0, forward: 0, fast: false };

  constructor(host: CameraHost) {
    this.host = host;
  }

  /** The camera now, wherever it is carried. */
  pose(): Pose {
    const { pose, route, timeS } = useBench.getState();
    if (pose) return pose;
    const way = this.host.document.routes[route];
    return way ? routePose(way, timeS) : this.homePose();
  }

  /** Where one stands at first: where the level's own camera is, or where the most of the level is seen. */
  homePose(): Pose {
    const { model } = this.host;
    if (this.home?.model !== model) this.home = { model, pose: this.findHome() };
    return this.home.pose;
  }

  private findHome(): Pose {
    const { model, document } = this.host;
    const camera = model.parts.cameras[0];
    if (camera) return cameraPose(model, camera);
    const eye = document.body.eyeHeightM;
    const bounds = document.level ? model.bounds() : null;
    if (!bounds) return poseTowards([0, eye, 12], [0, 1, 0]);
    const standing = bestStandpoint(model, bounds, eye);
    if (standing) return standing;
    // Nothing to stand on: from above one corner.
    const middle = bounds.least.map((v, k) => (v + (bounds.greatest[k] as number)) / 2) as Vec3;
    const reach = Math.max(...bounds.greatest.map((v, k) => v - (bounds.least[k] as number)), 4);
    return poseTowards([middle[0] + reach * 0.35, middle[1] + reach * 0.4, middle[2] + reach * 0.75], middle);
  }

  /** Goes back to where one surely stands: the last firm ground, or where the level is begun. */
  toSafety(): void {
    const { walker } = this;
    const { position } = this.pose();
    const far = walker?.safe && Math.hypot(...walker.safe.map((v, k) => v - (position[k] as number))) > 0.5;
    if (walker?.safe && far) this.goTo({ position: [...walker.safe], rotation: this.pose().rotation });
    else this.goTo(this.homePose());
  }

  /** The camera rides on the route again, or walks and flies. */
  follow(pose: Pose | null, flying: boolean): void {
    if (pose === null) this.walker = null;
    else if (this.walker) this.walker.flying = flying;
  }

  /** How the one who walks is moving now. */
  going(): Going {
    const { walker } = this;
    return { speedMps: this.speedMps, fallenM: walker ? Math.max(0, this.highestM - walker.position[1]) : 0 };
  }

  /** Moves on by what is steered. @param still nothing is walked. True while it moves. */
  advance(dtS: number, still: boolean): boolean {
    const { outside, flying } = useBench.getState();
    const { right, up, forward } = this.intent;
    const steering = !still && (right !== 0 || up !== 0 || forward !== 0);
    const falling = this.walker !== null && !this.walker.flying && !this.walker.onGround && !outside;
    if (outside) {
      if (steering) this.flyOutside(dtS);
    } else if (steering || falling) {
      this.walker ??= walkFrom(this.pose(), flying);
      const before = [...this.walker.position] as Vec3;
      walk(this.walker, this.intent, dtS, this.host.document.body, this.host.model);
      const { position } = this.walker;
      if (dtS > 0) this.speedMps = Math.hypot(...position.map((v, k) => v - (before[k] as number))) / dtS;
      if (position[1] >= before[1]) this.highestM = position[1];
      useBench.setState({ pose: walkPose(this.walker) });
    } else this.speedMps = 0;
    return steering || falling;
  }

  /** Turns the camera; the route lets go of it. Degrees, counter-clockwise and up. */
  turn(yawDeg: number, pitchDeg: number): void {
    const { outside, flying } = useBench.getState();
    const turned = (state: WalkState): Pose => {
      state.yawDeg += yawDeg;
      state.pitchDeg = Math.max(-STEEPEST_DEG, Math.min(STEEPEST_DEG, state.pitchDeg + pitchDeg));
      return walkPose(state);
    };
    if (outside) {
      this.outsidePose = turned(walkFrom(this.outside(), true));
      this.host.invalidate();
      return;
    }
    this.walker ??= { ...walkFrom(this.pose(), flying), onGround: true };
    useBench.setState({ pose: turned(this.walker) });
  }

  /** Stands with the feet at a place, looking as before. */
  standAt(place: Vec3): void {
    const state = this.walker ?? walkFrom(this.pose(), useBench.getState().flying);
    state.position = [place[0], place[1] + this.host.document.body.eyeHeightM, place[2]];
    state.safe = [...state.position];
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
      walk(state, intent, 0.25, this.host.document.body, null);
      this.outsidePose = walkPose(state);
      this.host.invalidate();
      return;
    }
    this.walker ??= { ...walkFrom(this.pose(), useBench.getState().flying), onGround: true };
    walk(this.walker, intent, 0.12, this.host.document.body, this.host.model);
    useBench.setState({ pose: walkPose(this.walker) });
  }

  /** Puts the camera somewhere outright. */
  goTo(pose: Pose): void {
    const safe = this.walker?.safe ?? null;
    this.walker = { ...walkFrom(pose, useBench.getState().flying), onGround: true, safe };
    useBench.setState({ pose });
  }

  /** Where the camera that looks on stands; at first behind the viewer. */
  outside(): Pose {
    const { position } = this.pose();
    this.outsidePose ??= poseTowards(position.map((v, k) => v + (OUTSIDE_FROM[k] as number)) as Vec3, position);
    return this.outsidePose;
  }
  private flyOutside(dtS: number): void {
    const state = walkFrom(this.outside(), true);
    walk(state, { ...this.intent, fast: true }, dtS, this.host.document.body, null);
    this.outsidePose = walkPose(state);
    this.host.invalidate();
  }
  /** Forgets where the outside camera stood, so that it comes back behind the viewer. */
  resetOutside(): void {
    this.outsidePose = null;
  }
}
