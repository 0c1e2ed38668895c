/** What compiling gives: the tables that everything later reads. */

import type { ParameterTranslations, ParameterValue } from '@foreshore/document/template';
import type { Anchor, Document, Element, Many } from '@foreshore/document/types';
import type { Level } from './level.ts';

/** In a headset, the row that everything on the HUD is inside of; no element of a document can be called so. */
export const HUD_PANEL = '(HUD)';
/** In a headset, the row that what aims in the middle of the HUD is inside of: it stands on what is aimed at. */
export const AIM_PANEL = '(aim)';
/** Whether what is inside of a group is on the HUD, in a headset. */
export const isHudGroup = (group: string): boolean => group === HUD_PANEL || group === AIM_PANEL;

export const ON_NODE = 0;
export const MIDPOINT = 1;
export const EVENT = 2;

/** A feed that is a length on the screen: its number, and the anchors that the length goes by. */
export interface ScreenLength {
  feed: number;
  anchors: readonly number[];
}

/** The parameters of a template where it stands, by name. */
export interface Parameters {
  readonly values: Readonly<Record<string, ParameterValue>>;
  readonly translations: ParameterTranslations;
  /** Those whose value is the id of a feed. */
  readonly feeds: ReadonlySet<string>;
}

export enum ZoneKind {
  Point = 0,
  Sphere = 1,
  Box = 2,
  Capsule = 3,
  Mesh = 4,
}

/** Zones as flat tables: a kind and three lengths (a sphere its radius; a box its half lengths; a capsule its radius and half the way between the centres of its ends). */
export interface Zones {
  readonly kind: Uint8Array;
  readonly size: Float64Array;
}

/** How an anchor that jitters is steadied. */
export type Steady = NonNullable<Anchor['steady']>;

/** Why an anchor has no place in the world. */
export type AnchorFault =
  | { kind: 'noLevel' }
  /** The level has no node of that name. */
  | { kind: 'noNode'; node: string }
  /** No node of the level matches that pattern. */
  | { kind: 'noMatch'; pattern: string }
  /** It stands where an event was, and no event is chosen. */
  | { kind: 'noEvent' };

/**
 * The document and the level as flat tables: one row an element (or one of the many places of one), one row an anchor. Made by
 * `compile`; steps and painters read it.
 */
export interface Compiled {
  readonly document: Document;
  readonly level: Level | null;
  readonly count: number;
  /** Rows before this float over an anchor of their own. */
  readonly floatingCount: number;
  /** Rows from there to here are panels that stand on an anchor of their own; the rest trail, lie on the HUD or are inside a group. */
  readonly anchoredCount: number;
  /** Rows from here on trail or lie on the HUD, or are inside of what does. */
  readonly aloneFrom: number;
  /** Rows of the panels: those that stand, then those that trail. */
  readonly panels: Int32Array;
  /** The panel that a row lies on, by its number among `panels`, or −1. */
  readonly panelOf: Int32Array;
  /** Of a standing panel: the node that its place turns with, or −1; the front and the up of that place, in the node's own space. */
  readonly panelNode: Int32Array;
  readonly panelAxes: Float64Array;
  /** The row of the group an element is inside of, or −1. A group's row is smaller than its members'. */
  readonly parent: Int32Array;
  /** The row of the outermost element; its own where it is inside of nothing. */
  readonly root: Int32Array;
  /** The row of the nearest group around an element that clips it, or −1. */
  readonly clipper: Int32Array;
  /** The axis along which a row scrolls what is inside of it: 0 across, 1 down, −1 not at all. */
  readonly scrollAxis: Int8Array;
  /** Rows of a group's members, in order. */
  readonly members: readonly (readonly number[])[];
  /** All values that a frame has: of each feed, in the document's order, then of each object of those that have one for each (`keyAt`), in the level's. */
  readonly feedIds: readonly string[];
  /** One a value: its feed, and the node of the level whose it is, or −1. */
  readonly feedOf: readonly string[];
  readonly feedNode: Int32Array;
  /** The feeds that have a value for each object, by their place among all values; and for each of them, a row each, which value that row reads. */
  readonly eachFeeds: readonly number[];
  readonly eachValue: Int32Array;
  /** The feeds that each viewer's own frame has: lengths on its screen. */
  readonly screenLengths: readonly ScreenLength[];
  /** Rows of the gauges, and of screen paint, which follows a feed as they do. */
  readonly gauges: Int32Array;
  /** The feed of each gauge, or −1. */
  readonly gaugeFeed: Int32Array;
  /** Rows with something to say about when they apply, and the first of each one's conditions among all conditions. */
  readonly shows: Int32Array;
  readonly firstCondition: Int32Array;
  readonly conditionFeed: Int32Array;
  /** One a row. A row that stands at one of many nodes is called `element@node`. */
  readonly ids: readonly string[];
  /** The document's id of the element that a row is, or is one of. */
  readonly sources: readonly string[];
  /**
   * The document's id of the element whose fields a row has: its own; of a member of a template, the one in the template; of an
   * instance, the instance. What a setting of a row is changed in.
   */
  readonly definitions: readonly string[];
  /** The node a row stands at, where its element stands at many; else −1. */
  readonly nodeOf: Int32Array;
  /** Of a row that stands in a template or an instance of one, its parameters; else null. */
  readonly parameters: readonly (Parameters | null)[];
  /** 1 where nothing of an element is painted. */
  readonly unpainted: Uint8Array;
  readonly zones: Zones;
  /** Rows that range, look, sightline or claim decide about; of each row its number among them, or −1. */
  readonly gated: Int32Array;
  readonly gateOfRow: Int32Array;
  /** One a gate: the anchor it is about; the nodes that do not block the sight of it, because they are the thing itself. */
  readonly gateAnchor: Int32Array;
  readonly ownNodes: readonly (Uint8Array | null)[];
  /** Gates that contend with one another, contest by contest. */
  readonly contests: readonly (readonly number[])[];
  /** Rows that look otherwise while they are off, pointed at or pressed. */
  readonly lookers: Int32Array;
  /** Rows that move as they come and go. */
  readonly motions: Int32Array;
  /** Rows of what floats and stands at the edge of a frame where its anchor is outside of it. */
  readonly edged: Int32Array;
  /** Anchors that are steadied, and midpoints of these, in the order in which they are placed; how each is, null for what only follows its ends. */
  readonly steadied: Int32Array;
  readonly steadies: readonly (Steady | null)[];
  /** Rows of the directions; the feed of each, and the row of the anchor it points at, or −1. */
  readonly directions: Int32Array;
  readonly directionFeed: Int32Array;
  readonly directionFollows: Int32Array;
  /** Rows of the groups that float and have several forms: a member somewhere inside is there only in some of them. */
  readonly formed: Int32Array;
  /** Floating rows of one kind, of which some are merged, or only the nearest are shown; each list with its settings. */
  readonly crowds: readonly { readonly rows: readonly number[]; readonly many: Many }[];
  /** Rows of the crosshairs that look otherwise by what they are aimed at. */
  readonly aims: Int32Array;
  /** Rows of what floats with a line to another anchor, and the row of that anchor. */
  readonly spans: Int32Array;
  readonly spanTo: Int32Array;
  readonly elements: readonly Element[];
  readonly anchorIds: readonly string[];
  /** Places in the world, three numbers an anchor; rows of moving anchors are written by `placeAnchors`. */
  readonly anchorWorld: Float64Array;
  /** Why an anchor has no place, or null. */
  readonly anchorFault: readonly (AnchorFault | null)[];
  readonly moving: Int32Array;
  readonly anchorKind: Uint8Array;
  /** A node's index, the row of a midpoint's first end, or an event's feed. */
  readonly anchorFirst: Int32Array;
  readonly anchorSecond: Int32Array;
  readonly anchorLocal: Float64Array;
  readonly elementAnchor: Int32Array;
  /** Anchors that stand where an event was, to be placed by its feed's value. */
  readonly eventAnchors: Int32Array;
  /** Whether any element's anchor has no place, or may come to have none. */
  readonly anyLost: boolean;
  /** 1 where the element's anchor has no place; of anchors at events as the frame has it. */
  readonly lost: Uint8Array;
}

/** Where the value of a feed that a row reads is among all values, or −1: its object's, where the feed has one for each. */
export function valueIndex(
  { feedIds, eachFeeds, eachValue, count }: Pick<Compiled, 'feedIds' | 'eachFeeds' | 'eachValue' | 'count'>,
  feed: string | null,
  row: number,
): number {
  const own = feed === null ? -1 : feedIds.indexOf(feed);
  const k = own < 0 ? -1 : eachFeeds.indexOf(own);
  return k < 0 ? own : (eachValue[k * count + row] as number);
}

/** What a row is called in words: its element, and the node where it stands at many. */
export function rowName({ elements, nodeOf, level }: Compiled, row: number): string {
  const node = nodeOf[row] as number;
  return node < 0 ? (elements[row]?.name ?? '') : `${elements[row]?.name} at ${level?.nodeIds[node]}`;
}

/** The document's id of a row's element, from the row's id. */
export const sourceOf = (rowId: string): string => rowId.split(/[@.]/)[0] as string;
