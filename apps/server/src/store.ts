/**
 * Projects, revisions and files on disk.
 *
 * A change is durable before it is acknowledged: one transaction with full synchronisation writes it. Every
 * SNAPSHOT_EVERY revisions the whole document is written too, so that opening replays few changes.
 */
import { createHash, randomUUID } from 'node:crypto';
import { closeSync, existsSync, fsyncSync, mkdirSync, openSync, readFileSync, renameSync, rmSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  applyChange,
  type Change,
  type Document,
  freeId,
  type LevelFacts,
  type OpenProject,
  type Patch,
  type PictureFacts,
  type ProjectSummary,
  parseDocument,
} from '@foreshore/document';
import Database from 'better-sqlite3';
import { and, asc, desc, eq, gt, isNull } from 'drizzle-orm';
import { type BetterSQLite3Database, drizzle } from 'drizzle-orm/better-sqlite3';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import { notFound, Problem } from './problem.ts';
import * as tables from './tables.ts';

const { project, revision, asset } = tables;
const MIGRATIONS = fileURLToPath(new URL('../migrations', import.meta.url));
const SNAPSHOT_EVERY = 50;

export class Store {
  private readonly sqlite: Database.Database;
  private readonly db: BetterSQLite3Database<typeof tables>;
  private readonly files: string;
  /** Documents as of their latest revision, by project. */
  private readonly open = new Map<string, { revision: number; document: Document }>();

  /** @param folder is made where it does not exist. */
  constructor(folder: string) {
    this.files = join(folder, 'files');
    mkdirSync(this.files, { recursive: true });
    this.sqlite = new Database(join(folder, 'foreshore.sqlite'));
    this.sqlite.pragma('journal_mode = WAL');
    this.sqlite.pragma('synchronous = FULL');
    this.sqlite.pragma('foreign_keys = ON');
    this.db = drizzle(this.sqlite, { schema: tables });
    migrate(this.db, { migrationsFolder: MIGRATIONS });
  }

  close(): void {
    this.sqlite.close();
  }

  /** No project was ever made here. */
  isNew(): boolean {
    return this.db.select({ id: project.id }).from(project).limit(1).all().length === 0;
  }

  list(): ProjectSummary[] {
    const rows = this.db
      .select({ id: project.id, updatedAt: project.updatedAt, picture: project.picture })
      .from(project)
      .where(isNull(project.removedAt))
      .orderBy(desc(project.updatedAt))
      .all();
    return rows.map(({ id, updatedAt, picture }) => {
      const { revision: number, document } = this.read(id);
      return {
        id,
        name: document.name,
        revision: number,
        updatedAt,
        anchors: Object.keys(document.anchors).length,
        elements: Object.keys(document.elements).length,
        level: document.level?.file ?? null,
        hasPicture: picture !== null,
      };
    });
  }

  /** @throws Problem 404. */
  read(id: string): OpenProject {
    const known = this.open.get(id);
    if (known) return { id, ...known };
    const row = this.db.select().from(project).where(eq(project.id, id)).get();
    if (!row) throw notFound('such project');
    let document = parseDocument(JSON.parse(row.snapshot));
    for (const change of this.changesSince(id, row.snapshotRevision)) document = applyChange(document, change.patch);
    const state = { revision: row.revision, document };
    this.open.set(id, state);
    return { id, ...state };
  }

  create(document: Document): OpenProject {
    const taken = Object.fromEntries(
      this.db
        .select({ id: project.id })
        .from(project)
        .all()
        .map(({ id }) => [id, true]),
    );
    const id = freeId(taken, document.name);
    const now = Date.now();
    this.db
      .insert(project)
      .values({
        id,
        name: document.name,
        revision: 0,
        snapshotRevision: 0,
        snapshot: JSON.stringify(document),
        createdAt: now,
        updatedAt: now,
      })
      .run();
    this.open.set(id, { revision: 0, document });
    return { id, revision: 0, document };
  }

  /**
   * Takes a change made on revision `base`.
   * @throws Problem 409 with the newer changes where `base` is stale; what `applyChange` throws.
   */
  change(id: string, base: number, patch: Patch, changeId: string, clientId: string): Change {
    const current = this.read(id);
    const again = this.db
      .select()
      .from(revision)
      .where(and(eq(revision.projectId, id), eq(revision.changeId, changeId)))
      .get();
    if (again) return { number: again.number, changeId, clientId: again.clientId, patch: JSON.parse(again.patch) as Patch };
    if (base !== current.revision)
      throw new Problem(409, 'stale', `The change was made on revision ${base}; the project is at ${current.revision}.`, {
        revision: current.revision,
        changes: this.changesSince(id, base),
      });
    const document = applyChange(current.document, patch);
    const number = current.revision + 1;
    const now = Date.now();
    this.db.transaction((tx) => {
      tx.insert(revision)
        .values({ projectId: id, number, changeId, clientId, patch: JSON.stringify(patch), createdAt: now })
        .run();
      const snapshot = number % SNAPSHOT_EVERY === 0 ? { snapshot: JSON.stringify(document), snapshotRevision: number } : {};
      tx.update(project)
        .set({ revision: number, name: document.name, updatedAt: now, ...snapshot })
        .where(eq(project.id, id))
        .run();
    });
    this.open.set(id, { revision: number, document });
    return { number, changeId, clientId, patch };
  }

  changesSince(id: string, base: number): Change[] {
    return this.db
      .select()
      .from(revision)
      .where(and(eq(revision.projectId, id), gt(revision.number, base)))
      .orderBy(asc(revision.number))
      .all()
      .map((row) => ({ number: row.number, changeId: row.changeId, clientId: row.clientId, patch: JSON.parse(row.patch) as Patch }));
  }

  setRemoved(id: string, removed: boolean): void {
    const done = this.db
      .update(project)
      .set({ removedAt: removed ? Date.now() : null })
      .where(eq(project.id, id))
      .run();
    if (done.changes === 0) throw notFound('such project');
  }

  setPicture(id: string, png: Buffer): void {
    this.db.update(project).set({ picture: png }).where(eq(project.id, id)).run();
  }

  picture(id: string): Buffer | null {
    return this.db.select({ picture: project.picture }).from(project).where(eq(project.id, id)).get()?.picture ?? null;
  }

  addLevel(bytes: Uint8Array, fileName: string, facts: Omit<LevelFacts, 'hash' | 'fileName'>): LevelFacts {
    return { hash: this.keep('level', bytes, fileName, facts), fileName, ...facts };
  }

  addPicture(bytes: Uint8Array, fileName: string, facts: PictureFacts): PictureFacts & { hash: string; fileName: string } {
    return { hash: this.keep('picture', bytes, fileName, facts), fileName, ...facts };
  }

  addFont(
    bytes: Uint8Array,
    fileName: string,
    facts: { family: string; weight: number },
  ): { hash: string; family: string; weight: number } {
    return { hash: this.keep('font', bytes, fileName, facts), ...facts };
  }

  /** The bytes of a font, or null where it was never sent. */
  fontFile(hash: string): Uint8Array | null {
    const known = this.db.select({ kind: asset.kind }).from(asset).where(eq(asset.hash, hash)).get();
    return known?.kind === 'font' ? readFileSync(join(this.files, hash)) : null;
  }

  /** Keeps a file under the hash of its bytes. */
  private keep(kind: 'level' | 'picture' | 'font', bytes: Uint8Array, fileName: string, facts: object): string {
    const hash = createHash('sha256').update(bytes).digest('hex');
    const path = join(this.files, hash);
    if (!existsSync(path)) writeDurably(path, bytes);
    this.db
      .insert(asset)
      .values({ hash, kind, fileName, size: bytes.byteLength, facts: JSON.stringify(facts), createdAt: Date.now() })
      .onConflictDoNothing()
      .run();
    return hash;
  }

  /** The bytes of a picture and what they are, or null where it was never sent. */
  pictureFile(hash: string): { bytes: Uint8Array; type: PictureFacts['type'] } | null {
    const known = this.db.select({ kind: asset.kind, facts: asset.facts }).from(asset).where(eq(asset.hash, hash)).get();
    if (known?.kind !== 'picture') return null;
    return { bytes: readFileSync(join(this.files, hash)), type: (JSON.parse(known.facts) as PictureFacts).type };
  }

  levelPath(hash: string): string | null {
    const known = this.db.select({ hash: asset.hash }).from(asset).where(eq(asset.hash, hash)).get();
    return known ? join(this.files, hash) : null;
  }

  levelBytes(hash: string): Uint8Array | null {
    const path = this.levelPath(hash);
    return path ? readFileSync(path) : null;
  }
}

/** Under a name of its own first, so that a file of the right name is always whole. */
function writeDurably(path: string, bytes: Uint8Array): void {
  const draft = `${path}.${randomUUID()}`;
  const file = openSync(draft, 'w');
  try {
    writeSync(file, bytes);
    fsyncSync(file);
    closeSync(file);
    renameSync(draft, path);
  } catch (error) {
    rmSync(draft, { force: true });
    throw error;
  }
}
