/**
 * What kinds of elements and mounts are, as tables: whoever asks "is it one of those that" asks here. A new kind or mount is a
 * row; a missing row does not compile. Needs no schema at run time.
 */
import type { Element, FeedSource, Mount } from './schema.ts';

export type ElementKind = Element['kind'];
export type ElementOf<K extends ElementKind> = Extract<Element, { kind: K }>;

export interface KindTraits {
  /** What lies behind it cannot be read: always, where it has a plate, or never. */
  covers: 'always' | 'plate' | 'never';
  /** What it does with the pointer where it says nothing of it. */
  takes: 'acts' | 'blocks' | 'passes';
  /** The kind of feed that its `source` is; null where it has none. */
  source: 'number' | 'flag' | 'event' | null;
  /** It shows where its source stands between two of its values, softened in time. */
  follows: boolean;
  /** It sets its source by itself when it is used. */
  sets: boolean;
  /** It lies in a box of its own: it has a place and paint, can be cut off, can be read or not. */
  hasBox: boolean;
  /** Labels that keep apart make room for it where it lies on the HUD. */
  obstacle: boolean;
  /** What its size says: the em of its text, or what one of its design pixels takes. */
  size: 'em' | 'designPixel';
  /** By which of its fields it is resized by hand. */
  resizes: 'box' | 'textBox' | 'layout' | 'form' | 'none';
}

const BOX = { takes: 'blocks', source: null, follows: false, sets: false, hasBox: true, obstacle: true, size: 'designPixel' } as const;

export const KINDS: Record<ElementKind, KindTraits> = {
  label: { ...BOX, covers: 'plate', size: 'em', resizes: 'textBox' },
  group: { ...BOX, covers: 'plate', resizes: 'layout' },
  gauge: { ...BOX, covers: 'always', source: 'number', follows: true, resizes: 'form' },
  picture: { ...BOX, covers: 'always', resizes: 'box' },
  page: { ...BOX, covers: 'always', takes: 'acts', resizes: 'box' },
  toggle: { ...BOX, covers: 'always', takes: 'acts', source: 'flag', sets: true, resizes: 'box' },
  slider: { ...BOX, covers: 'always', takes: 'acts', source: 'number', sets: true, resizes: 'box' },
  key: { ...BOX, covers: 'never', resizes: 'form' },
  // It lies under everything, and over nothing but the level.
  screenPaint: {
    ...BOX,
    covers: 'never',
    takes: 'passes',
    source: 'number',
    follows: true,
    hasBox: false,
    obstacle: false,
    resizes: 'none',
  },
  instance: { ...BOX, covers: 'never', resizes: 'none' },
  // Mostly empty, and there for moments.
  direction: { ...BOX, covers: 'never', takes: 'passes', source: 'event', obstacle: false, resizes: 'none' },
  crosshair: { ...BOX, covers: 'never', takes: 'passes', source: 'number', follows: true, resizes: 'none' },
};

export type MountKind = Mount['kind'];
export interface MountTraits {
  /** It stands over an anchor of its own, in the world. */
  anchored: boolean;
  /** Its own point lies on a pin of a box. */
  pinned: boolean;
  /** It is a member of a group, which carries it. */
  member: boolean;
  /** It can have its size in the world. */
  worldSize: boolean;
  /** It lies on a panel of its own in the world: all that is on it is laid out in the panel's design pixels. */
  panel: boolean;
  /** Range, look, sightline, claim and press: of its own anchor, of an anchor that it is about, or never. */
  gates: 'own' | 'about' | 'never';
}

export const MOUNTS: { [K in MountKind]: MountTraits } = {
  floating: { anchored: true, pinned: false, member: false, worldSize: true, panel: false, gates: 'own' },
  glass: { anchored: false, pinned: true, member: false, worldSize: false, panel: false, gates: 'about' },
  inside: { anchored: false, pinned: true, member: true, worldSize: false, panel: false, gates: 'never' },
  standing: { anchored: true, pinned: false, member: false, worldSize: true, panel: true, gates: 'own' },
  trailing: { anchored: false, pinned: false, member: false, worldSize: true, panel: true, gates: 'about' },
};

type AnchoredMount = Extract<Mount, { anchor: string }>;
type MemberMount = Extract<Mount, { group: string }>;
type HudMount = Extract<Mount, { within: string }>;
/** Panels: those that stand in the level and those that trail the viewer. */
export type PanelMount = Extract<Mount, { pxPerM: number }>;
/** Mounts that put an own point on a pin of a box. */
export type PinnedMount = Extract<Mount, { pin: unknown }>;

/** Whether something is carried by an anchor. */
export const isAnchored = (mount: Mount | undefined): mount is AnchoredMount => mount !== undefined && MOUNTS[mount.kind].anchored;
/** Whether something is carried by a group. */
export const isMember = (mount: Mount | undefined): mount is MemberMount => mount !== undefined && MOUNTS[mount.kind].member;
/** Whether something lies on the HUD by itself. */
export const isOnHud = (mount: Mount | undefined): mount is HudMount =>
  mount !== undefined && MOUNTS[mount.kind].pinned && !MOUNTS[mount.kind].member;

/** Whether something lies on a panel of its own in the world. */
export const isOnPanel = (mount: Mount | undefined): mount is PanelMount => mount !== undefined && MOUNTS[mount.kind].panel;
/** Whether something's own point lies on a pin of a box: on the HUD or in a group. */
export const isPinned = (mount: Mount | undefined): mount is PinnedMount => mount !== undefined && MOUNTS[mount.kind].pinned;

/** The group that carries an element, by its id; null where none does. */
export const groupOf = ({ mount }: Pick<Element, 'mount'>): string | null => (isMember(mount) ? mount.group : null);
/** The anchor that an element stands over or is about, by its id; null where it is of none. */
export const anchorOf = ({ mount, about }: Pick<Element, 'mount' | 'about'>): string | null =>
  isAnchored(mount) ? mount.anchor : (about ?? null);

/** The anchors that an element is about besides its own: what a crosshair is aimed at and with, what a direction points at; and where each is said. */
export function pointsAt(element: Element): { anchor: string; path: readonly string[] }[] {
  if (element.kind === 'direction') return element.follows === null ? [] : [{ anchor: element.follows, path: ['follows'] }];
  if (element.kind !== 'crosshair' || !element.aim) return [];
  const { of, tool } = element.aim;
  return [
    ...(of.by === 'anchor' ? [{ anchor: of.anchor, path: ['aim', 'of', 'anchor'] }] : []),
    ...(tool?.from.by === 'anchor' ? [{ anchor: tool.from.anchor, path: ['aim', 'tool', 'from', 'anchor'] }] : []),
  ];
}

/** Whether a direction only confirms that something happened: a mark in the middle, whichever way it was. */
export const isMark = ({ form }: Pick<ElementOf<'direction'>, 'form'>): boolean => form === 'cross' || form === 'ring';

type Between = Extract<FeedSource, { kind: 'between' }>;
/** The anchors that a path goes by, in order, and where each is said. */
export const anchorsBetween = ({ first, via = [], second }: Between): { anchor: string; path: readonly (string | number)[] }[] => [
  { anchor: first, path: ['first'] },
  ...via.map((anchor, k) => ({ anchor, path: ['via', k] })),
  { anchor: second, path: ['second'] },
];
