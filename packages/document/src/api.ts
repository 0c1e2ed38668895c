/** What the server's API answers with; the server and the application read the same. */
import type { Patch } from './change.ts';
import type { CheckVariant, Document } from './schema.ts';

export interface ProjectSummary {
  id: string;
  name: string;
  revision: number;
  updatedAt: number;
  anchors: number;
  elements: number;
  level: string | null;
  hasPicture: boolean;
  /** Its document cannot be read: why, and the last revision that can. */
  unreadable?: { why: string; readable: number | null };
}
export interface Change {
  number: number;
  changeId: string;
  clientId: string;
  patch: Patch;
  /** When it was taken, milliseconds since 1970. */
  at?: number;
}
/** One revision of a project, without its document. */
export interface RevisionAbout {
  number: number;
  /** What somebody called it. */
  name: string | null;
  /** When it was made, milliseconds since 1970; null where that is not known. */
  at: number | null;
  /** What its change touched, as JSON Pointers of up to three steps, the first few of them; and how many more there are. */
  touched: string[];
  more: number;
}
/** Revisions of a project, the newest first; and all that have names. */
export interface Revisions {
  /** The present one. */
  revision: number;
  revisions: RevisionAbout[];
  named: RevisionAbout[];
}
/** What of two revisions is compared along the routes. Elements are named by their ids. */
export interface CompareScope {
  /** Parts that may differ, one route at one viewer each; and how many cannot. */
  parts: { route: string; viewer: string; language: string }[];
  same: number;
  /** Viewers that were not there before: nothing is compared at them. */
  newViewers: string[];
  newLanguages: string[];
  /** Elements that were edited, themselves or with a group that carries them; that came; and that went. */
  edited: string[];
  came: string[];
  went: string[];
}
/** From which revision each element stands otherwise than it did. */
export interface CompareCauses {
  causes: { element: string; revision: RevisionAbout }[];
}
export interface OpenProject {
  id: string;
  revision: number;
  document: Document;
}
export interface LevelFacts {
  hash: string;
  fileName: string;
  warnings: { code: string; pointer: string; message: string }[];
  size: [number, number, number];
  nodes: number;
  triangles: number;
  asksUnit: boolean;
}
/** A check of a project, without what it measured. */
export interface CheckAbout {
  id: number;
  revision: number;
  state: 'running' | 'done' | 'cancelled' | 'cut' | 'failed';
  why: string | null;
  startedAt: number;
  endedAt: number | null;
  /** Parts: all, and those taken over from an earlier check. */
  parts: number;
  kept: number;
  /** How many findings there are of each kind; null while it is not whole. */
  counts: Record<string, number> | null;
}
/** How a check that is running gets on; `state` as it ends. */
export interface CheckProgress {
  id: number;
  state: CheckAbout['state'];
  done: number;
  of: number;
  /** What was measured last. */
  part: { route: string; viewer: string; language: string; variant?: CheckVariant } | null;
}
