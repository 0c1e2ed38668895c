/**
 * What a step of the chain came to for one element, in exact numbers and ids. Words are made of it at the edge
 * (`packages/words`), and offers and mends are worked out from it; nothing here is rounded.
 */
import type { Comparison, FeedValue, Only, Sightline } from '@foreshore/document/types';
import type { AnchorFault } from './compiled.ts';
import type { Vec3 } from './spaces/pose.ts';
import type { StepName } from './steps/names.ts';

/** A condition that keeps an element from showing. `never`: it holds, and must not. */
export type FailedCondition =
  | { kind: 'compare'; condition: Comparison; value: FeedValue | null; never: boolean }
  | { kind: 'changed'; feed: string; withinS: number; never: boolean }
  /** None of what is joined may hold, and some does. */
  | { kind: 'joined' };

/** What covers a part of the sight lines: a node of the level, and the share of all lines that it blocks first. */
export interface Blocker {
  node: string;
  share: number;
}

/** What about an element that is shown falls short of being readable. `value` is what was found, `bound` what is asked. */
export type Shortfall =
  /** A text that says nothing. */
  | { kind: 'empty' }
  /** A page whose letters nobody has measured; `row` is its id. */
  | { kind: 'unmeasured'; row: string }
  /** Height of its capitals. */
  | { kind: 'small'; unit: 'arcmin' | 'px'; value: number; bound: number }
  | { kind: 'contrast'; value: number; bound: number }
  /** The share of what it draws that others lie over; `by` is the row id of the one that covers the most. */
  | { kind: 'covered'; value: number; bound: number; by: string }
  /** The share of its letters on which others' letters lie, with no plate between; `by` is the row id of the text that has most of it. */
  | { kind: 'overlaps'; value: number; bound: number; by: string }
  /** The share of something on a panel that the level stands before, and the node that does most of it. */
  | { kind: 'behindLevel'; value: number; bound: number; node: string }
  /** It can be used from so far away at most; it is farther, metres. */
  | { kind: 'reach'; value: number; bound: number }
  /** The smaller side of something that acts, as an angle in the world, degrees; `row` is its id. */
  | { kind: 'target'; value: number; bound: number; row: string }
  /** Pixels that are cut off by the edge of the screen, by the safe area, by the group of row id `by`, or by its own text box. */
  | { kind: 'cut'; at: 'screen' | 'safeArea' | 'textBox'; value: number }
  | { kind: 'cut'; at: 'group'; value: number; by: string }
  /** Characters that no font has. */
  | { kind: 'glyphs'; missing: readonly string[] }
  /** Degrees a second at the player's eye. */
  | { kind: 'speed'; value: number; bound: number }
  /** In a headset: it is so far away, metres. */
  | { kind: 'tooNear'; value: number; bound: number }
  | { kind: 'tooFar'; value: number; bound: number }
  /** In a headset: the eyes turn by so many degrees between it and what is looked at, at these distances, metres. */
  | { kind: 'vergence'; value: number; bound: number; distanceM: number; lookedAtM: number };

/** Lengths are metres, viewer's pixels, degrees or arcmin as the names say; shares are 0..1; rows are named by their ids. */
export type Fact =
  // Attach
  | { kind: 'onHud'; pin: readonly [number, number] }
  | { kind: 'inGroup'; group: string }
  | { kind: 'at'; place: Vec3 }
  | { kind: 'lost'; fault: AnchorFault }
  | { kind: 'notYet'; feed: string }
  // Phase
  | { kind: 'always' }
  | { kind: 'forced'; shown: boolean }
  | { kind: 'phase'; phase: string | null; does: 'shows' | 'dims' | 'hides' }
  | { kind: 'conditionsHold' }
  | { kind: 'conditionFails'; condition: FailedCondition | null }
  /** Its conditions stopped holding; it stays so much longer. */
  | { kind: 'lingers'; leftS: number; condition: FailedCondition | null }
  /** Inside of a group that floats: it is not there in the form that the group stands in, whose detail is this one, the nearest being 0. */
  | { kind: 'otherForm'; because: 'detail' | 'edge' | 'merged'; detail: number; only: Only }
  // Range
  | { kind: 'anyDistance' }
  | { kind: 'noPlace' }
  /** `stays`: it is beyond the bound, and within its dwell. */
  | { kind: 'distance'; distanceM: number; boundM: number; stays: boolean }
  // View
  | { kind: 'behind'; byM: number }
  | { kind: 'beforeNear'; aheadM: number; nearM: number }
  | { kind: 'outside'; outPx: number; allowedPx: number }
  | { kind: 'ahead'; depthM: number }
  /** It stands at the edge of the frame: its anchor is so far to the right and up, degrees from straight ahead, and so far away. */
  | { kind: 'atEdge'; rightDeg: number; upDeg: number; distanceM: number }
  /** Of a panel: the share of it that lies in the frame. */
  | { kind: 'panelInFrame'; share: number; distanceM: number }
  | { kind: 'backOfPanel'; behindM: number }
  /** It trails the viewer; `share` of its distance is what the level leaves it. */
  | { kind: 'trails'; distanceM: number; share: number; answer: 'nearer' | 'hide' | 'dim' | 'show' }
  | { kind: 'cone'; angleDeg: number; boundDeg: number }
  | { kind: 'aimed'; distanceM: number; reachM: number }
  | { kind: 'aimBlocked'; node: string; distanceM: number; reachM: number }
  /** The aim ray passes the zone; `missDeg` is the angle from it to the anchor. */
  | { kind: 'notAimed'; missDeg: number; distanceM: number; reachM: number }
  // Size
  | { kind: 'designPixel'; px: number }
  | { kind: 'capitals'; px: number; arcmin: number }
  | { kind: 'panelSize'; widthM: number; heightM: number; pxPerM: number }
  | { kind: 'noSizeBehind' }
  | { kind: 'belowFloor'; px: number; floorPx: number }
  // Sightline
  | { kind: 'noPlaceToSee' }
  | {
      kind: 'sight';
      freeShare: number;
      neededShare: number;
      lines: number;
      blockers: readonly Blocker[];
      answer: Sightline['answer'];
      stays: boolean;
    }
  // Claim
  | { kind: 'unrivalled' }
  | { kind: 'holds'; rival: string; by: number }
  | { kind: 'takesOver'; rival: string }
  /** `by` counts the holder's bonus, `byWithout` does not: the scores apart as if nobody held the claim. */
  | { kind: 'lostTo'; rival: string; by: number; byWithout: number }
  // Place
  | { kind: 'noPlaceBehind' }
  | { kind: 'box'; widthPx: number; heightPx: number }
  | { kind: 'offFrame'; byPx: number }
  | { kind: 'clippedAway'; group: string }
  /** What floats has no place that is free; `by` is the row id of what took its own. */
  | { kind: 'noRoom'; by: string }
  /** It is merged into another, which stands for so many. */
  | { kind: 'mergedInto'; into: string; count: number }
  /** No more than so many of its kind are shown, and it is only the `nth` nearest. */
  | { kind: 'beyondNearest'; most: number; among: 'all' | 'shown'; distanceM: number; nth: number }
  /** How much of a group is there, the nearest detail being 0, of so many; by metres, or by design pixels for a metre. */
  | { kind: 'inDetail'; detail: number; of: number; by: 'distance' | 'size'; value: number }
  /** It stands for so many of its kind, itself included. */
  | { kind: 'standsFor'; count: number }
  /** It made room for others, so many pixels. */
  | { kind: 'madeRoom'; px: number }
  // Paint
  /** What a crosshair is aimed at: the state it looks by; the node its ray meets first; how far what is meant is, null where it is not met. */
  | {
      kind: 'aims';
      state: 'nothing' | 'reachable' | 'far' | 'blocked';
      node: string | null;
      distanceM: number | null;
      reachM: number;
      /** Its ray finds another state by now, and this one stays a moment. */
      stays: boolean;
    }
  /** What aims, in a headset: it stands so far from the eye, where it aims. */
  | { kind: 'atDepth'; distanceM: number }
  /** The ray of a crosshair's tool is stopped before what the crosshair is on, so far from the eye; the node that stops it. */
  | { kind: 'toolStops'; node: string | null; distanceM: number }
  /** What a direction shows: how many at once, and from where the newest is seen, degrees; null: all around. */
  | { kind: 'pointsTo'; count: number; aroundDeg: number | null; upDeg: number }
  /** What a mark confirms happened so long ago. */
  | { kind: 'confirmed'; agoS: number }
  /** Of a direction: nothing has happened within this time. */
  | { kind: 'nothingHappened'; withinS: number }
  | { kind: 'opaque'; share: number; because: 'dimmed' | 'pointer' | null }
  /** `row` is the one whose opacity is 0: itself or a group around it. */
  | { kind: 'transparent'; row: string }
  // Readable
  | { kind: 'notShown' }
  | { kind: 'nothingToRead' }
  | { kind: 'reads'; eye: -1 | 0 | 1; arcmin: number; px: number; contrast: number; widthShare: number }
  /** The contrast of a crosshair's strokes with what is behind them, or their own outline. */
  | { kind: 'strokes'; contrast: number }
  | { kind: 'short'; of: Shortfall };

export type FactKind = Fact['kind'];
export type FactOf<K extends FactKind> = Extract<Fact, { kind: K }>;

/** Evaluated as if all steps before had passed. */
export interface Outcome {
  passes: boolean;
  /** It passes, and still falls short of what one wants: it is cut off, say. */
  short?: boolean;
  facts: readonly Fact[];
}

export type LinkState = 'yes' | 'no' | 'short' | 'wouldSayYes' | 'wouldSayNo' | 'absent';

/** One link of the chain of an element. */
export interface Link {
  step: StepName;
  /**
   * `absent`: this step does not apply to the element. `no` is the first that refused; what comes after it tells what it would
   * have said. `short`: it passes, but something about it falls short.
   */
  state: LinkState;
  facts: readonly Fact[];
  /** The row id of the group around the element whose no this is; null where it is the element's own. */
  from: string | null;
}

/** The first fact of a kind in a list. */
export const factIn = <K extends FactKind>(facts: readonly Fact[], kind: K): FactOf<K> | undefined =>
  facts.find((fact): fact is FactOf<K> => fact.kind === kind);
