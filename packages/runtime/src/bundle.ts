/**
 * What leaves the bench: a document compiled for playing, as plain JSON. Templates are put in, messages are parsed, anchors are rows
 * of numbers; fonts and pictures lie beside it under the names it gives.
 */
import type { Document, FeedValue } from '@foreshore/document/types';
import type { MessagePart } from '@foreshore/text/put-together';

export type { MessagePart };

export const BUNDLE_FORMAT = 'foreshore-bundle';
export const BUNDLE_VERSION = 2;

/** What of a document a game needs besides the rows. Only feeds that the runtime works out by itself have a source. */
export type BundleDocument = Pick<
  Document,
  | 'name'
  | 'language'
  | 'languages'
  | 'glass'
  | 'body'
  | 'viewers'
  | 'phases'
  | 'actions'
  | 'contest'
  | 'ray'
  | 'labels'
  | 'pictures'
  | 'cursor'
> & {
  feeds: Record<string, Pick<Document['feeds'][string], 'name' | 'kind' | 'unit' | 'range' | 'source' | 'each'> & { initial?: FeedValue }>;
  level: { clips?: NonNullable<Document['level']>['clips'] } | null;
};

/** Nodes of the level: their names, the node above each, which of them move, and where those stand that anchors hang on. */
export interface BundleLevel {
  nodeIds: string[];
  parentOf: number[];
  moves: number[];
  /** Column-major 4x4, metres, by the node's index. */
  matrices: Record<string, number[]>;
  /** What nodes carry that texts of theirs name. */
  properties: Record<string, Record<string, FeedValue>>;
}

/** Numbers of a table: of which kind, and the numbers; null stands for what is no number. */
export interface Packed {
  t: 'f64' | 'i32' | 'u8' | 'i8';
  v: (number | null)[];
}
/** The tables of `Compiled`, without the document and the level. */
export type BundleRows = Record<string, unknown>;

/** What the basic runtime does without: each is a part of its own. */
export const PARTS = ['apart', 'trailing', 'motions', 'measure', 'many', 'directions', 'calm', 'tool'] as const;
export type PartName = (typeof PARTS)[number];

export interface Bundle {
  format: typeof BUNDLE_FORMAT;
  version: typeof BUNDLE_VERSION;
  /** SHA-256 of all that is in it, hexadecimal. */
  hash: string;
  document: BundleDocument;
  needs: PartName[];
  rows: BundleRows;
  /** The same with the HUD on a panel, where the project has a headset. */
  headset: BundleRows | null;
  level: BundleLevel | null;
  messages: Record<string, MessagePart[]>;
  /** Files in the order in which they are asked for a letter; those without a family are the ones that ship. */
  fonts: { family: string | null; weight: number; file: string }[];
  /** Files of pictures by their hash. */
  pictures: Record<string, string>;
}
