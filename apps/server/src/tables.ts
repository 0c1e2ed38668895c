import { blob, integer, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';

/** A project's document as of `snapshotRevision`; later revisions are applied on top of it. */
export const project = sqliteTable('project', {
  id: text().primaryKey(),
  name: text().notNull(),
  revision: integer().notNull(),
  snapshotRevision: integer().notNull(),
  snapshot: text().notNull(),
  createdAt: integer().notNull(),
  updatedAt: integer().notNull(),
  /** When it was removed; it can be restored. */
  removedAt: integer(),
  picture: blob({ mode: 'buffer' }),
});

export const revision = sqliteTable(
  'revision',
  {
    projectId: text()
      .notNull()
      .references(() => project.id, { onDelete: 'cascade' }),
    number: integer().notNull(),
    /** Chosen by the client, so that a change sent twice is taken once. */
    changeId: text().notNull(),
    clientId: text().notNull(),
    patch: text().notNull(),
    createdAt: integer().notNull(),
  },
  (t) => [primaryKey({ columns: [t.projectId, t.number] }), uniqueIndex('revision_change').on(t.projectId, t.changeId)],
);

/** Files by content hash; the bytes lie beside the database. */
export const asset = sqliteTable('asset', {
  hash: text().primaryKey(),
  kind: text({ enum: ['level', 'picture', 'font'] }).notNull(),
  fileName: text().notNull(),
  size: integer().notNull(),
  facts: text().notNull(),
  createdAt: integer().notNull(),
});

/** Whole documents of earlier revisions, to go back to where a later one cannot be read. */
export const checkpoint = sqliteTable(
  'checkpoint',
  {
    projectId: text()
      .notNull()
      .references(() => project.id, { onDelete: 'cascade' }),
    number: integer().notNull(),
    document: text().notNull(),
    createdAt: integer().notNull(),
  },
  (t) => [primaryKey({ columns: [t.projectId, t.number] })],
);

/** What somebody called a revision. */
export const revisionName = sqliteTable(
  'revision_name',
  {
    projectId: text()
      .notNull()
      .references(() => project.id, { onDelete: 'cascade' }),
    number: integer().notNull(),
    name: text().notNull(),
    createdAt: integer().notNull(),
  },
  (t) => [primaryKey({ columns: [t.projectId, t.number] })],
);

/** Projects to which games may connect: the token that lets them in, as its SHA-256. */
export const gameDoor = sqliteTable('game_door', {
  projectId: text()
    .primaryKey()
    .references(() => project.id, { onDelete: 'cascade' }),
  tokenHash: text().notNull(),
  createdAt: integer().notNull(),
});

/** Checks of a project, with all that they measured. */
export const checkRun = sqliteTable('check_run', {
  id: integer().primaryKey({ autoIncrement: true }),
  projectId: text()
    .notNull()
    .references(() => project.id, { onDelete: 'cascade' }),
  revision: integer().notNull(),
  state: text({ enum: ['running', 'done', 'cancelled', 'cut', 'failed'] }).notNull(),
  /** Why it failed. */
  why: text(),
  startedAt: integer().notNull(),
  endedAt: integer(),
  /** Parts: all, and those taken over from an earlier run. */
  parts: integer().notNull(),
  kept: integer().notNull(),
  /** How many findings there are of each kind, JSON; of a whole run. */
  counts: text(),
  /** The run, and what each part's result depends on (SHA-256 by part), JSON. */
  run: text(),
  digests: text(),
});
