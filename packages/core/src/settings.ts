/** The settings of what floats, in the viewer's own pixels: elements with the same settings share one row of them, so that the frame's loops read little memory. */
import type { Element, Viewer } from '@foreshore/document/types';
import type { Compiled } from './compiled.ts';
import type { Projection } from './spaces/lens.ts';
import { fitScale } from './spaces/screen.ts';
import type { Sight } from './spaces/sight.ts';

/** Columns of `settings`. An enum, because bundlers write its numbers into the loops that use it; exported constants would be looked up there each time. */
export enum Setting {
  /** View: how far outside the frame the anchor may be to come in, and to stay in, pixels. */
  EnterPx = 0,
  StayPx = 1,
  /** Size: the natural em is `EmPx + EmM · (pixels per metre)`; one of the two is 0. */
  EmPx = 2,
  EmM = 3,
  LeastPx = 4,
  GreatestPx = 5,
  /** Size: the natural em below which the element does not come in, and does not stay in, pixels. */
  FloorPx = 6,
  FloorHeldPx = 7,
  /** Place: the offset in pixels, and the own point as a share of the box. */
  OffsetX = 8,
  OffsetY = 9,
  OwnX = 10,
  OwnY = 11,
  /** Bits of `SettingFlag`. */
  Flags = 12,
  /** How far its box keeps off the middle of the view, pixels. */
  ClearPx = 13,
  Stride = 16,
}

export enum SettingFlag {
  /** Place: it stays in the safe area. */
  StaysInside = 1,
  /** Size: the em is an angle at the eye, in pixels of the screen's middle; it is larger toward the edges. */
  ByAngle = 2,
  /** Place: it keeps off the middle of the view. */
  KeepsClear = 4,
  /** Place: it lies inside of its edge frame. */
  InEdge = 8,
}

export interface Settings {
  settings: Float64Array;
  settingsOf: Int32Array;
}

/** The settings of all that floats, each set once. */
export function settingsFor({ elements, anchoredCount, document }: Compiled, viewer: Viewer, sight: Sight, frame: Projection): Settings {
  const pixelsPerArcmin = sight.pixelsPerDegree / 60;
  const settingsOf = new Int32Array(anchoredCount);
  /** Where rows begin that have one sum; most have the row of the one before. */
  const known = new Map<number, number[]>();
  const all: number[] = [];
  const isAt = (at: number, row: readonly number[]): boolean => {
    for (let k = 0; k < row.length; k++) if (!Object.is(all[at + k], row[k])) return false;
    return true;
  };
  for (let i = 0; i < anchoredCount; i++) {
    const element = elements[i] as Element;
    const row = settingsRow(element, fitScale(document.glass, viewer, element.fit, frame), pixelsPerArcmin);
    let sum = 0;
    for (let k = 0; k < row.length; k++) if (Number.isFinite(row[k])) sum += (k + 1) * (row[k] as number);
    let alike = known.get(sum);
    if (!alike) known.set(sum, (alike = []));
    let at = alike.find((one) => isAt(one, row));
    if (at === undefined) {
      at = all.length;
      alike.push(at);
      all.push(...row);
    }
    settingsOf[i] = at;
  }
  return { settings: Float64Array.from(all), settingsOf };
}

/** The settings of one element. @param fit pixels of the viewer for one design pixel of it. */
export function settingsRow({ view, size, place: placing }: Element, fit: number, pixelsPerArcmin: number): number[] {
  const row = new Array<number>(Setting.Stride).fill(0);
  row[Setting.EnterPx] = view.outsidePx * fit;
  row[Setting.StayPx] = (view.outsidePx + view.leavePx) * fit;
  row[Setting.EmPx] = size.rule === 'screen' ? size.emPx * fit : size.rule === 'angle' ? size.emArcmin * pixelsPerArcmin : 0;
  row[Setting.EmM] = size.rule === 'world' ? size.emM : 0;
  row[Setting.LeastPx] = size.rule === 'world' ? size.leastPx * fit : 0;
  row[Setting.GreatestPx] = size.rule === 'world' ? size.greatestPx * fit : Number.POSITIVE_INFINITY;
  row[Setting.FloorPx] = size.hideBelowPx * fit;
  row[Setting.FloorHeldPx] = (size.hideBelowPx - size.leavePx) * fit;
  row[Setting.OffsetX] = placing.offsetPx[0] * fit;
  row[Setting.OffsetY] = placing.offsetPx[1] * fit;
  row[Setting.OwnX] = placing.ownPoint[0];
  row[Setting.OwnY] = placing.ownPoint[1];
  row[Setting.Flags] =
    (placing.stay === 'inside' ? SettingFlag.StaysInside : 0) |
    (size.rule === 'angle' ? SettingFlag.ByAngle : 0) |
    (placing.clearPx ? SettingFlag.KeepsClear : 0) |
    (placing.edge ? SettingFlag.InEdge : 0);
  row[Setting.ClearPx] = (placing.clearPx ?? 0) * fit;
  return row;
}
