/**
 * One frame's result, on flat arrays.
 *
 * `places` holds `At.Stride` numbers a row: one cache line for everything a painter or a test asks about one element
 * in one view. Row `v·count + i` is element i in view v. View 0 is what the head sees, from which all decisions are taken;
 * the eyes of a headset follow it.
 */
import type { Counts } from './memory.ts';
import { MapAt, PanelAt } from './spaces/panel.ts';
import { Verdict } from './steps/names.ts';
import type { Values } from './values.ts';

/** Columns of `places`. */
export enum At {
  /** The projected anchor, pixels; NaN where it is not in front of the near plane. */
  PointX = 0,
  PointY = 1,
  /** Metres along the forward axis. */
  DepthM = 2,
  /** The em of the text, pixels. Between projection and the Size step: the pixels a metre takes at the anchor. */
  UnitPx = 3,
  /** The whole element, pixels; of what lies on a panel, in the panel's design pixels (so is the em). Of an element that is not shown it holds nothing of meaning until `explain` was called for it. */
  RectX = 4,
  RectY = 5,
  RectW = 6,
  RectH = 7,
  Stride = 8,
}

/** Why one of many is not shown. */
export enum Gathered {
  No = 0,
  /** It is merged into another, `Memory.mergedInto`. */
  Merged = 1,
  /** Others are nearer, and there are as many as may be. */
  Beyond = 2,
}

/**
 * Numbers of a line in `spanEnds`: x and y of both ends, and whether each is the line's own; how far along the line in the world they are,
 * metres from its first end, and how far ahead of the viewer.
 */
export const SPAN_STRIDE = 10;

export interface Frame {
  timeS: number;
  readonly count: number;
  /** The head's view, and one for each eye. */
  readonly viewCount: number;
  /** The step that said no, or Verdict.Shown. */
  readonly failed: Uint8Array;
  readonly places: Float64Array;
  /** Where panels stand, `PanelAt.Stride` numbers each; how they are seen, `MapAt.Stride` numbers each, view after view as in `places`. */
  readonly panels: Float64Array;
  readonly maps: Float64Array;
  /** The share of each panel that lies in the frame of the head's view. */
  readonly panelShare: Float64Array;
  /** What floats and what lies on panels from the farthest to the nearest, `orderCount` of them; only where asked for. */
  readonly order: Uint32Array;
  orderCount: number;
  /** How many times it was solved: what was worked out of it before that is of another. */
  solved: number;
  /** 1 where the Phase step hides or dims an element. */
  readonly hidden: Uint8Array;
  readonly dimmed: Uint8Array;
  /** One a gauge: the share it is filled to, the share its recent loss reaches to, and how its value stands. */
  readonly gaugeShare: Float64Array;
  readonly gaugeGhost: Float64Array;
  readonly gaugeState: Uint8Array;
  /** One a row with conditions: 1 where they hold now. */
  readonly joined: Uint8Array;
  /** One a motion: how far it has come, 0 (not there) to 1 (as it stays); a springy one passes 1. */
  readonly presence: Float64Array;
  /** 1 where an element is refused but still to be seen, because it, or a group around it, is leaving. */
  readonly leaving: Uint8Array;
  /** How far what is inside of a group is scrolled, design pixels; and by how much it is longer than its box. */
  readonly scrolled: Float64Array;
  /** By how much a row is moved by what scrolls around it, right and down, design pixels; two numbers a row. */
  readonly shift: Float64Array;
  /** By how much a row that keeps apart from others was moved, pixels; of one that found no place, the row that took it, else −1. */
  readonly apartX: Float64Array;
  readonly apartY: Float64Array;
  readonly apartBy: Int32Array;
  /** One a row: why it is not shown where there are many of its kind (`Gathered`); and how many it stands for, itself included. */
  readonly gathered: Uint8Array;
  readonly standsFor: Int32Array;
  /** One a row that may stand at an edge: the way to its anchor while it does, radians clockwise from the right; else NaN. */
  readonly edgeRad: Float64Array;
  /** One a crosshair that says what it is aimed at: its `AimState`. */
  readonly aimState: Uint8Array;
  /** Three numbers a crosshair with a tool away from the eye: where the tool's own ray stops before what the crosshair is on, metres; NaN where it does not. And the node that stops it, or −1. */
  readonly toolStops: Float64Array;
  readonly toolNode: Int32Array;
  /** What of each line to another anchor is seen, view after view: from and to, pixels, and 1 where that end is the line's own; NaN where none is. */
  readonly spanEnds: Float64Array;
  /** One of them is still turning towards where it is to be. */
  edgesTurn: boolean;
  /** What reactions have shown or hidden, by element; the rows that this decided. */
  forced: Readonly<Record<string, 'shown' | 'hidden'>>;
  readonly forcedRows: number[];
  /** A tick fell into the frame: what is remembered from tick to tick is decided anew. */
  isTick: boolean;
  /** The head: where its eye is, along which axis it looks, and the rows of its rotation from the world. */
  readonly eye: Float64Array;
  /** Where each view is seen from, three numbers each; the first is the head's. */
  readonly eyes: Float64Array;
  readonly forward: Float64Array;
  readonly rotation: Float64Array;
  /** One a gate: 1 where range, look, sightline and claim let it pass; its score in its contest, NaN where it takes no part. */
  readonly gatePassed: Uint8Array;
  readonly claimScore: Float64Array;
  /** Rays cast for sight lines in this frame. */
  rays: number;
  /** What the frame was solved with. */
  values: Values;
  phase: string | null;
  /** The acting element that the pointer is on, and the one that is pressed; −1 where there is none. */
  pointedRow: number;
  pressedRow: number;
  /** The prompt whose key is held or pressed again and again, −1 where there is none; how much of that is done, 0..1. */
  pressRow: number;
  pressShare: number;
}

export const makeFrame = (counts: Counts, viewCount = 1, eyes = new Float64Array(viewCount * 3)): Frame => ({
  timeS: 0,
  count: counts.rows,
  viewCount,
  failed: new Uint8Array(counts.rows).fill(Verdict.Shown),
  places: new Float64Array(counts.rows * viewCount * At.Stride),
  panels: new Float64Array(counts.panels * PanelAt.Stride),
  maps: new Float64Array(counts.panels * viewCount * MapAt.Stride),
  panelShare: new Float64Array(counts.panels),
  order: new Uint32Array(counts.rows),
  orderCount: 0,
  solved: 0,
  hidden: new Uint8Array(counts.rows),
  dimmed: new Uint8Array(counts.rows),
  gaugeShare: new Float64Array(counts.gauges),
  gaugeGhost: new Float64Array(counts.gauges),
  gaugeState: new Uint8Array(counts.gauges),
  joined: new Uint8Array(counts.shows),
  presence: new Float64Array(counts.motions).fill(1),
  leaving: new Uint8Array(counts.rows),
  scrolled: new Float64Array(counts.rows),
  shift: new Float64Array(counts.rows * 2),
  isTick: true,
  eye: eyes.subarray(0, 3),
  eyes,
  forward: new Float64Array(3),
  rotation: new Float64Array(9),
  gatePassed: new Uint8Array(counts.gates),
  claimScore: new Float64Array(counts.gates).fill(Number.NaN),
  rays: 0,
  edgeRad: new Float64Array(counts.edges).fill(Number.NaN),
  edgesTurn: false,
  aimState: new Uint8Array(counts.aims),
  toolStops: new Float64Array(counts.aims * 3).fill(Number.NaN),
  toolNode: new Int32Array(counts.aims).fill(-1),
  spanEnds: new Float64Array(counts.spans * viewCount * SPAN_STRIDE).fill(Number.NaN),
  apartX: new Float64Array(counts.rows),
  apartY: new Float64Array(counts.rows),
  apartBy: new Int32Array(counts.rows).fill(-1),
  gathered: new Uint8Array(counts.rows),
  standsFor: new Int32Array(counts.rows).fill(1),
  forced: {},
  forcedRows: [],
  values: [],
  phase: null,
  pointedRow: -1,
  pressedRow: -1,
  pressRow: -1,
  pressShare: 0,
});

/** Where the map of a panel to a view begins in `maps`. */
export const mapAt = (frame: Frame, panel: number, view = 0): number =>
  (view * (frame.panels.length / PanelAt.Stride) + panel) * MapAt.Stride;

export interface ElementPlace {
  point: [number, number];
  depthM: number;
  emPx: number;
  rect: [number, number, number, number];
}

/** One row of the frame, for whoever looks at a single element. */
export function placeOf(frame: Frame, element: number, view = 0): ElementPlace {
  const at = (view * frame.count + element) * At.Stride;
  const p = (column: number) => frame.places[at + column] as number;
  return {
    point: [p(At.PointX), p(At.PointY)],
    depthM: p(At.DepthM),
    emPx: p(At.UnitPx),
    rect: [p(At.RectX), p(At.RectY), p(At.RectW), p(At.RectH)],
  };
}
