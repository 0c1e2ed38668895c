/** What the server's API answers with; the server and the application read the same. */
import type { Patch } from './change.ts';
import type { Document } from './schema.ts';

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
