/**
 * One frame's result and what is remembered until the next, on flat arrays.
 *
 * `places` holds `At.Stride` numbers a row: one cache line for everything a painter or a test asks about one element
 * in one view. Row `v·count + i` is element i in view v. With more than one view a last block of rows holds what the
 * head's centre sees, from which all decisions are taken; with one view that is the view itself.
 */
import { Verdict } from './steps/names.ts';

/** Columns of `places`. */
export enum At {
  /** The projected anchor, pixels; NaN where it is not in front of the near plane. */
  PointX = 0,
  PointY = 1,
  /** Metres along the forward axis. */
  DepthM = 2,
  /** The em of the text, pixels. Between projection and the Size step: the pixels a metre takes at the anchor. */
  EmPx = 3,
  /** The whole element, pixels. Of an element that is not shown it holds nothing of meaning until `explain` was called for it. */
  RectX = 4,
  RectY = 5,
  RectW = 6,
  RectH = 7,
  Stride = 8,
}

/** What is remembered of a viewer from frame to frame. A class, because engines write a changing number into a field of one without allocating. */
export class Memory {
  /** NaN while empty. */
  timeS = Number.NaN;
  /** 1 while the View step holds the element in, and the Size step likewise. */
  readonly viewIn: Uint8Array;
  readonly sizeIn: Uint8Array;

  constructor(count: number) {
    this.viewIn = new Uint8Array(count);
    this.sizeIn = new Uint8Array(count);
  }

  /** Takes over what another remembers; an empty one where none is given. */
  restore(from: Memory | null): void {
    this.timeS = from ? from.timeS : Number.NaN;
    if (from) {
      this.viewIn.set(from.viewIn);
      this.sizeIn.set(from.sizeIn);
    } else {
      this.viewIn.fill(0);
      this.sizeIn.fill(0);
    }
  }

  copy(): Memory {
    const copy = new Memory(this.viewIn.length);
    copy.restore(this);
    return copy;
  }
}

export interface Frame {
  timeS: number;
  readonly count: number;
  readonly viewCount: number;
  /** The step that said no, or Verdict.Shown. */
  readonly failed: Uint8Array;
  readonly places: Float64Array;
  /** Elements from the farthest to the nearest, `orderCount` of them; only where asked for. */
  readonly order: Uint32Array;
  orderCount: number;
}

export const makeFrame = (count: number, viewCount = 1): Frame => ({
  timeS: 0,
  count,
  viewCount,
  failed: new Uint8Array(count).fill(Verdict.Shown),
  places: new Float64Array(count * (viewCount > 1 ? viewCount + 1 : 1) * At.Stride),
  order: new Uint32Array(count),
  orderCount: 0,
});

/** First row of what decisions are taken from. */
export const headRow = (frame: Frame): number => (frame.viewCount > 1 ? frame.viewCount * frame.count : 0);

export interface ElementPlace {
  point: [number, number];
  depthM: number;
  emPx: number;
  rect: [number, number, number, number];
}

/** One row of the frame, for whoever looks at a single element. */
export function placeOf(frame: Frame, element: number, view = 0): ElementPlace {
  const at = ((frame.viewCount > 1 ? view * frame.count : 0) + element) * At.Stride;
  const p = (column: number) => frame.places[at + column] as number;
  return {
    point: [p(At.PointX), p(At.PointY)],
    depthM: p(At.DepthM),
    emPx: p(At.EmPx),
    rect: [p(At.RectX), p(At.RectY), p(At.RectW), p(At.RectH)],
  };
}
