/** What Would show offers: one change, in numbers. `packages/words` puts it into words. */
import type { Pose, StepName } from '@foreshore/core';
import type { Anchor, Comparison, Element, FeedValue } from '@foreshore/document';

/** A state of the game: a feed at a value, a phase, or an element that no reaction forces any more. */
export type GameState = { feed: string; value: FeedValue } | { phase: string } | { released: string };

/** The change of one setting, as a reader would name it. */
export type Setting =
  /** It is shown in a phase in which it was hidden. */
  | { field: 'phase'; phase: string }
  /** The bound of a condition. */
  | { field: 'bound'; feed: string; is: Comparison['is']; value: FeedValue }
  /** Without a condition on a feed. */
  | { field: 'condition'; feed: string }
  | { field: 'enterM' | 'halfDeg' | 'reachM' | 'outsidePx' | 'hideBelowPx' | 'share' | 'priority' | 'rank' | 'most'; value: number }
  /** Looked at within a cone, no longer by the aim ray. */
  | { field: 'cone'; value: number }
  /** Shown through what is in the way. */
  | { field: 'through' }
  /** It is there whatever the detail of its group, at the edge or not, merged or not. */
  | { field: 'form'; because: 'detail' | 'edge' | 'merged' }
  /** It is not merged with others of its kind. */
  | { field: 'unmerged' }
  /** It may lie over others that float. */
  | { field: 'free' }
  /** Kept inside of the safe area. */
  | { field: 'stay' }
  /** Its offset from its pin or its anchor is 0. */
  | { field: 'offset' }
  /** The group does not clip, or scroll, any more. */
  | { field: 'clip' | 'scroll' }
  /** The group is as large as its members need. */
  | { field: 'hug' }
  /** A panel is seen from behind, too; or turns about the vertical towards the viewer. */
  | { field: 'bothSides' | 'upright' }
  /** A panel that trails comes nearer where the level is in the way. */
  | { field: 'nearer' }
  | { field: 'opacity' }
  /** The anchor stands on another node, or is about another event. */
  | { field: 'node'; node: string }
  | { field: 'event'; feed: string };

/** What a setting is changed in: fields of an element or of an anchor that take on other values. */
export type Target = { in: 'elements'; id: string; part: Partial<Element> } | { in: 'anchors'; id: string; part: Partial<Anchor> };

export type Offer =
  /** Go so far, that many degrees to the right of straight ahead, looking as before. */
  | { kind: 'place'; cost: number; pose: Pose; distanceM: number; wayDeg: number }
  /** Turn so far to the left and up; negative: to the right and down. */
  | { kind: 'turn'; cost: number; pose: Pose; leftDeg: number; upDeg: number }
  | { kind: 'state'; cost: number; state: GameState }
  | { kind: 'setting'; cost: number; step: StepName; setting: Setting; target: Target };

export type SettingOffer = Extract<Offer, { kind: 'setting' }>;
